"""Each part open and shorted, each output shorted, one at a time: what it does and what burns.

A leg that fails open or short decides what it feeds sees; it is looked at in the nominal circuit.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

from lowfold.core.checking.verdict import ROUNDING
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.solving.nodes import Load, nominal_nets, potentials, supply_resistance

__all__ = [
    "MODES",
    "MOST_FAULTED",
    "Fault",
    "Mode",
    "faulted_ohms",
    "output_shorted",
    "part_faults",
]

Mode = Literal["open", "short"]
MODES: Final[tuple[Mode, ...]] = ("open", "short")

MOST_FAULTED: Final = 60  #: parts of a network whose faults are looked at within a second


@dataclass(frozen=True, slots=True)
class Fault:
    """One part failed, or one output shorted to 0 V."""

    ref: str  #: the part, or the output
    mode: Mode
    voltages: tuple[float | None, ...]  #: by junction; None where there is no telling
    overloaded: tuple[str, ...]  #: parts above their derated rating
    supply_shorted: bool

    def above(self, limits: Mapping[int, float]) -> tuple[int, ...]:
        """Return the junctions at which what they feed sees more than it stands.

        Parameters
        ----------
        limits : mapping of junction to V
            What is connected there stands, of either sign.
        """
        return tuple(
            node
            for node, most in limits.items()
            if (volts := self.voltages[node]) is not None and abs(volts) > most * (1 + ROUNDING)
        )


def faulted_ohms(circuit: Circuit, place: int, mode: Mode, loads: Sequence[Load] = ()) -> float:
    """Return the resistance between the supply's ends with one part failed, Ω; inf where open."""
    branch = circuit.branches[place]
    kept = replace(circuit, branches=circuit.branches[:place] + circuit.branches[place + 1 :])
    if mode == "open":
        return supply_resistance(kept, loads)
    low, high = sorted((branch.a, branch.b))
    if (low, high) == (GROUND, SUPPLY):
        return 0.0
    moved = [replace(x, at=low) if x.at == high else x for x in loads]
    beside = [x for x in moved if x.at != GROUND]
    return supply_resistance(_joined(kept, low, high), beside)


def _joined(circuit: Circuit, low: int, high: int) -> Circuit:
    """Return the circuit with the node `high` become `low`."""

    def moved(node: int) -> int:
        return low if node == high else node

    branches = tuple(replace(b, a=moved(b.a), b=moved(b.b)) for b in circuit.branches)
    return replace(circuit, branches=branches)


def output_shorted(
    name: str,
    circuit: Circuit,
    node: int,
    supply_volts: float,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    rated_watts: Sequence[float | None] = (),
) -> Fault:
    """Return what a short from the output `name` at `node` to 0 V does.

    See `part_faults` for the parameters.
    """
    rated = list(rated_watts) or [None] * len(circuit.branches)
    if node == SUPPLY:
        return _supply_shorted(name, circuit, source_ohms)
    if node == GROUND:
        voltages, hot = _state(circuit, supply_volts, source_ohms, loads, rated)
        return Fault(name, "short", voltages, hot, supply_shorted=False)
    return _shorted(name, circuit, GROUND, node, supply_volts, source_ohms, loads, rated)


def part_faults(
    circuit: Circuit,
    supply_volts: float,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    rated_watts: Sequence[float | None] = (),
) -> tuple[Fault, ...]:
    """Return every single part open and shorted.

    Parameters
    ----------
    rated_watts : sequence of float or None
        Of each branch, derated; None is not judged.

    Notes
    -----
    A short across an ideal supply leaves its voltage without a value; with resistance inside it,
    everything falls to 0 V. A junction that hangs on nothing but a current load is held at 0 V.
    """
    rated = list(rated_watts) or [None] * len(circuit.branches)
    found = []
    for place, branch in enumerate(circuit.branches):
        kept = circuit.branches[:place] + circuit.branches[place + 1 :]
        others = rated[:place] + rated[place + 1 :]
        opened = replace(circuit, branches=kept)
        found.append(_opened(branch.ref, opened, supply_volts, source_ohms, loads, others))
        low, high = sorted((branch.a, branch.b))
        if (low, high) == (GROUND, SUPPLY):
            found.append(_supply_shorted(branch.ref, circuit, source_ohms))
            continue
        found.append(
            _shorted(branch.ref, opened, low, high, supply_volts, source_ohms, loads, others)
        )
    return tuple(found)


def _supply_shorted(ref: str, circuit: Circuit, source_ohms: float) -> Fault:
    gone = 0.0 if source_ohms else None
    return Fault(ref, "short", (0.0, *[gone] * (circuit.nodes - 1)), (), supply_shorted=True)


def _opened(
    ref: str,
    circuit: Circuit,
    supply_volts: float,
    source_ohms: float,
    loads: Sequence[Load],
    rated: Sequence[float | None],
) -> Fault:
    held = {x.at for x in loads if x.amps is not None and not _hangs(circuit, x.at)}
    fed = [x for x in loads if x.amps is None or x.at not in held]
    voltages, hot = _state(circuit, supply_volts, source_ohms, fed, rated)
    voltages = tuple(0.0 if node in held else v for node, v in enumerate(voltages))
    return Fault(ref, "open", voltages, hot, supply_shorted=False)


def _hangs(circuit: Circuit, node: int) -> bool:
    """Whether a junction has a conducting way to the supply or its return."""
    found, waiting = {node}, [node]
    while waiting:
        here = waiting.pop()
        for b in circuit.branches:
            for one, two in ((b.a, b.b), (b.b, b.a)):
                if one == here and two not in found:
                    found.add(two)
                    waiting.append(two)
    return bool(found & {GROUND, SUPPLY})


def _shorted(
    ref: str,
    circuit: Circuit,
    low: int,
    high: int,
    supply_volts: float,
    source_ohms: float,
    loads: Sequence[Load],
    rated: Sequence[float | None],
) -> Fault:
    def moved(node: int) -> int:
        return low if node == high else node

    joined = _joined(circuit, low, high)
    moved_loads = [replace(x, at=moved(x.at)) for x in loads]
    voltages, hot = _state(joined, supply_volts, source_ohms, moved_loads, rated)
    everywhere = tuple(voltages[moved(n)] for n in range(circuit.nodes))
    return Fault(ref, "short", everywhere, hot, supply_shorted=False)


def _state(
    circuit: Circuit,
    supply_volts: float,
    source_ohms: float,
    loads: Sequence[Load],
    rated: Sequence[float | None],
) -> tuple[tuple[float | None, ...], tuple[str, ...]]:
    """Return every junction's voltage, None where there is none, and the parts too hot."""
    gaps = potentials(nominal_nets(circuit, supply_volts, source_ohms, loads))[0][0]
    voltages = tuple(v if math.isfinite(v) else None for v in gaps[:, GROUND].tolist())
    hot = tuple(
        b.ref
        for b, most in zip(circuit.branches, rated, strict=True)
        if most is not None and gaps[b.a, b.b] ** 2 / b.ohms > most
    )
    return voltages, hot
