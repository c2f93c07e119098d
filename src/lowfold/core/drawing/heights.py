"""A network's potentials as heights: every wire is level, every part is a fall.

Seen so, the falls round every loop add up by themselves, and parts between the same two levels
share their fall (Kirchhoff's voltage law). Places only; how it looks is for whoever draws.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.drawing.rails import in_columns
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch

__all__ = ["Fall", "Heights", "Level", "heights"]

#: Labels of levels stand at least so far apart, as a share of the height.
APART: Final = 0.052
#: Two levels nearer than this share of the whole are one, and what lies between has no fall.
SAME: Final = 1e-9


@dataclass(frozen=True, slots=True)
class Level:
    """A junction: a wire at its potential."""

    node: int
    name: str
    volts: float
    height: float  #: from 0 at the lowest potential to 1 at the highest
    start: float  #: where it begins and ends, in columns
    stop: float
    label: float  #: height at which its name stands, moved from `height` where two would overlap


@dataclass(frozen=True, slots=True)
class Fall:
    """A part: from the potential of its upper end to that of its lower."""

    ref: str
    column: float
    upper: float  #: heights, 0 to 1
    lower: float
    volts: float  #: how far it falls, 0 or more
    shared: tuple[str, ...]  #: others between the same two junctions


@dataclass(frozen=True, slots=True)
class Heights:
    levels: tuple[Level, ...]  #: highest first
    falls: tuple[Fall, ...]
    columns: int
    highest: float  #: V
    lowest: float


def heights(
    edges: Sequence[Branch], volts: Mapping[int, float], titles: Mapping[int, str]
) -> Heights | None:
    """Return a network drawn by its potentials; None where nothing has any.

    Parameters
    ----------
    edges : sequence of Branch
        Resistances between nodes, Ω.
    volts : mapping of node to V
        Those without a potential are left out.
    titles : mapping of node to str
        What nodes are called.
    """
    live = [e for e in edges if e.a in volts and e.b in volts and e.a != e.b]
    if not live:
        return None
    nodes = sorted({n for e in live for n in (e.a, e.b)}, key=lambda n: (-volts[n], n))
    # The potential of 0 V belongs to the picture: from there loads and meters count
    lowest = min(0.0, *(volts[n] for n in nodes))
    highest = max(0.0, *(volts[n] for n in nodes))
    whole = highest - lowest or 1.0
    ordered = in_columns(live, {n: k for k, n in enumerate(nodes)})
    column = {e.ref: k for k, e in enumerate(ordered)}

    def height(node: int) -> float:
        return (volts[node] - lowest) / whole

    labels = _apart([height(n) for n in nodes])
    levels = []
    for node, label in zip(nodes, labels, strict=True):
        touching = [column[e.ref] for e in live if node in (e.a, e.b)]
        levels.append(
            Level(
                node,
                titles.get(node, {SUPPLY: "in", GROUND: "0"}.get(node, f"n{node}")),
                volts[node],
                height(node),
                float(min(touching)),
                float(max(touching)),
                label,
            )
        )
    falls = []
    for e in ordered:
        upper, lower = sorted((e.a, e.b), key=lambda n: (-volts[n], n))
        beside = tuple(o.ref for o in live if o.ref != e.ref and {o.a, o.b} == {e.a, e.b})
        fall = volts[upper] - volts[lower]
        level = 0.0 if fall <= SAME * whole else fall
        falls.append(Fall(e.ref, float(column[e.ref]), height(upper), height(lower), level, beside))
    return Heights(tuple(levels), tuple(falls), len(ordered), highest, lowest)


def _apart(falling: Sequence[float]) -> list[float]:
    """Return heights for labels, highest first, none nearer to the next than `APART`.

    Each cluster of labels that would touch is centred on the levels it names.
    """
    clusters: list[list[float]] = []
    for height in falling:
        clusters.append([height])
        while len(clusters) > 1 and _bottom(clusters[-2]) - APART < _top(clusters[-1]) - 1e-12:
            last = clusters.pop()
            clusters[-1] += last
    return [_top(cluster) - k * APART for cluster in clusters for k in range(len(cluster))]


def _top(cluster: Sequence[float]) -> float:
    """Return where the first label of a cluster stands, all of them inside the picture."""
    room = (len(cluster) - 1) * APART
    middle = sum(cluster) / len(cluster)
    return min(max(middle + room / 2, room), 1.0) if room <= 1 else 1.0


def _bottom(cluster: Sequence[float]) -> float:
    return _top(cluster) - (len(cluster) - 1) * APART
