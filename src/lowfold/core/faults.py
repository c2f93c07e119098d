"""Each part open and each part shorted, one at a time: what the outputs do and what burns.

A leg that fails open or short decides what it feeds sees; it is looked at in the nominal circuit.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

from lowfold.core.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.solve import Load, Solution, solve

__all__ = ["MOST_FAULTED", "Fault", "part_faults"]

MOST_FAULTED: Final = 60  #: parts of a network whose faults are looked at within a second


@dataclass(frozen=True, slots=True)
class Fault:
    """One part failed."""

    ref: str
    mode: Literal["open", "short"]
    voltages: tuple[float | None, ...]  #: by junction; None where there is no telling
    overloaded: tuple[str, ...]  #: parts above their derated rating
    supply_shorted: bool


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
            gone = 0.0 if source_ohms else None
            voltages = (0.0, *[gone] * (circuit.nodes - 1))
            found.append(Fault(branch.ref, "short", voltages, (), supply_shorted=True))
            continue
        found.append(
            _shorted(branch.ref, opened, low, high, supply_volts, source_ohms, loads, others)
        )
    return tuple(found)


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
    solution = solve(circuit, supply_volts, source_ohms, fed)
    voltages = tuple(
        0.0 if node in held else _finite(v) for node, v in enumerate(solution.voltages)
    )
    return Fault(ref, "open", voltages, _hot(solution, rated), supply_shorted=False)


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

    joined = replace(
        circuit,
        branches=tuple(replace(b, a=moved(b.a), b=moved(b.b)) for b in circuit.branches),
    )
    solution = solve(joined, supply_volts, source_ohms, [replace(x, at=moved(x.at)) for x in loads])
    voltages = tuple(_finite(solution.voltages[moved(n)]) for n in range(circuit.nodes))
    return Fault(ref, "short", voltages, _hot(solution, rated), supply_shorted=False)


def _hot(solution: Solution, rated: Sequence[float | None]) -> tuple[str, ...]:
    pairs = zip(solution.parts, rated, strict=True)
    return tuple(p.ref for p, most in pairs if most is not None and p.watts > most)


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None
