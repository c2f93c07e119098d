"""The bench meter of the stand-in: what each command does, for one client.

`MEASure`, `CONFigure`, `READ`, `FETCh` and `SENSe` are those of the DC voltmeter, ammeter and
ohmmeter of SCPI-99 volume 3; the common commands are IEEE 488.2's (both from memory). `ROUTe:PROBe`
is the stand-in's own: it moves the probes.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Final

import lowfold
from lowfold.core.bench.built_board import Reading
from lowfold.core.bench.models import Measured, MeterModel, Range
from lowfold.core.bench.points import Kind
from lowfold.core.errors import LowfoldError
from lowfold.sim.board import Board, NotBetweenThem
from lowfold.sim.scpi import ErrorQueue, ScpiError, Unit, number, pattern, units

__all__ = ["IDENTITY", "OVERLOAD", "Session"]

#: Four fields (IEEE 488.2, 10.14): maker, model, serial number, version.
IDENTITY: Final = f"Lowfold,stand-in,0,{lowfold.__version__}"
OVERLOAD: Final = "9.9E37"
#: What SCPI calls what is measured, and its unit in parameters.
FUNCTIONS: Final[dict[str, tuple[Kind, Measured, str]]] = {
    "VOLT": ("voltage", "volts", "V"),
    "CURR": ("current", "amps", "A"),
    "RES": ("resistance", "ohms", "OHM"),
}
#: Bits of the standard event status register (IEEE 488.2, 11.5.1).
COMPLETE, EXECUTION, COMMAND, POWER_ON = 1, 16, 32, 128
AT_FIRST: Final = ("in", "0")  #: where the probes lie after a reset

_OF: Final = "{VOLTage[:DC]|CURRent[:DC]|RESistance}"
Handler = Callable[["Session", str, tuple[str, ...]], str | None]
_TABLE: list[tuple[re.Pattern[str], bool, Handler]] = []


def _spelled(header: str) -> list[str]:
    """Return a header once for each function that it can be about."""
    if _OF not in header:
        return [header]
    every = ("VOLTage[:DC]", "CURRent[:DC]", "RESistance")
    return [header.replace(_OF, each) for each in every]


def _on(*headers: str) -> Callable[[Handler], Handler]:
    """Register what carries out some headers; those ending in `?` are queries."""

    def register(handler: Handler) -> Handler:
        for header in headers:
            shapes = map(pattern, _spelled(header.removesuffix("?")))
            _TABLE.extend((shape, header.endswith("?"), handler) for shape in shapes)
        return handler

    return register


class Session:
    """One client's meter: the board and the probes' names are its own, nothing is shared."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.errors = ErrorQueue()
        self.events = POWER_ON
        self.enabled = {"*ESE": 0, "*SRE": 0}
        self.reset()

    def reset(self) -> None:
        """Set what is measured, and where, as after switching on."""
        self.function = "VOLT"
        self.fixed: dict[str, Range | None] = dict.fromkeys(FUNCTIONS)
        self.probes: tuple[str, ...] = AT_FIRST
        self.last: Reading | None = None

    def answer(self, line: str) -> str | None:
        """Carry out a program message; return what its queries answer, None where there is none.

        Parameters
        ----------
        line : str
            Without its terminator.
        """
        replies = []
        for unit in units(line):
            try:
                if isinstance(unit, ScpiError):
                    raise unit
                reply = self._carry_out(unit)
            except ScpiError as error:
                self.complain(error)
                break
            if reply is not None:
                replies.append(reply)
        return ";".join(replies) if replies else None

    def complain(self, error: ScpiError) -> None:
        """Queue an error, and set its class's bit."""
        self.errors.put(error)
        self.events |= COMMAND if -200 < error.number <= -100 else EXECUTION

    def _carry_out(self, unit: Unit) -> str | None:
        for shape, query, handler in _TABLE:
            if query == unit.query and shape.fullmatch(unit.header):
                return handler(self, unit.header, unit.parameters)
        raise ScpiError(-113, unit.header[:60])

    @property
    def model(self) -> MeterModel:
        return self.board.model

    @property
    def status(self) -> int:
        """Return the status byte: errors queued, event summary, request for service."""
        found = 4 if len(self.errors) else 0
        if self.events & self.enabled["*ESE"]:
            found |= 32
        return found | (64 if found & self.enabled["*SRE"] else 0)

    def ranges(self, function: str) -> list[Range]:
        """Return the ranges of a function, rising."""
        every: tuple[Range, ...] = getattr(self.model, FUNCTIONS[function][1])
        return sorted(every, key=lambda r: r.full)

    def configure(self, function: str, parameters: tuple[str, ...]) -> None:
        """Set what is measured, and on which range."""
        if len(parameters) > 2:
            raise ScpiError(-108)
        fixed = self.range_of(function, parameters[0]) if parameters else None
        if len(parameters) == 2 and parameters[1].upper() not in _NAMED:
            number(parameters[1], FUNCTIONS[function][2])
        self.function, self.fixed[function], self.last = function, fixed, None

    def range_of(self, function: str, text: str) -> Range | None:
        """Return the smallest range that includes a value; None for the meter's own choice."""
        ranges = self.ranges(function)
        word = text.upper()
        if word in {"AUTO", "DEF", "DEFAULT"}:
            return None
        if word in {"MIN", "MINIMUM"}:
            return ranges[0]
        if word in {"MAX", "MAXIMUM"}:
            return ranges[-1]
        value = abs(number(text, FUNCTIONS[function][2]))
        found = next((r for r in ranges if r.full >= value * (1 - 1e-12)), None)
        if found is None:
            raise ScpiError(-222, f"the largest range is {ranges[-1].full:g}")
        return found

    def current_range(self, function: str) -> Range:
        """Return the range that is set, or that the last reading was on."""
        fixed = self.fixed[function]
        if fixed is not None:
            return fixed
        if self.last is not None and self.function == function:
            return self.last.range
        return self.ranges(function)[-1]

    def measure(self) -> str:
        """Take a reading."""
        kind, fixed = FUNCTIONS[self.function][0], self.fixed[self.function]
        try:
            point = self.board.point(kind, self.probes)
            self.last = self.board.read(point, fixed.full if fixed else None)
        except NotBetweenThem as error:
            raise ScpiError(-221, error.message) from error
        except LowfoldError as error:
            raise ScpiError(-200, error.message) from error
        return self.fetch()

    def fetch(self) -> str:
        """Return the reading taken last."""
        if self.last is None:
            raise ScpiError(-230)
        return OVERLOAD if self.last.value is None else f"{self.last.value:+.8E}"


