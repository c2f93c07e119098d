"""What several pieces of a line say together: a network, a range, a window, a share, a list.

Each form takes the pieces and puts one in the place of several; a piece that says its own role has
it. What could be such a form and is none stays as it was, to be read or marked by itself.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Final

from lowfold.core.errors import LowfoldError
from lowfold.core.network.notation import read_text
from lowfold.core.one_line.words import Lexeme
from lowfold.core.tokens.ratios import SHARES
from lowfold.core.values.quantities import OHM, VOLT, read

__all__ = ["with_forms"]

_END = r"(?![0-9A-Za-zΩ%°.])"
_NUMBER = r"(?:[0-9]+(?:[.,][0-9]+)?|\.[0-9]+)"
_UNIT = r"(?:\s?(?:[kKMGmµu]?(?:Ω|Ω|[Oo]hms?|OHMS?)|[kKMGR]))"
#: A resistance that is followed by no other unit.
_OHMS = (
    rf"(?:{_NUMBER}{_UNIT}?{_END}(?!\s*(?:[mkMµun]?(?:[VvAW]|volts?|amps?|watts?)|%|°|ppm){_END})"
    rf"|[0-9]+[RrkKMG][0-9]+{_END}|[Rr][0-9]+{_END})"
)
_PART = rf"(?:[A-Za-z]{{1,3}}[0-9]{{1,3}}\s*=\s*)?{_OHMS}"
_ITEM = rf"(?:{_PART}|@[A-Za-z]\w*|S[0-9]+)"
_JOIN = r"(?:\+|\|\|?|‖|∥|//|in\s+parallel\s+with|parallel(?:\s+(?:with|to))?|in\s+series\s+with)"
_NETWORK = re.compile(rf"(?<![0-9A-Za-z.,])[(\s]*{_ITEM}(?:[)\s]*{_JOIN}[(\s]*{_ITEM})+[)]*")
_LIST = re.compile(
    rf"\s*(?:the\s+)?(?P<list>(?:[0-9]{{1,4}}\s*(?:[x×*]|pcs?)\s*)?{_OHMS}"
    rf"(?:\s*(?:,\s|;|/|&|\band\b|\bor\b)\s*(?:[0-9]{{1,4}}\s*(?:[x×*]|pcs?)\s*)?{_OHMS})*)",
)
_MANY = re.compile(r"[x×*;,/&]|\band\b|\bor\b|\bpcs?\b")
_SHARE = re.compile(
    r"(?:(?P<word>"
    + "|".join(sorted(map(re.escape, SHARES), key=len, reverse=True))
    + rf")(?=\s+of\b)|(?P<part>{_NUMBER}\s*%?|[0-9]+/[0-9]+)(?=\s+of\s+(?:the\s+|a\s+|an\s+)?[0-9])"
    rf"|(?:divided?\s+)?\bby\s+(?P<by>{_NUMBER}){_END}(?!\s*[mkµu]?[VvAΩ])|÷\s*(?P<sign>{_NUMBER}){_END}"
    rf"|(?P<over>(?<![0-9.,:])(?:1\s*:\s*{_NUMBER}|{_NUMBER}\s*:\s*1)(?![0-9A-Za-z.,:%]|\s*[mkµu]?[VvA]\b)))",
    re.IGNORECASE,
)
#: What falls between a supply and what is made of it.
_RANGE: Final = ("to", "…", "..", "...", "-", "–", "—", "−")


def with_forms(text: str, pieces: Sequence[Lexeme]) -> list[Lexeme]:
    """Return the pieces of a line, those that say one thing together being one.

    Parameters
    ----------
    text : str
        As typed.
    pieces : sequence of Lexeme
        It, cut into figures, names and words.
    """
    found = list(pieces)
    forms: tuple[Callable[[str, list[Lexeme]], list[Lexeme]], ...] = (
        _networks, _lists, _shares, _ranges,
    )  # fmt: skip
    for form in forms:
        found = form(text, found)
    return found


def _put(pieces: list[Lexeme], one: Lexeme) -> list[Lexeme]:
    """Put one piece in the place of those it spans."""
    before = [p for p in pieces if p.end <= one.start]
    return [*before, one, *(p for p in pieces if p.start >= one.end)]


def _whole(pieces: Sequence[Lexeme], start: int, end: int) -> bool:
    """Whether no piece lies across either end."""
    return not any(p.start < at < p.end for p in pieces for at in (start, end))


def _networks(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put a network together: `120 + (220 || 330)` is no list of figures."""
    for found in _NETWORK.finditer(text):
        start = found.start() + len(found[0]) - len(found[0].lstrip())
        said = found[0].strip()
        opened, closed = said.count("("), said.count(")")
        if opened > closed and said.startswith("("):
            said, start = said[1:].lstrip(), start + len(said) - len(said[1:].lstrip())
        end = start + len(said)
        if "%" in said or not _whole(pieces, start, end):
            continue
        written = re.sub(r"\|\|?|‖|∥|//|(?:in\s+)?parallel(?:\s+(?:with|to))?", "||", said)
        written = re.sub(r"in\s+series\s+with", "+", written)
        try:
            read_text(written)
        except LowfoldError as error:
            why = f"a network that is not understood: {error.message}"
            pieces = _put(pieces, Lexeme(start, end, said, why=why))
        else:
            pieces = _put(pieces, Lexeme(start, end, written, role="network"))
    return pieces


