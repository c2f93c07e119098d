"""Read a network from text: the notation for series–parallel networks, or a netlist.

`R1=4k7 + @A + (R2=15k || (R3=2k7 + @B + R4=3k9))` is the notation; `R1 in a 4k7`, one part a line,
is a netlist, for networks that do not fold. Both are grammars for the parsing library; what it
refuses is turned into a message with the position of the first character that does not fit.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Final, TypeVar

from lark import Lark, Token, Transformer, UnexpectedInput, UnexpectedToken, v_args
from lark.exceptions import VisitError

from lowfold.core.errors import LowfoldError, NotationError
from lowfold.core.network.tree import (
    OPEN_OHMS,
    Chain,
    Element,
    Group,
    OpenPart,
    Part,
    Switch,
    Tap,
    chain,
    group,
    number_parts,
    part_as_written,
    parts_of,
)
from lowfold.core.values.quantities import OHM, read

__all__ = [
    "LONGEST_TEXT",
    "Netlist",
    "NetlistLine",
    "read_netlist",
    "read_network",
    "read_open",
    "read_text",
]

T = TypeVar("T")

LONGEST_TEXT: Final = 20_000
DEEPEST: Final = 60
MOST_PARTS: Final = 400

GRAMMAR: Final = r"""
start: series
series: item ("+" item)*
?item: tap | parallel
parallel: unit (_PARALLEL unit)*
?unit: part | switch | "(" series ")"
part: [NAME] (VALUE | UNKNOWN)
switch: SWITCH
tap: TAP

_PARALLEL: "||" | "∥" | "//"
UNKNOWN: "?"
TAP: /@\s*[A-Za-z][A-Za-z0-9_]*/
NAME.3: /[A-Za-z]+[0-9]+\s*=/
SWITCH.2: /[Ss][0-9]+(?![A-Za-z0-9.,=])/
VALUE.1: /[RrLl][0-9]+/ | /[0-9.,]+[eE][+-]?[0-9]+/ _UNIT? | _THOUSANDS _UNIT?
    | /[0-9.,][0-9A-Za-z.,µμΩΩ]*/ _UNIT?
_THOUSANDS: /[0-9]{1,3}([ \u00a0\u2009\u202f][0-9]{3})+(?![0-9A-Za-z])/
_UNIT: _MARKED | _SAID | /\s+[kKMG]\b/
_MARKED: /\s*[kKMmGuµμ]?(Ω|Ω|[Oo][Hh][Mm][Ss]?|R\b)/
_SAID: /\s+([kK]il|[Mm]eg)o?a?[Oo][Hh][Mm][Ss]?/
%ignore /\s+/
"""

NETLIST_GRAMMAR: Final = r"""
start: _BREAK* line (_BREAK+ line)* _BREAK*
line: WORD WORD WORD [VALUE]
WORD.2: /[A-Za-z0-9_]+/
VALUE.1: /[0-9A-Za-z.,?][^\n;]*/
_BREAK: /[\r\n;]+/
%ignore /[ \t\u00a0]+/
"""

NO_UNKNOWN: Final = "“?” is a value to be found; here every part has its own: write it like 4k7"

#: Designators of what is no resistor (IEC 60617 and IEEE Std 315 practice, from memory).
OTHERS: Final[dict[str, str]] = {
    "C": "a capacitor, which carries no direct current: leave the line out",
    "I": "a current source: what a junction feeds is stated among the loads",
    "V": "a voltage source: the supply is stated in its own place, between “in” and “0”",
}

EXPECTED: Final[dict[str, str]] = {
    "VALUE": "a value such as 4k7",
    "NAME": "a named part such as R1=4k7",
    "SWITCH": "a switch such as S1",
    "TAP": "a tap such as @OUT",
    "LPAR": "(",
    "RPAR": ")",
    "PLUS": "+",
    "_PARALLEL": "||",
    "$END": "the end",
}


@dataclass(frozen=True, slots=True)
class NetlistLine:
    """One part or switch between two nodes; `ohms` is None for a switch."""

    ref: str
    a: str
    b: str
    ohms: float | None


@dataclass(frozen=True, slots=True)
class Netlist:
    """Parts between named nodes; `in` and `0` are the supply's ends."""

    lines: tuple[NetlistLine, ...]


class _RefusedError(LowfoldError):
    """A token that parses but means nothing, on its way out of the parsing library."""

    def __init__(self, message: str, position: int) -> None:
        super().__init__(message)
        self.position = position


def _value(token: Token) -> float:
    try:
        return read(str(token), OHM)
    except LowfoldError as error:
        raise _RefusedError(error.message, token.start_pos or 0) from error


