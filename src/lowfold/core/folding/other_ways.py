"""Other ways to the same voltages: the divider rule where it applies, and node equations."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from lowfold.core.folding.fold import fold
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch, Circuit
from lowfold.core.network.graph import distances

__all__ = ["DividerRule", "NodeEquations", "divider_rule", "node_equations"]

FloatArray = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class DividerRule:
    """A junction's voltage as a share of the whole, or why it is none."""

    at: str
    above: float | None  #: Ω between the supply and the junction; None where the rule fails
    below: float | None  #: Ω between the junction and 0 V
    volts: float | None
    reason: str


@dataclass(frozen=True, slots=True)
class NodeEquations:
    """Kirchhoff's current law at every junction: matrix · volts = entering."""

    names: tuple[str, ...]
    matrix: FloatArray  #: (n, n) S
    entering: FloatArray  #: (n,) A
    volts: FloatArray  #: (n,) V


def divider_rule(
    edges: Sequence[Branch], titles: dict[int, str], node: int, volts: float
) -> DividerRule:
    """Apply V = Vin·R_below / (R_above + R_below) at `node`, if all current passes through it.

    Parameters
    ----------
    edges : sequence of Branch
        Resistances that carry current.
    volts : float
        At the supply's terminals, V.
    titles : dict[int, str]
        What nodes are called.
    node : int
        Index of the junction.

    Returns
    -------
    DividerRule
        What the rule gives, or why it does not apply at this junction.
    """
    sides = _sides(edges, node)
    if sides is None:
        return DividerRule(
            titles[node],
            None,
            None,
            None,
            f"not at {titles[node]}: some current reaches 0 V without passing it",
        )
    above, below = (_between(side, start, end) for side, start, end in sides)
    share = below / (above + below)
    return DividerRule(titles[node], above, below, volts * share, "all current passes it")


def _sides(
    edges: Sequence[Branch], node: int
) -> tuple[tuple[list[Branch], int, int], tuple[list[Branch], int, int]] | None:
    """Return the parts above and below a junction, or None if there is a way round it."""
    reached = set(distances(edges, [SUPPLY], past=[node])) - {node}
    if GROUND in reached:
        return None
    above = [e for e in edges if e.a in reached or e.b in reached]
    below = [e for e in edges if e not in above]
    return (above, SUPPLY, node), (below, node, GROUND)


def _between(edges: Sequence[Branch], start: int, end: int) -> float:
    """Return the resistance between two junctions by folding."""
    number = {start: SUPPLY, end: GROUND}
    for e in edges:
        for node in (e.a, e.b):
            number.setdefault(node, len(number))
    branches = tuple(Branch(e.ref, number[e.a], number[e.b], e.ohms) for e in edges)
    total = fold(Circuit(branches, len(number), {})).total
    assert total is not None  # both sides carry current
    return total.ohms


def node_equations(
    edges: Sequence[Branch],
    titles: dict[int, str],
    supply_volts: float,
    source_ohms: float,
    low_volts: float = 0.0,
    to_zero: Collection[str] = (),
) -> NodeEquations:
    """Write and solve the node equations, in conductances; the inner resistance as I = E/r.

    Without inner resistance the supply's end is known and its currents enter at its neighbours.

    Parameters
    ----------
    edges : Sequence[Branch]
        Resistances between nodes, Ω.
    titles : dict[int, str]
        What nodes are called.
    supply_volts : float
        EMF of the supply, V.
    source_ohms : float
        Ω inside the supply.
    low_volts : float
        What the supply's other end lies at, V.
    to_zero : collection of str
        Edges, loads, that go to 0 V and not to that end.
    """
    known = {GROUND: low_volts} | ({} if source_ohms else {SUPPLY: supply_volts})
    nodes = sorted({n for e in edges for n in (e.a, e.b)} - set(known))
    place = {n: k for k, n in enumerate(nodes)}
    matrix, entering = np.zeros((len(nodes), len(nodes))), np.zeros(len(nodes))
    for e in edges:
        for one, two in ((e.a, e.b), (e.b, e.a)):
            if one not in place:
                continue
            matrix[place[one], place[one]] += 1 / e.ohms
            if two in place:
                matrix[place[one], place[two]] -= 1 / e.ohms
            elif e.ref not in to_zero:
                entering[place[one]] += known[two] / e.ohms
    if source_ohms and SUPPLY in place:
        matrix[place[SUPPLY], place[SUPPLY]] += 1 / source_ohms
        entering[place[SUPPLY]] += supply_volts / source_ohms
    volts: FloatArray = np.asarray(np.linalg.solve(matrix, entering) if nodes else np.zeros(0))
    return NodeEquations(tuple(titles[n] for n in nodes), matrix, entering, volts)
