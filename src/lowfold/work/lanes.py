"""The queue to the processes that compute: two lanes, places, patience, and an end for all work.

Quick questions (a sheet while one types) have a lane of their own; long ones share another, at a
lower priority, so that forty of them do not hold up a keystroke, a save or the list. One promise
holds for all: what waits has a place; what will not be answered within ten seconds is told so as
soon as that is known, with when to come back and its place kept; what nobody waits for any more
ends within half a second. A process that is starting is never ended for that.
"""

from __future__ import annotations

import asyncio
import gc
import logging
import math
import threading
import time
from collections.abc import Awaitable, Callable
from concurrent.futures import Future, wait
from concurrent.futures import TimeoutError as FutureTimeout
from dataclasses import dataclass, field
from functools import partial
from typing import Any, Final, Literal

import anyio.to_thread
from cachetools import LRUCache, TTLCache

from lowfold.work.process import CONTEXT, Ended, Process, bounded

__all__ = ["LONGEST_S", "Gone", "Lane", "Lanes", "Overloaded", "TooLong"]

Lane = Literal["quick", "long"]
#: Ends once nobody waits for an answer any more.
Gone = Callable[[], Awaitable[Any]]

log = logging.getLogger("lowfold")

LONGEST_S: Final = 9.0  #: that work may take: a request is answered within ten seconds
IN_ALL_S: Final = 9.6  #: from when it came
QUICK_S: Final = 1.0  #: what takes longer in the quick lane goes to the long one
PATIENCE_S: Final = 5.0  #: then only what will be done in time goes on waiting
LOOKS_S: Final = 0.25  #: between looks at whether that is so
FIRST_S: Final = 9.0  #: a request waits for the first process; then it is told of the start
GRACE_S: Final = 0.25  #: what nobody waits for may end by itself, and leaves its process warm
STOPPED_S: Final = 0.5  #: between looks at whether a process was stopped
KEPT_S: Final = 60.0  #: a place is kept for who was told to come back
MOST_WAITING: Final = 160  #: in a lane
LATEST_S: Final = 30  #: after which one is told to come back, at most
STILL: Final = "Lowfold is still starting, on a busy machine"
SELDOM: Final = (20_000, 20, 50)  #: new objects before a worker looks for garbage in circles


class Overloaded(Exception):
    """Too much is under way: after how many seconds to ask again, and why if not that."""

    def __init__(self, seconds: int, why: str = "", place: int | None = None) -> None:
        super().__init__(seconds, why, place)
        self.seconds, self.why, self.place = seconds, why, place


class TooLong(Exception):
    """The work takes longer than a request may, or than its client waits for it."""


def _ready(prepare: Callable[[], None], low: int) -> None:
    """Prepare a process: loaded, bounded in memory, and out of the way of quick ones."""
    prepare()
    # What is loaded stays: collecting it again and again would take a tenth of a second each time.
    gc.collect()
    gc.freeze()
    gc.set_threshold(*SELDOM)
    bounded(low)


@dataclass(eq=False)
class _Asked:
    """A piece of work that waits or runs."""

    work: Callable[..., Any]
    args: tuple[Any, ...]
    kind: str  #: what it is like, for how long it will take
    key: bytes  #: the same for the same question
    first: float  #: when it first came
    later: bool = False  #: after all that somebody waits for
    came: float = field(default_factory=time.monotonic)
    began: float | None = None
    process: Process | None = None
    future: Future[Any] = field(default_factory=Future)
    running: Future[Any] | None = None
    dropped: bool = False
    tries: int = 3  #: its process may end under it, or have ended unseen: then it is begun again

    def __post_init__(self) -> None:
        self.future.set_running_or_notify_cancel()  # only what works on it settles it

    @property
    def order(self) -> tuple[bool, float]:
        return self.later, self.first


