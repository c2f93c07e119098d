"""What a part that has to be found in the bin most likely says it is (common practice).

Leaded film has bands: five where it is 2 % or tighter, else four. Wirewound parts have their value
printed. Chips have digits: four where they are tighter than 2 %, else three; 0603 at 1 % has the
two digits and a letter of E96 where the value is one; below that size nothing is marked.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal
from typing import Final, Literal

from lowfold.core.marks.bands import write_bands
from lowfold.core.marks.codes import why_not, write_codes

__all__ = ["Appearance", "appearance_of"]

Look = Literal["bands", "chip", "printed"]

TIGHT: Final = 0.02  #: and below it: five bands
FOUR_DIGITS: Final = 0.0199  #: and below it: four digits on a chip
CHIP: Final = re.compile(r"(?<!\d)(01005|0201|0402|0603|0805|1206|1210|1812|2010|2512)(?!\d)")
UNMARKED: Final = {"01005", "0201", "0402"}  #: inch sizes


@dataclass(frozen=True, slots=True)
class Appearance:
    """What is to be seen on a part."""

    look: Look
    bands: tuple[str, ...] = ()
    code: str = ""
    why: str = ""  #: why nothing is marked


def appearance_of(ohms: float, tolerance: float, family: str) -> Appearance:
    """Return what is to be seen on a part.

    Parameters
    ----------
    ohms : float
        Ω, above 0.
    tolerance : float
        Half width, a fraction.
    family : str
        Name of its family, which tells its size and make.
    """
    value = Decimal(repr(float(ohms)))
    codes = write_codes(value)
    chip = CHIP.search(family)
    if chip:
        return _chip(chip[0], tolerance, codes, value)
    if "wire" in family.casefold():
        code = codes["letter"]
        return Appearance("printed", code=code or "", why="" if code else why_not("letter", value))
    counts = (5, 4) if tolerance <= TIGHT else (4, 5)
    rows = [write_bands(value, tolerance, None, count) for count in counts]
    for row in rows:
        if not isinstance(row, str):
            return Appearance("bands", bands=row)
    return Appearance("bands", why=str(rows[0]))


def _chip(size: str, tolerance: float, codes: dict[str, str | None], value: Decimal) -> Appearance:
    if size in UNMARKED:
        return Appearance(
            "chip", why=f"nothing is marked on {size}: keep it in its bag, and measure it"
        )
    kinds = ["three", "four"]
    if tolerance <= FOUR_DIGITS:
        kinds = ["four", "three"]
        if size == "0603":
            kinds = ["e96", "three", "four"]
    code = next((found for kind in kinds if (found := codes[kind])), None)
    return Appearance("chip", code=code or "", why="" if code else why_not(kinds[0], value))
