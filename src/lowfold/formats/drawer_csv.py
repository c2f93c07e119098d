"""The drawer as a CSV file: value, count, tolerance, family.

A file is read whole or not at all: every line that does not fit is named with what is wrong.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.errors import LowfoldError
from lowfold.core.needs.parts import DrawerLine
from lowfold.core.preferred import WIDEST_RANGE
from lowfold.core.quantities import FRACTION, OHM, read, write, write_code

__all__ = ["COLUMNS", "MOST_LINES", "BadLine", "BrokenFile", "read_drawer", "write_drawer"]

COLUMNS: Final = ("value", "count", "tolerance", "family")
MOST_LINES: Final = 5000
MOST_NAMED: Final = 50  #: bad lines named; a file of another kind would name every line
LONGEST_FAMILY: Final = 80
MOST_COUNTED: Final = 1_000_000
DEFAULT_TOLERANCE: Final = 0.01


@dataclass(frozen=True, slots=True)
class BadLine:
    """One line that does not fit."""

    line: int  #: as an editor counts, from 1
    message: str


@dataclass
class BrokenFile(Exception):
    """The file is not taken; nothing of it is kept."""

    lines: list[BadLine]


def read_drawer(text: str) -> list[DrawerLine]:
    """Read a drawer from CSV text.

    The first line names the columns: `value` is needed; `count` (empty is plenty), `tolerance`
    (default 1 %) and `family` are optional, in any order. Commas, semicolons or tabs part them.

    Raises
    ------
    BrokenFile
        Naming every line that is wrong and what would be right.
    """
    text = text.removeprefix("\ufeff")
    if "\0" in text:
        raise BrokenFile([BadLine(text[: text.index("\0")].count("\n") + 1, "this is not text")])
    rows = list(_rows(text))
    if not rows:
        raise BrokenFile([BadLine(1, f"the file is empty: its first line is {','.join(COLUMNS)}")])
    header_at, header = rows[0]
    names = [name.strip().lower() for name in header]
    unknown = [n for n in names if n not in COLUMNS]
    if "value" not in names or unknown or len(set(names)) < len(names):
        words = f"“{unknown[0][:40]}” is no column" if unknown else "the columns are not clear"
        raise BrokenFile(
            [BadLine(header_at, f"{words}: the first line names some of {', '.join(COLUMNS)}")]
        )
    if len(rows) - 1 > MOST_LINES:
        raise BrokenFile([BadLine(MOST_LINES + 2, f"at most {MOST_LINES} lines are taken")])
    found: list[DrawerLine] = []
    bad: list[BadLine] = []
    seen: dict[tuple[float, int, str], int] = {}
    for at, cells in rows[1:]:
        try:
            line = _line(dict(zip(names, cells, strict=False)), len(cells), len(names))
        except LowfoldError as error:
            bad.append(BadLine(at, error.message))
            continue
        key = (line.ohms, round(line.tolerance * 1e6), line.family)
        if key in seen:
            bad.append(BadLine(at, f"this is line {seen[key]} again: give the count once"))
        seen[key] = at
        found.append(line)
    if bad:
        raise BrokenFile(bad[:MOST_NAMED])
    return found


def _rows(text: str) -> Iterator[tuple[int, list[str]]]:
    """Yield the lines that have something in them, with their numbers."""
    head = text.lstrip().split("\n", 1)[0]
    delimiter = max(",;\t", key=head.count)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    while True:
        at = reader.line_num + 1
        try:
            cells = next(reader)
        except StopIteration:
            return
        except csv.Error as error:
            raise BrokenFile([BadLine(at, f"this line cannot be taken apart: {error}")]) from error
        if any(cell.strip() for cell in cells):
            yield at, cells


def _line(cells: dict[str, str], have: int, want: int) -> DrawerLine:
    if have > want:
        msg = f"{have} cells where the first line names {want}"
        raise LowfoldError(msg)
    ohms = read(cells.get("value", ""), OHM)
    if not WIDEST_RANGE[0] <= ohms <= WIDEST_RANGE[1]:
        low, high = (write(end, OHM, 2, trim=True) for end in WIDEST_RANGE)
        msg = f"{write(ohms, OHM)} is no part: values lie between {low} and {high}"
        raise LowfoldError(msg)
    return DrawerLine(
        ohms,
        read_count(cells.get("count", "")),
        _tolerance(cells.get("tolerance", "")),
        check_family(cells.get("family", "")),
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


def _tolerance(text: str) -> float:
    if not text.strip():
        return DEFAULT_TOLERANCE
    tolerance = read(text, FRACTION)
    if not 0 <= tolerance <= 0.5:
        msg = f"{write(tolerance, FRACTION)} is no tolerance: write 0 % to 50 %"
        raise LowfoldError(msg)
    return tolerance


def check_family(text: str) -> str:
    """Return a family's name, refused where it could run as a formula in a spreadsheet.

    Raises
    ------
    LowfoldError
    """
    family = text.strip()
    if len(family) > LONGEST_FAMILY:
        msg = f"the family's name has {len(family)} characters; at most {LONGEST_FAMILY} are kept"
        raise LowfoldError(msg)
    if family[:1] in {"=", "+", "-", "@"} or any(not c.isprintable() for c in family):
        msg = f"“{family[:40]}” is no name of a family: start with a letter or a digit"
        raise LowfoldError(msg)
    return family


def write_drawer(lines: Sequence[DrawerLine]) -> str:
    """Write a drawer as CSV text that `read_drawer` reads back the same."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")  # RFC 4180
    writer.writerow(COLUMNS)
    for line in lines:
        percent = write(line.tolerance, FRACTION, 6, trim=True)
        count = "" if line.count is None else line.count
        writer.writerow((write_code(line.ohms), count, percent, line.family))
    return out.getvalue()
