"""The choice that is shown: its gates, its table, its drawing; and POST /api/sheet/shown."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute, quick
from lowfold.api.fields import Ask
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.core.errors import DomainError
from lowfold.core.needs.kinds import BriefKind, read_brief, weigh
from lowfold.core.sheet.sheet import series_parallel
from lowfold.views.shown import (
    ShownAnswer,
    shown_answer,
)

__all__ = ["router"]

router = APIRouter(prefix="/api/sheet", tags=["sheet"], route_class=ComputedRoute)


class ShownAsk(Ask):
    """A brief as typed, and the choice that is looked at."""

    kind: BriefKind
    brief: AskedBrief = Field(default_factory=dict)
    choice: str = Field(max_length=20_000)


@router.post("/shown", openapi_extra=quick(3000), responses=responses(422, 503))
def shown(ask: ShownAsk, families: FamiliesDep) -> ShownAnswer:
    """Weigh one choice and draw it, as the sheet does with the one under the cursor."""
    need = read_brief(ask.kind, known_texts(ask.kind, ask.brief), families).need
    if need is None:
        msg = "the brief is not understood yet, so nothing can be weighed against it"
        raise DomainError(msg, field="brief")
    return shown_answer(weigh(need, series_parallel(ask.choice)))
