"""A board that somebody built with one fault: as it was designed, what is wrong, what is on it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

from lowfold.core.bench.ahead import Ahead, points_ahead, probe_of
from lowfold.core.bench.built_board import BuiltBoard, Reading, built_with
from lowfold.core.bench.diagnosis import Observed
from lowfold.core.bench.models import HANDHELD, MeterModel
from lowfold.core.bench.points import Point
from lowfold.core.bench.suspects import (
    Suspect,
    hides,
    loaded,
    on_the_board,
    part_is,
    supply_is,
    suspects,
)
from lowfold.core.network.circuit import Circuit, build_circuit, junctions
from lowfold.core.network.notation import read_text
from lowfold.core.practice.levels import LEVELS
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.values.quantities import OHM, write

__all__ = [
    "DRAWN",
    "KINDS",
    "METER",
    "TOLERANCE",
    "WRONG_VALUE",
    "FaultQuestion",
    "NamedKind",
    "board_of",
    "box_of",
    "box_with",
    "observed_at",
    "points_of",
    "truth_of",
]

NamedKind = Literal[
    "open", "short", "decade", "bridge", "misread", "swapped", "load", "neighbour", "supply",
    "series resistance", "value",
]  # fmt: skip
#: Kinds that may be drawn at a level.
DRAWN: Final[dict[int, tuple[NamedKind, ...]]] = {
    1: ("open", "short"),
    2: ("open", "short", "decade", "bridge"),
    3: ("open", "short", "decade", "misread", "swapped", "load"),
    4: ("open", "misread", "swapped", "load", "neighbour", "supply", "series resistance"),
    5: ("swapped", "load", "neighbour", "supply", "series resistance", "value"),
}
#: Kinds that may be named at a level: those of the levels before it too.
KINDS: Final[dict[int, tuple[NamedKind, ...]]] = {
    level: tuple(dict.fromkeys(kind for n in LEVELS if n <= level for kind in DRAWN[n]))
    for level in LEVELS
}
#: A wrong value is one thing, whatever it came from.
WRONG_VALUE: Final = frozenset({"decade", "misread", "neighbour", "value"})
TOLERANCE: Final = 0.05
METER: Final = HANDHELD


@dataclass(frozen=True, slots=True)
class FaultQuestion:
    """A board with one fault."""

    level: int
    seed: int
    network: str
    supply_volts: float
    load_at: str  #: where a load hangs; empty for none
    load_ohms: float
    kind: NamedKind
    refs: tuple[str, ...]
    ohms: float | None  #: what the part is, what hides, what loads
    volts: float | None  #: what the supply is
    lifted_sound: bool  #: the fault is in a joint or between tracks: lifted, the part is sound


def box_of(question: FaultQuestion) -> Box:
    """Return the board as designed, with its tolerances."""
    hung = [(question.load_at, question.load_ohms)] if question.load_at else []
    return box_with(question.network, question.supply_volts, hung)


def box_with(network: str, volts: float, hung: Sequence[tuple[str, float]]) -> Box:
    """Return a network on a supply with its tolerances.

    Parameters
    ----------
    network : str
        As typed.
    volts : float
        V, exact.
    hung : sequence of (str, float)
        Junctions, and what hangs there, Ω.
    """
    circuit = build_circuit(read_text(network))
    named = replace(circuit, names=junctions(circuit))
    loads = tuple(
        LoadRange(Load(named.node(at, field="loads"), ohms=ohms), ohms, ohms) for at, ohms in hung
    )
    return Box(circuit, Supply(volts), loads, (TOLERANCE,) * len(circuit.branches))


def truth_of(question: FaultQuestion, box: Box) -> Suspect:
    """Return what is wrong.

    Parameters
    ----------
    box : Box
        As `box_of` has it.
    """
    kind, refs, circuit = question.kind, question.refs, box.circuit
    if kind == "supply":
        return supply_is(question.volts or 0.0, 1.0)
    if kind == "series resistance":
        return hides(question.ohms or 0.0, 1.0)
    if kind in WRONG_VALUE:
        place, ohms = circuit.branch(refs[0]), question.ohms or 0.0
        sound = write(circuit.branches[place].ohms, OHM, 4, trim=True)
        words = f"{refs[0]} is {write(ohms, OHM, 4, trim=True)} in place of {sound}"
        return part_is(circuit, place, ohms, kind, words, 1.0)
    if kind == "load" and question.ohms is not None:
        return loaded(circuit, _node(circuit, refs[0]), question.ohms, 1.0)
    found = next(s for s in suspects(box).single if s.kind == kind and s.refs == refs)
    return on_the_board(found, circuit) if question.lifted_sound else found


def _node(circuit: Circuit, name: str) -> int:
    return replace(circuit, names=junctions(circuit)).node(name)


def board_of(question: FaultQuestion) -> BuiltBoard:
    """Return the board as it was built, the same each time."""
    box = box_of(question)
    fault = truth_of(question, box).board
    return built_with(box, fault, TOLERANCE, question.seed, METER)


def points_of(box: Box) -> list[Ahead]:
    """Return every point worth measuring of a board."""
    return points_ahead(box, METER, powered=True)


def observed_at(point: Point, reading: Reading, model: MeterModel = METER) -> Observed:
    """Return a reading as a diagnosis takes it."""
    limit = reading.range.limit(reading.value or 0.0, of_full=model.of_full)
    return Observed(probe_of(point, model, reading.range.full), reading.value, limit)
