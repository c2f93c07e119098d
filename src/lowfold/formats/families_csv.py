"""Part families as a CSV file: one family a line, with its figures."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from lowfold.core.errors import LowfoldError
from lowfold.core.parts.families import Family
from lowfold.core.parts.ratings import FULL_POWER_C, ZERO_POWER_C
from lowfold.core.values.names import plain_name
from lowfold.core.values.quantities import (
    CELSIUS,
    FRACTION,
    PPM_PER_KELVIN,
    VOLT,
    WATT,
    Kind,
    read,
    write,
)
from lowfold.formats.tables import read_table, write_table

__all__ = ["COLUMNS", "read_families", "write_families"]

COLUMNS: Final = (
    "family",
    "tolerance",
    "tcr",
    "drift",
    "power",
    "limiting",
    "full_to",
    "none_from",
)
MOST_LINES: Final = 200
DIGITS: Final = 9


def read_families(text: str) -> list[Family]:
    """Read families from CSV text; `power` is needed beside the name, the rest has usual figures.

    Raises
    ------
    BrokenFile
        Naming every line that is wrong and what would be right.
    """
    again = "give its figures once"
    return read_table(text, COLUMNS, MOST_LINES, _family, lambda f: f.name.casefold(), again)


def _family(cells: dict[str, str]) -> Family:
    def figure(column: str, kind: Kind, usual: float) -> float:
        text = cells.get(column, "").strip()
        return read(text, kind) if text else usual

    if not cells.get("power", "").strip():
        msg = "the power is missing: write it like 100 mW or 1/4 W"
        raise LowfoldError(msg)
    limiting = cells.get("limiting", "").strip()
    return Family(
        name=plain_name(cells.get("family", ""), "a family"),
        tolerance=figure("tolerance", FRACTION, 0.01),
        tcr_ppm=figure("tcr", PPM_PER_KELVIN, 100.0),
        drift=figure("drift", FRACTION, 0.01),
        rated_watts=read(cells["power"], WATT),
        limiting_volts=read(limiting, VOLT) if limiting else None,
        full_power_c=figure("full_to", CELSIUS, FULL_POWER_C),
        zero_power_c=figure("none_from", CELSIUS, ZERO_POWER_C),
    )


def write_families(families: Sequence[Family]) -> str:
    """Write families as CSV text that `read_families` reads back the same."""

    def shown(value: float, kind: Kind) -> str:
        return write(value, kind, DIGITS, trim=True).replace("−", "-")

    return write_table(
        COLUMNS,
        (
            (
                f.name,
                shown(f.tolerance, FRACTION),
                shown(f.tcr_ppm, PPM_PER_KELVIN),
                shown(f.drift, FRACTION),
                shown(f.rated_watts, WATT),
                "" if f.limiting_volts is None else shown(f.limiting_volts, VOLT),
                shown(f.full_power_c, CELSIUS),
                shown(f.zero_power_c, CELSIUS),
            )
            for f in families
        ),
    )
