"""Loads said as ranges in one line: each becomes one piece, as its token takes it.

`into 40k to 60k`, `into 47k or open`, `into up to 50 mA`, `into 0 … 40 µA`, `10k to 20k load`: no
end of such a range is a figure by itself.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from typing import Final

from lowfold.core.one_line.words import Cue, Lexeme
from lowfold.core.values.quantities import AMPERE, OHM, Kind

__all__ = ["with_load_ranges"]

#: Words behind which a load comes, and behind a load.
BEFORE: Final[tuple[Cue, ...]] = ("load", "beside")
BOUNDS: Final[tuple[Cue, ...]] = ("max", "min")
_OR_OPEN = re.compile(
    r"\s*,?\s*(?:\bor\b|\bto\b|…|\.\.\.?|–|-)\s*(?:open|nothing(?: connected)?|no load|unloaded|∞)"
    r"(?![A-Za-z])",
    re.IGNORECASE,
)


def with_load_ranges(text: str, pieces: Sequence[Lexeme]) -> list[Lexeme]:
    """Return the pieces of a need with every load that is said as a range in one of them.

    Parameters
    ----------
    text : str
        As typed.
    pieces : sequence of Lexeme
        It, cut into figures, names and words.
    """
    found: list[Lexeme] = []
    place = 0
    while place < len(pieces):
        after = _said_before(found)
        if after and pieces[place].cue == "between":
            found, place = _between(text, pieces, place, found)
            continue
        one, stop = _range_at(text, pieces, place)
        loaded = after or (stop < len(pieces) and pieces[stop].cue == "load")
        if one is None or not loaded:
            found.append(pieces[place])
            place += 1
            continue
        found.append(one)
        place = stop
    return found


def _between(
    text: str, pieces: Sequence[Lexeme], place: int, found: list[Lexeme]
) -> tuple[list[Lexeme], int]:
    """Put a load between two figures together; what is none is left as it is."""
    some = pieces[place + 1 : place + 4]
    if len(some) == 3 and some[1].cue == "and" and (kind := _drawn(some[2])) is not None:
        ends = (text[p.start : p.end] for p in (some[0], some[2]))
        said = " to ".join(" ".join(end.split()) for end in ends)
        one = replace(some[0], end=some[2].end, text=said, cue=None, kinds=(kind,), bare=False)
        return [*found, one], place + 4
    return [*found, pieces[place]], place + 1


def _said_before(found: Sequence[Lexeme]) -> bool:
    """Whether the last word that says anything is one before a load."""
    for piece in reversed(found):
        if piece.cue != "filler":
            return piece.cue in BEFORE
    return False


def _drawn(piece: Lexeme) -> Kind | None:
    """Return what kind of load a figure is: a resistance or a current."""
    if piece.bare or not piece.kinds:
        return None
    return piece.kinds[0] if piece.kinds[0] in (OHM, AMPERE) else None


def _range_at(text: str, pieces: Sequence[Lexeme], place: int) -> tuple[Lexeme | None, int]:
    """Return a load's range that begins at a piece, as one piece, and the place behind it."""
    first, start = pieces[place], place
    bound = first.cue if first.cue in BOUNDS else None
    if bound is not None:
        start += 1
        if start >= len(pieces):
            return None, place
    figure = pieces[start]
    stop = start + 1
    kind = _drawn(figure)
    if stop + 1 < len(pieces) and pieces[stop].cue == "to" and bound is None:
        other = _drawn(pieces[stop + 1])
        if other is not None and (kind is other or figure.bare):
            kind, stop = other, stop + 2
    if kind is None:
        return None, place
    end = pieces[stop - 1].end
    end, stop = _opened(text, pieces, stop, end) or _bounded(pieces, stop, end, bound)
    if bound is None and end == figure.end:
        return None, place
    said = " ".join(text[first.start : end].split())
    return replace(first, end=end, text=said, cue=None, kinds=(kind,), bare=False), stop


def _opened(text: str, pieces: Sequence[Lexeme], stop: int, end: int) -> tuple[int, int] | None:
    """Return where a range ends that is a figure or nothing, and the place behind; else None."""
    opened = _OR_OPEN.match(text, end)
    if opened is None:
        return None
    while stop < len(pieces) and pieces[stop].start < opened.end():
        stop += 1
    return opened.end(), stop


def _bounded(pieces: Sequence[Lexeme], stop: int, end: int, bound: Cue | None) -> tuple[int, int]:
    """Return the same where a word behind the figure makes it a bound: 50 mA max."""
    behind = stop + 1
    if bound is not None or stop >= len(pieces) or pieces[stop].cue not in BOUNDS:
        return end, stop
    if behind < len(pieces) and (pieces[behind].kinds or pieces[behind].bare):
        return end, stop
    return pieces[stop].end, behind
