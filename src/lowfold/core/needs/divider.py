"""A voltage below the one at hand: a divider, weighed under its load."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Final

import numpy as np

from lowfold.core.checking.verdict import ROUNDING
from lowfold.core.errors import TooLargeError
from lowfold.core.needs.brief import Brief, NeedKind
from lowfold.core.needs.build_words import short_words
from lowfold.core.needs.legs_in_place import LEGS_IN_PLACE, free_structures, legs_misfit, stays
from lowfold.core.network.tree import (
    Chain,
    Element,
    Part,
    Tap,
    chain,
    part_watts,
    resistance,
    write_network,
)
from lowfold.core.parts.pool import Pool
from lowfold.core.search.divider import MOST_PAIRED, MOST_PER_LEG, DividerNeed
from lowfold.core.search.divider_search import search_divider
from lowfold.core.search.leg_options import Leg, Structure, leg_options
from lowfold.core.search.leg_tables import leg_pools
from lowfold.core.search.preferred_legs import pair_network, preferred_legs
from lowfold.core.search.sound_dividers import (
    HEAVY,
    DividerDemand,
    SoundPairs,
    sound_pairs,
    which_sound,
)
from lowfold.core.search.tradeoff import some_dividers, unbeaten_dividers
from lowfold.core.tokens.loads import LoadToken, load
from lowfold.core.tokens.parts import PARTS, Parts, both, part_misfits, parts_of_values
from lowfold.core.tokens.ratios import RATIO
from lowfold.core.tokens.reading import (
    LOW_END,
    STANDS,
    STIFF_TOKEN,
    Token,
    count,
    optional,
    quantity,
)
from lowfold.core.tokens.windows import spread, window
from lowfold.core.tolerance.box import Supply
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, write
from lowfold.core.weighing.choice import Choice, Found, Preference, Trade
from lowfold.core.weighing.conditions import Conditions, Wanted

__all__ = ["DIVIDER", "DividerBrief", "incurable", "leg_lines", "legs_of", "trades_of"]

WEIGHED: Final = 12  #: sound strings weighed beside the preferred ones
WIDER: Final = 2.0  #: times the window in which the nearly sound are looked for
TRADES_SHOWN: Final = 60  #: of the choices that nothing beats
BEATEN_SHOWN: Final = 240  #: of the others, to see them against


@dataclass(frozen=True, slots=True, kw_only=True)
class DividerBrief(Brief):
    """Make a voltage below the one at hand."""

    supply_volts: float
    supply_tolerance: float
    source_ohms: float
    low_volts: float  #: what the other end lies at
    target_volts: float
    within: float
    feeds_volts: float | None  #: what the taps feed stands
    load: LoadToken | None
    stiff: float | None  #: times the load's current; None where it is always there
    min_amps: float | None
    max_amps: float | None
    max_output_ohms: float | None
    per_leg: int
    upper_ohms: float | None  #: a leg that is in place already
    lower_ohms: float | None
    parts: Parts

    @property
    def conditions(self) -> Conditions:
        return Conditions(
            supply=Supply(
                self.supply_volts, self.supply_tolerance, self.source_ohms, self.low_volts
            ),
            wanted=(Wanted("OUT", self.target_volts, self.within),),
            parts=self.parts,
            loads=(("OUT", self.load),) if self.load else (),
            stands=self.feeds_volts,
            stiff=self.stiff,
        )

    def search(self, preference: Preference, pool: Pool, limit: int) -> Found:
        """Search pairs of legs."""
        prefer = preference if preference in ("worst_case", "least_current") else "nearest"
        within = self.within if preference == "least_current" else None
        found = _searched(replace(_need(self, pool, limit), prefer=prefer, within=within))
        return Found(
            networks=tuple(d.network for d in found.ranked),
            errors=tuple(d.error for d in found.ranked),
            searched=found.searched,
            what="pairs",
            reason=found.reason,
        )

    @property
    def demand(self) -> DividerDemand:
        """Return what its gates ask of a pair of legs."""
        load = self.load
        nominal = (
            (0.0, 0.0) if load is None else (1 / load.ohms if load.ohms else 0.0, load.amps or 0.0)
        )
        step = abs(self.supply_volts) * self.supply_tolerance
        return DividerDemand(
            supply=(self.supply_volts - step, self.supply_volts, self.supply_volts + step),
            source_ohms=self.source_ohms,
            low_volts=self.low_volts,
            target_volts=self.target_volts,
            within=self.within,
            half_width=self.parts.half_width,
            heaviest=load.heaviest if load else nominal,
            nominal=nominal,
            lightest=load.lightest if load else nominal,
            stiff=self.stiff,
            stands=self.feeds_volts,
            min_amps=self.min_amps,
            max_amps=self.max_amps,
            max_output_ohms=self.max_output_ohms,
        )

    def sound(
        self, pool: Pool, upper: Structure, lower: Structure, *, light: bool = False
    ) -> SoundPairs:
        """Return every pair of legs of two structures that passes, but for parts of their own.

        Raises
        ------
        TooLargeError
            Where too many come near the target.
        """
        parts, rated = self.parts, self.parts.rated
        above, below = leg_pools(pool, self.upper_ohms, self.lower_ohms)
        return sound_pairs(
            self.demand,
            leg_options(above, upper),
            leg_options(below, lower),
            most_watts=parts.stress * parts.derated_watts if rated else None,
            most_volts=parts.family.limiting_volts if rated else None,
            light=light,
        )

    def presumed(self, networks: Sequence[Element]) -> Sequence[bool] | None:
        """Return which dividers pass, as a closed form of their legs tells."""
        parts = self.parts
        if parts.own or parts.ratio is not None:
            return None
        found: list[bool] = which_sound(
            self.demand,
            [(leg_of(above), leg_of(below)) for above, below in map(legs_of, networks)],
            most_watts=parts.stress * parts.derated_watts if parts.rated else None,
            most_volts=parts.family.limiting_volts if parts.rated else None,
        ).tolist()
        return found

    def worth_weighing(self, pool: Pool, weighed: Sequence[Choice]) -> list[Element]:  # noqa: ARG002
        """Return the sound strings that are light, of few and common parts first.

        Of those that feed a load, those that draw at most twice what the lightest of all draws; of
        the others those with a tap between 1 kΩ and 100 kΩ.
        """
        if self.parts.own or self.parts.ratio is not None:
            return []
        every = []
        loaded = self.demand.loaded
        for upper, lower in self._structures(pool):
            try:
                every.append(self.sound(pool, upper, lower, light=loaded))
            except TooLargeError:
                continue
        every = [some for some in every if len(some)]
        if not every:
            return self._nearly_sound(pool)
        if loaded:
            lightest = min(float(some.amps.min()) for some in every)
            every = [some.some(some.amps <= HEAVY * lightest) for some in every]
        return preferred_legs(every, WEIGHED, comfortable=not loaded)

    def lightest(self, pool: Pool) -> list[Element] | None:
        """Return the sound pairs of least current; None where they are not known beforehand.

        Raises
        ------
        TooLargeError
            Where too many come near the target.
        """
        if self.parts.own or self.parts.ratio is not None:
            return None
        every = [self.sound(pool, *legs, light=True) for legs in self._structures(pool)]
        found = [
            (float(some.amps[place]), pair_network(some, place))
            for some in every
            for place in np.argsort(some.amps, kind="stable")[:1].tolist()
        ]
        return [network for _, network in sorted(found, key=lambda one: one[0])]

    def _structures(self, pool: Pool) -> list[tuple[Structure, Structure]]:
        """Return what legs are made of, one part in each first."""
        every: list[tuple[Structure, Structure]] = [("single", "single")]
        if self.per_leg > 1 and len(pool.ohms) <= MOST_PAIRED:
            every += [("single", "pair"), ("pair", "single")]
        return free_structures(every, self.upper_ohms, self.lower_ohms)

    def _nearly_sound(self, pool: Pool) -> list[Element]:
        """Return single parts that would be sound in a wider window, those that need least first.

        Where nothing passes they are what comes nearest to it; the nearest nominal outputs into a
        load are often strings too soft for any.
        """
        wider = replace(self, within=WIDER * self.within)
        try:
            some = wider.sound(pool, "single", "single")
        except TooLargeError:
            return []
        first = np.argsort(some.used, kind="stable")[:WEIGHED]
        return [pair_network(some, place) for place in first.tolist()]

    @property
    def in_place(self) -> bool:
        """Whether one of its legs is there already."""
        return self.upper_ohms is not None or self.lower_ohms is not None

    def leaves_in_place(self, network: Element) -> bool:
        """Whether the leg that is there already is still one part of its value."""
        return not self.in_place or stays(legs_of(network), self.upper_ohms, self.lower_ohms)

    def lines(self, network: Element) -> tuple[str, ...]:
        """Write it leg by leg."""
        return leg_lines(network)


_AMPS = optional(quantity(AMPERE, 0.0, 1e3, open_low=True), "any current")
TOKENS: Final[dict[str, Token]] = {
    "supply_v": Token(spread(VOLT, -1e5, 1e5, "supply_tolerance"), "5 V", "supply voltage"),
    "supply_tolerance": Token(
        quantity(FRACTION, 0.0, 0.9), "0 %", "tolerance of the supply", "0 %"
    ),
    "source_ohm": Token(quantity(OHM, 0.0, 1e9), "0 Ω", "source resistance", "0 Ω"),
    "low_v": LOW_END,
    "target_v": Token(spread(VOLT, -1e5, 1e5, "within"), "3.3 V", "wanted voltage"),
    "ratio": RATIO,
    "within": Token(window(VOLT), "3 %", "accepted deviation"),
    "feeds_v": STANDS,
    "load": Token(optional(load, "nothing"), "none", "load at the tap", "none"),
    "stiff": STIFF_TOKEN,
    "max_current_a": Token(_AMPS, "none", "largest supply current", "none"),
    "min_current_a": Token(_AMPS, "none", "smallest supply current", "none"),
    "max_output_ohm": Token(
        optional(quantity(OHM, 0.0, 1e12, open_low=True), "any"),
        "none",
        "largest resistance seen at the tap",
        "none",
    ),
    "per_leg": Token(count(MOST_PER_LEG), "1", "parts in a leg", "1"),
    **LEGS_IN_PLACE,
    **PARTS,
}


def _read(v: Mapping[str, Any]) -> DividerBrief:
    return DividerBrief(
        supply_volts=v["supply_v"],
        supply_tolerance=v["supply_tolerance"],
        source_ohms=v["source_ohm"],
        low_volts=v["low_v"],
        target_volts=v["target_v"],
        within=v["within"],
        feeds_volts=v["feeds_v"],
        load=v["load"],
        stiff=v["stiff"],
        min_amps=v["min_current_a"],
        max_amps=v["max_current_a"],
        max_output_ohms=v["max_output_ohm"],
        per_leg=v["per_leg"],
        upper_ohms=v["upper_ohm"],
        lower_ohms=v["lower_ohm"],
        parts=parts_of_values(v),
    )


def _misfits(v: Mapping[str, Any]) -> list[tuple[str, str]]:
    found = part_misfits(v) + legs_misfit(v)
    if v.get("target_v") == 0:
        found.append(("target_v", "nothing is within a share of 0 V: write another voltage"))
    elif (pair := both(v, "target_v", "supply_v")) and pair[0] >= pair[1]:
        found.append(("target_v", _only_lowers(*pair)))
    if (pair := both(v, "low_v", "target_v")) and pair[0] >= pair[1]:
        shown, wanted = (write(x, VOLT, 4, trim=True) for x in pair)
        found.append(("low_v", f"{shown} is not below the wanted {wanted}: write less"))
    if (pair := both(v, "min_current_a", "max_current_a")) and pair[0] > pair[1]:
        most = write(pair[1], AMPERE, 4, trim=True)
        found.append(("min_current_a", f"this is above the largest: write {most} or less"))
    return found


def _only_lowers(target: float, supply: float) -> str:
    shown, end = (write(x, VOLT, 4, trim=True) for x in (supply, target))
    if supply < 0:
        return (
            f"between {shown} and 0 V the supply is the higher end: write 0 V as the supply, "
            f"{shown} as the low end, {end} as wanted"
        )
    return f"a divider only lowers: write less than the supply's {shown}"


def _need(brief: DividerBrief, pool: Pool, limit: int) -> DividerNeed:
    """Return what is searched for; parts of one need deviate alike."""
    return DividerNeed(
        supply_volts=brief.supply_volts,
        target_volts=brief.target_volts,
        pool=pool,
        supply_tolerance=brief.supply_tolerance,
        source_ohms=brief.source_ohms,
        low_volts=brief.low_volts,
        load_ohms=brief.load.ohms if brief.load else None,
        load_amps=brief.load.amps if brief.load else None,
        load_ends=(brief.load.low, brief.load.high) if brief.load else None,
        max_per_leg=brief.per_leg,
        upper_ohms=brief.upper_ohms,
        lower_ohms=brief.lower_ohms,
        tolerance=brief.parts.half_width,
        min_amps=brief.min_amps,
        max_amps=brief.max_amps,
        max_output_ohms=brief.max_output_ohms,
        limit=limit,
    )


#: What is demanded beside the target is no part of a search: it is kept when that is typed.
_searched = lru_cache(maxsize=32)(search_divider)


def incurable(brief: DividerBrief, pool: Pool) -> str:
    """Say why no pair of the stated values keeps the window even if its parts are perfect.

    Empty where one does. Where the low end is not above 0 V and the output is, it follows the
    supply at least in proportion, so a supply that wanders more than is accepted settles it; else
    the exact search, its parts taken as perfect, tells the best of all pairs.

    Parameters
    ----------
    brief : DividerBrief
        The need as understood.

    Raises
    ------
    TooLargeError
        Where the values are too many to be searched.
    """
    accepted = write(brief.within, FRACTION, 4, trim=True)
    wanders_too_far = brief.supply_tolerance > brief.within * (1 + ROUNDING)
    if wanders_too_far and brief.low_volts <= 0 < brief.target_volts:
        wanders = write(brief.supply_tolerance, FRACTION, 4, trim=True)
        return (
            f"No part can cure the spread: the supply's ± {wanders} alone is more than the "
            f"± {accepted} accepted. Steady it, or accept more."
        )
    need = replace(_need(brief, pool, 1), tolerance=0.0, prefer="worst_case")
    found = search_divider(need)
    if not found.candidates:
        return ""
    best = found.candidates[0]
    target = brief.target_volts
    off = max(best.highest_volts - target, target - best.lowest_volts) / target
    if off <= brief.within * (1 + ROUNDING):
        return ""
    shown = " over ".join(leg_lines(best.network))
    return (
        f"No pair of these values can cure the spread: of all {found.searched}, with perfect "
        f"parts, the best, {shown}, is still up to {write(off, FRACTION, 3)} off the target over "
        "the range of the supply and the load. Steady them, allow more current or other values, "
        "or accept more."
    )


def trades_of(brief: DividerBrief, pool: Pool) -> tuple[tuple[Trade, ...], tuple[Trade, ...], int]:
    """Return the choices that nothing beats in error and current, some others, and their count.

    Of more than can be told apart in a picture, some spread evenly over the current are returned.

    Parameters
    ----------
    brief : DividerBrief
        The need as understood.
    """
    need = DividerNeed(
        supply_volts=brief.supply_volts,
        target_volts=brief.target_volts,
        pool=pool,
        source_ohms=brief.source_ohms,
        low_volts=brief.low_volts,
        load_ohms=brief.load.ohms if brief.load else None,
        load_amps=brief.load.amps if brief.load else None,
        max_per_leg=brief.per_leg,
        upper_ohms=brief.upper_ohms,
        lower_ohms=brief.lower_ohms,
        min_amps=brief.min_amps,
        max_amps=brief.max_amps,
        max_output_ohms=brief.max_output_ohms,
        within=brief.within,
    )
    every = unbeaten_dividers(need)
    step = max(1, math.ceil(len(every) / TRADES_SHOWN))
    shown = [*every[: -1 if every else 0 : step], *every[-1:]]
    trades = tuple(Trade(write_network(u.network), u.error, u.amps) for u in shown)
    best = {t.notation for t in trades}
    beaten = (
        Trade(write_network(u.network), u.error, u.amps) for u in some_dividers(need, BEATEN_SHOWN)
    )
    return trades, tuple(t for t in beaten if t.notation not in best), len(every)


def legs_of(network: Element) -> tuple[Element, Element]:
    """Return what is above and below the one tap of a divider.

    Parameters
    ----------
    network : Element
        With its tap OUT between its ends.
    """
    assert isinstance(network, Chain)  # a search of dividers found it
    place = next(k for k, item in enumerate(network.items) if isinstance(item, Tap))
    return chain(network.items[:place]), chain(network.items[place + 1 :])


def leg_of(element: Element) -> Leg:
    """Return a leg's resistance and what share of its power and voltage one part has most of.

    Parameters
    ----------
    element : Element
        One part, or several in series or parallel.
    """
    if isinstance(element, Part):
        return element.ohms, 1.0, 1.0
    ohms = resistance(element)
    taken = [(p, watts * ohms) for p, watts in part_watts(element, 1.0)]
    return ohms, max(w for _, w in taken), max(math.sqrt(w / ohms * p.ohms) for p, w in taken)


def leg_lines(network: Element) -> tuple[str, ...]:
    """Write a divider leg by leg, as it is read in a list."""
    if isinstance(network, Chain):
        for place, item in enumerate(network.items):
            if isinstance(item, Tap):
                legs = (chain(network.items[:place]), chain(network.items[place + 1 :]))
                return tuple(map(short_words, legs))
    return (write_network(network, refs=False),)


DIVIDER: Final = NeedKind(
    tokens=TOKENS,
    preferences=("nearest", "worst_case", "least_current"),
    unit=VOLT,
    said=("supply_v", "target_v"),
    read=_read,
    misfits=_misfits,
)
