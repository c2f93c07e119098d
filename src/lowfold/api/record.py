"""/api/designs/{id}/record: what was decided, read and found; entries are added, never changed."""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal, Self

from fastapi import APIRouter, Path, Request
from fastapi.responses import JSONResponse
from pydantic import Field, model_validator

from lowfold.api.fields import WHOLE, Answer, Ask
from lowfold.api.points import PointAsk
from lowfold.api.problems import problem_response, responses
from lowfold.api.sessions import SessionDep, WritingDep
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, write
from lowfold.store.models import RecordRow
from lowfold.store.record import NoSuchEntry, add_entry, entries

__all__ = ["DesignId", "EntryAnswer", "EntryAsk", "install", "router"]

router = APIRouter(prefix="/api/designs/{design_id}", tags=["record"])

DesignId = Annotated[int, Path(ge=1, le=2**53), WHOLE]
UNITS: Final = {"V": VOLT, "A": AMPERE, "Ω": OHM}
DIGITS: Final = 6  #: of a reading as shown
Kind = Literal["decision", "reading", "finding", "note", "photo", "correction"]


class EntryAsk(Ask):
    """One entry; how a reading is judged is not the client's to say: `POST .../readings` does."""

    kind: Kind
    text: str = Field(max_length=4000, description="As typed")
    point: PointAsk | None = Field(None, description="Of a reading; of a photograph, if of one")
    value: float | None = Field(None, description="Of a reading, in SI; null: not understood")
    unit: str | None = Field(None, max_length=8)
    meter: str | None = Field(None, max_length=60)
    board: str | None = Field(None, max_length=20_000, description="The network it was read on")
    corrects: Annotated[int, Field(ge=1, le=2**53)] | None = Field(
        None, description="The entry that is corrected"
    )
    evidence: Annotated[int, Field(ge=1, le=2**53)] | None = Field(
        None, description="Of a photograph: its id among the design's evidence"
    )
    of: Annotated[int, Field(ge=1, le=2**53)] | None = Field(
        None, description="The entry that a photograph or a note belongs to"
    )
    choice: str | None = Field(None, max_length=20_000, description="Of a decision: what is chosen")

    @model_validator(mode="after")
    def _of_its_kind(self) -> Self:
        if self.kind != "photo" and (self.kind == "reading") != (self.point is not None):
            msg = "a reading has its point, and nothing but it and a photograph has one"
            raise ValueError(msg)
        if (self.kind == "photo") != (self.evidence is not None):
            msg = "a photograph names its evidence, and nothing else does"
            raise ValueError(msg)
        if (self.kind == "correction") != (self.corrects is not None):
            msg = "a correction names the entry that it corrects, and nothing else does"
            raise ValueError(msg)
        return self

    def facts(self) -> dict[str, Any]:
        return self.model_dump(exclude={"kind", "text"}, exclude_none=True)


class EntryAnswer(Answer):
    id: int
    at: str = Field(description="ISO 8601, UTC")
    kind: Kind
    text: str
    point: dict[str, Any] | None = None
    value: float | None = None
    overload: bool = False
    unit: str | None = None
    meter: str | None = None
    board: str | None = None
    lowest: float | None = None
    highest: float | None = None
    verdict: str | None = None
    corrects: int | None = None
    evidence: int | None = None
    of: int | None = None
    choice: str | None = None
    shown: str = Field("", description="A reading as it was understood, with its unit")

    @classmethod
    def from_row(cls, row: RecordRow) -> EntryAnswer:
        kind = UNITS.get(row.facts.get("unit", ""))
        value = row.facts.get("value")
        shown = "over range" if row.facts.get("overload") else ""
        if kind is not None and value is not None:
            shown = write(value, kind, DIGITS, trim=True)
        return cls(id=row.id, at=row.at, kind=row.kind, text=row.text, shown=shown, **row.facts)


def install(app: Any) -> None:
    """Map what the record refuses to problems."""

    @app.exception_handler(NoSuchEntry)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchEntry) -> JSONResponse:
        return problem_response(422, f"this record has no entry {exc.id} to be corrected")


@router.get("/record", responses=responses(404))
def record(design_id: DesignId, session: SessionDep) -> list[EntryAnswer]:
    """List a design's record, oldest first."""
    return [EntryAnswer.from_row(row) for row in entries(session, design_id)]


@router.post("/record", status_code=201, responses=responses(404, 422))
def added(design_id: DesignId, ask: EntryAsk, session: WritingDep) -> EntryAnswer:
    """Add an entry to a design's record; none is ever changed."""
    _check_point(ask)
    row = add_entry(session, design_id, ask.kind, ask.text, ask.facts())
    session.commit()
    return EntryAnswer.from_row(row)


def _check_point(ask: EntryAsk) -> None:
    """Refuse a reading in a unit that is not its quantity's, or at a point that its board has not.

    Only of what is added now: what a file hands over was written under the rules of its time.
    """
    # Loaded when needed: what reads a network takes a part of a second of a start.
    from lowfold.core.bench.points import point_named  # noqa: PLC0415
    from lowfold.core.network.circuit import build_circuit  # noqa: PLC0415
    from lowfold.core.network.notation import read_text  # noqa: PLC0415

    point = ask.point
    if point is None:
        return
    own = {"voltage": VOLT, "current": AMPERE, "resistance": OHM}[point.kind].unit
    if ask.kind == "reading" and ask.unit not in {None, own}:
        msg = f"a {point.kind} is read in {own}, not in {ask.unit}"
        raise DomainError(msg, field="unit")
    if ask.board is None:
        return
    names = ("at", "against", "across", "through", "part")
    try:
        circuit = build_circuit(read_text(ask.board))
        point_named(circuit, point.kind, **{n: getattr(point, n) for n in names})
    except LowfoldError as error:
        raise DomainError(error.message, field="point") from error
