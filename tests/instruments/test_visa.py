"""Readings through VISA: from the stand-in, from meters of other makes, and from broken ones."""

import gc
import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

import pytest

from lowfold.instruments.visa import (
    LONGEST_S,
    BadResource,
    InstrumentFault,
    Probe,
    Silent,
    checked_resource,
    probe_name,
    take_reading,
)
from lowfold.sim.board import drawn_board
from lowfold.sim.server import StandIn

# The library leaves its socket to the garbage collector where nobody answers.
pytestmark = pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning")

OUT = Probe("voltage", ("OUT", "0"))
Behave = Callable[[socket.socket], None]


@contextmanager
def instrument(behave: Behave) -> Iterator[str]:
    """An instrument on a socket that is not ours."""
    listening = socket.create_server(("127.0.0.1", 0))
    listening.settimeout(5)

    def serve() -> None:
        try:
            line, _ = listening.accept()
        except OSError:
            return
        with line:
            line.settimeout(5)
            try:
                behave(line)
            except OSError:
                return

    serving = threading.Thread(target=serve)
    serving.start()
    try:
        yield f"TCPIP::127.0.0.1::{listening.getsockname()[1]}::SOCKET"
    finally:
        listening.close()
        serving.join(timeout=6)


def answering(replies: dict[str, str], heard: list[str]) -> Behave:
    def behave(line: socket.socket) -> None:
        with line.makefile("rwb") as file:
            while asked := file.readline().decode().strip():
                heard.append(asked)
                if asked in replies:
                    file.write(replies[asked].encode() + b"\n")
                    file.flush()

    return behave


def test_the_stand_in_is_told_where_its_probes_are() -> None:
    board = drawn_board("R1=200k + @OUT + R2=56k", 14.4, tolerance=0)
    with StandIn(board) as stand_in:
        taken = take_reading(stand_in.resource, OUT)
        # By hand: 14.4 V · 55.688 kΩ / 255.688 kΩ, the meter's 10 MΩ beside the lower leg
        assert taken.value == pytest.approx(3.1363, rel=1e-4)
        assert (taken.range_full, taken.simulated) == (10.0, True)
        assert take_reading(stand_in.resource, Probe("voltage", ("in", "0"), 1.0)).value is None
        with pytest.raises(InstrumentFault, match="the stand-in cannot put its probes there"):
            take_reading(stand_in.resource, Probe("voltage", ("X", "0")))


def test_any_other_meter_is_only_asked() -> None:
    heard: list[str] = []
    replies = {"*IDN?": "Somebody,M1,7,2.0", "MEAS:VOLT:DC?": "3.01\r", "SENS:VOLT:DC:RANG?": "1E1"}
    with instrument(answering(replies, heard)) as resource:
        taken = take_reading(resource, OUT)
    assert (taken.value, taken.range_full, taken.simulated) == (3.01, 10.0, False)
    assert heard == ["*IDN?", "MEAS:VOLT:DC?", "SENS:VOLT:DC:RANG?"]


def test_a_meter_need_not_tell_its_range() -> None:
    heard: list[str] = []
    replies = {"*IDN?": "Somebody,M1,7,2.0", "MEAS:CURR:DC? 0.01": "-9.9E+37"}
    with instrument(answering(replies, heard)) as resource:
        taken = take_reading(resource, Probe("current", ("R1",), 0.01))
    assert (taken.value, taken.range_full) == (None, 0.01)


def silent(line: socket.socket) -> None:
    line.recv(100)
    line.recv(100)


def trickling(line: socket.socket) -> None:
    for _ in range(60):
        line.sendall(b"x")
        time.sleep(0.1)


@pytest.mark.parametrize("behave", [silent, trickling])
def test_one_that_does_not_answer_is_not_waited_for(behave: Behave) -> None:
    began = time.monotonic()
    with instrument(behave) as resource:
        with pytest.raises(Silent, match="the meter did not answer in time"):
            take_reading(resource, OUT, 0.5)
        assert time.monotonic() - began < LONGEST_S


def hanging_up(line: socket.socket) -> None:
    line.recv(100)


def half(line: socket.socket) -> None:
    line.recv(100)
    line.sendall(b"Someb")


def bytes_of_no_text(line: socket.socket) -> None:
    line.recv(100)
    line.sendall(b"\xff\xfe\x00\n")


def endless(line: socket.socket) -> None:
    while True:
        line.sendall(b"x" * 1000)


BROKEN = [
    (hanging_up, "the meter hung up"),
    (half, "the meter hung up"),
    (bytes_of_no_text, "the meter's reply cannot be read"),
    (endless, "the meter's reply has no end"),
    (
        answering({"*IDN?": "a,b,c,d", "MEAS:VOLT:DC?": "three"}, []),
        "the meter's reply is no readi",
    ),
    (answering({"*IDN?": "a,b,c,d", "MEAS:VOLT:DC?": "nan"}, []), "the meter's reply is no readin"),
    (answering({"*IDN?": "a,b,c,d", "MEAS:VOLT:DC?": "9.91E37"}, []), "the meter's reply is no re"),
]


@pytest.mark.parametrize(("behave", "told"), BROKEN)
def test_a_meter_that_lies_or_leaves(behave: Behave, told: str) -> None:
    with (
        instrument(behave) as resource,
        pytest.raises(InstrumentFault, match=told) as found,
    ):
        take_reading(resource, OUT)
    assert not isinstance(found.value, Silent)


def test_nobody_there() -> None:
    with socket.create_server(("127.0.0.1", 0)) as listening:
        port = listening.getsockname()[1]
    with pytest.raises(InstrumentFault, match="the meter cannot be reached: Connection refused"):
        take_reading(f"TCPIP::127.0.0.1::{port}::SOCKET", OUT)


@pytest.mark.filterwarnings("ignore:unclosed:ResourceWarning")
@pytest.mark.parametrize("host", ["nowhere.invalid", "a..b", "x" * 70])
def test_a_host_without_an_address(host: str) -> None:
    with pytest.raises(InstrumentFault, match="the meter cannot be reached"):
        take_reading(f"TCPIP::{host}::5025::SOCKET", OUT)
    gc.collect()  # the library leaves the socket of such a host open


@pytest.mark.parametrize(
    "name",
    ["", "meter", "TCPIP::127.0.0.1::99999::SOCKET", "http://127.0.0.1", "TCPIP::\n::SOCKET"],
)
def test_a_resource_name_that_is_none(name: str) -> None:
    with pytest.raises(BadResource, match="is no VISA resource name: write one like TCPIP::"):
        checked_resource(name)


def test_a_resource_name_as_the_library_spells_it() -> None:
    assert checked_resource(" tcpip::127.0.0.1::5025::socket") == "TCPIP0::127.0.0.1::5025::SOCKET"


@pytest.mark.parametrize("name", ['OUT";*RST', "a b", "", "OUT\n", "Ω", "x" * 41])
def test_what_is_no_name_never_reaches_the_wire(name: str) -> None:
    with pytest.raises(BadResource, match="is no name"):
        probe_name(name)
    assert probe_name(" @OUT ") == "OUT"
