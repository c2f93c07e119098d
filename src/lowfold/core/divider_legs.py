"""Every upper leg against the sorted lower legs: figures, bounds and costs, vectorised.

For a given upper leg the loaded output rises steadily with the lower leg. So every demand on the
output (an accepted error, a current bound, “at least as good as the best so far”) leaves one run of
neighbours in the sorted table of lower legs, found by bisection (docs/search.md).
"""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from lowfold.core.combine import Table
from lowfold.core.divider import DividerNeed
from lowfold.core.pairing import SLACK, both_in_stock, runs

__all__ = ["Legs"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]


class Legs:
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
        return runs(self.lower.ohms, len(self.upper.ohms), low, high)

    @property
    def limit(self) -> int:
        return self.need.limit

    @property
    def inner_ohms(self) -> FloatArray:
        return self.lower.ohms

    @property
    def unit(self) -> float:
        """Return what a ranked cost is counted in: errors are fractions of the target."""
        return abs(self.need.target_volts) if self.need.prefer == "nearest" else 1.0

    def off(self, u: IntArray, v: IntArray) -> FloatArray:
        away: FloatArray = np.abs(self.output(u, v) - self.need.target_volts)
        return away

    def output_ohms(self, u: IntArray, v: IntArray) -> FloatArray:
        """Return the Thévenin resistances at the tap, (n,) Ω."""
        seen: FloatArray = 1 / (1 / self.above[u] + 1 / self.lower.ohms[v])
        return seen

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
            return self.off(u, v)
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
        kept = (volts > need.least_volts) & both_in_stock(need.pool, self.upper, u, self.lower, v)
        if need.within is not None:
            off = np.abs(volts / need.target_volts - 1)
            kept &= off <= need.within + SLACK
        if need.max_amps is not None:
            kept &= amps <= need.max_amps * (1 + SLACK)
        if need.min_amps is not None:
            kept &= amps >= need.min_amps * (1 - SLACK)
        if need.max_output_ohms is not None:
            kept &= self.output_ohms(u, v) <= need.max_output_ohms * (1 + SLACK)
        return kept

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
