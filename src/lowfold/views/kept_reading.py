"""A reading as it goes into the record: what it says, and how it was judged when it was taken."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Final, cast

from lowfold.core.bench.inventory import Inventory
from lowfold.core.bench.models import HANDHELD, model_named
from lowfold.core.bench.points import point_named
from lowfold.core.bench.readings import QUANTITIES, read_taken
from lowfold.core.errors import LowfoldError, TooLargeError
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.record.last_readings import last_readings
from lowfold.core.tokens.names import texts_of
from lowfold.views.point import Named
from lowfold.views.points import named_point
from lowfold.views.round import Buildable, Read, RoundAnswer, buildable, round_answer

__all__ = ["MOST_READINGS", "JudgedReading", "judge_reading", "read_of"]

MOST_READINGS: Final = 400  #: of the newest that a board is gone round with


@dataclass(frozen=True, slots=True)
class JudgedReading:
    facts: dict[str, Any]  #: of its entry
    round: RoundAnswer | None  #: with it; None where it is of another board


def read_of(entry: Mapping[str, Any]) -> Read:
    """Return a reading of a record as a round takes it."""
    point = entry.get("point") or {}
    at = {k: v for k, v in point.items() if v is not None and k in Named.__annotations__}
    return Read(cast("Named", at), entry["text"], entry.get("meter"), entry.get("board"))


def judge_reading(
    fields: Mapping[str, Any], record: Sequence[Mapping[str, Any]], read: Read, stock: Inventory
) -> JudgedReading:
    """Read a reading and judge it in the round that it is taken in.

    One of another board than the design's as it is now says what it says, and is not judged: what
    was expected there is not known any more. So is one of a board that is too large to be gone
    round.

    Parameters
    ----------
    fields : mapping
        Of the design: `kind`, `brief` and `choice`.
    record : sequence of mapping
        Its entries so far, numbered, oldest first.
    read : Read
        Its meter by name, the handheld where none is named.
    stock : Inventory
        The user's own families and meters.

    Raises
    ------
    LowfoldError
        Where the design cannot be built yet, its board has no such point, or there is no such
        meter.
    """
    meter = model_named(read.meter, stock.meters) if read.meter else HANDHELD
    design = _buildable(fields, stock, named=read.board is not None)
    if design is None or read.board not in {None, design.board}:
        circuit = build_circuit(read_text(read.board or ""))
        point_named(circuit, **read.at)
        said = _said(replace(read, meter=meter.name))
        return JudgedReading(said, None)
    read = replace(read, meter=meter.name, board=design.board)
    entries = {entry["number"]: entry for entry in record}
    earlier = [read_of(entries[number]) for number in last_readings(record)][-MOST_READINGS:]
    circuit = design.judged.circuit
    point_named(circuit, **read.at)
    try:
        found = round_answer(design, meter, [*earlier, read], stock.meters)
    except TooLargeError:
        return JudgedReading(_said(read), None)
    asked = named_point(circuit, point_named(circuit, **read.at))
    (step,) = (step for step in found.steps if step.asked == asked)
    limits = {"lowest": step.point.lowest, "highest": step.point.highest, "verdict": step.told}
    judged = {name: told for name, told in limits.items() if told is not None}
    return JudgedReading({**_said(read), **judged}, found)


def _buildable(fields: Mapping[str, Any], stock: Inventory, *, named: bool) -> Buildable | None:
    """Return a design as it can be built; None where it cannot, and the board read is known."""
    try:
        texts = texts_of(fields["brief"])
        return buildable(fields["kind"], texts, fields.get("choice"), stock.families)
    except LowfoldError:
        if named:
            return None
        raise


def _said(read: Read) -> dict[str, Any]:
    taken = read_taken(read.text, read.at["kind"])
    said = {
        "point": dict(read.at),
        "unit": QUANTITIES[read.at["kind"]].unit,
        "meter": read.meter,
        "board": read.board,
        "value": taken.value,
        "overload": taken.overload or None,
    }
    return {name: told for name, told in said.items() if told is not None}
