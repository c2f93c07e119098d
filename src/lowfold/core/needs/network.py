"""A network the user already has: its text, what drives and loads it, and how it stands."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Final

from lowfold.core.circuit import Circuit, build_circuit, switch_refs
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.needs.tokens import NOTHING, Token, TokenReading, quantity, read_tokens
from lowfold.core.network import Element, write_network
from lowfold.core.notation import Netlist, read_text
from lowfold.core.quantities import AMPERE, OHM, VOLT, write, write_code
from lowfold.core.sheet import Standing
from lowfold.core.solve import Load, solve

__all__ = [
    "NETWORK_TOKENS",
    "StatedNetwork",
    "network_standing",
    "read_stated",
    "variants_of",
]


@dataclass(frozen=True, slots=True)
class StatedLoad:
    """A load by the name of its junction."""

    at: str
    ohms: float | None
    amps: float | None


@dataclass(frozen=True, slots=True)
class StatedNetwork:
    """A network as understood."""

    network: Element | Netlist
    circuit: Circuit
    supply_volts: float
    source_ohms: float
    loads: tuple[Load, ...]
    load_taps: tuple[str, ...]
    closed: tuple[str, ...]


def _network(text: str) -> tuple[Any, str]:
    network = read_text(text)
    if isinstance(network, Netlist):
        return network, f"{len(network.lines)} parts, as a netlist"
    return network, write_network(network)


def _loads(text: str) -> tuple[Any, str]:
    if text.strip().lower() in NOTHING:
        return (), "nothing"
    found, shown = [], []
    for piece in re.split(r"[,;\n]+", text):
        words = piece.replace("@", " ").split(None, 1)
        if len(words) != 2:
            msg = f"“{piece.strip()}” is no load: write a junction and what it feeds, like OUT 10k"
            raise DomainError(msg)
        at, value = words
        if re.search(r"[aA](mps?)?\s*$", value):
            amps, words_shown = quantity(AMPERE, 0.0, 1e3)(value)
            found.append(StatedLoad(at, None, amps))
        else:
            ohms, words_shown = quantity(OHM, 1e-6, 1e12)(value)
            found.append(StatedLoad(at, ohms, None))
        shown.append(f"{at} {words_shown}")
    return tuple(found), ", ".join(shown)


def _switches(text: str) -> tuple[Any, str]:
    if text.strip().lower() in NOTHING:
        return (), "none"
    names = tuple(text.replace(",", " ").split())
    return names, ", ".join(names)


NETWORK_TOKENS: Final[dict[str, Token]] = {
    "network": Token(_network, "R1=6k8 + @A + (R2=12k || (R3=1k + @B + R4=2k2))", "network"),
    "supply_v": Token(quantity(VOLT, -1e5, 1e5), "15 V", "supply voltage"),
    "source_ohm": Token(quantity(OHM, 0.0, 1e9), "0 Ω", "resistance inside the supply", "0 Ω"),
    "loads": Token(_loads, "none", "loads at junctions", "none"),
    "closed": Token(_switches, "none", "closed switches", "none"),
}


def read_stated(
    texts: Mapping[str, str],
) -> tuple[dict[str, TokenReading], StatedNetwork | None]:
    """Read a stated network token by token; None while one is not understood."""
    values, readings = read_tokens(NETWORK_TOKENS, texts)
    network = values.get("network")
    if network is None:
        return readings, None
    circuit: Circuit | None = None
    loads: tuple[Load, ...] = ()
    try:
        circuit = build_circuit(network, values.get("closed", ()))
    except LowfoldError as error:
        wrong = "closed" if error.field == "switches" else "network"
        readings[wrong] = replace(readings[wrong], ok=False, shown="", message=error.message)
    if circuit is not None:
        try:
            loads = tuple(
                Load(circuit.node(x.at, field="loads"), x.ohms, x.amps)
                for x in values.get("loads", ())
            )
        except LowfoldError as error:
            readings["loads"] = replace(
                readings["loads"], ok=False, shown="", message=error.message
            )
    if circuit is None or not all(r.ok for r in readings.values()):
        return readings, None
    stated = StatedNetwork(
        network,
        circuit,
        values["supply_v"],
        values["source_ohm"],
        loads,
        tuple(x.at for x in values["loads"]),
        tuple(values["closed"]),
    )
    try:
        solve(circuit, stated.supply_volts, stated.source_ohms, loads)
    except LowfoldError as error:
        readings["loads"] = replace(readings["loads"], ok=False, shown="", message=error.message)
        return readings, None
    return readings, stated


def variants_of(stated: StatedNetwork, texts: Mapping[str, str]) -> dict[str, dict[str, str]]:
    """Return the same network in other states, in words, as briefs to be set beside it.

    A switch thrown, nothing connected, and the same parts all in series or all in parallel.
    """
    found: dict[str, dict[str, str]] = {}
    shut = {name.casefold() for name in stated.closed}
    for ref in switch_refs(stated.network):
        closed = ref.casefold() in shut
        others = [s for s in stated.closed if s.casefold() != ref.casefold()]
        thrown = others if closed else [*others, ref]
        words = f"with {ref} {'open' if closed else 'closed'}"
        found[words] = {**texts, "closed": " ".join(thrown) or "none"}
    if stated.loads:
        found["without loads"] = {**texts, "loads": "none"}
    parts = [f"{b.ref}={write_code(b.ohms)}" for b in stated.circuit.branches]
    if len(parts) > 1:
        bare = {**texts, "loads": "none", "closed": "none"}
        found["all its parts in series"] = {**bare, "network": " + ".join(parts)}
        found["all its parts in parallel"] = {**bare, "network": " || ".join(parts)}
    return found


def network_standing(texts: Mapping[str, str]) -> Standing:
    """Say in one line what a stated network is and folds to."""
    readings, stated = read_stated(texts)
    shown = readings["network"].shown or readings["network"].text
    need = f"{shown[:40]}…" if len(shown) > 41 else shown
    if stated is None:
        wrong = next((r.label for r in readings.values() if not r.ok), "network")
        return Standing(None, f"not understood: {wrong}", need, "")
    found = solve(stated.circuit, stated.supply_volts, stated.source_ohms, stated.loads)
    finite = found.total_ohms < 1e300
    figure = write(found.total_ohms, OHM, 4, trim=True) if finite else "open"
    return Standing(
        None,
        f"draws {write(found.supply_amps, AMPERE, 4)} from "
        f"{write(stated.supply_volts, VOLT, 4, trim=True)}",
        need,
        figure,
    )
