"""A meter as somebody sets it, on a board: the wrong jack, a blown fuse, a range too small.

With its lead in a jack for current a meter is a short between its leads, whatever its switch says;
more current than the jack's fuse stands blows it (common practice).
"""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import Final

from lowfold.core.bench.built_board import BuiltBoard
from lowfold.core.bench.expect import displayed, expect
from lowfold.core.bench.models import Measured, MeterModel, Range
from lowfold.core.bench.points import Point, nominal_gaps, with_voltmeter
from lowfold.core.errors import DomainError
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, Kind, write

__all__ = ["NEW_FUSE_EFFORT", "Shown", "jacks_of", "look", "range_words"]

KINDS: Final[dict[Measured, Kind]] = {"volts": VOLT, "amps": AMPERE, "ohms": OHM}
NEW_FUSE_EFFORT: Final = 5.0  #: of opening a meter, a voltage being 1


@dataclass(frozen=True, slots=True)
class Shown:
    """What the display shows, and what went wrong on the way."""

    value: float | None  #: None is over range
    shows: str
    overload: bool
    jack: str  #: where the lead is
    range: Range
    blew: bool  #: the fuse of that jack, now
    blown: bool  #: it is, now or since before
    tells: bool  #: the reading is of the point; else the meter is set wrongly
    words: str


def jacks_of(model: MeterModel) -> tuple[str, ...]:
    """Return the jacks that a meter has."""
    every = (*model.volts, *model.amps, *model.ohms)
    return tuple(dict.fromkeys(r.jack for r in every))


def range_words(chosen: Range, unit: Measured) -> str:
    """Write a range by its end.

    Parameters
    ----------
    unit : str
        `volts`, `amps` or `ohms`.
    """
    return write(chosen.full, KINDS[unit], 3, trim=True)


def look(
    board: BuiltBoard,
    point: Point,
    full: float | None = None,
    jack: str | None = None,
    blown: Collection[str] = (),
) -> Shown:
    """Return what the meter shows with its lead in a jack.

    Parameters
    ----------
    full : float, optional
        Of the range that is set; not given, the meter finds its own among those of the jack.
    jack : str, optional
        Not given, the right one for the reading.
    blown : collection of str
        Jacks whose fuse is blown.

    Raises
    ------
    DomainError
        For a jack or a range that the meter has not.
    """
    model = board.model
    ranges: tuple[Range, ...] = getattr(model, point.measured)
    chosen = board.read(point, full).range
    lead = _jack_named(model, jack) if jack is not None else chosen.jack
    if point.kind == "current":
        return _current(board, point, full, lead, chosen, blown)
    if lead not in {r.jack for r in ranges}:
        return _short(board, point, lead, chosen, blown)
    return _told(board, point, chosen, full, lead)


def _jack_named(model: MeterModel, name: str) -> str:
    wanted = " ".join(name.split()).casefold()
    for jack in jacks_of(model):
        if jack.casefold() == wanted:
            return jack
    msg = f"{model.name} has no jack “{name}”; there are: {', '.join(jacks_of(model))}"
    raise DomainError(msg, field="jack")


def _told(board: BuiltBoard, point: Point, chosen: Range, full: float | None, lead: str) -> Shown:
    """Return a reading of the point itself."""
    reading = board.read(point, chosen.full)
    shows = displayed(reading.value, point.measured, reading.range)
    over = reading.value is None
    words = ""
    if over:
        end = range_words(reading.range, point.measured)
        words = f"over the {end} range" if full is not None else "over every range: nothing joins"
    return Shown(
        reading.value, shows, over, lead, reading.range, blew=False, blown=False, tells=True,
        words=words,
    )  # fmt: skip


def _nothing(
    point: Point,
    lead: str,
    chosen: Range,
    words: str,
    *,
    blew: bool = False,
    blown: bool = False,
) -> Shown:
    """Return a display that tells nothing of the point."""
    over = point.kind == "resistance"
    value = None if over else 0.0
    shows = displayed(value, point.measured, chosen)
    return Shown(value, shows, over, lead, chosen, blew, blew or blown, tells=False, words=words)


def _current(
    board: BuiltBoard,
    point: Point,
    full: float | None,
    lead: str,
    chosen: Range,
    blown: Collection[str],
) -> Shown:
    of_jack = tuple(r for r in board.model.amps if r.jack == lead)
    if not of_jack:
        words = f"the lead is in {lead}: no current gets through the meter, and the wire is open"
        return _nothing(point, lead, chosen, words)
    if full is not None and chosen.jack != lead:
        end = range_words(chosen, "amps")
        words = f"the {end} range is the {chosen.jack} jack’s, and the lead is in {lead}"
        return _nothing(point, lead, chosen, words)
    if lead in blown:
        words = f"the fuse of the {lead} jack is blown: the wire is open, and nothing flows"
        return _nothing(point, lead, chosen, words, blown=True)
    if full is None:
        chosen = replace(board, model=replace(board.model, amps=of_jack)).read(point).range
    found = expect(board.box, point, board.model, chosen.full)
    amps = abs(found.span.nominal) if found.span is not None else 0.0
    if chosen.fuse_amps is not None and amps > chosen.fuse_amps:
        words = f"{_amps(amps)} went through the {lead} jack: its {_amps(chosen.fuse_amps)} fuse"
        return _nothing(point, lead, chosen, f"{words} is blown", blew=True)
    return _told(board, point, chosen, chosen.full if full is None else full, lead)


def _short(
    board: BuiltBoard, point: Point, lead: str, chosen: Range, blown: Collection[str]
) -> Shown:
    """Return what is shown with the lead in a jack for current, and volts or ohms set."""
    if point.kind == "resistance":
        words = f"the lead is in the {lead} jack: nothing lies between the meter’s own terminals"
        return _nothing(point, lead, chosen, words)
    if lead in blown:
        words = f"the lead is in the {lead} jack, and its fuse is blown: the meter sees nothing"
        return _nothing(point, lead, chosen, words, blown=True)
    shunt = min((r for r in board.model.amps if r.jack == lead), key=lambda r: r.burden_ohms)
    shorted = with_voltmeter(board.box, point, shunt.burden_ohms)
    volts = float(nominal_gaps(shorted)[point.at, point.against])
    amps = abs(volts) / shunt.burden_ohms if math.isfinite(volts) else 0.0
    told = f"the lead is in the {lead} jack, so the meter is a short there: {_amps(amps)} "
    if shunt.fuse_amps is not None and amps > shunt.fuse_amps:
        words = f"{told}went through it, and its {_amps(shunt.fuse_amps)} fuse is blown"
        return _nothing(point, lead, chosen, words, blew=True)
    return _nothing(point, lead, chosen, f"{told}go through it, and no volts are left")


def _amps(amps: float) -> str:
    return write(amps, AMPERE, 2, trim=True)
