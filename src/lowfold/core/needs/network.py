"""A network the user already has: its text, what drives and loads it, and how it stands."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Final

from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.network.circuit import Circuit, build_circuit, lifted, switch_refs
from lowfold.core.network.editing import with_source
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element, write_network
from lowfold.core.parts.families import TYPICAL, Family
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tokens.loads import LoadToken, load
from lowfold.core.tokens.parts import (
    PARTS,
    Parts,
    family_figures,
    family_tokens,
    part_misfits,
    parts_of_values,
)
from lowfold.core.tokens.reading import (
    LOW_END,
    NOTHING,
    STANDS,
    STIFF_TOKEN,
    Token,
    TokenReading,
    optional,
    quantity,
    read_tokens,
)
from lowfold.core.tokens.windows import spread
from lowfold.core.tolerance.box import LoadRange, Supply
from lowfold.core.values.counting import counted
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, write_code
from lowfold.core.values.ranges import DEFAULT_RANGE
from lowfold.core.weighing.choice import Judged
from lowfold.core.weighing.conditions import Conditions, Wanted, load_range
from lowfold.core.weighing.weighing import weigh_networks

__all__ = [
    "NETWORK_TOKENS",
    "StatedNetwork",
    "read_stated",
    "variants_of",
]


#: Tolerance of parts that nobody states one of: an old board's (common practice).
OLD_BOARD: Final = "5 %"
TOTAL: Final = ("total", "whole", "r")


@dataclass(frozen=True, slots=True, kw_only=True)
class StatedNetwork:
    """A network as understood."""

    network: Element | Netlist
    circuit: Circuit
    supply_volts: float
    supply_tolerance: float
    source_ohms: float
    low_volts: float  #: what its node 0 lies at
    loads: tuple[LoadRange, ...]
    hangs: tuple[tuple[str, LoadToken], ...]  #: the same as stated: junction, and what it feeds
    closed: tuple[str, ...]
    wanted: tuple[Wanted, ...]
    stiff: float | None  #: times a load's current; None where loads are always there
    feeds_volts: float | None
    parts: Parts

    @property
    def hung(self) -> tuple[Load, ...]:
        """Return the loads at their nominal values."""
        return tuple(r.load for r in self.loads)

    @property
    def conditions(self) -> Conditions:
        """Return what it works under, and what is wanted of it."""
        return Conditions(
            supply=Supply(
                self.supply_volts, self.supply_tolerance, self.source_ohms, self.low_volts
            ),
            wanted=self.wanted,
            parts=self.parts,
            loads=self.hangs,
            closed=self.closed,
            stands=self.feeds_volts,
            stiff=self.stiff,
        )

    def with_source_as_part(self) -> StatedNetwork:
        """Return the same with the resistance inside its supply as its first part."""
        if not self.source_ohms:
            return self
        network, _, terminal = with_source(self.network, self.source_ohms)
        circuit = lifted(build_circuit(network, self.closed), self.low_volts)
        hangs = tuple((terminal if at.casefold() == "in" else at, x) for at, x in self.hangs)
        ranges = tuple(load_range(token, circuit.node(at, field="loads")) for at, token in hangs)
        return replace(
            self, network=network, circuit=circuit, loads=ranges, hangs=hangs, source_ohms=0.0
        )

    def weighed(self) -> Judged:
        """Weigh it against what is wanted of it, over everything that may vary.

        Raises
        ------
        TooLargeError, TopologyError
            If the worst case has too many corners, or what is wanted has no value.
        """
        return weigh_networks(self.conditions, [self.network])[0]


def _network(text: str) -> tuple[Any, str]:
    network = read_text(text)
    if isinstance(network, Netlist):
        return network, f"{counted(len(network.lines), 'part')}, as a netlist"
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
        token, words_shown = load(words[1])
        found.append((words[0], token))
        shown.append(f"{words[0]} {words_shown}")
    return tuple(found), ", ".join(shown)


def _wanted(text: str) -> tuple[Any, str]:
    """Read what is wanted: `OUT 3.0 V ± 3 %, total 250 Ω ± 1 %`."""
    if text.strip().lower() in NOTHING:
        return (), "nothing"
    found, shown = [], []
    for piece in re.split(r"[,;\n]+", text):
        nominal, _, around = piece.replace("@", " ").replace("+/-", "±").partition("±")
        words = nominal.split(None, 1)
        if len(words) != 2 or not around.strip():
            msg = (
                f"“{piece.strip()}” does not say what is wanted: write a junction, its voltage and "
                "how far off it may be, like OUT 3V ± 3 %, or total 250 ± 1 %"
            )
            raise DomainError(msg)
        whole = words[0].lower() in TOTAL
        kind, least = (OHM, 1e-6) if whole else (VOLT, -1e5)
        target, target_shown = quantity(kind, least, 1e12 if whole else 1e5)(words[1])
        if target == 0:
            msg = "a deviation in per cent needs a voltage other than 0 V"
            raise DomainError(msg)
        within, within_shown = quantity(FRACTION, 0.0, 1.0, open_low=True)(around)
        found.append(Wanted("" if whole else words[0], target, within))
        shown.append(f"{'total' if whole else words[0]} {target_shown} ± {within_shown}")
    return tuple(found), ", ".join(shown)


def _switches(text: str) -> tuple[Any, str]:
    if text.strip().lower() in NOTHING:
        return (), "none"
    names = tuple(text.replace(",", " ").split())
    return names, ", ".join(names)


def network_tokens(families: tuple[Family, ...] = ()) -> dict[str, Token]:
    """Return the tokens of a stated network; what is not stated is not judged."""
    part_tokens = {**PARTS, **family_tokens(families)}
    rating = part_tokens["rating"]

    def unsaid(name: str, default: str) -> Token:
        return replace(part_tokens[name], default=default, absent=default)

    return {
        "network": Token(_network, "R1=4k7 + @A + (R2=15k || (R3=2k7 + @B + R4=3k9))", "network"),
        "supply_v": Token(spread(VOLT, -1e5, 1e5, "supply_tolerance"), "12 V", "supply voltage"),
        "supply_tolerance": Token(
            quantity(FRACTION, 0.0, 0.9), "0 %", "tolerance of the supply", "0 %"
        ),
        "source_ohm": Token(quantity(OHM, 0.0, 1e9), "0 Ω", "resistance inside the supply", "0 Ω"),
        "low_v": LOW_END,
        "loads": Token(_loads, "none", "loads at junctions", "none"),
        "closed": Token(_switches, "none", "closed switches", "none"),
        "wanted": Token(_wanted, "none", "what is wanted", "none"),
        "stiff": STIFF_TOKEN,
        "feeds_v": STANDS,
        "tolerance": replace(part_tokens["tolerance"], default=OLD_BOARD),
        "tcr": unsaid("tcr", "0 ppm/K"),
        "drift": part_tokens["drift"],
        "rating": Token(optional(rating.read, "nothing stated"), "none", rating.label, "none"),
        "stress": part_tokens["stress"],
        "tracking": part_tokens["tracking"],
        "own": part_tokens["own"],
        "low_c": unsaid("low_c", "25 °C"),
        "high_c": unsaid("high_c", "25 °C"),
    }


NETWORK_TOKENS: Final[dict[str, Token]] = network_tokens()


def read_stated(
    texts: Mapping[str, str], families: tuple[Family, ...] = ()
) -> tuple[dict[str, TokenReading], StatedNetwork | None]:
    """Read a stated network token by token; None while one is not understood.

    Parameters
    ----------
    texts : Mapping[str, str]
        Token to text as typed; one that is not given has its default.
    families : tuple[Family, ...]
        The user's own, beside the typical ones.
    """
    tokens = network_tokens(families) if families else NETWORK_TOKENS
    values, readings = read_tokens(tokens, texts)
    network = values.get("network")
    if network is None:
        return readings, None

    def wrong(name: str, message: str) -> None:
        readings[name] = replace(readings[name], ok=False, shown="", message=message)

    circuit, ranges, misfits = _laid_out(network, values)
    for name, message in (*misfits, *_part_misfits(values)):
        wrong(name, message)
    readings.update(family_figures(values, readings))
    if circuit is None or not all(r.ok for r in readings.values()):
        return readings, None
    stated = StatedNetwork(
        network=network,
        circuit=circuit,
        supply_volts=values["supply_v"],
        supply_tolerance=values["supply_tolerance"],
        source_ohms=values["source_ohm"],
        low_volts=values["low_v"],
        loads=ranges,
        hangs=tuple(values["loads"]),
        closed=tuple(values["closed"]),
        wanted=values["wanted"],
        stiff=values["stiff"],
        feeds_volts=values["feeds_v"],
        parts=_parts(values),
    )
    try:
        solve(circuit, stated.supply_volts, stated.source_ohms, stated.hung, stated.low_volts)
    except LowfoldError as error:
        wrong("loads", error.message)
        return readings, None
    return readings, stated


def _laid_out(
    network: Element | Netlist, values: Mapping[str, Any]
) -> tuple[Circuit | None, tuple[LoadRange, ...], list[tuple[str, str]]]:
    """Return the circuit, its loads, and which tokens name what it does not have."""
    wrong: list[tuple[str, str]] = []
    try:
        circuit = lifted(build_circuit(network, values.get("closed", ())), values.get("low_v", 0.0))
    except LowfoldError as error:
        return None, (), [("closed" if error.field == "switches" else "network", error.message)]
    ranges: tuple[LoadRange, ...] = ()
    try:
        ranges = tuple(
            load_range(token, circuit.node(at, field="loads"))
            for at, token in values.get("loads", ())
        )
    except LowfoldError as error:
        wrong.append(("loads", error.message))
    try:
        for wanted in values.get("wanted", ()):
            circuit.node(wanted.at or "in", field="wanted")
    except LowfoldError as error:
        wrong.append(("wanted", error.message))
    for own in values.get("own", ()):
        try:
            circuit.branch(own.ref)
        except LowfoldError as error:
            wrong.append(("own", error.message))
    return circuit, ranges, wrong


#: Values that an array in place of a part is made of, where the user states no series.
SPLIT_SERIES: Final = {"values": ("E24",), "min_ohm": DEFAULT_RANGE[0], "max_ohm": DEFAULT_RANGE[1]}


def _with_family(values: Mapping[str, Any]) -> dict[str, Any]:
    """Return the values with a family to read open figures from, where none is stated."""
    return {**SPLIT_SERIES, **values, "rating": values.get("rating") or TYPICAL[0]}


def _part_misfits(values: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Return tokens about parts that do not fit each other."""
    found = part_misfits(_with_family(values))
    if values.get("rating") is None:
        found += [
            (name, "no family is stated: say the size, power or family, or write the figure")
            for name in ("tolerance", "tcr", "drift")
            if name in values and values[name] is None
        ]
    return found


def _parts(values: Mapping[str, Any]) -> Parts:
    parts = parts_of_values(_with_family(values))
    return replace(parts, rated=values["rating"] is not None)


def variants_of(stated: StatedNetwork, texts: Mapping[str, str]) -> dict[str, dict[str, str]]:
    """Return the same network in other states, in words, as briefs to be set beside it.

    A switch thrown, nothing connected, and the same parts all in series or all in parallel.

    Parameters
    ----------
    stated : StatedNetwork
        A network as understood.
    texts : Mapping[str, str]
        Token to text as typed; one that is not given has its default.
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
