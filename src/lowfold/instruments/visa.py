"""Take one reading from a meter that speaks SCPI, through VISA.

The library is PyVISA with its backend in pure Python: nothing has to be installed beside it.
"""

from __future__ import annotations

import ipaddress
import math
import re
import socket
import threading
import time
import warnings
from collections import defaultdict
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from functools import cache
from typing import Any, Final, Literal, TypeAlias

import pyvisa
from pyvisa.constants import StatusCode
from pyvisa.errors import VisaIOError
from pyvisa.rname import InvalidResourceName, parse_resource_name

__all__ = [
    "LONGEST_S", "BadResource", "InstrumentFault", "Probe", "Reading", "Silent", "checked_resource",
    "probe_name", "take_reading",
]  # fmt: skip

LONGEST_S: Final = 2.2  #: all of a reading; with the library loaded it is there within 3 s
LONGEST_REPLY: Final = 4096  #: bytes of one line
WAIT_MS: Final = 50  #: at a time
SHORT_S: Final = 0.6  #: for what a reading can do without
OVERLOAD: Final = 9.9e37  #: what a meter says over its range (SCPI-99 volume 1, 7.2.1.4)
NOT_A_NUMBER: Final = 9.91e37  #: what it says where there is none
#: What the stand-in's identity starts with; it alone is told where its probes are.
STAND_IN: Final = "Lowfold,stand-in,"
EXAMPLE: Final = "TCPIP::192.168.1.20::5025::SOCKET"

#: This machine, and private networks (RFC 1918, RFC 4193).
NEAR: Final = tuple(
    ipaddress.ip_network(network)
    for network in ("127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "::1/128",
                    "fc00::/7")
)  # fmt: skip
IPAddress: TypeAlias = ipaddress.IPv4Address | ipaddress.IPv6Address
Measured = Literal["voltage", "current", "resistance"]
HEADERS: Final[dict[Measured, str]] = {
    "voltage": "VOLT:DC", "current": "CURR:DC", "resistance": "RES",
}  # fmt: skip


class BadResource(ValueError):
    """A resource name, or the name of a junction, that is none: nothing is sent."""


class InstrumentFault(Exception):
    """The meter refused, hung up, or said what is no reading."""


class Silent(InstrumentFault):
    """The meter did not answer in time."""


@dataclass(frozen=True, slots=True)
class Probe:
    """What is measured, and the names of what the probes are put to."""

    kind: Measured
    names: tuple[str, ...]
    range_full: float | None = None


@dataclass(frozen=True, slots=True)
class Reading:
    value: float | None  #: None is over range
    range_full: float | None  #: None where the meter does not tell
    simulated: bool


_NAME: Final = re.compile(r"[A-Za-z0-9_]{1,40}")


def probe_name(name: str) -> str:
    """Return the name of a junction or part as it may go over the wire.

    Raises
    ------
    BadResource
        For what is no name.
    """
    bare = name.strip(" ").lstrip("@").strip(" ")
    if not _NAME.fullmatch(bare):
        msg = f"“{name[:60]}” is no name: letters, digits and _, such as OUT, R1 or 0"
        raise BadResource(msg)
    return bare


def checked_resource(name: str) -> str:
    """Return a VISA resource name as the library spells it.

    Raises
    ------
    BadResource
        For what is none.
    """
    msg = f"“{name[:60]}” is no VISA resource name: write one like {EXAMPLE}"
    if not name.isprintable() or len(name) > 200:
        raise BadResource(msg)
    kind, *rest = name.strip().split("::")
    if len(rest) > 1:  # its first and last word are written in any case (VPP-4.3)
        rest[-1] = rest[-1].upper()
    try:
        parsed = parse_resource_name("::".join([kind.upper(), *rest]))
        port = int(getattr(parsed, "port", 1))
    except (InvalidResourceName, ValueError) as error:
        raise BadResource(msg) from error
    if not 0 < port <= 65535:
        raise BadResource(msg)
    host = _host_of(parsed)
    if host is not None and (literal := _literal(host)) is not None:
        _check_near(literal, host)
    return str(parsed)


