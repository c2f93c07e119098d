"""POST /api/sensor/sheet: a sensor's brief as typed, its choices, curve and gates."""

from __future__ import annotations

from typing import Final

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Ask
from lowfold.api.problems import responses
from lowfold.api.sessions import StockDep
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.core.needs.sensor import read_sensor
from lowfold.core.search.sensor import rule_ohms, search_sensor
from lowfold.core.values.quantities import VOLT
from lowfold.views.figures import must
from lowfold.views.sensor import (
    SensorSheetAnswer,
    WindowEnd,
    _choice,
    _rule_words,
    _shown,
)

__all__ = ["router"]

router = APIRouter(prefix="/api/sensor", tags=["sensor"], route_class=ComputedRoute)

LISTED: Final = 12


class SensorSheetAsk(Ask):
    """A sensor's brief as typed, and the choice that is looked at."""

    brief: AskedBrief = Field(default_factory=dict)
    cursor: str | None = Field(None, max_length=20_000, description="The choice looked at")


@router.post("/sheet", responses=responses(422, 503))
def sensor_sheet(ask: SensorSheetAsk, stock: StockDep) -> SensorSheetAnswer:
    """Read a sensor's brief token by token, and choose the resistor beside it."""
    readings, brief = read_sensor(known_texts("sensor", ask.brief), stock.lines)
    tokens = dict(readings.items())
    if brief is None:
        return SensorSheetAnswer(
            tokens=tokens, choices=[], shown=None, window=[], searched=0, rule="", reason=None
        )
    found = search_sensor(brief.need(LISTED))
    choices = [_choice(brief, leg) for leg in found.legs]
    at = next((k for k, c in enumerate(choices) if c.network == ask.cursor), 0)
    rule = rule_ohms(brief.aim, tuple(p.ohms for p in brief.points))
    return SensorSheetAnswer(
        tokens=tokens,
        choices=choices,
        shown=_shown(brief, found.legs[at]) if found.legs else None,
        window=[WindowEnd(volts=v, shown=must(v, VOLT, 4)) for v in brief.window or ()],
        searched=found.searched,
        rule=_rule_words(brief, rule),
        reason=found.reason,
    )
