"""POST /api/sheet/opened: a choice looked into, for the gates that are opened."""

from __future__ import annotations

from typing import Literal

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Ask
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.core.errors import DomainError
from lowfold.core.needs.kinds import BriefKind, read_brief, weigh
from lowfold.core.needs.network import read_stated
from lowfold.core.parts.families import Family
from lowfold.core.sheet.sheet import series_parallel
from lowfold.core.tolerance.sampling import Distribution
from lowfold.core.weighing.choice import Judged
from lowfold.views.opened import OpenedAnswer, opened_answer

__all__ = ["OpenedAsk", "read_opened", "router"]

router = APIRouter(prefix="/api/sheet", tags=["sheet"], route_class=ComputedRoute)


class OpenedAsk(Ask):
    """A brief as typed and one of its choices, or a network as typed."""

    kind: BriefKind | Literal["network"]
    brief: AskedBrief = Field(default_factory=dict)
    choice: str = Field("", max_length=20_000, description="Not for a network, which is its own")
    distribution: Distribution = "uniform"


def read_opened(ask: OpenedAsk, families: tuple[Family, ...]) -> Judged:
    """Read the brief and weigh what is looked into.

    Raises
    ------
    DomainError, TopologyError
        Naming what is not understood.
    """
    texts = known_texts(ask.kind, ask.brief)
    not_understood = DomainError(
        "the brief is not understood: see what its tokens say", field="brief"
    )
    if ask.kind == "network":
        stated = read_stated(texts, families)[1]
        if stated is None:
            raise not_understood
        return stated.weighed()
    need = read_brief(ask.kind, texts, families).need
    if need is None:
        raise not_understood
    if not ask.choice:
        msg = "which choice is looked into: write it in the notation"
        raise DomainError(msg, field="choice")
    return weigh(need, series_parallel(ask.choice)).judged


@router.post("/opened", responses=responses(422, 503))
def opened(ask: OpenedAsk, families: FamiliesDep) -> OpenedAnswer:
    """Look into one choice: scatter, contributions, load lines, power, and single faults."""
    return opened_answer(read_opened(ask, families), ask.distribution)
