"""A need said in one line, as it is understood."""

from __future__ import annotations

from typing import Literal

from lowfold.core.one_line.naming import short_name
from lowfold.core.one_line.reading import OneLine
from lowfold.views.view import under, view

__all__ = ["NeedAnswer", "UnreadAnswer", "need_answer"]


@view
class UnderstoodAnswer:
    """A piece of the text that a token holds; `from` and `to` count characters."""

    start: int = under("from")
    end: int = under("to")
    token: str


@view
class UnreadAnswer:
    """A piece of the text that was not understood, and why."""

    start: int = under("from")
    end: int = under("to")
    text: str
    message: str


@view
class NeedAnswer:
    #: null where nothing says what is wanted
    kind: Literal["resistance", "divider", "feedback", "ladder", "network"] | None
    name: str  #: A short name for a design that is made of it
    tokens: dict[str, str]  #: What was said, by the token of the sheet
    understood: list[UnderstoodAnswer]
    unread: list[UnreadAnswer]


def need_answer(found: OneLine) -> NeedAnswer:
    """Return what a sentence was understood as, and what of it was not."""
    return NeedAnswer(
        kind=found.kind,
        name=short_name(found.kind, found.tokens),
        tokens=dict(found.tokens),
        understood=[
            UnderstoodAnswer(start=u.start, end=u.end, token=u.token) for u in found.understood
        ],
        unread=[
            UnreadAnswer(start=u.start, end=u.end, text=u.text, message=u.message)
            for u in found.unread
        ],
    )
