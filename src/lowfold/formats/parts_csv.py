"""The list of parts as a CSV file."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from lowfold.core.record.parts_list import PartsLine
from lowfold.formats.tables import write_table

__all__ = ["BOUGHT", "COLUMNS", "write_parts"]

COLUMNS: Final = ("quantity", "value", "code", "tolerance", "size", "rating", "refs")
#: Beside them where the drawer was looked into.
BOUGHT: Final = ("in drawer", "to buy")


def write_parts(lines: Sequence[PartsLine], *, bought: bool = False) -> str:
    """Write a list of parts as CSV text; no cell of it runs in a spreadsheet.

    Parameters
    ----------
    bought : bool
        Tell too what the drawer has of each, and what is to be bought.
    """
    rows = []
    for line in lines:
        cells = [
            line.quantity, line.value, line.code, line.tolerance_words, line.family, line.rating,
            " ".join(line.refs) if not bought else ", ".join(line.refs),
        ]  # fmt: skip
        rows.append([*cells, *((line.in_drawer, line.to_buy) if bought else ())])
    columns = (*COLUMNS, *BOUGHT) if bought else COLUMNS
    return write_table(columns, rows)
