"""Merge parts that can only act together, so that worst corners need few variables.

Seen from a set of kept nodes, parts in series without a kept node between them, or in parallel,
act through their combined resistance alone. That resistance never falls when any part rises
(Rayleigh's monotonicity law), so over independent tolerances it runs exactly from all-low to
all-high: one variable instead of many, and nothing lost.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection
from dataclasses import dataclass

from lowfold.core.circuit import Branch, Circuit

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
    while True:
        merged = _merge_once(edges, keep, frozenset(apart))
        if merged is None:
            return tuple(edges)
        edges = merged


def _merge_once(
    edges: list[Merged], keep: Collection[int], apart: frozenset[int]
) -> list[Merged] | None:
    def free(edge: Merged) -> bool:
        return apart.isdisjoint(edge.members)

    for edge in edges:
        if edge.a == edge.b and free(edge):
            return [e for e in edges if e is not edge]
    seen: dict[tuple[int, int], Merged] = {}
    for edge in filter(free, edges):
        ends = (min(edge.a, edge.b), max(edge.a, edge.b))
        twin = seen.setdefault(ends, edge)
        if twin is not edge:
            return [*(e for e in edges if e is not edge and e is not twin), _parallel(twin, edge)]
    degrees = Counter(node for e in edges for node in (e.a, e.b))
    for node, degree in degrees.items():
        if node in keep or degree > 2:
            continue
        touching = [e for e in edges if node in (e.a, e.b)]
        if not all(free(e) for e in touching):
            continue
        rest = [e for e in edges if node not in (e.a, e.b)]
        if degree == 1:
            return rest
        one, two = touching
        far = [e.b if e.a == node else e.a for e in (one, two)]
        return [*rest, _series(one, two, far[0], far[1])]
    return None
