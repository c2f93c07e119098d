"""/api/designs/{id}/revisions: what a design has been, what changed, and back to it."""

from __future__ import annotations

import itertools
from typing import Annotated, Any, Final

from anyio import to_thread
from fastapi import APIRouter, Path, Request
from fastapi.responses import JSONResponse
from pydantic import Field
from sqlalchemy.orm import Session

from lowfold.api.designs import Design, DesignKind, restored
from lowfold.api.fields import WHOLE, Answer
from lowfold.api.problems import problem_response, responses
from lowfold.api.sessions import SessionDep
from lowfold.api.texts import BriefTexts
from lowfold.api.working import worked_out
from lowfold.core.bench.inventory import Inventory
from lowfold.core.tokens.names import texts_of
from lowfold.store.database import Database
from lowfold.store.designs import get_design
from lowfold.store.models import RevisionRow
from lowfold.store.revisions import NoSuchRevision, get_revision, revisions

__all__ = ["State", "install", "router", "states_of", "words_of_revisions"]

router = APIRouter(prefix="/api/designs/{design_id}/revisions", tags=["record"])

MOST_LISTED: Final = 1000
#: A revision: its number, when, and the design as it was.
State = tuple[int, str, dict[str, Any]]
DesignId = Annotated[int, Path(ge=1, le=2**53), WHOLE]
Revision = Annotated[int, Path(ge=1, le=2**53), WHOLE]


class RevisionLine(Answer):
    """One state worth having."""

    revision: int
    at: str = Field(description="ISO 8601, UTC")
    words: str = Field(description="What changed against the one before")


class RevisionAnswer(Answer):
    """A design as it was."""

    revision: int
    at: str
    name: str
    kind: DesignKind
    brief: BriefTexts
    prefer: str
    choice: str | None
    why: str
    tags: list[str]


class ChangeLine(Answer):
    what: str
    before: str
    after: str


class ComparedAnswer(Answer):
    """Two states of a design beside each other."""

    before: RevisionAnswer
    after: RevisionAnswer
    words: str
    changes: list[ChangeLine]


def install(app: Any) -> None:
    """Map what revisions refuse to problems."""

    @app.exception_handler(NoSuchRevision)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchRevision) -> JSONResponse:
        return problem_response(404, f"this design has no revision {exc.revision}")


def _answer(row: RevisionRow) -> RevisionAnswer:
    return RevisionAnswer(revision=row.revision, at=row.at, **row.fields)


def _words(states: list[dict[str, Any]], stock: Inventory) -> list[str]:
    """Say what changed from each state to the next; in a worker."""
    # Loaded here: the server's own process computes nothing.
    from lowfold.core.record.changes import changes, in_a_line  # noqa: PLC0415

    read = [{**state, "brief": texts_of(state["brief"])} for state in states]
    return [
        in_a_line(changes(one, other, stock.families, judged=False))
        for one, other in itertools.pairwise(read)
    ]


def _compared(
    one: dict[str, Any], other: dict[str, Any], stock: Inventory
) -> tuple[str, list[tuple[str, str, str]]]:
    """Compare two states, how they stand included; in a worker."""
    from lowfold.core.record.changes import changes, in_a_line  # noqa: PLC0415

    before, after = ({**s, "brief": texts_of(s["brief"])} for s in (one, other))
    found = changes(before, after, stock.families)
    return in_a_line(found), [(c.what, c.before, c.after) for c in found]


@router.get("", responses=responses(404))
async def every_revision(design_id: DesignId, request: Request) -> list[RevisionLine]:
    """List a design's revisions worth having, the newest first; steps of typing are folded.

    The newest thousand; older ones are there by their numbers.
    """
    rows = await to_thread.run_sync(_states, request.app.state.database, design_id)
    found = await worked_out(request, words_of_revisions, rows, request.app.state.stock)
    return [RevisionLine(revision=number, at=at, words=words) for number, at, words in found]


def _states(database: Database, design_id: int) -> list[State]:
    with database.sessions() as session:
        get_design(session, design_id)
        return states_of(session, design_id)


def states_of(session: Session, design_id: int) -> list[State]:
    """Return the states worth having, newest first, and one more to tell them against."""
    return [(r.revision, r.at, r.fields) for r in revisions(session, design_id, MOST_LISTED + 1)]


def words_of_revisions(rows: list[State], stock: Inventory) -> list[tuple[int, str, str]]:
    """Return what changed from state to state, the newest first; in a worker."""
    words = _words([fields for _, _, fields in reversed(rows)], stock)
    if len(rows) > MOST_LISTED:
        rows, told = rows[:-1], words  # the oldest one is there to be told against
    else:
        told = ["begun" if rows and rows[-1][0] == 1 else "as it was first kept", *words]
    return [(n, at, said) for (n, at, _), said in zip(rows, reversed(told), strict=True)]


@router.get("/{revision}", responses=responses(404))
def one_revision(design_id: DesignId, revision: Revision, session: SessionDep) -> RevisionAnswer:
    """Return a design as it was."""
    get_design(session, design_id)
    return _answer(get_revision(session, design_id, revision))


@router.get("/{revision}/against/{other}", responses=responses(404))
async def compared(
    design_id: DesignId, revision: Revision, other: Revision, request: Request
) -> ComparedAnswer:
    """Tell what is different between two revisions, in the words of the trade."""
    state = request.app.state
    before, after = await to_thread.run_sync(_two, state.database, design_id, revision, other)
    words, found = await worked_out(request, _compared, before[1], after[1], state.stock)
    return ComparedAnswer(
        before=before[0],
        after=after[0],
        words=words,
        changes=[ChangeLine(what=w, before=b, after=a) for w, b, a in found],
    )


def _two(
    database: Database, design_id: int, *numbers: int
) -> list[tuple[RevisionAnswer, dict[str, Any]]]:
    with database.sessions() as session:
        get_design(session, design_id)
        rows = [get_revision(session, design_id, number) for number in numbers]
        return [(_answer(row), row.fields) for row in rows]


@router.post("/{revision}/restore", responses=responses(404))
def made_newest(design_id: DesignId, revision: Revision, request: Request) -> Design:
    """Make a design what it was: its newest revision; those between stay."""
    database: Database = request.app.state.database
    with database.sessions() as session:
        get_design(session, design_id)
        fields = dict(get_revision(session, design_id, revision).fields)
    return restored(request, design_id, fields)
