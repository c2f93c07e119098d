"""The dividers of standard parts nearest to an output voltage under its load.

The runs of `divider_legs` hold every pair that can be among the best: nothing is skipped, and
nothing outside a run has to be looked at (docs/search.md).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache, partial
from typing import Any, Final

from lowfold.core.network.tree import (
    Chain,
    Element,
    Tap,
    chain,
    exact_resistance,
    number_parts,
    part_watts,
    write_network,
)
from lowfold.core.search.combine import Table
from lowfold.core.search.divider import DividerNeed, loaded_output
from lowfold.core.search.divider_legs import Legs, corner_signs
from lowfold.core.search.leg_tables import leg_tables
from lowfold.core.search.pairing import best_pairs, from_comfortable, parallel_of
from lowfold.core.values.decimals import decimal

__all__ = ["Divider", "DividerResult", "RankedDivider", "search_divider"]


NOMINAL: Final = (0, 0, 0, 0)


@dataclass(frozen=True, slots=True)
class Divider:
    """One candidate; figures unrounded, nominal but for the extremes."""

    network: Element  #: with its tap OUT
    upper: Element
    lower: Element
    output_volts: float
    error: float
    unloaded_volts: float
    amps: float  #: drawn from the supply
    output_ohms: float
    lowest_volts: float
    highest_volts: float
    watts: dict[str, float]  #: by designator


@dataclass(frozen=True, slots=True)
class RankedDivider:
    """One of the best pairs, and by how much its nominal output misses the target."""

    need: DividerNeed
    network: Chain  #: with its tap OUT
    error: float

    @property
    def figures(self) -> Divider:
        """Work out its figures, in exact ratios."""
        return _figures(self.need, self.network)


@dataclass(frozen=True)
class DividerResult:
    ranked: tuple[RankedDivider, ...]
    searched: int
    reason: str | None

    @cached_property
    def candidates(self) -> tuple[Divider, ...]:
        """Return the ranked ones with all their figures."""
        return tuple(one.figures for one in self.ranked)


def search_divider(need: DividerNeed) -> DividerResult:
    """Return the best dividers for `need`, exactly.

    Ranked by the preference, then fewer parts, then |error|, then the output resistance nearest to
    10 kΩ. Only dividers whose loaded output stays above 0 V where a current load has to be fed
    count.

    Raises
    ------
    DomainError, TooLargeError
        For a need that contradicts itself or passes a bound.
    """
    best, searched = best_pairs(
        need.limit, leg_tables(need), partial(Legs, need), partial(_Pair, need)
    )
    ranked = tuple(RankedDivider(need, pair.network, pair.error) for pair in best)
    return DividerResult(ranked, searched, None if ranked else _reason(need))


@dataclass(frozen=True)
class _Pair:
    """Rows of the tables of upper and lower legs."""

    need: DividerNeed
    upper: Table
    u: int
    lower: Table
    v: int
    error: float  #: of the nominal output, a fraction of the target

    @cached_property
    def network(self) -> Chain:
        whole = chain([self.upper.network(self.u), Tap("OUT"), self.lower.network(self.v)])
        numbered = number_parts(whole)
        assert isinstance(numbered, Chain)  # two legs and a tap
        return numbered

    @property
    def written(self) -> str:
        return write_network(self.network)

    def key(self) -> tuple[Any, ...]:
        """Return what it is ranked by, decided in exact ratios."""
        exact = _Exact(self.need, self.upper.exact(self.u), self.lower.exact(self.v))
        nominal, target = exact.output(NOMINAL), exact.of["target"]
        error = abs(nominal / target - 1)
        cost = error
        if self.need.prefer == "worst_case":
            lowest, highest = exact.extremes()
            cost = max(highest - target, target - lowest)
        elif self.need.prefer == "least_current":
            cost = exact.drawn(nominal)
        comfort = float(from_comfortable(exact.output_ohms))
        parts = self.upper.parts + self.lower.parts
        return cost, parts, error, comfort


def _legs_of(whole: Chain) -> tuple[Element, Element]:
    split = whole.items.index(Tap("OUT"))
    return chain(whole.items[:split]), chain(whole.items[split + 1 :])


class _Exact:
    """A pair of legs in exact ratios."""

    def __init__(self, need: DividerNeed, up: Fraction, down: Fraction) -> None:
        self.need, self.of = need, _exact_figures(need)
        self.up, self.down = up, down

    def output(self, signs: tuple[int, int, int, int], *, load: bool = True) -> Fraction:
        """Return the output with upper and lower leg, supply and load pushing by `signs`, V."""
        of = self.of
        if signs == NOMINAL and load:
            above = self.up + of["source"]
            ends = of["supply"], of["low"]
            drawn = of["nominal siemens"], of["nominal amps"]
            return loaded_output(above, self.down, *ends, *drawn)
        hung = {-1: "heaviest", 0: "nominal", 1: "lightest"}[signs[3]]
        return loaded_output(
            self.up * (1 - signs[0] * of["tolerance"]) + of["source"],
            self.down * (1 + signs[1] * of["tolerance"]),
            of["supply"] + signs[2] * abs(of["supply"]) * of["supply_tolerance"],
            of["low"],
            of[f"{hung} siemens"] if load else Fraction(0),
            of[f"{hung} amps"] if load else Fraction(0),
        )

    def extremes(self) -> tuple[Fraction, Fraction]:
        """Return the lowest and the highest output over everything that may vary, V."""
        if self.need.between_its_ends:
            return self.output((-1, -1, -1, -1)), self.output((1, 1, 1, 1))
        every = [self.output(signs) for signs in corner_signs(self.need)]
        return min(every), max(every)

    def drawn(self, nominal: Fraction) -> Fraction:
        """Return what is drawn from the supply, A."""
        return (self.of["supply"] - nominal) / (self.up + self.of["source"])

    @property
    def output_ohms(self) -> float:
        return parallel_of(self.up + self.of["source"], self.down)


def _figures(need: DividerNeed, whole: Chain) -> Divider:
    above, below = _legs_of(whole)
    exact = _Exact(need, exact_resistance(above), exact_resistance(below))
    nominal = exact.output(NOMINAL)
    lowest, highest = exact.extremes()
    drawn, low = exact.drawn(nominal), exact.of["low"]
    watts = {
        p.ref: w
        for leg, across in ((above, float(drawn * exact.up)), (below, float(nominal - low)))
        for p, w in part_watts(leg, across)
    }
    return Divider(
        network=whole,
        upper=above,
        lower=below,
        output_volts=float(nominal),
        error=float(nominal / exact.of["target"] - 1),
        unloaded_volts=float(exact.output(NOMINAL, load=False)),
        amps=float(drawn),
        output_ohms=exact.output_ohms,
        lowest_volts=float(lowest),
        highest_volts=float(highest),
        watts=watts,
    )


@lru_cache(maxsize=8)
def _exact_figures(need: DividerNeed) -> dict[str, Fraction]:
    """Return the need's figures as the decimals that were written."""
    figures = {
        "supply": need.supply_volts,
        "supply_tolerance": need.supply_tolerance,
        "target": need.target_volts,
        "low": need.low_volts,
        "source": need.source_ohms,
        "tolerance": need.tolerance,
    }
    exact = {name: decimal(value) for name, value in figures.items()}
    stated = need.load_ohms if need.load_ohms is not None else need.load_amps or 0.0
    low, high = need.load_ends or (stated, stated)
    ends = {"nominal": stated, "heaviest": low, "lightest": high}
    if need.load_ohms is None:
        ends = {"nominal": stated, "heaviest": high, "lightest": low}
    for name, value in ends.items():
        of_ohms = need.load_ohms is not None and math.isfinite(value)
        drawn = decimal(value) if math.isfinite(value) else Fraction(0)
        exact[f"{name} siemens"] = 1 / drawn if of_ohms else Fraction(0)
        exact[f"{name} amps"] = Fraction(0) if need.load_ohms is not None else drawn
    return exact


def _reason(need: DividerNeed) -> str:
    if not need.pool.ohms:
        return "there is no value to choose from: widen the range or fill the stock"
    loaded = need.load_ohms is not None or bool(need.load_amps)
    ends = (need.low_volts, need.supply_volts, *([0.0] if loaded else []))
    if not min(ends) < need.target_volts < max(ends):
        where = "its ends and the 0 V its load goes to" if len(set(ends)) > 2 else "its ends"
        return (
            f"a divider's output lies between {where}, {min(ends):g} V and {max(ends):g} V; "
            f"{need.target_volts:g} V does not"
        )
    bounds = [
        f"within {need.within:.4%}" if need.within is not None else "",
        f"at least {need.min_amps:g} A" if need.min_amps is not None else "",
        f"at most {need.max_amps:g} A" if need.max_amps is not None else "",
        f"at most {need.max_output_ohms:g} Ω at the tap"
        if need.max_output_ohms is not None
        else "",
    ]
    stated = ", ".join(b for b in bounds if b)
    if not stated:
        return (
            "the load holds the output down with all of these values: use lower ones or less load"
        )
    return f"no pair of these values meets every bound at once ({stated}): loosen one of them"
