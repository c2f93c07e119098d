"""Questions answered in a worker: by an application of its own, from the bytes of a request.

A worker has everything that computes, as one application with its routes, its validation and its
refusals. The server's own process knows of it what the OpenAPI document says, hands requests on,
and neither reads nor computes them.
"""

from __future__ import annotations

import functools
import json
import logging
import pickle
from collections.abc import Callable, Coroutine
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Any, Final, TypeVar

from fastapi import FastAPI, Request
from fastapi.responses import JSONResponse, Response
from fastapi.routing import APIRoute

from lowfold.api import problems
from lowfold.api.wire import to_json
from lowfold.core.bench.inventory import Inventory
from lowfold.work.jobs import Progress, Refused

__all__ = [
    "LIMIT",
    "LONG_WITH",
    "MOST_BYTES",
    "PRELOADED",
    "ComputedRoute",
    "Found",
    "begin",
    "compute",
    "prepare",
    "quick",
    "reported",
    "stands",
    "work_on",
]

#: What a process has imported before its first question.
PRELOADED: Final = ["lowfold.api.loaded"]
#: Bytes an answer may have.
MOST_BYTES: Final = 2_500_000
#: How the document says that an address is computed: up to how many bytes of a body it is a quick
#: question, and what in it makes a long one of it all the same.
LIMIT, LONG_WITH = "x-quick-up-to", "x-long-with"
TOO_MUCH_MEMORY: Final = "this needs more memory than the gigabyte a request may take: ask for less"

T = TypeVar("T")
#: What a job is begun with: its work, and what that is given.
Begun = tuple[Callable[[Any, Progress], Any], Any]


@dataclass(slots=True)
class _Noted:
    """What an endpoint found beside its answer."""

    standing: tuple[str, dict[str, Any]] | None = None
    begun: Begun | None = None


@dataclass(frozen=True, slots=True)
class Found:
    """What came of a request."""

    status: int
    body: bytes
    #: How a design stands that was worked out on the way, by its stamp.
    standing: tuple[str, dict[str, Any]] | None = None
    begins: bool = False  #: it is to be done as a job: it was only read so far

    @classmethod
    def problem(cls, status: int, detail: str) -> Found:
        """Return a refusal in words."""
        return cls(status, problems.problem_bytes(status, detail))

    @property
    def refused(self) -> bool:
        return self.status >= 400


_progress: ContextVar[Progress | None] = ContextVar("progress", default=None)
_noted: ContextVar[_Noted] = ContextVar("noted")
log = logging.getLogger("lowfold")


def quick(up_to: int, long_with: dict[str, int] | None = None) -> dict[str, Any]:
    """Return what says of a route that its questions are quick.

    Parameters
    ----------
    up_to : int
        Bytes of the body.
    long_with : dict, optional
        Numbers in the body, or in its brief, from which on it takes long all the same.
    """
    return {LIMIT: up_to, **({LONG_WITH: long_with} if long_with else {})}


class ComputedRoute(APIRoute):
    """A route that a worker answers with a view, from its body and the user's stock alone."""

    def __init__(self, path: str, endpoint: Callable[..., Any], **more: Any) -> None:
        sent = getattr(endpoint, "sent", False)
        more["openapi_extra"] = {LIMIT: 0} | (more.get("openapi_extra") or {})
        super().__init__(path, endpoint if sent else _sending(endpoint), **more)


def _sending(endpoint: Callable[..., Any]) -> Callable[..., Any]:
    """Return an endpoint that sends the view it answers with; a worker does one thing at a time."""

    @functools.wraps(endpoint)
    async def sent(**given: Any) -> Response:
        view = endpoint(**given)
        if view is None:  # a job in its place
            return Response(status_code=202)
        return Response(to_json(view), media_type="application/json")

    sent.sent = True  # type: ignore[attr-defined]
    return sent