_NAMED: Final = {"AUTO", "DEF", "DEFAULT", "MIN", "MINIMUM", "MAX", "MAXIMUM"}


def _function_of(header: str) -> str:
    return next(name for name in FUNCTIONS if re.search(rf"(^|:){name}", header))


def _none(parameters: tuple[str, ...]) -> None:
    if parameters:
        raise ScpiError(-108, parameters[0][:40])


def _quoted(text: str) -> str:
    if len(text) < 2 or text[0] not in "\"'" or text[-1] != text[0]:
        raise ScpiError(-104, "a name stands in quotes")
    if not text[1:-1].strip():
        raise ScpiError(-151)
    return text[1:-1].strip()


@_on("*IDN?")
def _identity(_session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return IDENTITY


@_on("*RST")
def _reset(session: Session, _header: str, parameters: tuple[str, ...]) -> None:
    _none(parameters)
    session.reset()


@_on("*CLS")
def _clear(session: Session, _header: str, parameters: tuple[str, ...]) -> None:
    _none(parameters)
    session.errors.clear()
    session.events = 0


@_on("*ESR?")
def _events(session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    found, session.events = session.events, 0
    return str(found)


@_on("*ESE", "*SRE")
def _enable(session: Session, header: str, parameters: tuple[str, ...]) -> None:
    if len(parameters) != 1:
        raise ScpiError(-109 if not parameters else -108)
    value = number(parameters[0], "")
    if not 0 <= value <= 255:
        raise ScpiError(-222, parameters[0][:40])
    session.enabled[header] = round(value)


@_on("*ESE?", "*SRE?")
def _enabled(session: Session, header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return str(session.enabled[header])


@_on("*STB?")
def _status(session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return str(session.status)


@_on("*OPC")
def _complete(session: Session, _header: str, parameters: tuple[str, ...]) -> None:
    _none(parameters)
    session.events |= COMPLETE


@_on("*OPC?")
def _completed(_session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return "1"


@_on("*TST?")
def _tested(_session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return "0"


@_on("*WAI", "INITiate[:IMMediate]", "ABORt")
def _at_once(session: Session, header: str, parameters: tuple[str, ...]) -> None:
    _none(parameters)
    if header.startswith("INIT"):
        session.measure()


@_on("SYSTem:ERRor[:NEXT]?")
def _error(session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return session.errors.take().shown


@_on("SYSTem:ERRor:COUNt?")
def _error_count(session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return str(len(session.errors))


@_on("SYSTem:VERSion?")
def _version(_session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return "1999.0"


@_on(f"CONFigure[:SCALar]:{_OF}")
def _configure(session: Session, header: str, parameters: tuple[str, ...]) -> None:
    session.configure(_function_of(header), parameters)


@_on("CONFigure?")
def _configured(session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    chosen = session.current_range(session.function)
    return f'"{session.function} {chosen.full:+.8E},{chosen.resolution:+.8E}"'


@_on(f"MEASure[:SCALar]:{_OF}?")
def _measure(session: Session, header: str, parameters: tuple[str, ...]) -> str:
    session.configure(_function_of(header), parameters)
    return session.measure()


@_on("READ?")
def _read(session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return session.measure()


@_on("FETCh?")
def _fetch(session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return session.fetch()


@_on("[SENSe:]FUNCtion[:ON]")
def _set_function(session: Session, _header: str, parameters: tuple[str, ...]) -> None:
    if len(parameters) != 1:
        raise ScpiError(-109 if not parameters else -108)
    name = _quoted(parameters[0])
    for spelled in _spelled(_OF):
        if pattern(spelled).fullmatch(name.upper()):
            session.function, session.last = _function_of(name.upper()), None
            return
    raise ScpiError(-224, name[:40])


@_on("[SENSe:]FUNCtion[:ON]?")
def _get_function(session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return f'"{session.function}"'


@_on(f"[SENSe:]{_OF}:RANGe[:UPPer]")
def _set_range(session: Session, header: str, parameters: tuple[str, ...]) -> None:
    if len(parameters) != 1:
        raise ScpiError(-109 if not parameters else -108)
    function = _function_of(header)
    session.fixed[function] = session.range_of(function, parameters[0])


@_on(f"[SENSe:]{_OF}:RANGe[:UPPer]?")
def _get_range(session: Session, header: str, parameters: tuple[str, ...]) -> str:
    function = _function_of(header)
    if not parameters:
        return f"{session.current_range(function).full:+.8E}"
    if len(parameters) > 1 or parameters[0].upper() not in _NAMED:
        raise ScpiError(-224, parameters[0][:40])
    chosen = session.range_of(function, parameters[0]) or session.ranges(function)[-1]
    return f"{chosen.full:+.8E}"


@_on(f"[SENSe:]{_OF}:RANGe:AUTO")
def _set_auto(session: Session, header: str, parameters: tuple[str, ...]) -> None:
    if len(parameters) != 1:
        raise ScpiError(-109 if not parameters else -108)
    function, word = _function_of(header), parameters[0].upper()
    if word not in {"ON", "OFF", "1", "0"}:
        raise ScpiError(-224, word[:40])
    chosen = session.current_range(function)
    session.fixed[function] = None if word in {"ON", "1"} else chosen


@_on(f"[SENSe:]{_OF}:RANGe:AUTO?")
def _get_auto(session: Session, header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return "1" if session.fixed[_function_of(header)] is None else "0"


@_on("ROUTe:PROBe")
def _set_probes(session: Session, _header: str, parameters: tuple[str, ...]) -> None:
    if not 1 <= len(parameters) <= 2:
        raise ScpiError(-109 if not parameters else -108)
    names = tuple(_quoted(text) for text in parameters)
    kind: Kind = "voltage"
    if len(names) == 1 and names[0].casefold() == "supply":
        kind = "current"
    try:
        session.board.point(kind, names)
    except LowfoldError as error:
        raise ScpiError(-224, error.message) from error
    session.probes, session.last = names, None


@_on("ROUTe:PROBe?")
def _get_probes(session: Session, _header: str, parameters: tuple[str, ...]) -> str:
    _none(parameters)
    return ",".join(f'"{name}"' for name in session.probes)
