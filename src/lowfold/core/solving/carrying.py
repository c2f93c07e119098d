"""Which parts of a network can carry a current at all."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Protocol, TypeVar

from lowfold.core.network.circuit import GROUND, SUPPLY

__all__ = ["carrying"]


class _Between(Protocol):
    @property
    def a(self) -> int: ...

    @property
    def b(self) -> int: ...


_Edge = TypeVar("_Edge", bound=_Between)


def carrying(edges: Iterable[_Edge]) -> list[_Edge]:
    """Leave out what carries no current: loops on one junction, dead ends, what hangs on one.

    A piece that hangs together with the rest at a single junction, and holds neither end of the
    supply, has no way in and another way out.

    Parameters
    ----------
    edges : Iterable[_Edge]
        Anything between two nodes `a` and `b`.

    Returns
    -------
    list
        The edges that some current can pass.
    """
    kept = [e for e in edges if e.a != e.b]
    ways: dict[int, list[int]] = {SUPPLY: [], GROUND: []}
    for e in kept:
        ways.setdefault(e.a, []).append(e.b)
        ways.setdefault(e.b, []).append(e.a)
    reached = _connected(ways, SUPPLY, without=None)
    if GROUND not in reached:
        return []
    live = dict.fromkeys(ways, True)
    for cut in reached:
        there = {cut}
        for end in {SUPPLY, GROUND} - {cut}:
            there |= _connected(ways, end, without=cut)
        for node in live:
            live[node] &= node in there
    return [e for e in kept if live[e.a] and live[e.b]]


def _connected(ways: Mapping[int, Sequence[int]], start: int, without: int | None) -> set[int]:
    """Return the junctions that hang together with `start`, not passing through `without`."""
    found, waiting = {start}, [start]
    while waiting:
        for node in ways[waiting.pop()]:
            if node not in found and node != without:
                found.add(node)
                waiting.append(node)
    return found
