"""Time keystrokes and checks against a health call on a served Lowfold, in one run."""

from __future__ import annotations

import http.client
import itertools
import json
import os
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Final

__all__ = ["main"]

TIMES: Final = 40  #: keystrokes of each kind
STARTS: Final = 3
CLIENTS: Final = 8
WARM_S: Final = 60.0

#: For the bench: eight parts with their fifteen points, and twenty.
EIGHT: Final = (
    "R1=1k + @A + (R2=15k || (R3=2k7 + @B + (R4=3k9 || (R5=1k2 + @C + R6=8k2)))) + @D + "
    "(R7=4k7 || R8=6k8)"
)
TWENTY: Final = " + ".join(
    ["R1=1k + @A"] + [f"(R{2 * k}={k}k || R{2 * k + 1}={k}k2)" for k in range(1, 10)] + ["R20=10k"]
)
NETWORK: Final = "R1=36k + @A + (R2=18k || (R3=8k2 + @B + R4=10k)) + R5=1k5 + R6=4k7"


class Client:
    """One kept connection; answers are read whole and not parsed."""

    def __init__(self, port: int) -> None:
        self._made = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
        self._made.connect()
        assert self._made.sock is not None  # just connected
        self._made.sock.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)

    def get(self, path: str) -> float:
        """Return how long an answer takes, s."""
        return self._timed("GET", path, None)

    def post(self, path: str, body: object) -> float:
        """Return how long an answer takes, s."""
        return self._timed("POST", path, json.dumps(body).encode())

    def _timed(self, method: str, path: str, body: bytes | None) -> float:
        headers = {"content-type": "application/json"} if body else {}
        start = time.perf_counter()
        self._made.request(method, path, body, headers)
        answer = self._made.getresponse()
        text = answer.read()
        spent = time.perf_counter() - start
        if answer.status != 200:
            raise RuntimeError(text.decode()[:400])
        return spent


def _typed(start: float, step: float) -> Iterator[str]:
    """Yield targets as somebody would type them, none twice."""
    for k in itertools.count():
        yield f"{start + k * step:.4f}"


def keystrokes() -> list[tuple[str, str, Callable[[str], dict[str, Any]], Iterator[str]]]:
    """Return what is typed: a name, a path, the request for a text, and the texts."""

    def sheet(kind: str, token: str, **brief: str) -> Callable[[str], dict[str, Any]]:
        return lambda text: {"kind": kind, "brief": {**brief, token: text}, "choice": None}

    def checked(text: str) -> dict[str, Any]:
        return {
            "network": NETWORK,
            "supply": {"v": 14.4, "tolerance": "3 %"},
            "parts": {"default": {"tolerance": "1 %", "tcr_ppm": 100, "rating_w": "100 mW"}},
            "environment": {"low_c": -20, "high_c": 60},
            "outputs": [{"at": "A", "target_v": float(text), "allowed": "5 %"}],
        }

    def measured(network: str) -> Callable[[str], dict[str, Any]]:
        return lambda text: {
            "network": network,
            "supply": {"v": float(text), "tolerance": "3 %"},
            "parts": {"default": {"tolerance": "1 %"}},
        }

    into = {"supply_v": "14.4 V", "supply_tolerance": "3 %", "load": "200k"}

    def diagnosed(network: str, most_at_once: int) -> Callable[[str], dict[str, Any]]:
        read = [
            {"kind": "voltage", "at": "A", "value": 13.6},
            {"kind": "current", "through": "supply", "value": 6e-4},
        ]
        more = {"readings": read, "most_at_once": most_at_once}
        return lambda text: {**measured(network)(text), **more}

    return [
        ("check, six parts", "/api/network/check", checked, _typed(6.0, 0.001)),
        ("bench, eight parts", "/api/bench/expect", measured(EIGHT), _typed(12.0, 0.01)),
        ("bench, twenty parts", "/api/bench/expect", measured(TWENTY), _typed(12.0, 0.01)),
        ("fault, eight parts", "/api/bench/diagnose", diagnosed(EIGHT, 1), _typed(14.0, 0.01)),
        ("two faults, 20 parts", "/api/bench/diagnose", diagnosed(TWENTY, 2), _typed(14.0, 0.01)),
        ("divider E24", "/api/sheet", sheet("divider", "target_v", **into), _typed(3.0, 0.01)),
        ("two parts E24", "/api/sheet", sheet("resistance", "target_ohm"), _typed(4321, 7)),
        (
            "four parts E96", "/api/sheet",
            sheet("resistance", "target_ohm", max_parts="4", values="E96"), _typed(4321, 7),
        ),
        (
            "feedback E96", "/api/sheet",
            sheet("feedback", "target_v", values="E96"), _typed(3.3, 0.01),
        ),
        (
            "two taps E24", "/api/sheet",
            sheet("ladder", "tap1_v", supply_v="5 V", tap2_v="1.4 V"), _typed(3.2, 0.01),
        ),
    ]  # fmt: skip


