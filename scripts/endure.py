"""What is promised to stand, tried: kills, faults, mixed load (docs/reliability.md).

`make endure` takes some twenty minutes; `MINUTES=` is how long the load runs, `KILLS=` how often
the server is killed, `SEED=` what is drawn. It prints its figures, and fails where a promise is
broken.
"""

from __future__ import annotations

import os
import random
import sys
import tempfile
from pathlib import Path

from scripts.endurance.faults import deleted_file, full_disk, second_server
from scripts.endurance.kills import kills
from scripts.endurance.load import load
from scripts.endurance.saves import saves


def main() -> None:
    """Run all of it."""
    minutes = float(os.environ.get("MINUTES") or 5)
    count = int(os.environ.get("KILLS") or 300)
    seed = int(os.environ.get("SEED") or random.randrange(10**6))
    print(f"make endure MINUTES={minutes:g} KILLS={count} SEED={seed}", flush=True)
    with tempfile.TemporaryDirectory(prefix="lowfold-endure-") as folder:
        at = Path(folder)
        held = {
            "a full disk": full_disk(at / "small"),
            "a deleted file": deleted_file(at / "deleted"),
            "a second server": second_server(at / "second"),
            "kills": kills(count, at / "killed", seed),
            "races and verdicts": saves(at / "saved", minutes / 5, seed),
            "load": load(at / "loaded", minutes, seed),
        }
    broken = [name for name, holds in held.items() if not holds]
    if broken:
        sys.exit(f"a promise is broken: {', '.join(broken)}")


if __name__ == "__main__":
    main()
