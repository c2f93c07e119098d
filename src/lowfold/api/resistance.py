"""POST /api/resistance/search."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import Field
from pydantic.config import JsonDict

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import (
    Allowance,
    Answer,
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


class Candidate(Answer):
    """One combination."""

    expression: str = Field(description="In the network notation", examples=["4k3 + 20"])
    parts: int
    resistance_ohm: float = Field(validation_alias="ohms")
    error: float = Field(description="resistance / target − 1")
    lowest_ohm: float = Field(validation_alias="lowest_ohms")
    highest_ohm: float = Field(validation_alias="highest_ohms")


class FrontierCandidate(Candidate):
    """The best of exactly so many parts."""

    worthwhile: bool = Field(
        description="False where the |error| it removes is below a tenth of the part tolerance"
    )


class ResistanceAnswer(Answer):
    candidates: list[Candidate]
    frontier: list[FrontierCandidate]
    exact: bool = Field(description="No allowed combination is nearer than the first candidate")
    searched: int = Field(description="Combinations the candidates are the best of")
    reason: str | None = Field(description="Why there is no candidate")


@router.post("/search", responses=responses(422, 503))
def search(ask: ResistanceAsk, drawer: DrawerDep) -> ResistanceAnswer:
    """Find the combinations of standard parts nearest to a resistance, provably."""
    found = search_resistance(ask.to_core(drawer))
    return ResistanceAnswer(
        candidates=[Candidate.model_validate(c) for c in found.candidates],
        frontier=[
            FrontierCandidate(
                **Candidate.model_validate(f.best).model_dump(), worthwhile=f.worthwhile
            )
            for f in found.frontier
        ],
        exact=True,
        searched=found.searched,
        reason=found.reason,
    )
