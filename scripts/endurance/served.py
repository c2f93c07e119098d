"""The real server in a process of its own, and what it holds of the machine."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import httpx2

__all__ = ["Served"]


class Served:
    """A server on a directory, started again whenever that is wanted."""

    def __init__(self, data: Path) -> None:
        self.data = data
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port: int = probe.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        self.process: subprocess.Popen[str] | None = None

    def begin(self) -> subprocess.Popen[str]:
        """Start it, whatever comes of that."""
        self.process = subprocess.Popen(
            [sys.executable, "-m", "lowfold", "serve"],
            env={**os.environ, "LOWFOLD_PORT": str(self.port), "LOWFOLD_DATA": str(self.data)},
            stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        return self.process

    def start(self) -> float:
        """Start it; return after how many seconds it answered."""
        began = time.monotonic()
        self.begin()
        while time.monotonic() - began < 60:
            try:
                httpx2.get(f"{self.url}/api/health", timeout=1)
            except httpx2.HTTPError:
                time.sleep(0.02)
            else:
                return time.monotonic() - began
        sys.exit("the server did not come up")

    def stop(self, how: int = signal.SIGTERM) -> float:
        """Stop it; return how long that took."""
        assert self.process is not None
        began = time.monotonic()
        self.process.send_signal(how)
        self.process.wait(timeout=30)
        return time.monotonic() - began

    def workers(self) -> list[int]:
        """Return the processes that compute: what its server of new processes has begun."""
        assert self.process is not None
        return [leaf for child in _children(self.process.pid) for leaf in _children(child)]

    def held(self) -> tuple[int, int]:
        """Return how many files it has open, and its memory in MB."""
        assert self.process is not None
        here = Path(f"/proc/{self.process.pid}")
        memory = next(
            int(line.split()[1])
            for line in (here / "status").read_text().splitlines()
            if line.startswith("VmRSS")
        )
        return len(list((here / "fd").iterdir())), memory // 1024


def _children(pid: int) -> list[int]:
    try:
        found = Path(f"/proc/{pid}/task/{pid}/children").read_text().split()
    except OSError:
        return []
    return [int(child) for child in found]
