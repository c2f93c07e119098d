"""Meters as a CSV file: one range a line, with what belongs to the whole meter on each."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from lowfold.core.bench.data_sheet import (
    MEASURED,
    meter_in_words,
    range_in_words,
    read_meter,
    read_range,
)
from lowfold.core.bench.models import MeterModel
from lowfold.core.errors import LowfoldError
from lowfold.core.values.names import plain_name
from lowfold.formats.tables import BadLine, BrokenFile, read_table, write_table

__all__ = ["COLUMNS", "read_meters", "write_meters"]

COLUMNS: Final = ("meter", "input", "leads", "of_full", "measures", "range")
MOST_LINES: Final = 2000
YES: Final = {"yes", "true", "1"}
NO: Final = {"", "no", "false", "0"}

_Line = tuple[str, str, str, bool, str, str]


def read_meters(text: str) -> list[MeterModel]:
    """Read meters from CSV text; lines of one name make one meter.

    Raises
    ------
    BrokenFile
        Naming every line that is wrong and what would be right.
    """
    again = "give each range once"
    lines = read_table(text, COLUMNS, MOST_LINES, _line, lambda x: (x[0].casefold(), *x[4:]), again)
    meters: dict[str, list[_Line]] = {}
    for line in lines:
        meters.setdefault(line[0].casefold(), []).append(line)
    return [_meter(of_one) for of_one in meters.values()]


def _line(cells: dict[str, str]) -> _Line:
    name = plain_name(cells.get("meter", ""), "a meter")
    what = cells.get("measures", "").strip().casefold()
    if what not in MEASURED:
        msg = f"“{what}” is not what a range measures: volts, amps or ohms"
        raise LowfoldError(msg)
    words = cells.get("range", "").strip()
    read_range(words, what)
    of_full = cells.get("of_full", "").strip().casefold()
    if of_full not in YES | NO:
        msg = f"“{of_full}” is neither yes nor no: does the accuracy count of full scale?"
        raise LowfoldError(msg)
    whole = cells.get("input", "").strip(), cells.get("leads", "").strip()
    read_meter(name, {"input": whole[0], "leads": whole[1], what: words})
    return (name, *whole, of_full in YES, what, words)


def _meter(lines: Sequence[_Line]) -> MeterModel:
    name, put_in, leads, of_full = lines[0][:4]
    differing = next((x for x in lines if x[1:4] != lines[0][1:4]), None)
    if differing is not None:
        msg = f"lines of {name} differ in what belongs to the whole meter: input, leads, of_full"
        raise BrokenFile([BadLine(1, msg)])
    words = {"input": put_in, "leads": leads}
    for line in lines:
        words[line[4]] = "\n".join(filter(None, (words.get(line[4], ""), line[5])))
    try:
        return read_meter(name, words, of_full=of_full)
    except LowfoldError as error:
        raise BrokenFile([BadLine(1, f"{name}: {error.message}")]) from error


def write_meters(meters: Sequence[MeterModel]) -> str:
    """Write meters as CSV text that `read_meters` reads back the same."""
    rows = []
    for meter in meters:
        whole = meter_in_words(meter)
        for what in MEASURED:
            rows += [
                (
                    meter.name,
                    whole["input"],
                    whole["leads"],
                    "yes" if meter.of_full else "no",
                    what,
                    range_in_words(one, what),
                )
                for one in getattr(meter, what)
            ]
    return write_table(COLUMNS, iter(rows))
