"""Each part open and shorted, each output shorted, one at a time: what it does and what burns.

A leg that fails open or short decides what it feeds sees; it is looked at in the nominal circuit.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

import numpy as np
import numpy.typing as npt

from lowfold.core.checking.verdict import ROUNDING
from lowfold.core.network.circuit import GROUND, Circuit
from lowfold.core.solving.nets import Load, Nets
from lowfold.core.solving.nodes import potentials, supply_resistance

__all__ = [
    "MODES",
    "MOST_FAULTED",
    "Fault",
    "Mode",
    "faulted_ohms",
    "faults_of",
]

FloatArray = npt.NDArray[np.float64]

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
    watts: tuple[float, ...] = ()  #: of each part then, as they come in the circuit

    def rated(self, refs: Sequence[str], most: Sequence[float | None]) -> Fault:
        """Return the fault with those parts named that take more than their rating.

        Parameters
        ----------
        refs : sequence of str
            The parts as they come in the circuit.
        most : sequence of float or None
            The rating of each, derated, W; None is not judged.
        """
        hot = tuple(
            ref
            for ref, watts, limit in zip(refs, self.watts, most, strict=True)
            if limit is not None and watts > limit
        )
        return replace(self, overloaded=hot)

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
    """Return the resistance between the supply's ends with one part failed, Ω; inf where open.

    Parameters
    ----------
    place : int
        Position of the part among the branches.
    mode : Mode
        Open or shorted.
    loads : Sequence[Load]
        What hangs from nodes to 0 V, Ω or A.
    """
    branch = circuit.branches[place]
    kept = replace(circuit, branches=circuit.branches[:place] + circuit.branches[place + 1 :])
    if mode == "open":
        return supply_resistance(kept, loads)
    low, high = _kept(circuit, branch.a, branch.b)
    if {low, high} <= circuit.ends:
        return 0.0

    def moved(node: int) -> int:
        return low if node == high else node

    joined = tuple(replace(b, a=moved(b.a), b=moved(b.b)) for b in kept.branches)
    hung = [replace(x, at=moved(x.at)) for x in loads]
    beside = [x for x in hung if x.at != GROUND]
    return supply_resistance(replace(circuit, branches=joined), beside)


def _kept(circuit: Circuit, a: int, b: int) -> tuple[int, int]:
    """Return two junctions that become one: that which is kept first, an end of the supply."""
    one, two = sorted((a, b), key=lambda n: (n not in circuit.ends, n))
    return one, two


def faults_of(
    circuits: Sequence[Circuit],
    nodes: Mapping[str, int],
    nets: Nets,
) -> list[tuple[tuple[Fault, ...], tuple[Fault, ...]]]:
    """Return every single part open and shorted, and every output shorted to 0 V, of each circuit.

    One elimination takes all of them: an open part conducts nothing, a short makes two junctions
    one.

    Parameters
    ----------
    circuits : sequence of Circuit
        With their branches between the same nodes.
    nodes : mapping of output to node
    nets : Nets
        Every circuit at its nominal values, a set each.

    Returns
    -------
    list of (faults of parts, outputs shorted)
        For each circuit, nothing judged by a rating.

    Notes
    -----
    A short across an ideal supply, or between two, leaves the voltages without a value; with
    resistance inside the one there is, everything falls to 0 V. A junction that hangs on nothing
    but a current load is held at 0 V.
    """
    sets, branches = nets.siemens.shape
    joins: list[tuple[int, int]] = []  # the junction kept, and the one that becomes it
    opened: list[int] = []
    for branch in circuits[0].branches:
        low, high = _kept(circuits[0], branch.a, branch.b)
        opened += [len(opened) // 2, -1]
        joins += [(GROUND, GROUND), (low, high)]
    for node in nodes.values():
        opened.append(-1)
        joins.append((GROUND, node))
    given = circuits[0].ends
    whole = [k for k, (a, b) in enumerate(joins) if a != b and {a, b} <= given]
    solved = [k for k in range(len(joins)) if k not in whole]
    count = len(solved)
    if not count:
        solved_gaps = np.zeros((sets, 0, nets.nodes))
        watts = np.zeros((sets, 0, branches))
    else:
        to = np.tile(np.arange(nets.nodes), (count, 1))
        siemens = np.repeat(nets.siemens[:, None], count, axis=1)
        for row, k in enumerate(solved):
            low, high = joins[k]
            to[row, high] = low
            if opened[k] >= 0:
                siemens[:, row, opened[k]] = 0.0

        def each(values: FloatArray) -> FloatArray:
            return np.repeat(values[:, None], count, axis=1).reshape(
                sets * count, *values.shape[1:]
            )

        ends = [np.tile(to[:, at[0]], (sets, 1)) for at in (nets.a, nets.b, nets.at)]
        many = replace(
            nets,
            a=ends[0],
            b=ends[1],
            at=ends[2],
            siemens=siemens.reshape(sets * count, branches),
            load_siemens=each(nets.load_siemens),
            load_amps=each(nets.load_amps),
            supply_v=each(nets.supply_v),
            low_v=None if nets.low_v is None else each(nets.low_v),
        )
        gaps, _ = potentials(many)
        rows = np.arange(sets * count)[:, None]
        across = np.nan_to_num(gaps[rows, many.a, many.b])
        watts = (across**2 * many.siemens).reshape(sets, count, branches)
        solved_gaps = np.take_along_axis(
            gaps[:, :, GROUND], np.tile(to, (sets, 1)), axis=1
        ).reshape(sets, count, nets.nodes)
    gone = 0.0 if nets.source_ohms and nets.low == GROUND else None
    dead = (0.0, *[gone] * (nets.nodes - 1))
    found = []
    for of, circuit in enumerate(circuits):
        names = [(b.ref, mode) for b in circuit.branches for mode in MODES]
        named: list[tuple[str, Mode]] = [*names, *((at, "short") for at in nodes)]
        faults = []
        rows_of = {k: row for row, k in enumerate(solved)}
        volts, taken = solved_gaps[of].tolist(), watts[of].tolist()
        for k, (ref, mode) in enumerate(named):
            if k in rows_of:
                row = rows_of[k]
                there = tuple(v if math.isfinite(v) else None for v in volts[row])
                hot = tuple(taken[row])
                faults.append(Fault(ref, mode, there, (), supply_shorted=False, watts=hot))
            else:
                none = (0.0,) * branches
                faults.append(Fault(ref, mode, dead, (), supply_shorted=True, watts=none))
        found.append((tuple(faults[: 2 * branches]), tuple(faults[2 * branches :])))
    return found
