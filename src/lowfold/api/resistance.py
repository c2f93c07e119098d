"""POST /api/resistance/search."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import Field
from pydantic.config import JsonDict

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import (
    Allowance,
    Ask,
    Ohms,
    PositiveAmps,
    PositiveVolts,
    Stress,
    Tolerance,
    Watts,
)
from lowfold.api.problems import responses
from lowfold.api.sessions import DrawerDep
from lowfold.api.values import Values
from lowfold.core.parts.ratings import STRESS
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.search.resistance_search import (
    MOST_SERIES_PARTS,
    ResistanceNeed,
    search_resistance,
)
from lowfold.views.found import ResistanceAnswer, resistance_answer

__all__ = ["router"]

router = APIRouter(prefix="/api/resistance", tags=["resistance"], route_class=ComputedRoute)

EXAMPLE: JsonDict = {
    "target_ohm": "4k32",
    "values": {"series": ["E24"]},
    "max_parts": 2,
    "tolerance": "1 %",
    "limit": 5,
}


class ResistanceAsk(Ask):
    """A resistance nobody makes."""

    model_config = {"json_schema_extra": {"examples": [EXAMPLE]}}

    target_ohm: Ohms
    values: Values = Field(default_factory=lambda: Values(series=["E24"]))
    max_parts: Annotated[int, Field(ge=1, strict=True)] = Field(
        2,
        description=f"Parts per combination: 1 to {MOST_SERIES_PARTS}, or 6 from a small stock",
    )
    tolerance: Tolerance = Field(0.01, description="Of each part")
    limit: Annotated[int, Field(ge=1, strict=True)] = 20
    within: Allowance | None = Field(
        None, description="Accepted |error|: only candidates within it"
    )
    prefer: Literal["nearest", "fewest"] = Field(
        "nearest", description="`fewest` (parts first, then |error|) needs `within`"
    )
    across_v: PositiveVolts | None = Field(None, description="Voltage across the whole")
    through_a: PositiveAmps | None = Field(None, description="Current through the whole")
    part_rating_w: Watts | None = Field(None, description="Rating of each chosen part")
    stress: Stress = Field(STRESS, description="Share of the rating that may be used")
    fixed_ohm: Ohms | None = Field(None, description="A measured part already in place")

    def to_core(self, drawer: tuple[DrawerLine, ...] = ()) -> ResistanceNeed:
        return ResistanceNeed(
            target_ohms=self.target_ohm,
            pool=self.values.to_core(drawer),
            max_parts=self.max_parts,
            tolerance=self.tolerance,
            limit=self.limit,
            within=self.within,
            prefer=self.prefer,
            across_volts=self.across_v,
            through_amps=self.through_a,
            part_watts=self.part_rating_w,
            stress=self.stress,
            fixed_ohms=self.fixed_ohm,
        )


@router.post("/search", responses=responses(422, 503))
def search(ask: ResistanceAsk, drawer: DrawerDep) -> ResistanceAnswer:
    """Find the combinations of standard parts nearest to a resistance, provably."""
    found = search_resistance(ask.to_core(drawer))
    return resistance_answer(found)
