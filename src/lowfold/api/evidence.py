"""/api/designs/{id}/evidence: photographs of what was built."""

from __future__ import annotations

from typing import Annotated, Any

from anyio import to_thread
from fastapi import APIRouter, File, Path, Request, Response, UploadFile
from fastapi.responses import JSONResponse
from pydantic import Field
from starlette.exceptions import HTTPException

from lowfold.api.fields import WHOLE, Answer
from lowfold.api.problems import problem_response, responses
from lowfold.api.sessions import SessionDep
from lowfold.api.working import worked_out
from lowfold.core.record.picture import LARGEST_FILE, Picture, WrongKind
from lowfold.store.database import Database
from lowfold.store.designs import get_design
from lowfold.store.evidence import NoSuchEvidence, add_evidence, evidence_of, get_evidence
from lowfold.store.models import EvidenceRow

__all__ = ["install", "router"]

router = APIRouter(prefix="/api/designs/{design_id}/evidence", tags=["record"])

DesignId = Annotated[int, Path(ge=1, le=2**53), WHOLE]
EvidenceId = Annotated[int, Path(ge=1, le=2**53), WHOLE]
#: Nothing of it is ever changed, and it is the user's alone.
FOREVER = {"cache-control": "private, max-age=31536000, immutable"}


class EvidenceAnswer(Answer):
    id: int
    at: str = Field(description="ISO 8601, UTC")
    sha256: str = Field(description="Of the bytes served")
    media: str
    width: int
    height: int
    size: int = Field(description="Bytes served")

    @classmethod
    def from_row(cls, row: EvidenceRow) -> EvidenceAnswer:
        names = ("id", "at", "sha256", "media", "width", "height", "size")
        return cls(**{name: getattr(row, name) for name in names})


def install(app: Any) -> None:
    """Map what evidence refuses to problems."""

    @app.exception_handler(NoSuchEvidence)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchEvidence) -> JSONResponse:
        status = 422 if request.method == "POST" else 404
        return problem_response(status, f"this record has no photograph {exc.id}")

    @app.exception_handler(WrongKind)  # type: ignore[untyped-decorator]
    def _another(request: Request, exc: WrongKind) -> JSONResponse:
        return problem_response(415, exc.message)


def _read(file: bytes) -> Picture:
    """Make a photograph anew; in a worker."""
    # Loaded here: the server's own process computes nothing.
    from lowfold.formats.pictures import read_picture  # noqa: PLC0415

    return read_picture(file)


@router.get("", responses=responses(404))
def every_photograph(design_id: DesignId, session: SessionDep) -> list[EvidenceAnswer]:
    """List a design's photographs, oldest first."""
    get_design(session, design_id)
    return [EvidenceAnswer.from_row(row) for row in evidence_of(session, design_id)]


@router.post("", status_code=201, responses=responses(404, 413, 415, 422))
async def added(
    design_id: DesignId,
    request: Request,
    file: Annotated[UploadFile, File(description="PNG, JPEG or WebP, to 10 MB")],
) -> EvidenceAnswer:
    """Keep a photograph: turned as its orientation says, encoded anew without its metadata."""
    database: Database = request.app.state.database
    await to_thread.run_sync(_looked_up, database, design_id)
    given = await file.read(LARGEST_FILE + 1)
    if len(given) > LARGEST_FILE:
        raise HTTPException(413, f"a photograph has at most {LARGEST_FILE // 1_000_000} MB")
    picture = await worked_out(request, _read, given)
    return await to_thread.run_sync(_put_away, database, design_id, picture)


def _looked_up(database: Database, design_id: int) -> None:
    with database.sessions() as session:
        get_design(session, design_id)


def _put_away(database: Database, design_id: int, picture: Picture) -> EvidenceAnswer:
    with database.writing() as session:
        row = add_evidence(session, design_id, picture)
        session.commit()
        return EvidenceAnswer.from_row(row)


@router.get(
    "/{evidence_id}",
    response_class=Response,
    responses={200: {"content": {"image/*": {}}}, **responses(404)},
)
def photograph(design_id: DesignId, evidence_id: EvidenceId, session: SessionDep) -> Response:
    """Return a photograph."""
    get_design(session, design_id)
    row = get_evidence(session, design_id, evidence_id)
    return Response(row.image, media_type=row.media, headers=FOREVER)


@router.get(
    "/{evidence_id}/thumbnail",
    response_class=Response,
    responses={200: {"content": {"image/jpeg": {}}}, **responses(404)},
)
def thumbnail(design_id: DesignId, evidence_id: EvidenceId, session: SessionDep) -> Response:
    """Return a photograph in small, as a JPEG."""
    get_design(session, design_id)
    row = get_evidence(session, design_id, evidence_id)
    return Response(row.thumbnail, media_type="image/jpeg", headers=FOREVER)
