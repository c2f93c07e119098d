"""Reading SCPI-99 program messages: headers long and short, paths, parameters, and errors queued.

The rules are those of SCPI-99 volume 1 and IEEE 488.2 (from memory).
"""

from __future__ import annotations

import math
import re
from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

__all__ = ["ERRORS", "MOST_ERRORS", "ErrorQueue", "ScpiError", "Unit", "number", "pattern", "units"]

#: Standard numbers with their standard words (SCPI-99 volume 2, 21.8; from memory).
ERRORS: Final = {
    0: "No error",
    -101: "Invalid character",
    -102: "Syntax error",
    -104: "Data type error",
    -108: "Parameter not allowed",
    -109: "Missing parameter",
    -113: "Undefined header",
    -131: "Invalid suffix",
    -138: "Suffix not allowed",
    -151: "Invalid string data",
    -200: "Execution error",
    -221: "Settings conflict",
    -222: "Data out of range",
    -224: "Illegal parameter value",
    -230: "Data corrupt or stale",
    -350: "Queue overflow",
    -363: "Input buffer overrun",
}
MOST_ERRORS: Final = 20
#: Replies are ASCII, and what stands in quotes has none in it.
_PLAIN: Final = str.maketrans({'"': "'", "“": "'", "”": "'", "Ω": "Ohm"})


@dataclass
class ScpiError(Exception):
    """A program message that cannot be carried out, by its standard number."""

    number: int
    detail: str = ""

    @property
    def shown(self) -> str:
        words = ERRORS[self.number] + (f"; {self.detail}" if self.detail else "")
        return f'{self.number},"{words.translate(_PLAIN)}"'


class ErrorQueue:
    """Errors in the order they came; when it is full, the last one says so."""

    def __init__(self) -> None:
        self._queue: deque[ScpiError] = deque()

    def __len__(self) -> int:
        return len(self._queue)

    def put(self, error: ScpiError) -> None:
        """Queue an error."""
        if len(self._queue) == MOST_ERRORS:
            self._queue[-1] = ScpiError(-350)
        else:
            self._queue.append(error)

    def take(self) -> ScpiError:
        """Return the oldest error; number 0 where there is none."""
        return self._queue.popleft() if self._queue else ScpiError(0)

    def clear(self) -> None:
        """Forget every error."""
        self._queue.clear()


@dataclass(frozen=True, slots=True)
class Unit:
    """One program message unit."""

    header: str  #: in upper case, from the root, without its `?`
    query: bool
    parameters: tuple[str, ...]


_HEADER: Final = re.compile(
    r"\s*(?P<header>\*[A-Za-z]+|:?[A-Za-z][A-Za-z0-9_]*(?::[A-Za-z][A-Za-z0-9_]*)*)"
    r"(?P<query>\?)?(?:\s+(?P<rest>.*)|\s*)$",
    re.DOTALL,
)
_QUOTED: Final = re.compile(r"""("[^"]*"|'[^']*')""")
_OUTSIDE_QUOTES: Final = re.compile(r"""("[^"]*"|'[^']*'|[^"']+)""")


def _split(text: str, at: str) -> Iterator[str]:
    """Yield the pieces between separators that stand outside quotes."""
    piece = ""
    for found in _OUTSIDE_QUOTES.findall(text):
        if found[0] in "\"'":
            piece += found
            continue
        first, *rest = found.split(at)
        piece += first
        for more in rest:
            yield piece
            piece = more
    yield piece


def units(line: str) -> Iterator[Unit | ScpiError]:
    """Yield the units of a program message, or what is wrong with one; nothing follows a wrong one.

    Parameters
    ----------
    line : str
        Without its terminator.

    Notes
    -----
    A header that does not begin with a colon starts where the last one of the same message ended,
    less its last node (SCPI-99 volume 1, 6.2.4); common commands leave that place alone.
    """
    if any(ord(c) > 126 or (ord(c) < 32 and c not in "\t\r") for c in line):
        yield ScpiError(-101)
        return
    if re.search("[\"']", _QUOTED.sub("", line)):
        yield ScpiError(-151)
        return
    path = ""
    for piece in _split(line.replace("\r", " "), ";"):
        if not piece.strip():
            continue
        found = _HEADER.match(piece)
        if not found:
            yield ScpiError(-102, piece.strip()[:40])
            return
        header = found["header"].upper()
        if not header.startswith("*"):
            header = header[1:] if header.startswith(":") else path + header
            path = header[: header.rfind(":") + 1]
        rest = (found["rest"] or "").strip()
        parameters = tuple(p.strip() for p in _split(rest, ",")) if rest else ()
        yield Unit(header, bool(found["query"]), parameters)


def pattern(spelled: str) -> re.Pattern[str]:
    """Return what matches a header however it is spelled.

    Parameters
    ----------
    spelled : str
        As manuals have it: `[SENSe:]VOLTage[:DC]:RANGe[:UPPer]`; capitals are the short form.
    """
    found = ""
    for bracket, word, other in re.findall(r"([\[\]])|(\*?[A-Z]+[a-z]*)|(:)", spelled):
        if bracket:
            found += "(?:" if bracket == "[" else ")?"
        elif word:
            short = re.match(r"\*?[A-Z]+", word)
            assert short is not None
            stem = re.escape(short[0])
            tail = word[len(short[0]) :].upper()
            found += f"{stem}(?:{tail})?" if tail else stem
        else:
            found += other
    return re.compile(found)


_NUMBER: Final = re.compile(
    r"(?P<number>[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d{1,3})?)\s*(?P<suffix>[A-Za-z]*)"
)
#: Multipliers before a unit (SCPI-99 volume 1, table 7-1): MA is mega, and so is M before OHM.
_MULTIPLIERS: Final = {
    "": 1.0, "N": 1e-9, "U": 1e-6, "M": 1e-3, "K": 1e3, "MA": 1e6, "G": 1e9,
}  # fmt: skip


def number(text: str, unit: str) -> float:
    """Read a decimal number with or without its unit.

    Parameters
    ----------
    text : str
        `10`, `1E1`, `10 V`, `4.7KOHM`.
    unit : str
        In capitals: `V`, `A` or `OHM`.

    Raises
    ------
    ScpiError
    """
    found = _NUMBER.fullmatch(text)
    if not found:
        raise ScpiError(-104, text[:40])
    suffix = found["suffix"].upper()
    if suffix and not suffix.endswith(unit):
        raise ScpiError(-131, suffix[:40])
    scale = suffix.removesuffix(unit)
    if scale not in _MULTIPLIERS:
        raise ScpiError(-131, suffix[:40])
    factor = 1e6 if scale == "M" and unit == "OHM" else _MULTIPLIERS[scale]
    value = float(found["number"]) * factor
    if not math.isfinite(value):
        raise ScpiError(-222, text[:40])
    return value
