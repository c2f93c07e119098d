"""Is it in series: two parts of a drawing, in series, in parallel or neither.

From level to level the drawing misleads more: a branch leaves between two neighbours, a load hangs
between them, the parts are listed in no order, a closed switch leaves a part without current.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from typing import Final, Literal, get_args

import numpy as np

from lowfold.core.folding.fold import Folding, unfolded
from lowfold.core.folding.relation import Relation, relation
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit, build_circuit
from lowfold.core.network.editing import write_netlist
from lowfold.core.network.notation import Netlist, NetlistLine
from lowfold.core.network.tree import write_network
from lowfold.core.practice.drawing_lots import lots
from lowfold.core.practice.networks import drawn_network
from lowfold.core.solving.nodes import Load

__all__ = ["SeriesQuestion", "misleads", "series_question"]

Kind = Literal["series", "parallel", "neither"]
LOAD_OHMS: Final = 10_000.0
LOADED_FROM: Final = 3  #: the level from which a load hangs at a junction
LISTED_FROM: Final = 4  #: from which the parts are listed in no order, and drawn as they fall
SHORTED_FROM: Final = 5  #: from which a closed switch lies beside a part


@dataclass(frozen=True, slots=True)
class SeriesQuestion:
    """A drawing, and two of its parts."""

    level: int
    seed: int
    network: str
    closed: tuple[str, ...]  #: switches that are shut
    load_at: str  #: where a load hangs; empty for none
    refs: tuple[str, str]
    relation: Relation


def series_question(level: int, seed: int) -> SeriesQuestion:
    """Return a question by its level and number.

    Parameters
    ----------
    level : int
        From 1 to 5.
    seed : int

    Raises
    ------
    DomainError
        For a level or a number there is none of.
    """
    chance = lots("series", level, seed)
    wanted: Kind = get_args(Kind)[int(chance.integers(0, 3))]
    while True:
        tree = drawn_network(chance, max(level, 2))
        circuit = build_circuit(tree)
        text = write_network(tree)
        closed: tuple[str, ...] = ()
        if level >= LISTED_FROM:
            netlist, closed = _listed(chance, circuit, shorted=level >= SHORTED_FROM)
            text = write_netlist(netlist)
            circuit = build_circuit(netlist, closed)
        at = _loaded(chance, circuit) if level >= LOADED_FROM else ""
        loads = [Load(circuit.names[at], ohms=LOAD_OHMS)] if at else []
        begun = unfolded(circuit, loads)
        pairs = _pairs(begun, wanted)
        if pairs:
            pairs.sort(key=lambda pair: -pair[0])
            best = [p for p in pairs if p[0] == pairs[0][0]]
            _, refs, found = best[int(chance.integers(0, len(best)))]
            return SeriesQuestion(level, seed, text, closed, at, refs, found)


def _pairs(begun: Folding, wanted: Kind) -> list[tuple[int, tuple[str, str], Relation]]:
    """Return pairs of parts of a kind, those that look like another kind first."""
    parts = [b for b in begun.start if not b.ref.startswith("L")]
    found = []
    for one, other in itertools.combinations(parts, 2):
        told = relation(begun.start, begun.titles, one.ref, other.ref, begun.drawn)
        if told.kind != wanted:
            continue
        touching = len({one.a, one.b} & {other.a, other.b})
        # Neighbours that are not in series look so; those of a string that do not touch do not
        looks_other = touching == 1 if wanted == "neither" else touching == 0
        found.append((int(looks_other), (one.ref, other.ref), told))
    return found


def _loaded(chance: np.random.Generator, circuit: Circuit) -> str:
    """Return a named junction for a load to hang at."""
    names = [n for n, node in circuit.names.items() if node not in (SUPPLY, GROUND)]
    return names[int(chance.integers(0, len(names)))] if names else ""


def _listed(
    chance: np.random.Generator, circuit: Circuit, *, shorted: bool
) -> tuple[Netlist, tuple[str, ...]]:
    """Return a network as a list of parts in no order, and the switches that are shut."""
    names = {node: name for name, node in circuit.names.items()}
    names |= {SUPPLY: "in", GROUND: "0"}
    spare = iter(f"P{k}" for k in itertools.count(1))
    for node in range(circuit.nodes):
        if node not in names:
            names[node] = next(spare)
    lines = [NetlistLine(b.ref, names[b.a], names[b.b], b.ohms) for b in circuit.branches]
    order = chance.permutation(len(lines))
    lines = [lines[int(k)] for k in order]
    if not shorted:
        return Netlist(tuple(lines)), ()
    beside = lines[int(chance.integers(0, len(lines)))]
    if {beside.a, beside.b} == {"in", "0"}:
        return Netlist(tuple(lines)), ()
    return Netlist((*lines, NetlistLine("S1", beside.a, beside.b, None))), ("S1",)


def misleads(question: SeriesQuestion) -> int:
    """Return in how many ways a drawing misleads: its size beyond three parts, and each trick.

    Parameters
    ----------
    question : SeriesQuestion
    """
    parts = question.network.count("R")
    tricks = [bool(question.load_at), "\n" in question.network, bool(question.closed)]
    return parts - 3 + 2 * sum(tricks)
