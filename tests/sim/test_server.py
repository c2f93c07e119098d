"""The stand-in by raw sockets: no driver of ours is between."""

import contextlib
import socket
import threading
import time
from collections.abc import Iterator

import pytest

from lowfold.sim.board import drawn_board
from lowfold.sim.meter import IDENTITY
from lowfold.sim.server import LONGEST_LINE, StandIn


@pytest.fixture
def port() -> Iterator[int]:
    board = drawn_board("R1=200k + @OUT + R2=56k", 14.4, tolerance=0)
    with StandIn(board) as found:
        yield found.port


class Client:
    def __init__(self, port: int) -> None:
        self.line = socket.create_connection(("127.0.0.1", port), timeout=5)
        self.file = self.line.makefile("rwb")

    def ask(self, text: str) -> str:
        self.line.sendall(text.encode() + b"\n")
        return self.file.readline().decode().rstrip("\n")

    def close(self) -> None:
        self.file.close()
        self.line.close()


@pytest.fixture
def client(port: int) -> Iterator[Client]:
    found = Client(port)
    yield found
    found.close()


def test_it_says_who_it_is(client: Client) -> None:
    assert client.ask("*idn?") == IDENTITY
    assert client.ask("*IDN?\r") == IDENTITY  # CR LF ends a line too
    assert client.ask("*IDN?;*OPC?") == f"{IDENTITY};1"


def test_each_client_has_a_state_of_its_own(port: int) -> None:
    one, other = Client(port), Client(port)
    one.ask('ROUT:PROB "OUT","0";:CONF:VOLT 10;*OPC?')
    other.ask("FOO;*OPC?\n*OPC?")
    assert one.ask("SYST:ERR?") == '0,"No error"'
    assert one.ask("ROUT:PROB?") == '"OUT","0"'
    assert other.ask("ROUT:PROB?") == '"in","0"'
    one.close()
    other.close()


def test_half_lines_garbage_and_endless_lines_never_stop_it(port: int) -> None:
    half = Client(port)
    half.line.sendall(b"MEAS:VO")
    half.close()
    garbage = Client(port)
    garbage.line.sendall(bytes(range(256)) * 20 + b"\n")
    assert garbage.ask("*CLS;*IDN?") == IDENTITY
    garbage.close()
    endless = Client(port)
    endless.line.sendall(b"A" * (5 * LONGEST_LINE))
    endless.line.sendall(b"\n")
    assert endless.ask("SYST:ERR?") == '-363,"Input buffer overrun"'
    assert endless.ask("*IDN?") == IDENTITY
    endless.close()


def test_a_line_may_come_in_pieces(client: Client) -> None:
    for piece in (b"*I", b"DN", b"?", b"\n*OPC?\n"):
        client.line.sendall(piece)
        time.sleep(0.02)
    assert client.file.readline() == IDENTITY.encode() + b"\n"
    assert client.file.readline() == b"1\n"


def test_one_that_never_reads_does_not_hold_up_another(port: int) -> None:
    deaf = Client(port)
    stop = threading.Event()

    def shout() -> None:
        deaf.line.settimeout(0.2)
        while not stop.is_set():
            try:
                deaf.line.sendall(b"*IDN?\n" * 500)
            except OSError:
                return

    shouting = threading.Thread(target=shout)
    shouting.start()
    other = Client(port)
    began = time.monotonic()
    assert all(other.ask("*IDN?") == IDENTITY for _ in range(20))
    assert time.monotonic() - began < 5
    stop.set()
    other.close()
    shouting.join()
    deaf.close()


def test_closing_hangs_up() -> None:
    stand_in = StandIn(drawn_board("R1=1k", 1.0))
    client = Client(stand_in.port)
    assert client.ask("*IDN?") == IDENTITY
    stand_in.close()
    with contextlib.suppress(ConnectionResetError):
        assert client.file.readline() == b""
    client.close()
    with pytest.raises(ConnectionRefusedError):
        socket.create_connection(("127.0.0.1", stand_in.port), timeout=1)
