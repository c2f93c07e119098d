"""POST /api/need/read: a need said in one line, read into the tokens of its sheet."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Ask
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.core.one_line.reading import LineKind
from lowfold.core.one_line.several import MOST_LINES, read_needs_said
from lowfold.core.one_line.words import LONGEST
from lowfold.core.one_line.writing import Written, write_one_line
from lowfold.views.need import NeedAnswer, need_answer

__all__ = ["router"]

router = APIRouter(prefix="/api/need", tags=["need"], route_class=ComputedRoute)


class NeedAsk(Ask):
    """A need as somebody says it."""

    model_config = {
        "json_schema_extra": {
            "examples": [{"text": "14.4 V to 3 V within 4 % into 1 MΩ, at most 80 µA"}]
        }
    }

    text: Annotated[str, Field(max_length=MOST_LINES * LONGEST)]


class BriefAsk(Ask):
    """A need as its sheet has it."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {"kind": "divider", "brief": {"supply_v": "14.4 V", "target_v": "3 V"}},
            ]
        }
    }

    kind: LineKind
    brief: AskedBrief = Field(default_factory=dict)


@router.post("/read", responses=responses(422, 503))
def read_need(ask: NeedAsk, families: FamiliesDep) -> NeedAnswer:
    """Read a need said in one line; what is not understood is marked, never guessed."""
    return need_answer(ask.text, read_needs_said(ask.text, families))


@router.post("/write", responses=responses(422, 503))
def write_need(ask: BriefAsk, families: FamiliesDep) -> Written:
    """Write a need as one line that reads back to the same; what has no words is named."""
    return write_one_line(ask.kind, known_texts(ask.kind, ask.brief), families)
