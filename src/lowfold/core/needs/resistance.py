"""A resistance nobody makes: combinations of parts, weighed alone and beside what lies there."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Final

from lowfold.core.checking.check import Demand, check_network
from lowfold.core.checking.verdict import judge, worst
from lowfold.core.needs.choice import Choice, Found, Judged, Mark, NeedKind, Preference
from lowfold.core.needs.gates import (
    Gate,
    load_range,
    power_gate,
    span_words,
    spread_gate,
    value_gate,
)
from lowfold.core.needs.parts import PARTS, Parts, part_misfits, parts_of_values
from lowfold.core.needs.tokens import (
    LoadToken,
    Token,
    UseToken,
    count,
    optional,
    quantity,
    resistive_load,
    use,
)
from lowfold.core.network.circuit import SUPPLY, Circuit, build_circuit
from lowfold.core.network.tree import (
    Chain,
    Element,
    Group,
    Part,
    number_parts,
    parts_of,
    write_network,
)
from lowfold.core.parts.limits import PartLimits
from lowfold.core.parts.pool import Pool
from lowfold.core.search.arrays import search_arrays
from lowfold.core.search.contexts import MOST_PARTS
from lowfold.core.search.resistance_search import (
    MOST_SERIES_PARTS,
    Frontier,
    ResistanceNeed,
    search_resistance,
)
from lowfold.core.tolerance.box import Box, Supply
from lowfold.core.tolerance.spread import ResistanceSpread, resistance_spread
from lowfold.core.values.preferred import WIDEST_RANGE
from lowfold.core.values.quantities import FRACTION, OHM, write, write_code

__all__ = ["RESISTANCE", "ResistanceBrief", "judge_resistance", "resistance_halves"]

ARRAYS_LISTED: Final = 6  #: arrays of equal parts offered beside combinations
MOST_SPELLED: Final = 4  #: equal parts written out one by one in a list


@dataclass(frozen=True, slots=True, kw_only=True)
class ResistanceBrief:
    """Make a resistance."""

    target_ohms: float
    within: float
    max_parts: int
    use: UseToken | None
    load: LoadToken | None
    in_place_ohms: float | None  #: a measured part to complete
    parts: Parts

    @property
    def supply(self) -> Supply | None:
        """What drives the whole, if it is stated; a current is a source of infinite resistance."""
        if self.use is None:
            return None
        if self.use.volts is not None:
            return Supply(self.use.volts)
        return Supply(self.use.amps or 0.0, 0.0, math.inf)


TOKENS: Final[dict[str, Token]] = {
    "target_ohm": Token(quantity(OHM, 1e-3, 1e9), "4.32 kΩ", "wanted resistance"),
    "within": Token(quantity(FRACTION, 0.0, 1.0, open_low=True), "1 %", "accepted deviation"),
    "max_parts": Token(count(MOST_PARTS), "2", "number of parts"),
    "use": Token(
        optional(use, "nothing stated"), "none", "current through it or voltage across it", "none"
    ),
    "load": Token(
        optional(resistive_load, "nothing"), "none", "resistance in parallel with it", "none"
    ),
    "in_place_ohm": Token(
        optional(quantity(OHM, *WIDEST_RANGE), "nothing"), "none", "part already in place", "none"
    ),
    **PARTS,
}


def _read(v: Mapping[str, Any]) -> ResistanceBrief:
    return ResistanceBrief(
        target_ohms=v["target_ohm"],
        within=v["within"],
        max_parts=v["max_parts"],
        use=v["use"],
        load=v["load"],
        in_place_ohms=v["in_place_ohm"],
        parts=parts_of_values(v),
    )


def _misfits(v: Mapping[str, Any]) -> list[tuple[str, str]]:
    found = part_misfits(v)
    parts, values = v.get("max_parts"), v.get("values")
    if isinstance(parts, int) and parts > MOST_SERIES_PARTS and values:
        message = (
            f"a series is searched for up to {MOST_SERIES_PARTS} parts, a drawer of at most "
            f"20 values for up to {MOST_PARTS}"
        )
        found.append(("max_parts", message))
    return found


def _search(brief: ResistanceBrief, preference: Preference, pool: Pool, limit: int) -> Found:
    """Search combinations; parts of one need deviate alike, so corners are ranked by that."""
    limited = preference == "cool" and brief.use is not None
    need = ResistanceNeed(
        target_ohms=brief.target_ohms,
        pool=pool,
        max_parts=brief.max_parts,
        tolerance=brief.parts.half_width,
        within=brief.within if preference == "fewest" else None,
        limit=limit,
        prefer="fewest" if preference == "fewest" else "nearest",
        across_volts=brief.use.volts if limited and brief.use else None,
        through_amps=brief.use.amps if limited and brief.use else None,
        part_watts=brief.parts.derated_watts if limited else None,
        stress=brief.parts.stress,
        fixed_ohms=brief.in_place_ohms,
        beside_ohms=brief.load.ohms if brief.load else None,
    )
    found = search_resistance(need)
    listed = [(c.network, c.error) for c in found.candidates]
    advice = _advice(found.frontier, brief.parts.tolerance)
    if need.drive is not None and brief.in_place_ohms is None:
        arrays = search_arrays(
            pool,
            brief.target_ohms,
            need.drive,
            more_than=brief.max_parts,
            within=brief.within,
            limit=ARRAYS_LISTED,
            beside=need.beside_ohms,
        )
        inside = [(network, error) for network, error in listed if abs(error) <= brief.within]
        if arrays:
            listed = inside[: max(limit - len(arrays), 1)] + [(a.network, a.error) for a in arrays]
        if arrays and not inside:
            advice = f"too hot for {brief.max_parts}: arrays of equal parts share the power"
    return Found(
        networks=tuple(number_parts(network) for network, _ in listed[:limit]),
        errors=tuple(error for _, error in listed[:limit]),
        searched=found.searched,
        what="combinations",
        advice=advice,
        reason=found.reason if not listed else None,
    )


def _advice(frontier: tuple[Frontier, ...], tolerance: float) -> str:
    """Say whether the most parts allowed are worth it against the best of fewer."""
    if len(frontier) < 2:
        return ""
    last = frontier[-1]
    before = min(frontier[:-1], key=lambda f: abs(f.best.error)).best
    gained = abs(before.error) - abs(last.best.error)
    at = write(tolerance, FRACTION, 3, trim=True)
    count = {1: "one part", 2: "two parts", 3: "three", 4: "four", 5: "five", 6: "six"}
    if gained <= 0:
        exact = " is exact already" if not before.error else " come no nearer than "
        if not before.error:
            return f"{write_network(before.network, refs=False)}{exact}"
        return f"{count[last.best.parts]}{exact}{count[before.parts]}"
    removed = write(gained, FRACTION, 2)
    worth = "worth it" if last.worthwhile else "not worth it"
    which = {2: "a second", 3: "a third", 4: "a fourth", 5: "a fifth", 6: "a sixth"}
    alone = before.parts == 1
    against = f"{write_network(before.network, refs=False)} alone" if alone else count[before.parts]
    part = which[last.best.parts]
    return f"{part} part removes {removed} of error against {against}: {worth} at {at}"


def _weigh(brief: ResistanceBrief, network: Element) -> Choice:
    judged = judge_resistance(brief, network)
    return Choice(
        network=network,
        lines=_lines(network),
        amps=judged.check.solution.supply_amps if brief.use else None,
        output_ohms=None,
        judged=judged,
    )


def _lines(network: Element) -> tuple[str, ...]:
    """Write a combination as it is read, an array of equal parts by its shape."""
    branches = network.branches if isinstance(network, Group) else (network,)
    strings = [b.items if isinstance(b, Chain) else (b,) for b in branches]
    values = {p.ohms for p in parts_of(network) if isinstance(p, Part)}
    sizes = {len(s) for s in strings}
    plain = all(isinstance(i, Part) for s in strings for i in s)
    size, count = sizes.pop() if len(sizes) == 1 else 0, len(strings)
    if not (plain and len(values) == 1 and size * count > MOST_SPELLED):
        return (write_network(network, refs=False),)
    each = write_code(values.pop())
    if size == 1 or count == 1:
        return (f"{size * count} × {each}", "in parallel" if size == 1 else "in series")
    return (f"{size * count} × {each}", f"{count} strings of {size}")


def _single_limits(brief: ResistanceBrief, circuit: Circuit) -> dict[str, PartLimits]:
    """Return the limits of parts that are not as the others; the one in place is measured."""
    there = _in_place(brief, circuit)
    measured = {there: brief.parts.limits.measured()} if there else {}
    return brief.parts.limits_of(circuit) | measured


def _in_place(brief: ResistanceBrief, circuit: Circuit) -> str | None:
    """Return the name of the part that was there before."""
    return next((b.ref for b in circuit.branches if b.ohms == brief.in_place_ohms), None)


def resistance_halves(brief: ResistanceBrief, circuit: Circuit) -> tuple[float, ...]:
    """Return the extreme-value half-width of every part, fractions; none of one in place."""
    there = _in_place(brief, circuit)
    pairs = zip(circuit.branches, brief.parts.half_widths(circuit), strict=True)
    return tuple(0.0 if b.ref == there else half for b, half in pairs)


def judge_resistance(brief: ResistanceBrief, network: Element) -> Judged:
    """Weigh a combination against its brief; its load is what lies in parallel with it."""
    circuit = build_circuit(network)
    supply = brief.supply
    loads = (load_range(brief.load, SUPPLY),) if brief.load else ()
    check = check_network(
        circuit,
        supply or Supply(1.0),
        loads=loads,
        default=brief.parts.limits,
        parts=_single_limits(brief, circuit),
        environment=brief.parts.environment,
        resistance=Demand(brief.target_ohms, brief.within),
        stress=brief.parts.stress,
        tracking=brief.parts.tracking,
    )
    assert check.resistance is not None  # a demand was given
    spread = check.resistance.spread
    target, within = brief.target_ohms, brief.within
    deviations = (spread.lowest / target - 1, spread.highest / target - 1)
    end = "low" if abs(deviations[0]) >= abs(deviations[1]) else "high"
    shown = write(spread.nominal, OHM, 6, trim=True)
    others = " and what lies beside them" if loads else ""
    halves = resistance_halves(brief, circuit)
    box = Box(circuit, Supply(1.0), loads, halves, brief.parts.tracking)
    gates = (
        value_gate(
            spread.nominal / target - 1,
            within,
            f"{shown} with nominal parts{others}.",
        ),
        spread_gate(
            deviations,
            within,
            (
                f"Worst: every part{others} {end}.",
                span_words(spread.lowest, spread.highest, spread.rss, spread.nominal, OHM),
            ),
        ),
        _parallel_load_gate(brief, box),
        power_gate(check.parts, brief.parts.family.name, stated=supply is not None),
    )
    mark = Mark("", OHM, target, within, spread.nominal, spread.lowest, spread.highest)
    return Judged(
        circuit=circuit,
        box=box,
        check=check,
        marks=(mark,),
        parts=brief.parts,
        loads=loads,
        supply=supply,
        gates=gates,
        verdict=worst(g.verdict for g in gates),
    )


def _parallel_load_gate(brief: ResistanceBrief, box: Box) -> Gate:
    """Judge what lies beside it over its range, parts nominal, and say what passes at worst."""
    target, within = brief.target_ohms, brief.within
    alone = resistance_spread(replace(box, loads=()))
    passes = _beside_words(alone, target * (1 - within), target * (1 + within))
    if brief.load is None or brief.load.ohms is None:
        note = f"Nothing lies beside it. {passes}"
        return Gate("load", None, 0.0, FRACTION, None, "shift", None, (note,))
    stated = load_range(brief.load, SUPPLY)
    nominal = alone.nominal
    beside = [nominal * x / (nominal + x) for x in (stated.low, brief.load.ohms, stated.high)]
    furthest = max(abs(r - target) for r in beside)
    bare = write(nominal, OHM, 6, trim=True)
    return Gate(
        "load",
        judge(furthest, within * target),
        beside[1] / nominal - 1,
        FRACTION,
        within,
        "shift, counted",
        furthest / (within * target),
        (f"{bare} with nothing beside it. {passes}",),
    )


def _beside_words(alone: ResistanceSpread, least: float, most: float) -> str:
    """Say beside what it stays within `least` to `most` Ω at every corner of its own parts."""
    if alone.lowest < least:
        return "At its lowest it is too small whatever lies beside it."
    low = alone.lowest * least / (alone.lowest - least) if alone.lowest > least else math.inf
    high = alone.highest * most / (alone.highest - most) if alone.highest > most else math.inf
    if math.isinf(low):
        return "At every corner it passes with nothing beside it only."
    if low > high:
        return "Nothing beside it brings every corner into the window."
    from_ = write(low, OHM, 3, rounding="up")
    if math.isinf(high):
        return f"At every corner it passes beside {from_} or more."
    return f"At every corner it passes beside {from_} to {write(high, OHM, 3, rounding='down')}."


RESISTANCE: Final = NeedKind(
    tokens=TOKENS,
    preferences=("nearest", "fewest", "cool"),
    unit=OHM,
    said=("target_ohm",),
    read=_read,
    misfits=_misfits,
    search=_search,
    weigh=_weigh,
)
