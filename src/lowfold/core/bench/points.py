"""Where a meter is put: between two junctions, in series with a part or the supply, across a part.

Every point is a circuit with the meter in it, and what is asked of that circuit.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final, Literal

from lowfold.core.bench.models import Measured
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch, Circuit, junctions
from lowfold.core.solving.nets import FloatArray, Load, nominal_nets
from lowfold.core.solving.nodes import potentials
from lowfold.core.tolerance.box import Box, LoadRange

__all__ = [
    "THE_SUPPLY",
    "Kind",
    "Point",
    "careful_round",
    "name_of",
    "nominal_gaps",
    "point_named",
    "with_ammeter",
    "with_voltmeter",
    "words_of",
]

Kind = Literal["voltage", "current", "resistance"]

THE_SUPPLY: Final = "supply"  #: what the supply's own current goes by, in place of a designator
METER: Final = "the meter"
#: Share of the smallest part that stands for no resistance at all: below a double's last place.
NOTHING: Final = 1e-17


@dataclass(frozen=True, slots=True)
class Point:
    """Where and what is measured."""

    kind: Kind
    at: int = GROUND  #: the first lead's node, of a voltage and of a resistance in circuit
    against: int = GROUND  #: the second lead's
    part: int | None = None  #: position of a part lifted out, or that the meter is in series with
    supply: bool = False  #: the meter is in series with the supply

    @property
    def measured(self) -> Measured:
        """Return which of a meter's ranges it is read on."""
        kinds: dict[Kind, Measured] = {
            "voltage": "volts", "current": "amps", "resistance": "ohms"
        }  # fmt: skip
        return kinds[self.kind]


def point_named(
    circuit: Circuit,
    kind: Kind,
    *,
    at: str | None = None,
    against: str | None = None,
    across: str | None = None,
    through: str | None = None,
    part: str | None = None,
) -> Point:
    """Return the point that names tell.

    Parameters
    ----------
    kind : str
        `voltage`, `current` or `resistance`.
    at, against : str, optional
        Junctions of a voltage or of a resistance in circuit; against 0 unless said.
    across : str, optional
        A part, for the voltage from its first-named end to its second.
    through : str, optional
        A part, or `supply`, that a current goes through.
    part : str, optional
        A part, lifted out for its resistance.

    Raises
    ------
    TopologyError
        For a name that the circuit has not.
    """
    if kind == "current":
        if (through or "").strip().casefold() == THE_SUPPLY:
            return Point("current", supply=True)
        return Point("current", part=circuit.branch(through or ""))
    if part is not None:
        return Point("resistance", part=circuit.branch(part))
    if across is not None:
        branch = circuit.branches[circuit.branch(across)]
        return Point("voltage", at=branch.a, against=branch.b)
    named = replace(circuit, names=junctions(circuit))
    # A meter's black lead is at 0 V; out of power the network has its own low end.
    unstated = GROUND if kind == "voltage" else circuit.low
    other = unstated if against is None else named.node(against)
    return Point(kind, at=named.node(at or ""), against=other)


@lru_cache(maxsize=8)
def nominal_gaps(box: Box) -> FloatArray:
    """Return V of every node above every other with nothing off, (nodes, nodes); NaN unjoined."""
    supply = box.supply
    nets = nominal_nets(
        box.circuit, supply.volts, supply.source_ohms, box.nominal_loads, supply.low_volts
    )
    gaps: FloatArray = potentials(nets)[0][0]
    return gaps


def careful_round(box: Box) -> Iterator[Point]:
    """Yield what a careful person measures, in that order (common practice).

    Each part out of circuit, each junction from the supply down, the supply's current.

    Parameters
    ----------
    box : Box
        Its nominal voltages give the order of the junctions.
    """
    circuit = box.circuit
    for place in range(len(circuit.branches)):
        yield Point("resistance", part=place)
    volts = nominal_gaps(box)[:, GROUND]
    found = set(junctions(circuit).values()) - {GROUND}

    def down(node: int) -> tuple[bool, float, int]:
        known = volts[node] == volts[node]
        return node != SUPPLY, -abs(volts[node]) if known else 0.0, node

    for node in sorted(found, key=down):
        yield Point("voltage", at=node)
    yield Point("current", supply=True)


def with_voltmeter(box: Box, point: Point, ohms: float | None) -> Box:
    """Return a box with a voltmeter's input between two nodes.

    Parameters
    ----------
    point : Point
        A voltage.
    ohms : float or None
        Of its input, Ω; None is none at all.
    """
    if ohms is None or point.at == point.against:
        return box
    return _with(box, Branch(METER, point.at, point.against, ohms))


def with_ammeter(box: Box, point: Point, ohms: float) -> tuple[Box, int, tuple[int, int]]:
    """Return a box with an ammeter in series, the branch whose current it reads, and its nodes.

    The current counts as positive from the first of the nodes to the second.

    Parameters
    ----------
    point : Point
        A current.
    ohms : float
        The meter's burden, Ω.
    """
    circuit = box.circuit
    if point.part is not None:
        branch = circuit.branches[point.part]
        if not ohms:
            return box, point.part, (branch.a, branch.b)
        opened = replace(branch, b=circuit.nodes)
        branches = [*circuit.branches]
        branches[point.part] = opened
        wider = replace(circuit, branches=tuple(branches), nodes=circuit.nodes + 1)
        meter = Branch(METER, opened.b, branch.b, ohms)
        return _with(replace(box, circuit=wider), meter), point.part, (opened.a, opened.b)
    # What is in series with the supply carries its whole current: source and burden as one branch
    inner = circuit.nodes
    series = box.supply.source_ohms + ohms or NOTHING * min(b.ohms for b in circuit.branches)

    def moved(node: int) -> int:
        return inner if node == SUPPLY else node

    wider = replace(
        circuit,
        branches=tuple(replace(b, a=moved(b.a), b=moved(b.b)) for b in circuit.branches),
        nodes=circuit.nodes + 1,
    )
    loads = tuple(
        LoadRange(Load(moved(r.load.at), ohms=r.load.ohms, amps=r.load.amps), r.low, r.high)
        for r in box.loads
    )
    supply = replace(box.supply, source_ohms=0.0)
    fed = replace(box, circuit=wider, loads=loads, supply=supply)
    return _with(fed, Branch(METER, SUPPLY, inner, series)), len(circuit.branches), (SUPPLY, inner)


def _with(box: Box, branch: Branch) -> Box:
    """Return a box with one branch more, that does not vary."""
    circuit = replace(box.circuit, branches=(*box.circuit.branches, branch))
    return replace(box, circuit=circuit, half_widths=(*box.half_widths, 0.0))


def name_of(circuit: Circuit, node: int) -> str:
    """Return what a node goes by, as `junctions` has it.

    Parameters
    ----------
    node : int
    """
    return next(name for name, number in junctions(circuit).items() if number == node)


def words_of(circuit: Circuit, point: Point) -> str:
    """Say where and what is measured."""
    if point.supply:
        return "the supply's current"
    if point.part is not None:
        ref = circuit.branches[point.part].ref
        return f"{ref}, lifted out" if point.kind == "resistance" else f"the current through {ref}"
    at, against = name_of(circuit, point.at), name_of(circuit, point.against)
    if point.kind == "resistance":
        return f"the resistance from {at} to {against}, the supply disconnected"
    return f"{at} against {against}"
