"""A network's potentials as heights, as they are seen."""

from __future__ import annotations

from lowfold.core.drawing.heights import Heights
from lowfold.core.values.quantities import VOLT
from lowfold.views.figures import Figure, must
from lowfold.views.view import view

__all__ = ["FallAnswer", "HeightsAnswer", "LevelAnswer", "heights_answer"]


@view
class LevelAnswer:
    """A junction: a wire at its potential."""

    name: str
    volts: Figure
    height: float  #: From 0 at the lowest potential to 1 at the highest
    start: float  #: In columns
    stop: float
    label: float  #: Height at which its name stands


@view
class FallAnswer:
    """A part: what falls across it."""

    ref: str
    column: float
    upper: float
    lower: float
    volts: Figure
    shared: list[str]  #: Others between the same two junctions


@view
class HeightsAnswer:
    levels: list[LevelAnswer]  #: Highest first
    falls: list[FallAnswer]
    columns: int


def heights_answer(found: Heights | None, digits: int) -> HeightsAnswer | None:
    """Return the picture with its figures in so many digits."""
    if found is None:
        return None
    return HeightsAnswer(
        levels=[
            LevelAnswer(
                name=level.name,
                volts=must(level.volts, VOLT, digits),
                height=level.height,
                start=level.start,
                stop=level.stop,
                label=level.label,
            )
            for level in found.levels
        ],
        falls=[
            FallAnswer(
                ref=fall.ref,
                column=fall.column,
                upper=fall.upper,
                lower=fall.lower,
                volts=must(fall.volts, VOLT, digits),
                shared=list(fall.shared),
            )
            for fall in found.falls
        ],
        columns=found.columns,
    )
