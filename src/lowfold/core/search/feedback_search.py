"""The feedback pairs nearest to a regulator's output.

For a given lower leg the output rises steadily with the upper one, so `pairing` applies with the
lower leg outside (docs/search.md).
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache, partial
from typing import Any

import numpy as np
import numpy.typing as npt

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
from lowfold.core.search.feedback import FeedbackNeed, regulated_extremes, regulated_output
from lowfold.core.search.leg_tables import leg_tables
from lowfold.core.search.pairing import (
    best_pairs,
    both_in_stock,
    from_comfortable,
    parallel_of,
    runs,
)
from lowfold.core.search.ranking import SLACK
from lowfold.core.values.decimals import decimal

__all__ = ["FeedbackPair", "FeedbackResult", "search_feedback"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class FeedbackPair:
    """One candidate; figures unrounded, nominal but for the extremes."""

    network: Element  #: from the output to 0 V, with its tap FB
    upper: Element
    lower: Element
    output_volts: float
    error: float
    without_pin_volts: float  #: the output were there no current into the pin
    amps: float  #: in the lower leg
    output_ohms: float  #: as the pin sees it
    lowest_volts: float
    highest_volts: float
    watts: dict[str, float]  #: by designator


@dataclass(frozen=True, slots=True)
class RankedPair:
    """One of the best pairs, and by how much its nominal output misses the target."""

    need: FeedbackNeed
    network: Chain  #: with its tap FB
    error: float

    @property
    def figures(self) -> FeedbackPair:
        """Work out its figures, in exact ratios."""
        return _figures(self.need, self.network)


@dataclass(frozen=True)
class FeedbackResult:
    ranked: tuple[RankedPair, ...]
    searched: int
    reason: str | None

    @cached_property
    def candidates(self) -> tuple[FeedbackPair, ...]:
        """Return the ranked ones with all their figures."""
        return tuple(one.figures for one in self.ranked)


class _Legs:
    """Lower legs u against the sorted table of upper legs v (see `pairing.Pairs`)."""

    def __init__(self, need: FeedbackNeed, lower: Table, upper: Table) -> None:
        self.need, self.lower, self.upper = need, lower, upper

    @property
    def limit(self) -> int:
        return self.need.limit

    @property
    def inner_ohms(self) -> FloatArray:
        return self.upper.ohms

    @property
    def rounding(self) -> float:
        pin = abs(self.need.pin_amps) * float(self.upper.ohms[-1])
        return SLACK * (abs(self.need.target_volts) + min(pin, abs(self.need.target_volts)))

    def _slope(self, sign: int) -> FloatArray:
        """Return the current in the upper leg by lower leg, A, tolerances pushing by `sign`."""
        need = self.need
        held = need.reference_volts * (1 + sign * need.reference_tolerance)
        return held / (self.lower.ohms * (1 - sign * need.tolerance)) + need.pin_amps

    def output(self, u: IntArray, v: IntArray, sign: int = 0) -> FloatArray:
        """Return outputs of the pairs, every tolerance pushing the way of `sign`, (n,) V."""
        need = self.need
        amps = self._slope(sign)[u]
        turned = np.where(amps >= 0, sign, -sign)
        held = need.reference_volts * (1 + sign * need.reference_tolerance)
        out: FloatArray = held + self.upper.ohms[v] * (1 + turned * need.tolerance) * amps
        return out

    def _upper_for(self, volts: float, sign: int = 0) -> FloatArray:
        """Return the upper leg that brings each lower leg's output to `volts`; inf if none does."""
        need, amps = self.need, self._slope(sign)
        over = volts - need.reference_volts * (1 + sign * need.reference_tolerance)
        with np.errstate(divide="ignore", invalid="ignore"):
            found = np.where(amps > 0, over / amps / (1 + sign * need.tolerance), np.inf)
        return np.maximum(found, 0.0)

    def _runs(self, low: FloatArray | float, high: FloatArray | float) -> tuple[IntArray, IntArray]:
        return runs(self.upper.ohms, len(self.lower.ohms), low, high)

    def allowed(self) -> tuple[IntArray, IntArray]:
        need = self.need
        low, high = np.zeros(len(self.lower.ohms)), np.full(len(self.lower.ohms), np.inf)
        if need.within is not None:
            low = self._upper_for(need.target_volts * (1 - need.within))
            high = self._upper_for(need.target_volts * (1 + need.within))
        if need.max_output_ohms is not None:
            short = 1 / need.max_output_ohms - 1 / self.lower.ohms
            with np.errstate(divide="ignore"):
                high = np.where(short > 0, np.minimum(high, 1 / short), high)
        high = np.where(self._current_kept() & (self._slope(0) > 0), high, -1.0)
        return self._runs(low, high)

    def _current_kept(self) -> npt.NDArray[np.bool_]:
        amps = self.need.reference_volts / self.lower.ohms
        kept = np.ones(len(amps), dtype=np.bool_)
        if self.need.max_amps is not None:
            kept &= amps <= self.need.max_amps * (1 + SLACK)
        if self.need.min_amps is not None:
            kept &= amps >= self.need.min_amps * (1 - SLACK)
        return kept

    def cost(self, u: IntArray, v: IntArray) -> FloatArray:
        target = self.need.target_volts
        if self.need.prefer == "least_current":
            # Pairs of one lower leg draw alike: of them, the nearest are wanted.
            return self.need.reference_volts / self.lower.ohms[u]
        if self.need.prefer == "nearest":
            return self.off(u, v)
        return np.maximum(self.output(u, v, 1) - target, target - self.output(u, v, -1))

    def best_of_each(
        self, start: IntArray, stop: IntArray, reach: int
    ) -> tuple[IntArray, IntArray]:
        u = np.flatnonzero(stop > start)
        first, last = start[u], stop[u] - 1
        at = np.searchsorted(self.upper.ohms, self._upper_for(self.need.target_volts)[u])
        if self.need.prefer == "worst_case":
            at = self._balanced(u, first, last)
        pairs = [np.clip(at + step, first, last) for step in range(-reach, reach)]
        return np.tile(u, len(pairs)), np.concatenate(pairs)

    def _balanced(self, u: IntArray, first: IntArray, last: IntArray) -> IntArray:
        """Return where the two corners lie equally far off: midway between their own hits."""
        target = self.need.target_volts
        low, high = self._upper_for(target, 1)[u], self._upper_for(target, -1)[u]
        middle = np.where(np.isfinite(high), (low + high) / 2, low)
        return np.clip(np.searchsorted(self.upper.ohms, middle), first, last)

    def valid(self, u: IntArray, v: IntArray) -> npt.NDArray[np.bool_]:
        need = self.need
        kept = both_in_stock(self.lower, u, self.upper, v)
        kept &= self._current_kept()[u] & (self._slope(0)[u] > 0)
        if need.within is not None:
            kept &= np.abs(self.output(u, v) / need.target_volts - 1) <= need.within + SLACK
        if need.max_output_ohms is not None:
            kept &= self.output_ohms(u, v) <= need.max_output_ohms * (1 + SLACK)
        return kept

    def off(self, u: IntArray, v: IntArray) -> FloatArray:
        away: FloatArray = np.abs(self.output(u, v) - self.need.target_volts)
        return away

    def error(self, u: IntArray, v: IntArray) -> FloatArray:
        off: FloatArray = self.output(u, v) / self.need.target_volts - 1
        return off

    def output_ohms(self, u: IntArray, v: IntArray) -> FloatArray:
        seen: FloatArray = 1 / (1 / self.lower.ohms[u] + 1 / self.upper.ohms[v])
        return seen

    def at_most(self, cost: float) -> tuple[IntArray, IntArray]:
        target, loose = self.need.target_volts, cost * (1 + SLACK) + self.rounding
        if self.need.prefer == "least_current":
            drawn = self.need.reference_volts / self.lower.ohms
            start, stop = self.allowed()
            at = np.clip(np.searchsorted(self.upper.ohms, self._upper_for(target)), start, stop)
            # Of one lower leg only its nearest can be wanted; what a stock lacks is not known yet.
            each = len(self.upper.ohms) if self.upper.pool.counted else self.limit
            reach = np.where(drawn <= cost * (1 + SLACK), each, 0)
            return np.maximum(at - reach, 0), at + reach
        sign = 1 if self.need.prefer == "worst_case" else 0
        # With a strong current out of the pin the low corner may not rise: then it bounds nothing.
        turned = sign and (self._slope(-1) <= 0)
        least = np.where(turned, 0.0, self._upper_for(target - loose, -sign))
        return self._runs(least, self._upper_for(target + loose, sign))


