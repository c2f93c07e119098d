"""Every divider of some legs that is sound: judged as the gates judge, but all of them together.

Sound is in its window at every corner of parts, supply and load, stiff against its load or in its
window without it too, never above what it feeds stands, and cool. A tap with two legs has a closed
form (see `loaded_output`), monotonic in each leg, the supply and the load, so that its extremes are
those of corners; a leg's power, alone in changing, goes as R/(R + Rs)² and is greatest at R = Rs or
at the nearer end. Of a leg of several parts the hottest takes at least its share of that: what is
let in here for heat is weighed part by part afterwards; what is left out is too hot for certain.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.checking.verdict import MARGIN, ROUNDING
from lowfold.core.errors import TooLargeError
from lowfold.core.search.leg_options import MOST_IN_LEGS, Leg, LegOptions

__all__ = [
    "HEAVY",
    "PASSING",
    "DividerDemand",
    "SoundPairs",
    "can_be_sound",
    "sound_pairs",
    "which_sound",
]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]
BoolArray = npt.NDArray[np.bool_]

HEAVY: Final = 2.0  #: times the current of the lightest sound string is heavier than need be
MOST_PAIRS: Final = 3_000_000  #: pairs that are judged for one question
AT_ONCE: Final = 120_000  #: pairs judged together
#: Ω between which legs are imagined, and in how many stretches.
REALM, STRETCHES = (1e-4, 1e11), 15_001
#: Judged together at least, so that a light one that is sound ends the search soon.
FEW_LEGS, FEW_PAIRS = 24, 200
#: What of an allowance may be used where a gate says pass.
PASSING: Final = 1 - MARGIN * (1 - ROUNDING)


@dataclass(frozen=True, slots=True, kw_only=True)
class DividerDemand:
    """What a divider is to keep to; loads as S and A."""

    supply: tuple[float, float, float]  #: low, nominal, high, V
    source_ohms: float
    low_volts: float
    target_volts: float
    within: float
    half_width: float  #: of each part, a fraction
    heaviest: tuple[float, float] = (0.0, 0.0)
    nominal: tuple[float, float] = (0.0, 0.0)
    lightest: tuple[float, float] = (0.0, 0.0)
    stiff: float | None = None  #: None where the load is always there
    stands: float | None = None  #: V
    min_amps: float | None = None
    max_amps: float | None = None
    max_output_ohms: float | None = None

    @property
    def loaded(self) -> bool:
        return self.heaviest != (0.0, 0.0)

    @property
    def between_its_ends(self) -> bool:
        """Whether the output rises with the lower leg, the supply and a lighter load (see there).

        As `DividerNeed.between_its_ends`: where a load pulls towards what lies between the ends.
        """
        inside = self.low_volts <= 0 <= self.supply[0] and self.target_volts > 0
        return not self.loaded or inside


@dataclass(frozen=True, eq=False)
class SoundPairs:
    """Pairs of rows of upper and lower legs, with what decides between them."""

    upper: LegOptions
    lower: LegOptions
    u: IntArray
    v: IntArray
    amps: FloatArray  #: drawn from the supply, nominal
    used: FloatArray  #: the largest share of the window used
    watts: FloatArray  #: (n, 2) what the hottest part of each leg takes at least, at its worst
    volts: FloatArray  #: (n, 2) across the part of each leg that has most, at its worst
    searched: int  #: pairs judged

    def __len__(self) -> int:
        return len(self.u)

    @property
    def parts(self) -> IntArray:
        found: IntArray = self.upper.parts[self.u] + self.lower.parts[self.v]
        return found

    def some(self, rows: BoolArray | IntArray) -> SoundPairs:
        """Return some of the pairs."""
        u, v, amps, used = self.u[rows], self.v[rows], self.amps[rows], self.used[rows]
        heat, reach = self.watts[rows], self.volts[rows]
        return replace(self, u=u, v=v, amps=amps, used=used, watts=heat, volts=reach)


def sound_pairs(
    need: DividerDemand,
    upper: LegOptions,
    lower: LegOptions,
    *,
    most_watts: float | None = None,
    most_volts: float | None = None,
    light: bool = False,
    most_parts: int | None = None,
    most_pairs: int = MOST_PAIRS,
) -> SoundPairs:
    """Return every sound pair of legs, lightest upper leg first.

    Parameters
    ----------
    need : DividerDemand
        What the pair is to keep to.
    upper, lower : LegOptions
        What each leg can be made of.
    most_watts, most_volts : float, optional
        What a part may take and have across it so that its gate says pass.
    light : bool
        Only those that draw at most `HEAVY` times what the lightest sound one draws.
    most_parts : int, optional
        Parts of both legs together.
    most_pairs : int
        How many are judged at most.

    Raises
    ------
    TooLargeError
        Where more pairs than that have their nominal output in the window.
    """
    below = max(abs(need.target_volts) - need.within * abs(need.target_volts), 0.0)
    if need.low_volts == 0:  # what the lower leg has across it at least, inside the window
        lower = lower.some(_cool(need, lower, below, most_watts, most_volts))
    judge = _Judge(need, upper, lower, most_watts, most_volts, most_parts)
    found: list[SoundPairs] = []
    lightest, searched = math.inf, 0
    for u, v in judge.likely(few=light, most=math.inf if light else most_pairs):
        if light and found and judge.drawn(u).min() > HEAVY * lightest * (1 + ROUNDING):
            break
        searched += len(u)
        if searched > most_pairs:
            msg = f"more than {most_pairs} pairs come near the target: narrow the range of values"
            raise TooLargeError(msg, field="values")
        sound = judge.sound(u, v)
        if len(sound):
            found.append(sound)
            lightest = min(lightest, float(sound.amps.min()))
    if not found:
        none, empty = np.zeros(0, dtype=np.int64), np.zeros(0)
        flat = np.zeros((0, 2))
        return SoundPairs(upper, lower, none, none, empty, empty, flat, flat, searched)
    every = SoundPairs(
        upper,
        lower,
        np.concatenate([f.u for f in found]),
        np.concatenate([f.v for f in found]),
        np.concatenate([f.amps for f in found]),
        np.concatenate([f.used for f in found]),
        np.concatenate([f.watts for f in found]),
        np.concatenate([f.volts for f in found]),
        searched,
    )
    return every.some(every.amps <= HEAVY * lightest * (1 + ROUNDING)) if light else every


def can_be_sound(need: DividerDemand, most_watts: float | None = None) -> bool:
    """Return whether any two resistances at all could be sound; False is proven.

    With an upper leg between two values, the lower one lies above what the smaller needs to reach
    the window at its lowest corner, and below what the larger may have at its highest, or to be
    held: all of these rise with the upper leg. So a stretch in which the first lies above the
    second has no sound pair, and where every stretch is so there is none.

    Parameters
    ----------
    need : DividerDemand
        What a pair is to keep to.
    most_watts : float, optional
        What a part may take; a leg of as many as there may be takes so many times that.
    """
    if not need.between_its_ends:
        return True
    ends = np.geomspace(*REALM, STRETCHES)
    legs = LegOptions.stated([(r, 1.0, 1.0) for r in ends.tolist()])
    judge = _Judge(need, legs, legs, None, None, None)
    if judge.least > judge.most:
        return False  # what it feeds stands less than what is wanted
    first = judge.reach(judge.least, -1)[:-1]
    last = np.minimum(judge.reach(judge.most, 1)[1:], judge.held_ohms()[1:])
    kept = (first <= last * (1 + 1e-9)) & judge.draws(ends[:-1], ends[1:])
    if most_watts is not None and need.low_volts == 0 < need.target_volts:
        most_of_leg = (MOST_IN_LEGS - 1) * most_watts * PASSING * (1 + need.half_width)
        over = max(need.supply[2] - need.target_volts - judge.window, 0.0)
        over_legs = over * ends[1:] / (ends[1:] + need.source_ohms)
        kept &= over_legs**2 / ends[1:] <= most_of_leg * (1 + 1e-9)
        below = max(need.target_volts - judge.window, 0.0)
        with np.errstate(divide="ignore"):
            kept &= below**2 / np.maximum(last, REALM[0]) <= most_of_leg * (1 + 1e-9)
    return bool(kept.any())


def which_sound(
    need: DividerDemand,
    legs: Sequence[tuple[Leg, Leg]],
    *,
    most_watts: float | None = None,
    most_volts: float | None = None,
) -> BoolArray:
    """Return which pairs of an upper and a lower leg are sound, (n,).

    Parameters
    ----------
    need : DividerDemand
        What the pairs are to keep to.
    legs : sequence of pairs of Leg
        Of each pair the upper and the lower one.
    most_watts, most_volts : float, optional
        What a part may take and have across it so that its gate says pass.
    """
    upper, lower = (LegOptions.stated([pair[side] for pair in legs]) for side in (0, 1))
    judge = _Judge(need, upper, lower, most_watts, most_volts, None)
    every = np.arange(len(legs))
    found = np.zeros(len(legs), dtype=np.bool_)
    found[judge.sound(every, every).u] = True
    return found


class _Judge:
    """Judges pairs of legs of one need."""

    def __init__(
        self,
        need: DividerDemand,
        upper: LegOptions,
        lower: LegOptions,
        most_watts: float | None,
        most_volts: float | None,
        most_parts: int | None,
    ) -> None:
        self.need, self.upper, self.lower = need, upper, lower
        self.most_watts, self.most_volts, self.most_parts = most_watts, most_volts, most_parts
        self.window = need.within * abs(need.target_volts)
        self.allowed = self.window * PASSING
        stands = math.inf if need.stands is None or need.target_volts <= 0 else need.stands
        self.least = need.target_volts - self.allowed
        self.most = min(need.target_volts + self.allowed, stands * (1 + ROUNDING))
        self.stands = stands

    def output(
        self, up: FloatArray, down: FloatArray, supply: float, load: tuple[float, float]
    ) -> FloatArray:
        """Return the tap's voltage, the source counted into `up`, V."""
        siemens, amps = load
        driven = supply / up + self.need.low_volts / down
        left = np.where(driven > 0, np.maximum(driven - amps, 0.0), driven)
        found: FloatArray = left / (1 / up + 1 / down + siemens)
        return found

    def likely(self, *, few: bool, most: float) -> Iterator[tuple[IntArray, IntArray]]:
        """Yield pairs likely to be sound, lightest upper leg first, few together or many."""
        start, stop = self._run(self.least, self.most, 0)
        if self.need.between_its_ends:  # then every corner lies between these two
            for sign, ends in ((-1, (self.least, math.inf)), (1, (-math.inf, self.most))):
                first, last = self._run(*ends, sign)
                start, stop = np.maximum(start, first), np.minimum(stop, last)
            held = np.searchsorted(self.lower.ohms, self.held_ohms() * (1 + 1e-9), "right")
            stop = np.minimum(stop, held)
        enough = self.draws(self.upper.ohms, self.upper.ohms) & self._may_be_cool()
        rows = np.flatnonzero((stop > start) & enough)[::-1]
        count = int((stop[rows] - start[rows]).sum())
        if count > most:
            msg = f"{count} pairs come near the target, more than {most:.0f}: narrow the values"
            raise TooLargeError(msg, field="values")
        done = 0
        while done < len(rows):
            size = np.cumsum(stop[rows[done:]] - start[rows[done:]])
            wanted = AT_ONCE // 8 if not few or len(rows) > FEW_PAIRS else FEW_PAIRS
            take = max(int(np.searchsorted(size, wanted)) + 1, min(FEW_LEGS, len(size)))
            while take > 1 and size[take - 1 if take <= len(size) else -1] > AT_ONCE:
                take //= 2
            some = rows[done : done + take]
            done += len(some)
            lengths = stop[some] - start[some]
            v = np.arange(int(lengths.sum()))
            v += np.repeat(start[some] - np.cumsum(lengths) + lengths, lengths)
            yield np.repeat(some, lengths), v

    def _may_be_cool(self) -> BoolArray:
        """Return which upper legs are not too hot for certain while the output is in its window."""
        need, ohms = self.need, self.upper.ohms
        over = max(need.supply[2] - need.target_volts - self.window, 0.0)
        across = over * ohms / (ohms + need.source_ohms)
        return _cool(need, self.upper, across, self.most_watts, self.most_volts)

    def held_ohms(self) -> FloatArray:
        """Return the largest lower leg with which each upper one may be held by its gate, Ω.

        One that is stiff carries so much past its load, and one that is not keeps its window with
        nothing connected, where the output only rises. inf where neither is asked for.
        """
        need = self.need
        below: FloatArray = np.full(len(self.upper.ohms), np.inf)
        if not need.loaded or need.target_volts <= 0:
            return below
        if math.isfinite(self.stands):  # what it feeds has all of it once its load is gone
            below = self.reach(self.stands, 1, bare=True)
        if need.stiff is None:
            return below
        bare = self.reach(need.target_volts + self.window, 1, bare=True)
        siemens, amps = need.heaviest
        drawn = max(need.target_volts - self.window, 0.0) * siemens + amps
        over = need.target_volts + self.window - need.low_volts
        held = np.maximum(bare, over / (need.stiff * drawn) if drawn else np.inf)
        return np.minimum(held, below)

    def draws(self, least: FloatArray, most: FloatArray) -> BoolArray:
        """Return which upper legs, anywhere between two values, can draw what is asked for."""
        need = self.need
        over = need.supply[1] - need.target_volts
        found = np.ones(len(least), dtype=np.bool_)
        if need.max_amps is not None:
            drawn = (over - self.allowed) / (most + need.source_ohms)
            found &= drawn <= need.max_amps * (1 + 1e-9)
        if need.min_amps is not None:
            drawn = (over + self.allowed) / (least + need.source_ohms)
            found &= drawn >= need.min_amps * (1 - 1e-9)
        return found

    def reach(self, volts: float, sign: int, *, bare: bool = False) -> FloatArray:
        """Return with which lower leg each upper one puts the output at `volts`, Ω.

        All nominal, or with everything pushing the way of `sign`; `bare` with nothing connected.
        inf where no lower leg does, being lower whatever it is; 0 where it is higher.
        """
        need, half = self.need, self.need.half_width
        up = self.upper.ohms * (1 - sign * half) + need.source_ohms
        supply = need.supply[sign + 1]
        siemens, amps = (need.heaviest, need.nominal, need.lightest)[sign + 1]
        if bare:
            siemens, amps = 0.0, 0.0
        if need.target_volts <= 0:
            amps = 0.0  # a current load draws nothing from below 0 V
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            excess = (supply - volts) / up - volts * siemens - amps
            reached = (volts - need.low_volts) / excess / (1 + sign * half)
            found: FloatArray = np.where(excess > 0, np.maximum(reached, 0.0), np.inf)
        return found

    def _run(self, least: float, most: float, sign: int) -> tuple[IntArray, IntArray]:
        """Return each upper leg's run of lower legs with an output from `least` to `most` V.

        The output rises with the lower leg all along, or falls where a load pulls past its end:
        there every lower leg is let in.
        """
        need, ohms = self.need, self.lower.ohms
        up = self.upper.ohms * (1 - sign * need.half_width) + need.source_ohms
        siemens, amps = (need.heaviest, need.nominal, need.lightest)[sign + 1]
        rises = (need.supply[sign + 1] / up - amps) / (1 / up + siemens) > need.low_volts
        none, every = np.zeros(len(up)), np.full(len(up), np.inf)
        low = none if math.isinf(least) else self.reach(least, sign)
        high = every if math.isinf(most) else self.reach(most, sign)
        start = np.searchsorted(ohms, np.where(rises, low, 0.0) * (1 - 1e-9), "left")
        stop = np.searchsorted(ohms, np.where(rises, high, np.inf) * (1 + 1e-9), "right")
        return start, stop

    def drawn(self, u: IntArray) -> FloatArray:
        """Return the least that pairs with an upper leg draw while inside the window, A."""
        over = self.need.supply[1] - (self.need.target_volts + self.window)
        found: FloatArray = over / (self.upper.ohms[u] + self.need.source_ohms)
        return found

    def sound(self, u: IntArray, v: IntArray) -> SoundPairs:
        """Return those of some pairs that are sound."""
        need, half = self.need, self.need.half_width
        up, down = self.upper.ohms[u], self.lower.ohms[v]
        kept = np.ones(len(u), dtype=np.bool_)
        if self.most_parts is not None:
            kept &= self.upper.parts[u] + self.lower.parts[v] <= self.most_parts
        above, supply = up + need.source_ohms, need.supply[1]
        volts = self.output(above, down, supply, need.nominal)
        amps = (supply - volts) / above
        off = np.abs(volts - need.target_volts)
        for load in (need.lightest, need.heaviest):
            there = self.output(above, down, supply, load)
            off = np.maximum(off, np.abs(there - need.target_volts))
        kept &= off <= self.allowed
        if need.max_amps is not None:
            kept &= amps <= need.max_amps * (1 + ROUNDING)
        if need.min_amps is not None:
            kept &= amps >= need.min_amps * (1 - ROUNDING)
        if need.max_output_ohms is not None:
            kept &= 1 / (1 / above + 1 / down) <= need.max_output_ohms * (1 + ROUNDING)
        u, v = u[kept], v[kept]
        up, down, amps = up[kept], down[kept], amps[kept]
        low, high, watts, across = self._corners(up, down, half)
        used = np.maximum(high - need.target_volts, need.target_volts - low) / self.window
        kept = used <= PASSING
        if need.loaded:
            kept &= self._held(up, down, half, high)
        elif need.stands is not None:
            kept &= np.maximum(np.abs(low), np.abs(high)) <= need.stands * (1 + ROUNDING)
        heat = np.stack((watts[0] * self.upper.heat[u], watts[1] * self.lower.heat[v]), axis=1)
        reach = np.stack((across[0] * self.upper.reach[u], across[1] * self.lower.reach[v]), axis=1)
        if self.most_watts is not None:
            kept &= heat.max(axis=1, initial=0.0) <= self.most_watts * PASSING
        if self.most_volts is not None:
            kept &= reach.max(axis=1, initial=0.0) <= self.most_volts * PASSING
        rows = np.flatnonzero(kept)
        return SoundPairs(
            self.upper, self.lower, u[rows], v[rows], amps[rows], used[rows], heat[rows],
            reach[rows], len(u),
        )  # fmt: skip

    def _corners(
        self, up: FloatArray, down: FloatArray, half: float
    ) -> tuple[FloatArray, FloatArray, list[FloatArray], list[FloatArray]]:
        """Return lowest and highest output, and each leg's worst power and voltage."""
        need = self.need
        low, high = np.full(len(up), np.inf), np.full(len(up), -np.inf)
        watts = [np.zeros(len(up)), np.zeros(len(up))]
        across = [np.zeros(len(up)), np.zeros(len(up))]
        signs = (-1, 1) if half else (0,)
        supplies = sorted({need.supply[0], need.supply[2]})
        loads = [need.lightest, need.heaviest] if need.loaded else [(0.0, 0.0)]
        for supply, load in itertools.product(supplies, loads):
            for one, two in itertools.product(signs, signs):
                above = up * (1 + one * half) + need.source_ohms
                volts = self.output(above, down * (1 + two * half), supply, load)
                low, high = np.minimum(low, volts), np.maximum(high, volts)
            for two in signs:
                below = down * (1 + two * half)
                seen = self._seen(below, need.low_volts, load, 0.0)
                _widen(watts[0], across[0], up, half, supply - seen[0], seen[1] + need.source_ohms)
                above = up * (1 + two * half) + need.source_ohms
                seen = self._seen(above, supply, load, 0.0)
                _widen(watts[1], across[1], down, half, seen[0] - need.low_volts, seen[1])
        return low, high, watts, across

    @staticmethod
    def _seen(
        ohms: FloatArray, end: float, load: tuple[float, float], inside: float
    ) -> tuple[FloatArray, FloatArray]:
        """Return the voltage that the other leg sees at the tap, and behind which resistance."""
        siemens, amps = load
        whole = 1 / (ohms + inside) + siemens
        return (end / (ohms + inside) - amps) / whole, 1 / whole

    def _held(self, up: FloatArray, down: FloatArray, half: float, high: FloatArray) -> BoolArray:
        """Return which are stiff, or keep their window with nothing connected; none too high."""
        need = self.need
        above, (siemens, amps) = up + need.source_ohms, need.heaviest
        volts = self.output(above, down, need.supply[1], need.heaviest)
        drawn = np.abs(volts * siemens + np.where(volts > 0, amps, 0.0))
        past = np.minimum(
            np.abs(need.supply[1] - volts) / above, np.abs(volts - need.low_volts) / down
        )
        if need.stiff is None:
            held = np.ones(len(up), dtype=np.bool_)
        else:
            held = past >= need.stiff * drawn * (1 - ROUNDING)
        least, most = np.full(len(up), np.inf), high.copy()
        signs = (-1, 1) if half else (0,)
        for supply, one, two in itertools.product((need.supply[0], need.supply[2]), signs, signs):
            bare = self.output(
                up * (1 + one * half) + need.source_ohms, down * (1 + two * half), supply,
                (0.0, 0.0),
            )  # fmt: skip
            least, most = np.minimum(least, bare), np.maximum(most, bare)
        window = self.window * (1 + ROUNDING)
        held |= (least >= need.target_volts - window) & (most <= need.target_volts + window)
        if need.stands is not None:
            furthest = np.maximum(np.abs(least), np.abs(most))
            held &= furthest <= need.stands * (1 + ROUNDING)
        return held


def _cool(
    need: DividerDemand,
    legs: LegOptions,
    volts: FloatArray | float,
    most_watts: float | None,
    most_volts: float | None,
) -> BoolArray:
    """Return which legs may be cool with at least so many volts across each."""
    found = np.ones(len(legs.ohms), dtype=np.bool_)
    if most_volts is not None:
        found &= volts * legs.reach <= most_volts * PASSING * (1 + 1e-9)
    if most_watts is not None:
        watts = volts**2 / legs.ohms / (1 + need.half_width) * legs.heat
        found &= watts <= most_watts * PASSING * (1 + 1e-9)
    return found


def _widen(
    watts: FloatArray,
    across: FloatArray,
    ohms: FloatArray,
    half: float,
    volts: FloatArray,
    behind: FloatArray,
) -> None:
    """Take in a leg's power and voltage on a source of `volts` behind a resistance."""
    low, top = ohms * (1 - half), ohms * (1 + half)
    worst = np.clip(behind, low, top)
    np.maximum(watts, volts**2 * worst / (worst + behind) ** 2, out=watts)
    np.maximum(across, np.abs(volts) * top / (top + behind), out=across)
