"""Races of eight clients for one revision under kills, and the verdicts of the list after."""

from __future__ import annotations

import random
import signal
import threading
import time
from collections import Counter
from pathlib import Path
from typing import Any

import httpx2

from scripts.endurance.served import Served

__all__ = ["saves"]

CLIENTS = 8


def design(number: int, target: float, why: str) -> dict[str, Any]:
    """Return a divider as one client keeps it."""
    brief = {"supply_v": "14.4 V", "target_v": f"{target:.2f} V", "load": "1 MΩ"}
    return {"name": f"Sense {number}", "kind": "divider", "brief": brief, "why": why}


def race(url: str) -> int | None:
    """Let eight clients save from one revision; return how many won, None if a kill came first."""
    try:
        made = httpx2.post(f"{url}/api/designs", json=design(99, 3.0, "race"), timeout=10)
        where, codes = made.headers["location"], []

        def save(k: int) -> None:
            body = design(99, 3.0 + k / 10, str(k)) | {"revision": 1}
            codes.append(httpx2.put(f"{url}{where}", json=body, timeout=10).status_code)

        threads = [threading.Thread(target=save, args=(k,)) for k in range(CLIENTS)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    except (httpx2.HTTPError, KeyError):
        return None
    return codes.count(200) if len(codes) == CLIENTS else None


def wrong_verdicts(url: str) -> int:
    """Compare what the list says with a sheet of each design, once all is worked out."""
    for _ in range(600):
        rows = httpx2.get(f"{url}/api/designs?limit=500", timeout=10).json()
        if all(row["standing"] for row in rows):
            break
        time.sleep(0.1)
    wrong = 0
    for row in rows:
        ask = {"kind": row["kind"], "brief": row["brief"], "prefer": row["prefer"]}
        sheet = httpx2.post(f"{url}/api/sheet", json=ask, timeout=20).json()
        wrong += sheet["standing"] != row["standing"]
    return wrong


def saves(data: Path, minutes: float, seed: int) -> bool:
    """Run it, print the figures, and tell whether the promise held."""
    served, rng = Served(data), random.Random(seed)
    winners: Counter[int | None] = Counter()
    kills = 0
    served.start()
    until = time.monotonic() + 60 * minutes
    while time.monotonic() < until:
        for _ in range(rng.randint(1, 4)):
            winners[race(served.url)] += 1
        httpx2.put(f"{served.url}/api/families/0603", json={"rating_w": rng.uniform(0.01, 1)})
        served.stop(signal.SIGKILL)
        kills += 1
        served.start()
    wrong = wrong_verdicts(served.url)
    served.stop()
    print(f"races {dict(winners)} (winners: how often), {kills} kills, wrong verdicts {wrong}")
    return not wrong and set(winners) <= {1, None}
