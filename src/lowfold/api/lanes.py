"""Where computing requests wait and run: bounded lanes of worker processes, kept warm.

Quick questions (a sheet while one types) have a lane of their own; long ones share another, at a
lower priority, so that forty of them do not hold up a keystroke, a save or the list. What nobody
waits for any more is ended, what takes too long is refused, and too much at once is told to come
back. The workers are Pebble's, which ends one at once and puts a warm one in its place.
"""

from __future__ import annotations

import asyncio
import contextlib
import gc
import logging
import multiprocessing
import os
import pickle
import re
import resource
import threading
import time
from collections import OrderedDict
from collections.abc import Awaitable, Callable
from concurrent.futures import CancelledError, Future, wait
from concurrent.futures import TimeoutError as FutureTimeout
from typing import Any, Final, Literal

import anyio.to_thread
from pebble import ProcessExpired, ProcessPool
from starlette.requests import Request
from starlette.responses import Response

from lowfold.api.computing import PRELOADED, Found, compute, prepare, work_on
from lowfold.api.problems import MEDIA_TYPE, Overloaded
from lowfold.core.bench.workshop import Workshop
from lowfold.core.errors import TooLargeError

__all__ = ["CONTEXT", "Lanes", "handler_of"]

Lane = Literal["quick", "long"]
#: Ends once nobody waits for an answer any more.
Leaving = Callable[[], Awaitable[Any]]

log = logging.getLogger("lowfold")

LONGEST_S: Final = 9.0  #: a request is answered within ten seconds
QUICK_S: Final = 1.0  #: what takes longer in the quick lane goes to the long one
PATIENCE_S: Final = 5.0  #: waiting for a worker; then a request is told to come back
STARTING_S: Final = 60.0  #: at most, for the workers after a start
FIRST_S: Final = 8.0  #: a request waits for them; then it is told that they are starting
GRACE_S: Final = 0.25  #: what nobody waits for may end by itself, and leaves its worker warm
SELDOM: Final = (20_000, 20, 50)  #: new objects before a worker looks for garbage in circles
STILL: Final = "Lowfold is still starting, on a busy machine"
MOST_WAITING: Final = 24  #: per worker of a lane
#: Bytes of data a worker may take beside what it has when it starts.
MOST_DATA: Final = 1_100_000_000
#: Answers kept, by request and stock: an unchanged sheet is not worked out again.
KEPT_BYTES: Final = 8_000_000
LARGEST_KEPT: Final = 400_000

#: Warm processes come from a server that has everything imported and no threads.
CONTEXT: Final = multiprocessing.get_context("forkserver")
# The linear algebra library would start threads for matrices of five rows, two of them on one core.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

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


def _start(*, low: bool) -> None:
    """Prepare a worker: loaded, bounded in memory, and out of the way of quick ones."""
    prepare()
    # What is loaded stays: collecting it again and again would take a tenth of a second each time.
    gc.collect()
    gc.freeze()
    gc.set_threshold(*SELDOM)
    if low:
        os.nice(10)
    with open("/proc/self/statm", encoding="ascii") as pages:  # noqa: PTH123 no path of a user's
        data = int(pages.read().split()[5]) * resource.getpagesize()
    limit = data + MOST_DATA
    resource.setrlimit(resource.RLIMIT_DATA, (limit, limit))


def _start_quick() -> None:
    _start(low=False)


def _start_long() -> None:
    _start(low=True)


STARTED: Final[dict[Lane, Callable[[], None]]] = {"quick": _start_quick, "long": _start_long}


class NotYet(Exception):
    """The answer takes longer than the client waits for it before it would have a job."""


class _Worker:
    """One process at a time, and how many questions it has."""

    def __init__(self, lane: Lane) -> None:
        self.pool = ProcessPool(max_workers=1, context=CONTEXT, initializer=STARTED[lane])
        self.warm: Future[None] = Future()
        self.waiting = 0

    def start(self) -> None:
        """Start the process and wait until it is ready; what goes wrong is logged."""
        try:
            self.pool.schedule(prepare).result(timeout=STARTING_S)
        except Exception:
            log.exception("a worker did not start")
        finally:
            self.warm.set_result(None)


