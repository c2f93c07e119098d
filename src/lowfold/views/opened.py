"""The full pictures of the gates: what was weighed, in the units of the axes."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Final

from lowfold.core.checking.cautions import Caution
from lowfold.core.checking.check import PartCheck
from lowfold.core.checking.faults import Fault, Mode
from lowfold.core.checking.verdict import Verdict
from lowfold.core.parts.ratings import derated_watts
from lowfold.core.sheet.opened import Curve, look_into, scatters_of
from lowfold.core.tokens.reading import STIFF
from lowfold.core.tolerance.sampling import Distribution
from lowfold.core.tolerance.scatter import Scatter
from lowfold.core.values.quantities import (
    AMPERE,
    FRACTION,
    OHM,
    VOLT,
    WATT,
    Kind,
    axis_unit,
    write,
    write_percent,
)
from lowfold.core.weighing.choice import Judged
from lowfold.core.weighing.gate_words import corner_words, passing_words, sentence, times
from lowfold.core.weighing.mark import Mark
from lowfold.views.figures import Figure, figure
from lowfold.views.gates import MOST_USED
from lowfold.views.view import view

__all__ = ["DrawnAnswer", "OpenedAnswer", "drawn_answer", "opened_answer"]


BEYOND_C: Final = 5.0  #: that a derating curve is drawn on past where nothing is left


@view
class ScatterPicture:
    """How often which deviation comes, as fractions of the target."""

    name: str
    edges: list[float]
    counts: list[int]
    lowest: float
    highest: float
    within: float
    words: str


@view
class CornerLine:
    """One end of a figure's span."""

    name: str
    at: str
    value: Figure | None
    off: str
    words: str  #: Which end each value stands at


@view
class ContributionLine:
    at: str
    name: str
    share: float  #: Of the accepted deviation, signed, first order
    words: str


@view
class LoadPoint:
    """A load on its line, in the units of the picture."""

    name: str
    x: float
    y: float
    words: str


@view
class MeterLine:
    meter: str
    reads: Figure | None
    off: str


@view
class LinePicture:
    """A figure against what loads it, in the units of the axes."""

    name: str
    x_name: str  #: What runs along the axis
    x_unit: str
    y_unit: str
    x: list[float]
    nominal: list[float]
    lowest: list[float]
    highest: list[float]
    window_low: float
    window_high: float
    leaves: float | None  #: Where the nominal line leaves the window
    stiff: float | None  #: Where the string carries as many times the load as is asked for
    stiff_words: str  #: How many times that is; empty for none
    logarithmic: bool
    points: list[LoadPoint]
    meters: list[MeterLine]
    words: list[str]


@view
class PowerLine:
    ref: str
    worst: Figure | None
    allowed: Figure | None
    volts: Figure | None
    limiting: Figure | None
    share: float | None  #: Worst power over the rating in full
    used: float | None
    verdict: Verdict | None
    would: str  #: Smallest standard rating that would do


@view
class CurvePoint:
    ambient_c: float
    share: float  #: Of the rating, that is left there


@view
class DeratingCurve:
    """A rating over the ambient: full to one corner, zero from the other."""

    name: str
    points: list[CurvePoint]


@view
class PowerPicture:
    curves: list[DeratingCurve]
    ambient_c: float
    allowed: float  #: Share of the derated rating that may be used
    parts: list[PowerLine]
    words: list[str]


@view
class FaultLine:
    words: str
    outputs: dict[str, Figure | None]
    hot: list[str]
    above: list[str]  #: Outputs above what is connected there stands
    supply_shorted: bool
    runs_away: bool  #: Only the regulator's own supply limits the output


@view
class OpenedAnswer:
    scatters: list[ScatterPicture]
    corners: list[CornerLine]
    contributions: list[ContributionLine]
    lines: list[LinePicture]
    load_words: list[str]  #: What is said where there is no line
    power: PowerPicture | None  #: null where nothing drives the choice
    faults: list[FaultLine]
    cautions: list[Caution]


def opened_answer(judged: Judged, distribution: Distribution) -> OpenedAnswer:
    """Look into a weighed network."""
    found = look_into(judged, distribution)
    check = judged.check
    return OpenedAnswer(
        scatters=[picture(mark, s) for mark, s in found.scatters],
        corners=_corners(judged),
        contributions=[
            ContributionLine(
                at=c.at,
                name=c.name,
                share=c.share,
                words=f"{write(abs(c.moves), c.kind, 3)}, {write(abs(c.share), FRACTION, 2)} of it",
            )
            for c in found.contributions
        ],
        lines=[_line(curve, judged) for curve in found.curves],
        load_words=[
            *found.undrawn,
            *(n for g in judged.gates if g.name == "load" for n in g.notes),
        ],
        power=_power(judged),
        faults=[_fault(f, judged) for f in (*check.faults, *check.shorted)]
        + [_failed_resistance(*f) for f in found.failed_ohms],
        cautions=list(check.cautions),
    )


