"""POST /api/ladder/search."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field
from pydantic.config import JsonDict

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import (
    Amps,
    Ask,
    Ohms,
    PositiveAmps,
    PositiveVolts,
    SourceOhms,
    Tolerance,
    Volts,
)
from lowfold.api.problems import responses
from lowfold.api.sessions import DrawerDep
from lowfold.api.values import Values
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.search.ladder import LadderNeed, TapNeed
from lowfold.core.search.ladder_search import search_ladder
from lowfold.views.found import LadderAnswer, LadderCandidate

__all__ = ["router"]

router = APIRouter(prefix="/api/ladder", tags=["ladder"], route_class=ComputedRoute)

EXAMPLE: JsonDict = {
    "supply_v": "12 V",
    "taps": [{"target_v": "8 V"}, {"target_v": "4 V", "load_ohm": "1M"}],
    "values": {"series": ["E24"]},
    "max_current_a": "200 µA",
    "limit": 5,
}


class TapAsk(Ask):
    target_v: PositiveVolts
    load_ohm: Ohms | None = Field(None, description="From the tap to 0 V")
    load_a: Amps | None = None


class LadderAsk(Ask):
    """Several voltages from one string."""

    model_config = {"json_schema_extra": {"examples": [EXAMPLE]}}

    supply_v: PositiveVolts
    supply_tolerance: Tolerance = 0.0
    source_ohm: SourceOhms = 0.0
    low_v: Volts = Field(0.0, description="Voltage of the other end; loads go to 0 V")
    taps: list[TapAsk] = Field(min_length=1, max_length=4, description="Highest first")
    values: Values = Field(default_factory=lambda: Values(series=["E24"]))
    tolerance: Tolerance = Field(0.01, description="Of each part")
    min_current_a: Amps | None = Field(None, description="From the supply, nominal, loaded")
    max_current_a: PositiveAmps | None = Field(None, description="From the supply, nominal, loaded")
    limit: Annotated[int, Field(ge=1, strict=True)] = 20

    def to_core(self, drawer: tuple[DrawerLine, ...] = ()) -> LadderNeed:
        return LadderNeed(
            supply_volts=self.supply_v,
            supply_tolerance=self.supply_tolerance,
            source_ohms=self.source_ohm,
            low_volts=self.low_v,
            taps=tuple(
                TapNeed(target_volts=t.target_v, load_ohms=t.load_ohm, load_amps=t.load_a)
                for t in self.taps
            ),
            pool=self.values.to_core(drawer),
            tolerance=self.tolerance,
            min_amps=self.min_current_a,
            max_amps=self.max_current_a,
            limit=self.limit,
        )


@router.post("/search", responses=responses(422, 503))
def search(ask: LadderAsk, drawer: DrawerDep) -> LadderAnswer:
    """Find the ladders whose worst tap is nearest to its target, one part a position."""
    found = search_ladder(ask.to_core(drawer))
    return LadderAnswer(
        candidates=[LadderCandidate.from_core(c) for c in found.candidates],
        exact=found.exact,
        method=found.method,
        searched=found.searched,
        reason=found.reason,
    )
