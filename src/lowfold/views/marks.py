"""What is marked on a part, as it is seen, both ways."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from lowfold.core.marks.bands import Exchanged, exchanged, read_bands
from lowfold.core.marks.codes import LONGEST_CODE, read_code
from lowfold.core.marks.colours import called, colours_in
from lowfold.core.marks.mark import MarkRead, likeliest_first, words_of
from lowfold.core.values.neighbours import beside
from lowfold.core.values.quantities import OHM, write
from lowfold.views.view import under, view

__all__ = ["MarkReadings", "WriteAnswer", "mark_readings", "seen_read", "text_read"]


@view
class MarkReading:
    """One meaning of a mark."""

    ohm: float
    tolerance: float | None  #: A fraction; null where it is not marked
    tcr_ppm: float | None
    lowest_ohm: float
    highest_ohm: float
    end: Literal["left", "right"] = under("from")
    series: list[str]  #: Every standard series that has the value
    holds: bool | None  #: Whether what is measured may be such a part
    words: str
    shown: str
    below_ohm: float | None  #: The next value below in E24, or E96 where it is none of E24
    above_ohm: float | None
    bin: str  #: The same in words: what lies next to it in the bin


@view
class OtherReading(MarkReading):
    """What it would be, were one colour another that is easily taken for it."""

    band: int  #: From 1, as seen from the left
    seen: str
    instead: str


@view
class MarkReadings:
    bands: list[str]  #: The colours understood, in the order seen
    readings: list[MarkReading]  #: The likeliest first
    also: list[OtherReading]


def text_read(text: str, measured: tuple[float, float] | None) -> MarkReadings:
    """Read colours, or else a code, as typed.

    Parameters
    ----------
    text : str
        Colours in the order seen, or a code.
    measured : tuple of float, optional
        The ends of what is measured, Ω.

    Raises
    ------
    DomainError
        For what is neither.
    """
    bands = colours_in(text)
    return seen_read(bands, None if bands else text.strip(), measured)


def seen_read(
    bands: Sequence[str] | None, code: str | None, measured: tuple[float, float] | None
) -> MarkReadings:
    """Read bands, or a code where one is given.

    Parameters
    ----------
    bands : sequence of str, optional
        Colours in the order seen.
    code : str, optional
        As marked.
    measured : tuple of float, optional
        The ends of what is measured, Ω.

    Raises
    ------
    DomainError
        For what is none.
    """
    if code is not None:
        found, others = read_code(code[:LONGEST_CODE]), []
    else:
        found, others = read_bands(bands or []), exchanged(bands or [])
    return mark_readings(bands or [], likeliest_first(found, measured), others, measured)


def mark_readings(
    bands: Sequence[str],
    found: Sequence[MarkRead],
    others: Sequence[Exchanged],
    measured: tuple[float, float] | None,
) -> MarkReadings:
    """Return every meaning of a mark, and what one colour off would be.

    Parameters
    ----------
    bands : sequence of str
        The colours as they were given.
    found : sequence of MarkRead
        The likeliest first.
    others : sequence of Exchanged
        Each with one colour put for another.
    measured : tuple of float, optional
        The ends of what is measured, Ω.
    """
    return MarkReadings(
        bands=[called(name) for name in bands],
        readings=[_reading(read, measured) for read in found],
        also=[
            OtherReading(
                **_facts(other.read, measured), band=other.band, seen=other.seen,
                instead=other.instead,
            )
            for other in others
        ],
    )  # fmt: skip


def _reading(read: MarkRead, measured: tuple[float, float] | None) -> MarkReading:
    return MarkReading(**_facts(read, measured))


def _facts(read: MarkRead, measured: tuple[float, float] | None) -> dict[str, Any]:
    ohms = float(read.ohms)
    # What bins are sorted by (common practice): E24, and E96 for what it has not
    bins = [name for name in ("E24", "E96", "E192") if name in read.series]
    near = beside(ohms, bins[0]) if bins and 1e-3 <= ohms <= 1e12 else None
    shown = [write(v, OHM, 6, trim=True) for v in near or ()]
    return {
        "shown": write(ohms, OHM, 6, trim=True),
        "below_ohm": near[0] if near else None,
        "above_ohm": near[1] if near else None,
        "bin": f"{shown[0]} and {shown[1]} lie next to it in {bins[0]}" if near else "",
        "ohm": float(read.ohms),
        "tolerance": read.tolerance,
        "tcr_ppm": read.tcr_ppm,
        "lowest_ohm": read.lowest,
        "highest_ohm": read.highest,
        "end": read.end,
        "series": list(read.series),
        "holds": None if measured is None else read.holds(*measured),
        "words": words_of(read, measured),
    }


@view
class WriteAnswer:
    bands: dict[str, list[str] | None]  #: By how many bands there are
    codes: dict[str, str | None]  #: letter, three, four, e96
    reasons: dict[str, str]  #: Why there is none, for each that is null
