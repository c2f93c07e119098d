"""What lies between two nodes, and which nodes hang together."""

from __future__ import annotations

from collections import deque
from collections.abc import Collection, Iterable
from typing import Protocol

__all__ = ["Between", "Ways", "distances"]


class Between(Protocol):
    """Anything with two ends."""

    @property
    def a(self) -> int:
        """One end."""
        ...

    @property
    def b(self) -> int:
        """The other."""
        ...


class Ways:
    """The neighbours of every node."""

    def __init__(self, edges: Iterable[Between]) -> None:
        self._next: dict[int, list[int]] = {}
        for e in edges:
            self._next.setdefault(e.a, []).append(e.b)
            self._next.setdefault(e.b, []).append(e.a)

    def __contains__(self, node: int) -> bool:
        return node in self._next

    @property
    def nodes(self) -> tuple[int, ...]:
        """Return every node that something touches."""
        return tuple(self._next)

    def distances(self, start: Collection[int], *, past: Collection[int] = ()) -> dict[int, int]:
        """Return how many edges each node is from the nearest of `start`.

        Parameters
        ----------
        start : collection of int
        past : collection of int
            Nodes that are reached, but not passed through.
        """
        found, waiting = dict.fromkeys(start, 0), deque(start)
        while waiting:
            here = waiting.popleft()
            for node in self._next.get(here, ()) if here not in past else ():
                if node not in found:
                    found[node] = found[here] + 1
                    waiting.append(node)
        return found


def distances(
    edges: Iterable[Between], start: Collection[int], *, past: Collection[int] = ()
) -> dict[int, int]:
    """Return how many edges each node that hangs together with `start` is from it.

    Parameters
    ----------
    edges : iterable of Between
        What joins two nodes.
    start : collection of int
        Nodes that are at 0.
    past : collection of int
        Nodes that are reached, but not passed through.
    """
    return Ways(edges).distances(start, past=past)
