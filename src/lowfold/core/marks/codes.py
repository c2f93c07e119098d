"""Letter codes and the marks of chips (IEC 60062 and common practice, from memory)."""

from __future__ import annotations

import re
from decimal import Decimal
from typing import Final

from lowfold.core.errors import DomainError
from lowfold.core.marks.mark import MarkRead, series_of
from lowfold.core.values.preferred import mantissas
from lowfold.core.values.quantities import OHM, write

__all__ = ["LONGEST_CODE", "TOLERANCE_LETTERS", "read_code", "why_not", "write_codes"]

LONGEST_CODE: Final = 12
#: Half widths, fractions.
TOLERANCE_LETTERS: Final[dict[str, float]] = {
    "B": 0.001,
    "C": 0.0025,
    "D": 0.005,
    "F": 0.01,
    "G": 0.02,
    "J": 0.05,
    "K": 0.1,
    "M": 0.2,
}
#: Where the point stands, and the power of ten it is in.
POINTS: Final[dict[str, int]] = {"L": -3, "R": 0, "K": 3, "M": 6, "G": 9}
#: Powers of ten behind two digits that index E96; the first of several is written.
E96_LETTERS: Final[dict[str, int]] = {
    "Z": -3, "Y": -2, "R": -2, "X": -1, "S": -1, "A": 0, "B": 1, "H": 1, "C": 2, "D": 3, "E": 4,
    "F": 5,
}  # fmt: skip
#: Of chips marked with three digits and of E24 values; with four or as E96 (common practice).
USUAL, USUAL_FINE = 0.05, 0.01
LETTER: Final = re.compile(r"(?=.*[0-9])([0-9]{0,4})([LRKMG])([0-9]{0,4})([BCDFGJKM]?)")
E96: Final = re.compile(r"([0-9]{2})([ZYRXSABHCDEF])")


def read_code(text: str) -> list[MarkRead]:
    """Return what a code says: every meaning it has.

    Parameters
    ----------
    text : str
        Letter code (4K7, 4K7J), three or four digits (472, 4701), or two digits and a letter (66B).

    Raises
    ------
    DomainError
        For a code that means nothing, with what there is.
    """
    code = text.strip()
    if not code or len(code) > LONGEST_CODE:
        msg = "a code is 1 to 12 characters, like 4K7, 472, 4701 or 66B"
        raise DomainError(msg, field="code")
    if re.fullmatch(r"[0-9]*m[0-9]*", code):
        msg = f"“{code}” could be mega or milli: write M for mega, L for milliohms"
        raise DomainError(msg, field="code")
    upper = code.upper()
    found = [read for read in (_letter(upper), _digits(upper), _e96(upper)) if read is not None]
    if not found:
        raise DomainError(_nothing(code, upper), field="code")
    return found


def _letter(code: str) -> MarkRead | None:
    match = LETTER.fullmatch(code)
    if match is None:
        return None
    before, point, behind, last = match.groups()
    if behind == "" and before == "":
        return None
    ohms = Decimal(f"{before or 0}.{behind or 0}").scaleb(POINTS[point]).normalize()
    if not ohms and point != "R":
        return None
    tolerance = TOLERANCE_LETTERS.get(last)
    if tolerance is not None or not ohms:
        return MarkRead(ohms, tolerance)
    coarse = not {"E3", "E6", "E12", "E24"}.isdisjoint(series_of(ohms))
    return MarkRead(ohms, None, usual=USUAL if coarse else USUAL_FINE)


def _digits(code: str) -> MarkRead | None:
    if re.fullmatch(r"0{1,4}", code):
        return MarkRead(Decimal(0), None)
    if not re.fullmatch(r"[1-9][0-9]{2,3}", code):
        return None
    usual = USUAL if len(code) == 3 else USUAL_FINE
    return MarkRead(Decimal(code[:-1]).scaleb(int(code[-1])), None, usual=usual)


