"""A process that is kept ready for one piece of work after the other, and heals by itself.

It has a thread of the server's, which starts it, hands it work, and starts another where it ended:
killed while idle, out of memory, stopped by a signal, or ended because nobody waits any more.
"""

from __future__ import annotations

import contextlib
import logging
import multiprocessing
import os
import resource
import signal
import threading
import time
from collections.abc import Callable
from concurrent.futures import Future
from multiprocessing import forkserver
from multiprocessing.connection import Connection, wait
from multiprocessing.process import BaseProcess
from multiprocessing.reduction import ForkingPickler
from pathlib import Path
from typing import Any, Final, Literal

__all__ = ["CONTEXT", "Ended", "Process", "bounded", "ends_with_its_server", "get_ready"]

log = logging.getLogger("lowfold")

#: New processes come from a server that has everything imported and no threads.
CONTEXT: Final = multiprocessing.get_context("forkserver")
STARTING_S: Final = 60.0  #: a process that is not ready by then is ended, and another is tried
AGAIN_S: Final = (0.1, 2.0)  #: between starts that fail, at first and at most
ENDING_S: Final = 5.0  #: to wait, at most, for one to be gone
READY: Final = "ready"
#: Bytes of data a process may take beside what it has when it starts.
MOST_DATA: Final = 1_100_000_000
# The linear algebra library would start threads for matrices of five rows, two of them on one core.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

Work = Callable[..., Any]


def get_ready(loaded: list[str]) -> None:
    """Have the server of new processes import what they all have, from now on and beside this.

    Parameters
    ----------
    loaded : list of str
        Modules.
    """
    CONTEXT.set_forkserver_preload(loaded)
    forkserver.ensure_running()


State = Literal["starting", "free", "busy", "closed"]


class Ended(Exception):
    """The process ended before the work was done."""


def ends_with_its_server() -> None:
    """Have this process end when its server is gone, whatever it is doing."""
    parent = multiprocessing.parent_process()
    assert parent is not None

    def follow() -> None:
        wait([parent.sentinel])
        os._exit(1)

    threading.Thread(target=follow, name="follows the server", daemon=True).start()


def bounded(low: int) -> None:
    """Bound this process in memory, and let others go before it by `low` steps."""
    os.nice(low)
    data = int(Path("/proc/self/statm").read_text("ascii").split()[5]) * resource.getpagesize()
    limit = data + MOST_DATA
    resource.setrlimit(resource.RLIMIT_DATA, (limit, limit))


