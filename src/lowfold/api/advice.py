"""POST /api/sheet/advice: what would make a choice pass, tried before it is told."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute, reported
from lowfold.api.fields import Answer
from lowfold.api.opened import OpenedAsk, read_opened
from lowfold.api.problems import responses
from lowfold.api.sessions import StockDep
from lowfold.api.texts import known_texts
from lowfold.core.checking.verdict import Verdict
from lowfold.core.values.quantities import AMPERE, write
from lowfold.core.workbench.advice import advise, advise_stated, lightest
from lowfold.core.workbench.advice_case import Advice, AdviceKind
from lowfold.core.workbench.sheet import series_parallel
from lowfold.core.workbench.standing import governing_words

__all__ = ["router"]

router = APIRouter(prefix="/api/sheet", tags=["sheet"], route_class=ComputedRoute)


class AdviceAnswer(Answer):
    """One way; following it is putting `changes` into the brief and choosing `choice`."""

    kind: AdviceKind
    words: str
    brings: str = Field(description="How the choice stands once this is followed")
    verdict: Verdict | None
    changes: dict[str, str]
    choice: str = Field(description="Empty where the brief itself states the network")

    @classmethod
    def from_core(cls, advice: Advice) -> AdviceAnswer:
        return cls(
            kind=advice.kind,
            words=advice.words,
            brings=governing_words(advice.judged.gates),
            verdict=advice.verdict,
            changes=dict(advice.changes),
            choice=advice.notation,
        )


class AdvisedAnswer(Answer):
    ways: list[AdviceAnswer] = Field(description="Those that pass first")
    cheapest: AdviceAnswer | None = Field(
        description="The first way that passes; null where none does, or the choice passes as it is"
    )
    denied: str = Field(
        description="That nothing which can be bought passes, where that is proven; else empty"
    )
    limit: str = Field(description="What no part can cure; empty where one can")
    looked: str = Field(
        description="How far other choices were looked through, where none of them passes"
    )
    lightest: str = Field(description="The string of least current that passes, in words")
    verdict: Verdict | None = Field(description="How the choice stands as it is")


@router.post("/advice", responses=responses(422, 503))
def advice(ask: OpenedAsk, stock: StockDep) -> AdvisedAnswer:
    """Tell what would make a choice pass: tighter or larger parts, another choice, a split."""
    judged, texts = read_opened(ask, stock.families), known_texts(ask.kind, ask.brief)
    light: tuple[str, float] | None = None
    if ask.kind == "network":
        found = advise_stated(texts, stock)
    else:
        light = lightest(ask.kind, texts, stock)
        found = advise(ask.kind, texts, series_parallel(ask.choice), stock, reported())
    cheapest = found.cheapest
    return AdvisedAnswer(
        ways=[AdviceAnswer.from_core(a) for a in found.ways],
        cheapest=AdviceAnswer.from_core(cheapest) if cheapest is not None else None,
        denied=found.denied,
        limit=found.limit,
        looked=found.looked,
        lightest=f"{light[0]}, drawing {write(light[1], AMPERE, 3)}" if light else "",
        verdict=judged.verdict,
    )
