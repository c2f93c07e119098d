"""/api/designs: kept as the user works; a save made from an old revision is refused."""

from __future__ import annotations

import logging
from typing import Annotated, Any, Final, Literal
from urllib.parse import urlencode

from fastapi import APIRouter, Path, Query, Request, Response
from fastapi.responses import JSONResponse
from pydantic import AfterValidator, Field, TypeAdapter

from lowfold.api.computing import MOST_BYTES
from lowfold.api.fields import WHOLE, Answer, Ask
from lowfold.api.problems import Problem, problem_response, responses
from lowfold.api.sessions import SessionDep, WritingDep
from lowfold.api.standings import Standings
from lowfold.api.texts import AskedBrief, BriefTexts, refuse_unknown
from lowfold.core.checking.verdict import Standing
from lowfold.core.parts.stock import Stock
from lowfold.core.tokens.names import unknown_tokens
from lowfold.store.database import Database
from lowfold.store.designs import (
    NoSuchDesign,
    Sort,
    StaleDesign,
    Wanted,
    add_design,
    bring_back,
    change_design,
    get_design,
    list_designs,
    page_of_designs,
    remove_design,
    tags_in_use,
)
from lowfold.store.models import DesignRow
from lowfold.store.revisions import FIELDS

__all__ = [
    "Design",
    "DesignFields",
    "DesignKind",
    "Tag",
    "install",
    "restored",
    "router",
    "served",
    "standing_now",
    "worked_out_later",
]

router = APIRouter(prefix="/api/designs", tags=["designs"])

log = logging.getLogger("lowfold")
LISTED: Final = 100  #: designs of one page, unless more or fewer are asked for
MOST_LISTED: Final = 500
MOST_NAME: Final = 200

DesignId = Annotated[int, Path(ge=1, le=2**62), WHOLE]


#: One literal, so that a refusal names the field and not a branch of a union.
DesignKind = Literal["resistance", "divider", "feedback", "ladder", "network", "sensor", "board"]


def _tag(text: str) -> str:
    tag = " ".join(text.split())
    if not tag or not tag.isprintable():
        msg = "a tag is a word or two"
        raise ValueError(msg)
    return tag


Tag = Annotated[str, Field(max_length=40), AfterValidator(_tag)]


class DesignFields(Ask):
    """What a user states about a design."""

    name: str = Field("Untitled", max_length=MOST_NAME)
    kind: DesignKind
    brief: AskedBrief = Field(
        default_factory=dict,
        description="The need as typed, token by token; kept to the letter, understood or not",
        examples=[{"supply_v": "14.4 V", "target_v": "3V0"}],
    )
    prefer: str = Field("nearest", max_length=40)
    choice: str | None = Field(None, max_length=20_000, description="The network chosen")
    why: str = Field("", max_length=20_000, description="Why this one, for whoever reads it next")
    tags: list[Tag] | None = Field(
        None, max_length=20, description="To be found by; where not given, they stay as they are"
    )

    def columns(self) -> dict[str, Any]:
        """Return what is stated, as it is stored."""
        tags = {} if self.tags is None else {"tags": list(dict.fromkeys(self.tags))}
        return tags | {
            "name": self.name,
            "kind": self.kind,
            "brief": self.brief,
            "prefer": self.prefer,
            "choice": self.choice,
            "why": self.why,
        }


class DesignChange(DesignFields):
    """A change, with the revision it was made from."""

    revision: Annotated[int, Field(ge=1, le=2**62, strict=True)]


class Design(Answer):
    """A design as kept."""

    id: int
    name: str
    kind: DesignKind
    brief: BriefTexts
    prefer: str
    choice: str | None
    why: str
    tags: list[str]
    standing: Standing | None
    revision: int
    created: str = Field(description="ISO 8601, UTC")
    updated: str


EVERY: Final = TypeAdapter(list[Design])


class StaleProblem(Problem):
    """A change made from an old revision; nothing was changed."""

    current: Design


def install(app: Any) -> None:
    """Map what the store refuses to problems."""

    @app.exception_handler(NoSuchDesign)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchDesign) -> JSONResponse:
        return problem_response(404, f"there is no design {exc.id}")

    @app.exception_handler(StaleDesign)  # type: ignore[untyped-decorator]
    def _stale(request: Request, exc: StaleDesign) -> JSONResponse:
        current = served(exc.current, request.app.state.standings.shown(exc.current))
        return problem_response(
            409,
            f"this design was changed meanwhile: revision {current.revision} is stored; nothing "
            "of yours or of it was lost. Take the stored one, or save again from its revision",
            current=current.model_dump(mode="json"),
        )


