"""Fold a network to one resistance, a step at a time, from the far end towards the source.

Series: parts whose shared junction has no third wire add up. Parallel: parts with both ends on the
same two junctions add in conductance. Where neither is left, a star is turned into a delta
(A. E. Kennelly, Electrical World and Engineer 34, 1899; from memory), or, with more than three
arms, into the mesh of all pairs of its ends. Each step leaves what the source sees as it was.
"""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch, Circuit, load_names, lowered
from lowfold.core.network.graph import distances
from lowfold.core.network.tree import Chain, Element, Group, Part, Tap, chain, group, write_network
from lowfold.core.solving.carrying import carrying
from lowfold.core.solving.nets import Load
from lowfold.core.values.quantities import write_code

__all__ = [
    "Fold",
    "Folding",
    "fold",
    "node_titles",
    "series_parallel",
    "unfolded",
]

Kind = Literal["series", "parallel", "star-delta"]
#: Of so many resistances, those that steps made are written with ten figures.
SHORT_FROM: Final = 24
MOST_WRITTEN: Final = 2_300_000  #: characters that what is left after each step may take together


@dataclass(frozen=True, slots=True)
class Fold:
    """One step: what was combined, into what, and what is left."""

    kind: Kind
    members: tuple[Branch, ...]
    results: tuple[Branch, ...]  #: one; for a star-delta one for each pair of ends
    left: tuple[Branch, ...]  #: every resistance after the step
    remains: str  #: in the notation, or as a netlist where it does not fold further
    at: int | None = None  #: the junction that vanished in a series or star-delta step
    #: Names of current loads on junctions that vanished in a series step, set aside for it.
    aside: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Folding:
    """A network with its way to one resistance."""

    start: tuple[Branch, ...]  #: parts and resistive loads that carry current
    idle: tuple[str, ...]  #: parts that carry none whatever the supply: dead ends, loops
    steps: tuple[Fold, ...]
    titles: dict[int, str]  #: names of the junctions
    drawn: dict[int, tuple[str, ...]]  #: current loads by junction: no resistance, so not folded

    @property
    def total(self) -> Branch | None:
        """Return the one resistance that is left; None where nothing conducts."""
        last = self.steps[-1].left if self.steps else self.start
        return last[0] if len(last) == 1 else None


def node_titles(circuit: Circuit) -> dict[int, str]:
    """Return a name for every junction: as written, `in`, `0`, or n1, n2 … where it has none."""
    titles = {index: name for name, index in circuit.names.items()}
    titles[SUPPLY], titles[GROUND] = "in", "0"
    used = {t.casefold() for t in titles.values()}
    fresh = (f"n{k}" for k in itertools.count(1) if f"n{k}" not in used)
    for node in range(circuit.nodes):
        if node not in titles:
            titles[node] = next(fresh)
    return titles


def fold(circuit: Circuit, loads: Sequence[Load] = (), *, most_steps: int | None = None) -> Folding:
    """Fold `circuit` with its resistive loads (L1, L2 …) to one resistance between its ends.

    Parameters
    ----------
    most_steps : int, optional
        More are refused.
    loads : Sequence[Load]
        What hangs from nodes to 0 V, Ω or A.

    Returns
    -------
    Folding
        Without steps where one part, or nothing, lies between the ends.

    Raises
    ------
    TooLargeError
        If it takes more steps, or if writing out what each leaves takes more than `MOST_WRITTEN`.
    """
    begun = unfolded(circuit, loads)
    used = {e.ref.casefold() for e in _edges(circuit, loads)}
    names = (f"F{k}" for k in itertools.count(1) if f"f{k}" not in used)
    titles, drawn = begun.titles, begun.drawn
    left: list[Branch] = list(begun.start)
    steps: list[Fold] = []
    written = 0
    while len(left) > 1:
        _bounded(len(steps), written, most_steps)
        kind, members, at = _next_step(left)
        results = _results(kind, members, at, names)
        rest = [e for e in left if e not in members]
        left = [*rest, *results]
        remains = _written(left, titles)
        written += len(remains)
        aside = [name for node in _vanished(kind, members) for name in drawn.get(node, ())]
        steps.append(
            Fold(kind, tuple(members), tuple(results), tuple(left), remains, at, tuple(aside))
        )
    return replace(begun, steps=tuple(steps))


