"""Places in the sentence of a need: what each takes, and what it was understood as."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Final

from lowfold.core.errors import DomainError, LowfoldError, NotationError
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, Kind, read, write
from lowfold.core.values.ranges import WIDEST_RANGE

__all__ = [
    "LOW_END",
    "NOTHING",
    "STANDS",
    "LoadToken",
    "Token",
    "TokenReading",
    "UseToken",
    "count",
    "load",
    "optional",
    "quantity",
    "read_tokens",
    "resistive_load",
    "use",
]

#: Reads a token: its value, whose type is the token's own, and how it is shown.
Reader = Callable[[str], tuple[Any, str]]

NOTHING: Final = (
    *("", "none", "nothing", "no", "-", "—", "any", "no limit"),
    *("open", "open circuit", "no load", "unloaded", "infinite", "∞"),
)


@dataclass(frozen=True, slots=True)
class LoadToken:
    """A load as stated: nominal in Ω or A, and the fraction it may deviate by."""

    ohms: float | None
    amps: float | None
    tolerance: float


@dataclass(frozen=True, slots=True)
class UseToken:
    """What drives a resistance: a voltage across it or a current through it."""

    volts: float | None
    amps: float | None


@dataclass(frozen=True, slots=True)
class Token:
    """One place in the sentence."""

    read: Reader
    default: str
    label: str  #: what it is called
    absent: str | None = None  #: text at which the sentence can do without it


@dataclass(frozen=True, slots=True)
class TokenReading:
    """What one token was understood as."""

    text: str
    label: str
    ok: bool
    shown: str  #: in standard notation; empty where not understood
    message: str  #: what is wrong and what would be right; empty where understood
    absent: bool = False  #: states nothing, so that the sentence can do without it
    position: int | None = None  #: of the first character that does not fit, where that is known


def read_tokens(
    tokens: Mapping[str, Token], texts: Mapping[str, str]
) -> tuple[dict[str, Any], dict[str, TokenReading]]:
    """Read every token; one that is not given has its default.

    Returns the values understood and what each token was understood as. It never fails as a
    whole: a token that is wrong says what would be right.

    Parameters
    ----------
    tokens : Mapping[str, Token]
        Tokens by name.
    texts : Mapping[str, str]
        Token to text as typed; one that is not given has its default.
    """
    values: dict[str, Any] = {}
    readings: dict[str, TokenReading] = {}
    for name, token in tokens.items():
        text = texts.get(name, token.default)
        try:
            values[name], shown = token.read(text)
            absent = token.absent is not None and values[name] == token.read(token.absent)[0]
            readings[name] = TokenReading(text, token.label, True, shown, "", absent)
        except LowfoldError as error:
            position = error.position if isinstance(error, NotationError) else None
            readings[name] = TokenReading(
                text, token.label, False, "", error.message, position=position
            )
    return values, readings


def quantity(kind: Kind, low: float, high: float, *, open_low: bool = False) -> Reader:
    """Make a reader of `kind` from `low` to `high`, the low end excluded if `open_low`.

    Parameters
    ----------
    kind : Kind
        What kind of quantity it is.
    low : float
        Least that is taken, in the base unit.
    high : float
        Greatest that is taken, in the base unit.
    open_low : bool
        Whether the lower end itself is refused.
    """

    def reader(text: str) -> tuple[Any, str]:
        value = read(text, kind)
        if not (low < value if open_low else low <= value) or value > high:
            least = f"more than {write(low, kind, 3, trim=True)}" if open_low else ""
            least = least or f"at least {write(low, kind, 3, trim=True)}"
            msg = (
                f"{write(value, kind, 4, trim=True)} does not fit here: it must be {least} and "
                f"at most {write(high, kind, 3, trim=True)}"
            )
            raise DomainError(msg)
        return value, write(value, kind, 6, trim=True)

    return reader


def optional(reader: Reader, nothing: str) -> Reader:
    """Make a reader that also takes `none` and its like, shown as `nothing`.

    Parameters
    ----------
    reader : Reader
        Reads what is there.
    nothing : str
        Shown where nothing is stated.
    """

    def or_nothing(text: str) -> tuple[Any, str]:
        return (None, nothing) if text.strip().lower() in NOTHING else reader(text)

    return or_nothing


def _load(text: str, *, resistive: bool) -> tuple[Any, str]:
    nominal, _, around = text.replace("+/-", "±").partition("±")
    tolerance = quantity(FRACTION, 0.0, 0.9)(around)[0] if around.strip() else 0.0
    amps = None
    if not resistive and re.search(r"[aA](mps?)?\s*$", nominal.strip()):
        amps = read(nominal, AMPERE)
        if not 0 <= amps <= 1e3:
            msg = f"a load draws from 0 A to 1 kA, got {write(amps, AMPERE)}"
            raise DomainError(msg)
        shown = write(amps, AMPERE, 6, trim=True)
        found = LoadToken(None, amps, tolerance)
    else:
        try:
            ohms = read(nominal, OHM)
        except LowfoldError as error:
            if resistive:
                raise
            msg = f"{error.message}; a load is a resistance (200k) or a current (20 µA)"
            raise DomainError(msg) from error
        if not WIDEST_RANGE[0] <= ohms <= 1e12:
            msg = f"a load lies between 1 mΩ and 1000 GΩ, got {write(ohms, OHM)}"
            raise DomainError(msg)
        shown = write(ohms, OHM, 6, trim=True)
        found = LoadToken(ohms, None, tolerance)
    return found, f"{shown} ± {write(tolerance, FRACTION, 4, trim=True)}" if tolerance else shown


def use(text: str) -> tuple[Any, str]:
    """Read what drives a resistance: the current through it or the voltage across it.

    Parameters
    ----------
    text : str
        As typed.

    Raises
    ------
    DomainError
        For what is neither a voltage nor a current.
    """
    if re.search(r"[aA](mps?)?\s*$", text.strip()):
        amps, shown = quantity(AMPERE, 0.0, 1e3, open_low=True)(text)
        return UseToken(None, amps), shown
    try:
        volts, shown = quantity(VOLT, 0.0, 1e5, open_low=True)(text)
    except LowfoldError as error:
        msg = (
            f"{error.message}; write the current through it (20 mA) or the voltage across it (5 V)"
        )
        raise DomainError(msg) from error
    return UseToken(volts, None), shown


def load(text: str) -> tuple[Any, str]:
    """Read a load at a tap: a resistance or a current, with its range (`200k ± 10 %`).

    Parameters
    ----------
    text : str
        As typed.
    """
    return _load(text, resistive=False)


def resistive_load(text: str) -> tuple[Any, str]:
    """Read what lies in parallel: a resistance, with its range.

    Parameters
    ----------
    text : str
        As typed.
    """
    return _load(text, resistive=True)


#: The voltage of the other end of what a supply drives.
LOW_END: Final = Token(quantity(VOLT, -1e5, 1e5), "0 V", "voltage of the low end", "0 V")

#: What is connected at an output or tap stands, for the faults.
STANDS: Final = Token(
    optional(quantity(VOLT, 0.0, 1e5, open_low=True), "anything"),
    "none",
    "what it feeds stands",
    "none",
)


def count(most: int) -> Reader:
    """Make a reader of a number of parts from 1 to `most`.

    Parameters
    ----------
    most : int
        Greatest that is taken.
    """

    def reader(text: str) -> tuple[Any, str]:
        word = text.strip().lower()
        names = {"one": "1", "two": "2", "three": "3", "four": "4", "five": "5", "six": "6"}
        word = names.get(word, word)
        if not re.fullmatch(r"[0-9]{1,3}", word) or not 1 <= int(word) <= most:
            msg = f"“{text.strip()}” is not how many parts: write 1 to {most}"
            raise DomainError(msg)
        return int(word), word

    return reader