def _answer(row: DesignRow, standing: dict[str, Any] | None) -> Design:
    return Design(
        id=row.id,
        name=row.name,
        kind=row.kind,
        # What an earlier version let in and no token is called like would be refused on saving
        brief={n: v for n, v in row.brief.items() if not unknown_tokens(row.kind, [n])},
        prefer=row.prefer,
        choice=row.choice,
        why=row.why,
        tags=row.tags,
        standing=standing if standing is not None else None,
        revision=row.revision,
        created=row.created,
        updated=row.updated,
    )


def served(row: DesignRow, standing: dict[str, Any] | None) -> Design:
    """Return a design as it is served, or what can be served of one that cannot."""
    try:
        found = _answer(row, standing)
        found.model_dump_json()
    except (ValueError, TypeError) as error:
        log.warning("design %s cannot be shown: %s", row.id, error)
        words = "it cannot be shown: something in it is not text; it is kept as it is"
        return Design(
            id=row.id,
            name=f"Design {row.id}",
            kind="network",
            brief={},
            prefer="nearest",
            choice=None,
            why="",
            tags=[],
            standing=Standing(verdict=None, words=words, need="", figure=""),
            revision=row.revision,
            created=row.created,
            updated=row.updated,
        )
    return found


def _stated(ask: DesignFields, request: Request) -> tuple[dict[str, Any], dict[str, Any] | None]:
    """Return the columns to store and the standing where it is known, before anything is stored.

    The answer is made once beforehand: nothing is kept that could not be served again.
    """
    standings: Standings = request.app.state.standings
    refuse_unknown(ask.kind, ask.brief)
    columns = ask.columns()
    standing, mark = standings.now(
        ask.kind, ask.brief, ask.prefer, ask.choice, request.app.state.stock
    )
    row = DesignRow(**{"tags": [], **columns}, id=1, revision=1, created="", updated="")
    _answer(row, standing).model_dump_json()
    return columns | _kept_standing(standing, mark), standing


def _kept_standing(standing: dict[str, Any] | None, mark: str) -> dict[str, Any]:
    return {
        "standing": standing,
        "standing_of": mark if standing is not None else None,
        "verdict": standing["verdict"] if standing is not None else None,
    }


def standing_now(
    request: Request, fields: dict[str, Any], stock: Stock | None = None
) -> tuple[dict[str, Any], dict[str, Any] | None]:
    """Return the columns that say how a state stands, and that itself where it is known yet."""
    standings: Standings = request.app.state.standings
    standing, mark = standings.now(
        fields["kind"], fields["brief"], fields["prefer"], fields["choice"],
        stock or request.app.state.stock,
    )  # fmt: skip
    return _kept_standing(standing, mark), standing


def restored(request: Request, design_id: int, fields: dict[str, Any]) -> Design:
    """Make a design what it was, as a change of its own."""
    columns, standing = standing_now(request, fields)
    columns = fields | columns
    database: Database = request.app.state.database
    with database.writing() as session:
        now = get_design(session, design_id).revision
        design = _answer(change_design(session, design_id, now, columns), standing)
    worked_out_later(request, standing)
    return design


Limit = Annotated[int, Query(ge=1, le=MOST_LISTED, description="How many at most"), WHOLE]
Offset = Annotated[
    int, Query(ge=0, le=2**40, description="How many are left out before them"), WHOLE
]
Words = Annotated[str, Query(max_length=200, description="Beginnings of words that all occur")]
State = Annotated[
    Literal["pass", "marginal", "fail", "none"],
    Query(description="How they stand; none: nothing is judged"),
]


@router.get("", response_model=list[Design])
def every_design(
    request: Request,
    session: SessionDep,
    limit: Limit = LISTED,
    offset: Offset = 0,
    q: Words = "",
    state: State | None = None,
    tag: Annotated[str | None, Query(max_length=40)] = None,
    sort: Sort = "changed",
) -> Response:
    """List designs, the one changed last first; `Link` leads on, `X-Total-Count` counts all.

    Fewer than `limit` come where they are long.

    Words are looked for in names, needs, reasons, tags and records.

    A standing is null while it is not worked out of what is stored now; `X-Not-Worked-Out` tells
    of how many that is so.
    """
    standings: Standings = request.app.state.standings
    wanted = Wanted(words=q, state=state, tag=tag)
    rows, total = page_of_designs(session, wanted, sort=sort, offset=offset, limit=limit)
    found = [served(row, standings.shown(row)) for row in rows]
    body, count = _bounded(found)
    headers = {"x-total-count": str(total), "x-not-worked-out": str(standings.waiting)}
    if offset + count < total:
        asked = {"q": q, "state": state, "tag": tag, "sort": sort if sort != "changed" else ""}
        more = {name: value for name, value in asked.items() if value}
        query = urlencode({"limit": limit, "offset": offset + count, **more})
        headers["link"] = f'</api/designs?{query}>; rel="next"'
    return Response(body, media_type="application/json", headers=headers)


