"""POST /api/network/yield."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.check import CheckAsk, read_question
from lowfold.api.computing import ComputedRoute, reported
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.core.errors import DomainError
from lowfold.core.tolerance.sampling import MOST_SAMPLES, Distribution, sampled
from lowfold.core.tolerance.scatter import scatter
from lowfold.views.scatter import YieldAnswer, output_scatter, scatter_answer

__all__ = ["router"]

router = APIRouter(prefix="/api/network", tags=["network"], route_class=ComputedRoute)


class YieldAsk(CheckAsk):
    """A check request, drawn at random; loads are nominal."""

    samples: Annotated[int, Field(ge=1, strict=True)] = Field(
        100_000, description=f"Up to {MOST_SAMPLES}"
    )
    distribution: Distribution = Field(
        "uniform", description="Over the half-width, or normal with the half-width = 3σ, truncated"
    )
    seed: Annotated[int, Field(ge=0, le=2**63 - 1, strict=True)] = Field(
        0, description="The same seed gives the same answer"
    )


def _window(target: float | None, allowed: float | None) -> tuple[float, float] | None:
    if target is None or allowed is None:
        return None
    half = abs(target) * allowed * (1 + 1e-12)
    return target - half, target + half


@router.post("/yield", responses=responses(422, 503))
def yields(ask: YieldAsk, families: FamiliesDep) -> YieldAnswer:
    """Draw parts and supply at random and tell how many networks keep their windows."""
    question = read_question(ask, families)
    if not ask.outputs and ask.resistance is None:
        msg = "nothing is asked for: give outputs, resistance, or both"
        raise DomainError(msg, field="outputs")
    box = question.box(ask.environment.to_core())
    nodes: list[int | None] = [question.circuit.node(o.at, field="outputs") for o in ask.outputs]
    if ask.resistance is not None:
        nodes.append(None)
    told = reported()
    drawn = sampled(
        box,
        nodes,
        ask.samples,
        ask.distribution,
        ask.seed,
        progress=(lambda share: told(0.9 * share, "drawing")) if told else None,
    )
    outputs = [
        output_scatter(o.at, scatter(values, _window(o.target_v, o.allowed)))
        for values, o in zip(drawn, ask.outputs, strict=False)
    ]
    resistance = None
    if ask.resistance is not None:
        window = _window(ask.resistance.target_ohm, ask.resistance.allowed)
        resistance = scatter_answer(scatter(drawn[-1], window))
    return YieldAnswer(outputs=outputs, resistance=resistance, samples=ask.samples)
