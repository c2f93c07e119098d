"""A part whose value is not known, from one figure that is: then the standard values around it."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import Circuit, build_circuit, lifted
from lowfold.core.network.notation import read_open
from lowfold.core.solving.solution import solve

__all__ = ["Known", "Nearest", "Unknown", "find_unknown", "read_unknown"]


LEAST, MOST = 1e-6, 1e12  #: Ω, where a part may lie
AROUND: Final = 2  #: standard values named on either side


@dataclass(frozen=True, slots=True)
class Known:
    """The figure that is known: the total resistance, the supply's current, or a node's voltage."""

    kind: Literal["total_ohm", "supply_a", "node"]
    value: float
    at: str = ""  #: the node


@dataclass(frozen=True, slots=True)
class Nearest:
    """A standard value with what the known figure would become."""

    ohms: float
    gives: float
    error: float  #: gives / known − 1


@dataclass(frozen=True, slots=True)
class Unknown:
    ref: str
    ohms: float
    nearest: tuple[Nearest, ...]


def read_unknown(text: str) -> tuple[Circuit, int]:
    """Read a network with one value written `?`; return its circuit and that branch's position.

    Parameters
    ----------
    text : str
        As typed.

    Raises
    ------
    NotationError
        If there is not exactly one `?`, or the rest cannot be read.
    """
    network, ref = read_open(text)
    circuit = build_circuit(network)
    return circuit, circuit.branch(ref)


def find_unknown(
    circuit: Circuit,
    position: int,
    known: Known,
    values: Sequence[float],
    supply_volts: float = 0.0,
    source_ohms: float = 0.0,
    low_volts: float = 0.0,
) -> Unknown:
    """Return the value of the branch at `position` that gives the known figure.

    Every figure is monotonic in one resistance (a bilinear ratio), so there is at most one.

    Parameters
    ----------
    values : sequence of float
        Standard values, rising, Ω.
    position : int
        Where the ? stands in the text.
    known : Known
        The figure that is known.
    supply_volts : float
        EMF of the supply, V.
    source_ohms : float
        Ω inside the supply.
    low_volts : float
        What the circuit's node `0` lies at, V.

    Raises
    ------
    DomainError
        Saying between what the figure can lie, if no value gives it.
    """
    figure = _figure(
        lifted(circuit, low_volts), position, known, (supply_volts, source_ohms, low_volts)
    )
    ends = (figure(LEAST), figure(MOST))
    low, high = sorted(ends)
    field = "node.v" if known.kind == "node" else known.kind
    ref = circuit.branches[position].ref
    if math.isinf(low):
        msg = f"nothing conducts between the supply's ends, whatever {ref} is"
        raise DomainError(msg, field=field)
    if low == high or math.isclose(low, high, rel_tol=1e-12):
        msg = f"{known.kind} is {low + 0.0:.6g} whatever {ref} is: another figure is needed"
        raise DomainError(msg, field=field)
    if not low <= known.value <= high:
        msg = (
            f"whatever {ref} is, {known.kind} lies between {low:.6g} and {high:.6g}; "
            f"{known.value:.6g} does not"
        )
        raise DomainError(msg, field=field)
    ohms = _at_an_end(figure, known.value)
    if ohms is None:
        ohms = _found(figure, known.value)
    at = sum(v < ohms for v in values)
    around = list(values[max(at - AROUND, 0) : at + AROUND])
    nearest = sorted(
        (Nearest(v, figure(v), _error(figure(v), known.value)) for v in around),
        key=lambda n: abs(math.log(n.ohms / ohms)),
    )
    return Unknown(ref, ohms, tuple(nearest))


def _at_an_end(figure: Callable[[float], float], wanted: float) -> float | None:
    """Return the end of what a part may be that gives the figure but for rounding, if one does."""
    ends = (LEAST, MOST)
    return next((x for x in ends if math.isclose(figure(x), wanted, rel_tol=1e-12)), None)


def _found(figure: Callable[[float], float], wanted: float) -> float:
    # Imported here: half a second of every start that only this search needs.
    from scipy.optimize import brentq  # noqa: PLC0415

    log = brentq(
        lambda x: figure(math.exp(x)) - wanted,
        math.log(LEAST),
        math.log(MOST),
        xtol=1e-15,
        rtol=1e-15,
    )
    return _polished(figure, math.exp(log), wanted)


def _error(gives: float, known: float) -> float:
    return gives / known - 1 if known else math.copysign(math.inf, gives) if gives else 0.0


def _polished(figure: Callable[[float], float], ohms: float, wanted: float) -> float:
    """Take one step along the secant in 1/R and R, which are straight lines of the figure."""
    step = 1e-6
    slope = (figure(ohms * (1 + step)) - figure(ohms * (1 - step))) / (2 * step)
    if not slope:
        return ohms
    moved = ohms * (1 - (figure(ohms) - wanted) / slope)
    better = moved > 0 and abs(figure(moved) - wanted) < abs(figure(ohms) - wanted)
    return moved if better else ohms


def _figure(
    circuit: Circuit, position: int, known: Known, supply: tuple[float, float, float]
) -> Callable[[float], float]:
    node = circuit.node(known.at, field="node.at") if known.kind == "node" else None

    def figure(ohms: float) -> float:
        branches = list(circuit.branches)
        branches[position] = replace(branches[position], ohms=ohms)
        volts, inside, low = supply
        found = solve(replace(circuit, branches=tuple(branches)), volts, inside, (), low)
        if node is not None:
            return found.voltages[node]
        return found.total_ohms if known.kind == "total_ohm" else found.supply_amps

    return figure