def _live(pipe: Connection, start: Callable[[], None]) -> None:
    """Do what comes through the pipe, one after the other, until it closes."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # of the terminal: the server ends its processes
    ends_with_its_server()
    start()
    pipe.send(READY)
    with contextlib.suppress(EOFError, BrokenPipeError):
        while True:
            work, args = pipe.recv()
            try:
                answer = ForkingPickler.dumps((True, work(*args)))
            except Exception as error:  # noqa: BLE001 handed on to whoever waits
                answer = ForkingPickler.dumps((False, error))
            pipe.send_bytes(answer)


class Process:
    """One process at a time, and the work it has."""

    def __init__(self, start: Callable[[], None], freed: Callable[[], None]) -> None:
        """Begin to start the first one.

        Parameters
        ----------
        start : callable
            What a new process does before it takes work; at the top of a module.
        freed : callable
            Called, from a thread, whenever it can take work again.
        """
        self.state: State = "starting"
        self.failures = 0  #: starts in a row that failed
        self._start, self._freed = start, freed
        self._lock = threading.Lock()
        self._work: bytes = b""
        self._future: Future[Any] | None = None
        self._process: BaseProcess | None = None
        self._seen_stopped = False
        self._waking, self._woken = os.pipe()
        self._thread = threading.Thread(target=self._keep, name="keeps a process", daemon=True)
        self._thread.start()

    @property
    def pid(self) -> int | None:
        """The process there is now."""
        return self._process.pid if self._process is not None else None

    def give(self, work: Work, args: tuple[Any, ...]) -> Future[Any] | None:
        """Hand it work; None if it is not free. The future may fail with `Ended`."""
        packed = bytes(ForkingPickler.dumps((work, args)))
        future: Future[Any] = Future()
        with self._lock:
            if self.state != "free":
                return None
            self.state, self._work, self._future = "busy", packed, future
        os.write(self._woken, b".")
        return future

    def end(self, future: Future[Any]) -> None:
        """End the process if it is still at this work; another takes its place."""
        with self._lock:
            if self._future is future and not future.done() and self._process is not None:
                self._process.kill()

    def end_if_stopped(self) -> None:
        """End the process if it was stopped by a signal, and is still at the second look."""
        with self._lock:
            if self._process is None:
                return
            stopped = _is_stopped(self._process.pid)
            if stopped and self._seen_stopped:
                log.warning("a worker was stopped from outside: another takes its place")
                self._process.kill()
            self._seen_stopped = stopped

    def close(self) -> None:
        """End it for good, whatever it is doing."""
        with self._lock:
            if self.state == "closed":
                return
            self.state = "closed"
            if self._process is not None:
                self._process.kill()
        os.write(self._woken, b".")

    def join(self) -> None:
        """Wait until it is gone; one that has not come up yet ends by itself."""
        self._thread.join(ENDING_S)

    def _closed(self) -> bool:
        return self.state == "closed"

    def _keep(self) -> None:
        pause = AGAIN_S[0]
        while not self._closed():
            pipe = None
            try:
                pipe = self._begun()
                self.failures, pause = 0, AGAIN_S[0]
                self._serve(pipe)
            except (OSError, EOFError, Ended) as error:
                if not self._closed():
                    self.failures += 1
                    log.warning("a worker did not start: %s", error or type(error).__name__)
                    time.sleep(pause)
                    pause = min(2 * pause, AGAIN_S[1])
            finally:
                self._gone(pipe)
        os.close(self._waking)
        os.close(self._woken)

    def _begun(self) -> Connection:
        """Start a process, and return the pipe to it once it is ready."""
        ours, theirs = CONTEXT.Pipe()
        process = CONTEXT.Process(target=_live, args=(theirs, self._start), daemon=True)
        try:
            process.start()
        except BaseException:
            ours.close()
            raise
        finally:
            theirs.close()
        with self._lock:
            self._process, self._seen_stopped = process, False
            if self._closed():
                process.kill()
        if not ours.poll(STARTING_S):
            ours.close()
            msg = f"it was not ready within {STARTING_S:g} s"
            raise Ended(msg)
        ours.recv()
        return ours

    def _free(self) -> None:
        with self._lock:
            if self._closed():
                return
            self.state, self._future = "free", None
        self._freed()

    def _serve(self, pipe: Connection) -> None:
        """Hand work on and answers back, until the process ends."""
        self._free()
        while True:
            if pipe in wait([pipe, self._waking]):  # it says nothing unasked: it has ended
                return
            os.read(self._waking, 1)
            if self._closed():
                return
            future = self._future
            assert future is not None
            try:
                pipe.send_bytes(self._work)
                packed = pipe.recv_bytes()
            except (OSError, EOFError):
                return  # `_gone` tells whoever waits
            _settle(future, packed)
            self._free()

    def _gone(self, pipe: Connection | None) -> None:
        """Clear away a process that has ended, and tell whoever waits for it."""
        with self._lock:
            process, self._process = self._process, None
            future, self._future = self._future, None
            if not self._closed():
                self.state = "starting"
        if pipe is not None:
            pipe.close()
        if process is not None:
            process.kill()
            process.join()
            process.close()
        if future is not None:
            with contextlib.suppress(BlockingIOError):
                os.set_blocking(self._waking, False)
                os.read(self._waking, 1)  # work that came as it ended
            os.set_blocking(self._waking, True)
            future.set_exception(Ended())


def _settle(future: Future[Any], packed: bytes) -> None:
    try:
        done, answer = ForkingPickler.loads(packed)
    except Exception as error:  # noqa: BLE001 an error that cannot be made again is told as it is
        done, answer = False, error
    if done:
        future.set_result(answer)
    else:
        future.set_exception(answer)


def _is_stopped(pid: int | None) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text("ascii").rsplit(")", 1)[1].split()[0] in "Tt"
    except OSError:
        return False
