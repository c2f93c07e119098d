"""Mixed clients for minutes while workers are killed and stopped: flat, quick, nothing refused."""

from __future__ import annotations

import asyncio
import io
import os
import random
import signal
import statistics
import time
from collections import Counter, defaultdict
from pathlib import Path
from typing import Any

import httpx2
from PIL import Image

from scripts.endurance.served import Served

__all__ = ["load"]

NETWORK = "R1=200k + @OUT + R2=56k"
BETWEEN_FAULTS_S = 7.0
PAUSE_S = 0.35  #: of each client between two things it asks for


def brief(rng: random.Random) -> dict[str, str]:
    """Return the need of a battery sense, another each time."""
    return {
        "supply_v": "14.4 V", "target_v": f"{rng.uniform(1, 9):.3f} V",
        "load": f"{rng.randint(100, 999)}k",
    }  # fmt: skip


def picture() -> bytes:
    out = io.BytesIO()
    Image.effect_noise((900, 600), 60).save(out, "JPEG")
    return out.getvalue()


class Client:
    """One of several, each asking for one thing after the other."""

    def __init__(self, http: httpx2.AsyncClient, seed: int) -> None:
        self.http, self.rng = http, random.Random(seed)
        self.times: defaultdict[str, list[float]] = defaultdict(list)
        self.codes: Counter[int] = Counter()
        self.file = picture()
        self.where = ""

    async def timed(self, what: str, call: Any) -> httpx2.Response:
        began = time.monotonic()
        found: httpx2.Response = await call
        self.times[what].append(time.monotonic() - began)
        self.codes[found.status_code] += 1
        return found

    async def once(self) -> None:
        """Ask for one thing."""
        http, rng = self.http, self.rng
        if not self.where:
            body: dict[str, Any] = {"name": "Sense", "kind": "divider", "brief": brief(rng)}
            made = await self.timed("save", http.post("/api/designs", json=body))
            self.where = made.headers["location"]
        kinds = ["sheet", "sheet", "sheet", "save", "list", "health", "yield", "file", "photo"]
        what = rng.choice(kinds)
        if what == "sheet":
            ask: dict[str, Any] = {"kind": "divider", "brief": brief(rng)}
            await self.timed(what, http.post("/api/sheet", json=ask))
        elif what == "save":
            stored = (await http.get(self.where)).json()
            body = {"name": "Sense", "kind": "divider", "brief": brief(rng)}
            body |= {"revision": stored["revision"]}
            await self.timed(what, http.put(self.where, json=body))
        elif what == "yield":
            ask = {
                "network": NETWORK, "supply": {"v": 14.4}, "samples": 20_000,
                "seed": rng.randrange(10**6), "outputs": [{"at": "OUT"}],
                "parts": {"default": {"tolerance": 0.05}},
            }  # fmt: skip
            await self.timed(what, http.post("/api/network/yield", json=ask))
        elif what == "photo":
            await self.timed(
                what, http.post(f"{self.where}/evidence", files={"file": ("a.jpg", self.file)})
            )
            if rng.random() < 0.5:  # begin anew, so that no hand-over grows without end
                self.where = ""
        else:
            path = {"list": "/api/designs?limit=50", "health": "/api/health"}
            await self.timed(what, http.get(path.get(what, f"{self.where}/handover.md")))


async def _loaded(served: Served, clients: int, seconds: float, seed: int) -> bool:
    until, rng = time.monotonic() + seconds, random.Random(seed)
    faults: Counter[str] = Counter()
    held: list[tuple[int, int]] = []
    async with httpx2.AsyncClient(
        base_url=served.url, timeout=30, limits=httpx2.Limits(max_connections=100)
    ) as http:
        every = [Client(http, seed + k) for k in range(clients)]

        async def work(client: Client) -> None:
            while time.monotonic() < until:
                await client.once()
                await asyncio.sleep(PAUSE_S * client.rng.random() * 2)

        async def harm() -> None:
            while time.monotonic() < until - BETWEEN_FAULTS_S:
                await asyncio.sleep(BETWEEN_FAULTS_S)
                how = rng.choice([signal.SIGKILL, signal.SIGSTOP])
                workers = served.workers()
                if workers:
                    os.kill(rng.choice(workers), how)
                    faults[how.name] += 1
                held.append(served.held())

        await asyncio.gather(harm(), *(work(client) for client in every))
        health = (await http.get("/api/health")).json()
    codes = sum((client.codes for client in every), Counter[int]())
    print(f"{seconds / 60:g} minutes, {clients} clients, workers {dict(faults)}: {dict(codes)}")
    for what in sorted({what for client in every for what in client.times}):
        times = sorted(t for client in every for t in client.times[what])
        late = times[min(len(times) - 1, int(0.99 * len(times)))]
        print(
            f"  {what:<8} {len(times):>6}  median {1000 * statistics.median(times):.0f} ms  "
            f"p99 {1000 * late:.0f} ms  longest {1000 * times[-1]:.0f} ms"
        )
    third = max(1, len(held) // 3)
    first, last = held[third - 1 : third], held[-1:]
    print(f"  files and MB: after a third {first}, at the end {last}; {health}", flush=True)
    return max(codes) < 400 and health["status"] == "ok"


def load(data: Path, minutes: float, seed: int, clients: int = 6) -> bool:
    """Run it, print the figures, and tell whether the promise held."""
    served = Served(data)
    print(f"up after {served.start():.1f} s")
    try:
        return asyncio.run(_loaded(served, clients, 60 * minutes, seed))
    finally:
        print(f"stopped in {served.stop():.1f} s")