class _Lane:
    """Some processes and what waits for them."""

    def __init__(self, workers: int, prepare: Callable[[], None], low: int) -> None:
        self.waiting: list[_Asked] = []
        self.typical: LRUCache[str, float] = LRUCache(256)  #: seconds, by kind
        self.running: list[_Asked] = []
        self.lock = threading.RLock()  #: what is given may end while it is given
        self.warm = threading.Event()  #: a process has been ready
        start = partial(_ready, prepare, low)
        self.processes = [Process(start, self.look) for _ in range(workers)]

    def put(self, asked: _Asked) -> None:
        """Take a place in the queue.

        Raises
        ------
        Overloaded
            If all are taken.
        """
        with self.lock:
            if len(self.waiting) >= MOST_WAITING and not asked.later:
                raise self.come_back()
            self.waiting.append(asked)
        self.look()

    def look(self) -> None:
        """Give what has waited longest to processes that are free."""
        with self.lock:
            free = [p for p in self.processes if p.state == "free"]
            if free:
                self.warm.set()
            while free and self.waiting:
                asked = min(self.waiting, key=lambda a: a.order)
                self.waiting.remove(asked)
                own = self.processes[hash(asked.key) % len(self.processes)]
                process = own if own in free else free[0]
                free.remove(process)
                self._begin(asked, process)

    def _begin(self, asked: _Asked, process: Process) -> None:
        running = process.give(asked.work, asked.args)
        if running is None:  # it has ended a moment ago
            self.waiting.append(asked)
            return
        asked.began, asked.process, asked.running = time.monotonic(), process, running
        self.running.append(asked)
        running.add_done_callback(partial(self._done, asked))

    def _done(self, asked: _Asked, running: Future[Any]) -> None:
        error = running.exception()
        with self.lock:
            self.running.remove(asked)
            if isinstance(error, Ended) and asked.tries > 1 and not asked.dropped:
                asked.tries -= 1
                asked.began = asked.process = asked.running = None
                self.waiting.append(asked)
                self.look()
                return
            if error is None and asked.began is not None:
                took = time.monotonic() - asked.began
                before = self.typical.get(asked.kind, took)
                self.typical[asked.kind] = before + 0.3 * (took - before)
        if error is None:
            asked.future.set_result(running.result())
        else:
            asked.future.set_exception(error)

    def drop(self, asked: _Asked) -> None:
        """Give a place up, or end what runs; nobody waits for it any more."""
        with self.lock:
            asked.dropped = True
            if asked in self.waiting:
                self.waiting.remove(asked)
                return
        if asked.process is not None and asked.running is not None:
            asked.process.end(asked.running)

    def needs_s(self, asked: _Asked) -> float:
        """Return in how many seconds from now it will be done, as far as is known."""
        with self.lock:
            ahead = [a for a in self.waiting if a.order < asked.order]
            return self._before_s(ahead) + self.typical.get(asked.kind, 0.0)

    def _before_s(self, ahead: list[_Asked]) -> float:
        now, rest = time.monotonic(), 0.0
        for one in self.running:
            been = now - (one.began or now)
            rest += max(0.0, self.typical.get(one.kind, 2 * been) - been)
        return (rest + sum(self.typical.get(a.kind, 0.5) for a in ahead)) / len(self.processes)

    def come_back(self, asked: _Asked | None = None) -> Overloaded:
        """Return what one is told that will not be done in time."""
        with self.lock:
            ahead = [a for a in self.waiting if asked is None or a.order < asked.order]
            seconds = min(max(1, math.ceil(self._before_s(ahead))), LATEST_S)
        return Overloaded(seconds, place=len(ahead))


