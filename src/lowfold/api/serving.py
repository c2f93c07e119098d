"""How connections are served: on this machine alone, and none for longer than it is used."""

from __future__ import annotations

import asyncio
from typing import Any, Final

import h11
import uvicorn
from fastapi import FastAPI
from uvicorn.protocols.http.h11_impl import H11Protocol

from lowfold.api.problems import problem_bytes

__all__ = ["server_of"]

HEADERS_S: Final = 10.0  #: for the headers of a request, from its first byte or the connection's
STOPS_WITHIN_S: Final = 2  #: requests still open get so long once the server is told to stop


class _Connection(H11Protocol):
    """A connection that says goodbye to who does not finish its headers."""

    _patience: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._patience = self.loop.call_later(HEADERS_S, self._too_slow)

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        asked = self.conn.their_state is not h11.IDLE
        waits = self._patience is not None
        if asked and self._patience is not None:
            self._patience.cancel()
            self._patience = None
        elif not asked and not waits and self.conn.trailing_data[0]:
            self._patience = self.loop.call_later(HEADERS_S, self._too_slow)

    def connection_lost(self, exc: Exception | None) -> None:
        if self._patience is not None:
            self._patience.cancel()
        super().connection_lost(exc)

    def _too_slow(self) -> None:
        body = problem_bytes(408, f"the headers did not come within {HEADERS_S:g} s: ask again")
        head = (
            "HTTP/1.1 408 Request Timeout\r\ncontent-type: application/problem+json\r\n"
            f"connection: close\r\ncontent-length: {len(body)}\r\n\r\n"
        )
        self.transport.write(head.encode("ascii") + body)
        self.transport.close()


def server_of(app: FastAPI, port: int, **more: Any) -> uvicorn.Server:
    """Return what serves an application on a port of this machine, and of no other."""
    config = uvicorn.Config(
        app,
        host="127.0.0.1",
        port=port,
        http=_Connection,
        timeout_graceful_shutdown=STOPS_WITHIN_S,
        **{"log_level": "warning", **more},
    )
    return uvicorn.Server(config)
