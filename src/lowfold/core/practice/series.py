"""Is it in series: two parts of a drawing, in series, in parallel or neither.

From level to level the drawing misleads more: a branch leaves between two neighbours, the drawing
lies on its side, a load hangs between them, parts slant between dots, a part leads nowhere or has a
closed switch beside it and carries nothing.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, Literal, get_args

import numpy as np

from lowfold.core.errors import DomainError
from lowfold.core.folding.fold import Folding, unfolded
from lowfold.core.folding.relation import Relation, relation
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch, Circuit, build_circuit
from lowfold.core.network.editing import write_netlist
from lowfold.core.network.graph import Ways
from lowfold.core.network.notation import Netlist, NetlistLine, read_text
from lowfold.core.network.tree import write_network
from lowfold.core.practice.chance import chance_of
from lowfold.core.practice.networks import drawn_network, drawn_supply
from lowfold.core.solving.nets import Load

__all__ = ["LOAD_OHMS", "WAYS", "SeriesQuestion", "Way", "misleads", "reasons", "series_question"]

Kind = Literal["series", "parallel", "neither"]
#: How a drawing lies: current down, current across, parts slanting between dots.
Way = Literal["upright", "lying", "slanted"]
WAYS: Final[dict[int, tuple[Way, ...]]] = {
    1: ("upright",), 2: ("upright", "lying"), 3: ("upright", "lying", "slanted"),
    4: ("lying", "slanted"), 5: ("slanted",),
}  # fmt: skip
LOAD_OHMS: Final = 10_000.0
LOADED_FROM: Final = 3  #: the level from which a load hangs at a junction
LOADED_OFTEN: Final = 0.6
LISTED_FROM: Final = 4  #: from which the parts are listed in no order, and one carries nothing
MOST_PARTS: Final = 20  #: of an own network


@dataclass(frozen=True, slots=True)
class SeriesQuestion:
    """A drawing, and two of its parts."""

    level: int
    seed: int
    network: str
    supply_volts: float
    closed: tuple[str, ...]  #: switches that are shut
    load_at: str  #: where a load hangs; empty for none
    refs: tuple[str, str]
    relation: Relation
    way: Way
    carries_nothing: tuple[str, ...]  #: parts that do not carry any current


def series_question(
    level: int, seed: int, network: str | None = None, supply_volts: float = 12.0
) -> SeriesQuestion:
    """Return a question by its level and number.

    Parameters
    ----------
    level : int
        From 1 to 5.
    seed : int
    network : str, optional
        One's own, as typed, in place of one that is drawn; its switches are open.
    supply_volts : float
        V, of one's own.

    Raises
    ------
    DomainError
        For a level or a number there is none of; for an own network of too few parts or too many.
    LowfoldError
        For an own network that is not understood.
    """
    chance = chance_of("series", level, seed)
    kinds: list[Kind] = [get_args(Kind)[int(k)] for k in chance.permutation(3)]
    way = WAYS[level][int(chance.integers(0, len(WAYS[level])))]
    if network is not None:
        return _of_own(chance, level, seed, network, supply_volts, kinds, way)
    while True:
        tree = drawn_network(chance, max(level, 2))
        circuit = build_circuit(tree)
        text = write_network(tree)
        closed: tuple[str, ...] = ()
        if level >= LISTED_FROM:
            netlist, closed = _listed(chance, circuit, level)
            text = write_netlist(netlist)
            circuit = build_circuit(netlist, closed)
        at = _loaded(chance, circuit) if level >= LOADED_FROM else ""
        loads = [Load(circuit.names[at], ohms=LOAD_OHMS)] if at else []
        begun = unfolded(circuit, loads)
        found = _drawn_pair(chance, begun, kinds[:1])
        if found is not None:
            volts = drawn_supply(chance, level)
            return SeriesQuestion(level, seed, text, volts, closed, at, *found, way, begun.idle)


def _of_own(
    chance: np.random.Generator,
    level: int,
    seed: int,
    network: str,
    volts: float,
    kinds: Sequence[Kind],
    way: Way,
) -> SeriesQuestion:
    circuit = build_circuit(read_text(network))
    if not 2 <= len(circuit.branches) <= MOST_PARTS:
        msg = f"{len(circuit.branches)} parts; two of 2 to {MOST_PARTS} are asked about"
        raise DomainError(msg, field="network")
    begun = unfolded(circuit)
    found = _drawn_pair(chance, begun, kinds)
    if found is None:
        msg = "fewer than two of its parts carry a current, so there are no two to ask about"
        raise DomainError(msg, field="network")
    return SeriesQuestion(level, seed, network, volts, (), "", *found, way, begun.idle)


def _drawn_pair(
    chance: np.random.Generator, begun: Folding, kinds: Sequence[Kind]
) -> tuple[tuple[str, str], Relation] | None:
    """Return two parts of the first kind that there are two of."""
    for kind in kinds:
        pairs = sorted(_pairs(begun, kind), key=lambda pair: -pair[0])
        best = [p for p in pairs if p[0] == pairs[0][0]]
        if best:
            _, refs, found = best[int(chance.integers(0, len(best)))]
            return refs, found
    return None


def _pairs(begun: Folding, wanted: Kind) -> list[tuple[int, tuple[str, str], Relation]]:
    """Return pairs of parts of a kind, those that look like another kind first."""
    parts = [b for b in begun.start if not b.ref.startswith("L")]
    found = []
    for one, other in itertools.combinations(parts, 2):
        told = relation(begun.start, begun.titles, one.ref, other.ref, begun.drawn)
        if told.kind != wanted:
            continue
        touching = len({one.a, one.b} & {other.a, other.b})
        # Neighbours that are not in series look so, and so do parts of one current that parts
        # between them; those of a string that do not touch do not
        looks_other = int(touching == 0)
        if wanted == "neither":
            looks_other = 2 * _of_one_current(begun.start, one, other) or int(touching == 1)
        found.append((looks_other, (one.ref, other.ref), told))
    return found


def _of_one_current(edges: Sequence[Branch], one: Branch, other: Branch) -> bool:
    """Whether two parts carry one current whatever the values: without both, nothing joins them."""
    rest = [e for e in edges if e not in (one, other)]
    supply = Branch("the supply", SUPPLY, GROUND, 1.0)
    return one.b not in Ways([*rest, supply]).distances([one.a])


def _loaded(chance: np.random.Generator, circuit: Circuit) -> str:
    """Return a named junction of two parts or more for a load to hang at; often, not always."""
    ends = [n for b in circuit.branches for n in (b.a, b.b)]
    names = [
        n for n, node in circuit.names.items()
        if node not in (SUPPLY, GROUND) and ends.count(node) > 1
    ]  # fmt: skip
    place = int(chance.integers(0, len(names))) if names else 0
    return names[place] if names and chance.uniform() < LOADED_OFTEN else ""


def _listed(
    chance: np.random.Generator, circuit: Circuit, level: int
) -> tuple[Netlist, tuple[str, ...]]:
    """Return a network as a list of parts in no order, and the switches that are shut.

    A part of it carries nothing: it leads nowhere, or a closed switch lies beside it.
    """
    names = {node: name for name, node in circuit.names.items()}
    names |= {SUPPLY: "in", GROUND: "0"}
    spare = iter(f"P{k}" for k in itertools.count(1))
    for node in range(circuit.nodes):
        if node not in names:
            names[node] = next(spare)
    lines = [NetlistLine(b.ref, names[b.a], names[b.b], b.ohms) for b in circuit.branches]
    order = chance.permutation(len(lines))
    lines = [lines[int(k)] for k in order]
    shorted = level > LISTED_FROM and bool(chance.integers(0, 2))
    if not shorted:
        inner = sorted(set(names.values()) - {"in", "0"})
        from_there = inner[int(chance.integers(0, len(inner)))]
        ref = f"R{len(lines) + 1}"
        ohms = lines[int(chance.integers(0, len(lines)))].ohms
        stub = NetlistLine(ref, from_there, next(spare), ohms)
        place = int(chance.integers(0, len(lines) + 1))
        return Netlist((*lines[:place], stub, *lines[place:])), ()
    beside = [line for line in lines if {line.a, line.b} != {"in", "0"}]
    one = beside[int(chance.integers(0, len(beside)))]
    return Netlist((*lines, NetlistLine("S1", one.a, one.b, None))), ("S1",)


def reasons(question: SeriesQuestion) -> tuple[str, ...]:
    """Say why the answer is what it is, and why what misleads does not count."""
    circuit = build_circuit(read_text(question.network), question.closed)
    found = [question.relation.reason]
    idle = [b for b in circuit.branches if b.ref in question.carries_nothing]
    shut = f"{', '.join(question.closed)} is closed, and beside it"
    for why, refs in (
        (shut, [b.ref for b in idle if b.a == b.b]),
        ("Leading nowhere,", [b.ref for b in idle if b.a != b.b]),
    ):
        if refs:
            carry = "carries nothing and does" if len(refs) == 1 else "carry nothing and do"
            found.append(f"{why} {' and '.join(refs)} {carry} not count.")
    return tuple(found)


def misleads(question: SeriesQuestion) -> int:
    """Return in how many ways a drawing misleads: its size beyond three parts, and each trick."""
    parts = len(build_circuit(read_text(question.network)).branches)
    tricks = [
        bool(question.load_at),
        "\n" in question.network,
        bool(question.carries_nothing),
        question.way != "upright",
        question.way == "slanted",
    ]
    return parts - 3 + 2 * sum(tricks)
