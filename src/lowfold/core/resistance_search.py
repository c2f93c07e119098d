"""The combinations of standard parts nearest to a resistance nobody makes.

Exact: every combination of each size is in a sorted table, the ones nearest to the target are the
neighbours of the target in it, and their order is decided in integers, not in floats
(docs/search.md).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Final, Literal

import numpy as np
import numpy.typing as npt

from lowfold.core.combine import Pool, Table, around, table
from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network import (
    Element,
    Part,
    chain,
    exact_resistance,
    group,
    parts_of,
    write_network,
)

__all__ = [
    "MOST_PARTS",
    "Combination",
    "Frontier",
    "ResistanceNeed",
    "ResistanceResult",
    "search_resistance",
]

FloatArray = npt.NDArray[np.float64]

MOST_PARTS: Final = 2  #: per combination, so far
MOST_LISTED: Final = 500
#: Distinct values that are paired: E24 ∪ E192 over the widest range has 2,461.
MOST_VALUES: Final = 3000


@dataclass(frozen=True, slots=True, kw_only=True)
class ResistanceNeed:
    """A wanted resistance and what a combination must keep to."""

    target_ohms: float
    pool: Pool
    max_parts: int = MOST_PARTS
    tolerance: float = 0.01  #: of each part, fraction
    limit: int = 20
    within: float | None = None  #: accepted |error|, fraction
    prefer: Literal["nearest", "fewest"] = "nearest"
    across_volts: float | None = None  #: across the whole
    through_amps: float | None = None  #: through the whole
    part_watts: float | None = None  #: rating of each chosen part
    stress: float = 0.5  #: share of the rating that may be used
    fixed_ohms: float | None = None  #: a part already in place

    def __post_init__(self) -> None:
        if self.max_parts > MOST_PARTS:
            msg = f"max_parts is {self.max_parts}; combinations of up to {MOST_PARTS} are searched"
            raise TooLargeError(msg, field="max_parts")
        if self.max_parts > 1 and len(self.pool.ohms) > MOST_VALUES:
            msg = f"{len(self.pool.ohms)} values are more than the {MOST_VALUES} that are paired"
            raise TooLargeError(msg, field="values")
        if self.limit > MOST_LISTED:
            msg = f"limit is {self.limit}; at most {MOST_LISTED} candidates are listed"
            raise TooLargeError(msg, field="limit")
        if self.prefer == "fewest" and self.within is None:
            msg = "prefer “fewest” needs within, the accepted error, for instance 1 %"
            raise DomainError(msg, field="within")
        if self.across_volts is not None and self.through_amps is not None:
            msg = "give the voltage across or the current through the whole, not both"
            raise DomainError(msg, field="through_a")
        driven = self.across_volts is not None or self.through_amps is not None
        if driven and self.part_watts is None:
            msg = "a power limit needs part_rating_w, each part's rating, for instance 1/4 W"
            raise DomainError(msg, field="part_rating_w")
        if self.part_watts is not None and not driven:
            msg = "part_rating_w needs across_v or through_a to tell what the parts take"
            raise DomainError(msg, field="part_rating_w")


@dataclass(frozen=True, slots=True)
class Combination:
    """One candidate; figures unrounded."""

    network: Element  #: unnamed parts, the fixed one included
    parts: int  #: chosen ones
    ohms: float
    error: float  #: ohms / target − 1
    lowest_ohms: float
    highest_ohms: float

    @property
    def expression(self) -> str:
        return write_network(self.network, refs=False)


@dataclass(frozen=True, slots=True)
class Frontier:
    """The best combination of exactly so many parts."""

    best: Combination
    worthwhile: bool  #: removes at least a tenth of the part tolerance from the error


@dataclass(frozen=True, slots=True)
class ResistanceResult:
    """Candidates in the preferred order."""

    candidates: tuple[Combination, ...]
    frontier: tuple[Frontier, ...]
    searched: int  #: combinations the candidates are the best of
    reason: str | None  #: why there is no candidate


@dataclass(frozen=True, slots=True)
class _Ranked:
    found: Combination
    error: Fraction
    distinct: int

    def key(self, *, fewest: bool) -> tuple[object, ...]:
        size = len(self.found.expression)
        parts, error = self.found.parts, abs(self.error)
        first = (parts, error) if fewest else (error, parts)
        return (*first, self.distinct, size, self.found.expression)


#: How X, the chosen parts, stands to the part in place: alone, in series with it, beside it.
_Join = Literal["alone", "series", "parallel"]


def search_resistance(need: ResistanceNeed) -> ResistanceResult:
    """Return the best combinations for `need`, exactly.

    Ranked by |error|, then fewer parts, then fewer distinct values, then the shorter expression;
    `fewest` puts the number of parts first.

    Raises
    ------
    DomainError, TooLargeError
        For a need that contradicts itself or passes a bound.
    """
    ranked: list[_Ranked] = []
    searched = 0
    bound = Fraction(repr(need.within)) if need.within is not None else None
    best: list[_Ranked] = []
    fewest = need.prefer == "fewest"
    for parts in range(1, need.max_parts + 1):
        of_size: list[_Ranked] = []
        for join, rows, whole in _placements(need, table(need.pool, parts)):
            searched += len(rows.ohms)
            of_size.extend(_nearest(need, join, rows, whole))
        of_size.sort(key=lambda r: r.key(fewest=False))
        best.extend(of_size[:1])
        ranked.extend(r for r in of_size if bound is None or abs(r.error) <= bound)
    ranked.sort(key=lambda r: r.key(fewest=fewest))
    return ResistanceResult(
        candidates=tuple(r.found for r in ranked[: need.limit]),
        frontier=_frontier(best, need.tolerance),
        searched=searched,
        reason=None if ranked else _reason(need, best),
    )


def _placements(need: ResistanceNeed, every: Table) -> Iterator[tuple[_Join, Table, FloatArray]]:
    """Yield the combinations that keep to the power limit, with the whole's resistance, by join."""
    joins: tuple[_Join, ...] = ("alone",) if need.fixed_ohms is None else ("series", "parallel")
    for join in joins:
        whole = _whole(join, every.ohms, need.fixed_ohms or 0.0)
        if need.part_watts is None:
            yield join, every, whole
            continue
        if need.across_volts is not None:
            outer = np.full(len(whole), need.across_volts)
        else:
            outer = (need.through_amps or 0.0) * whole
        volts = outer * every.ohms / whole if join == "series" else outer
        allowed = need.stress * need.part_watts * (1 + 1e-12)
        cool = every.hottest_watts(volts) <= allowed
        kept = Table(
            every.pool,
            every.parts,
            every.ohms[cool],
            every.left[cool],
            every.right[cool],
            every.join[cool],
        )
        yield join, kept, whole[cool]


