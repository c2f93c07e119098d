"""A resistance nobody makes: combinations of parts, weighed alone and beside what lies there."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Final

from lowfold.core.needs.brief import Brief, NeedKind
from lowfold.core.needs.build_words import shape_of_equals
from lowfold.core.network.tree import Element, number_parts, parts_of, write_network
from lowfold.core.parts.pool import Pool
from lowfold.core.search.arrays import search_arrays
from lowfold.core.search.contexts import MOST_PARTS
from lowfold.core.search.resistance_search import (
    MOST_SERIES_PARTS,
    Frontier,
    ResistanceNeed,
    search_resistance,
)
from lowfold.core.search.sound_resistances import ResistanceDemand
from lowfold.core.tokens.loads import LoadToken, resistive_load
from lowfold.core.tokens.parts import PARTS, Parts, part_misfits, parts_of_values
from lowfold.core.tokens.reading import (
    Token,
    UseToken,
    count,
    optional,
    quantity,
    use,
)
from lowfold.core.tokens.windows import spread, window
from lowfold.core.tolerance.box import Supply
from lowfold.core.values.quantities import FRACTION, OHM, write, write_code
from lowfold.core.values.ranges import WIDEST_RANGE
from lowfold.core.weighing.choice import Choice, Found, Preference
from lowfold.core.weighing.conditions import Conditions, Wanted

__all__ = ["RESISTANCE", "ResistanceBrief"]

ARRAYS_LISTED: Final = 6  #: arrays of equal parts offered beside combinations
NEAREST_OF_FEWER: Final = 6  #: combinations of fewer parts weighed
MOST_FEWER: Final = 2
MOST_SPELLED: Final = 4  #: equal parts written out one by one in a list


@dataclass(frozen=True, slots=True, kw_only=True)
class ResistanceBrief(Brief):
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

    @property
    def conditions(self) -> Conditions:
        return Conditions(
            supply=self.supply,
            wanted=(Wanted("", self.target_ohms, self.within),),
            parts=self.parts,
            loads=(("in", self.load),) if self.load else (),
            in_place_ohms=self.in_place_ohms,
            faults=False,
        )

    def search(self, preference: Preference, pool: Pool, limit: int) -> Found:
        """Search combinations; parts of one need deviate alike, so corners are ranked by that."""
        limited = preference == "cool" and self.use is not None
        need = ResistanceNeed(
            target_ohms=self.target_ohms,
            pool=pool,
            max_parts=self.max_parts,
            tolerance=self.parts.half_width,
            within=self.within if preference == "fewest" else None,
            limit=limit,
            prefer="fewest" if preference == "fewest" else "nearest",
            across_volts=self.use.volts if limited and self.use else None,
            through_amps=self.use.amps if limited and self.use else None,
            part_watts=self.parts.derated_watts if limited else None,
            stress=self.parts.stress,
            fixed_ohms=self.in_place_ohms,
            beside_ohms=self.load.ohms if self.load else None,
        )
        found = _searched(need)
        listed = [(c.network, c.error) for c in found.candidates]
        advice = _advice(found.frontier, self.parts.tolerance)
        if need.drive is not None and self.in_place_ohms is None:
            arrays = search_arrays(
                pool,
                self.target_ohms,
                need.drive,
                more_than=self.max_parts,
                within=self.within,
                limit=ARRAYS_LISTED,
                beside=need.beside_ohms,
            )
            inside = [(network, error) for network, error in listed if abs(error) <= self.within]
            if arrays:
                fits = inside[: max(limit - len(arrays), 1)]
                listed = fits + [(a.network, a.error) for a in arrays]
            if arrays and not inside:
                advice = f"too hot for {self.max_parts}: arrays of equal parts share the power"
        return Found(
            networks=tuple(number_parts(network) for network, _ in listed[:limit]),
            errors=tuple(error for _, error in listed[:limit]),
            searched=found.searched,
            what="combinations",
            advice=advice,
            reason=found.reason if not listed else None,
        )

    @property
    def demand(self) -> ResistanceDemand:
        """Return what its gates ask of the parts it is made of."""
        load, use = self.load, self.use
        return ResistanceDemand(
            target_ohms=self.target_ohms,
            within=self.within,
            half_width=self.parts.half_width,
            beside=(load.lightest[0], load.heaviest[0]) if load else (0.0, 0.0),
            across_volts=use.volts if use else None,
            through_amps=use.amps if use else None,
        )

    def worth_weighing(self, pool: Pool, weighed: Sequence[Choice]) -> list[Element]:  # noqa: ARG002
        """Return the nearest of fewer parts: where one passes, nobody builds it of two."""
        fewer: list[Element] = []
        for parts in range(1, min(self.max_parts, MOST_FEWER + 1)):
            some = replace(self, max_parts=parts)
            for preference in ("nearest", "cool") if self.use is not None else ("nearest",):
                found = some.search(preference, pool, NEAREST_OF_FEWER).networks
                fewer += [n for n in found if sum(1 for _ in parts_of(n)) <= parts]
        return list(dict.fromkeys(fewer))

    def lines(self, network: Element) -> tuple[str, ...]:
        """Write a combination as it is read, an array of equal parts by its shape."""
        return _lines(network)


_searched = lru_cache(maxsize=32)(search_resistance)

TOKENS: Final[dict[str, Token]] = {
    "target_ohm": Token(spread(OHM, 1e-3, 1e9, "within"), "4.32 kΩ", "wanted resistance"),
    "within": Token(window(OHM), "3 %", "accepted deviation"),
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


def _lines(network: Element) -> tuple[str, ...]:
    """Write a combination as it is read, an array of equal parts by its shape."""
    equal = shape_of_equals(network)
    if equal is None or equal[1] * equal[2] <= MOST_SPELLED:
        return (write_network(network, refs=False),)
    ohms, size, count = equal
    each = write_code(ohms)
    if size == 1 or count == 1:
        return (f"{size * count} × {each}", "in parallel" if size == 1 else "in series")
    return (f"{size * count} × {each}", f"{count} strings of {size}")


RESISTANCE: Final = NeedKind(
    tokens=TOKENS,
    preferences=("nearest", "fewest", "cool"),
    unit=OHM,
    said=("target_ohm",),
    read=_read,
    misfits=_misfits,
)