@v_args(inline=True)
class _ToNetwork(Transformer[Token, Element]):
    """Builds the tree; where a value may be open, notes each that is written `?`."""

    def __init__(self, *, open_values: bool = False) -> None:
        super().__init__()
        self.open_values = open_values

    def start(self, whole: Element) -> Element:
        return whole

    def series(self, *items: Element | Tap) -> Element:
        return chain(items)

    def parallel(self, *branches: Element) -> Element:
        return group(branches)

    def part(self, name: Token | None, value: Token) -> Part:
        if name is None and re.fullmatch(r"[Rr][0-9]", value):
            msg = (
                f"“{value}” alone could be a name or 0.{value[1]} Ω: write {value}=4k7, or 0{value}"
            )
            raise _RefusedError(msg, value.start_pos or 0)
        ref = "" if name is None else str(name).rstrip("=").strip()
        if value.type == "UNKNOWN":
            if not self.open_values:
                raise _RefusedError(NO_UNKNOWN, value.start_pos or 0)
            return OpenPart(ref=ref)
        ohms = _value(value)
        try:
            return part_as_written(ohms, ref)
        except LowfoldError as error:
            raise _RefusedError(error.message, value.start_pos or 0) from error

    def switch(self, token: Token) -> Switch:
        return Switch(str(token))

    def tap(self, token: Token) -> Tap:
        return Tap(str(token)[1:].strip())


@cache
def _parser(grammar: str) -> Lark:
    """Return the parser of a grammar, made when something is first read with it."""
    return Lark(grammar, parser="lalr", maybe_placeholders=True)


@lru_cache(maxsize=256)
def read_text(text: str) -> Element | Netlist:
    """Read either form: a netlist where every line is one, otherwise the notation.

    Parameters
    ----------
    text : str
        As typed.
    """
    return read_netlist(text) if _is_netlist(text) else read_network(text)


def _is_netlist(text: str) -> bool:
    lines = [line for line in re.split(r"[\r\n;]+", text) if line.strip()]
    return bool(lines) and all(re.match(r"\s*\w+[ \t]+\w+[ \t]+\w", line) for line in lines)


def read_network(text: str) -> Element:
    """Read the series–parallel notation; unnamed parts are numbered R1, R2 … left to right.

    Parameters
    ----------
    text : str
        As typed.

    Raises
    ------
    NotationError
        With the position of the first character that does not fit and what would.
    """
    return _network(text)


def _network(text: str, *, open_values: bool = False) -> Element:
    _check_size(text)
    depth = 0
    for position, letter in enumerate(text):
        depth += (letter == "(") - (letter == ")")
        if depth > DEEPEST:
            msg = f"brackets are nested deeper than {DEEPEST}"
            raise NotationError(msg, position=position, field="network")
    network = _run(_parser(GRAMMAR), text, _ToNetwork(open_values=open_values))
    assert isinstance(network, Part | Switch | Chain | Group)  # the grammar's only results
    _check_names(network, text)
    return number_parts(network)


def read_open(text: str) -> tuple[Element | Netlist, str]:
    """Read a network with one value written `?`; return it, and the designator of that part.

    Parameters
    ----------
    text : str
        As typed.

    Raises
    ------
    NotationError
        If there is not exactly one `?`, or the rest cannot be read.
    """
    places = [m.start() for m in re.finditer(r"\?", text)]
    if len(places) != 1:
        there = "is no “?”" if not places else f"are {len(places)} “?”"
        msg = f"there {there} in the network: write one for the value to be found"
        position = places[1] if len(places) > 1 else len(text)
        raise NotationError(msg, position=position, field="network")
    around = text[max(places[0] - 1, 0) : places[0]] + text[places[0] + 1 : places[0] + 2]
    if re.search(r"[\w.,@]", around):
        msg = "“?” stands for a whole value: write it alone, like R1=?"
        raise NotationError(msg, position=places[0], field="network")
    if _is_netlist(text):
        lines = _netlist(text, open_values=True)
        ref = next((line.ref for line in lines if line.ohms == OPEN_OHMS), "")
        found: Element | Netlist = Netlist(lines)
    else:
        found = _network(text, open_values=True)
        ref = next((p.ref for p in parts_of(found) if isinstance(p, OpenPart)), "")
    if not ref:
        msg = "“?” stands for a value here: write it for one, like R1=?"
        raise NotationError(msg, position=places[0], field="network")
    return found, ref