def _whole(join: _Join, ohms: FloatArray, fixed: float) -> FloatArray:
    if join == "alone":
        return ohms
    return ohms + fixed if join == "series" else ohms * fixed / (ohms + fixed)


def _nearest(
    need: ResistanceNeed, join: _Join, rows: Table, whole: FloatArray
) -> Iterator[_Ranked]:
    """Yield the combinations that can be among the best, errors exact."""
    target = Fraction(repr(need.target_ohms))
    place = around(whole, need.target_ohms, need.limit)
    for row in range(place.start, place.stop):
        chosen = rows.network(row)
        network, exact = chosen, exact_resistance(chosen)
        low, high = (exact * (1 + s * Fraction(repr(need.tolerance))) for s in (-1, 1))
        if need.fixed_ohms is not None:
            fixed = Part(need.fixed_ohms)
            inside = Fraction(repr(need.fixed_ohms))
            if join == "series":
                network = chain([fixed, chosen])
                exact, low, high = (x + inside for x in (exact, low, high))
            else:
                network = group([fixed, chosen])
                exact, low, high = (x * inside / (x + inside) for x in (exact, low, high))
        error = exact / target - 1
        found = Combination(
            network, rows.parts, float(exact), float(error), float(low), float(high)
        )
        yield _Ranked(found, error, len({p.ohms for p in parts_of(chosen) if isinstance(p, Part)}))


def _frontier(best: list[_Ranked], tolerance: float) -> tuple[Frontier, ...]:
    found = []
    least: Fraction | None = None
    for ranked in best:
        error = abs(ranked.error)
        worthwhile = least is None or least - error >= Fraction(repr(tolerance)) / 10
        found.append(Frontier(ranked.found, worthwhile and (least is None or error < least)))
        least = error if least is None else min(least, error)
    return tuple(found)


def _reason(need: ResistanceNeed, best: list[_Ranked]) -> str:
    if not need.pool.ohms:
        return "there is no value to choose from: widen the range or fill the stock"
    if not best:
        if need.part_watts is not None:
            return (
                f"no combination of up to {need.max_parts} parts keeps every part within "
                f"{need.stress:g} of {need.part_watts:g} W: allow a higher rating or more parts"
            )
        return "the stock has too few parts for any combination"
    nearest = min(best, key=lambda r: abs(r.error)).found
    return (
        f"nothing lies within {need.within or 0:.4%} of the target; the nearest is "
        f"{nearest.expression} at {nearest.error:+.4%}"
    )
