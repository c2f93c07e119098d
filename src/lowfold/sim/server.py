"""The stand-in on a socket: any number of clients, each with a meter of its own."""

from __future__ import annotations

import asyncio
import contextlib
import threading
from collections.abc import Callable
from concurrent.futures import Future
from typing import Final, Self

from lowfold.sim.board import Board
from lowfold.sim.meter import Session
from lowfold.sim.scpi import ScpiError

__all__ = ["HOST", "LONGEST_LINE", "Meter", "StandIn", "run"]

HOST: Final = "127.0.0.1"
LONGEST_LINE: Final = 16_384  #: bytes; of what is longer nothing is carried out
MOST_CLIENTS: Final = 64
CHUNK: Final = 4096


async def _attend(board: Board, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    """Serve one client until it leaves; half a line at the end is nothing."""
    session = Session(board)
    buffer, overrun = bytearray(), False
    while chunk := await reader.read(CHUNK):
        buffer += chunk
        *lines, rest = buffer.split(b"\n")
        buffer = bytearray(rest)
        for line in lines:
            if overrun or len(line) > LONGEST_LINE:
                session.complain(ScpiError(-363))
                overrun = False
                continue
            reply = session.answer(line.decode("latin-1"))
            if reply is not None:
                writer.write(reply.encode("latin-1", "replace") + b"\n")
                await writer.drain()
        if len(buffer) > LONGEST_LINE:
            buffer.clear()
            overrun = True
        await asyncio.sleep(0)  # a client that never stops does not keep others waiting


class Meter:
    """A board with its meter on a port of this machine."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self._lines: set[asyncio.StreamWriter] = set()
        self._server: asyncio.Server | None = None

    async def start(self, port: int) -> int:
        """Listen; port 0 takes a free one. Return the port.

        Raises
        ------
        OSError
            If the port is taken.
        """
        self._server = await asyncio.start_server(self._come, HOST, port, limit=LONGEST_LINE)
        return int(self._server.sockets[0].getsockname()[1])

    async def _come(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        if len(self._lines) < MOST_CLIENTS:
            self._lines.add(writer)
            with contextlib.suppress(ConnectionError):
                await _attend(self.board, reader, writer)
            self._lines.discard(writer)
        writer.close()
        with contextlib.suppress(ConnectionError):
            await writer.wait_closed()

    async def stop(self) -> None:
        """Hang up on every client, and listen no more."""
        assert self._server is not None  # it was started
        self._server.close()
        while self._lines:
            for writer in self._lines:
                writer.transport.abort()
            await asyncio.sleep(0)


def run(board: Board, port: int, ready: Callable[[str], None]) -> None:
    """Serve a board until interrupted.

    Parameters
    ----------
    port : int
        From 0 to 65535; 0 takes a free one.
    ready : callable
        Told the VISA resource name once it listens.

    Raises
    ------
    OSError, OverflowError
        If the port cannot be taken.
    """

    async def serving() -> None:
        meter = Meter(board)
        ready(f"TCPIP::{HOST}::{await meter.start(port)}::SOCKET")
        try:
            await asyncio.Event().wait()
        finally:
            await meter.stop()

    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(serving())


class StandIn:
    """A stand-in that runs beside the app, in a thread of its own.

    Parameters
    ----------
    port : int
        0 takes a free one.

    Raises
    ------
    OSError
        If the port is taken.
    """

    def __init__(self, board: Board, port: int = 0) -> None:
        self._board = board
        listening: Future[int] = Future()
        self._thread = threading.Thread(
            target=lambda: asyncio.run(self._serve(port, listening)), name="stand-in", daemon=True
        )
        self._thread.start()
        self.port = listening.result()

    @property
    def resource(self) -> str:
        """Return its VISA resource name."""
        return f"TCPIP::{HOST}::{self.port}::SOCKET"

    async def _serve(self, port: int, listening: Future[int]) -> None:
        meter = Meter(self._board)
        self._loop, self._stopping = asyncio.get_running_loop(), asyncio.Event()
        try:
            taken = await meter.start(port)
        except OSError as error:
            listening.set_exception(error)
            return
        listening.set_result(taken)
        await self._stopping.wait()
        await meter.stop()

    def close(self) -> None:
        """Hang up on every client and end."""
        if self._thread.is_alive():
            self._loop.call_soon_threadsafe(self._stopping.set)
            self._thread.join(timeout=5)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()
