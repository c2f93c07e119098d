"""Every upper leg against the sorted lower legs: figures, bounds and costs, vectorised.

For a given upper leg the loaded output moves steadily one way with the lower leg, from the voltage
of the low end to what it is without a lower leg. So every demand on the output (an accepted error,
a current bound, “at least as good as the best so far”) leaves one run of neighbours in the sorted
table of lower legs, found by bisection (docs/search.md).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

import numpy as np
import numpy.typing as npt

from lowfold.core.search.combine import Table
from lowfold.core.search.divider import DividerNeed
from lowfold.core.search.pairing import both_in_stock, runs
from lowfold.core.search.ranking import SLACK

__all__ = ["Legs", "corner_signs"]

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
        """Return outputs of the pairs (u, v), every range pushing the way of `sign`, (n,) V."""
        return self._output(u, v, (sign, sign, sign, sign))

    def _output(self, u: IntArray, v: IntArray, signs: tuple[int, int, int, int]) -> FloatArray:
        """Return outputs with upper leg, lower leg, supply and load each pushing its way, (n,) V.

        A sign of 1 is the end that lifts an output which lies between the divider's ends.
        """
        need = self.need
        up = 1 / (self.upper.ohms[u] * (1 - signs[0] * need.tolerance) + need.source_ohms)
        down = 1 / (self.lower.ohms[v] * (1 + signs[1] * need.tolerance))
        siemens, amps = self._load(signs[3])
        driven = self._supply(signs[2]) * up + need.low_volts * down
        left = np.where(driven > 0, np.maximum(driven - amps, 0.0), driven)
        out: FloatArray = left / (up + down + siemens)
        return out

    def _supply(self, sign: int) -> float:
        return self.need.supply_volts + sign * abs(
            self.need.supply_volts * self.need.supply_tolerance
        )

    def _load(self, sign: int) -> tuple[float, float]:
        """Return the load's S and A, 1 being its lightest end."""
        if not sign:
            return self.siemens, self.amps
        siemens, amps = self.need.lightest if sign > 0 else self.need.heaviest
        return siemens, amps if self.amps else 0.0

    def extremes(self, u: IntArray, v: IntArray) -> tuple[FloatArray, FloatArray]:
        """Return the lowest and the highest output of pairs over every range, (n,) V each."""
        if self.need.between_its_ends:
            return self.output(u, v, -1), self.output(u, v, 1)
        every = [self._output(u, v, signs) for signs in corner_signs(self.need)]
        return np.minimum.reduce(every), np.maximum.reduce(every)

    def lower_within(
        self, least: FloatArray | float, most: FloatArray | float, sign: int = 0
    ) -> tuple[FloatArray, FloatArray]:
        """Return between which lower legs each upper leg's output lies from `least` to `most` V.

        Returns
        -------
        (n,) and (n,) ndarray of float64
            Ω; −1 as the larger where no lower leg does. With every range pushing the way of
            `sign`.
        """
        need = self.need
        up = 1 / (self.upper.ohms * (1 - sign * need.tolerance) + need.source_ohms)
        siemens, amps = self._load(sign)
        supply = self._supply(sign)
        without = (supply * up - amps) / (up + siemens)  # where no lower leg is
        rises = without > need.low_volts
        least = np.broadcast_to(np.asarray(least, dtype=np.float64), up.shape)
        most = np.broadcast_to(np.asarray(most, dtype=np.float64), up.shape)
        if amps:  # a load that starves holds 0 V, which no bound at or below it excludes
            least = np.where(least <= 0, -np.inf, least)

        def lower_for(volts: FloatArray) -> FloatArray:
            with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
                excess = (supply - volts) * up - volts * siemens - amps
                ohms = (volts - need.low_volts) / excess
            return np.nan_to_num(np.maximum(ohms, 0.0), nan=0.0, posinf=np.inf)

        far, near = (
            np.where(rises, without, need.low_volts),
            np.where(rises, need.low_volts, without),
        )
        at_least, at_most = lower_for(least), lower_for(most)
        # Rising legs reach `least` first, falling ones leave `most` first.
        first = np.where(rises, at_least, at_most)
        last = np.where(rises, at_most, at_least)
        first = np.where(np.where(rises, least <= near, most >= far), 0.0, first)
        last = np.where(np.where(rises, most >= far, least <= near), np.inf, last)
        none = (least > far) | (most < near)
        first = np.where(none, np.inf, first)
        last = np.where(none, -1.0, last)
        return first / (1 + sign * need.tolerance), last / (1 + sign * need.tolerance)

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

    def error(self, u: IntArray, v: IntArray) -> FloatArray:
        """Return how far the nominal outputs are from the target, signed fractions of it, (n,)."""
        off: FloatArray = self.output(u, v) / self.need.target_volts - 1
        return off

    def output_ohms(self, u: IntArray, v: IntArray) -> FloatArray:
        """Return the Thévenin resistances at the tap, (n,) Ω."""
        seen: FloatArray = 1 / (1 / self.above[u] + 1 / self.lower.ohms[v])
        return seen

    def allowed(self) -> tuple[IntArray, IntArray]:
        """Return each upper leg's run of lower legs that keep to every stated bound."""
        need = self.need
        least = np.full(len(self.above), np.nextafter(need.least_volts, math.inf))
        most = np.full(len(self.above), np.inf)
        if need.within is not None:
            half = need.within * abs(need.target_volts)
            least = np.maximum(least, need.target_volts - half - self._noise)
            most = np.minimum(most, need.target_volts + half + self._noise)
        if need.max_amps is not None:
            dropped = need.max_amps * self.above * (1 + SLACK)
            least = np.maximum(least, need.supply_volts - dropped - self._noise)
        if need.min_amps is not None:
            dropped = need.min_amps * self.above * (1 - SLACK)
            most = np.minimum(most, need.supply_volts - dropped + self._noise)
        low, high = self.lower_within(least, most)
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
        lowest, highest = self.extremes(u, v)
        return np.maximum(highest - target, target - lowest)

    def best_of_each(
        self, start: IntArray, stop: IntArray, reach: int
    ) -> tuple[IntArray, IntArray]:
        """Return for each upper leg with a run the lower legs about its best, (k,) pairs."""
        u = np.flatnonzero(stop > start)
        first, last = start[u], stop[u] - 1
        target, rises = self.need.target_volts, self._rises(u)
        if self.need.prefer == "least_current":
            at = np.where(rises, last, first)  # the current falls as the output rises
        elif self.need.prefer == "nearest":
            reached = self.lower_within(target, target)[0][u]
            at = np.searchsorted(self.lower.ohms, np.minimum(reached, self.lower.ohms[-1]))
        else:
            at = self._turning_point(u, first, last, rises)
        pairs = [np.clip(at + step, first, last) for step in range(-reach, reach)]
        return np.tile(u, len(pairs)), np.concatenate(pairs)

    def _rises(self, u: IntArray) -> npt.NDArray[np.bool_]:
        """Whether the output rises with the lower leg: what it is without one is above its end."""
        without = (self.need.supply_volts - self.amps * self.above[u]) / (
            1 + self.above[u] * self.siemens
        )
        rises: npt.NDArray[np.bool_] = without > self.need.low_volts
        return rises

    def _turning_point(
        self, u: IntArray, first: IntArray, last: IntArray, rises: npt.NDArray[np.bool_]
    ) -> IntArray:
        """Bisect for the first lower leg whose other extreme is the one further off."""
        target = self.need.target_volts
        low, high = first.copy(), last + 1
        while (low < high).any():
            middle = np.minimum((low + high) // 2, last)
            lowest, highest = self.extremes(u, middle)
            beyond = (highest - target >= target - lowest) == rises
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
        kept = (volts > need.least_volts) & both_in_stock(self.upper, u, self.lower, v)
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
    def _noise(self) -> float:
        """Return by how much an output may be off in floats, V.

        Without a second supply or a current load the output is a product of positive sums, so its
        rounding is relative to itself; otherwise it is relative to what cancels.
        """
        cancels = 2 * abs(self.need.low_volts) + (abs(self.need.supply_volts) if self.amps else 0.0)
        return SLACK * (abs(self.need.target_volts) + cancels)

    @property
    def rounding(self) -> float:
        """Return by how much two equal costs may differ in floats: V; of A it is relative."""
        return 0.0 if self.need.prefer == "least_current" else self._noise

    def at_most(self, cost: float) -> tuple[IntArray, IntArray]:
        """Return each upper leg's run of lower legs that cost at most `cost`."""
        target, loose = self.need.target_volts, cost + SLACK * abs(cost) + self.rounding
        if self.need.prefer == "least_current":
            volts = self.need.supply_volts - loose * self.above
            noise = SLACK * (abs(self.need.supply_volts) + abs(loose) * self.above) + self._noise
            return self.runs(*self.lower_within(volts - noise, np.inf))
        low, high = self.lower_within(target - loose, target + loose)
        if self.need.prefer == "worst_case":  # every corner is as near, these among them
            for sign in (-1, 1):
                ends = self.lower_within(target - loose, target + loose, sign)
                low, high = np.maximum(low, ends[0]), np.minimum(high, ends[1])
        return self.runs(low, high)


def corner_signs(need: DividerNeed) -> Iterator[tuple[int, int, int, int]]:
    """Yield the corners of what may vary: upper and lower leg, supply, load; −1, 0 or 1 each."""
    wide = (need.tolerance, need.tolerance, need.supply_tolerance, need.load_varies)
    yield from itertools.product(*((-1, 1) if width else (0,) for width in wide))