def search_feedback(need: FeedbackNeed) -> FeedbackResult:
    """Return the best feedback pairs for `need`, exactly.

    Ranked by the preference, then fewer parts, then |error|, then the output resistance nearest to
    10 kΩ. Only pairs whose upper leg carries current towards the tap count.

    Parameters
    ----------
    need : FeedbackNeed
        What is wanted and must be kept to.

    Raises
    ------
    DomainError, TooLargeError
        For a need that contradicts itself or passes a bound.
    """
    tables = ((lower, upper) for upper, lower in leg_tables(need))
    best, searched = best_pairs(need.limit, tables, partial(_Legs, need), partial(_Pair, need))
    ranked = tuple(RankedPair(need, pair.network, pair.error) for pair in best)
    return FeedbackResult(ranked, searched, None if ranked else _reason(need))


@dataclass(frozen=True)
class _Pair:
    """Rows of the tables of lower and upper legs."""

    need: FeedbackNeed
    lower: Table
    u: int
    upper: Table
    v: int
    error: float  #: of the nominal output, a fraction of the target

    @cached_property
    def network(self) -> Chain:
        whole = chain([self.upper.network(self.v), Tap("FB"), self.lower.network(self.u)])
        numbered = number_parts(whole)
        assert isinstance(numbered, Chain)  # two legs and a tap
        return numbered

    @cached_property
    def _legs(self) -> tuple[Fraction, Fraction]:
        return self.upper.exact(self.v), self.lower.exact(self.u)

    @property
    def written(self) -> str:
        return write_network(self.network)

    @cached_property
    def _error(self) -> Fraction:
        reference, pin, target, _, _ = _exact_figures(self.need)
        return regulated_output(*self._legs, reference, pin) / target - 1

    def key(self) -> tuple[Any, ...]:
        """Return what it is ranked by, decided in exact ratios."""
        up, down = self._legs
        reference, pin, target, tolerance, wander = _exact_figures(self.need)
        cost = abs(self._error)
        if self.need.prefer == "worst_case":
            low, high = regulated_extremes(up, down, reference, pin, tolerance, wander)
            cost = max(high - target, target - low)
        elif self.need.prefer == "least_current":
            cost = reference / down
        comfort = float(from_comfortable(parallel_of(up, down)))
        parts = self.upper.parts + self.lower.parts
        return cost, parts, abs(self._error), comfort


