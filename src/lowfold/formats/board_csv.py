"""The needs of a board: as CSV or pasted lines in, with what was chosen as CSV out."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from typing import Final

from lowfold.core.errors import LowfoldError
from lowfold.formats.tables import write_table

__all__ = ["COLUMNS", "read_needs", "write_board"]

COLUMNS: Final = (
    "name", "need", "stands", "why", "choice", "values", "gives", "off by", "lowest", "highest",
    "draws", "series", "sharing costs",
)  # fmt: skip
NAMED: Final = ("name", "ref", "reference", "designator", "what")
NEED: Final = ("need", "wanted", "says")
LONGEST_NAME: Final = 80


def read_needs(text: str) -> list[tuple[int, str, str]]:
    """Return each need's line, its name and what it says.

    A table has a first line that names a column “need”, and perhaps “name”, parted by commas,
    semicolons or tabs; any other column is left alone. Else every line is a need, with its name
    before a colon or a tab if it has one. Empty lines, and those that begin with #, are none.

    Parameters
    ----------
    text : str
        As pasted, or of a file.

    Raises
    ------
    LowfoldError
        Where a table cannot be read.
    """
    text = text.removeprefix("\ufeff")
    first = next((line for line in text.splitlines() if line.strip()), "")
    for mark in ("\t", ";", ","):
        heads = [head.strip().strip('"').casefold() for head in first.split(mark)]
        if any(head in NEED for head in heads):
            return _table(text, mark)
    return [
        (place, *_named(line.strip()))
        for place, line in enumerate(text.splitlines(), start=1)
        if line.strip() and not line.lstrip().startswith("#")
    ]


def _named(line: str) -> tuple[str, str]:
    """Part a line into its name, which has a letter, and its need."""
    for mark in ("\t", ":"):
        name, found, need = line.partition(mark)
        named = len(name) <= LONGEST_NAME and any(sign.isalpha() for sign in name)
        if found and need.strip() and named:
            return name.strip(), need.strip()
    return "", line


def _table(text: str, mark: str) -> list[tuple[int, str, str]]:
    found: list[tuple[int, str, str]] = []
    reader = csv.reader(io.StringIO(text), delimiter=mark, strict=True)
    columns: list[str] = []
    try:
        for cells in reader:
            if not any(cell.strip() for cell in cells):
                continue
            if not columns:
                columns = [cell.strip().casefold() for cell in cells]
                continue
            row = dict(zip(columns, cells, strict=False))
            need = next((row[c] for c in NEED if row.get(c)), "").strip()
            name = next((row[c] for c in NAMED if row.get(c)), "").strip()
            if need:
                found.append((reader.line_num, name[:LONGEST_NAME], need))
    except csv.Error as error:
        msg = f"line {reader.line_num} is no line of a table: {error}"
        raise LowfoldError(msg, field="text") from error
    return found


def write_board(rows: Sequence[Sequence[str]]) -> str:
    """Write a board's lines as CSV text; no cell of it runs in a spreadsheet.

    Parameters
    ----------
    rows : sequence of sequences of str
        In the order of `COLUMNS`.
    """
    return write_table(COLUMNS, rows)