def _e96(code: str) -> MarkRead | None:
    match = E96.fullmatch(code)
    if match is None or not 1 <= int(match.group(1)) <= 96:
        return None
    mantissa = mantissas("E96")[int(match.group(1)) - 1]
    return MarkRead(Decimal(mantissa).scaleb(E96_LETTERS[match.group(2)]), None, usual=USUAL_FINE)


def _nothing(code: str, upper: str) -> str:
    """Say why a code means nothing, and where."""
    if E96.fullmatch(upper):
        return f"“{code}”: the index of E96 goes from 01 to 96"
    if re.fullmatch(r"[0-9]{3,4}", upper):
        return f"“{code}”: a chip's first digit is not 0 (a 0 Ω link is marked 0 or 000)"
    stray = re.search(r"[^0-9LRKMGBCDFJZYXSAHE]", upper)
    if stray:
        letter, place = code[stray.start()], stray.start() + 1
        return f"“{code}”: “{letter}” at character {place} stands in no mark of a resistor"
    return (
        f"“{code}” means nothing: marks are like 4K7 (a letter for the point, and one for the "
        "tolerance behind), 472, 4701, or 66B"
    )


def write_codes(ohms: Decimal) -> dict[str, str | None]:
    """Return how a value is marked: `letter`, `three`, `four` and `e96`; None where it is not.

    Parameters
    ----------
    ohms : Decimal
        Ω, as stated; 0 is a link.
    """
    if not ohms:
        return {"letter": None, "three": "000", "four": "0000", "e96": None}
    return {
        "letter": _letter_of(ohms),
        "three": _chip(ohms, 2),
        "four": _chip(ohms, 3),
        "e96": _e96_of(ohms),
    }


def why_not(kind: str, ohms: Decimal) -> str:
    """Say why a value has no mark of a kind.

    Parameters
    ----------
    kind : str
        `letter`, `three`, `four` or `e96`.
    ohms : Decimal
        Ω.
    """
    shown = write(float(ohms), OHM, 8, trim=True) if ohms else "a 0 Ω link"
    return {
        "letter": f"{shown} has more figures than a letter code of five characters",
        "three": f"{shown} does not fit two digits and a power of ten, or two digits about an R",
        "four": f"{shown} does not fit three digits and a power of ten, or three digits about an R",
        "e96": f"{shown} is no value of E96 from 0.1 Ω to 97.6 MΩ",
    }[kind]


def _letter_of(ohms: Decimal) -> str | None:
    for letter, power in reversed(POINTS.items()):
        least = Decimal("0.01") if letter == "R" else Decimal(1).scaleb(power)
        if letter == "L" or ohms >= least:
            scaled = ohms.scaleb(-power).normalize()
            before, _, behind = f"{scaled:f}".partition(".")
            before = "" if before == "0" and letter == "R" else before
            behind = behind or ("0" if len(before) == 1 else "")
            code = f"{before}{letter}{behind if before else behind.ljust(2, '0')}"
            return code if len(code) <= 5 else None
    return None


def _chip(ohms: Decimal, count: int) -> str | None:
    """Return `count` digits and a power of ten, or `count` digits about an R."""
    power = ohms.adjusted() - count + 1
    mantissa = ohms.scaleb(-power)
    if mantissa != int(mantissa):
        return None
    if 0 <= power <= 9:
        return f"{int(mantissa)}{power}"
    if power < 0:
        scaled = f"{ohms:.{-power}f}"
        before, _, behind = scaled.partition(".")
        code = f"{'' if before == '0' else before}R{behind}"
        return code if len(code) <= count + 1 else None
    return None


def _e96_of(ohms: Decimal) -> str | None:
    power = ohms.adjusted() - 2
    mantissa = ohms.scaleb(-power)
    letter = next((name for name, stands in E96_LETTERS.items() if stands == power), None)
    if mantissa != int(mantissa) or letter is None or int(mantissa) not in mantissas("E96"):
        return None
    return f"{mantissas('E96').index(int(mantissa)) + 1:02d}{letter}"
