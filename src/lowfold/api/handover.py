"""/api/designs/{id}/handover.*, and designs taken in: as a file, on paper, as parts, as text."""

from __future__ import annotations

import re
from contextvars import copy_context
from dataclasses import replace
from typing import TYPE_CHECKING, Annotated, Any, Final
from urllib.parse import quote

from anyio import to_thread
from fastapi import APIRouter, Path, Query, Request, Response
from pydantic import Field

from lowfold.api.designs import Design, served, standing_now, worked_out_later
from lowfold.api.fields import WHOLE, Answer
from lowfold.api.handover_file import TakenIn, digest_of, write_handover
from lowfold.api.jobs import JobAnswer
from lowfold.api.problems import responses
from lowfold.api.revisions import State, states_of, words_of_revisions
from lowfold.api.sessions import SessionDep, StockDep, stock_changed
from lowfold.api.working import accepted, waited_for, wishes_of, worked_out
from lowfold.core.bench.inventory import Inventory
from lowfold.core.errors import LowfoldError, TooLargeError
from lowfold.store.database import Database
from lowfold.store.designs import get_design, now_text
from lowfold.store.evidence import evidence_of
from lowfold.store.families import put_family
from lowfold.store.handover import give_out, take_in
from lowfold.store.meters import put_meters
from lowfold.views.dossier import Kept, Photograph, What
from lowfold.work.jobs import Jobs, Progress
from lowfold.work.lanes import LONGEST_S, TooLong

if TYPE_CHECKING:
    from lowfold.core.record.parts_list import PartsLine

__all__ = ["collection", "router"]

router = APIRouter(prefix="/api/designs/{design_id}", tags=["hand-over"])
#: Of several designs; these addresses come before those of one.
collection = APIRouter(prefix="/api/designs", tags=["hand-over"])

DesignId = Annotated[int, Path(ge=1, le=2**53), WHOLE]
MOST_TOGETHER: Final = 200
MOST_BYTES: Final = 90_000_000  #: of photographs in one file
MOST_WAITED: Final = 8  #: designs of a file whose standing is waited for

Ids = Annotated[
    str, Query(pattern=r"^[0-9]{1,15}(,[0-9]{1,15})*$", description="Ids, parted by commas")
]


def _attached(body: bytes | str, media: str, name: str, ending: str) -> Response:
    """Return a file with a name that every system takes."""
    plain = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower()[:60] or "design"
    # No part of a name leads out of the folder it is put into
    flat = re.sub(r"[\x00-\x1f\x7f-\x9f/\\:]+", "-", name[:80]).strip(" .-") or "design"
    full = quote(f"{flat}.{ending}", safe="")
    shown = f"attachment; filename=\"{plain}.{ending}\"; filename*=UTF-8''{full}"
    return Response(body, media_type=media, headers={"content-disposition": shown})


def _file(media: str) -> dict[str, Any]:
    return {
        "response_class": Response,
        "responses": {200: {"content": {media: {}}}, **responses(404, 422, 503)},
    }


def _own(
    texts: list[dict[str, Any]], stock: Inventory, record: list[dict[str, Any]]
) -> tuple[list[Any], list[Any]]:
    """Return the user's own families and meters that some designs name."""
    said = " ".join(str(v).casefold() for brief in texts for v in brief.values())
    meters = {str(e.get("meter")).casefold() for e in record}
    return (
        [f for f in stock.families if f.name.casefold() in said],
        [m for m in stock.meters if m.name.casefold() in meters],
    )


@collection.get("/handover.json", **_file("application/json"))
def handed_over_together(ids: Ids, session: SessionDep, stock: StockDep) -> Response:
    """Return several designs, whole, in one file."""
    wanted = _read_ids(ids)
    size = sum(picture.size for i in wanted for picture in evidence_of(session, i))
    if size > MOST_BYTES:
        msg = (
            f"the photographs of these designs have {size / 1e6:.0f} MB; one file carries up to "
            f"{MOST_BYTES // 1_000_000} MB: hand them over in parts"
        )
        raise TooLargeError(msg, field="ids")
    designs = [give_out(session, design_id) for design_id in wanted]
    assert isinstance(stock, Inventory)  # as it is kept
    families, meters = _own(
        [d["brief"] for d in designs], stock, [e for d in designs for e in d["record"]]
    )
    body = write_handover(designs, families, meters, now_text())
    name = designs[0]["name"] if len(designs) == 1 else f"{len(designs)} designs"
    return _attached(body, "application/json", name, "lowfold.json")


def _read_ids(ids: str) -> list[int]:
    found = list(dict.fromkeys(int(i) for i in ids.split(",")))
    if len(found) > MOST_TOGETHER:
        msg = f"{len(found)} designs; up to {MOST_TOGETHER} are taken together"
        raise TooLargeError(msg, field="ids")
    return found


