"""A board as somebody may have built it: parts drawn within tolerance, and perhaps a fault."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from lowfold.core.bench.built_board import COLD_JOINT_OHMS, BuiltBoard, drawn_within
from lowfold.core.bench.models import BENCH, MeterModel
from lowfold.core.bench.points import THE_SUPPLY, Kind, Point, point_named
from lowfold.core.bench.suspects import SHORT_OHMS
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch, Circuit, build_circuit, junctions
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.values.quantities import OHM, read

__all__ = ["Board", "NotBetweenThem", "drawn_board"]

BRIDGE: Final = "the bridge"


class NotBetweenThem(DomainError):
    """Between the probes there is not one thing that a current could be read of."""


class Board(BuiltBoard):
    """A built board whose junctions and parts a meter's probes are put to by name."""

    def point(self, kind: Kind, probes: Sequence[str]) -> Point:
        """Return where a meter measures with its probes at such names.

        A current is read in series with what lies between the probes: the supply between its own
        ends, else the one part there.

        Parameters
        ----------
        kind : str
        probes : sequence of str
            Two junctions; or one part, or `supply`.

        Raises
        ------
        NotBetweenThem
            For a current, where there is no one part between the probes.
        LowfoldError
            For a name that the board has not.
        """
        circuit = self.box.circuit
        if len(probes) == 1:
            (name,) = probes
            if kind == "voltage" and name.casefold() == THE_SUPPLY:
                return Point("voltage", at=SUPPLY)
            lead = {"voltage": "across", "current": "through", "resistance": "part"}[kind]
            return point_named(circuit, kind, **{lead: name})
        both = point_named(circuit, "voltage", at=probes[0], against=probes[1])
        if kind != "current":
            return Point(kind, at=both.at, against=both.against)
        ends = {both.at, both.against}
        if ends == {GROUND, SUPPLY}:
            return Point("current", supply=True)
        between = [k for k, b in enumerate(circuit.branches) if {b.a, b.b} == ends]
        if len(between) != 1 or circuit.branches[between[0]].ref == BRIDGE:
            msg = (
                f"{len(between) or 'no'} parts lie between {probes[0]} and {probes[1]}: put the "
                "probe to one part by its name"
            )
            raise NotBetweenThem(msg)
        return Point("current", part=between[0])


def drawn_board(
    network: str,
    supply_volts: float,
    *,
    tolerance: float = 0.05,
    seed: int = 0,
    fault: str = "",
    source_ohms: float = 0.0,
    loads: Sequence[tuple[str, float]] = (),
    model: MeterModel = BENCH,
) -> Board:
    """Return a board with its parts drawn, evenly within their tolerance.

    Parameters
    ----------
    network : str
        As typed.
    supply_volts : float
        V, exact.
    tolerance : float
        Fraction.
    seed : int
        The same seed gives the same board.
    fault : str
        `R4 open`, `R4 short`, `R4 470k`, `R2 R3 swapped`, `A 0 bridge`; empty for none.
    source_ohms : float
        Resistance inside the supply, Ω.
    loads : sequence of (str, float)
        Junctions, and what hangs there, Ω.
    model : MeterModel
        What it is measured with.

    Raises
    ------
    LowfoldError
        Where the network or the fault is not understood.
    """
    circuit = build_circuit(read_text(network))
    drawn = drawn_within(_with_fault(circuit, fault), tolerance, np.random.default_rng(seed))
    hung = tuple(
        LoadRange(Load(circuit.node(at, field="loads"), ohms=ohms), ohms, ohms)
        for at, ohms in loads
    )
    supply = Supply(supply_volts, 0.0, source_ohms)
    return Board(Box(drawn, supply, hung, (0.0,) * len(drawn.branches)), model, seed)


def _with_fault(circuit: Circuit, fault: str) -> Circuit:
    words = fault.replace(" and ", " ").split()
    if not words:
        return circuit
    try:
        match words:
            case [one, other, ("swapped" | "bridge") as what]:
                return _between(circuit, one, other, what)
            case [ref, what]:
                ohms = {"open": COLD_JOINT_OHMS, "short": SHORT_OHMS}.get(what) or read(what, OHM)
                return _changed(circuit, {circuit.branch(ref): ohms})
    except LowfoldError as error:
        msg = f"the fault “{fault}” does not fit: {error.message}"
        raise DomainError(msg, field="fault") from error
    msg = (
        f"the fault “{fault}” is not understood: write R4 open, R4 short, R4 470k, R2 R3 swapped, "
        "or A 0 bridge"
    )
    raise DomainError(msg, field="fault")


def _changed(circuit: Circuit, ohms: dict[int, float]) -> Circuit:
    branches = [*circuit.branches]
    for place, value in ohms.items():
        branches[place] = replace(branches[place], ohms=value)
    return replace(circuit, branches=tuple(branches))


def _between(circuit: Circuit, one: str, other: str, what: str) -> Circuit:
    if what == "swapped":
        a, b = circuit.branch(one), circuit.branch(other)
        here, there = circuit.branches[a].ohms, circuit.branches[b].ohms
        return _changed(circuit, {a: there, b: here})
    named = replace(circuit, names=junctions(circuit))
    bridge = Branch(BRIDGE, named.node(one), named.node(other), SHORT_OHMS)
    return replace(circuit, branches=(*circuit.branches, bridge))
