"""Saving while the server is killed again and again: nothing is lost, nothing is doubled.

The server is the real application on its real database; it is forked from a process that has
everything imported, so that thousands of kills take minutes.
"""

from __future__ import annotations

import multiprocessing
import random
import socket
import sys
import threading
import time
import uuid
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import httpx2

FORKED = multiprocessing.get_context("forkserver")
LIVES_S = (0.0, 0.4)  #: from when it answers to when it is killed
CLIENTS = 4


def serve(data: str, port: int) -> None:
    """Serve a directory, computing nothing; in a process of its own."""
    # Loaded before it is forked
    from scripts.endurance.application import APP, SETTINGS, server_of  # noqa: PLC0415

    SETTINGS.data = Path(data)
    server_of(APP, port).run()


@dataclass
class Said:
    """What clients were told is kept."""

    designs: dict[str, tuple[str, int, str]] = field(default_factory=dict)  #: by key: where, what
    lines: Counter[str] = field(default_factory=Counter)  #: of each record
    acknowledged: int = 0
    answered_again: int = 0
    kept_unsaid: int = 0  #: kept, and the server ended before it could say so
    odd: Counter[int] = field(default_factory=Counter)
    lock: threading.Lock = field(default_factory=threading.Lock)


class Client(threading.Thread):
    """Keeps one thing after the other; what was not answered is sent again with its key."""

    def __init__(self, url: str, said: Said, until: threading.Event, seed: int) -> None:
        super().__init__(daemon=True)
        self.said, self.until = said, until
        self.rng = random.Random(seed)
        self.http = httpx2.Client(base_url=url, timeout=10)
        self.mine: list[tuple[str, str, int]] = []  #: key, where, revision

    def run(self) -> None:
        """Go on until told to stop."""
        while not self.until.is_set():
            what = self.rng.choice(["new", "change", "line"]) if self.mine else "new"
            if what == "new" and len(self.mine) < 40:
                self.new()
            elif what == "change":
                self.change()
            else:
                self.line()

    def sent(self, method: str, path: str, body: dict[str, Any], key: str) -> httpx2.Response:
        """Send a write until it is answered."""
        while True:
            try:
                found = self.http.request(method, path, json=body, headers={"idempotency-key": key})
            except httpx2.HTTPError:
                time.sleep(0.01)
                continue
            with self.said.lock:
                if found.status_code == 409 and found.json().get("kept"):
                    self.said.kept_unsaid += 1
                elif found.status_code >= 400:
                    self.said.odd[found.status_code] += 1
                self.said.acknowledged += found.status_code < 400
                self.said.answered_again += "idempotency-replayed" in found.headers
            if found.status_code != 503:
                return found

    def new(self) -> None:
        key = str(uuid.uuid4())
        body = {"name": key, "kind": "divider", "brief": {"supply_v": "14.4 V"}, "why": "0"}
        found = self.sent("POST", "/api/designs", body, key)
        if found.status_code == 201:
            where = found.headers["location"]
            self.mine.append((key, where, 1))
            with self.said.lock:
                self.said.designs[key] = (where, 1, "0")

    def change(self) -> None:
        at = self.rng.randrange(len(self.mine))
        key, where, revision = self.mine[at]
        why = str(self.rng.random())
        body = {"name": key, "kind": "divider", "brief": {"supply_v": "14.4 V"}, "why": why}
        found = self.sent("PUT", where, body | {"revision": revision}, str(uuid.uuid4()))
        if found.status_code == 409 and found.json().get("kept"):  # kept as the server ended
            revision, found_why = revision + 1, why
        elif found.status_code == 200:
            revision, found_why = found.json()["revision"], why
        else:
            return
        self.mine[at] = (key, where, revision)
        with self.said.lock:
            self.said.designs[key] = (where, revision, found_why)

    def line(self) -> None:
        _, where, _ = self.rng.choice(self.mine)
        body = {"kind": "note", "text": str(self.rng.random())}
        found = self.sent("POST", where + "/record", body, str(uuid.uuid4()))
        if found.status_code == 201 or found.json().get("kept"):
            with self.said.lock:
                self.said.lines[where] += 1


def _up(port: int) -> None:
    until = time.monotonic() + 30
    while time.monotonic() < until:
        try:
            socket.create_connection(("127.0.0.1", port), 1).close()
        except OSError:
            time.sleep(0.01)
        else:
            return
    sys.exit("the server did not come up")


def _wrong(url: str, said: Said) -> tuple[int, int]:
    """Return how many acknowledged things are lost, and how many are there twice."""
    lost = 0
    for where, revision, why in said.designs.values():
        stored = httpx2.get(url + where, timeout=10).json()
        lost += stored.get("revision") != revision or stored.get("why") != why
        lines = len(httpx2.get(url + where + "/record", timeout=10).json())
        lost += lines < said.lines[where]
    names: Counter[str] = Counter()
    offset = 0
    while rows := httpx2.get(f"{url}/api/designs?limit=500&offset={offset}", timeout=30).json():
        names.update(row["name"] for row in rows)
        offset += len(rows)
    twice = sum(count - 1 for count in names.values())
    for where, count in said.lines.items():
        twice += len(httpx2.get(url + where + "/record", timeout=10).json()) > count
    return lost, twice


def kills(count: int, data: Path, seed: int) -> bool:
    """Kill the server so often, print what came of it, and tell whether the promise held."""
    FORKED.set_forkserver_preload(["scripts.endurance.application"])
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    url, rng = f"http://127.0.0.1:{port}", random.Random(seed)
    said, until = Said(), threading.Event()
    clients = [Client(url, said, until, seed + k) for k in range(CLIENTS)]
    began = time.monotonic()
    for turn in range(count + 1):
        server = FORKED.Process(target=serve, args=(str(data), port), daemon=True)
        server.start()
        _up(port)
        if turn == 0:
            for client in clients:
                client.start()
        if turn < count:
            time.sleep(rng.uniform(*LIVES_S))
            assert server.pid is not None
            server.kill()
            server.join()
            server.close()
    until.set()
    for client in clients:
        client.join()
    lost, twice = _wrong(url, said)
    server.terminate()
    server.join(20)
    print(
        f"kills {count} in {time.monotonic() - began:.0f} s with {CLIENTS} clients: "
        f"{said.acknowledged} writes acknowledged, {said.answered_again} of them sent again, "
        f"{said.kept_unsaid} kept unsaid, {lost} lost, {twice} there twice; "
        f"refused {dict(said.odd)}",
        flush=True,
    )
    return not lost and not twice and set(said.odd) <= {503}
