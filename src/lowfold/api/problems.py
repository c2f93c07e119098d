"""Errors on the wire: RFC 9457 problem details, one shape for every refusal."""

from __future__ import annotations

import logging
from collections.abc import Mapping, Sequence
from typing import Any, Final

from fastapi import FastAPI, Request
from fastapi.encoders import jsonable_encoder
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, Field
from sqlalchemy.exc import DatabaseError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from starlette.exceptions import HTTPException

from lowfold.core.errors import LowfoldError, NotationError
from lowfold.store.failures import Moved, while_running
from lowfold.work.lanes import Overloaded

__all__ = [
    "MEDIA_TYPE",
    "ClientGone",
    "FieldError",
    "Problem",
    "field_error",
    "install",
    "problem_bytes",
    "problem_response",
    "responses",
]

MEDIA_TYPE = "application/problem+json"
NOT_KEPT: Final = "Cannot be kept"
log = logging.getLogger("lowfold")


class ClientGone(Exception):
    """Nobody waits for the answer any more."""


class FieldError(BaseModel):
    """One thing wrong with the request."""

    field: str = Field(description="Where, as a dotted path into the body", examples=["target_ohm"])
    message: str = Field(description="What was wrong and what would be right")
    position: int | None = Field(
        default=None, description="Index of the first character of the network that does not fit"
    )


class Problem(BaseModel):
    """Why a request was refused (RFC 9457)."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    errors: list[FieldError] = Field(default_factory=list)


def responses(*statuses: int) -> dict[int | str, dict[str, Any]]:
    """Describe refusals in the OpenAPI document."""
    return {
        status: {"model": Problem, "content": {MEDIA_TYPE: {}}, "description": TITLES[status]}
        for status in statuses
    }


TITLES: dict[int, str] = {
    400: "Not understood",
    403: "Refused",
    404: "Not found",
    405: "Method not allowed",
    408: "Too slow",
    409: "Changed meanwhile",
    413: "Too large",
    415: "Another kind of file",
    422: "Not understood",
    500: "A fault in Lowfold",
    503: "Busy",
    507: "The disk is full",
    502: "The meter failed",
    504: "The meter is silent",
}


def problem_bytes(status: int, detail: str, errors: Sequence[FieldError] = ()) -> bytes:
    """Return a problem as the body of a response."""
    problem = Problem(
        title=TITLES.get(status, "Refused"), status=status, detail=detail, errors=list(errors)
    )
    return problem.model_dump_json(exclude_none=True).encode()


def problem_response(
    status: int,
    detail: str,
    errors: list[FieldError] | None = None,
    *,
    headers: Mapping[str, str] | None = None,
    **more: object,
) -> JSONResponse:
    """Build the response; `more` are members beside the standard ones."""
    body = Problem(
        title=TITLES.get(status, "Refused"), status=status, detail=detail, errors=errors or []
    ).model_dump(exclude_none=True)
    return JSONResponse(
        {**body, **jsonable_encoder(more)},
        status_code=status,
        media_type=MEDIA_TYPE,
        headers=dict(headers or {}),
    )


#: Plain words for what the validation library says.
WORDS: dict[str, str] = {
    "missing": "this is required and was not given",
    "extra_forbidden": "there is no such field here; see /openapi.json for those there are",
    "json_invalid": "the body is not JSON",
    "finite_number": "this must be a finite number",
}


def field_error(error: Mapping[str, Any]) -> FieldError:
    """Put in plain words what the validation library says of one field."""
    path = [str(p) for p in error["loc"] if p not in {"body", "query", "path"}]
    message = WORDS.get(error["type"], str(error["msg"]).removeprefix("Value error, "))
    if error["type"] == "json_invalid":
        path, message = [], f"{message}: {error.get('ctx', {}).get('error', '')}".rstrip(": ")
    return FieldError(field=".".join(path) or "body", message=message)


def _other_kind(request: Request) -> str:
    """Say that a body is no JSON by its own words; empty where it says that it is."""
    kind = request.headers.get("content-type", "application/json").split(";")[0].strip()
    if kind == "application/json" or kind.endswith("+json"):
        return ""
    return f"a body of “{kind[:60]}” is not understood here: send application/json"


def _not_valid(request: Request, exc: RequestValidationError) -> JSONResponse:
    other = _other_kind(request)
    if other and any(e["loc"] == ("body",) for e in exc.errors()):
        return problem_response(415, other)
    errors = [field_error(e) for e in exc.errors()[:20]]
    first = errors[0]
    return problem_response(422, f"{first.field}: {first.message}", errors)


def _what_the_machine_refuses(app: FastAPI) -> None:
    @app.exception_handler(Overloaded)
    async def _overloaded(request: Request, exc: Overloaded) -> JSONResponse:
        why = exc.why or "too much is being worked out at once"
        kept = "" if exc.place is None else ", and it has its place"
        if exc.place:
            why += f", {exc.place} before it"
        headers = {"retry-after": str(exc.seconds)}
        more: dict[str, Any] = {} if exc.place is None else {"place": exc.place}
        return problem_response(
            503, f"{why}: ask again in {exc.seconds} s{kept}", headers=headers, **more
        )

    @app.exception_handler(DatabaseError)
    async def _not_stored(request: Request, exc: DatabaseError) -> JSONResponse:
        found = while_running(exc)
        log.warning("the database refused at %s: %s", request.url.path, exc.orig)
        if found.kind == "full":
            return problem_response(507, found.words)
        if found.kind == "busy":
            return problem_response(503, found.words, headers={"retry-after": "1"})
        return problem_response(503, found.words, title=NOT_KEPT)

    @app.exception_handler(Moved)
    async def _moved(request: Request, exc: Moved) -> JSONResponse:
        log.warning("nothing is kept at %s: %s", request.url.path, exc)
        return problem_response(503, str(exc), title=NOT_KEPT)

    @app.exception_handler(PoolTimeout)
    async def _no_connection(request: Request, exc: PoolTimeout) -> JSONResponse:
        return problem_response(503, "too much at once: try again", headers={"retry-after": "1"})

    @app.exception_handler(ClientGone)
    async def _gone(request: Request, exc: ClientGone) -> Response:
        return Response(status_code=499)


def install(app: FastAPI) -> None:
    """Map every kind of error to a problem, in one place."""
    _what_the_machine_refuses(app)

    @app.exception_handler(RequestValidationError)
    async def _bad_request(request: Request, exc: RequestValidationError) -> JSONResponse:
        return _not_valid(request, exc)

    @app.exception_handler(LowfoldError)
    async def _refused(request: Request, exc: LowfoldError) -> JSONResponse:
        position = exc.position if isinstance(exc, NotationError) else None
        error = FieldError(field=exc.field or "body", message=exc.message, position=position)
        return problem_response(422, exc.message, [error])

    @app.exception_handler(HTTPException)
    async def _http(request: Request, exc: HTTPException) -> JSONResponse:
        detail = exc.detail
        if exc.status_code in {404, 405} and detail in {"Not Found", "Method Not Allowed"}:
            detail = f"there is no {request.method} {request.url.path}; see /openapi.json"
        return problem_response(exc.status_code, detail, headers=exc.headers)

    @app.exception_handler(Exception)
    async def _fault(request: Request, exc: Exception) -> JSONResponse:
        log.error("fault at %s %s", request.method, request.url.path, exc_info=exc)
        return problem_response(500, "Lowfold made a mistake; nothing that was saved is lost")
