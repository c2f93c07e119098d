"""What a network of any need works under, and what is wanted of it."""

from __future__ import annotations

import math
from collections.abc import Hashable
from dataclasses import dataclass

from lowfold.core.checking.check import Demand, Demands
from lowfold.core.checking.survey import Asked
from lowfold.core.network.circuit import Circuit, build_circuit, lifted
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element
from lowfold.core.parts.limits import PartLimits, half_width
from lowfold.core.solving.nets import Load
from lowfold.core.tokens.loads import LoadToken
from lowfold.core.tokens.parts import Parts
from lowfold.core.tokens.reading import STIFF
from lowfold.core.tolerance.box import Box, LoadRange, Supply

__all__ = ["Conditions", "Wanted", "load_range"]

#: What drives a network whose brief states no use: its resistance is asked for, its power is not.
UNSTATED = Supply(1.0)


@dataclass(frozen=True, slots=True)
class Wanted:
    """A figure that is wanted of a network: a junction's voltage, or the whole's resistance."""

    at: str  #: junction; empty for the resistance between the supply's ends
    target: float  #: V or Ω
    within: float  #: fraction

    @property
    def demand(self) -> Demand:
        return Demand(self.target, self.within)


def load_range(token: LoadToken, node: int) -> LoadRange:
    """Return the load that a token states, hung from `node`.

    Parameters
    ----------
    token : LoadToken
        The load as typed.
    node : int
        Index of the junction.
    """
    return LoadRange(Load(node, ohms=token.ohms, amps=token.amps), token.low, token.high)


@dataclass(frozen=True, slots=True, kw_only=True)
class Conditions:
    """What surrounds a network, what may vary of it, and what is wanted."""

    supply: Supply | None  #: None where the brief states no use
    wanted: tuple[Wanted, ...]
    parts: Parts
    loads: tuple[tuple[str, LoadToken], ...] = ()  #: junction, and what it feeds
    closed: tuple[str, ...] = ()  #: switches
    stands: float | None = None  #: what the outputs feed stands, V
    stiff: float | None = STIFF  #: times the load's current; None where the load is always there
    in_place_ohms: float | None = None  #: of a part that is there already and was measured
    faults: bool = True  #: whether single faults are looked at

    @property
    def outputs(self) -> tuple[Wanted, ...]:
        """Return the voltages that are wanted."""
        return tuple(w for w in self.wanted if w.at)

    @property
    def whole(self) -> Wanted | None:
        """Return the resistance that is wanted."""
        return next((w for w in self.wanted if not w.at), None)

    @property
    def stiff_ohms(self) -> float | None:
        """Return the most that a string across the supply may have to be stiff, Ω.

        It carries ten times what its loads draw at their heaviest, and that as well (common
        practice); None where nothing is loaded, or the load is always there.
        """
        drawn = self.drawn_amps
        if self.supply is None or self.stiff is None or drawn <= 0:
            return None
        return (self.supply.volts - self.supply.low_volts) / ((self.stiff + 1) * drawn)

    @property
    def drawn_amps(self) -> float:
        """Return what the loads draw at their heaviest, each at its wanted voltage, A."""
        volts = {w.at: abs(w.target) for w in self.outputs}
        ends = ((volts.get(at, 0.0), *token.heaviest) for at, token in self.loads)
        return math.fsum(v * siemens + amps for v, siemens, amps in ends)

    @property
    def asked(self) -> Asked:
        """Return what is looked at."""
        return Asked(
            outputs=tuple(w.at for w in self.outputs),
            resistance=self.whole is not None,
            faults=self.faults,
            loads=bool(self.wanted),
            lines=len(self.outputs) == 1 == len(self.wanted),
        )

    @property
    def solved_by(self) -> Hashable:
        """Return all that a survey follows from beside the network: nothing that is demanded."""
        p = self.parts
        varies = (p.tolerance, p.tcr_ppm, p.drift, p.environment.largest_dt, p.own, p.ratio)
        return (self.supply, self.loads, self.closed, self.asked, self.in_place_ohms, varies)

    def circuit_of(self, network: Element | Netlist) -> Circuit:
        """Return a network laid out under these conditions: switches thrown, its low end lifted.

        Raises
        ------
        TopologyError
            If it cannot be laid out.
        """
        supply = self.supply or UNSTATED
        return lifted(build_circuit(network, self.closed), supply.low_volts)

    def loads_of(self, circuit: Circuit) -> tuple[LoadRange, ...]:
        """Return the loads where they hang in a circuit.

        Raises
        ------
        TopologyError
            If it lacks a junction.
        """
        return tuple(load_range(x, circuit.node(at, field="choice")) for at, x in self.loads)

    def limits_of(self, circuit: Circuit) -> tuple[PartLimits, ...]:
        """Return what each part of a circuit is sold under; one in place is what it measures."""
        own, others = self.parts.limits_of(circuit), self.parts.limits
        found = [own.get(b.ref, others) for b in circuit.branches]
        there = (k for k, b in enumerate(circuit.branches) if b.ohms == self.in_place_ohms)
        if (place := next(there, None)) is not None:
            found[place] = others.measured()
        return tuple(found)

    def box_of(self, circuit: Circuit) -> Box:
        """Return everything that may vary of a circuit under these conditions."""
        dt = self.parts.environment.largest_dt
        limits = self.limits_of(circuit)
        each = {p: half_width(p.tolerance, p.tcr_ppm, dt, p.drift) for p in {*limits}}
        halves = tuple(each[p] for p in limits)
        supply = self.supply or UNSTATED
        return Box(circuit, supply, self.loads_of(circuit), halves, self.parts.tracking)

    def demands_on(self, circuit: Circuit) -> Demands:
        """Return what is demanded of a circuit."""
        return Demands(
            outputs=tuple(w.demand for w in self.outputs),
            stands=tuple(self.stands for _ in self.outputs),
            resistance=self.whole.demand if self.whole else None,
            limits=self.limits_of(circuit),
            high_c=self.parts.environment.high_c,
            stress=self.parts.stress,
            driven=self.supply is not None,
        )
