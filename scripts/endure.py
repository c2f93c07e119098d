"""Eight clients saving for minutes while the server is killed again and again: what is promised.

`make endure` runs ten minutes; `MINUTES=1 make endure` one. It prints its figures and fails where a
promise is broken (docs/reliability.md).
"""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import httpx2

CLIENTS = 8
BETWEEN_KILLS_S = (2.0, 12.0)


@dataclass
class Kept:
    """What one client was told is kept."""

    where: str
    revision: int
    why: str


@dataclass
class Figures:
    acknowledged: int = 0
    kills: int = 0
    lost: int = 0
    races: int = 0
    winners: Counter[int] = field(default_factory=Counter)
    codes: Counter[int] = field(default_factory=Counter)
    wrong_verdicts: int = 0
    slowest_s: float = 0.0


class Served:
    """The real server, started again whenever it was killed."""

    def __init__(self, data: Path) -> None:
        self.data, self.port = data, 8791
        self.url = f"http://127.0.0.1:{self.port}"
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        environment = {**os.environ, "LOWFOLD_PORT": str(self.port), "LOWFOLD_DATA": str(self.data)}
        self.process = subprocess.Popen(
            [sys.executable, "-m", "lowfold", "serve"], env=environment, stdout=subprocess.DEVNULL
        )
        for _ in range(300):
            try:
                httpx2.get(f"{self.url}/api/health", timeout=1)
            except httpx2.HTTPError:
                time.sleep(0.05)
            else:
                return
        sys.exit("the server did not come up")

    def stop(self, how: int) -> None:
        assert self.process is not None
        self.process.send_signal(how)
        self.process.wait(timeout=30)


def design(number: int, target: float, why: str) -> dict[str, Any]:
    """Return a divider as one client keeps it."""
    brief = {"supply_v": "14.4 V", "target_v": f"{target:.2f} V", "load": "1 MΩ"}
    return {"name": f"Sense {number}", "kind": "divider", "brief": brief, "why": why}


def saving(
    number: int, served: Served, figures: Figures, lock: threading.Lock, until: float
) -> None:
    """Save one design after the other as fast as it goes; remember what was acknowledged."""
    rng = random.Random(number)
    kept: Kept | None = None
    while time.monotonic() < until:
        try:
            with httpx2.Client(base_url=served.url, timeout=10) as http:
                if kept is None:
                    made = http.post("/api/designs", json=design(number, 3.0, "0"))
                    kept = Kept(made.headers["location"], 1, "0")
                stored = http.get(kept.where).json()
                if stored["revision"] < kept.revision:
                    with lock:
                        figures.lost += 1
                kept = Kept(kept.where, stored["revision"], stored["why"])
                while time.monotonic() < until:
                    why = str(int(kept.why) + 1)
                    body = design(number, rng.uniform(1, 9), why) | {"revision": kept.revision}
                    began = time.monotonic()
                    answer = http.put(kept.where, json=body)
                    with lock:
                        figures.codes[answer.status_code] += 1
                        figures.slowest_s = max(figures.slowest_s, time.monotonic() - began)
                    if answer.status_code == 200:
                        kept = Kept(kept.where, answer.json()["revision"], why)
                        with lock:
                            figures.acknowledged += 1
        except (httpx2.HTTPError, KeyError, ValueError):
            time.sleep(0.1)


def race(served: Served, figures: Figures) -> None:
    """Let eight clients save from one revision: exactly one may win."""
    try:
        made = httpx2.post(f"{served.url}/api/designs", json=design(99, 3.0, "race"), timeout=10)
        where, codes = made.headers["location"], []

        def save(k: int) -> None:
            body = design(99, 3.0, str(k)) | {"revision": 1}
            codes.append(httpx2.put(f"{served.url}{where}", json=body, timeout=10).status_code)

        threads = [threading.Thread(target=save, args=(k,)) for k in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        httpx2.delete(f"{served.url}{where}", timeout=10)
    except (httpx2.HTTPError, KeyError):
        return
    if len(codes) == len(threads):
        figures.races += 1
        figures.winners[codes.count(200)] += 1


def verdicts(served: Served, figures: Figures) -> None:
    """Compare what the list says with a sheet of each design, once all is worked out."""
    for _ in range(600):
        rows = httpx2.get(f"{served.url}/api/designs?limit=500", timeout=10).json()
        if all(row["standing"] for row in rows):
            break
        time.sleep(0.1)
    for row in rows:
        ask = {"kind": row["kind"], "brief": row["brief"], "prefer": row["prefer"]}
        sheet = httpx2.post(f"{served.url}/api/sheet", json=ask, timeout=20).json()
        figures.wrong_verdicts += sheet["standing"] != row["standing"]


def main() -> None:
    """Run it, print the figures, and fail where a promise is broken."""
    minutes = float(os.environ.get("MINUTES", "10"))
    figures, lock, rng = Figures(), threading.Lock(), random.Random(1)
    with tempfile.TemporaryDirectory(prefix="lowfold-endure-") as folder:
        served = Served(Path(folder))
        served.start()
        until = time.monotonic() + 60 * minutes
        clients = [
            threading.Thread(target=saving, args=(k, served, figures, lock, until))
            for k in range(CLIENTS)
        ]
        for client in clients:
            client.start()
        while time.monotonic() < until:
            time.sleep(rng.uniform(*BETWEEN_KILLS_S))
            race(served, figures)
            httpx2.put(f"{served.url}/api/families/0603", json={"rating_w": rng.uniform(0.01, 1)})
            served.stop(signal.SIGKILL)
            figures.kills += 1
            served.start()
        for client in clients:
            client.join()
        second = subprocess.run(
            [sys.executable, "-m", "lowfold", "serve", "--port", "8792", "--data", folder],
            capture_output=True, text=True, timeout=60, check=False,
        )  # fmt: skip
        verdicts(served, figures)
        began = time.monotonic()
        served.stop(signal.SIGTERM)
        stopped = time.monotonic() - began
    print(f"{minutes:g} minutes, {CLIENTS} clients, {figures.kills} kills")
    print(f"saves acknowledged {figures.acknowledged}, lost {figures.lost}")
    print(f"races {figures.races}, winners in each {dict(figures.winners)}")
    print(f"status codes {dict(figures.codes)}, slowest save {figures.slowest_s:.2f} s")
    print(f"wrong verdicts in the list {figures.wrong_verdicts}")
    print(f"second server: {second.stderr.strip()}")
    print(f"stopped in {stopped:.1f} s")
    broken = figures.lost or figures.wrong_verdicts or set(figures.winners) - {1}
    if (
        broken
        or second.returncode != 1
        or any(code >= 500 and code != 503 for code in figures.codes)
    ):
        sys.exit("a promise is broken")


if __name__ == "__main__":
    main()
