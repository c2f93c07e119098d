"""Places in the sentence of a need: what each takes, and what it was understood as."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Final

from lowfold.core.errors import DomainError, LowfoldError, NotationError
from lowfold.core.values.quantities import AMPERE, VOLT, Kind, read, write

__all__ = [
    "LOW_END",
    "NOTHING",
    "STANDS",
    "STIFF",
    "STIFF_TOKEN",
    "Also",
    "Token",
    "TokenReading",
    "UseToken",
    "count",
    "optional",
    "quantity",
    "read_tokens",
    "use",
]

#: Reads a token: its value, whose type is the token's own, and how it is shown.
Reader = Callable[[str], tuple[Any, str]]

NOTHING: Final = (
    *("", "none", "nothing", "no", "-", "—", "any", "no limit"),
    *("open", "open circuit", "no load", "unloaded", "infinite", "∞"),
)


@dataclass(frozen=True, slots=True)
class Also:
    """A value whose text says what other tokens would: by name, each with how it shows."""

    value: Any
    others: Mapping[str, tuple[Any, str]]


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
    by: str = ""  #: the token whose text says this one too, such as a supply its tolerance


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
    for name in [n for n, value in values.items() if isinstance(value, Also)]:
        _say_also(name, values, readings, texts)
    return values, readings


def _say_also(
    name: str,
    values: dict[str, Any],
    readings: dict[str, TokenReading],
    texts: Mapping[str, str],
) -> None:
    """Put what a token says of others where they are, unless they say it themselves."""
    also: Also = values[name]
    values[name] = also.value
    for other, (value, shown) in also.others.items():
        there = readings.get(other)
        if there is not None and other in texts and not there.absent:
            message = f"the {there.label} is said here and as {there.text}: say it once"
            readings[name] = replace(readings[name], ok=False, shown="", message=message)
            values.pop(name, None)
        elif there is not None:
            values[other] = value
            readings[other] = replace(there, ok=True, shown=shown, message="", by=name)


def quantity(kind: Kind, low: float, high: float, *, open_low: bool = False) -> Reader:
    """Make a reader of `kind` from `low` to `high`, the low end excluded if `open_low`.

    Parameters
    ----------
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


#: The voltage of the other end of what a supply drives.
LOW_END: Final = Token(quantity(VOLT, -1e5, 1e5), "0 V", "voltage of the low end", "0 V")

#: A string that carries so many times what its load draws is stiff (common practice).
STIFF: Final = 10.0
ALWAYS: Final = ("any", "always", "always there", "always connected", "the load is always there")


def stiffness(text: str) -> tuple[Any, str]:
    """Read how many times its load's current a string is to carry; None for any at all.

    Parameters
    ----------
    text : str
        As typed: `10 ×`, `5x`, or `any` where the load is always there.

    Raises
    ------
    DomainError
        For what is no such number.
    """
    word = " ".join(text.lower().split())
    if word in ALWAYS:
        return None, "any"
    found = re.fullmatch(r"([0-9]{1,4}(?:[.,][0-9]{1,3})?)\s*(?:×|x|\*|times)?", word)
    times = float(found[1].replace(",", ".")) if found else 0.0
    if not 1 <= times <= MOST_STIFF:
        msg = (
            f"“{text.strip()[:30]}” is no number of times the load's current: write 10 ×, "
            "or any where the load is always there"
        )
        raise DomainError(msg)
    return times, f"{times:g} ×"


MOST_STIFF: Final = 1000
STIFF_TOKEN: Final = Token(stiffness, "10 ×", "string current over the load's", "10 ×")

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
