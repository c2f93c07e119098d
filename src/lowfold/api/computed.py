"""Computed requests: answered by a worker from their bytes, and what was answered is kept a while.

The server's own process hands bytes on and computes nothing.
"""

from __future__ import annotations

import hashlib
import pickle
import re
from collections.abc import Awaitable, Callable
from typing import Any, Final

from cachetools import LRUCache
from starlette.requests import Request
from starlette.responses import Response

from lowfold.api.computing import Found, compute, work_on
from lowfold.api.problems import MEDIA_TYPE
from lowfold.api.working import accepted, client_gone, waited_for, wishes_of
from lowfold.core.bench.workshop import Workshop
from lowfold.work.jobs import Jobs
from lowfold.work.lanes import LONGEST_S, Gone, Lane, Lanes, Overloaded, TooLong

__all__ = ["Computed", "handler_of"]

#: Answers kept, by request and stock: an unchanged sheet is not worked out again.
KEPT_BYTES: Final = 8_000_000
LARGEST_KEPT: Final = 400_000
TOO_LONG: Final = (
    f"this takes longer than the {LONGEST_S:g} s a request may: ask for less, or send the header "
    "Prefer: respond-async to have it done as a job"
)

#: Quick paths, each with what in a body makes a long question of it all the same.
QUICK: Final[dict[str, re.Pattern[bytes]]] = {
    "/api/sheet": re.compile(rb'"(per_leg|max_parts)"\s*:\s*"?\s*[2-6]|"tap[34]_v"\s*:\s*"[0-9]'),
    "/api/sheet/shown": re.compile(rb"(?s).{3000}"),
    "/api/network/sheet": re.compile(rb"(?s).{2500}"),
    "/api/network/solve": re.compile(rb"(?s).{2500}"),
    "/api/network/check": re.compile(rb"(?s).{1500}"),
    "/api/network/relation": re.compile(rb"(?s).{6000}"),
    "/api/network/edit": re.compile(rb"(?s).{20000}"),
    "/api/network/unknown": re.compile(rb"(?s).{1500}"),
    "/api/reference/ohm": re.compile(rb"(?s).{4000}"),
    "/api/reference/series": re.compile(rb"(?s).{4000}"),
    "/api/marks/read": re.compile(rb"(?s).{20000}"),
    "/api/marks/write": re.compile(rb"(?s).{4000}"),
    "/api/bench/hidden": re.compile(rb"(?s).{4000}"),
    "/api/bench/diagnose": re.compile(rb'(?s)"most_at_once"\s*:\s*2|.{6000}'),
    "/api/bench/suspects": re.compile(rb'(?s)"most_at_once"\s*:\s*2|.{12000}'),
    "/api/bench/faults": re.compile(rb"(?s).{6000}"),
    "/api/bench/round": re.compile(rb"(?s).{12000}"),
    "/api/bench/expect": re.compile(rb"(?s).{1500}"),
}


def _lane_of(path: str, body: bytes) -> Lane:
    heavy = QUICK.get(path)
    return "long" if heavy is None or heavy.search(body) else "quick"


class Computed:
    """What computed requests are answered from: the lanes and the user's stock."""

    def __init__(
        self, lanes: Lanes, stands: Callable[[str, dict[str, Any]], None] = lambda *_: None
    ) -> None:
        """Begin with no stock.

        Parameters
        ----------
        stands : callable
            Told how a design stands that was worked out on the way, by its stamp.
        """
        self.lanes, self._stands = lanes, stands
        self.version = 0
        self._packed = pickle.dumps(Workshop())
        self._kept: LRUCache[tuple[str, bytes, int], Found] = LRUCache(
            KEPT_BYTES, lambda found: len(found.body) + 1000
        )

    def stock_is(self, version: int, stock: Workshop) -> None:
        """Take the user's stock as it is now, for what is asked from here on."""
        self.version, self._packed = version, pickle.dumps(stock)

    @property
    def payload(self) -> tuple[int, bytes]:
        """Return the stock as a worker takes it."""
        return self.version, self._packed

    async def answer(
        self, path: str, body: bytes, gone: Gone, within: float | None = None
    ) -> Found | None:
        """Answer a request; None if `gone` came first: nobody waits for it any more.

        Raises
        ------
        Overloaded
            If too much is waiting already.
        TooLong
            If it takes longer than `within` seconds, where that is said.
        """
        digest = hashlib.blake2b(body, digest_size=16).digest()
        key = (path, digest, self.version)
        kept: Found | None = self._kept.get(key)
        if kept is not None:
            return kept
        args = (path, body, *self.payload)
        try:
            found: Found | None = await self.lanes.done(
                compute, args, gone=gone, kind=path, key=path.encode() + digest,
                lane=_lane_of(path, body), within=within,
            )  # fmt: skip
        except TooLong:
            if within is not None:
                raise
            return Found.problem(422, TOO_LONG)
        if found is not None and found.standing is not None:
            self._stands(*found.standing)
        if found is not None and not found.refused and len(found.body) <= LARGEST_KEPT:
            self._kept[key] = found
        return found


def handler_of(path: str) -> Callable[[Request], Awaitable[Response]]:
    """Return what handles requests of one computed route."""

    async def handle(request: Request) -> Response:
        kind = request.headers.get("content-type", "application/json").split(";")[0].strip()
        if kind != "application/json" and not kind.endswith("+json"):
            found: Found | None = Found.problem(
                415, f"a body of “{kind[:60]}” is not understood here: send application/json"
            )
        else:
            body = await request.body()
            computed: Computed = request.app.state.computed
            wishes = wishes_of(request)
            waits = waited_for(wishes)
            if "respond-async" in wishes and waits is None:
                return _begun(request, path, body)
            try:
                found = await computed.answer(path, body, lambda: client_gone(request), waits)
            except TooLong:
                try:
                    return _begun(request, path, body)
                except Overloaded:  # as many jobs as may be: it has its turn in the lanes
                    found = await computed.answer(path, body, lambda: client_gone(request))
        if found is None:
            return Response(status_code=499)
        media = MEDIA_TYPE if found.refused else "application/json"
        return Response(found.body, found.status, media_type=media)

    return handle


def _begun(request: Request, path: str, body: bytes) -> Response:
    """Begin a request as a job, and answer where it is followed."""
    jobs: Jobs = request.app.state.jobs
    computed: Computed = request.app.state.computed
    return accepted(jobs.start(work_on, (path, body, *computed.payload)))