@router.get("/handover.json", **_file("application/json"))
def handed_over(design_id: DesignId, session: SessionDep, stock: StockDep) -> Response:
    """Return a design whole: revisions, record and photographs with it."""
    return handed_over_together(str(design_id), session, stock)


def _kept(database: Database, what: What, design_id: int) -> tuple[Kept, list[State]]:
    """Return a design as it is stored, and its states, which are told of in a worker.

    Paper alone has its photographs, and those in small.
    """
    shown = what == "paper"
    with database.sessions() as session:
        given = give_out(session, design_id, whole=False)
        pictures = evidence_of(session, design_id, thumbnails=shown)
        states = states_of(session, design_id)
    record = [{**entry, "number": k} for k, entry in enumerate(given["record"], 1)]
    kept = Kept(
        fields={n: given[n] for n in ("name", "kind", "brief", "prefer", "choice", "why", "tags")},
        revision=given["revision"],
        digest=digest_of(given),
        record=record,
        photographs={
            k: Photograph(p.width, p.height, "image/jpeg", p.sha256, p.thumbnail if shown else b"")
            for k, p in enumerate(pictures, 1)
        },
        revisions=[],
    )
    return kept, states


def _work_out(what: What, kept: Kept, states: list[State], stock: Inventory) -> bytes:
    """Make one of the files of a design; in a worker."""
    # Loaded here: the server's own process computes nothing.
    from lowfold.api.dossier import MADE  # noqa: PLC0415

    return MADE[what](replace(kept, revisions=words_of_revisions(states, stock)), stock)


def _read(file: bytes) -> TakenIn:
    """Read a file that hands designs over; in a worker."""
    from lowfold.api.handover_file import read_handover  # noqa: PLC0415

    return read_handover(file)


async def _made(what: What, design_id: int, request: Request, media: str, ending: str) -> Response:
    state = request.app.state
    kept, states = await to_thread.run_sync(_kept, state.database, what, design_id)
    body = await worked_out(request, _work_out, what, kept, states, state.stock)
    return _attached(body, media, kept.fields["name"], ending)


@router.get("/handover.pdf", **_file("application/pdf"))
async def on_paper(design_id: DesignId, request: Request) -> Response:
    """Return a design on paper, to be read and signed."""
    return await _made("paper", design_id, request, "application/pdf", "pdf")


@router.get("/handover.csv", **_file("text/csv"))
async def as_parts(design_id: DesignId, request: Request) -> Response:
    """Return the list of a design's parts."""
    return await _made("parts", design_id, request, "text/csv; charset=utf-8", "csv")


@router.get("/handover.md", **_file("text/markdown"))
async def as_text(design_id: DesignId, request: Request) -> Response:
    """Return a design as readable text."""
    return await _made("text", design_id, request, "text/markdown; charset=utf-8", "md")


@router.get("/handover.svg", **_file("image/svg+xml"))
async def as_drawing(design_id: DesignId, request: Request) -> Response:
    """Return a design's drawing."""
    return await _made("drawing", design_id, request, "image/svg+xml", "svg")


class ImportedDesign(Design):
    """The first design of the file, as it is kept now."""

    imported: list[int] = Field(description="Ids of every design of the file, in its order")
    as_written: bool = Field(description="The digests are those of what the file holds")
    kept_as_here: list[str] = Field(
        description="Families and meters that are otherwise here than in the file; they stay so"
    )
    left_out: list[str] = Field(
        description="Tokens of the file that are none here, by design; they were left out"
    )


@collection.post(
    "/import",
    status_code=201,
    response_model=ImportedDesign,
    responses={**responses(413, 422, 503), 202: {"model": JobAnswer}},
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/json": {"schema": {"type": "object"}}},
        }
    },
)
async def imported(request: Request, response: Response) -> ImportedDesign | Response:
    """Take in the designs of a hand-over: all of them, or none.

    A file that takes longer to read than a request may is read as a job, whose `result` is what
    would have been answered; `Prefer: respond-async, wait=2` has that sooner.
    """
    body = await request.body()
    patience = waited_for(wishes_of(request))
    within = LONGEST_S if patience is None else patience
    try:
        file = await worked_out(request, _read, body, within=within)
    except TooLong:
        jobs: Jobs = request.app.state.jobs
        now = copy_context()  # the key of this write is kept with what it writes

        def keep(file: TakenIn) -> ImportedDesign:
            return now.run(_taken, request, file)

        return accepted(jobs.start(_read_aside, body, keep))
    found = await to_thread.run_sync(_taken, request, file)
    response.headers["location"] = f"/api/designs/{found.id}"
    return found


def _read_aside(file: bytes, progress: Progress) -> TakenIn:
    progress(0.1, "reading what the file holds, its photographs with it")
    return _read(file)


