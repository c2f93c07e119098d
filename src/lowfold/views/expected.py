"""What a meter should say, point by point."""

from __future__ import annotations

from dataclasses import field

from lowfold.core.bench.expect import Expected, shown_on
from lowfold.core.bench.handling import handling
from lowfold.core.bench.points import (
    Point,
    words_of,
)
from lowfold.core.checking.cautions import Caution
from lowfold.core.errors import LowfoldError
from lowfold.core.network.circuit import Circuit
from lowfold.views.point import Named, PointTold
from lowfold.views.view import view

__all__ = ["ExpectAnswer", "PointAnswer", "point_answer"]


@view
class PointAnswer(PointTold):
    """What the meter should say at a point; the point as it was asked for, or as it can be."""

    expected: float | None = None  #: With the meter connected; null: nothing joins it
    lowest: float | None = None  #: Exact over the box, with the limit of error
    highest: float | None = None
    ideal: float | None = None  #: Without the meter
    loading: float | None = None  #: expected / ideal − 1
    range_full: float | None = None  #: null for a meter without ranges
    resolution: float | None = None
    shows: str = ""  #: As the display has it
    jack: str | None = None
    overload: bool = False
    cautions: list[Caution] = field(default_factory=list)
    unsearched: str = ""  #: Why the ends could not be worked out at this point


@view
class ExpectAnswer:
    meter: str
    points: list[PointAnswer]


def point_answer(
    circuit: Circuit, point: Point, found: Expected | LowfoldError, asked: Named
) -> PointAnswer:
    """Return what is expected at a point, or why that could not be worked out."""
    words = words_of(circuit, point)
    if isinstance(found, LowfoldError):
        return PointAnswer(**asked, words=words, unsearched=found.message)
    span, chosen = found.span, found.range
    return PointAnswer(
        **asked,
        words=words,
        expected=None if span is None else span.nominal,
        lowest=found.low,
        highest=found.high,
        ideal=found.ideal,
        loading=found.loading,
        range_full=chosen.full if chosen else None,
        resolution=chosen.resolution if chosen else None,
        shows=shown_on(found),
        jack=chosen.jack if chosen and chosen.jack else None,
        overload=found.overload,
        cautions=list(handling(found)),
    )
