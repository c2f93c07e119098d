"""The cheapest change that passes, looked for through everything that can be bought together.

Kinds of parts (`buying`) are gone through from the cheapest on, each with every way to build of
them that passes as the gates judge it; what is found is weighed before it is told. Of a divider and
of a resistance every way is judged, so that where none passes that is a proven denial; of other
needs the preferred ones of each kind are weighed, and nothing is denied.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.advice.buying import (
    ARRAY,
    MORE_PARTS,
    STRUCTURES,
    Bought,
    Sold,
    families_sold,
    grades_sold,
    series_sold,
)
from lowfold.core.advice.case import Advice, Case
from lowfold.core.advice.looking import dear
from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import LowfoldError, TooLargeError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.build_words import build_words
from lowfold.core.needs.divider import DividerBrief, legs_of
from lowfold.core.needs.feedback import FeedbackBrief
from lowfold.core.needs.kinds import choices_for, read_brief
from lowfold.core.needs.ladder import LadderBrief
from lowfold.core.needs.legs_in_place import free_structures
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.tree import Element, number_parts, parts_of
from lowfold.core.parts.pool import Pool
from lowfold.core.search.divider import MOST_PAIRED
from lowfold.core.search.leg_options import MOST_IN_LEGS, LegOptions, Structure, leg_options
from lowfold.core.search.leg_tables import leg_pools
from lowfold.core.search.preferred_legs import preferred_legs
from lowfold.core.search.sound_dividers import HEAVY, PASSING, SoundPairs, can_be_sound, sound_pairs
from lowfold.core.search.sound_resistances import SoundWholes, sound_wholes
from lowfold.core.values.quantities import FRACTION, read, write
from lowfold.core.weighing.careful import HIGH_VOLTS
from lowfold.core.weighing.choice import Preference

__all__ = ["Joint", "Progress", "cheapest"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]

#: Told how far it is: a share and words.
Progress = Callable[[float, str], None]

TRIED: Final = 6  #: ways of one kind weighed before the next kind
#: Pairs judged of one kind, and of all; a million takes about a second.
MOST_PAIRS: Final = 600_000
MOST_IN_ALL: Final = 1_500_000
RATIOS: Final = ("0.5 %", "0.1 %", "0.05 %")  #: ratio tolerances of arrays (common practice)
MOST_OF_DEAR: Final = 4  #: the same where each choice is dear to weigh
MOST_SEARCHED: Final = 16  #: kinds searched for needs whose every way is not judged


@dataclass(frozen=True, slots=True)
class Joint:
    """The cheapest way that passes, or how far was looked for one."""

    way: Advice | None
    looked: str  #: in words, where there is none
    proven: bool  #: that there is none


@dataclass(frozen=True, slots=True)
class _Kind:
    """Values of one series at one tolerance, put together in one way."""

    cost: float
    series: Bought
    grade: Bought
    legs: tuple[Structure, Structure]

    @property
    def changes(self) -> dict[str, str]:
        return {**self.series.changes, **self.grade.changes}


def cheapest(case: Case, progress: Progress | None = None) -> Joint:
    """Return the cheapest change of what is bought that passes every gate.

    Parameters
    ----------
    progress : callable, optional
        Told how far the kinds are gone through: a share and words.
    """
    need = case.need
    if need is None or case.kind is None:
        return Joint(None, "", proven=False)
    own, tracks = bool(need.parts.own), need.parts.ratio is not None
    if isinstance(need, DividerBrief) and not own and not tracks:
        return _Looking(case, need).through(progress)
    # A resistance is at its ends with all parts low or all high, which parts that track are too
    if isinstance(need, ResistanceBrief) and not own and need.in_place_ohms is None:
        return _Looking(case, need).through(progress)
    return Joint(_searched(case, need), "", proven=False)


class _Looking:
    """Looking through every way to build a divider or a resistance."""

    def __init__(self, case: Case, need: DividerBrief | ResistanceBrief) -> None:
        self.case, self.need = case, need
        self.sold = families_sold(need.parts, case.stock.families)
        self.best: tuple[float, Advice] | None = None
        self.possible: dict[float, bool] = {}  #: by what a grade costs
        self.left = MOST_IN_ALL  #: pairs that may still be judged
        #: Every kind was looked through to its end; a part in place leaves kinds that are not.
        self.whole = not need.in_place

    def through(self, progress: Progress | None) -> Joint:
        """Go through the kinds, cheapest first, until none left can be cheaper than one found."""
        kinds = sorted(self._kinds(), key=lambda k: k.cost)
        for done, kind in enumerate(kinds):
            if progress is not None:
                progress(done / len(kinds), f"kind {done + 1} of {len(kinds)} of what is sold")
            if self.best is not None and kind.cost >= self.best[0]:
                break
            self._look_at(kind)
        if self.best is None and isinstance(self.need, DividerBrief) and not self.need.in_place:
            self._as_array(self.need)
        if self.best is not None:
            return Joint(self.best[1], "", proven=False)
        return Joint(None, self._words(), proven=self.whole)

    def _kinds(self) -> Iterator[_Kind]:
        parts = self.need.parts
        for series in series_sold(parts):
            for grade in grades_sold(parts):
                for upper, lower, cost in STRUCTURES:
                    if not self._can_be(upper, lower):
                        continue
                    yield _Kind(series.cost + grade.cost + cost, series, grade, (upper, lower))

    def _can_be(self, upper: Structure, lower: Structure) -> bool:
        """Whether legs can be of some structures: a resistance has one, a leg in place one part."""
        if isinstance(self.need, DividerBrief):
            ways = free_structures([(upper, lower)], self.need.upper_ohms, self.need.lower_ohms)
            return bool(ways)
        return upper == "single"

    def _look_at(self, kind: _Kind) -> None:
        """Weigh the likeliest of a kind in the cheapest family that any of it is cool in."""
        need = self._read(kind.changes)
        if need is None or not self._possible(kind, need):
            return
        pool = need.parts.pool(self.case.lines_of(need))
        try:
            found = self._sound(kind, need, pool)
        except TooLargeError:
            self.whole = False
            return
        for cost, alike in itertools.groupby(found, key=lambda f: math.floor(f[0].bought.cost)):
            if self.best is not None and kind.cost + cost >= self.best[0]:
                return
            ways = [(sold, network) for sold, networks in alike for network in networks]
            ways.sort(key=lambda way: sum(1 for _ in parts_of(way[1])))
            for sold, network in ways[:TRIED]:
                way = self._tried(kind, sold, network)
                if way is not None:
                    self.best = (kind.cost + cost, replace(way, cost=kind.cost + cost))
                    return
            self.whole &= len(ways) < TRIED

    def _possible(self, kind: _Kind, need: Brief) -> bool:
        """Whether parts of a grade could pass at all, whatever their values."""
        if not isinstance(need, DividerBrief):
            return True
        if kind.grade.cost not in self.possible:
            watts = [s.most_watts for s in self.sold if s.most_watts is not None]
            self.possible[kind.grade.cost] = can_be_sound(need.demand, max(watts, default=None))
        return self.possible[kind.grade.cost]

    def _sound(self, kind: _Kind, need: Brief, pool: Pool) -> Iterator[tuple[Sold, list[Element]]]:
        """Yield families, cheapest first, with what passes in each for all that is known."""
        left = math.inf if self.best is None else self.best[0] - kind.cost
        sold = [s for s in self.sold if math.floor(s.bought.cost) < left]
        watts = [s.most_watts for s in sold if s.most_watts is not None]
        most_watts = max(watts, default=None)
        volts = [s.most_volts for s in sold]
        most_volts = None if None in volts else max(v for v in volts if v is not None)
        if isinstance(need, DividerBrief):
            pairs = self._pairs(kind, need, pool, most_watts, most_volts)
            self.left -= pairs.searched
            heat, reach = pairs.watts.max(axis=1, initial=0), pairs.volts.max(axis=1, initial=0)

            def of_pairs(rows: IntArray) -> list[Element]:
                some = pairs.some(rows)
                if need.demand.loaded and len(some):
                    some = some.some(some.amps <= HEAVY * some.amps.min())
                return preferred_legs([some], TRIED, comfortable=not need.demand.loaded)

            return self._by_family(heat, reach, of_pairs)
        assert isinstance(need, ResistanceBrief)  # the two that are looked through
        options = leg_options(pool, kind.legs[1])
        wholes = sound_wholes(need.demand, options, most_watts=most_watts, most_volts=most_volts)

        def of_wholes(rows: IntArray) -> list[Element]:
            return _preferred_wholes(wholes, rows)

        return self._by_family(wholes.watts, wholes.volts, of_wholes)

    def _by_family(
        self, heat: FloatArray, reach: FloatArray, networks: Callable[[IntArray], list[Element]]
    ) -> Iterator[tuple[Sold, list[Element]]]:
        for sold in self.sold:
            cool = np.ones(len(heat), dtype=np.bool_)
            if sold.most_watts is not None:
                cool &= heat <= sold.most_watts * PASSING
            if sold.most_volts is not None:
                cool &= reach <= sold.most_volts * PASSING
            rows = np.flatnonzero(cool)
            if len(rows):
                yield sold, networks(rows)

    def _pairs(
        self,
        kind: _Kind,
        need: DividerBrief,
        pool: Pool,
        most_watts: float | None,
        most_volts: float | None,
    ) -> SoundPairs:
        if "pair" in kind.legs and len(pool.ohms) > MOST_PAIRED:
            msg = "too many values for pairs of them in a leg"
            raise TooLargeError(msg, field="values")
        above, below = leg_pools(pool, need.upper_ohms, need.lower_ohms)
        upper = leg_options(above, kind.legs[0])
        if need.supply_volts - need.target_volts >= HIGH_VOLTS:
            upper = _apart(upper)
        return sound_pairs(
            need.demand,
            upper,
            leg_options(below, kind.legs[1]),
            most_watts=most_watts,
            most_volts=most_volts,
            most_parts=MOST_IN_LEGS,
            most_pairs=min(MOST_PAIRS, self.left),
        )

    def _read(self, changes: dict[str, str]) -> Brief | None:
        assert self.case.kind is not None  # checked before looking
        texts = {**self.case.texts, **changes}
        return read_brief(self.case.kind, texts, self.case.stock.families).need

    def _tried(self, kind: _Kind, sold: Sold, network: Element) -> Advice | None:
        changes = {**kind.changes, **sold.bought.changes}
        if "pair" in kind.legs and isinstance(self.need, DividerBrief) and self.need.per_leg == 1:
            changes["per_leg"] = "2"
        words = _words_of(self.need, network, (kind.series, kind.grade, sold.bought))
        way = self.case.tried("bought", words, changes, network)
        return way if way is not None and way.verdict is Verdict.PASS else None

    def _as_array(self, need: DividerBrief) -> None:
        """Try parts of one array, whose ratios are held tighter than their values."""
        for ratio in RATIOS:
            changes = {"tracking": ratio}
            held = read(ratio, FRACTION)
            # What each part may be off the others by itself: no more than that moves the output
            demand = replace(need.demand, half_width=held / (2 + held))
            if not can_be_sound(demand):
                continue
            there = self._read(changes)
            if there is None:
                continue
            try:
                found = choices_for(there, "nearest", self.case.lines_of(there), 1).careful
            except LowfoldError:
                continue
            if found is None:
                continue
            step = Bought(ARRAY, f"of one array whose ratios hold to {ratio}", changes)
            words = _words_of(self.need, found.choice.network, (step,))
            way = self.case.tried("bought", words, changes, found.choice.network)
            if way is not None and way.verdict is Verdict.PASS:
                self.best = (ARRAY, replace(way, cost=ARRAY))
                return

    def _words(self) -> str:
        """Say what was looked through, none of it passing."""
        tolerances = ", ".join(
            write(t, FRACTION, 3, trim=True)
            for t in dict.fromkeys((self.need.parts.tolerance, 0.005, 0.001))
        )
        space = (
            f"the values stated, E24 and E96, at {tolerances}, as one or two parts or up to "
            f"{MOST_IN_LEGS} equal ones, in every size up to 5 W"
        )
        if self.whole:
            return f"Nothing that can be bought does: {space}, looked through whole, none passes."
        return f"Of {space}, what was looked at does not pass; it was not looked through whole."


def _apart(options: LegOptions) -> LegOptions:
    """Return the legs in which one short leaves part of the voltage standing."""
    return options.some(options.reach < 1)


def _preferred_wholes(found: SoundWholes, rows: IntArray) -> list[Element]:
    """Return the ways of fewest parts that leave most of the window."""
    parts = found.options.parts[found.rows[rows]]
    order = np.lexsort((found.used[rows], parts))[:TRIED]
    places = found.rows[rows[order]].tolist()
    return [number_parts(found.options.network(place)) for place in places]


def _words_of(need: Brief, network: Element, steps: tuple[Bought, ...]) -> str:
    if isinstance(need, DividerBrief | FeedbackBrief):
        shown = " over ".join(build_words(leg) for leg in legs_of(network))
    elif isinstance(need, ResistanceBrief):
        shown = build_words(network)
    else:
        shown = ", ".join(line for line in need.lines(network) if line)
    said = ", ".join(step.words for step in steps if step.words)
    return f"Take {shown}{', ' if said else ''}{said}"


def _searched(case: Case, need: Brief) -> Advice | None:
    """Return the cheapest kind of which a choice passes, those that are preferred weighed."""
    legs = isinstance(need, FeedbackBrief)
    more = [Bought(0, "")]
    if legs and need.per_leg == 1:  # type: ignore[attr-defined]
        more.append(Bought(MORE_PARTS, "", {"per_leg": "2"}))
    sold = families_sold(need.parts, case.stock.families)
    sold = sold if case.fails("power") else sold[:1]
    kinds = [
        (a.cost + b.cost + c.cost + d.bought.cost, (a, b, c, d.bought))
        for a in series_sold(need.parts)
        for b in grades_sold(need.parts)
        for c in more
        for d in sold
    ]
    preference: Preference = "worst_case" if legs else "nearest"
    most = MOST_OF_DEAR if dear(need) else MOST_SEARCHED
    for cost, steps in sorted(kinds, key=lambda k: k[0])[:most]:
        changes = {name: text for step in steps for name, text in step.changes.items()}
        assert case.kind is not None  # a brief states no network of its own
        there = read_brief(case.kind, {**case.texts, **changes}, case.stock.families).need
        if there is None or _spreads_too_far(there):
            continue
        try:
            found = choices_for(there, preference, case.lines_of(there), 1).careful
        except LowfoldError:
            continue
        if found is None:
            continue
        words = _words_of(need, found.choice.network, steps)
        way = case.tried("bought", words, changes, found.choice.network)
        if way is not None and way.verdict is Verdict.PASS:
            return replace(way, cost=cost)
    return None


def _spreads_too_far(need: Brief) -> bool:
    """Whether the taps of a string of such parts spread too far, before any load does more.

    What is above a tap and what is below it deviate independently; loads that are fed by a stiff
    string change little of that. It spares searches and denies nothing.
    """
    if not isinstance(need, LadderBrief) or need.parts.ratio is not None or need.parts.own:
        return False
    half, whole = need.parts.half_width, need.supply_volts - need.low_volts
    for tap in need.taps:
        below = (tap.target_volts - need.low_volts) / whole
        ends = [
            below * (1 + s * half) / (below * (1 + s * half) + (1 - below) * (1 - s * half))
            for s in (-1, 1)
        ]
        if whole * (ends[1] - ends[0]) / 2 > need.within * PASSING * tap.target_volts:
            return True
    return False
