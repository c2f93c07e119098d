"""Questions and explanations of practice on the wire."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from pydantic import Field

from lowfold.api.drawing_answer import DrawingAnswer
from lowfold.api.fields import Answer
from lowfold.api.points import PointTold
from lowfold.core.errors import DomainError
from lowfold.core.practice.levels import Drill

__all__ = [
    "AnsweredQuestion",
    "Asked",
    "BitsLine",
    "HungLoad",
    "KindOffered",
    "LeadPlace",
    "MeasuredAnswer",
    "Picture",
    "PointOffered",
    "PracticeAnswer",
    "PracticeQuestion",
    "RangeOffered",
    "StepLine",
    "Truth",
    "only_answer",
]

Relation = Literal["series", "parallel", "neither"]


class LeadPlace(Answer):
    x: float
    y: float


class Picture(Answer):
    """A drawing with what is written on it, and what of it is lit."""

    way: Literal["upright", "lying", "slanted"]
    drawing: DrawingAnswer
    shown: dict[str, str] = Field(description="By part: its value as written")
    places: dict[str, LeadPlace] = Field(description="By junction: where a lead goes")
    supply: str
    closed: list[str] = Field(description="Switches that conduct")
    hot: list[str] = Field(description="Parts that it is about")
    beside: list[str] = Field(description="Parts that leave there")
    nets: list[int] = Field(description="Of the wires, the junctions that it is about")


class Asked(Answer):
    what: Literal["voltage", "current", "resistance"]
    at: str | None = None
    through: str | None = None


class HungLoad(Answer):
    at: str
    ohm: float


class PointOffered(PointTold):
    effort: float = Field(description="A voltage being 1")


class RangeOffered(Answer):
    full: float
    shown: str
    jack: str


class KindOffered(Answer):
    kind: str
    words: str
    takes: Literal["part", "two parts", "junction", "two junctions", "nothing"]


class MeasuredAnswer(PointTold):
    """What the meter shows, set as it was."""

    value: float | None = Field(description="As displayed; null over range")
    shows: str
    overload: bool
    fuse_blown: bool = Field(description="Of the jack that the lead is in")
    tells: bool = Field(description="Whether the reading is of the point at all")
    range_full: float
    jack: str
    effort: float = Field(description="Of this reading, a new fuse included")
    blown: list[str] = Field(description="Jacks whose fuse is blown from here on")
    where: str = Field(description="The point in words")
    told: str = Field(description="What was set wrongly, or went wrong; empty where nothing did")


class PracticeQuestion(Answer):
    """A question as it is put; what is hidden is not in it."""

    id: int
    drill: Drill
    level: int
    seed: int
    title: str = Field(description="What it goes by: level and number")
    words: str
    again: str = Field(description="Why it comes again; empty for a new one")
    network: str
    own: bool = Field(description="One's own network")
    supply_v: float
    loads: list[HungLoad]
    switches: dict[str, Literal["open", "closed"]]
    picture: Picture
    asked: Asked | None = None
    unit: str | None = Field(None, description="That an estimate is in")
    within: float | None = Field(None, description="How far off an estimate may be, a fraction")
    refs: list[str] | None = None
    tolerance: float | None = None
    meter: str | None = None
    points: list[PointOffered] | None = None
    ranges: dict[str, list[RangeOffered]] | None = Field(None, description="By what is measured")
    jacks: list[str] | None = None
    kinds: list[KindOffered] | None = None


class StepLine(Answer):
    words: str
    picture: Picture | None = None


class Truth(Answer):
    kind: str
    refs: list[str]
    words: str


class BitsLine(Answer):
    """A reading on the way to the fault, and what it told."""

    words: str
    shows: str
    told_bits: float | None = Field(description="null for the start")
    bits_left: float
    truth: float = Field(description="Probability of the fault that it is, those alike counted")
    likeliest: str
    effort: float = Field(description="Of all so far")


class PracticeAnswer(Answer):
    """Whether an answer is right, and why."""

    right: bool
    exact: float | None = Field(None, description="Of an estimate, in the base unit")
    off: float | None = Field(None, description="How far off an estimate is, a signed fraction")
    words: str
    steps: list[StepLine]
    relation: Relation | None = None
    pictures: list[Picture] = []
    truth: Truth | None = None
    taken: list[BitsLine] | None = None
    short: list[BitsLine] | None = None
    note: str = ""


class AnsweredQuestion(Answer):
    """A question, what was measured of it, and its explanation if it was answered."""

    question: PracticeQuestion
    readings: list[MeasuredAnswer]
    given: dict[str, str | float | list[str]] | None
    answer: PracticeAnswer | None


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
