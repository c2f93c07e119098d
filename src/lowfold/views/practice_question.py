"""Questions and explanations of practice, as they are seen."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import field
from typing import Any, Literal

from lowfold.core.drawing.schematic import Drawing
from lowfold.core.errors import DomainError
from lowfold.core.practice.levels import Drill
from lowfold.views.point import Named, PointTold
from lowfold.views.view import view

__all__ = [
    "AnsweredQuestion",
    "Asked",
    "BitsLine",
    "ClassLine",
    "HungLoad",
    "KindOffered",
    "LeadPlace",
    "MeasuredAnswer",
    "Measuring",
    "Picture",
    "PointOffered",
    "PracticeAnswer",
    "PracticeQuestion",
    "Put",
    "RangeOffered",
    "Relation",
    "StepLine",
    "Truth",
    "only_answer",
]


Relation = Literal["series", "parallel", "neither"]


@view
class LeadPlace:
    x: float
    y: float


@view
class Picture:
    """A drawing with what is written on it, and what of it is lit."""

    way: Literal["upright", "lying", "slanted"]
    drawing: Drawing
    shown: dict[str, str]  #: By part: its value as written
    places: dict[str, LeadPlace]  #: By junction: where a lead goes
    supply: str
    closed: list[str]  #: Switches that conduct
    hot: list[str]  #: Parts that it is about
    beside: list[str]  #: Parts that leave there
    nets: list[int]  #: Of the wires, the junctions that it is about


@view
class Asked:
    what: Literal["voltage", "current", "resistance"]
    at: str | None = None
    through: str | None = None


@view
class HungLoad:
    at: str
    ohm: float


@view
class PointOffered(PointTold):
    effort: float  #: A voltage being 1


@view
class RangeOffered:
    full: float
    shown: str
    jack: str


@view
class KindOffered:
    kind: str
    words: str
    takes: Literal["part", "two parts", "junction", "two junctions", "nothing"]


@view
class MeasuredAnswer(PointTold):
    """What the meter shows, set as it was."""

    value: float | None  #: As displayed; null over range
    shows: str
    overload: bool
    fuse_blown: bool  #: Of the jack that the lead is in
    tells: bool  #: Whether the reading is of the point at all
    range_full: float
    jack: str
    effort: float  #: Of this reading, a new fuse included
    blown: list[str]  #: Jacks whose fuse is blown from here on
    where: str  #: The point in words
    told: str  #: What was set wrongly, or went wrong; empty where nothing did


@view
class PracticeQuestion:
    """A question as it is put; what is hidden is not in it."""

    id: int
    drill: Drill
    level: int
    seed: int
    title: str  #: What it goes by: level and number
    words: str
    again: str  #: Why it comes again; empty for a new one
    network: str
    own: bool  #: One's own network
    supply_v: float
    loads: list[HungLoad]
    switches: dict[str, Literal["open", "closed"]]
    picture: Picture
    asked: Asked | None = None
    unit: str | None = None  #: That an estimate is in
    within: float | None = None  #: How far off an estimate may be, a fraction
    refs: list[str] | None = None
    tolerance: float | None = None
    meter: str | None = None
    points: list[PointOffered] | None = None
    ranges: dict[str, list[RangeOffered]] | None = None  #: By what is measured
    jacks: list[str] | None = None
    kinds: list[KindOffered] | None = None


#: Makes a question as it is put, of what every question has and what its drill adds.
Put = Callable[..., PracticeQuestion]


@view
class Measuring:
    """Where a hidden board is measured, and how the meter is set."""

    point: Named
    range_full: float | None = None
    jack: str | None = None
    new_fuse: bool = False


@view
class StepLine:
    words: str
    picture: Picture | None = None


@view
class Truth:
    kind: str
    refs: list[str]
    words: str


@view
class BitsLine:
    """A reading on the way to the fault, and what it told."""

    words: str
    shows: str
    told_bits: float | None  #: null for the start
    bits_left: float
    truth: float  #: Probability of the fault that it is, those alike counted
    likeliest: str
    effort: float  #: Of all so far


@view
class PracticeAnswer:
    """Whether an answer is right, and why."""

    right: bool
    exact: float | None = None  #: Of an estimate, in the base unit
    off: float | None = None  #: How far off an estimate is, a signed fraction
    words: str
    steps: list[StepLine]
    relation: Relation | None = None
    pictures: list[Picture] = field(default_factory=list)
    truth: Truth | None = None
    taken: list[BitsLine] | None = None
    short: list[BitsLine] | None = None
    note: str = ""


@view
class AnsweredQuestion:
    """A question, what was measured of it, and its explanation if it was answered."""

    question: PracticeQuestion
    readings: list[MeasuredAnswer]
    given: dict[str, str | float | list[str]] | None
    answer: PracticeAnswer | None


@view
class ClassLine:
    """A question with its answer, to be printed."""

    question: PracticeQuestion
    readings: list[MeasuredAnswer]  #: Of a fault: what a meter shows, printed
    words: str  #: The answer


def only_answer(given: Mapping[str, Any], wanted: str, like: str) -> Any:
    """Return what a question is answered by.

    Raises
    ------
    DomainError
        Where it is missing, or something else is there as well.
    """
    there = {k for k, v in given.items() if v is not None and v != []}
    if wanted not in there or there - {wanted, "refs"}:
        told = f", not by {', '.join(sorted(there - {wanted}))}" if there else ""
        msg = f"this question is answered by {like}{told}"
        raise DomainError(msg, field=wanted)
    return given[wanted]
