"""POST /api/sheet/beside: two choices of one need side by side."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Ask
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.core.errors import DomainError
from lowfold.core.needs.kinds import KINDS, BriefKind, read_brief, weigh
from lowfold.core.sheet.beside import set_beside
from lowfold.core.sheet.sheet import series_parallel
from lowfold.views.beside import BesideAnswer, beside_answer

__all__ = ["router"]

router = APIRouter(prefix="/api/sheet", tags=["sheet"], route_class=ComputedRoute)


class BesideAsk(Ask):
    """A brief as typed, and two choices for it."""

    kind: BriefKind
    brief: AskedBrief = Field(default_factory=dict)
    one: str = Field(max_length=20_000)
    two: str = Field(max_length=20_000)


@router.post("/beside", responses=responses(422, 503))
def beside(ask: BesideAsk, families: FamiliesDep) -> BesideAnswer:
    """Weigh two choices of one need and say line by line how they differ."""
    need = read_brief(ask.kind, known_texts(ask.kind, ask.brief), families).need
    if need is None:
        msg = "the brief is not understood yet, so nothing can be weighed against it"
        raise DomainError(msg, field="brief")
    one, two = (weigh(need, series_parallel(text)) for text in (ask.one, ask.two))
    return beside_answer(one, two, set_beside(one, two, KINDS[ask.kind].unit))
