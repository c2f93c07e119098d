"""Answer a computing request from its bytes, in a worker process or in the server itself.

A worker takes a path and a body and gives back a status and a body, so that nothing of a request
but its bytes crosses between processes, and the server's own process neither reads nor computes.
"""

from __future__ import annotations

import json
import logging
import pickle
from collections.abc import Callable, Sequence
from contextvars import ContextVar
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Final, get_type_hints

from fastapi.routing import APIRoute
from pydantic import BaseModel, ValidationError

from lowfold.api.deferred import COMPUTED, load, load_all
from lowfold.api.problems import FieldError, field_error, problem_bytes
from lowfold.api.texts import unfit
from lowfold.core.bench.workshop import Workshop
from lowfold.core.errors import LowfoldError, NotationError
from lowfold.work.jobs import Progress, Refused

__all__ = [
    "MOST_BYTES",
    "PRELOADED",
    "ComputedRoute",
    "Found",
    "compute",
    "prepare",
    "reported",
    "stands",
    "work_on",
]

#: What a process has imported before its first question.
PRELOADED: Final = ["lowfold.api.loaded"]
#: Bytes an answer may have.
MOST_BYTES: Final = 2_500_000

_progress: ContextVar[Progress | None] = ContextVar("progress", default=None)
_standing: ContextVar[tuple[str, dict[str, Any]] | None] = ContextVar("standing", default=None)
log = logging.getLogger("lowfold")


@dataclass(frozen=True, slots=True)
class Found:
    """What came of a request."""

    status: int
    body: bytes
    #: How a design stands that was worked out on the way, by its stamp.
    standing: tuple[str, dict[str, Any]] | None = None

    @classmethod
    def problem(cls, status: int, detail: str, errors: Sequence[FieldError] = ()) -> Found:
        """Return a refusal in words."""
        return cls(status, problem_bytes(status, detail, errors))

    @property
    def refused(self) -> bool:
        return self.status >= 400


class ComputedRoute(APIRoute):
    """A route whose answer is computed from its body and the user's stock alone.

    Its endpoint takes `ask`, and may take `stock`, `families`, `drawer`, `meters` or `priors`.
    It is called in a worker; the server's own handler is `api.computed`'s.
    """

    known: Final[dict[str, Callable[..., BaseModel]]] = {}

    def __init__(self, path: str, endpoint: Callable[..., Any], **more: Any) -> None:
        self.known[path] = endpoint
        super().__init__(path, endpoint, **more)


def reported() -> Progress | None:
    """Return where the endpoint at work may tell how far it is; None where nobody asks."""
    return _progress.get()


def stands(mark: str, standing: dict[str, Any]) -> None:
    """Note how a design stands that the endpoint at work has found on the way, by its stamp."""
    _standing.set((mark, standing))


def prepare() -> None:
    """Load everything a worker needs, before its first request."""
    load_all()


@lru_cache(maxsize=2)
def _stock(version: int, packed: bytes) -> Workshop:
    found: Workshop = pickle.loads(packed)  # noqa: S301 written by this server
    return found


@lru_cache(maxsize=64)
def _asked(path: str) -> tuple[type[BaseModel], frozenset[str]]:
    load(COMPUTED[path])
    hints = get_type_hints(ComputedRoute.known[path])
    model: type[BaseModel] = hints["ask"]
    return model, frozenset(hints) & {"stock", "families", "drawer", "meters", "priors"}


def compute(path: str, body: bytes, version: int, packed: bytes) -> Found:
    """Answer one request.

    Parameters
    ----------
    path : str
        Of a `ComputedRoute`.
    version, packed
        The user's stock: its version, and pickled.
    """
    try:
        found = _computed(path, body, _stock(version, packed))
    except MemoryError:
        return Found.problem(
            422, "this needs more memory than the gigabyte a request may take: ask for less"
        )
    except Exception as fault:  # the last resort: a mistake of ours, told as such and logged
        log.exception("fault at %s", path, exc_info=fault)
        return Found.problem(500, "Lowfold made a mistake; nothing that was saved is lost")
    if len(found.body) > MOST_BYTES:
        size = f"{len(found.body) / 1e6:.1f} MB"
        return Found.problem(
            422, f"the answer would have {size}, more than the 2.5 MB sent: ask for less of it"
        )
    return found


def _computed(path: str, body: bytes, stock: Workshop) -> Found:
    model, wants = _asked(path)
    try:
        data = json.loads(body)
    except (ValueError, RecursionError) as error:
        return _refused([FieldError(field="body", message=f"the body is not JSON: {error}")])
    wrong = unfit(data)
    if wrong:
        return _refused([FieldError(field="body", message=wrong)])
    try:
        ask = model.model_validate(data, context={"meters": stock.meters})
    except ValidationError as error:
        return _refused([field_error(e) for e in error.errors(include_url=False)[:20]])
    parts = {
        "stock": stock, "families": stock.families, "drawer": stock.lines,
        "meters": stock.meters, "priors": stock.priors,
    }  # fmt: skip
    _standing.set(None)
    try:
        answer = ComputedRoute.known[path](ask=ask, **{name: parts[name] for name in wants})
    except LowfoldError as error:
        position = error.position if isinstance(error, NotationError) else None
        named = FieldError(field=error.field or "body", message=error.message, position=position)
        return Found.problem(422, error.message, [named])
    return Found(200, answer.model_dump_json(by_alias=True).encode(), _standing.get())


def _refused(errors: list[FieldError]) -> Found:
    first = errors[0]
    return Found.problem(422, f"{first.field}: {first.message}", errors)


def work_on(payload: tuple[str, bytes, int, bytes], progress: Progress) -> Any:
    """Answer one request as a job.

    Raises
    ------
    Refused
        Where it is refused, with the problem it is refused with.
    """
    _progress.set(progress)
    found = compute(*payload)
    answer = json.loads(found.body)
    if found.refused:
        raise Refused(answer)
    return answer
