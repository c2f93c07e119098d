"""The drawer as a CSV file: value, count, tolerance, family.

A file is read whole or not at all: every line that does not fit is named with what is wrong.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from lowfold.core.errors import LowfoldError
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.values.names import plain_name
from lowfold.core.values.quantities import FRACTION, OHM, read, write, write_code
from lowfold.core.values.ranges import WIDEST_RANGE
from lowfold.formats.tables import read_table, write_table

__all__ = ["COLUMNS", "MOST_LINES", "read_drawer", "read_family", "write_drawer"]

COLUMNS: Final = ("value", "count", "tolerance", "family")
MOST_LINES: Final = 5000
MOST_COUNTED: Final = 1_000_000
DEFAULT_TOLERANCE: Final = 0.01


def read_drawer(text: str) -> list[DrawerLine]:
    """Read a drawer from CSV text.

    The first line names the columns: `value` is needed; `count` (empty is plenty), `tolerance`
    (default 1 %) and `family` are optional, in any order. Commas, semicolons or tabs part them.

    Raises
    ------
    BrokenFile
        Naming every line that is wrong and what would be right.
    """
    again = "give the count once"
    return read_table(text, COLUMNS, MOST_LINES, _line, _key, again)


def _key(line: DrawerLine) -> tuple[float, int, str]:
    return line.ohms, round(line.tolerance * 1e6), line.family


def _line(cells: dict[str, str]) -> DrawerLine:
    ohms = read(cells.get("value", ""), OHM)
    if not WIDEST_RANGE[0] <= ohms <= WIDEST_RANGE[1]:
        low, high = (write(end, OHM, 2, trim=True) for end in WIDEST_RANGE)
        msg = f"{write(ohms, OHM)} is no part: values lie between {low} and {high}"
        raise LowfoldError(msg)
    return DrawerLine(
        ohms,
        read_count(cells.get("count", "")),
        _tolerance(cells.get("tolerance", "")),
        read_family(cells.get("family", "")),
    )


def read_count(text: str) -> int | None:
    """Read how many there are; nothing written is plenty.

    Raises
    ------
    LowfoldError
    """
    word = text.strip()
    if not word or word.lower() == "plenty":
        return None
    if not (word.isascii() and word.isdecimal()) or int(word[:20]) > MOST_COUNTED:
        msg = f"“{word[:40]}” is no count: write a whole number up to {MOST_COUNTED}, or nothing"
        raise LowfoldError(msg)
    return int(word)


def read_family(text: str) -> str:
    """Read which family parts are of; nothing written is any.

    Raises
    ------
    DomainError
    """
    return plain_name(text, "a family", field="family") if text.strip() else ""


def _tolerance(text: str) -> float:
    if not text.strip():
        return DEFAULT_TOLERANCE
    tolerance = read(text, FRACTION)
    if not 0 <= tolerance <= 0.5:
        msg = f"{write(tolerance, FRACTION)} is no tolerance: write 0 % to 50 %"
        raise LowfoldError(msg)
    return tolerance


def write_drawer(lines: Sequence[DrawerLine]) -> str:
    """Write a drawer as CSV text that `read_drawer` reads back the same."""
    return write_table(
        COLUMNS,
        (
            (
                write_code(line.ohms),
                "" if line.count is None else line.count,
                write(line.tolerance, FRACTION, 6, trim=True),
                line.family,
            )
            for line in lines
        ),
    )
