"""Tables in CSV files, read whole or not at all: every line that does not fit is named."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Hashable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Final, TypeVar

from lowfold.core.errors import LowfoldError
from lowfold.core.values.names import CONTROL, FORMULA_SIGNS

__all__ = ["BadLine", "BrokenFile", "plain_cell", "read_table", "write_table"]

MOST_NAMED: Final = 50  #: bad lines named; a file of another kind would name every line
#: A number with its sign and unit, like −20 °C: no spreadsheet makes a formula of it.
FIGURE: Final = re.compile(r"[-+]?[0-9][0-9.,]*(e[-+]?[0-9]+)? ?[A-Za-zµΩ°%/]+")

Row = TypeVar("Row")


@dataclass(frozen=True, slots=True)
class BadLine:
    """One line that does not fit."""

    line: int  #: as an editor counts, from 1
    message: str


@dataclass
class BrokenFile(Exception):
    """The file is not taken; nothing of it is kept."""

    lines: list[BadLine]


def read_table(
    text: str,
    columns: Sequence[str],
    most: int,
    row: Callable[[dict[str, str]], Row],
    key: Callable[[Row], Hashable],
    again: str,
) -> list[Row]:
    """Read the rows of a table from CSV text.

    The first line names the columns, the first of `columns` among them, the others optional, in
    any order. Commas, semicolons or tabs part them.

    Parameters
    ----------
    most : int
        Lines that are taken at most.
    row : callable
        Makes a row of its cells, by column; a `LowfoldError` says what is wrong with it.
    key : callable
        What no two rows share; `again` says what to do where they do.

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
        raise BrokenFile([BadLine(1, f"the file is empty: its first line is {','.join(columns)}")])
    header_at, header = rows[0]
    names = [name.strip().lower() for name in header]
    unknown = [n for n in names if n not in columns]
    if columns[0] not in names or unknown or len(set(names)) < len(names):
        words = f"“{unknown[0][:40]}” is no column" if unknown else "the columns are not clear"
        raise BrokenFile(
            [BadLine(header_at, f"{words}: the first line names some of {', '.join(columns)}")]
        )
    if len(rows) - 1 > most:
        raise BrokenFile([BadLine(most + 2, f"at most {most} lines are taken")])
    found: list[Row] = []
    bad: list[BadLine] = []
    seen: dict[Hashable, int] = {}
    for at, cells in rows[1:]:
        if len(cells) > len(names):
            bad.append(BadLine(at, f"{len(cells)} cells where the first line names {len(names)}"))
            continue
        try:
            made = row(dict(zip(names, map(_as_written, cells), strict=False)))
        except LowfoldError as error:
            bad.append(BadLine(at, error.message))
            continue
        if key(made) in seen:
            bad.append(BadLine(at, f"this is line {seen[key(made)]} again: {again}"))
        seen[key(made)] = at
        found.append(made)
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


def plain_cell(value: object) -> object:
    """Return a cell that no spreadsheet runs and every program can show: one rule for every file.

    Text that would run is begun with an apostrophe, which `read_table` takes away again; a figure
    with its sign is none. Control characters become spaces.
    """
    if not isinstance(value, str):
        return value
    text = CONTROL.sub(" ", value)
    runs = text.lstrip()[:1] in FORMULA_SIGNS and not FIGURE.fullmatch(text)
    return f"'{text}" if text and (runs or text[0] in "\t\r\n") else text


def _as_written(cell: str) -> str:
    """Return a cell as it was before `plain_cell`."""
    return cell[1:] if cell[:1] == "'" and plain_cell(cell[1:]) == cell else cell


def write_table(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """Write a table as CSV text (RFC 4180); no cell of it runs in a spreadsheet."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    writer.writerows([plain_cell(cell) for cell in row] for row in rows)
    return out.getvalue()