@contextmanager
def served(folder: str = "") -> Iterator[tuple[int, int]]:
    """Serve on a free port until left; its port and its process."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = int(free.getsockname()[1])
    environment = {**os.environ, "LOWFOLD_PORT": str(port)}
    with tempfile.TemporaryDirectory() as made:
        environment["LOWFOLD_DATA"] = folder or made
        command = [str(Path(sys.executable).with_name("lowfold")), "serve"]
        running = subprocess.Popen(  # noqa: S603 our own server
            command, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        try:
            wait_for(port)
            yield port, running.pid
        finally:
            running.send_signal(signal.SIGINT)
            running.wait(20)


def wait_for(port: int) -> None:
    """Return once the server answers.

    Raises
    ------
    TimeoutError
        If it does not within a minute.
    """
    start = time.monotonic()
    while time.monotonic() - start < WARM_S:
        try:
            Client(port).get("/api/health")
        except OSError:
            time.sleep(0.02)
        else:
            return
    msg = f"no answer on port {port}"
    raise TimeoutError(msg)


def quantile(times: list[float], share: float) -> float:
    """Return the value below which `share` of the times lie, s."""
    return sorted(times)[min(len(times) - 1, int(share * len(times)))]


def line(name: str, times: list[float], health: list[float]) -> None:
    """Print median and 95th percentile, and both against the same of a health call."""
    middle, most = statistics.median(times), quantile(times, 0.95)
    by = middle / statistics.median(health), most / quantile(health, 0.95)
    print(f"{name:<34} {middle * 1e3:9.2f} ms {most * 1e3:9.2f} ms {by[0]:8.2f} × {by[1]:8.2f} ×")


def typing(port: int) -> None:
    """Time every kind of keystroke, each between two health calls."""
    client = Client(port)
    for name, path, ask, texts in keystrokes():
        for _ in range(12):  # both workers have it warm
            client.post(path, ask(next(texts)))
        health, new, same = [], [], []
        for _ in range(TIMES):
            body = ask(next(texts))
            health.append(client.get("/api/health"))
            new.append(client.post(path, body))
            same.append(client.post(path, body))
        line(name, new, health)
        line(f"{name}, unchanged", same, health)


def crowd(port: int) -> None:
    """Time sheets and advice for several clients at once."""
    _, path, ask, _ = keystrokes()[1]
    bodies = iter([ask(f"{2 + k / 500:.3f}") for k in range(1000)])
    sheets = _together(port, lambda c: c.post(path, next(bodies)), 12)
    advised = {"supply_v": "14.4 V", "target_v": "3 V", "within": "0.5 %"}
    wanted = iter([f"{3 + k / 100}" for k in range(1000)])
    advice = _together(
        port,
        lambda c: c.post(
            "/api/sheet/advice",
            {
                "kind": "divider",
                "brief": {**advised, "target_v": next(wanted)},
                "choice": "R1=390k + @OUT + R2=100k",
            },
        ),
        2,
    )
    print(f"eight clients: a sheet, median     {statistics.median(sheets):9.3f} s")
    print(f"eight clients: advice, p95         {quantile(advice, 0.95):9.3f} s")


def _together(port: int, work: Callable[[Client], float], times: int) -> list[float]:
    """Return how long each request of eight clients took, s; refused ones are asked again."""
    spent: list[float] = []

    def one() -> None:
        client = Client(port)
        spent.extend(work(client) for _ in range(times))

    threads = [threading.Thread(target=one) for _ in range(CLIENTS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return spent


def starting() -> None:
    """Time a start to the first health answer, the server's own processor time with it."""
    walls, works = [], []
    with tempfile.TemporaryDirectory() as folder:
        for _ in range(STARTS):
            began = time.perf_counter()
            with served(folder) as (_, pid):
                walls.append(time.perf_counter() - began)
                works.append(_processor_time(pid))
    print(f"start to health: {min(walls):.2f} s, of which processor {min(works):.2f} s")


def _processor_time(pid: int) -> float:
    """Return the processor time a process has used by itself, s, its children left out."""
    fields = Path(f"/proc/{pid}/stat").read_text(encoding="ascii").rpartition(")")[2].split()
    return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")


def main() -> None:
    """Print every figure."""
    starting()
    with served() as (port, _):
        print(f"{'':<34} {'median':>12} {'p95':>12} {'to health':>10} {'p95':>10}")
        typing(port)
        crowd(port)


if __name__ == "__main__":
    main()