class Lanes:
    """The lanes of one run of the server."""

    def __init__(self, workers: int) -> None:
        self.inline = workers == 0
        self.version = 0
        self._packed = pickle.dumps(Workshop())
        self._kept: OrderedDict[tuple[str, bytes, int], Found] = OrderedDict()
        self._bytes = 0
        self._workers: dict[Lane, list[_Worker]] = {"quick": [], "long": []}
        if not self.inline:
            CONTEXT.set_forkserver_preload(PRELOADED)
            self._workers = {
                "quick": [_Worker("quick") for _ in range(workers)],
                "long": [_Worker("long") for _ in range(workers)],
            }
        # The server of warm processes takes seconds to load everything: the app answers meanwhile.
        self._starting = threading.Thread(target=self._start, name="starting workers", daemon=True)
        self._starting.start()

    def _start(self) -> None:
        for worker in (w for lane in self._workers.values() for w in lane):
            worker.start()

    def stock_is(self, version: int, stock: Workshop) -> None:
        """Take the user's stock as it is now, for what is asked from here on."""
        self.version, self._packed = version, pickle.dumps(stock)

    @property
    def payload(self) -> tuple[int, bytes]:
        """Return the stock as a worker takes it."""
        return self.version, self._packed

    def close(self) -> None:
        """End every worker, whatever it is doing."""
        self._starting.join()
        for worker in (w for lane in self._workers.values() for w in lane):
            worker.pool.stop()  # type: ignore[no-untyped-call]
        for worker in (w for lane in self._workers.values() for w in lane):
            worker.pool.join()

    def try_soon(self, work: Callable[..., Any], args: tuple[Any, ...], wait: float) -> Any:
        """Return what comes of some quick work if it comes within `wait` seconds, else None.

        From a thread. It is dropped if it takes longer, or if the lane is busy.
        """
        if self.inline:
            return work(*args)
        worker = min(self._workers["quick"], key=lambda w: w.waiting)
        if worker.waiting > 1 or not worker.warm.done():
            return None
        running = worker.pool.schedule(work, args=args, timeout=QUICK_S)
        try:
            return running.result(timeout=wait)
        except (FutureTimeout, ProcessExpired, CancelledError):
            return None

    def at_once(self, work: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        """Return what comes of some work that somebody waits for. From a thread.

        Raises
        ------
        Overloaded
            If too much is waiting already, or it takes longer than a request may.
        """
        if self.inline:
            return work(*args)
        worker = min(self._workers["long"], key=lambda w: w.waiting)
        if worker.waiting > MOST_WAITING:
            raise Overloaded(3)
        wait([worker.warm], timeout=STARTING_S)
        worker.waiting += 1
        try:
            return worker.pool.schedule(work, args=args, timeout=LONGEST_S).result()
        except (FutureTimeout, ProcessExpired, CancelledError) as error:
            raise Overloaded(5) from error
        finally:
            worker.waiting -= 1

    def in_the_background(self, work: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        """Return what comes of some work nobody waits for, after all that somebody does.

        From a thread.

        Raises
        ------
        TimeoutError
            If it takes longer than a request may.
        """
        if self.inline:
            return work(*args)
        worker = min(self._workers["long"], key=lambda w: w.waiting)
        wait([worker.warm], timeout=STARTING_S)
        running = worker.pool.schedule(work, args=args, timeout=LONGEST_S)
        try:
            return running.result()
        except (ProcessExpired, CancelledError):
            return None

    async def answer(
        self,
        path: str,
        body: bytes,
        gone: Callable[[], Awaitable[Any]],
        within: float | None = None,
    ) -> Found | None:
        """Answer a request; None if `gone` came first: nobody waits for it any more.

        Raises
        ------
        Overloaded
            If too much is waiting already.
        NotYet
            If it takes longer than `within` seconds, where that is said.
        """
        key = (path, body, self.version)
        if key in self._kept:
            self._kept.move_to_end(key)
            return self._kept[key]
        if self.inline:
            found: Found | None = await anyio.to_thread.run_sync(compute, path, body, *self.payload)
        else:
            found = await self._in_lane(path, body, gone, within)
        if found is not None and not found.refused:
            self._keep(key, found)
        return found

    def _keep(self, key: tuple[str, bytes, int], found: Found) -> None:
        if len(found.body) > LARGEST_KEPT or key in self._kept:
            return
        self._kept[key] = found
        self._bytes += len(found.body) + len(key[1])
        while self._bytes > KEPT_BYTES:
            old, dropped = self._kept.popitem(last=False)
            self._bytes -= len(dropped.body) + len(old[1])

    async def _in_lane(
        self,
        path: str,
        body: bytes,
        gone: Callable[[], Awaitable[Any]],
        within: float | None,
    ) -> Found | None:
        leaving = asyncio.ensure_future(gone())
        lane = _lane_of(path, body)
        longest = LONGEST_S if within is None else min(within, LONGEST_S)
        try:
            await self._warmed(lane, leaving)
            began = time.monotonic()
            found = None
            if lane == "quick":
                found = await self._tried("quick", path, body, leaving, began + QUICK_S, began)
            if found is None and not leaving.done():
                found = await self._tried("long", path, body, leaving, began + longest, began)
            if found is None and not leaving.done():
                if within is not None:
                    raise NotYet
                return Found.problem(
                    422,
                    f"this takes longer than the {LONGEST_S:g} s a request may: ask for less, or "
                    "send the header Prefer: respond-async to have it done as a job",
                )
            return found
        finally:
            leaving.cancel()

    async def _warmed(self, lane: Lane, leaving: asyncio.Future[Any]) -> None:
        """Wait, just after the start, until a lane has a worker.

        Raises
        ------
        Overloaded
            If a busy machine starts none in time: a request is answered within ten seconds.
        """
        until = time.monotonic() + FIRST_S
        while not any(w.warm.done() for w in self._workers[lane]) and not leaving.done():
            cold = {asyncio.wrap_future(w.warm) for w in self._workers[lane]}
            await asyncio.wait(
                {*cold, leaving},
                timeout=max(0.0, until - time.monotonic()),
                return_when=asyncio.FIRST_COMPLETED,
            )
            if time.monotonic() >= until:
                raise Overloaded(2, STILL)

    async def _tried(
        self,
        lane: Lane,
        path: str,
        body: bytes,
        leaving: asyncio.Future[Any],
        until: float,
        began: float,
    ) -> Found | None:
        """Run a request in a lane; None if its time is over or nobody waits for it."""
        worker = self._free(lane, path, body)
        worker.waiting += 1
        running: Future[Found] = worker.pool.schedule(compute, args=[path, body, *self.payload])
        ours = asyncio.wrap_future(running)
        try:
            while not ours.done():
                now = time.monotonic()
                started = running.running()
                if not started and now - began > PATIENCE_S:
                    raise Overloaded(2) if worker.warm.done() else Overloaded(2, STILL)
                wait = min(until - now, 0.1 if not started else until - now)
                if wait <= 0:
                    return None
                await asyncio.wait(
                    {ours, leaving}, timeout=wait, return_when=asyncio.FIRST_COMPLETED
                )
                if leaving.done() and not ours.done():
                    if running.running():
                        await asyncio.wait({ours}, timeout=GRACE_S)
                    return None
            return ours.result()
        except (ProcessExpired, CancelledError, asyncio.CancelledError):
            if leaving.done():
                return None
            return Found.problem(503, "the work stopped before it was done: ask again")
        finally:
            worker.waiting -= 1
            if not ours.done():
                running.cancel()
                with contextlib.suppress(BaseException):
                    ours.cancel()

    def _free(self, lane: Lane, path: str, body: bytes) -> _Worker:
        """Return the worker that had this question before, unless another has less to do.

        Raises
        ------
        Overloaded
            If all have as much waiting as they may.
        """
        workers = self._workers[lane]
        own = workers[hash((path, body)) % len(workers)]
        worker = min(workers, key=lambda w: (not w.warm.done(), w.waiting, w is not own))
        if worker.waiting > MOST_WAITING:
            raise Overloaded(3)
        return worker


async def _gone(request: Request) -> None:
    """Wait until the client is no longer there."""
    while (await request.receive())["type"] != "http.disconnect":
        pass


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
            lanes: Lanes = request.app.state.lanes
            wishes = _wishes(request)
            waits = _waits(wishes)
            if "respond-async" in wishes and waits is None:
                return _begun(request, path, body)
            try:
                found = await lanes.answer(path, body, lambda: _gone(request), waits)
            except NotYet:
                try:
                    return _begun(request, path, body)
                except TooLargeError:  # as many jobs as may be: it has its turn in the lanes
                    found = await lanes.answer(path, body, lambda: _gone(request))
        if found is None:
            return Response(status_code=499)
        media = MEDIA_TYPE if found.refused else "application/json"
        return Response(found.body, found.status, media_type=media)

    return handle


def _begun(request: Request, path: str, body: bytes) -> Response:
    """Begin a request as a job, and answer where it is followed."""
    lanes: Lanes = request.app.state.lanes
    job = request.app.state.jobs.start(work_on, (path, body, *lanes.payload))
    return Response(
        job.answer_json(),
        202,
        {"location": f"/api/jobs/{job.id}", "preference-applied": "respond-async"},
        "application/json",
    )


def _wishes(request: Request) -> dict[str, str]:
    """Return what the client prefers, by name (RFC 7240, 2)."""
    wishes = ",".join(request.headers.getlist("prefer")).split(",")
    pairs = (wish.split(";")[0].partition("=") for wish in wishes)
    return {name.strip().lower(): text.strip(' "') for name, _, text in pairs}


def _waits(wishes: dict[str, str]) -> float | None:
    """Return for how many seconds an answer is waited for before a job is (RFC 7240, 4.3)."""
    wait = wishes.get("wait", "")
    patient = "respond-async" in wishes and wait.isascii() and wait.isdecimal()
    return float(wait[:4]) if patient else None
