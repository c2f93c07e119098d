"""A round at the bench: point by point what to expect, what was read, and what to do next.

Power off and parts out of circuit first, then junction by junction from the supply down, the
current last, since it opens a wire. The first reading far out stops the round (common practice).
What was measured on the way takes the place of what was nominal.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

from lowfold.core.bench.expect import MOST_POINTS, Expected, built, expect_all
from lowfold.core.bench.hidden import Hidden, Known, hidden_ohms
from lowfold.core.bench.models import MeterModel
from lowfold.core.bench.points import Point, careful_round
from lowfold.core.bench.readings import Taken, Told, verdict_on_reading
from lowfold.core.errors import LowfoldError, TooLargeError
from lowfold.core.network.circuit import SUPPLY
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, Supply
from lowfold.core.weighing.choice import Judged

__all__ = ["Bench", "Group", "Round", "Step", "bench_of", "go_round", "points_of"]

Group = Literal["parts out of circuit", "built, power off", "power on", "current last"]
GROUPS: Final[dict[str, Group]] = {
    "part": "parts out of circuit", "resistance": "built, power off", "voltage": "power on",
    "current": "current last",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Bench:
    """A design as it lies on the bench."""

    box: Box  #: tolerances and supply as stated; nothing aged, nothing hot or cold
    powered: bool  #: False where nothing drives it that a bench supply could be
    why: str = ""  #: why it is not powered


@dataclass(frozen=True, slots=True)
class Step:
    """One point of a round."""

    point: Point
    group: Group
    expected: Expected | TooLargeError
    taken: Taken | None
    told: Told | None


@dataclass(frozen=True, slots=True)
class Round:
    steps: tuple[Step, ...]
    measured: Mapping[int, tuple[float, float]]  #: parts: Ω, and the half width left
    supply_volts: float | None  #: as measured; None where it was not, or does not count
    stopped: int | None  #: the first step that is far out
    following: int | None  #: the first step without a reading that is understood
    hidden: Hidden | None  #: what hides in series, where the current is too low

    def count(self, told: Told) -> int:
        """Return how many readings are so."""
        return sum(step.told == told for step in self.steps)

    @property
    def taken(self) -> int:
        return sum(step.told is not None for step in self.steps)


def bench_of(judged: Judged) -> Bench:
    """Return a design's network as it lies on the bench, at room temperature and new.

    Parameters
    ----------
    judged : Judged
        The network weighed against its brief.
    """
    parts = judged.parts
    own = {o.ref.casefold(): o.tolerance for o in parts.own}
    halves = []
    for branch, half in zip(judged.circuit.branches, judged.box.half_widths, strict=True):
        tolerance = own.get(branch.ref.casefold())
        halves.append(min(half, parts.tolerance if tolerance is None else tolerance))
    supply = judged.supply
    bare = Box(judged.circuit, Supply(1.0), (), tuple(halves))
    if judged.pair is not None:
        why = (
            "The regulator drives this pair: measure its output with the regulator running, "
            "against what the sheet says of it"
        )
        return Bench(bare, powered=False, why=why)
    stated = supply is not None and (supply.volts or supply.low_volts)
    if supply is None or math.isinf(supply.source_ohms) or not stated:
        what = "A current feeds it" if stated else "No supply is stated"
        return Bench(bare, powered=False, why=f"{what}: it is measured with the power off")
    box = replace(bare, supply=supply, loads=judged.loads)
    return Bench(box, powered=True)


def points_of(bench: Bench) -> list[Point]:
    """Return what a careful person measures, in that order."""
    every = list(careful_round(bench.box))
    apart = [p for p in every if p.kind == "resistance"]
    whole = Point("resistance", at=SUPPLY, against=bench.box.circuit.low)
    return [*apart, whole, *(p for p in every if bench.powered and p.kind != "resistance")]


def go_round(
    bench: Bench,
    meter: MeterModel,
    readings: Mapping[Point, Taken],
    *,
    as_built: bool = True,
    points: Sequence[Point] | None = None,
    progress: Callable[[float, str], None] | None = None,
) -> Round:
    """Return a round with what was read so far judged, and what follows.

    Parameters
    ----------
    readings : mapping of Point to Taken
    as_built : bool
        Let what was measured take the place of what is nominal.
    points : sequence of Point, optional
        Not given: what a careful person measures.
    progress : callable, optional
        Told how far it is.

    Raises
    ------
    TooLargeError
        For too many points.
    """
    there = points_of(bench) if points is None else list(points)
    if len(there) > MOST_POINTS:
        msg = f"a round of {len(there)} points is too long to be walked: up to {MOST_POINTS}"
        raise TooLargeError(msg, field="network")
    measured = _measured(bench.box, meter, readings) if as_built else {}
    volts = _supply_volts(bench, meter, readings) if as_built else None
    box = built(bench.box, measured)
    if volts is not None:
        box = replace(box, supply=replace(box.supply, volts=volts[0], tolerance=volts[1]))
    first = [p for p in there if p.part is not None and p.kind == "resistance"]
    ends = Point("voltage", at=SUPPLY)
    nominal = {*first, ends}
    groups: dict[tuple[bool, MeterModel], list[Point]] = {}
    for point in there:
        taken = readings.get(point)
        theirs = (taken.meter if taken else None) or meter
        groups.setdefault((point in nominal, theirs), []).append(point)
    found: dict[Point, Expected | TooLargeError] = {}
    for (marked, theirs), points_of_it in groups.items():
        against = bench.box if marked else box
        every = expect_all(
            against, points_of_it, theirs, [None] * len(points_of_it), progress=progress
        )
        found |= zip(points_of_it, every, strict=True)
    steps = [_step(point, found[point], readings.get(point)) for point in there]
    far = [k for k, step in enumerate(steps) if step.told == "far out"]
    left = [k for k, step in enumerate(steps) if step.told is None]
    return Round(
        steps=tuple(steps),
        measured=measured,
        supply_volts=volts[0] if volts else None,
        stopped=far[0] if far else None,
        following=left[0] if left else None,
        hidden=_hidden(box, meter, steps) if bench.powered else None,
    )


def _step(point: Point, expected: Expected | TooLargeError, taken: Taken | None) -> Step:
    group = GROUPS["part" if point.kind == "resistance" and point.part is not None else point.kind]
    judged = taken is not None and isinstance(expected, Expected)
    told = verdict_on_reading(taken, expected) if judged else None  # type: ignore[arg-type]
    return Step(point, group, expected, taken, told)


def _measured(
    box: Box, meter: MeterModel, readings: Mapping[Point, Taken]
) -> dict[int, tuple[float, float]]:
    """Return what is known of parts measured out of circuit: Ω, and the half width left.

    A part lies where the meter's limits say and where its marks say, so where both do; where they
    have nothing in common, or the marks state no tolerance, the meter is believed.
    """
    found = {}
    for point, taken in readings.items():
        if point.kind != "resistance" or point.part is None or not taken.value:
            continue
        low, high = (taken.meter or meter).ohms_between(taken.value)
        marked, half = box.circuit.branches[point.part].ohms, box.half_widths[point.part]
        least, most = max(low, marked * (1 - half)), min(high, marked * (1 + half))
        if half > 0 and least <= most:
            low, high = least, most
        if low > 0:
            middle = (low + high) / 2
            found[point.part] = (middle, (high - low) / 2 / middle)
    return found


def _supply_volts(
    bench: Bench, meter: MeterModel, readings: Mapping[Point, Taken]
) -> tuple[float, float] | None:
    """Return the supply as measured at its terminals: V, and the meter's half width.

    Where resistance inside the supply is stated, its terminals do not tell its EMF.
    """
    taken = readings.get(Point("voltage", at=SUPPLY))
    if bench.box.supply.source_ohms or taken is None or not taken.value:
        return None
    theirs = taken.meter or meter
    chosen = theirs.range_for("volts", taken.value)
    limit = chosen.limit(taken.value, of_full=theirs.of_full) if chosen else 0.0
    half = limit / abs(taken.value)
    return (taken.value, half) if half < 1 else None


def _hidden(box: Box, meter: MeterModel, steps: Sequence[Step]) -> Hidden | None:
    """Return what hides in series where the supply's current reads too low, if that can be told."""
    whole = next((s for s in steps if s.point.supply), None)
    if whole is None or whole.taken is None or not whole.taken.value:
        return None
    expected = whole.expected
    if not isinstance(expected, Expected) or expected.ideal is None:
        return None
    if abs(whole.taken.value) >= abs(expected.ideal) or any(r.load.amps for r in box.loads):
        return None
    supply = Known.within(box.supply.volts, box.supply.tolerance)
    try:
        return hidden_ohms(supply, _fed(box), whole.taken.value, whole.taken.meter or meter)
    except LowfoldError:  # it flows against the supply, or the box is too large to be searched
        return None


def _fed(box: Box) -> Known:
    """Return what the supply feeds, the loads' resistances and its own counted, Ω."""
    ends = []
    for which in ("low", "high"):
        sign = -1 if which == "low" else 1
        branches = tuple(
            replace(b, ohms=b.ohms * (1 + sign * h))
            for b, h in zip(box.circuit.branches, box.half_widths, strict=True)
        )
        loads = [replace(r.load, ohms=getattr(r, which)) for r in box.loads]
        circuit = replace(box.circuit, branches=branches)
        ends.append(solve(circuit, 1.0, 0.0, loads).total_ohms)
    nominal = solve(box.circuit, 1.0, 0.0, [r.load for r in box.loads]).total_ohms
    inside = box.supply.source_ohms
    return Known(nominal + inside, ends[0] + inside, ends[1] + inside)