def _legs_of(whole: Chain) -> tuple[Element, Element]:
    split = whole.items.index(Tap("FB"))
    return chain(whole.items[:split]), chain(whole.items[split + 1 :])


@lru_cache(maxsize=8)
def _exact_figures(need: FeedbackNeed) -> tuple[Fraction, ...]:
    """Return reference, pin's current, target and the two tolerances as they were written."""
    written = (
        need.reference_volts,
        need.pin_amps,
        need.target_volts,
        need.tolerance,
        need.reference_tolerance,
    )
    return tuple(decimal(x) for x in written)


def _figures(need: FeedbackNeed, whole: Chain) -> FeedbackPair:
    above, below = _legs_of(whole)
    up, down = exact_resistance(above), exact_resistance(below)
    reference, pin, target, tolerance, wander = _exact_figures(need)
    nominal = regulated_output(up, down, reference, pin)
    low, high = regulated_extremes(up, down, reference, pin, tolerance, wander)
    watts = {
        p.ref: w
        for leg, across in ((above, float(nominal - reference)), (below, float(reference)))
        for p, w in part_watts(leg, across)
    }
    return FeedbackPair(
        network=whole,
        upper=above,
        lower=below,
        output_volts=float(nominal),
        error=float(nominal / target - 1),
        without_pin_volts=float(regulated_output(up, down, reference, Fraction(0))),
        amps=float(reference / down),
        output_ohms=float(up * down / (up + down)),
        lowest_volts=float(low),
        highest_volts=float(high),
        watts=watts,
    )


def _reason(need: FeedbackNeed) -> str:
    if not need.pool.ohms:
        return "there is no value to choose from: widen the range or fill the stock"
    if need.target_volts <= need.reference_volts and need.within is not None:
        return (
            f"a feedback pair sets an output above the reference of {need.reference_volts:g} V; "
            f"{need.target_volts:g} V is not above it"
        )
    return "no pair of these values meets every bound at once: loosen one of them"