def reported() -> Progress | None:
    """Return where the endpoint at work may tell how far it is; None where nobody asks."""
    return _progress.get()


def stands(mark: str, standing: dict[str, Any]) -> None:
    """Note how a design stands that the endpoint at work has found on the way, by its stamp."""
    _noted.get().standing = (mark, standing)


def begin(work: Callable[[Any, Progress], Any], payload: Any) -> Any:
    """Have this done as a job in place of an answer, now that the question has been read.

    The job reads it again where it is done, so that the server loads nothing of either.
    """
    _noted.get().begun = (work, payload)


@functools.lru_cache(maxsize=1)
def _application() -> FastAPI:
    from lowfold.api.routes import COMPUTED  # noqa: PLC0415  # everything that computes, in workers

    app = FastAPI(openapi_url=None, docs_url=None, redoc_url=None)
    problems.install(app)

    @app.exception_handler(MemoryError)
    async def _too_much(request: Request, exc: MemoryError) -> JSONResponse:
        return problems.problem_response(422, TOO_MUCH_MEMORY)

    for router in COMPUTED:
        app.include_router(router)
    return app


def prepare() -> None:
    """Load everything a worker needs, before its first request."""
    _application()


@functools.lru_cache(maxsize=2)
def _stock(version: int, packed: bytes) -> Inventory:
    found: Inventory = pickle.loads(packed)  # noqa: S301 written by this server
    return found


async def _asked(scope: dict[str, Any], body: bytes) -> tuple[int, bytes]:
    parts: list[bytes] = []
    status = 500

    async def receive() -> dict[str, Any]:  # as the protocol has it
        return {"type": "http.request", "body": body}

    async def send(message: Any) -> None:
        nonlocal status
        status = message.get("status", status)
        parts.append(message.get("body", b""))

    try:
        await _application()(scope, receive, send)
    except Exception:  # a mistake of ours: told as such and logged by the application itself
        if not parts:
            raise
    return status, b"".join(parts)


def _at_once(asked: Coroutine[Any, Any, T]) -> T:
    """Return what comes of something that never waits: a worker does one thing after the other.

    Nothing in its application has anything to wait for, so that no loop of events is needed.
    """
    try:
        asked.send(None)
    except StopIteration as done:
        found: T = done.value
        return found
    asked.close()
    msg = "something in a worker waits, and nobody would wake it"
    raise RuntimeError(msg)


def compute(path: str, kind: str, body: bytes, version: int, packed: bytes) -> Found:
    """Answer one request, or tell that it is to be done as a job.

    Parameters
    ----------
    path : str
        Of a `ComputedRoute`.
    kind : str
        What the body says it is.
    version, packed
        The user's stock: its version, and pickled.
    """
    scope = {
        "type": "http", "method": "POST", "path": path, "raw_path": path.encode(),
        "query_string": b"", "http_version": "1.1", "scheme": "http", "root_path": "",
        "headers": [(b"content-type", kind.encode("latin-1"))],
        "state": {"stock": _stock(version, packed)},
    }  # fmt: skip
    noted = _Noted()
    _noted.set(noted)
    status, answer = _at_once(_asked(scope, body))
    if len(answer) > MOST_BYTES:
        size = f"{len(answer) / 1e6:.1f} MB"
        return Found.problem(
            422, f"the answer would have {size}, more than the 2.5 MB sent: ask for less of it"
        )
    return Found(status, answer, noted.standing, begins=noted.begun is not None)


def work_on(payload: tuple[str, str, bytes, int, bytes], progress: Progress) -> Any:
    """Answer one request as a job.

    Raises
    ------
    Refused
        Where it is refused, with the problem it is refused with.
    """
    _progress.set(progress)
    found = compute(*payload)
    begun = _noted.get().begun
    if begun is not None:
        work, given = begun
        return work(given, progress)
    answer = json.loads(found.body)
    if found.refused:
        raise Refused(answer)
    return answer