def picture(mark: Mark, found: Scatter) -> ScatterPicture:
    """Return a scatter as it is drawn, with what to conclude."""
    assert found.inside is not None  # a window was given
    assert found.inside_low is not None
    assert found.inside_high is not None
    middle = " … ".join(write(found.percentiles[p], mark.kind, 4) for p in ("5", "95"))
    low, high = (write(x, FRACTION, 4) for x in (found.inside_low, found.inside_high))
    count = f"{sum(found.counts):,}".replace(",", "\u202f")
    return ScatterPicture(
        name=mark.name,
        edges=[e / mark.target - 1 for e in found.edges],
        counts=list(found.counts),
        lowest=mark.deviations[0],
        highest=mark.deviations[1],
        within=mark.within,
        words=(
            f"{write(found.inside, FRACTION, 4)} of {count} samples are inside the window "
            f"(95 % interval {low} to {high}); nine in ten lie at {middle}."
        ),
    )


def _corners(judged: Judged) -> list[CornerLine]:
    spreads = {o.at: o.spread for o in judged.check.outputs}
    found = []
    for mark in judged.marks:
        spread = spreads.get(mark.name) if mark.kind is VOLT else None
        volts = judged.box.supply.volts
        ends = {"lowest": "every part at its bad end", "nominal": "", "highest": ""}
        if spread:
            ends["lowest"] = corner_words(spread.lowest_corner, volts)
            ends["highest"] = corner_words(spread.highest_corner, volts)
        values = {"lowest": mark.lowest, "nominal": mark.nominal, "highest": mark.highest}
        found += [
            CornerLine(
                name=name,
                at=mark.name,
                value=figure(value, mark.kind, 5),
                off=f"{write_percent(value / mark.target - 1, 2)} %",
                words=ends[name],
            )
            for name, value in values.items()
        ]
    return found


def _point_words(name: str, stated: float, kind: Kind, value: float, of: Kind) -> str:
    shown = write(value, of)
    if name == "open" or math.isinf(stated) or (kind is AMPERE and not stated):
        return f"Nothing connected: {shown}"
    return f"{name.capitalize()} load, {write(stated, kind, 4, trim=True)}: {shown}"


def _line(curve: Curve, judged: Judged) -> LinePicture:
    mark = curve.mark
    beside = curve.along is OHM
    tallest = max(mark.window[1], float(curve.nominal.max()))
    (by_x, x_unit), (by_y, y_unit) = (
        (1.0, OHM.unit) if beside else axis_unit(float(curve.x[-1]), curve.along),
        axis_unit(tallest, mark.kind),
    )
    what = "current into the pin" if judged.pair else "load current"
    points = [
        LoadPoint(
            name=name,
            x=x * by_x,
            y=y * by_y,
            words=_point_words(name, stated, kind, y, mark.kind),
        )
        for name, kind, stated, x, y in curve.points
    ]
    return LinePicture(
        name=mark.name or ("the whole" if beside else "output"),
        x_name="what lies beside it" if beside else what,
        x_unit=x_unit,
        y_unit=y_unit,
        x=(curve.x * by_x).tolist(),
        nominal=(curve.nominal * by_y).tolist(),
        lowest=(curve.lowest * by_y).tolist(),
        highest=(curve.highest * by_y).tolist(),
        window_low=mark.window[0] * by_y,
        window_high=mark.window[1] * by_y,
        leaves=None if curve.leaves is None else curve.leaves * by_x,
        stiff=None if curve.stiff is None else curve.stiff * by_x,
        stiff_words="" if curve.stiff is None else f"{judged.stiff:g} ×",
        logarithmic=beside,
        points=points,
        meters=[
            MeterLine(
                meter=m.meter,
                reads=figure(m.volts, VOLT),
                off=f"{write_percent(m.off, 1)} %",
            )
            for m in curve.meters
        ],
        words=_line_words(curve, judged),
    )


def _line_words(curve: Curve, judged: Judged) -> list[str]:
    """Say the line, what passes, and what both schools say of its stiffness."""
    line, window = curve.line, curve.mark.window
    if line is None:
        return [n for g in judged.gates if g.name == "load" for n in g.notes]
    amps = not any(kind is OHM for _, kind, *_ in curve.points)
    at_worst = line.passing_at_worst(*window)
    behind = write(line.source_ohms, OHM, 4)
    nominal = line.passing(*window)
    passes = passing_words(nominal, amps=amps)
    nominally = sentence(passes if nominal is None else f"with nominal parts it {passes}")
    worst = (
        sentence(f"at every corner it {passing_words(at_worst, amps=amps)}")
        if at_worst is not None
        else "At the worst corner no load passes."
    )
    if not line.proven:
        worst += (
            " That is not proven here: a current load elsewhere may starve meanwhile, or parts "
            "that track were looked at in steps."
        )
    slope = write(line.source_ohms * 1e-6, VOLT, 3)
    seen = (
        f"What hangs here sees {write(line.open_volts, VOLT)} behind {behind} (Thévenin): "
        f"{slope} less for every microampere."
    )
    words = [seen, f"{nominally} {worst}"]
    ratio = judged.carries
    if ratio is not None and len(judged.marks) == 1:
        stiff = "stiff" if ratio >= STIFF else "not stiff"
        words.append(
            f"By the rule of thumb (string current at least {STIFF:g} × the load's) it is {stiff}: "
            f"{times(ratio)} at its heaviest. A softer string passes only where it keeps its "
            "window with nothing connected too, or where the load is said to be always there."
        )
    return words