def read_netlist(text: str) -> Netlist:
    """Read a netlist, one part a line: name, two nodes, value; a switch has no value.

    Parameters
    ----------
    text : str
        As typed.

    Raises
    ------
    NotationError
        With the position of the first character that does not fit and what would.
    """
    return Netlist(_netlist(text))


def _netlist(text: str, *, open_values: bool = False) -> tuple[NetlistLine, ...]:
    _check_size(text)
    lines: list[NetlistLine] = []
    seen: set[str] = set()
    for name, a, b, value in _run(_parser(NETLIST_GRAMMAR), text, _ToLines()):
        at = name.start_pos or 0
        ref = str(name)
        if ref.casefold() in seen:
            msg = f"{ref} stands twice: give each part a name of its own"
            raise NotationError(msg, position=at, field="network")
        seen.add(ref.casefold())
        if value is None and not re.fullmatch(r"[Ss][0-9]+", ref):
            msg = f"{ref} has no value: write “{ref} {a} {b} 4k7” (only S1, S2 … are switches)"
            raise NotationError(msg, position=at, field="network")
        if refused := OTHERS.get(ref.rstrip("0123456789").upper()):
            msg = f"{ref} would be {refused}"
            raise NotationError(msg, position=at, field="network")
        if value is not None and str(value).strip() == "?":
            if not open_values:
                position = value.start_pos or 0
                raise NotationError(NO_UNKNOWN, position=position, field="network")
            lines.append(NetlistLine(ref, str(a), str(b), OPEN_OHMS))
            continue
        try:
            ohms = None if value is None else part_as_written(_value(value), ref).ohms
        except LowfoldError as error:
            raise NotationError(error.message, position=at, field="network") from error
        lines.append(NetlistLine(ref, str(a), str(b), ohms))
    if len(lines) > MOST_PARTS:
        msg = f"{len(lines)} parts are more than the {MOST_PARTS} a network may have"
        raise NotationError(msg, position=0, field="network")
    return tuple(lines)


@v_args(inline=True)
class _ToLines(Transformer[Token, list[tuple[Token, Token, Token, Token | None]]]):
    def start(self, *lines: tuple[Token, ...]) -> list[tuple[Token, ...]]:
        return list(lines)

    def line(self, *words: Token) -> tuple[Token, ...]:
        return words


def _check_size(text: str) -> None:
    if not text.strip():
        msg = "nothing is written: a network is wanted, for instance R1=200k + @OUT + R2=56k"
        raise NotationError(msg, position=0, field="network")
    if len(text) > LONGEST_TEXT:
        msg = f"{len(text)} characters are more than the {LONGEST_TEXT} a network may have"
        raise NotationError(msg, position=LONGEST_TEXT, field="network")


def _check_names(network: Element, text: str) -> None:
    seen: set[str] = set()
    items = list(parts_of(network))
    if len(items) > MOST_PARTS:
        msg = f"{len(items)} parts are more than the {MOST_PARTS} a network may have"
        raise NotationError(msg, position=0, field="network")
    for item in items:
        name = f"@{item.name}" if isinstance(item, Tap) else item.ref
        if not name:
            continue
        if name.casefold() in seen:
            msg = f"{name} stands twice: give each part and each tap a name of its own"
            position = text.casefold().rfind(name.casefold())
            raise NotationError(msg, position=max(position, 0), field="network")
        seen.add(name.casefold())


def _run(parser: Lark, text: str, transformer: Transformer[Token, T]) -> T:
    """Parse and transform, turning the library's refusals into `NotationError`."""
    try:
        return transformer.transform(parser.parse(text))
    except UnexpectedInput as error:
        position = error.pos_in_stream if error.pos_in_stream is not None else len(text)
        ended = isinstance(error, UnexpectedToken) and error.token.type == "$END"
        position = len(text) if ended else min(position, len(text))
        wanted = getattr(error, "expected", None) or getattr(error, "allowed", None)
        names = sorted(
            {EXPECTED[w] for w in wanted or () if w in EXPECTED}, key=lambda n: (-len(n), n)
        )
        before = text[:position]
        if before.count("(") <= before.count(")"):  # the parser's states share their brackets
            names = [n for n in names if n != ")"]
        found = "the text ends" if ended else f"“{text[position : position + 12]}” does not fit"
        right = f"; right would be {' or '.join(names)}" if names else ""
        msg = f"{found} at character {position + 1}{right}"
        raise NotationError(msg, position=position, field="network") from error
    except VisitError as error:
        inner = error.orig_exc
        if not isinstance(inner, LowfoldError):
            raise
        position = getattr(inner, "position", 0)
        raise NotationError(inner.message, position=position, field="network") from inner
