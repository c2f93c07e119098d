"""Which readings of a record stand: one rule for bench, paper and file."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

__all__ = ["last_readings"]


def last_readings(record: Iterable[Mapping[str, Any]]) -> list[int]:
    """Return the numbers of the readings that stand, oldest first.

    That is the newest at each point of each board, where it is not taken back: what was read there
    before does not stand again.

    Parameters
    ----------
    record : iterable of mapping
        Its entries, oldest first, each with `number`, `kind`, and the facts of its kind; a
        correction names the number of what it takes back.
    """
    newest: dict[str, int] = {}
    taken_back = set()
    for entry in record:
        if entry["kind"] == "correction":
            taken_back.add(entry.get("corrects"))
        elif entry["kind"] == "reading":
            point = entry.get("point") or {}
            where = sorted((k, v) for k, v in point.items() if v is not None and k != "range_full")
            newest[repr((entry.get("board"), where))] = entry["number"]
    return sorted(number for number in newest.values() if number not in taken_back)