def _power(judged: Judged) -> PowerPicture | None:
    if judged.supply is None:
        return None
    check, parts = judged.check, judged.parts
    own = parts.limits_of(judged.circuit)
    corners: dict[tuple[float, float], list[str]] = {}
    full: dict[str, float | None] = {}
    for part in check.parts:
        limits = own.get(part.ref, parts.limits)
        corners.setdefault((limits.full_power_c, limits.zero_power_c), []).append(part.ref)
        full[part.ref] = limits.rated_watts
    one = len(corners) == 1
    coldest = min(0.0, parts.environment.high_c)
    hottest = max([*(zero for _, zero in corners), parts.environment.high_c]) + BEYOND_C
    hot = parts.environment.high_c
    rated = write(parts.derated_watts, WATT, 3, trim=True)
    family = parts.family
    drawn = check.solution.supply_watts
    stands = (
        f"{family.name}: {write(family.rated_watts, WATT, 3, trim=True)} up to "
        f"{family.full_power_c:g} °C, {rated} at {hot:g} °C, nothing from "
        f"{family.zero_power_c:g} °C; {write(parts.stress, FRACTION, 3, trim=True)} of it may be "
        "used. The data sheet rules."
    )
    words = [
        *([stands] if parts.rated else []),
        f"Together they take {write(drawn, WATT, 4)} from the supply, nominal.",
    ]
    return PowerPicture(
        curves=[
            DeratingCurve(
                name="" if one else ", ".join(refs),
                points=[
                    CurvePoint(ambient_c=c, share=derated_watts(1.0, c, *ends))
                    for c in (coldest, *ends, hottest)
                ],
            )
            for ends, refs in corners.items()
        ],
        ambient_c=hot,
        allowed=parts.stress,
        parts=[_part(p, full[p.ref]) for p in check.parts],
        words=words,
    )


def _part(part: PartCheck, full_watts: float | None) -> PowerLine:
    suggested = part.suggested_watts
    would = write(suggested, WATT, 3, trim=True) if suggested else "none"
    return PowerLine(
        ref=part.ref,
        worst=figure(part.worst_watts, WATT, 3),
        allowed=figure(part.allowed_watts, WATT, 3, trim=True),
        volts=figure(part.worst_volts, VOLT, 3),
        limiting=figure(part.allowed_volts, VOLT, 3, trim=True),
        share=part.worst_watts / full_watts if full_watts else None,
        used=min(part.used, MOST_USED),
        verdict=part.verdict,
        would=would,
    )


def _failed_words(ref: str, mode: Mode) -> str:
    return f"{ref} {'opens' if mode == 'open' else 'is shorted'}"


def _failed_resistance(ref: str, mode: Mode, ohms: float) -> FaultLine:
    left = figure(ohms, OHM, 5) or Figure(text="open", unit="")
    return FaultLine(
        words=_failed_words(ref, mode),
        outputs={"resistance": left},
        hot=[],
        above=[],
        supply_shorted=False,
        runs_away=False,
    )


def _fault(fault: Fault, judged: Judged) -> FaultLine:
    circuit, stands = judged.circuit, judged.stands
    outputs = (m for m in judged.marks if m.kind is VOLT)
    names = {m.name: circuit.node(m.name or "in") for m in outputs}
    above = fault.above(dict.fromkeys(names.values(), stands)) if stands else ()
    return FaultLine(
        words=_failed_words(fault.ref, fault.mode),
        outputs={
            name or "output": figure(fault.voltages[node], VOLT, 4) for name, node in names.items()
        },
        hot=list(fault.overloaded),
        above=[name or "output" for name, node in names.items() if node in above],
        supply_shorted=fault.supply_shorted,
        runs_away=not fault.supply_shorted
        and any(fault.voltages[node] is None for node in names.values()),
    )


@view
class DrawnAnswer:
    scatters: list[ScatterPicture]


def drawn_answer(
    judged: Judged, samples: int, distribution: Distribution, progress: Callable[[float, str], None]
) -> DrawnAnswer:
    """Draw many samples of a network, and return how they scatter."""
    count = f"{samples:,}".replace(",", "\u202f")
    found = scatters_of(
        judged,
        samples,
        distribution,
        lambda share: progress(0.9 * share, f"drawing {count} of them"),
    )
    return DrawnAnswer(scatters=[picture(mark, s) for mark, s in found])
