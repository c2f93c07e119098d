"""POST /api/need/read: a need said in one breath, read into the tokens of its sheet."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import ConfigDict, Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Answer, Ask
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.core.needs.breath import read_breath
from lowfold.core.needs.breath_words import LONGEST

__all__ = ["router"]

router = APIRouter(prefix="/api/need", tags=["need"], route_class=ComputedRoute)


class NeedAsk(Ask):
    """A need as somebody says it."""

    model_config = {
        "json_schema_extra": {
            "examples": [{"text": "14.4 V to 3 V within 4 % into 1 MΩ, at most 80 µA"}]
        }
    }

    text: Annotated[str, Field(max_length=LONGEST)]


class UnderstoodAnswer(Answer):
    """A piece of the text that a token holds; `from` and `to` count characters."""

    model_config = ConfigDict(populate_by_name=True, serialize_by_alias=True)

    start: int = Field(alias="from")
    end: int = Field(alias="to")
    token: str


class UnreadAnswer(Answer):
    """A piece of the text that was not understood, and why."""

    model_config = ConfigDict(populate_by_name=True, serialize_by_alias=True)

    start: int = Field(alias="from")
    end: int = Field(alias="to")
    text: str
    message: str


class NeedAnswer(Answer):
    kind: Literal["resistance", "divider", "feedback", "ladder"] | None = Field(
        description="null where nothing says what is wanted"
    )
    tokens: dict[str, str] = Field(description="What was said, by the token of the sheet")
    understood: list[UnderstoodAnswer]
    unread: list[UnreadAnswer]


@router.post("/read", responses=responses(422, 503))
def read_need(ask: NeedAsk, families: FamiliesDep) -> NeedAnswer:
    """Read a need said in one breath; what is not understood is marked, never guessed."""
    found = read_breath(ask.text, families)
    return NeedAnswer(
        kind=found.kind,
        tokens=found.tokens,
        understood=[
            UnderstoodAnswer(start=u.start, end=u.end, token=u.token) for u in found.understood
        ],
        unread=[
            UnreadAnswer(start=u.start, end=u.end, text=u.text, message=u.message)
            for u in found.unread
        ],
    )
