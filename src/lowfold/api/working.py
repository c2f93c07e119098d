"""How a route has work done: one promise for all, whatever they do with what comes of it.

Work runs in the lanes (`work/lanes.py`). A route that waits for it holds no thread and no
connection to the database meanwhile, so that saves, the list and the health call have theirs.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final

from fastapi import Request
from starlette.responses import Response

from lowfold.api.jobs import JobAnswer
from lowfold.api.problems import ClientGone
from lowfold.core.errors import TooLargeError
from lowfold.work.jobs import Job
from lowfold.work.lanes import LONGEST_S, Lane, Lanes, TooLong

__all__ = ["accepted", "client_gone", "waited_for", "wishes_of", "worked_out"]

TOO_LONG: Final = f"this takes longer than the {LONGEST_S:g} s a request may: ask for less of it"


async def client_gone(request: Request) -> None:
    """Wait until the client is no longer there."""
    while (await request.receive())["type"] != "http.disconnect":
        pass


async def worked_out(
    request: Request,
    work: Callable[..., Any],
    *args: Any,
    within: float | None = None,
    lane: Lane = "long",
) -> Any:
    """Return what comes of some work that a client waits for; what is short is quick.

    Raises
    ------
    Overloaded, ClientGone
    TooLargeError
        If it takes longer than a request may.
    TooLong
        If it takes longer than `within` seconds, where that is said.
    """
    lanes: Lanes = request.app.state.lanes
    here = True

    async def gone() -> None:
        nonlocal here
        await client_gone(request)
        here = False

    key = f"{request.method} {request.url.path}?{request.url.query}".encode()
    try:
        found = await lanes.done(
            work, args, gone=gone, kind=work.__qualname__, key=key, within=within, lane=lane
        )
    except TooLong as error:
        if within is not None:
            raise
        raise TooLargeError(TOO_LONG) from error
    if not here:
        raise ClientGone
    return found


def accepted(job: Job) -> Response:
    """Answer that a request goes on as a job, and where it is followed (RFC 7240, 4.1)."""
    return Response(
        JobAnswer.model_validate(job).model_dump_json(),
        202,
        {"location": f"/api/jobs/{job.id}", "preference-applied": "respond-async"},
        "application/json",
    )


def wishes_of(request: Request) -> dict[str, str]:
    """Return what the client prefers, by name (RFC 7240, 2)."""
    wishes = ",".join(request.headers.getlist("prefer")).split(",")
    pairs = (wish.split(";")[0].partition("=") for wish in wishes)
    return {name.strip().lower(): text.strip(' "') for name, _, text in pairs}


def waited_for(wishes: dict[str, str]) -> float | None:
    """Return for how many seconds an answer is waited for before a job is (RFC 7240, 4.3)."""
    wait = wishes.get("wait", "")
    patient = "respond-async" in wishes and wait.isascii() and wait.isdecimal()
    return float(wait[:4]) if patient else None
