"""Lay any network out: junctions as rails, parts upright between the two rails they join.

For networks that are no series–parallel tree. Rails lie at heights in the order of the junctions'
voltages, so current runs down.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import lru_cache
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.drawing.schematic import ZERO, Drawing, Metrics, Placed
from lowfold.core.drawing.wires import Wire
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch

__all__ = ["draw_rails", "in_columns"]

MOST_APART: Final = 8  #: parts that each have a column of their own
MOST_ORDERED: Final = 24  #: parts whose columns are put in the order with few crossings


def draw_rails(
    edges: Sequence[Branch],
    volts: Mapping[int, float],
    titles: Mapping[int, str],
    metrics: Metrics,
    *,
    driven: bool = True,
    low: int = GROUND,
    two_ends: bool = False,
) -> Drawing:
    """Lay out `edges`; loads (L1, L2 …) are parts like any other.

    Parameters
    ----------
    volts : mapping of junction to V
        Decides which junction lies above which.
    edges : Sequence[Branch]
        Resistances between nodes, Ω.
    titles : Mapping[int, str]
        What nodes are called.
    driven : bool
        Whether a supply is drawn.
    low : int
        The network's low end.
    two_ends : bool
        Each end lies at a voltage of its own: both are terminals.
    """
    rails = (SUPPLY, low)
    nodes = {n for e in edges for n in (e.a, e.b)} | {*rails}
    order = sorted(nodes, key=lambda n: (n == low, n != SUPPLY, -volts.get(n, 0.0), n))
    level = {node: k for k, node in enumerate(order)}
    upright = in_columns(edges, level)  # the same for every metrics
    left = metrics.terminal
    places = _packed(upright, level) if len(upright) > MOST_APART else dict(_apart(upright))
    column = {ref: left + metrics.part_width * (k + 0.15) for ref, k in places.items()}
    height = {node: k * metrics.part_height for node, k in level.items()}
    bottom = height[low]
    driven = driven and not two_ends
    wires: list[Wire] = []
    dots: list[Placed] = []
    for node in order:
        touching = [column[e.ref] for e in upright if node in (e.a, e.b)]
        along = [*touching, *([0.0] if node in rails else [])]
        wires.append(Wire(min(along), height[node], max(along), height[node], node))
        inside = [x for x in touching if min(along) < x < max(along)]
        named = "" if node in rails else titles[node]
        dots += [Placed("", x, height[node]) for x in inside]
        if named:
            dots.append(Placed(named, min(touching), height[node]))
    placed = []
    for e in upright:
        upper, lower = sorted((e.a, e.b), key=height.__getitem__)
        top, foot = height[upper], height[lower]
        # In the gap below its upper rail, where no other rail runs through its writing.
        x, middle, half = column[e.ref], top + metrics.part_height / 2, metrics.symbol / 2
        wires += [
            Wire(x, top, x, middle - half, upper),
            Wire(x, middle + half, x, foot, lower),
        ]
        placed.append(Placed(e.ref, x, middle))
    if driven:
        wires.append(Wire(0.0, 0.0, 0.0, bottom))
    open_ends = (Placed("in", 0.0, 0.0), Placed("0", 0.0, bottom))
    return Drawing(
        width=left + metrics.part_width * (max(places.values(), default=0) + 1),
        height=bottom,
        column=metrics.part_width,
        symbol=metrics.symbol,
        lines=metrics.lines,
        stacked=metrics.stacked,
        wires=tuple(wires),
        parts=tuple(placed),
        loads=(),
        dots=tuple(dots),
        supply=Placed("supply", 0.0, bottom / 2) if driven else None,
        ends=() if driven else open_ends,
        grounds=() if not two_ends else (Placed(ZERO, 0.0, bottom / 2),),
    )


def _apart(parts: Sequence[Branch]) -> Iterator[tuple[str, int]]:
    return ((e.ref, k) for k, e in enumerate(parts))


def _packed(parts: Sequence[Branch], level: Mapping[int, int]) -> dict[str, int]:
    """Return the column of each part, those that lie above one another in one.

    Each takes the first column in which nothing stands between its two levels, so that many parts
    are no wider than there is room for.
    """
    taken: list[list[tuple[int, int]]] = []
    found: dict[str, int] = {}
    for part in parts:
        top, foot = sorted((level[part.a], level[part.b]))
        for k, spans in enumerate(taken):
            if all(foot <= upper or lower <= top for upper, lower in spans):
                spans.append((top, foot))
                found[part.ref] = k
                break
        else:
            found[part.ref] = len(taken)
            taken.append([(top, foot)])
    return found


def in_columns(edges: Sequence[Branch], level: Mapping[int, int]) -> tuple[Branch, ...]:
    """Return resistances from left to right, so that few of them cross a rail between.

    Parameters
    ----------
    edges : sequence of Branch
        Resistances between nodes, Ω.
    level : mapping of node to int
        Its place from the top down.
    """
    return _ordered(tuple(edges), tuple(level.items()))


@lru_cache(maxsize=64)
def _ordered(edges: tuple[Branch, ...], levels: tuple[tuple[int, int], ...]) -> tuple[Branch, ...]:
    """Order the columns so that few wires cross a rail: move one at a time while it helps."""
    level = dict(levels)
    found = sorted(edges, key=lambda e: (*sorted((level[e.a], level[e.b])), e.ref))
    count = len(found)
    if not count or count > MOST_ORDERED:
        return tuple(found)
    crossed = _Crossings(found, level)
    order = np.arange(count)
    moves = [_moves(count, start) for start in range(count)]
    best = int(crossed.of(order[None, :])[0])
    improved = True
    while improved and best:
        improved = False
        for start in range(count):
            moved = order[moves[start]]
            every = crossed.of(moved)
            end = int(every.argmin())
            if every[end] < best:
                order, best, improved = moved[end], int(every[end]), True
    return tuple(found[k] for k in order)


def _moves(count: int, start: int) -> npt.NDArray[np.intp]:
    """Return the places of an order with the one at `start` moved to each place, (count, count)."""
    rest = [k for k in range(count) if k != start]
    return np.array([[*rest[:end], start, *rest[end:]] for end in range(count)])


class _Crossings:
    """Counts the upright wires that cross a rail they are not joined to, in many orders at once."""

    def __init__(self, edges: Sequence[Branch], level: Mapping[int, int]) -> None:
        nodes = sorted(level)
        tops, lows = np.sort([[level[e.a], level[e.b]] for e in edges], axis=1).T
        heights = np.array([level[n] for n in nodes])
        #: (edges, nodes): the wire runs past the height of the rail
        self._past = (tops[:, None] < heights) & (heights < lows[:, None])
        self._touching = [[k for k, e in enumerate(edges) if n in (e.a, e.b)] for n in nodes]
        self._from_supply = np.array([n in (SUPPLY, GROUND) for n in nodes])

    def of(self, orders: npt.NDArray[np.intp]) -> npt.NDArray[np.intp]:
        """Return the crossings of each order, (m, edges) of which part stands at each place."""
        place = np.argsort(orders, axis=1)
        count = place.shape[1]
        first = np.full((len(orders), len(self._touching)), count)
        last = np.full_like(first, -1)
        for node, touching in enumerate(self._touching):
            if touching:
                first[:, node] = place[:, touching].min(axis=1)
                last[:, node] = place[:, touching].max(axis=1)
        first[:, self._from_supply] = -1  # the supply stands at the left
        here = place[:, :, None]
        under = (first[:, None, :] < here) & (here < last[:, None, :])
        crossings: npt.NDArray[np.intp] = (under & self._past).sum(axis=(1, 2))
        return crossings