class Lanes:
    """The lanes of one run of the server."""

    def __init__(self, workers: int, prepare: Callable[[], None], loaded: list[str]) -> None:
        """Begin to start the processes; the app answers meanwhile.

        Parameters
        ----------
        workers : int
            Of each lane; 0 computes in the server's own process.
        prepare : callable
            What a new process does first.
        loaded : list of str
            Modules that every process has from the beginning.
        """
        self.inline = workers == 0
        self._lanes: dict[Lane, _Lane] = {}
        self._first: TTLCache[bytes, float] = TTLCache(4096, KEPT_S)
        self._closing = threading.Event()
        if self.inline:
            return
        CONTEXT.set_forkserver_preload(loaded)
        self._lanes = {"quick": _Lane(workers, prepare, 0), "long": _Lane(workers, prepare, 10)}
        self._watch = threading.Thread(target=self._look_after, name="looks after", daemon=True)
        self._watch.start()

    def _look_after(self) -> None:
        while not self._closing.wait(STOPPED_S):
            for process in self._processes():
                process.end_if_stopped()

    def _processes(self) -> list[Process]:
        return [p for lane in self._lanes.values() for p in lane.processes]

    def close(self) -> None:
        """End every process, whatever it is doing."""
        self._closing.set()
        for process in self._processes():
            process.close()
        for process in self._processes():
            process.join()

    def trouble(self) -> str:
        """Return in words what keeps work from being done; empty where all is well."""
        for name, lane in self._lanes.items():
            if any(p.failures > 1 for p in lane.processes):
                return f"workers of the {name} lane do not start: see what the server says"
            if lane.warm.is_set() and all(p.state == "starting" for p in lane.processes):
                return f"the {name} lane has no worker: others are being started"
        return ""

    def starting(self) -> bool:
        """Tell whether a lane has not had a process yet."""
        return not all(lane.warm.is_set() for lane in self._lanes.values())

    def busy(self) -> bool:
        """Tell whether every process for long work has something to do."""
        return bool(self._lanes) and all(p.state != "free" for p in self._lanes["long"].processes)

    def soon(self, work: Callable[..., Any], args: tuple[Any, ...], wait_s: float) -> Any:
        """Return what comes of some work if that takes no longer than `wait_s`, else None.

        From a thread. It takes no process that a keystroke waits for, nor ends one that is warm.
        """
        if self.inline:
            return work(*args)
        if self.busy():
            return None
        try:
            return self._put("long", work, args, later=True).future.result(timeout=wait_s)
        except (FutureTimeout, Ended):
            return None

    def in_the_background(self, work: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        """Return what comes of some work nobody waits for, after all that somebody does.

        From a thread.

        Raises
        ------
        TimeoutError
            If it takes longer than a request may.
        Ended
            If its process ended under it again and again.
        """
        if self.inline:
            return work(*args)
        asked = self._put("long", work, args, later=True)
        while not asked.future.done():
            wait([asked.future], timeout=STOPPED_S)
            if self._closing.is_set():
                raise Ended
            if asked.began is not None and time.monotonic() - asked.began > LONGEST_S:
                self._lanes["long"].drop(asked)
                raise TimeoutError
        return asked.future.result()

    def _put(
        self, lane: Lane, work: Callable[..., Any], args: tuple[Any, ...], *, later: bool = False
    ) -> _Asked:
        asked = _Asked(work, args, getattr(work, "__qualname__", ""), b"", time.monotonic(), later)
        self._lanes[lane].put(asked)
        return asked

    async def done(
        self,
        work: Callable[..., Any],
        args: tuple[Any, ...],
        *,
        gone: Gone,
        kind: str,
        key: bytes,
        lane: Lane = "long",
        within: float | None = None,
    ) -> Any:
        """Return what comes of some work that somebody waits for; None if `gone` came first.

        Parameters
        ----------
        gone : callable
            What ends once nobody waits for it any more.
        kind : str
            What the work is like, for how long it will take.
        key : bytes
            The same for the same question: its place is kept if it is told to come back.
        lane : str
            Where it begins; what is not quick goes on in the long one.
        within : float, optional
            How long its client waits, where that is less than a request may take.

        Raises
        ------
        Overloaded
            If it cannot be done in time: too much is before it.
        TooLong
            If it takes longer than a request may, or than `within`.
        """
        if self.inline:
            return await anyio.to_thread.run_sync(partial(work, *args))
        came = time.monotonic()
        first = self._first.get(key, came)
        leaving = asyncio.ensure_future(gone())
        until = came + (IN_ALL_S if within is None else min(within, IN_ALL_S))
        try:
            if lane == "quick":
                asked = _Asked(work, args, kind, key, first)
                if await self._waited("quick", asked, leaving, until, QUICK_S):
                    return asked.future.result() if not leaving.done() else None
            asked = _Asked(work, args, kind, key, first)
            if await self._waited("long", asked, leaving, until, LONGEST_S):
                return asked.future.result() if not leaving.done() else None
            late = asked.began is not None and asked.began - came > LONGEST_S / 4
            # What began too late to have had its time is no fault of what was asked.
            out_of_time = Overloaded(1) if late and within is None else TooLong()
        except Overloaded as error:
            if within is not None and error.why != STILL:
                raise TooLong from error  # it goes on as a job
            self._first[key] = first
            raise
        except Ended:
            raise Overloaded(1, "the work stopped before it was done") from None
        finally:
            leaving.cancel()
        raise out_of_time

    async def _waited(
        self, name: Lane, asked: _Asked, leaving: asyncio.Future[Any], until: float, longest: float
    ) -> bool:
        """Wait for work in a lane: whether it is done, or nobody waits any more."""
        lane = self._lanes[name]
        lane.put(asked)
        ours = asyncio.wrap_future(asked.future)
        ours.add_done_callback(_taken_note_of)
        try:
            while not ours.done() and not leaving.done():
                now = time.monotonic()
                if asked.began is None:
                    self._be_patient(lane, asked, until)
                    rest = max(0.0, min(LOOKS_S, until - now))
                else:
                    rest = min(until, asked.began + longest) - now
                    if rest <= 0:
                        return False
                await asyncio.wait({ours, leaving}, timeout=rest, return_when="FIRST_COMPLETED")
            if not ours.done() and asked.began is not None:
                await asyncio.wait({ours}, timeout=GRACE_S)
            return True
        finally:
            if not ours.done():
                lane.drop(asked)

    @staticmethod
    def _be_patient(lane: _Lane, asked: _Asked, until: float) -> None:
        """Go on waiting, if it will be done in time.

        Raises
        ------
        Overloaded
        """
        now = time.monotonic()
        waited = now - asked.came
        if not lane.warm.is_set():
            if waited > FIRST_S:
                raise Overloaded(2, STILL)
        elif now >= until or (waited > PATIENCE_S and now + lane.needs_s(asked) > until):
            raise lane.come_back(asked)


def _taken_note_of(future: asyncio.Future[Any]) -> None:
    """Look at an error that came after nobody waited any more."""
    if not future.cancelled():
        future.exception()
