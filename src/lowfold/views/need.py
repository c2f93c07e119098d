"""A need said in one line, as it is understood."""

from __future__ import annotations

from typing import Literal

from lowfold.core.one_line.following import likely_next
from lowfold.core.one_line.naming import short_name
from lowfold.core.one_line.reading import OneLine, ReadThere, Unread
from lowfold.views.view import under, view

__all__ = ["NeedAnswer", "UnreadAnswer", "need_answer", "unread_answer"]


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
    instead: list[str]  #: Spellings that would be read, each another meaning


@view
class FollowingAnswer:
    """Words that may come next: they take the place of what stands from `from` on."""

    start: int = under("from")
    text: str


@view
class NeedAnswer:
    #: null where nothing says what is wanted
    kind: Literal["resistance", "divider", "feedback", "ladder", "network", "board"] | None
    name: str  #: A short name for a design that is made of it
    tokens: dict[str, str]  #: What was said, by the token of the sheet
    understood: list[UnderstoodAnswer]
    unread: list[UnreadAnswer]
    readings: list[ReadThere]  #: Of a network: what was read of it, to be kept with it
    next: list[FollowingAnswer]  #: What is likely said next, likeliest first


def unread_answer(one: Unread) -> UnreadAnswer:
    """Return a piece that was not understood."""
    return UnreadAnswer(
        start=one.start,
        end=one.end,
        text=one.text,
        message=one.message,
        instead=list(one.instead),
    )


def need_answer(text: str, found: OneLine) -> NeedAnswer:
    """Return what a sentence was understood as, what of it was not, and what may come next."""
    return NeedAnswer(
        kind=found.kind,
        name=short_name(found.kind, found.tokens),
        tokens=dict(found.tokens),
        understood=[
            UnderstoodAnswer(start=u.start, end=u.end, token=u.token) for u in found.understood
        ],
        unread=[unread_answer(u) for u in found.unread],
        readings=list(found.readings),
        next=[FollowingAnswer(start=f.start, text=f.text) for f in likely_next(text, found)],
    )
