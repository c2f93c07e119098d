"""Every kind of need there is: its brief read, its choices found and weighed."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final, Literal

from lowfold.core.needs.brief import Brief, NeedKind
from lowfold.core.needs.divider import DIVIDER, DividerBrief, trades_of
from lowfold.core.needs.feedback import FEEDBACK, FeedbackBrief
from lowfold.core.needs.ladder import LADDER, LadderBrief
from lowfold.core.needs.resistance import RESISTANCE
from lowfold.core.network.tree import Element
from lowfold.core.parts.families import Family
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.tokens.parts import family_figures, family_tokens
from lowfold.core.tokens.ratios import follow_ratio
from lowfold.core.tokens.reading import TokenReading, read_tokens
from lowfold.core.tokens.unsaid import granted_words, unsaid
from lowfold.core.tokens.windows import resolve
from lowfold.core.weighing.careful import Careful, careful
from lowfold.core.weighing.choice import Choice, Found, Preference, Trade
from lowfold.core.weighing.listing import RANK, Row, looked_at, ratio_of, rows_of, with_row

__all__ = [
    "KINDS",
    "LISTED",
    "Brief",
    "BriefKind",
    "BriefReading",
    "Choices",
    "choices_for",
    "known_preference",
    "read_brief",
    "trades_for",
    "weigh",
]

BriefKind = Literal["resistance", "divider", "feedback", "ladder"]
KINDS: Final[dict[BriefKind, NeedKind]] = {
    "resistance": RESISTANCE,
    "divider": DIVIDER,
    "feedback": FEEDBACK,
    "ladder": LADDER,
}
WANTED: Final = frozenset({"target_v", "target_ohm"})  #: tokens of the one figure wanted
LISTED: Final = 12  #: choices shown for a brief at first
#: Choices searched, however many are listed, to find some that pass; of ratios most come in
#: several decades, so that more are searched where these are too few ratios.
DEPTH: Final[dict[type[Brief], int]] = {DividerBrief: 160, FeedbackBrief: 160, LadderBrief: 48}
DEPTH_OF_OTHERS: Final = 60
DEEPEST: Final = 500  #: choices that any search lists
WIDEST_SCALE: Final = 6.0  #: of the shared scale, in windows


@dataclass(frozen=True, slots=True)
class BriefReading:
    tokens: Mapping[str, TokenReading]
    need: Brief | None
    granted: str = ""  #: what a verdict takes for granted, in words


@dataclass(frozen=True)
class Choices:
    listed: tuple[Row, ...]
    found: Found
    looked_at: int  #: of the best, so many were looked at for what passes
    scale: float  #: half width of the shared scale, a fraction of the target
    careful: Careful | None  #: which one a careful designer takes of those looked at

    @property
    def rows(self) -> tuple[Choice, ...]:
        """Return the choices as they are listed, without those in other decades."""
        return tuple(row.choice for row in self.listed)


def read_brief(
    kind: BriefKind, texts: Mapping[str, str], families: tuple[Family, ...] = ()
) -> BriefReading:
    """Read every token of a brief; a token that is not given has its default.

    `families` are the user's own, beside the typical ones.

    Reading never fails as a whole: every token says what it understood or what is wrong, and the
    need exists once all of them are understood and fit each other.

    Parameters
    ----------
    texts : Mapping[str, str]
        Token to text as typed; one that is not given has its default.
    families : tuple[Family, ...]
        The user's own, beside the typical ones.
    """
    spec = KINDS[kind]
    tokens = {**spec.tokens, **family_tokens(families)} if families else spec.tokens
    values, readings = read_tokens(tokens, texts)
    follow_ratio(values, readings)
    for target in WANTED & tokens.keys():
        resolve(values, readings, target, spec.unit)
    follows = {
        n: text
        for n, text in unsaid(values).items()
        if n in tokens and n not in texts and not readings[n].by
    }
    if follows:
        more, there = read_tokens({name: tokens[name] for name in follows}, follows)
        values |= more
        for name, reading in there.items():
            readings[name] = replace(reading, absent=readings[name].absent)
    readings.update(family_figures(values, readings))
    for name, message in spec.misfits(values):
        readings[name] = replace(readings[name], ok=False, shown="", message=message)
    if not all(r.ok for r in readings.values()):
        return BriefReading(readings, None)
    return BriefReading(readings, spec.read(values), granted_words(values, kind))


def known_preference(kind: BriefKind, wanted: str) -> Preference:
    """Return `wanted` where this kind of brief knows it, else its first preference.

    Parameters
    ----------
    wanted : str
        Name of a preference.
    """
    known = KINDS[kind].preferences
    return next((p for p in known if p == wanted), known[0])


@lru_cache(maxsize=1024)
def weigh(brief: Brief, network: Element) -> Choice:
    """Weigh one network against a brief.

    Raises
    ------
    TopologyError, TooLargeError
        If the network does not fit the brief (a divider without a tap OUT) or has too many parts.
    """
    return brief.weigh([network])[0]


@lru_cache(maxsize=64)
def choices_for(
    brief: Brief,
    preference: Preference,
    drawer: tuple[DrawerLine, ...] = (),
    listed: int = LISTED,
) -> Choices:
    """Search the best choices for a brief, weigh each, and list what passes first.

    More are weighed than are listed, so that what passes is not hidden behind what is nearer.

    Parameters
    ----------
    preference : Preference
        What comes first.
    drawer : tuple[DrawerLine, ...]
        The user's own stock, where the brief chooses from it.
    listed : int
        How many are listed at most.

    Raises
    ------
    TooLargeError, DomainError
        Where the values are too many for what is asked.
    """
    pool = brief.parts.pool(drawer)
    by_ratio = type(brief) in DEPTH
    depth = DEPTH.get(type(brief), DEPTH_OF_OTHERS)
    found = brief.search(preference, pool, depth)
    while (
        by_ratio
        and len(found.networks) == depth < DEEPEST
        and len({ratio_of(n) for n in found.networks}) < listed
    ):
        depth = min(2 * depth, DEEPEST)
        found = brief.search(preference, pool, depth)
    if not pool.ohms and not brief.parts.series:
        reason = (
            "the drawer has no part that fits: none as tight as the stated tolerance, or none in "
            "the range. Fill it in the Drawer view, or name a series"
        )
        found = replace(found, reason=reason)
    looked = looked_at(
        brief.weigh,
        found.networks,
        preference,
        by_ratio=by_ratio,
        most=listed,
        stiff_ohms=brief.conditions.stiff_ohms,
        presumed=brief.presumed(found.networks) if by_ratio else None,
    )
    faces = looked.faces
    weighed = {c.network for c in faces}
    more = [n for n in brief.worth_weighing(pool, faces) if n not in weighed]
    beside = brief.weigh(more) if more else []
    taken = careful([*faces, *beside])
    rows = rows_of(looked, beside if taken is None else (), listed, by_ratio=by_ratio)
    if taken is not None and taken.choice not in (r.choice for r in rows):
        # A list of one is the first of a longer list, the careful one where that stands better
        stands = [RANK[r.choice.judged.verdict] for r in rows[:1]]
        if listed > 1 or not stands or stands[0] > RANK[taken.choice.judged.verdict]:
            rows = with_row(rows, taken.choice, found.networks, listed)
    scale = _scale(brief, tuple(r.choice for r in rows))
    return Choices(rows, found, len(faces), scale, taken)


@lru_cache(maxsize=32)
def trades_for(
    brief: Brief, drawer: tuple[DrawerLine, ...] = ()
) -> tuple[tuple[Trade, ...], tuple[Trade, ...], int] | None:
    """Return what accuracy costs in current, for a divider; None for other needs.

    Parameters
    ----------
    drawer : tuple[DrawerLine, ...]
        The user's own stock, where the brief chooses from it.
    """
    if not isinstance(brief, DividerBrief):
        return None
    return trades_of(brief, brief.parts.pool(drawer))


def _scale(brief: Brief, rows: tuple[Choice, ...]) -> float:
    """Return a half width that shows the window and most spans, at most six windows wide."""
    reach = [
        max(max(abs(m.lowest / m.target - 1), abs(m.highest / m.target - 1)) for m in c.marks)
        for c in rows
    ]
    typical = sorted(reach)[math.ceil(0.8 * len(reach)) - 1] if reach else 0.0
    return max(1.5 * brief.within, min(1.1 * typical, WIDEST_SCALE * brief.within))
