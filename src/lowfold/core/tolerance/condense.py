"""Merge parts that can only act together, so that worst corners need few variables.

Seen from a set of kept nodes, parts in series without a kept node between them, or in parallel,
act through their combined resistance alone. That resistance never falls when any part rises
(Rayleigh's monotonicity law), so over independent tolerances it runs exactly from all-low to
all-high: one variable instead of many, and nothing lost.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from lowfold.core.network.circuit import Branch, Circuit

__all__ = ["Merged", "condense"]


@dataclass(frozen=True, slots=True)
class Merged:
    """Parts acting as one resistance between two nodes."""

    a: int
    b: int
    low: float  #: Ω, all members low
    nominal: float  #: Ω
    high: float  #: Ω, all members high
    members: tuple[int, ...]  #: positions among the circuit's branches

    def branch(self) -> Branch:
        return Branch("", self.a, self.b, self.nominal)


def _series(one: Merged, two: Merged, a: int, b: int) -> Merged:
    return Merged(
        a,
        b,
        one.low + two.low,
        one.nominal + two.nominal,
        one.high + two.high,
        one.members + two.members,
    )


def _parallel(one: Merged, two: Merged) -> Merged:
    def pair(x: float, y: float) -> float:
        return x * y / (x + y)

    return Merged(
        one.a,
        one.b,
        pair(one.low, two.low),
        pair(one.nominal, two.nominal),
        pair(one.high, two.high),
        one.members + two.members,
    )


def condense(
    circuit: Circuit,
    low: Collection[float],
    high: Collection[float],
    keep: Collection[int],
    apart: Collection[int] = (),
) -> tuple[Merged, ...]:
    """Merge series and parallel parts until none is left to merge.

    Parameters
    ----------
    low, high : (branches,) sequences of float
        Ends of each part's range, Ω.
    keep : collection of int
        Nodes that must survive: the supply's ends, loads, the node asked about.
    apart : collection of int
        Branch positions that must stay on their own.

    Returns
    -------
    tuple of Merged
        Parts that carry no current whatever the values (dead ends, both ends on one node)
        are left out.
    """
    edges = [
        Merged(b.a, b.b, lo, b.ohms, hi, (i,))
        for i, (b, lo, hi) in enumerate(zip(circuit.branches, low, high, strict=True))
    ]
    fixed = frozenset(apart)
    while True:
        merged = _merge_series(_merge_parallel(edges, fixed), keep, fixed)
        if len(merged) == len(edges):
            return tuple(merged)
        edges = merged


def _free(edge: Merged, apart: frozenset[int]) -> bool:
    return apart.isdisjoint(edge.members)


def _merge_parallel(edges: list[Merged], apart: frozenset[int]) -> list[Merged]:
    """Merge all that share both ends, and leave out what has both ends on one node."""
    kept: list[Merged] = []
    place: dict[tuple[int, int], int] = {}
    for edge in edges:
        if not _free(edge, apart):
            kept.append(edge)
        elif edge.a != edge.b:
            ends = (min(edge.a, edge.b), max(edge.a, edge.b))
            if ends in place:
                kept[place[ends]] = _parallel(kept[place[ends]], edge)
            else:
                place[ends] = len(kept)
                kept.append(edge)
    return kept


def _merge_series(
    edges: list[Merged], keep: Collection[int], apart: frozenset[int]
) -> list[Merged]:
    """Merge pairs that meet at a node of their own, each edge at most once, and drop dead ends."""
    touching: dict[int, list[int]] = {}
    for k, edge in enumerate(edges):
        for node in (edge.a, edge.b):
            touching.setdefault(node, []).append(k)
    gone: set[int] = set()
    made: list[Merged] = []
    for node, places in touching.items():
        if node in keep or len(places) > 2 or not gone.isdisjoint(places):
            continue
        if not all(_free(edges[k], apart) for k in places):
            continue
        gone.update(places)
        if len(places) == 2:
            one, two = (edges[k] for k in places)
            far = [e.b if e.a == node else e.a for e in (one, two)]
            made.append(_series(one, two, far[0], far[1]))
    return [e for k, e in enumerate(edges) if k not in gone] + made