def _lists(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put loose values together, behind what is wanted of them: `55 ohm from 30 and 40`."""
    for place, piece in enumerate(pieces):
        names = piece.cue == "from" or piece.text.casefold() in {"using", "use", "with"}
        if not names or not any(_ohms(p) for p in pieces[:place]):
            continue
        found = _LIST.match(text, piece.end)
        if found is None or not _MANY.search(found["list"]):
            continue
        start, end = found.span("list")
        if _whole(pieces, start, end):
            return _put(pieces, Lexeme(start, end, found["list"], role="values"))
    return pieces


def _ohms(piece: Lexeme) -> bool:
    return OHM in piece.kinds and (piece.bare or piece.kinds[0] is OHM)


def _shares(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put a share of the supply together: `a third of 12 V`, `divided by 4`, `10:1`."""
    for found in _SHARE.finditer(text):
        if found["by"] and "divid" not in text[: found.end()].casefold():
            continue
        said = found[0].strip()
        one = Lexeme(found.start(), found.start() + len(said), said, role="ratio")
        if _whole(pieces, one.start, one.end):
            pieces = _put(pieces, one)
    return pieces


def _volts(piece: Lexeme) -> float | None:
    if not piece.kinds or piece.kinds[0] is not VOLT or piece.bare or piece.role:
        return None
    try:
        return read(piece.text, VOLT)
    except LowfoldError:
        return None


def _ranges(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put the ends of a range together: `9 to 16 V to 3 V`, `12 V to 3.2 to 3.4 V`.

    A divider only lowers, so that of a line in which a third voltage is said, two that follow each
    other rising are a range: of the supply where the third lies below, else of what is wanted.
    """
    if any(p.cue in {"reference", "feedback", "stands"} for p in pieces):
        return pieces
    found = list(pieces)
    alone = not any(p.role in {"network", "ratio"} for p in pieces)
    place = 0
    while place + 2 < len(found):
        before, low, high = found[max(place - 1, 0)], found[place], found[place + 2]
        ends = _rising(low, found[place + 1], high, between=place > 0 and before.cue == "between")
        others = [p for p in found if p not in (low, high) and p.kinds[:1] == (VOLT,)]
        if ends is None or (place and before.cue == "around") or (alone and not others):
            place += 1
            continue
        start = before.start if before.cue == "between" else low.start
        one = replace(low, start=start, end=high.end, text=text[start : high.end].strip())
        found = [_said_twice(p, one, ends) for p in _put(found, one)]
    return found


def _rising(
    low: Lexeme, word: Lexeme, high: Lexeme, *, between: bool
) -> tuple[float, float] | None:
    """Return two voltages that rise from one to the other, V; None where they are not said so."""
    said = word.cue == "to" and word.text.casefold() in _RANGE
    first, last = _volts(low), _volts(high)
    if not (said or (between and word.cue == "and")) or first is None or last is None:
        return None
    return (first, last) if 0 <= first < last else None


def _said_twice(piece: Lexeme, spread: Lexeme, ends: tuple[float, float]) -> Lexeme:
    """Mark a voltage inside a range that is said beside it: it is the same one, said twice."""
    volts = None if piece is spread else _volts(piece)
    if volts is None or not ends[0] <= volts <= ends[1]:
        return piece
    why = f"{piece.text} lies inside {spread.text}, which is said too: leave one of the two"
    return Lexeme(piece.start, piece.end, piece.text, why=why)
