"""What is solved: a circuit's values as conductances, its supply and what hangs from its nodes.

One set of values or many at once; `nodes` holds the equations, `solution` what they tell of one.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import GROUND, Circuit
from lowfold.core.network.graph import distances

__all__ = ["Load", "Nets", "nets_of", "nominal_nets", "reached_nodes"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.intp]
BoolArray = npt.NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Load:
    """What hangs from a node to 0 V: a resistance or a current, exactly one of them."""

    at: int  #: node index
    ohms: float | None = None
    amps: float | None = None

    def __post_init__(self) -> None:
        given = [x for x in (self.ohms, self.amps) if x is not None]
        if len(given) != 1:
            msg = "a load is a resistance or a current: give exactly one of ohm and a"
            raise DomainError(msg, field="loads")
        if self.ohms is not None and not 0 < self.ohms < math.inf:
            msg = f"a load of {self.ohms:g} Ω is no load: it must be above 0 Ω and finite"
            raise DomainError(msg, field="loads")
        if self.amps is not None and not 0 <= self.amps < math.inf:
            msg = f"a load draws 0 A or more from its node, got {self.amps:g} A"
            raise DomainError(msg, field="loads")

    @property
    def siemens(self) -> float:
        return 0.0 if self.ohms is None else 1 / self.ohms


@dataclass(frozen=True, slots=True)
class Nets:
    """Networks solved together: m sets of values, each with ends of its own for its branches."""

    nodes: int
    a: IntArray  #: (m or 1, branches): first ends
    b: IntArray  #: (m or 1, branches): second ends
    siemens: FloatArray  #: (m, branches); 0 where a branch is open
    at: IntArray  #: (m or 1, loads)
    load_siemens: FloatArray  #: (m, loads)
    load_amps: FloatArray  #: (m, loads)
    supply_v: FloatArray  #: (m,); of a current source, its A
    source_ohms: float = 0.0  #: inf makes the supply a current source
    entering: FloatArray | None = None  #: (m, nodes) A put into each node besides
    at_zero: BoolArray | None = None  #: (m, nodes): nodes tied to 0 V besides
    low: int = GROUND  #: the supply's low end
    low_v: FloatArray | None = None  #: (m,) V it lies at, where it is a node of its own

    def some(self, rows: slice) -> Nets:
        """Return some of the sets."""

        def cut(values: npt.NDArray[Any]) -> npt.NDArray[Any]:
            return values if len(values) == 1 < len(self.supply_v) else values[rows]

        return Nets(
            self.nodes,
            cut(self.a),
            cut(self.b),
            self.siemens[rows],
            cut(self.at),
            self.load_siemens[rows],
            self.load_amps[rows],
            self.supply_v[rows],
            self.source_ohms,
            None if self.entering is None else self.entering[rows],
            None if self.at_zero is None else self.at_zero[rows],
            self.low,
            None if self.low_v is None else self.low_v[rows],
        )


def nets_of(
    circuit: Circuit,
    siemens: FloatArray,
    supply_v: FloatArray,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    load_siemens: FloatArray | None = None,
    load_amps: FloatArray | None = None,
    low_v: float = 0.0,
) -> Nets:
    """Return sets of values for one circuit.

    Parameters
    ----------
    siemens : (m, branches) ndarray of float64
        S, each above 0.
    supply_v : (m,) ndarray of float64
        V; of a current source, its A.
    source_ohms : float
        Ω inside the supply; inf makes it a current source.
    loads : sequence of Load
        Where the loads hang, and what they are where the arrays do not say.
    load_siemens, load_amps : (m, loads) ndarray of float64, optional
        What each load is in each set, S and A.
    low_v : float
        What the supply's low end lies at, V, in a circuit in which it is a node of its own.

    Raises
    ------
    DomainError
        For a negative source resistance.
    """
    if not source_ohms >= 0:
        msg = f"the source resistance is 0 Ω or more, got {source_ohms:g} Ω"
        raise DomainError(msg, field="source_ohm")
    if low_v and circuit.low == GROUND:
        msg = "the supply's low end is off 0 V in a circuit whose node 0 is 0 V: lift it first"
        raise ValueError(msg)
    sets = len(supply_v)
    if load_siemens is None:
        load_siemens = np.tile([x.siemens for x in loads], (sets, 1))
    if load_amps is None:
        load_amps = np.tile([x.amps or 0.0 for x in loads], (sets, 1))
    return Nets(
        nodes=circuit.nodes,
        a=np.array([[b.a for b in circuit.branches]], dtype=np.intp),
        b=np.array([[b.b for b in circuit.branches]], dtype=np.intp),
        siemens=siemens.reshape(sets, len(circuit.branches)),
        at=np.array([[x.at for x in loads]], dtype=np.intp),
        load_siemens=load_siemens.reshape(sets, len(loads)),
        load_amps=load_amps.reshape(sets, len(loads)),
        supply_v=supply_v,
        source_ohms=float(source_ohms),
        low=circuit.low,
        low_v=None if circuit.low == GROUND else np.full(sets, float(low_v)),
    )


def nominal_nets(
    circuit: Circuit,
    supply_v: float,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    low_v: float = 0.0,
) -> Nets:
    """Return the one set of values a circuit has when nothing deviates.

    Parameters
    ----------
    supply_v, source_ohms
        V (of a current source, A) and Ω inside it.
    loads : Sequence[Load]
        What hangs from nodes to 0 V, Ω or A.
    low_v : float
        What the supply's low end lies at, V, in a circuit in which it is a node of its own.

    Raises
    ------
    DomainError
        For a negative source resistance.
    """
    siemens = np.array([[1 / b.ohms for b in circuit.branches]])
    supply = np.array([float(supply_v)])
    return nets_of(circuit, siemens, supply, source_ohms, loads, low_v=low_v)


def reached_nodes(circuit: Circuit, start: Collection[int]) -> BoolArray:
    """Return which nodes have a conducting way to one of `start`, (nodes,).

    Parameters
    ----------
    start : Collection[int]
        Nodes reached to begin with.
    """
    reached = np.zeros(circuit.nodes, dtype=np.bool_)
    reached[list(distances(circuit.branches, start))] = True
    return reached
