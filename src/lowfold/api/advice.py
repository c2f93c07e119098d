"""POST /api/sheet/advice: what would make a choice pass, tried before it is told."""

from __future__ import annotations

from fastapi import APIRouter

from lowfold.api.computing import ComputedRoute, reported
from lowfold.api.opened import OpenedAsk, read_opened
from lowfold.api.problems import responses
from lowfold.api.sessions import StockDep
from lowfold.api.texts import known_texts
from lowfold.core.advice.advice import advise, advise_stated, lightest
from lowfold.core.sheet.sheet import series_parallel
from lowfold.core.values.quantities import AMPERE, write
from lowfold.views.advice import AdviceAnswer, AdvisedAnswer

__all__ = ["router"]

router = APIRouter(prefix="/api/sheet", tags=["sheet"], route_class=ComputedRoute)


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
