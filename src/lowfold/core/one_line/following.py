"""What one may say next: words that the line has a place for and does not have yet."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Final

from lowfold.core.one_line.reading import OneLine, TextKind
from lowfold.core.one_line.words import CUES, Cue

__all__ = ["Following", "likely_next"]

MOST: Final = 5

_OF_ALL: Final = (
    ("tolerance", "1 %"), ("values", "E24"), ("rating", "0805"), ("low_c", "−20 to 60 °C"),
)  # fmt: skip
_OF_STRINGS: Final = (("within", "within 4 %"), ("max_current_a", "at most 80 µA"))
#: What is likely said in each kind of need, in the order in which one says it; by its token.
LIKELY: Final[dict[TextKind, tuple[tuple[str, str], ...]]] = {
    "resistance": (
        ("within", "within 1 %"), ("use", "carrying 5 mA"), ("load", "beside 47k"),
        ("max_parts", "2 parts"), *_OF_ALL,
    ),
    "divider": (
        ("load", "into 1 MΩ"), *_OF_STRINGS, ("lower_ohm", "with 56k lower"),
        ("stiff", "always there"), ("feeds_v", "which stands 3.6 V"), *_OF_ALL,
    ),
    "feedback": (*_OF_STRINGS, ("lower_ohm", "with 10k lower"), ("pin_a", "pin 50 nA"), *_OF_ALL),
    "ladder": (*_OF_STRINGS, ("stiff", "always there"), *_OF_ALL),
    "network": (("supply_v", "on 14.4 V"), ("tolerance", "1 %"), ("rating", "0805")),
}  # fmt: skip
#: Figures behind a word that waits for one.
FIGURES: Final[dict[Cue, tuple[str, ...]]] = {
    "load": ("1 MΩ", "47k or open", "10 to 50 mA"), "within": ("1 %", "4 %", "50 mV"),
    "max": ("80 µA", "1 mA"), "min": ("10 µA",), "source": ("50 Ω",), "seen": ("10k",),
    "stands": ("3.6 V",), "beside": ("47k",), "tolerance": ("1 %", "0.1 %"),
    "stress": ("50 %",), "drift": ("0.5 %",), "tracking": ("0.1 %",), "pin": ("50 nA",),
    "low": ("−5 V",), "use": ("5 mA",), "around": ("5 %",),
}  # fmt: skip
#: What begins a need, where nothing says yet what is wanted.
BEGINS: Final = ("to", "reference to")
_WORD: Final = re.compile(r"[A-Za-z][A-Za-z ]*")


@dataclass(frozen=True, slots=True)
class Following:
    """Words that may be said next."""

    start: int  #: where they begin; what stands behind that is replaced
    text: str


def likely_next(text: str, read: OneLine) -> tuple[Following, ...]:
    """Return what is likely said next, likeliest first, `MOST` at most.

    Behind a word that waits for a figure, figures; while a word is being typed, what begins with
    it; else what the kind of need has a place for and does not have yet.

    Parameters
    ----------
    text : str
        As typed so far.
    read : OneLine
        What it was read as.
    """
    bare = text.rstrip()
    if not bare or read.kind == "board":
        return ()
    waits = _waiting(bare)
    if waits is not None:
        return tuple(_behind(bare, figure) for figure in FIGURES[waits][:MOST])
    ways = _ways(bare, read)
    start = _behind_figures(bare, read)
    word = bare[start:]
    if not word:
        sign = "" if read.kind is None else ","
        return tuple(_behind(bare, way, sign) for way in ways[:MOST])
    if bare != text or not _WORD.fullmatch(word):
        return ()
    found = [w for w in ways if w.casefold().startswith(word.casefold()) and w != word]
    return tuple(Following(start, way) for way in found[:MOST])


def _ways(bare: str, read: OneLine) -> tuple[str, ...]:
    """Return what a line of this kind has a place for and does not say yet."""
    if read.kind is not None:
        return tuple(way for token, way in LIKELY[read.kind] if not _said(token, read))
    lone = len(read.unread) == 1 and bare[read.unread[0].start : read.unread[0].end][-1:] in "vV"
    return BEGINS if lone else ()


def _behind_figures(bare: str, read: OneLine) -> int:
    """Return where words begin behind the last figure or name."""
    ends = [u.end for u in read.understood]
    ends += [u.end for u in read.unread if any(sign.isdigit() for sign in u.text)]
    place = min(max(ends, default=0), len(bare))
    while place < len(bare) and bare[place] in " ,;":
        place += 1
    return place


def _waiting(bare: str) -> Cue | None:
    """Return what the last words say of a figure that is not there yet."""
    words = bare.casefold().split()
    for count in range(min(4, len(words)), 0, -1):
        cue = CUES.get(" ".join(words[-count:]))
        if cue is not None:
            return cue if cue in FIGURES else None
    return None


def _behind(bare: str, way: str, sign: str = "") -> Following:
    """Return words put behind what is there."""
    return Following(len(bare), f"{'' if bare.endswith(',') else sign} {way}")


def _said(token: str, read: OneLine) -> bool:
    """Whether a token is said already, or has nothing to be said of."""
    said = read.tokens
    if token == "stiff":  # noqa: S105  # a place in a sentence
        return token in said or not any(name.endswith("load") for name in said)
    return token in said or (token == "lower_ohm" and "upper_ohm" in said)  # noqa: S105
