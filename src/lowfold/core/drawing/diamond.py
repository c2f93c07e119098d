"""A bridge as the diamond people know: two arms down each side, and the bridge across."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.drawing.schematic import ZERO, Drawing, Metrics, Placed, Side
from lowfold.core.drawing.wires import Wire
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch

__all__ = ["diamond"]

#: Half the width of the diamond, and half its height, in widths and heights of a part.
WIDE, HIGH = 1.05, 1.5
ARMS: Final = 4


@dataclass(frozen=True, slots=True)
class _Bridge:
    left: int
    right: int
    arms: tuple[
        tuple[Branch, int, int, Side], ...
    ]  #: with upper and lower node, and where to write
    across: Branch


def _bridge(edges: Sequence[Branch], low: int) -> _Bridge | None:
    """Return a network's arms and bridge, where it is four arms and one bridge."""
    if len(edges) != ARMS + 1:
        return None
    inner = sorted({n for e in edges for n in (e.a, e.b)} - {SUPPLY, low})
    if len(inner) != 2:
        return None
    left, right = inner
    by_ends = {frozenset((e.a, e.b)): e for e in edges}
    wanted: list[tuple[int, int, Side]] = [
        (SUPPLY, left, "upper left"),
        (SUPPLY, right, "upper right"),
        (left, low, "lower left"),
        (right, low, "lower right"),
    ]
    arms = []
    for upper, lower, side in wanted:
        arm = by_ends.get(frozenset((upper, lower)))
        if arm is None:
            return None
        arms.append((arm, upper, lower, side))
    across = by_ends.get(frozenset((left, right)))
    return None if across is None else _Bridge(left, right, tuple(arms), across)


def diamond(
    edges: Sequence[Branch],
    titles: dict[int, str],
    metrics: Metrics,
    *,
    low: int = GROUND,
    two_ends: bool = False,
) -> Drawing | None:
    """Lay a bridge out as a diamond; None where the network is none.

    Parameters
    ----------
    edges : sequence of Branch
        Resistances between nodes, Ω.
    titles : dict[int, str]
        What nodes are called.
    low : int
        The network's low end.
    two_ends : bool
        Each end lies at a voltage of its own: both are terminals.
    """
    found = _bridge(edges, low)
    if found is None:
        return None
    dx, dy = WIDE * metrics.part_width, HIGH * metrics.part_height
    middle = metrics.terminal + metrics.part_width * 0.9 + dx
    at = {
        SUPPLY: (middle, 0.0),
        found.left: (middle - dx, dy),
        found.right: (middle + dx, dy),
        low: (middle, 2 * dy),
    }
    wires, parts = [], []
    for part, upper, lower, side in (*found.arms, (found.across, found.left, found.right, "above")):
        (x1, y1), (x2, y2) = at[upper], at[lower]
        length = math.hypot(x2 - x1, y2 - y1)
        x, y = (x1 + x2) / 2, (y1 + y2) / 2
        ux, uy = (x2 - x1) / length, (y2 - y1) / length
        half = metrics.symbol / 2
        wires += [
            Wire(x1, y1, x - ux * half, y - uy * half, upper),
            Wire(x + ux * half, y + uy * half, x2, y2, lower),
        ]
        turned = math.degrees(math.atan2(-(x2 - x1), y2 - y1))
        parts.append(Placed(part.ref, x, y, turned, side))
    bottom = 2 * dy
    wires += [Wire(0.0, 0.0, middle, 0.0, SUPPLY), Wire(0.0, bottom, middle, bottom, low)]
    if not two_ends:
        wires.append(Wire(0.0, 0.0, 0.0, bottom))
    ends = (Placed("in", 0.0, 0.0), Placed("0", 0.0, bottom))
    return Drawing(
        width=middle + dx + metrics.part_width * 0.9,
        height=bottom,
        column=metrics.part_width,
        symbol=metrics.symbol,
        lines=metrics.lines,
        stacked=metrics.stacked,
        wires=tuple(wires),
        parts=tuple(parts),
        loads=(),
        dots=(
            Placed(titles[found.left], *at[found.left], 0.0, "left"),
            Placed(titles[found.right], *at[found.right]),
            Placed("", *at[SUPPLY]),
            Placed("", *at[low]),
        ),
        supply=None if two_ends else Placed("supply", 0.0, bottom / 2),
        ends=ends if two_ends else (),
        grounds=(Placed(ZERO, 0.0, bottom / 2),) if two_ends else (),
    )