def _taken(request: Request, file: TakenIn) -> ImportedDesign:
    stock: Inventory = request.app.state.stock
    new_families, other_families = _new(file.families, stock.families)
    new_meters, other_meters = _new(file.meters, stock.meters)
    with_theirs = replace(
        stock,
        families=(*stock.families, *new_families),
        meters=(*stock.meters, *new_meters),
    )
    # How the others stand is worked out later: each may be waited for a moment, and that adds up
    known = [
        (design, *standing_now(request, design.fields, with_theirs))
        if k < MOST_WAITED
        else (design, {}, None)
        for k, design in enumerate(file.designs)
    ]
    database: Database = request.app.state.database
    with database.writing() as session:
        rows = [
            take_in(
                session, design.fields | columns, design.revision, design.revisions,
                design.record, design.pictures,
            )
            for design, columns, _ in known
        ]  # fmt: skip
        for family in new_families:
            put_family(session, family)
        put_meters(session, new_meters)
        session.commit()
        if new_families or new_meters:
            stock_changed(request, session)
        first = served(rows[0], known[0][2])
        ids = [row.id for row in rows]
    worked_out_later(request, None)
    return ImportedDesign(
        **first.model_dump(),
        imported=ids,
        as_written=all(design.as_written for design in file.designs),
        kept_as_here=[*other_families, *other_meters],
        left_out=[name for design in file.designs for name in design.left_out],
    )


def _new(given: list[Any], own: tuple[Any, ...]) -> tuple[list[Any], list[str]]:
    """Return what is not here yet, and the names of what is here otherwise."""
    here = {one.name.casefold(): one for one in own}
    new = [one for one in given if one.name.casefold() not in here]
    other = [one.name for one in given if here.get(one.name.casefold(), one) != one]
    return new, other


class PartLine(Answer):
    quantity: int
    ohm: float = Field(validation_alias="ohms")
    value: str
    code: str
    tolerance: str = Field(validation_alias="tolerance_words")
    size: str = Field(validation_alias="family")
    rating: str
    refs: list[str]
    in_drawer: int
    to_buy: int


class PartsAnswer(Answer):
    lines: list[PartLine]
    left_out: list[str] = Field(description="Designs without parts, and why")
    to_buy: int


def _bought(
    designs: list[tuple[dict[str, Any], int]], stock: Inventory
) -> tuple[tuple[PartsLine, ...], list[str]]:
    """Add up the parts of some designs; in a worker."""
    from lowfold.api.dossier import bought  # noqa: PLC0415

    return bought(designs, stock)


def _bought_csv(designs: list[tuple[dict[str, Any], int]], stock: Inventory) -> bytes:
    """Write the parts of some designs as a file; in a worker."""
    from lowfold.formats.parts_csv import write_parts  # noqa: PLC0415

    return write_parts(_bought(designs, stock)[0], bought=True).encode()


Boards = Annotated[
    str,
    Query(
        pattern=r"^([0-9]{1,5}(,[0-9]{1,5})*)?$",
        description="How many of each are built, in the order of the ids; one unless said",
    ),
]


def _together(database: Database, ids: str, boards: str) -> list[tuple[dict[str, Any], int]]:
    """Return designs as they are bought for, and how many boards of each."""
    wanted = _read_ids(ids)
    counts = [int(n) for n in boards.split(",")] if boards else []
    if counts and len(counts) != len(wanted):
        msg = f"{len(wanted)} designs and {len(counts)} numbers of boards: one for each, or none"
        raise LowfoldError(msg, field="boards")
    designs = []
    with database.sessions() as session:
        for k, design_id in enumerate(wanted):
            row = get_design(session, design_id)
            fields = {n: getattr(row, n) for n in ("name", "kind", "brief", "choice")}
            designs.append((fields, counts[k] if counts else 1))
    return designs


@collection.get("/parts", responses=responses(404, 422))
async def parts_together(ids: Ids, request: Request, boards: Boards = "") -> PartsAnswer:
    """List the parts of several designs together, what the drawer has of them taken off."""
    state = request.app.state
    designs = await to_thread.run_sync(_together, state.database, ids, boards)
    lines, left_out = await worked_out(request, _bought, designs, state.stock)
    return PartsAnswer(
        lines=[PartLine.model_validate(line) for line in lines],
        left_out=left_out,
        to_buy=sum(line.to_buy for line in lines),
    )


@collection.get("/parts.csv", **_file("text/csv"))
async def parts_as_csv(ids: Ids, request: Request, boards: Boards = "") -> Response:
    """Return the parts of several designs as a file."""
    state = request.app.state
    designs = await to_thread.run_sync(_together, state.database, ids, boards)
    body = await worked_out(request, _bought_csv, designs, state.stock)
    return _attached(body, "text/csv; charset=utf-8", "parts to buy", "csv")