def _host_of(parsed: Any) -> str | None:
    """Return the host that a resource name is at; None where it is on no network."""
    host = getattr(parsed, "host_address", None)
    return str(host) if host else None


def _literal(host: str) -> IPAddress | None:
    try:
        return ipaddress.ip_address(host.strip("[]"))
    except ValueError:
        return None  # a name, looked up when it is opened


def _check_near(address: IPAddress, host: str) -> None:
    """Refuse an address that is not on this machine or on a private network.

    Raises
    ------
    BadResource
        For link-local, multicast and broadcast addresses too: other things than meters are there.
    """
    if not any(address in network for network in NEAR):
        msg = (
            f"{host[:60]} is no address of this machine or of a private network (10., 172.16–31., "
            "192.168., 127.): a meter is read there alone"
        )
        raise BadResource(msg)


def _near(name: str, until: float) -> str:
    """Return a resource name with the address that its host has now, checked.

    The library would look the name up again: what was checked is what is opened.

    Raises
    ------
    BadResource
        Where it leads off the private network.
    InstrumentFault
        Where the name has no address.
    """
    host = _host_of(parse_resource_name(name))
    if host is None or _literal(host) is not None:
        return name
    found = _looked_up(host, max(0.05, until - time.monotonic()))
    for address in found:
        _check_near(address, host)
    return name.replace(f"::{host}::", f"::{found[0]}::", 1)


def _looked_up(host: str, longest: float) -> list[IPAddress]:
    told: list[IPAddress] = []

    def look() -> None:
        with suppress(OSError, UnicodeError):
            every = socket.getaddrinfo(host, None, socket.AF_INET, socket.SOCK_STREAM)
            told.extend(ipaddress.ip_address(str(one[4][0])) for one in every)

    # The system's own look-up has no bound of its own
    looking = threading.Thread(target=look, daemon=True)
    looking.start()
    looking.join(longest)
    if not told:
        msg = f"the meter cannot be reached: {host[:60]} has no address here"
        raise InstrumentFault(msg)
    return list(told)


@cache
def _manager() -> pyvisa.ResourceManager:
    return pyvisa.ResourceManager("@py")


_locks: defaultdict[str, threading.Lock] = defaultdict(threading.Lock)


@contextmanager
def _held(resource: str, until: float) -> Iterator[None]:
    """Keep two readings of one meter apart."""
    lock = _locks[resource]
    if not lock.acquire(timeout=max(0.0, until - time.monotonic())):
        msg = "the meter is still busy with another reading"
        raise Silent(msg)
    try:
        yield
    finally:
        lock.release()


class _Line:
    """One open connection; every wait is bounded by what is left of the time."""

    def __init__(self, opened: Any, until: float) -> None:
        self.opened = opened
        self.until = until

    def ask(self, message: str, within: float = math.inf) -> str:
        """Send a query and return its reply."""
        left = min(self.until - time.monotonic(), within)
        if left <= 0:
            msg = "the meter did not answer in time"
            raise Silent(msg)
        self.opened.write(message)
        said = self._line(time.monotonic() + left)
        try:
            return str(said.decode("ascii").strip())
        except UnicodeDecodeError as error:
            msg = f"the meter's reply cannot be read: {said[:40]!r}"
            raise InstrumentFault(msg) from error

    def _line(self, until: float) -> bytes:
        """Read to the end of a line.

        Byte by byte and in short waits: a longer read would lose what has come when its time is
        over, go on while a byte trickles in now and then, and not tell a closed line from silence.
        """
        said = bytearray()
        self.opened.timeout = WAIT_MS
        while not said.endswith(b"\n"):
            if len(said) == LONGEST_REPLY:
                msg = f"the meter's reply has no end: {bytes(said[:40])!r}…"
                raise InstrumentFault(msg)
            if time.monotonic() > until:
                msg = "the meter did not answer in time"
                raise Silent(msg)
            try:
                said += self.opened.read_bytes(1)
            except VisaIOError as error:
                if error.error_code != StatusCode.error_timeout:
                    raise
                if self._hung_up():
                    msg = "the meter hung up"
                    raise InstrumentFault(msg) from error
        return bytes(said)

    def _hung_up(self) -> bool:
        """Whether the other end of a socket has closed it."""
        line = getattr(self.opened.visalib.sessions.get(self.opened.session), "interface", None)
        if not isinstance(line, socket.socket):
            return False
        try:
            return line.recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) == b""
        except BlockingIOError:
            return False

    def tell(self, message: str) -> None:
        """Send a command that has no reply."""
        self.opened.write(message)


