"""Time the list, the search and the opening of many designs: `python -m bench.kept`, seed fixed.

5,000 designs with ten entries each, served; each request against a health call in the same run.
"""

from __future__ import annotations

import random
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any, Final

from bench.served import Client, line, served
from lowfold.api.standings import stamp
from lowfold.core.parts.stock import Stock
from lowfold.store.database import Database
from lowfold.store.designs import add_design
from lowfold.store.record import add_entry

__all__ = ["fill", "main"]

DESIGNS: Final = 5000
ENTRIES: Final = 10
TIMES: Final = 40
WORDS: Final = [
    "buoy",
    "lake",
    "logger",
    "mast",
    "gauge",
    "heron",
    "reed",
    "moored",
    "panel",
    "charger",
    "probe",
    "drift",
    "winter",
    "spare",
    "crate",
    "dry",
    "wet",
    "salt",
    "fresh",
    "clamp",
    "lead",
    "joint",
    "bin",
    "reel",
    "batch",
]


def fill(folder: Path, designs: int = DESIGNS, entries: int = ENTRIES) -> None:
    """Fill a directory with designs and their records."""
    chance = random.Random(1)
    database = Database(folder / "lowfold.db")
    database.migrate()
    brief = {"target_ohm": "250 Ω", "within": "1.5 %", "values": "E24"}
    choice = "R1=150 + R2=100"
    standing: dict[str, Any] = {
        "verdict": "pass", "words": "spread uses 80 % of the window", "need": "250 Ω ± 1.5 %",
        "figure": "250 Ω", "gates": {},
    }  # fmt: skip
    mark = stamp("resistance", brief, "nearest", choice, Stock())
    kept = {"standing": standing, "standing_of": mark, "verdict": "pass"}

    def said() -> str:
        return " ".join(chance.choices(WORDS, k=8))

    with database.writing() as session:
        commit, session.commit = session.commit, lambda: None  # type: ignore[method-assign]
        for k in range(designs):
            row = add_design(
                session,
                {
                    "name": f"{chance.choice(WORDS)} {k}", "kind": "resistance", "brief": brief,
                    "prefer": "nearest", "choice": choice, "why": said(), **kept,
                },
            )  # fmt: skip
            for _ in range(entries):
                add_entry(session, row.id, "note", said(), {})
            if k % 200 == 0:
                session.flush()
                session.expunge_all()
        session.commit = commit  # type: ignore[method-assign]
        session.commit()
    database.close()


def timed(name: str, client: Client, path: Callable[[int], str]) -> None:
    """Print how long a request takes, against a health call."""
    for k in range(5):
        client.get(path(1000 + k))
    health, spent = [], []
    for k in range(TIMES):
        health.append(client.get("/api/health"))
        spent.append(client.get(path(k)))
    line(name, spent, health)


def main() -> None:
    """Print every figure."""
    with tempfile.TemporaryDirectory() as folder:
        began = time.perf_counter()
        fill(Path(folder))
        print(
            f"{DESIGNS} designs with {ENTRIES} entries each, in {time.perf_counter() - began:.0f} s"
        )
        with served(folder) as (port, _):
            client = Client(port)
            time.sleep(6)  # its workers are warm
            timed("the list, a hundred", client, lambda k: f"/api/designs?offset={100 * (k % 40)}")
            timed("the list by name", client, lambda k: f"/api/designs?sort=name&offset={k}")
            timed("a state", client, lambda k: f"/api/designs?state=pass&offset={k}")
            timed("a common word", client, lambda k: f"/api/designs?q={WORDS[k % len(WORDS)]}")
            two = [f"{a}+{b}" for a, b in zip(WORDS, WORDS[3:], strict=False)]
            timed("two words", client, lambda k: f"/api/designs?q={two[k % len(two)]}")
            timed("a rare word", client, lambda k: f"/api/designs?q={4000 + k}")
            timed("opening one", client, lambda k: f"/api/designs/{1 + 97 * (k % 50)}")
            timed("its record", client, lambda k: f"/api/designs/{1 + 97 * (k % 50)}/record")
            paper = [client.get(f"/api/designs/{1 + 97 * k}/handover.pdf") for k in range(8)]
            print(f"a PDF, median {statistics.median(paper):.2f} s, longest {max(paper):.2f} s")


if __name__ == "__main__":
    main()
