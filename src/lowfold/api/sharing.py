"""POST /api/designs/shared: one choice for each of several designs, out of few different values."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import APIRouter, Request
from pydantic import Field

from lowfold.api.fields import Answer, Ask
from lowfold.api.jobs import JobAnswer, Jobs, Progress
from lowfold.api.problems import responses
from lowfold.api.sessions import SessionDep, StockDep
from lowfold.api.texts import texts_of
from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import DomainError
from lowfold.core.needs.kinds import BriefKind, read_brief
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Part, parts_of
from lowfold.core.parts.stock import Stock
from lowfold.core.values.quantities import OHM, write
from lowfold.core.workbench.sharing import MOST_OPTIONS, options_of, share_passing
from lowfold.core.workbench.standing import governing_words
from lowfold.store.designs import get_design

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
    verdict: Verdict | None = Field(
        description="By the design's own gates; a fail only where none passes"
    )
    words: str = Field(description="Which gate uses most of its allowance")


class SharedAnswer(Answer):
    """The result of the job."""

    choices: list[SharedChoice]
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
    found, chosen = share_passing(
        briefs,
        every,
        lambda done: progress(0.8 + 0.2 * done / count, "fewest values that pass"),
    )
    made = [_values(need.choice) for need in needs]
    before = len(set().union(*(m for m in made if m))) if all(made) else None
    return SharedAnswer(
        choices=[
            SharedChoice(
                id=n.id,
                name=n.name,
                revision=n.revision,
                notation=o.notation,
                share=o.share,
                verdict=c.judged.verdict,
                words=governing_words(c.judged.gates),
            )
            for n, o, c in zip(needs, found.chosen, chosen, strict=True)
        ],
        values=[write(v, OHM, 6, trim=True) for v in found.values],
        before=before,
        complete=complete,
    ).model_dump(mode="json")


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
        if row.kind == "network":
            msg = f"“{row.name}” is a network that is there already: it has no choices to share"
            raise DomainError(msg, field="ids")
    needs = [
        Need(r.id, r.name, r.revision, r.kind, texts_of(r.brief), r.choice)  # type: ignore[arg-type]
        for r in rows
    ]
    jobs: Jobs = request.app.state.jobs
    return SharedJob.model_validate(jobs.start(work, (needs, stock)))
