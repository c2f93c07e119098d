"""GET and PUT /api/bench/priors: how often each kind of fault is met."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Request
from pydantic import Field

from lowfold.api.fields import Answer, Ask
from lowfold.api.problems import responses
from lowfold.api.sessions import PriorsDep, WritingDep, stock_changed
from lowfold.core.bench.priors import KIND_WORDS, MOST_WEIGHT, START, PriorKind, Priors
from lowfold.store.priors import keep_priors, own_priors

__all__ = ["OwnPriors", "router"]

router = APIRouter(prefix="/api/bench/priors", tags=["bench"])

Weight = Annotated[float, Field(ge=0, le=MOST_WEIGHT)]
OwnPriors = Annotated[
    dict[PriorKind, Weight],
    Field(description="By kind, how often it is met against the others; the rest as it stands"),
]


class PriorAnswer(Answer):
    kind: PriorKind
    words: str
    weight: float
    start: float = Field(description="The start value (common practice)")


class PriorsAnswer(Answer):
    priors: list[PriorAnswer]


class PriorsAsk(Ask):
    priors: OwnPriors = Field(description="What is left out goes back to its start value")


def _answer(priors: Priors) -> PriorsAnswer:
    return PriorsAnswer(
        priors=[
            PriorAnswer(kind=kind, words=KIND_WORDS[kind], weight=weight, start=START[kind])
            for kind, weight in priors.items()
        ]
    )


@router.get("")
def priors(own: PriorsDep) -> PriorsAnswer:
    """List how often each kind of fault is met: the user's own weights, else the start values."""
    return _answer(own)


@router.put("", responses=responses(422))
def kept_priors(ask: PriorsAsk, session: WritingDep, request: Request) -> PriorsAnswer:
    """Keep the user's own weights; those left out go back to the start values."""
    keep_priors(session, {str(k): v for k, v in ask.priors.items()})
    stock_changed(request, session)
    return _answer(own_priors(session))
