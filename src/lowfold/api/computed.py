"""Computed requests: answered by a worker from their bytes, and what was answered is kept a while.

The server's own process hands bytes on and computes nothing.
"""

from __future__ import annotations

import hashlib
import json
import pickle
from collections.abc import Callable, Mapping
from typing import Any, Final

from cachetools import LRUCache
from starlette.requests import Request
from starlette.responses import Response

from lowfold.api.computing import LIMIT, LONG_WITH, Found, compute, work_on
from lowfold.api.problems import MEDIA_TYPE
from lowfold.api.working import accepted, client_gone, waited_for, wishes_of
from lowfold.core.bench.inventory import Inventory
from lowfold.work.jobs import Jobs
from lowfold.work.lanes import LONGEST_S, Gone, Lane, Lanes, Overloaded, TooLong

__all__ = ["Computed", "answered", "computed_in"]

#: Answers kept, by request and stock: an unchanged sheet is not worked out again.
KEPT_BYTES: Final = 8_000_000
LARGEST_KEPT: Final = 400_000
TOO_LONG: Final = (
    f"this takes longer than the {LONGEST_S:g} s a request may: ask for less, or send the header "
    "Prefer: respond-async to have it done as a job"
)
JSON: Final = "application/json"


def computed_in(document: Mapping[str, Any]) -> dict[str, Mapping[str, Any]]:
    """Return what the document says of each address that is computed."""
    posts = {path: item["post"] for path, item in document["paths"].items() if "post" in item}
    return {path: post for path, post in posts.items() if LIMIT in post}


def _first_digit(value: Any) -> int:
    return next((int(sign) for sign in str(value)[:40] if sign.isdecimal()), -1)


class Computed:
    """What computed requests are answered from: the lanes and the user's stock."""

    def __init__(
        self,
        lanes: Lanes,
        described: Mapping[str, Mapping[str, Any]],
        stands: Callable[[str, dict[str, Any]], None] = lambda *_: None,
    ) -> None:
        """Begin with no stock.

        Parameters
        ----------
        described : mapping
            What the document says of each address that is computed.
        stands : callable
            Told how a design stands that was worked out on the way, by its stamp.
        """
        self.lanes, self._described, self._stands = lanes, described, stands
        self.version = 0
        self._packed = pickle.dumps(Inventory())
        self._kept: LRUCache[tuple[str, bytes, int], Found] = LRUCache(
            KEPT_BYTES, lambda found: len(found.body) + 1000
        )

    def stock_is(self, version: int, stock: Inventory) -> None:
        """Take the user's stock as it is now, for what is asked from here on."""
        self.version, self._packed = version, pickle.dumps(stock)

    def job(self, path: str, kind: str, body: bytes) -> tuple[str, str, bytes, int, bytes]:
        """Return a request as a worker takes it, with the stock as it is now."""
        return path, kind, body, self.version, self._packed

    def _lane_of(self, path: str, body: bytes) -> Lane:
        """Return where a request waits: by its size, and by what makes a long question of it."""
        said = self._described[path]
        if len(body) > said[LIMIT]:
            return "long"
        long_with = said.get(LONG_WITH)
        if long_with:
            try:
                asked = json.loads(body)
                named = {**asked, **asked.get("brief", {})}
                if any(_first_digit(named.get(n, "")) >= least for n, least in long_with.items()):
                    return "long"
            except (ValueError, TypeError, AttributeError, RecursionError):
                return "quick"  # to be refused
        return "quick"

    async def answer(
        self, path: str, kind: str, body: bytes, gone: Gone, within: float | None = None
    ) -> Found | None:
        """Answer a request; None if `gone` came first: nobody waits for it any more.

        Raises
        ------
        Overloaded
            If too much is waiting already.
        TooLong
            If it takes longer than `within` seconds, where that is said.
        """
        digest = hashlib.blake2b(kind.encode() + b"\0" + body, digest_size=16).digest()
        key = (path, digest, self.version)
        kept: Found | None = self._kept.get(key)
        if kept is not None:
            return kept
        try:
            found: Found | None = await self.lanes.done(
                compute, self.job(path, kind, body), gone=gone, kind=path,
                key=path.encode() + digest, lane=self._lane_of(path, body), within=within,
            )  # fmt: skip
        except TooLong:
            if within is not None:
                raise
            return Found.problem(422, TOO_LONG)
        if found is None or found.begins:
            return found
        if found.standing is not None:
            self._stands(*found.standing)
        if not found.refused and len(found.body) <= LARGEST_KEPT:
            self._kept[key] = found
        return found


async def answered(request: Request) -> Response:
    """Answer a request of a computed route, or have it done as a job."""
    path, kind = request.url.path, request.headers.get("content-type", JSON)
    body = await request.body()
    computed: Computed = request.app.state.computed
    jobs: Jobs = request.app.state.jobs
    wishes = wishes_of(request)
    waits = waited_for(wishes)

    def begun() -> Response:
        return accepted(jobs.start(work_on, computed.job(path, kind, body)))

    async def gone() -> None:
        await client_gone(request)

    if "respond-async" in wishes and waits is None:
        return begun()
    try:
        found = await computed.answer(path, kind, body, gone, waits)
    except TooLong:
        try:
            return begun()
        except Overloaded:  # as many jobs as may be: it has its turn in the lanes
            found = await computed.answer(path, kind, body, gone)
    if found is None:
        return Response(status_code=499)
    if found.begins:
        return begun()
    return Response(found.body, found.status, media_type=MEDIA_TYPE if found.refused else JSON)
