"""POST /api/designs/shared: one choice for each of several designs, out of few different values."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import APIRouter, Request
from pydantic import Field

from lowfold.api.fields import Answer, Ask
from lowfold.api.jobs import JobAnswer
from lowfold.api.problems import responses
from lowfold.api.sessions import SessionDep, StockDep
from lowfold.api.texts import texts_of
from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.choice import Choice
from lowfold.core.needs.kinds import KINDS, BriefKind, choices_for, read_brief, weigh
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Part, parts_of
from lowfold.core.parts.stock import Stock
from lowfold.core.search.sharing import Option
from lowfold.core.values.quantities import OHM, write
from lowfold.core.workbench.sharing import MOST_OPTIONS, cost_words, options_of, share_passing
from lowfold.core.workbench.sheet import series_parallel
from lowfold.core.workbench.standing import governing_words
from lowfold.store.designs import get_design
from lowfold.work.jobs import Jobs, Progress

__all__ = ["SharedAnswer", "router"]

router = APIRouter(prefix="/api/designs", tags=["designs"])


class SharedAsk(Ask):
    """Designs that should share values."""

    ids: list[Annotated[int, Field(ge=1, le=2**63 - 1)]] = Field(min_length=2, max_length=20)


@dataclass(frozen=True)
class Need:
    """One design as the worker takes it."""

    id: int
    name: str
    revision: int
    kind: BriefKind
    texts: dict[str, str]
    choice: str | None


class SharedChoice(Answer):
    id: int
    name: str
    revision: int = Field(description="Of the design the choice was made for")
    notation: str
    share: float = Field(description="|error| as a share of the accepted one")
    verdict: Verdict | None = Field(description="By the design's own gates; none fails")
    words: str = Field(description="Which gate uses most of its allowance")
    cost: str = Field(description="What it gives up against the design's own choice, or its first")


class LeftOut(Answer):
    """A design that takes no part."""

    id: int
    name: str
    words: str


class SharedAnswer(Answer):
    """The result of the job."""

    choices: list[SharedChoice]
    left_out: list[LeftOut] = Field(description="Designs of which no choice passes their own gates")
    values: list[str] = Field(description="The different values to buy")
    before: int | None = Field(
        description="Different values of the choices made; null if some lack"
    )
    complete: bool = Field(
        description=f"False where only the nearest {MOST_OPTIONS} choices of a design were compared"
    )


class SharedJob(JobAnswer):
    """The search as a job."""

    result: SharedAnswer | None = None


def work(payload: tuple[list[Need], Stock], progress: Progress) -> dict[str, Any]:
    """Find every design's options, then share values among them; runs in a process of its own."""
    needs, stock = payload
    every, briefs, complete = [], [], True
    for place, need in enumerate(needs):
        progress(0.8 * place / len(needs), f"choices of “{need.name}”")
        brief = read_brief(need.kind, need.texts, stock.families).need
        if brief is None:
            msg = f"the need of “{need.name}” is not understood: open it and see what it says"
            raise DomainError(msg)
        options, all_of_them = options_of(brief, stock.lines)
        if not options:
            msg = f"“{need.name}” has no choice within its accepted deviation"
            raise DomainError(msg)
        every.append(options)
        briefs.append(brief)
        complete &= all_of_them
    count = sum(map(len, every))
    found = share_passing(
        briefs,
        every,
        lambda done: progress(0.8 + 0.2 * done / count, "fewest values that pass"),
    )
    made = [_values(n.choice) for n, taken in zip(needs, found.chosen, strict=True) if taken]
    before = len(set().union(*(m for m in made if m))) if made and all(made) else None
    every_need = list(zip(needs, briefs, found.chosen, strict=True))
    return SharedAnswer(
        choices=[
            _shared_choice(need, brief, *taken, stock) for need, brief, taken in every_need if taken
        ],
        left_out=[
            LeftOut(id=n.id, name=n.name, words="none of its choices passes its own gates")
            for n, _, taken in every_need
            if taken is None
        ],
        values=[write(v, OHM, 6, trim=True) for v in found.values],
        before=before,
        complete=complete,
    ).model_dump(mode="json")


def _shared_choice(
    need: Need, brief: Brief, option: Option, choice: Choice, stock: Stock
) -> SharedChoice:
    lines = () if brief.parts.series else stock.lines
    rows = choices_for(brief, "nearest", lines).rows
    own = rows[0] if rows else choice
    if need.choice:
        with suppress(LowfoldError):  # one that fits the brief no more is nothing to compare with
            own = weigh(brief, series_parallel(need.choice))
    return SharedChoice(
        id=need.id,
        name=need.name,
        revision=need.revision,
        notation=option.notation,
        share=option.share,
        verdict=choice.judged.verdict,
        words=governing_words(choice.judged.gates),
        cost=cost_words(own, choice, KINDS[need.kind].unit),
    )


def _values(choice: str | None) -> set[float]:
    network = read_text(choice) if choice else None
    if network is None or isinstance(network, Netlist):
        return set()
    return {p.ohms for p in parts_of(network) if isinstance(p, Part)}


@router.post("/shared", status_code=202, responses=responses(404, 422))
def shared(ask: SharedAsk, session: SessionDep, stock: StockDep, request: Request) -> SharedJob:
    """Start the search for a choice for each design out of as few different values as possible.

    Follow it at `/api/jobs/{id}`; its `result` is a `SharedAnswer`. Nothing is changed: to take the
    choices over, PUT each design with its new `choice`.
    """
    rows = [get_design(session, design_id) for design_id in dict.fromkeys(ask.ids)]
    for row in rows:
        if row.kind in {"network", "sensor", "board"}:
            msg = f"“{row.name}” is a network that is there already: it has no choices to share"
            raise DomainError(msg, field="ids")
    needs = [
        Need(r.id, r.name, r.revision, r.kind, texts_of(r.brief), r.choice)  # type: ignore[arg-type]
        for r in rows
    ]
    jobs: Jobs = request.app.state.jobs
    return SharedJob.model_validate(jobs.start(work, (needs, stock)))
