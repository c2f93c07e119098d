"""The combinations of standard parts nearest to a resistance nobody makes.

Exact: `assemblies` meets every combination that can be among the nearest, and their order is
decided in ratios of integers, not in floats (docs/search.md).
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from typing import Final, Literal, TypeVar

from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network.tree import (
    Element,
    Part,
    chain,
    exact_resistance,
    group,
    parts_of,
    resistance,
    write_network,
)
from lowfold.core.parts.pool import Pool
from lowfold.core.search.assemblies import arrangements, nearest_assemblies
from lowfold.core.search.combine import SERIES
from lowfold.core.search.contexts import MOST_PARTS, ROUNDING, Drive
from lowfold.core.search.ranking import best_first
from lowfold.core.values.decimals import decimal

__all__ = [
    "MOST_SERIES_PARTS",
    "Combination",
    "Frontier",
    "ResistanceNeed",
    "ResistanceResult",
    "search_resistance",
]

N = TypeVar("N", float, Fraction)

FEW_VALUES: Final = 20  #: distinct values that up to `MOST_PARTS` parts are searched from
MOST_LISTED: Final = 500
MOST_SERIES_PARTS: Final = 4  #: per combination of a whole series
#: Distinct values, by parts per combination: E24 ∪ E192 has 2,461 over the widest range and
#: 1,436 over seven decades.
MOST_VALUES: Final = {1: 10_000, 2: 3000, 3: 1500, 4: 1500, 5: 20, 6: 20}
#: The same where a part is in place and powers are limited: how near to the target anything is cool
#: enough is not known beforehand.
MOST_LIMITED_IN_PLACE: Final = {1: 10_000, 2: 3000, 3: 700, 4: 200, 5: 20, 6: 20}


@dataclass(frozen=True, slots=True, kw_only=True)
class ResistanceNeed:
    """A wanted resistance and what a combination must keep to."""

    target_ohms: float
    pool: Pool
    max_parts: int = 2
    tolerance: float = 0.01  #: of each part, fraction
    limit: int = 20
    within: float | None = None  #: accepted |error|, fraction
    prefer: Literal["nearest", "fewest"] = "nearest"
    across_volts: float | None = None  #: across the whole
    through_amps: float | None = None  #: through the whole
    part_watts: float | None = None  #: rating of each chosen part
    stress: float = 0.5  #: share of the rating that may be used
    fixed_ohms: float | None = None  #: a part already in place
    beside_ohms: float | None = None  #: a load in parallel with the whole, counted in it

    def __post_init__(self) -> None:
        few = len(self.pool.ohms) <= FEW_VALUES
        if self.max_parts > (most_parts := MOST_PARTS if few else MOST_SERIES_PARTS):
            msg = (
                f"{self.max_parts} parts are asked for; combinations of up to {most_parts} are "
                f"searched "
                f"({MOST_PARTS} from at most {FEW_VALUES} values)"
            )
            raise TooLargeError(msg, field="max_parts")
        in_place = self.fixed_ohms is not None or self.beside_ohms is not None
        limited = in_place and self.part_watts is not None
        bounds = MOST_LIMITED_IN_PLACE if limited else MOST_VALUES
        if len(self.pool.ohms) > (most := bounds[self.max_parts]):
            of = " beside a part in place, each within its power" if limited else ""
            msg = (
                f"{len(self.pool.ohms)} values are more than the {most} searched for up to "
                f"{self.max_parts} parts{of}: narrow the range or use fewer parts"
            )
            raise TooLargeError(msg, field="values")
        if self.limit > MOST_LISTED:
            msg = f"{self.limit} candidates are asked for; at most {MOST_LISTED} are listed"
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
            msg = "a rating tells nothing alone: state the voltage across the whole, or the current"
            raise DomainError(msg, field="part_rating_w")

    @property
    def drive(self) -> Drive | None:
        """What the whole is driven by and each part may take, if powers are limited."""
        if self.part_watts is None:
            return None
        return Drive(self.stress * self.part_watts, self.across_volts, self.through_amps)


@dataclass(frozen=True, slots=True)
class Combination:
    """One candidate; figures unrounded."""

    network: Element  #: unnamed parts, the fixed one included
    parts: int  #: chosen ones
    ohms: float  #: with what lies beside it
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


@dataclass(frozen=True)
class _Ranked:
    """Chosen parts with those in place; judged in exact ratios where floats cannot tell."""

    need: ResistanceNeed
    join: int  #: how the chosen parts join the part in place
    parts: int
    chosen: Element

    @cached_property
    def exact(self) -> Fraction:
        """Return what they make with what is in place and beside, Ω."""
        return _with_others(self.need, self.join, exact_resistance(self.chosen))

    @cached_property
    def error(self) -> Fraction:
        return self.exact / decimal(self.need.target_ohms) - 1

    @property
    def cost(self) -> float:
        """Return |error| in floats."""
        whole = _with_others(self.need, self.join, resistance(self.chosen))
        return abs(whole / self.need.target_ohms - 1)

    @cached_property
    def written(self) -> str:
        return write_network(_whole(self.need, self.join, self.chosen), refs=False)

    @cached_property
    def _key(self) -> tuple[object, ...]:
        distinct = len({p.ohms for p in parts_of(self.chosen) if isinstance(p, Part)})
        return abs(self.error), self.parts, distinct, len(self.written)

    def key(self) -> tuple[object, ...]:
        """Return what it is ranked by where floats tie."""
        return self._key

    def lies(self, within: float) -> bool:
        """Tell whether it misses the target by at most so large a fraction of it."""
        return abs(self.error) <= decimal(within)

    def found(self) -> Combination:
        """Return it with its figures."""
        need = self.need
        tolerance, own = decimal(need.tolerance), exact_resistance(self.chosen)
        low, high = (
            _with_others(need, self.join, own * (1 + sign * tolerance)) for sign in (-1, 1)
        )
        network = _whole(need, self.join, self.chosen)
        figures = (float(x) for x in (self.exact, self.error, low, high))
        return Combination(network, self.parts, *figures)


def search_resistance(need: ResistanceNeed) -> ResistanceResult:
    """Return the best combinations for `need`, exactly.

    Ranked by |error|, then fewer parts, then fewer distinct values, then the shorter expression;
    `fewest` puts the number of parts first.

    Parameters
    ----------
    need : ResistanceNeed
        What is wanted and must be kept to.

    Raises
    ------
    DomainError, TooLargeError
        For a need that contradicts itself or passes a bound.
    """
    ranked: list[_Ranked] = []
    searched = 0
    best: list[_Ranked] = []
    for parts in range(1, need.max_parts + 1):
        searched += arrangements(len(need.pool.ohms), parts) * (1 if need.fixed_ohms is None else 2)
        near = nearest_assemblies(
            need.pool,
            parts,
            need.target_ohms,
            need.limit,
            fixed=need.fixed_ohms,
            drive=need.drive,
            beside=need.beside_ohms,
        )
        of_size = _best([_Ranked(need, join, parts, chosen) for join, chosen in near], need.limit)
        best += of_size[:1]
        ranked += [
            r for r in of_size if need.within is None or abs(r.error) <= decimal(need.within)
        ]
    if need.prefer != "fewest":
        ranked = _best(ranked, need.limit)
    return ResistanceResult(
        candidates=tuple(r.found() for r in ranked[: need.limit]),
        frontier=_frontier(best, need),
        searched=searched,
        reason=None if ranked else _reason(need, best),
    )


def _best(some: list[_Ranked], limit: int) -> list[_Ranked]:
    return best_first([(r.cost, r) for r in some], limit, ROUNDING)


def _whole(need: ResistanceNeed, join: int, chosen: Element) -> Element:
    """Put the chosen parts to the part in place."""
    if need.fixed_ohms is None:
        return chosen
    return (chain if join == SERIES else group)([Part(need.fixed_ohms), chosen])


def _with_others(need: ResistanceNeed, join: int, chosen: N) -> N:
    """Return what chosen parts make with the part in place and what lies beside, Ω."""
    if need.fixed_ohms is not None:
        inside = _like(chosen, need.fixed_ohms)
        chosen = chosen + inside if join == SERIES else chosen * inside / (chosen + inside)
    if need.beside_ohms is not None:
        load = _like(chosen, need.beside_ohms)
        chosen = chosen * load / (chosen + load)
    return chosen


def _like(chosen: N, ohms: float) -> N:
    return ohms if isinstance(chosen, float) else decimal(ohms)


def _frontier(best: list[_Ranked], need: ResistanceNeed) -> tuple[Frontier, ...]:
    found = []
    least: Fraction | None = None
    for ranked in best:
        error = abs(ranked.error)
        worthwhile = least is None or least - error >= decimal(need.tolerance) / 10
        found.append(Frontier(ranked.found(), worthwhile and (least is None or error < least)))
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
    nearest = min(best, key=lambda r: abs(r.error)).found()
    return (
        f"nothing lies within {need.within or 0:.4%} of the target; the nearest is "
        f"{nearest.expression} at {nearest.error:+.4%}"
    )
