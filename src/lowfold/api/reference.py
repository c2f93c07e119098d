"""POST /api/reference/series: a value among those of every standard series."""

from __future__ import annotations

from fastapi import APIRouter

from lowfold.api.computing import ComputedRoute, quick
from lowfold.api.fields import Ask, Ohms
from lowfold.api.problems import responses
from lowfold.core.values.neighbours import among
from lowfold.core.values.preferred import SERIES, mantissas
from lowfold.core.values.quantities import FRACTION, OHM, write
from lowfold.views.reference import SOLD, SeriesAnswer, SeriesRow, _mantissa

__all__ = ["router"]

router = APIRouter(prefix="/api/reference", tags=["reference"], route_class=ComputedRoute)


class SeriesAsk(Ask):
    """A value to be found."""

    model_config = {"json_schema_extra": {"examples": [{"ohm": "4k12"}]}}

    ohm: Ohms


@router.post("/series", openapi_extra=quick(4000), responses=responses(422))
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
