"""Which parts of a network can carry a current at all."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypeVar

from lowfold.core.network.circuit import GROUND, SUPPLY
from lowfold.core.network.graph import Between, Ways

__all__ = ["carrying"]


_Edge = TypeVar("_Edge", bound=Between)


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
    ways = Ways(kept)
    reached = ways.distances([SUPPLY])
    if GROUND not in reached:
        return []
    live = dict.fromkeys(ways.nodes, True)
    for cut in reached:
        there = {cut}
        for end in {SUPPLY, GROUND} - {cut}:
            there |= set(ways.distances([end], past=[cut]))
        for node in live:
            live[node] &= node in there
    return [e for e in kept if live[e.a] and live[e.b]]