def unfolded(circuit: Circuit, loads: Sequence[Load] = ()) -> Folding:
    """Return a network before its first step, its resistive loads as parts.

    Parameters
    ----------
    loads : Sequence[Load]
        What hangs from nodes to 0 V, Ω or A.
    """
    loads = [replace(x, at=GROUND) if x.at == circuit.low else x for x in loads]
    circuit = lowered(circuit)
    drawn: dict[int, tuple[str, ...]] = {}
    for name, load in zip(load_names(circuit, len(loads)), loads, strict=True):
        if load.amps:
            drawn[load.at] = (*drawn.get(load.at, ()), name)
    edges = _edges(circuit, loads)
    start = carrying(edges)
    live = {e.ref for e in start}
    idle = tuple(e.ref for e in edges if e.ref not in live)
    return Folding(tuple(start), idle, (), node_titles(circuit), drawn)


def _edges(circuit: Circuit, loads: Sequence[Load]) -> list[Branch]:
    names = load_names(circuit, len(loads))
    hung = [
        Branch(name, load.at, GROUND, load.ohms)
        for name, load in zip(names, loads, strict=True)
        if load.ohms is not None
    ]
    return [Branch(b.ref, b.a, b.b, b.ohms) for b in circuit.branches] + hung


def _vanished(kind: Kind, members: Sequence[Branch]) -> list[int]:
    """Return the junctions inside a string: each the end of two of its parts."""
    if kind != "series":
        return []
    ends = Counter(n for e in members for n in (e.a, e.b))
    return [n for n, times in ends.items() if times == 2]


def _bounded(steps: int, written: int, most_steps: int | None) -> None:
    """Refuse a folding once it passes its bounds."""
    if most_steps is not None and steps >= most_steps:
        msg = f"folding this network takes more than the {most_steps} steps that are shown"
        raise TooLargeError(msg, field="network")
    if written > MOST_WRITTEN:
        msg = (
            f"the steps of folding this network fill more than {MOST_WRITTEN / 1e6:g} MB: a grid "
            "of 9 by 9 junctions, or 16 junctions each joined to each, would fit"
        )
        raise TooLargeError(msg, field="network")


def _next_step(edges: Sequence[Branch]) -> tuple[Kind, list[Branch], int | None]:
    """Return the fold furthest from the source: parallel or series, else the smallest star."""
    depth = distances(edges, [SUPPLY], past=[GROUND])
    depth[GROUND] = max(depth.values()) + 1
    touching: dict[int, list[Branch]] = {}
    for e in edges:
        for node in (e.a, e.b):
            touching.setdefault(node, []).append(e)
    inner = {n: t for n, t in touching.items() if n not in (SUPPLY, GROUND)}
    found = [*_parallel_steps(edges, depth), *_series_steps(inner, depth)]
    if found:
        return max(found, key=lambda f: f[0])[1]
    joined = {(min(e.a, e.b), max(e.a, e.b)) for e in edges}

    def cost(node: int) -> tuple[int, int, int]:
        """Count what a star would leave more of: new pairs, then pairs to put in parallel."""
        ends = sorted(e.far(node) for e in inner[node])
        new = sum(pair not in joined for pair in itertools.combinations(ends, 2))
        return len(ends) * (len(ends) - 1) // 2 + new, -depth[node], node

    node = min(inner, key=cost)
    return "star-delta", inner[node], node


_Step = tuple[tuple[int, int], tuple[Kind, list[Branch], int | None]]


def _parallel_steps(edges: Sequence[Branch], depth: dict[int, int]) -> Iterator[_Step]:
    pairs: dict[tuple[int, int], list[Branch]] = {}
    for e in edges:
        pairs.setdefault((min(e.a, e.b), max(e.a, e.b)), []).append(e)
    for (a, b), beside in pairs.items():
        if len(beside) > 1:
            yield (min(depth[a], depth[b]), 1), ("parallel", beside, None)


def _series_steps(inner: dict[int, list[Branch]], depth: dict[int, int]) -> Iterator[_Step]:
    seen: set[int] = set()
    for node, two in inner.items():
        if len(two) == 2 and node not in seen and two[0].far(node) != two[1].far(node):
            string, ends = _string(node, inner)
            seen.update(n for e in string for n in (e.a, e.b) if n not in ends)
            yield (min(depth[n] for n in ends), 0), ("series", string, node)


