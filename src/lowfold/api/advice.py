"""POST /api/sheet/advice: what would make a choice pass, tried before it is told."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.fields import Answer
from lowfold.api.opened import OpenedAsk, read_opened
from lowfold.api.problems import responses
from lowfold.api.sessions import StockDep
from lowfold.api.sheet import texts_of
from lowfold.core.needs.advice import Advice, AdviceKind, advise
from lowfold.core.sheet import governing_words
from lowfold.core.verdict import Verdict

__all__ = ["router"]

router = APIRouter(prefix="/api/sheet", tags=["sheet"])


class AdviceAnswer(Answer):
    """One way; following it is putting `changes` into the brief and choosing `choice`."""

    kind: AdviceKind
    words: str
    brings: str = Field(description="How the choice stands once this is followed")
    verdict: Verdict | None
    changes: dict[str, str]
    choice: str

    @classmethod
    def from_core(cls, advice: Advice) -> AdviceAnswer:
        return cls(
            kind=advice.kind,
            words=advice.words,
            brings=governing_words(advice.choice.judged.gates),
            verdict=advice.verdict,
            changes=dict(advice.changes),
            choice=advice.choice.notation,
        )


class AdvisedAnswer(Answer):
    ways: list[AdviceAnswer] = Field(description="Those that pass first")
    limit: str = Field(description="What no part can cure; empty where one can")
    verdict: Verdict | None = Field(description="How the choice stands as it is")


@router.post("/advice", responses=responses(422))
def advice(ask: OpenedAsk, stock: StockDep) -> AdvisedAnswer:
    """Tell what would make a choice pass: tighter or larger parts, another choice, a split."""
    _, choice = read_opened(ask, stock.families)
    found = advise(ask.kind, texts_of(ask.brief), choice.network, stock)
    return AdvisedAnswer(
        ways=[AdviceAnswer.from_core(a) for a in found.ways],
        limit=found.limit,
        verdict=choice.judged.verdict,
    )