def take_reading(resource: str, probe: Probe, longest: float = LONGEST_S) -> Reading:
    """Return what a meter reads; everything within `longest` seconds.

    Parameters
    ----------
    resource : str
        VISA resource name.
    probe : Probe
        Its names are sent to the stand-in only; with any other meter the leads are in one's hands.
    longest : float
        s.

    Raises
    ------
    BadResource
        For a resource name that is none.
    Silent
        If it does not answer in time.
    InstrumentFault
        If it refuses, hangs up, or its reply is no reading.
    """
    until = time.monotonic() + longest
    name = checked_resource(resource)
    with _held(name, until), _mapped():
        opened = _opened(_near(name, until), until)
        try:
            return _read(_Line(opened, until), probe)
        finally:
            with suppress(Exception):  # it may be gone already; what was read is read
                opened.close()


def _opened(name: str, until: float) -> Any:
    left = max(0.001, until - time.monotonic())
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # backends for other buses warn of what they lack
        try:
            opened = _manager().open_resource(name, open_timeout=int(left * 1000))
        except (VisaIOError, OSError, ValueError):
            raise
        except Exception as error:  # the library's own, bare: such a host has no address
            msg = f"the meter cannot be reached: {str(error)[:120]}"
            raise InstrumentFault(msg) from error
    opened.timeout = max(1, int(left * 1000))
    opened.read_termination = opened.write_termination = "\n"  # type: ignore[attr-defined]
    opened.chunk_size = LONGEST_REPLY  # type: ignore[attr-defined]
    return opened


@contextmanager
def _mapped() -> Iterator[None]:
    """Turn what the library raises into what a person can act on."""
    try:
        yield
    except VisaIOError as error:
        if error.error_code == StatusCode.error_timeout:
            msg = "the meter did not answer in time"
            raise Silent(msg) from error
        msg = "the meter hung up, or is not there"
        raise InstrumentFault(msg) from error
    except OSError as error:
        msg = f"the meter cannot be reached: {error.strerror or error}"
        raise InstrumentFault(msg) from error
    except ValueError as error:
        if isinstance(error, BadResource):
            raise
        msg = f"this kind of connection cannot be opened here: {str(error)[:200]}"
        raise InstrumentFault(msg) from error


def _read(line: _Line, probe: Probe) -> Reading:
    simulated = line.ask("*IDN?").startswith(STAND_IN)
    if simulated:
        quoted = ",".join(f'"{probe_name(name)}"' for name in probe.names)
        line.tell(f"*CLS;:ROUT:PROB {quoted}")
        number, _, words = line.ask("SYST:ERR?").partition(",")
        if number.strip("+") != "0":
            msg = f"the stand-in cannot put its probes there: {words.strip(chr(34))}"
            raise InstrumentFault(msg)
    header = HEADERS[probe.kind]
    wanted = f" {probe.range_full:g}" if probe.range_full is not None else ""
    said = line.ask(f"MEAS:{header}?{wanted}")
    value = _number(said)
    if value is None or abs(value) == NOT_A_NUMBER:
        msg = f"the meter's reply is no reading: “{said[:60]}”"
        raise InstrumentFault(msg)
    full = probe.range_full
    with suppress(InstrumentFault, VisaIOError):  # a meter may not tell its range
        told = _number(line.ask(f"SENS:{header}:RANG?", SHORT_S))
        full = told if told is not None and 0 < told < OVERLOAD else full
    return Reading(None if abs(value) >= OVERLOAD else value, full, simulated)


def _number(text: str) -> float | None:
    if "_" in text:  # which Python reads over
        return None
    try:
        value = float(text)
    except ValueError:
        return None
    return value if math.isfinite(value) else None