def _string(node: int, inner: dict[int, list[Branch]]) -> tuple[list[Branch], tuple[int, int]]:
    """Return the whole string of parts in series through `node`, in order, and its two ends."""

    def walk(at: int, edge: Branch) -> tuple[list[Branch], int]:
        way, here = [edge], edge.far(at)
        while here in inner and len(inner[here]) == 2 and here != node:
            one, two = inner[here]
            edge = two if one is way[-1] else one
            if edge in way:
                break
            way.append(edge)
            here = edge.far(here)
        return way, here

    one, two = inner[node]
    back, first = walk(node, one)
    on, last = walk(node, two)
    if first in (node, last):  # a ring between two junctions: take the two parts alone
        return [one, two], (one.far(node), two.far(node))
    return [*reversed(back), *on], (first, last)


def _results(
    kind: Kind, members: Sequence[Branch], at: int | None, names: Iterable[str]
) -> list[Branch]:
    fresh = iter(names)
    if kind == "parallel":
        siemens = math.fsum(1 / e.ohms for e in members)
        return [Branch(next(fresh), members[0].a, members[0].b, 1 / siemens, made=True)]
    if kind == "series":
        ends = Counter(n for e in members for n in (e.a, e.b))
        a, b = (n for n, times in ends.items() if times == 1)
        return [Branch(next(fresh), a, b, math.fsum(e.ohms for e in members), made=True)]
    assert at is not None  # a star has a centre
    siemens = math.fsum(1 / e.ohms for e in members)
    return [
        Branch(next(fresh), one.far(at), two.far(at), one.ohms * two.ohms * siemens, made=True)
        for one, two in itertools.combinations(members, 2)
    ]


def _written(edges: Sequence[Branch], titles: dict[int, str]) -> str:
    if len(edges) > SHORT_FROM:
        edges = [replace(e, ohms=float(f"{e.ohms:.10g}")) if e.made else e for e in edges]
    element = series_parallel(edges, titles)
    if element is not None:
        return write_network(element)
    return "\n".join(f"{e.ref} {titles[e.a]} {titles[e.b]} {write_code(e.ohms)}" for e in edges)


def series_parallel(edges: Sequence[Branch], titles: dict[int, str]) -> Element | None:
    """Return the network as a series–parallel tree, its junctions as taps, or None if it is none.

    Junctions called n1, n2 … were not named by anyone and get no tap.

    Parameters
    ----------
    edges : Sequence[Branch]
        Resistances between nodes, Ω.
    titles : dict[int, str]
        What nodes are called.
    """
    parts: list[_Piece] = [(e.a, e.b, Part(e.ohms, e.ref)) for e in edges]
    while len(parts) > 1:
        merged = _strung(_grouped(parts), titles)
        if len(merged) == len(parts):
            return None
        parts = merged
    return _from(SUPPLY, parts[0]) if parts else None


#: A piece of a tree between two junctions, as met from the first.
_Piece = tuple[int, int, Element]


def _grouped(parts: Sequence[_Piece]) -> list[_Piece]:
    """Put all pieces with both ends in common in parallel."""
    pairs: dict[tuple[int, int], list[_Piece]] = {}
    for p in parts:
        pairs.setdefault((min(p[:2]), max(p[:2])), []).append(p)
    return [
        same[0] if len(same) == 1 else (ends[0], ends[1], group([_from(ends[0], p) for p in same]))
        for ends, same in pairs.items()
    ]


def _strung(parts: Sequence[_Piece], titles: dict[int, str]) -> list[_Piece]:
    """Put pieces that meet at a junction of their own in series, each at most once."""
    touching: dict[int, list[int]] = {}
    for k, p in enumerate(parts):
        for node in p[:2]:
            touching.setdefault(node, []).append(k)
    gone: set[int] = set()
    made: list[_Piece] = []
    for node, places in touching.items():
        if node in (SUPPLY, GROUND) or len(places) != 2 or not gone.isdisjoint(places):
            continue
        gone.update(places)
        one, two = (parts[k] for k in places)
        a, b = (p[1] if p[0] == node else p[0] for p in (one, two))
        named = titles[node][0] != "n" or not titles[node][1:].isdigit()
        tap: list[Element | Tap] = [Tap(titles[node])] if named and titles[node].isalnum() else []
        made.append((a, b, chain([_from(a, one), *tap, _from(node, two)])))
    return [p for k, p in enumerate(parts) if k not in gone] + made


def _from(node: int, part: tuple[int, int, Element]) -> Element:
    """Return a piece as it is met coming from `node`."""
    return part[2] if part[0] == node else _turned(part[2])


def _turned(item: Element) -> Element:
    if isinstance(item, Chain):
        return chain([i if isinstance(i, Tap) else _turned(i) for i in reversed(item.items)])
    if isinstance(item, Group):
        return group([_turned(b) for b in item.branches])
    return item
