"""A design as kept, read and weighed: what it needs, what was chosen, how that stands."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal, TypeAlias

from lowfold.core.errors import LowfoldError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.kinds import KINDS, BriefKind, read_brief, weigh
from lowfold.core.needs.network import StatedNetwork, read_stated
from lowfold.core.needs.sensor import as_network, leg_chosen, read_sensor
from lowfold.core.network.editing import write_netlist
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element, write_network
from lowfold.core.parts.families import Family
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.sheet.sheet import series_parallel
from lowfold.core.tokens.reading import TokenReading
from lowfold.core.values.counting import counted
from lowfold.core.weighing.choice import Judged

__all__ = ["DesignKind", "Statement", "read_statement"]

DesignKind: TypeAlias = BriefKind | Literal["network", "sensor", "board"]


@dataclass(frozen=True, slots=True)
class Statement:
    """A design as far as it can be read."""

    tokens: Mapping[str, TokenReading]
    said: tuple[str, ...]  #: tokens that say the need in short, in order
    stated: StatedNetwork | Brief | None
    network: Element | Netlist | None  #: chosen, or stated
    judged: Judged | None
    wrong: str  #: why it is not weighed; empty where it is

    @property
    def notation(self) -> str:
        """Return the network as it is written; empty where there is none."""
        if self.network is None:
            return ""
        if isinstance(self.network, Netlist):
            return write_netlist(self.network)
        return write_network(self.network)


def read_statement(
    kind: DesignKind,
    texts: Mapping[str, str],
    choice: str | None,
    families: tuple[Family, ...] = (),
    drawer: tuple[DrawerLine, ...] = (),
) -> Statement:
    """Read a design; what is wrong with it is told, not raised.

    Parameters
    ----------
    texts : mapping of str to str
        Its brief, by token.
    choice : str or None
        The network chosen, in the notation.
    families : tuple of Family
        The user's own.
    drawer : tuple of DrawerLine
        The user's own stock, where a sensor's resistor is chosen from it.
    """
    if kind == "network":
        return _read_network(texts, families)
    if kind == "sensor":
        return _read_sensor(texts, choice, families, drawer)
    if kind == "board":
        return _read_board(texts)
    return _read_brief(kind, texts, choice, families)


def _read_brief(
    kind: BriefKind, texts: Mapping[str, str], choice: str | None, families: tuple[Family, ...]
) -> Statement:
    reading, said = read_brief(kind, texts, families), tuple(KINDS[kind].said)
    if not choice:
        wrong = _not_understood(reading.tokens) if reading.need is None else "nothing is chosen yet"
        return Statement(reading.tokens, said, reading.need, None, None, wrong)
    try:
        network = series_parallel(choice)
        if reading.need is None:
            wrong = _not_understood(reading.tokens)
            return Statement(reading.tokens, said, None, network, None, wrong)
        judged = weigh(reading.need, network).judged
    except LowfoldError as error:
        return Statement(reading.tokens, said, reading.need, None, None, error.message)
    return Statement(reading.tokens, said, reading.need, network, judged, "")


def _read_network(texts: Mapping[str, str], families: tuple[Family, ...]) -> Statement:
    tokens, stated = read_stated(texts, families)
    if stated is None:
        return Statement(tokens, ("network",), None, None, None, _not_understood(tokens))
    try:
        judged = stated.weighed()
    except LowfoldError as error:
        return Statement(tokens, ("network",), stated, stated.network, None, error.message)
    return Statement(tokens, ("network",), stated, stated.network, judged, "")


def _read_sensor(
    texts: Mapping[str, str],
    choice: str | None,
    families: tuple[Family, ...],
    drawer: tuple[DrawerLine, ...],
) -> Statement:
    tokens, brief = read_sensor(texts, drawer)
    if brief is None or not choice:
        wrong = _not_understood(tokens) if brief is None else "nothing is chosen yet"
        return Statement(tokens, ("sensor",), None, None, None, wrong)
    try:
        network = as_network(brief, leg_chosen(brief, choice))
    except LowfoldError as error:
        return Statement(tokens, ("sensor",), None, None, None, error.message)
    found = _read_network(network, families)
    return replace(found, tokens=tokens, said=("sensor",))


def _read_board(texts: Mapping[str, str]) -> Statement:
    text = texts.get("needs", "")
    lines = [line for line in text.splitlines() if line.strip()]
    needs = TokenReading(text, "needs", True, counted(len(lines), "need"), "")
    wrong = "a board is built need by need: keep its lines as designs"
    return Statement({"needs": needs}, ("needs",), None, None, None, wrong)


def _not_understood(tokens: Mapping[str, TokenReading]) -> str:
    wrong = next((t.label for t in tokens.values() if not t.ok), "the need")
    return f"not understood: {wrong}"
