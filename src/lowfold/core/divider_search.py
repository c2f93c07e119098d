"""The dividers of standard parts nearest to an output voltage under its load.

For a given upper leg the loaded output rises steadily with the lower leg. So every demand on the
output (an accepted error, a current bound, “at least as good as the best so far”) leaves one run of
neighbours in the sorted table of lower legs, found by bisection: nothing is skipped, and nothing
outside a run has to be looked at (docs/search.md).
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Final, Literal, TypeVar

import numpy as np
import numpy.typing as npt

from lowfold.core.combine import SINGLE, Pool, Table, table
from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network import (
    Chain,
    Element,
    Tap,
    chain,
    exact_resistance,
    number_parts,
    part_watts,
    write_network,
)

__all__ = ["Divider", "DividerNeed", "DividerResult", "loaded_output", "search_divider"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]
Number = TypeVar("Number", float, Fraction)

MOST_PER_LEG: Final = 2  #: parts
#: Distinct values for legs of two parts: E96 over seven decades has 673, its legs 453,000.
MOST_PAIRED: Final = 700
MOST_LISTED: Final = 500
#: Rounding allowance when a bound is turned into a run of the table; what it lets in is
#: judged again, exactly.
SLACK: Final = 1e-12
#: Output resistance that breaks ties: stiff enough for a converter's input, light enough for a
#: battery (common practice).
COMFORTABLE_OHMS: Final = 10e3
TIES: Final = 3  #: equally good pairs judged per listed candidate


@dataclass(frozen=True, slots=True, kw_only=True)
class DividerNeed:
    """A wanted output and what a divider must keep to."""

    supply_volts: float
    target_volts: float
    pool: Pool
    low_volts: float = 0.0  #: at the divider's other end
    supply_tolerance: float = 0.0
    source_ohms: float = 0.0  #: in series with the supply
    load_ohms: float | None = None  #: from the tap to 0 V
    load_amps: float | None = None
    max_per_leg: int = 1
    tolerance: float = 0.01  #: of each part
    min_amps: float | None = None  #: drawn from the supply, nominal, loaded
    max_amps: float | None = None
    max_output_ohms: float | None = None  #: Thévenin, source included
    within: float | None = None
    limit: int = 20
    prefer: Literal["nearest", "worst_case", "least_current"] = "nearest"

    def __post_init__(self) -> None:
        if self.max_per_leg > MOST_PER_LEG:
            msg = (
                f"max_parts_per_leg is {self.max_per_leg}; legs of up to {MOST_PER_LEG} parts "
                "are searched"
            )
            raise TooLargeError(msg, field="max_parts_per_leg")
        if self.max_per_leg > 1 and len(self.pool.ohms) > MOST_PAIRED:
            msg = (
                f"{len(self.pool.ohms)} values are more than the {MOST_PAIRED} searched for legs "
                "of two parts: narrow the range or use one part per leg"
            )
            raise TooLargeError(msg, field="values")
        if self.limit > MOST_LISTED:
            msg = f"limit is {self.limit}; at most {MOST_LISTED} candidates are listed"
            raise TooLargeError(msg, field="limit")
        if self.low_volts >= self.supply_volts:
            msg = (
                f"the other end at {self.low_volts:g} V is not below the supply of "
                f"{self.supply_volts:g} V: give the higher of the two as supply_v"
            )
            raise DomainError(msg, field="low_v")
        if self.target_volts == 0:
            msg = "a target of 0 V has no relative error: give a target other than 0 V"
            raise DomainError(msg, field="target_v")
        if self.load_ohms is not None and self.load_amps is not None:
            msg = "a load is a resistance or a current: give one of load_ohm and load_a"
            raise DomainError(msg, field="load_a")
        if None not in (self.min_amps, self.max_amps) and self.min_amps > self.max_amps:  # type: ignore[operator]
            msg = "min_current_a is above max_current_a"
            raise DomainError(msg, field="min_current_a")

    @property
    def least_volts(self) -> float:
        """Return what the output must stay above: the low end, and 0 V to feed a current load."""
        fed = self.load_amps is not None and self.load_amps > 0 and self.target_volts > 0
        return max(self.low_volts, 0.0) if fed else self.low_volts


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
class DividerResult:
    candidates: tuple[Divider, ...]
    searched: int
    reason: str | None


def loaded_output(
    upper: Number,
    lower: Number,
    supply: Number,
    low: Number,
    siemens: Number,
    amps: Number,
) -> Number:
    """Return the tap's voltage under its load, V.

    Vout = (VH·GU + VL·GL − I)/(GU + GL + Gload), the node equation of the tap. A current load draws
    only while the tap stays above 0 V, else it holds the tap at 0 V.

    Parameters
    ----------
    upper, lower : Ω, the source resistance counted into the upper leg
    supply, low : V at the two ends
    siemens, amps : the load from the tap to 0 V
    """
    driven = supply / upper + low / lower
    total = 1 / upper + 1 / lower + siemens
    if driven <= 0:
        return driven / total
    return max(driven - amps, type(driven)(0)) / total


class _Legs:
    """One pairing of leg tables and the figures of `need` over it, vectorised."""

    def __init__(self, need: DividerNeed, upper: Table, lower: Table) -> None:
        self.need, self.upper, self.lower = need, upper, lower
        self.above = upper.ohms + need.source_ohms
        self.siemens = 0.0 if need.load_ohms is None else 1 / need.load_ohms
        # Below 0 V a current load draws nothing, and candidates lie near the target.
        self.amps = (need.load_amps or 0.0) if need.target_volts > 0 else 0.0

    def output(self, u: IntArray, v: IntArray, sign: int = 0) -> FloatArray:
        """Return outputs of the pairs (u, v), every tolerance pushing the way of `sign`, (n,) V."""
        need = self.need
        up = 1 / (self.upper.ohms[u] * (1 - sign * need.tolerance) + need.source_ohms)
        down = 1 / (self.lower.ohms[v] * (1 + sign * need.tolerance))
        supply = self._supply(sign)
        driven = supply * up + need.low_volts * down
        left = np.where(driven > 0, np.maximum(driven - self.amps, 0.0), driven)
        out: FloatArray = left / (up + down + self.siemens)
        return out

    def _supply(self, sign: int) -> float:
        return self.need.supply_volts + sign * abs(
            self.need.supply_volts * self.need.supply_tolerance
        )

    def lower_for(self, volts: FloatArray | float, sign: int = 0) -> FloatArray:
        """Return the lower leg that brings each upper leg's output to `volts`, (n,) Ω.

        Infinite where even no lower leg leaves the output below `volts`; 0 where it always lies
        above. The inverse of `output` in the lower leg.
        """
        need = self.need
        up = 1 / (self.upper.ohms * (1 - sign * need.tolerance) + need.source_ohms)
        excess = (self._supply(sign) - volts) * up - volts * self.siemens - self.amps
        over = np.asarray(volts - need.low_volts)
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            ohms = np.where(excess > 0, over / excess, np.inf)
        ohms = np.where(over <= 0, 0.0, ohms)
        return ohms / (1 + sign * need.tolerance)

    def runs(self, low: FloatArray | float, high: FloatArray | float) -> tuple[IntArray, IntArray]:
        """Return the run [start, stop) of lower legs from `low` to `high` Ω for each upper leg."""
        size = self.upper.ohms.shape
        start = np.searchsorted(self.lower.ohms, np.broadcast_to(low, size) * (1 - SLACK), "left")
        stop = np.searchsorted(self.lower.ohms, np.broadcast_to(high, size) * (1 + SLACK), "right")
        return start, np.maximum(start, stop)

    def allowed(self) -> tuple[IntArray, IntArray]:
        """Return each upper leg's run of lower legs that keep to every stated bound."""
        need = self.need
        low = self.lower_for(np.nextafter(need.least_volts, math.inf))
        high = np.full(len(self.above), np.inf)
        if need.within is not None:
            half = need.within * abs(need.target_volts)
            low = np.maximum(low, self.lower_for(need.target_volts - half))
            high = np.minimum(high, self.lower_for(need.target_volts + half))
        if need.max_amps is not None:
            low = np.maximum(low, self.lower_for(need.supply_volts - need.max_amps * self.above))
        if need.min_amps is not None:
            most = need.supply_volts - need.min_amps * self.above
            high = np.where(most <= need.low_volts, -1.0, np.minimum(high, self.lower_for(most)))
        if need.max_output_ohms is not None:
            short = 1 / need.max_output_ohms - 1 / self.above
            with np.errstate(divide="ignore"):
                high = np.where(short > 0, np.minimum(high, 1 / short), high)
        return self.runs(low, high)

    def current(self, u: IntArray, v: IntArray) -> FloatArray:
        amps: FloatArray = (self.need.supply_volts - self.output(u, v)) / self.above[u]
        return amps

    def cost(self, u: IntArray, v: IntArray) -> FloatArray:
        """Return what the preference makes small, (n,): V away from the target, or A."""
        if self.need.prefer == "least_current":
            return self.current(u, v)
        target = self.need.target_volts
        if self.need.prefer == "nearest":
            return np.abs(self.output(u, v) - target)
        return np.maximum(self.output(u, v, 1) - target, target - self.output(u, v, -1))

    def best_of_each(
        self, start: IntArray, stop: IntArray, reach: int
    ) -> tuple[IntArray, IntArray]:
        """Return for each upper leg with a run the lower legs about its best, (k,) pairs."""
        u = np.flatnonzero(stop > start)
        first, last = start[u], stop[u] - 1
        if self.need.prefer == "least_current":
            at = last  # the current falls as the lower leg rises
        elif self.need.prefer == "nearest":
            at = np.searchsorted(self.lower.ohms, self.lower_for(self.need.target_volts)[u])
        else:
            at = self._turning_point(u, first, last)
        pairs = [np.clip(at + step, first, last) for step in range(-reach, reach)]
        return np.tile(u, len(pairs)), np.concatenate(pairs)

    def _turning_point(self, u: IntArray, first: IntArray, last: IntArray) -> IntArray:
        """Bisect for the first lower leg whose high corner is further off than its low one."""
        target = self.need.target_volts
        low, high = first.copy(), last + 1
        while (low < high).any():
            middle = np.minimum((low + high) // 2, last)
            beyond = self.output(u, middle, 1) - target >= target - self.output(u, middle, -1)
            open_ = low < high
            high = np.where(open_ & beyond, middle, high)
            low = np.where(open_ & ~beyond, middle + 1, low)
        return low

    def valid(self, u: IntArray, v: IntArray) -> npt.NDArray[np.bool_]:
        """Return which pairs (u, v) keep every stated bound and are in stock, (n,).

        A figure on its bound but for rounding keeps it.
        """
        need, volts = self.need, self.output(u, v)
        amps = (need.supply_volts - volts) / self.above[u]
        kept = (volts > need.least_volts) & self.in_stock(u, v)
        if need.within is not None:
            off = np.abs(volts / need.target_volts - 1)
            kept &= off <= need.within + SLACK
        if need.max_amps is not None:
            kept &= amps <= need.max_amps * (1 + SLACK)
        if need.min_amps is not None:
            kept &= amps >= need.min_amps * (1 - SLACK)
        if need.max_output_ohms is not None:
            seen = 1 / (1 / self.above[u] + 1 / self.lower.ohms[v])
            kept &= seen <= need.max_output_ohms * (1 + SLACK)
        return kept

    def in_stock(self, u: IntArray, v: IntArray) -> npt.NDArray[np.bool_]:
        """Return which pairs (u, v) the pool has enough parts for, (n,)."""
        pool = self.need.pool
        if not pool.counted:
            return np.ones(len(u), dtype=np.bool_)
        slots = []
        for leg, rows in ((self.upper, u), (self.lower, v)):
            slots.append(leg.left[rows])
            slots.append(np.where(leg.join[rows] == SINGLE, -1, leg.right[rows]))
        counts = np.asarray(pool.counts)
        enough = np.ones(len(u), dtype=np.bool_)
        for slot in slots:
            taken = sum((slot == other).astype(np.int64) for other in slots)
            enough &= (slot < 0) | (taken <= counts[slot])
        return enough

    @property
    def rounding(self) -> float:
        """Return by how much two equal costs may differ in floats: V, or A.

        Without a second supply or a current load the output is a product of positive sums, so its
        rounding is relative to itself; otherwise it is relative to what cancels.
        """
        if self.need.prefer == "least_current":
            return 0.0
        cancels = 2 * abs(self.need.low_volts) + (abs(self.need.supply_volts) if self.amps else 0.0)
        return SLACK * (abs(self.need.target_volts) + cancels)

    def at_most(self, cost: float) -> tuple[IntArray, IntArray]:
        """Return each upper leg's run of lower legs that cost at most `cost`."""
        target, loose = self.need.target_volts, cost * (1 + SLACK) + self.rounding
        if self.need.prefer == "least_current":
            lower = self.lower_for(self.need.supply_volts - cost * (1 + SLACK) * self.above)
            return self.runs(lower, np.inf)
        sign = 1 if self.need.prefer == "worst_case" else 0
        # A starved low corner stays at 0 V, so beyond that depth it bounds nothing.
        starved = self.amps > 0 and target - loose <= 0
        least = 0.0 if starved else self.lower_for(target - loose, -sign)
        return self.runs(least, self.lower_for(target + loose, sign))


def search_divider(need: DividerNeed) -> DividerResult:
    """Return the best dividers for `need`, exactly.

    Ranked by the preference, then fewer parts, then |error|, then the output resistance nearest to
    10 kΩ. Only dividers whose loaded output stays above the low end, and above 0 V where a current
    load has to be fed, count.

    Raises
    ------
    DomainError, TooLargeError
        For a need that contradicts itself or passes a bound.
    """
    ranked: list[tuple[tuple[object, ...], Divider]] = []
    searched = 0
    for upper, lower in _leg_tables(need):
        legs = _Legs(need, upper, lower)
        searched += len(upper.ohms) * len(lower.ohms)
        ranked.extend(_judge(need, upper, u, lower, v) for u, v in _shortlist(legs))
    ranked.sort(key=lambda r: r[0])
    candidates = tuple(divider for _, divider in ranked[: need.limit])
    return DividerResult(candidates, searched, None if candidates else _reason(need))


def _leg_tables(need: DividerNeed) -> Iterator[tuple[Table, Table]]:
    sizes = range(1, need.max_per_leg + 1)
    for up, down in sorted(((a, b) for a in sizes for b in sizes), key=sum):
        yield table(need.pool, up), table(need.pool, down)


def _shortlist(legs: _Legs) -> Iterator[tuple[int, int]]:
    """Yield every pair that can be among the best `limit`, ties included."""
    start, stop = legs.allowed()
    everything = int((stop - start).sum())
    wanted = legs.need.limit
    # Any `wanted` pairs bound the cost of the best `wanted`; the nearer they are, the tighter.
    reach, bound = 1, math.inf
    while everything > wanted:
        u, v = legs.best_of_each(start, stop, reach)
        u, v = np.divmod(np.unique(u * len(legs.lower.ohms) + v), len(legs.lower.ohms))
        valid = legs.valid(u, v)
        costs = legs.cost(u[valid], v[valid])
        if len(costs) >= wanted:
            bound = float(np.partition(costs, wanted - 1)[wanted - 1])
            break
        if len(u) == everything:
            break
        reach *= 2
    if bound < math.inf:
        near = legs.at_most(bound)
        start, stop = np.maximum(start, near[0]), np.minimum(stop, near[1])
    lengths = np.maximum(stop - start, 0)
    u = np.repeat(np.arange(len(lengths)), lengths)
    v = np.arange(int(lengths.sum())) + np.repeat(start - np.cumsum(lengths) + lengths, lengths)
    valid = legs.valid(u, v)
    u, v = u[valid], v[valid]
    if len(u) > TIES * wanted:
        # Only exact ties are that many: a sum or a ratio that recurs in every decade.
        coarse = np.round(legs.cost(u, v) / (legs.rounding + SLACK * bound))
        output = 1 / (1 / legs.above[u] + 1 / legs.lower.ohms[v])
        comfort = np.abs(np.log(output / COMFORTABLE_OHMS))
        first = np.lexsort((comfort, coarse))[: TIES * wanted]
        u, v = u[first], v[first]
    yield from zip(u.tolist(), v.tolist(), strict=True)


def _judge(
    need: DividerNeed, upper: Table, u: int, lower: Table, v: int
) -> tuple[tuple[object, ...], Divider]:
    """Return the divider of one pair with the key it is ranked by, decided in exact ratios."""
    whole = number_parts(chain([upper.network(u), Tap("OUT"), lower.network(v)]))
    assert isinstance(whole, Chain)  # two legs and a tap
    split = whole.items.index(Tap("OUT"))
    above, below = chain(whole.items[:split]), chain(whole.items[split + 1 :])
    up, down = exact_resistance(above), exact_resistance(below)
    exact = _exact_figures(need)
    source = exact["source"]
    siemens, amps = 1 / exact["load"] if exact["load"] else Fraction(0), exact["amps"]

    def output(sign: int, *, load: bool = True) -> Fraction:
        return loaded_output(
            up * (1 - sign * exact["tolerance"]) + source,
            down * (1 + sign * exact["tolerance"]),
            exact["supply"] + sign * abs(exact["supply"]) * exact["supply_tolerance"],
            exact["low"],
            siemens if load else Fraction(0),
            amps if load else Fraction(0),
        )

    nominal, lowest, highest = output(0), output(-1), output(1)
    target, drawn = exact["target"], (exact["supply"] - nominal) / (up + source)
    error = nominal / target - 1
    output_ohms = float(1 / (1 / (up + source) + 1 / down))
    watts = {
        p.ref: w
        for leg, across in ((above, float(drawn * up)), (below, float(nominal - exact["low"])))
        for p, w in part_watts(leg, across)
    }
    divider = Divider(
        network=whole,
        upper=above,
        lower=below,
        output_volts=float(nominal),
        error=float(error),
        unloaded_volts=float(output(0, load=False)),
        amps=float(drawn),
        output_ohms=output_ohms,
        lowest_volts=float(lowest),
        highest_volts=float(highest),
        watts=watts,
    )
    cost = {
        "nearest": abs(error),
        "worst_case": max(highest - target, target - lowest),
        "least_current": drawn,
    }[need.prefer]
    comfort = abs(math.log(output_ohms / COMFORTABLE_OHMS))
    parts = upper.parts + lower.parts
    return (cost, parts, abs(error), comfort, write_network(whole)), divider


def _exact_figures(need: DividerNeed) -> dict[str, Fraction]:
    """Return the need's figures as the decimals that were written."""
    figures = {
        "supply": need.supply_volts,
        "supply_tolerance": need.supply_tolerance,
        "target": need.target_volts,
        "low": need.low_volts,
        "source": need.source_ohms,
        "load": need.load_ohms or 0.0,
        "amps": need.load_amps or 0.0,
        "tolerance": need.tolerance,
    }
    return {name: Fraction(repr(float(value))) for name, value in figures.items()}


def _reason(need: DividerNeed) -> str:
    if not need.pool.ohms:
        return "there is no value to choose from: widen the range or fill the stock"
    if not need.low_volts < need.target_volts < need.supply_volts:
        return (
            f"a divider's output lies between its ends, {need.low_volts:g} V and "
            f"{need.supply_volts:g} V; {need.target_volts:g} V does not"
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
        return "the load holds the output down whatever the parts: choose lower values or less load"
    return f"no pair of these values meets every bound at once ({stated}): loosen one of them"
