"""POST /api/divider/search."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import Field
from pydantic.config import JsonDict

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import (
    Allowance,
    Amps,
    Ask,
    Ohms,
    PositiveAmps,
    SourceOhms,
    Tolerance,
    Volts,
)
from lowfold.api.problems import responses
from lowfold.api.sessions import DrawerDep
from lowfold.api.values import Values
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.search.divider import DividerNeed
from lowfold.core.search.divider_search import search_divider
from lowfold.views.found import DividerAnswer, divider_candidate

__all__ = ["LegsAsk", "router"]

router = APIRouter(prefix="/api/divider", tags=["divider"], route_class=ComputedRoute)

EXAMPLE: JsonDict = {
    "supply_v": "14.4 V",
    "supply_tolerance": "3 %",
    "target_v": "3V0",
    "load_ohm": "200k",
    "values": {"series": ["E24"]},
    "max_current_a": "80 µA",
    "limit": 5,
}


class LegsAsk(Ask):
    """What a search of two legs is asked, whatever drives them."""

    values: Values = Field(default_factory=lambda: Values(series=["E24"]))
    max_parts_per_leg: Annotated[int, Field(ge=1, strict=True)] = 1
    tolerance: Tolerance = Field(0.01, description="Of each part")
    min_current_a: Amps | None = Field(
        None, description="Nominal: from the supply, loaded; of a feedback pair, in the lower leg"
    )
    max_current_a: PositiveAmps | None = Field(None, description="As min_current_a")
    max_output_ohm: Ohms | None = Field(
        None, description="Thévenin resistance at the tap, source_ohm included"
    )
    within: Allowance | None = Field(None, description="Accepted |error|")
    limit: Annotated[int, Field(ge=1, strict=True)] = 20
    prefer: Literal["nearest", "worst_case", "least_current"] = "nearest"


class DividerAsk(LegsAsk):
    """A voltage below the one at hand."""

    model_config = {"json_schema_extra": {"examples": [EXAMPLE]}}

    supply_v: Volts
    target_v: Volts
    low_v: Volts = Field(0.0, description="Voltage of the divider's other end")
    supply_tolerance: Tolerance = 0.0
    source_ohm: SourceOhms = Field(0.0, description="In series with the supply")
    load_ohm: Ohms | None = Field(None, description="From the tap to 0 V")
    load_a: Amps | None = Field(None, description="Current drawn from the tap to 0 V")

    def to_core(self, drawer: tuple[DrawerLine, ...] = ()) -> DividerNeed:
        return DividerNeed(
            supply_volts=self.supply_v,
            target_volts=self.target_v,
            pool=self.values.to_core(drawer),
            low_volts=self.low_v,
            supply_tolerance=self.supply_tolerance,
            source_ohms=self.source_ohm,
            load_ohms=self.load_ohm,
            load_amps=self.load_a,
            max_per_leg=self.max_parts_per_leg,
            tolerance=self.tolerance,
            min_amps=self.min_current_a,
            max_amps=self.max_current_a,
            max_output_ohms=self.max_output_ohm,
            within=self.within,
            limit=self.limit,
            prefer=self.prefer,
        )


@router.post("/search", responses=responses(422, 503))
def search(ask: DividerAsk, drawer: DrawerDep) -> DividerAnswer:
    """Find the best dividers for an output under its load, provably."""
    found = search_divider(ask.to_core(drawer))
    return DividerAnswer(
        candidates=[divider_candidate(c) for c in found.candidates],
        exact=True,
        searched=found.searched,
        reason=found.reason,
    )