def _bounded(found: list[Design]) -> tuple[bytes, int]:
    """Return designs as they are sent, and how many: no more than an answer may have of bytes."""
    while len(body := EVERY.dump_json(found)) > MOST_BYTES and len(found) > 1:
        found = found[: len(found) // 2]
    return body, len(found)


@router.post("", status_code=201, responses=responses(422))
def new_design(ask: DesignFields, request: Request, response: Response) -> Design:
    """Keep a new design."""
    columns, standing = _stated(ask, request)
    database: Database = request.app.state.database
    with database.writing() as session:
        design = _answer(add_design(session, columns), standing)
    worked_out_later(request, standing)
    response.headers["location"] = f"/api/designs/{design.id}"
    return design


@router.get("/tags")
def every_tag(session: SessionDep) -> list[str]:
    """List the tags in use."""
    return tags_in_use(session)


class DeletedDesign(Answer):
    """A design put aside, for 30 days."""

    id: int
    name: str
    kind: DesignKind
    deleted: str = Field(description="When; ISO 8601, UTC")


@router.get("/deleted")
def deleted_designs(
    session: SessionDep, limit: Limit = LISTED, offset: Offset = 0
) -> list[DeletedDesign]:
    """List what was deleted and can be brought back: for 30 days, deleted last first."""
    rows = list_designs(session, Wanted(deleted=True), offset=offset, limit=limit)
    found = [
        DeletedDesign(id=r.id, name=r.name, kind=r.kind, deleted=r.deleted or "") for r in rows
    ]
    return sorted(found, key=lambda d: d.deleted, reverse=True)


@router.get("/{design_id}", responses=responses(404))
def one_design(design_id: DesignId, request: Request, session: SessionDep) -> Design:
    """Return one design."""
    standings: Standings = request.app.state.standings
    row = get_design(session, design_id)
    return served(row, standings.shown(row))


@router.put(
    "/{design_id}",
    responses={**responses(404, 422), 409: {"model": StaleProblem, "description": "Stale"}},
)
def changed_design(design_id: DesignId, ask: DesignChange, request: Request) -> Design:
    """Replace a design, if the revision it was made from is still the stored one."""
    columns, standing = _stated(ask, request)
    database: Database = request.app.state.database
    with database.writing() as session:
        design = _answer(change_design(session, design_id, ask.revision, columns), standing)
    worked_out_later(request, standing)
    return design


def worked_out_later(request: Request, standing: dict[str, Any] | None) -> None:
    """Have a standing worked out that is not known yet."""
    if standing is None:
        request.app.state.standings.look_again()


@router.delete("/{design_id}", status_code=204, responses=responses(404))
def gone_design(design_id: DesignId, session: WritingDep) -> None:
    """Delete a design; for 30 days it can be brought back, its record with it."""
    remove_design(session, design_id)


@router.post("/{design_id}/bring-back", responses=responses(404))
def brought_back(design_id: DesignId, request: Request, session: WritingDep) -> Design:
    """Bring back a design that was deleted, whole."""
    row = bring_back(session, design_id)
    request.app.state.standings.look_again()
    return served(row, request.app.state.standings.shown(row))


@router.post("/{design_id}/copy", status_code=201, responses=responses(404))
def copied(
    design_id: DesignId, request: Request, session: WritingDep, response: Response
) -> Design:
    """Begin a new design as a copy of another; its record stays where it is."""
    row = get_design(session, design_id)
    standings: Standings = request.app.state.standings
    columns = {name: getattr(row, name) for name in FIELDS}
    columns["name"] = f"{row.name[: MOST_NAME - 6]}, copy"
    standing = standings.shown(row)
    made = add_design(session, columns | _kept_standing(standing, row.standing_of or ""))
    worked_out_later(request, standing)
    response.headers["location"] = f"/api/designs/{made.id}"
    return served(made, standing)
