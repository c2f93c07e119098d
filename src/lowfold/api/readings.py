"""/api/designs/{id}/readings: what was read of a board, judged here and by nobody else."""

from __future__ import annotations

from typing import Any, Final

from anyio import to_thread
from fastapi import APIRouter, Request, Response
from pydantic import Field

from lowfold.api.fields import Ask
from lowfold.api.points import PointAsk
from lowfold.api.problems import responses
from lowfold.api.record import DesignId, EntryAnswer
from lowfold.api.sessions import SessionDep
from lowfold.api.wire import to_json
from lowfold.api.working import worked_out
from lowfold.core.bench.inventory import Inventory
from lowfold.store.database import Database
from lowfold.store.designs import get_design
from lowfold.store.record import add_entry, entries, standing_readings

__all__ = ["router"]

router = APIRouter(prefix="/api/designs/{design_id}/readings", tags=["record"])

#: The answer: the round as it stands with the reading, where it is of the board as it is now.
KEPT: Final[dict[str, Any]] = {
    "description": "The entry, and the round as it stands with it, where it is of this board",
    "content": {
        "application/json": {
            "schema": {
                "allOf": [
                    {"$ref": "#/components/schemas/RoundAnswer"},
                    {
                        "type": "object",
                        "properties": {"entry": {"$ref": "#/components/schemas/EntryAnswer"}},
                        "required": ["entry"],
                    },
                ]
            }
        }
    },
}


class NewReadingAsk(Ask):
    """A reading as it was read: its limits and its verdict are the server's."""

    point: PointAsk
    text: str = Field(min_length=1, max_length=80, description="As typed")
    meter: str | None = Field(None, max_length=60, description="By its name; default the handheld")
    board: str | None = Field(
        None, max_length=20_000, description="The network it was read on; default the design's now"
    )


@router.get("", responses=responses(404))
def readings(design_id: DesignId, session: SessionDep) -> list[EntryAnswer]:
    """List the readings that stand: the newest at each point of each board, none taken back."""
    return [EntryAnswer.from_row(row) for row in standing_readings(session, design_id)]


@router.post(
    "", status_code=201, response_class=Response, responses={201: KEPT, **responses(404, 422, 503)}
)
async def read(design_id: DesignId, ask: NewReadingAsk, request: Request) -> Response:
    """Keep a reading as it was read, judge it, and answer as the round does."""
    state = request.app.state
    fields, record = await to_thread.run_sync(_as_kept, state.database, design_id)
    asked = ask.model_dump(exclude_none=True)
    facts, found = await worked_out(
        request, _judge, fields, record, asked, state.stock, lane="quick"
    )
    entry = await to_thread.run_sync(_keep, state.database, design_id, ask.text, facts)
    told = b'"entry":' + entry.model_dump_json().encode()
    body = b"{" + told + (b"," + found[1:] if found else b"}")
    return Response(body, 201, media_type="application/json")


def _as_kept(database: Database, design_id: int) -> tuple[dict[str, Any], list[dict[str, Any]]]:
    with database.sessions() as session:
        design = get_design(session, design_id)
        fields = {"kind": design.kind, "brief": design.brief, "choice": design.choice}
        rows = entries(session, design_id)
        told = ("reading", "correction")
        record = [
            {**r.facts, "number": r.id, "kind": r.kind, "text": r.text}
            for r in rows
            if r.kind in told
        ]
        return fields, record


def _judge(
    fields: dict[str, Any], record: list[dict[str, Any]], asked: dict[str, Any], stock: Inventory
) -> tuple[dict[str, Any], bytes]:
    """Return what is kept of a reading, and the round with it; in a worker."""
    # Loaded here: the server's own process computes nothing.
    from lowfold.views.kept_reading import judge_reading, read_of  # noqa: PLC0415

    found = judge_reading(fields, record, read_of(asked), stock)
    return found.facts, to_json(found.round) if found.round else b""


def _keep(database: Database, design_id: int, text: str, facts: dict[str, Any]) -> EntryAnswer:
    with database.writing() as session:
        row = add_entry(session, design_id, "reading", text, facts)
        session.commit()
        return EntryAnswer.from_row(row)
