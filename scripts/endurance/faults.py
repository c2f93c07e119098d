"""A full disk, a deleted file, a second server: each told as what it is, nothing lost by it."""

from __future__ import annotations

import shutil
import signal
import subprocess
import sys
from pathlib import Path
from typing import Any

import httpx2

from scripts.endurance.served import Served

__all__ = ["deleted_file", "full_disk", "second_server"]

SMALL = "1500k"
DESIGN = {"name": "Sense", "kind": "divider", "brief": {"supply_v": "14.4 V"}}


def _kept(url: str) -> list[str]:
    rows: list[dict[str, Any]] = httpx2.get(f"{url}/api/designs?limit=500", timeout=10).json()
    return [row["name"] for row in rows]


def _save(url: str, name: str, more: int = 0) -> httpx2.Response:
    body = {**DESIGN, "name": name, "why": "x" * more}
    return httpx2.post(f"{url}/api/designs", json=body, timeout=10)


def full_disk(data: Path) -> bool:
    """Fill the disk while saving and before a start; root alone can make a small one."""
    data.mkdir()
    mount = ["mount", "-t", "tmpfs", "-o", f"size={SMALL}", "lowfold", str(data)]
    if shutil.which("mount") is None or subprocess.run(mount, check=False).returncode:
        print("full disk: not tried, no small disk can be made here")
        return True
    try:
        return _filled(data)
    finally:
        subprocess.run(["umount", "-l", str(data)], check=False)


def _filled(data: Path) -> bool:
    served, acknowledged, refused = Served(data), [], None
    served.start()
    for k in range(400):
        found = _save(served.url, f"{k}", 9000)
        if found.status_code == 201:
            acknowledged.append(f"{k}")
        elif found.status_code == 507:
            refused = found.json()["detail"]
            break
        else:
            print(f"full disk: {found.status_code} {found.text[:200]}")
            return False
    reads = httpx2.get(f"{served.url}/api/health", timeout=10).status_code == 200
    served.stop(signal.SIGKILL)
    (data / "filler").write_bytes(b"")
    with (data / "filler").open("wb", buffering=0) as filler:
        try:
            while filler.write(b"x" * 512):
                pass
        except OSError:
            pass
    told = served.begin()
    words = ""
    try:
        told.wait(timeout=15)
        words = (told.stderr.read() if told.stderr else "").strip()
    except subprocess.TimeoutExpired:
        words = "it starts, and reads"
        served.stop()
    (data / "filler").unlink()
    served.start()
    lost = set(acknowledged) - set(_kept(served.url))
    again = _save(served.url, "after").status_code
    served.stop()
    print(
        f"full disk: {len(acknowledged)} acknowledged, then 507 “{refused}”; a start on it: "
        f"“{words[:120]}”; once there is room {len(lost)} lost, a save {again}"
    )
    return not lost and refused is not None and reads and "damaged" not in words


def deleted_file(data: Path) -> bool:
    """Delete the database under the server: no save is acknowledged from then on."""
    served = Served(data)
    served.start()
    before = _save(served.url, "before").status_code
    (data / "lowfold.db").unlink()
    after = _save(served.url, "after")
    health = httpx2.get(f"{served.url}/api/health", timeout=10).json()
    served.stop()
    print(f"deleted file: {before}, then {after.status_code} “{after.json()['detail'][:90]}…”")
    return before == 201 and after.status_code == 503 and health["status"] == "degraded"


def second_server(data: Path) -> bool:
    """Start a second server on the directory of one."""
    served = Served(data)
    served.start()
    second = subprocess.run(
        [sys.executable, "-m", "lowfold", "serve", "--port", "8792", "--data", str(data)],
        capture_output=True, text=True, timeout=60, check=False,
    )  # fmt: skip
    stopped = served.stop()
    print(f"second server: {second.stderr.strip()}; the first stopped in {stopped:.1f} s")
    return second.returncode == 1
