"""What one got wrong comes again, sooner; the level follows what one gets right.

After a wrong answer a question comes again after a few others, or ten minutes; once right, after a
day, then after four, then no more (spaced repetition, common practice).
"""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.practice.levels import LEVELS

__all__ = ["Answered", "Progress", "due_again", "next_level", "progress_of"]

MINUTE: Final = 60.0
DAY: Final = 24 * 60 * MINUTE
#: s after the last answer, by how often it was right since it was wrong.
AGAIN_AFTER: Final = (10 * MINUTE, DAY, 4 * DAY)
OTHERS_FIRST: Final = 3  #: other questions, after which a wrong one comes again in any case
#: Of the last so many at a level, so many right lead on, and so few lead back.
LAST, ON, BACK, LEAST = 5, 4, 1, 3


@dataclass(frozen=True, slots=True)
class Answered:
    """One question of a drill that was answered."""

    level: int
    seed: int
    network: str | None  #: one's own, or None
    at: float  #: s, of any clock that goes on
    right: bool
    off: float | None = None  #: of an estimate


@dataclass(frozen=True, slots=True)
class Progress:
    """How one does at a drill and level."""

    right: int
    answered: int
    typical_off: float | None  #: median of how far estimates were off
    streak: int  #: right ones in a row, up to the last


def due_again(history: Sequence[Answered], level: int, now: float) -> Answered | None:
    """Return the question of a level that was once answered wrong and is due longest.

    Parameters
    ----------
    history : sequence of Answered
        Of one drill, in the order they were answered.
    level : int
    now : float
        s, of the same clock.
    """
    waiting: dict[tuple[int, str | None], tuple[int, Answered, int]] = {}
    for place, one in enumerate(history):
        if one.level != level:
            continue
        key = (one.seed, one.network)
        if not one.right:
            waiting[key] = (0, one, place)
        elif key in waiting:
            waiting[key] = (waiting[key][0] + 1, one, place)
    found = []
    for right, last, place in waiting.values():
        if right >= len(AGAIN_AFTER):
            continue
        others = len(history) - 1 - place
        if now - last.at >= AGAIN_AFTER[right] or (right == 0 and others >= OTHERS_FIRST):
            found.append((last.at + AGAIN_AFTER[right], last))
    return min(found, key=lambda one: one[0], default=(0.0, None))[1]


def next_level(history: Sequence[Answered]) -> int:
    """Return the level to go on at: on at four right of the last five, back at one or none.

    Parameters
    ----------
    history : sequence of Answered
        Of one drill, in the order they were answered.
    """
    if not history:
        return LEVELS[0]
    level = history[-1].level
    last = [one.right for one in history if one.level == level][-LAST:]
    if len(last) == LAST and sum(last) >= ON:
        return min(level + 1, LEVELS[-1])
    if len(last) >= LEAST and sum(last) <= BACK - (len(last) < LAST):
        return max(level - 1, LEVELS[0])
    return level


def progress_of(history: Sequence[Answered]) -> Progress:
    """Return how one does.

    Parameters
    ----------
    history : sequence of Answered
        Of one drill and level, or of a week, in the order they were answered.
    """
    offs = [abs(one.off) for one in history if one.off is not None]
    streak = 0
    for one in reversed(history):
        if not one.right:
            break
        streak += 1
    return Progress(
        right=sum(one.right for one in history),
        answered=len(history),
        typical_off=statistics.median(offs) if offs else None,
        streak=streak,
    )
