"""POST /api/reference/series: a value among those of every standard series."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Answer, Ask, Ohms
from lowfold.api.problems import responses
from lowfold.core.values.neighbours import among
from lowfold.core.values.preferred import SERIES, mantissas
from lowfold.core.values.quantities import FRACTION, OHM, write

__all__ = ["router"]

router = APIRouter(prefix="/api/reference", tags=["reference"], route_class=ComputedRoute)

#: What parts of a series are usually sold at (IEC 60063 and common practice).
SOLD = {
    "E3": "", "E6": "± 20 %", "E12": "± 10 %", "E24": "± 5 %, 1 % too", "E48": "± 2 %",
    "E96": "± 1 %", "E192": "± 0.5 % and tighter",
}  # fmt: skip


class SeriesAsk(Ask):
    """A value to be found."""

    model_config = {"json_schema_extra": {"examples": [{"ohm": "4k12"}]}}

    ohm: Ohms


class SeriesRow(Answer):
    name: str
    sold: str = Field(description="At which tolerance, usually")
    values: list[str] = Field(description="One decade, as written")
    place: int = Field(description="Of the nearest value in that decade, from 0")
    has: bool
    nearest_ohm: float
    below_ohm: float
    above_ohm: float
    nearest: str
    below: str
    above: str
    off: str = Field(description="How far the nearest is off; empty where it is the value")


class SeriesAnswer(Answer):
    ohm: float
    shown: str
    power: int = Field(description="Of ten, that a value of the tables is times for its decade")
    series: list[SeriesRow]


@router.post("/series", responses=responses(422))
def series(ask: SeriesAsk) -> SeriesAnswer:
    """Find a value in the tables of every series, with its neighbours."""

    def shown(ohms: float) -> str:
        return write(ohms, OHM, 6, trim=True)

    rows = []
    for found in among(ask.ohm):
        off = found.off(ask.ohm)
        sign = "+" if off > 0 else ""
        rows.append(
            SeriesRow(
                name=found.series,
                sold=SOLD[found.series],
                values=[_mantissa(m, found.series) for m in mantissas(found.series)],
                place=found.place,
                has=found.nearest == ask.ohm,
                nearest_ohm=found.nearest,
                below_ohm=found.below,
                above_ohm=found.above,
                nearest=shown(found.nearest),
                below=shown(found.below),
                above=shown(found.above),
                off="" if found.nearest == ask.ohm else sign + write(off, FRACTION, 3),
            )
        )
    assert [row.name for row in rows] == list(SERIES)
    power = int(f"{ask.ohm:.12e}".partition("e")[2])
    return SeriesAnswer(ohm=ask.ohm, shown=shown(ask.ohm), power=power, series=rows)


def _mantissa(value: int, series: str) -> str:
    two_digits = all(m % 10 == 0 for m in mantissas(series))
    return f"{value / 100:.{1 if two_digits else 2}f}"
