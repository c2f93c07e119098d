"""Where in a box a voltage or a power has its extremes, whether or not a current load starves.

Where none does, they lie at corners (see `corners`); where one does, linear programs find them (see
`starving`).
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import GROUND, Branch
from lowfold.core.solving.nets import nets_of
from lowfold.core.solving.nodes import potentials
from lowfold.core.tolerance.box import Box
from lowfold.core.tolerance.corners import corners_of, starves
from lowfold.core.tolerance.layout import Layout, laid_out
from lowfold.core.tolerance.starving import (
    MOST_STARVING,
    Draws,
    Point,
    greatest_power,
    greatest_voltage,
)

__all__ = ["Extreme", "extremes", "starved_power", "starving_loads"]

#: Share of a range within which a value stands at its end.
CLOSE_END: Final = 1e-6


@dataclass(frozen=True, slots=True)
class Extreme:
    """A voltage at its lowest or highest in a box."""

    volts: float
    ends: Mapping[str, str]  #: where each value stands there: low, high, or between


def extremes(box: Box, between: tuple[int, int]) -> tuple[Extreme, Extreme]:
    """Return where the voltage of one node above another is lowest and highest over `box`.

    Parameters
    ----------
    box : Box
        A circuit with a range for everything in it.
    between : tuple[int, int]
        The two nodes: the first above the second.

    Raises
    ------
    TooLargeError
        If the box has too many values or corners.
    """
    layout = laid_out(box, between)
    if not layout.clipped and starves(box):
        draws = _draws(layout)
        points = (greatest_voltage(draws, *layout.between, sign) for sign in (-1, 1))
        low, high = (Extreme(*_at_point(layout, draws, point)) for point in points)
        return low, high
    found = corners_of(layout)
    volts = found.gap()
    low_row, high_row = int(np.argmin(volts)), int(np.argmax(volts))
    return (
        Extreme(float(volts[low_row]), found.ends(low_row)),
        Extreme(float(volts[high_row]), found.ends(high_row)),
    )


def starved_power(box: Box, position: int) -> tuple[float, float, float] | None:
    """Return a branch's worst power, W, its own resistance there, Ω, and its largest voltage, V.

    Only where a current load starves in the box; None where corners tell.

    Parameters
    ----------
    box : Box
        A circuit with a range for everything in it.
    position : int
        Position of the branch.

    Raises
    ------
    TooLargeError
        If more values move than are searched.
    """
    if not starves(box):
        return None
    branch = box.circuit.branches[position]
    layout = laid_out(box, (branch.a, branch.b), position)
    draws = _draws(layout)
    place = next(i for i, m in enumerate(layout.merged) if m.members == (position,))
    point, volts = greatest_power(draws, place)
    across = _at_point(layout, draws, point)[0]
    siemens = float(point.siemens[place])
    return across**2 * siemens, 1 / siemens, volts


def starving_loads(box: Box) -> list[int]:
    """Return the positions of the current loads that get less than they want somewhere in `box`.

    Parameters
    ----------
    box : Box
        A circuit with a range for everything in it.

    Raises
    ------
    TooLargeError
        If the box has too many values or corners.
    """
    found = []
    boxes = [still for _, still in box.variants() if starves(still)]
    for position, r in enumerate(box.loads):
        if r.load.amps is None or r.high <= 0:
            continue
        for still in boxes:
            low, _ = extremes(still, (r.load.at, GROUND))
            if low.volts <= 0:
                found.append(position)
                break
    return found


def _draws(layout: Layout) -> Draws:
    """Return the reduced box as linear programs take it.

    Raises
    ------
    TooLargeError
        If more than `MOST_STARVING` values move.
    """
    if len(layout.variables) > MOST_STARVING:
        msg = (
            f"{len(layout.variables)} values move independently and a current load starves "
            f"inside their ranges; the worst case of up to {MOST_STARVING} is then searched. "
            "Set the tolerance of some parts to 0, or draw less"
        )
        raise TooLargeError(msg, field="network")
    supply = layout.box.supply
    pairs = list(zip(layout.box.loads, layout.loads, strict=True))
    hung = [(Branch("", x.at, GROUND, x.ohms), r) for r, x in pairs if x.ohms is not None]
    ends = [(m.low, m.high) for m in layout.merged] + [(r.low, r.high) for _, r in hung]
    low, high = np.array(ends, dtype=np.float64).reshape(-1, 2).T
    wander = supply.volts * supply.tolerance
    drawn: dict[int, tuple[float, float]] = {}
    for r, load in pairs:
        if load.at in layout.drawing and load.amps is not None:
            least, most = drawn.get(load.at, (0.0, 0.0))
            drawn[load.at] = (least + r.low, most + r.high)
    return Draws(
        nodes=layout.circuit.nodes,
        branches=(*layout.circuit.branches, *(b for b, _ in hung)),
        low=1 / high,
        high=1 / low,
        supply=(supply.volts - abs(wander), supply.volts + abs(wander)),
        source_ohms=supply.source_ohms,
        drawn=drawn,
        low_end=layout.circuit.low,
        low_volts=supply.low_volts,
    )


def _at_point(layout: Layout, draws: Draws, point: Point) -> tuple[float, dict[str, str]]:
    """Return the voltage asked for at a point of the box, V, and where each value stands."""
    parts = len(layout.merged)
    siemens = np.zeros((1, len(layout.loads)))
    amps = np.zeros((1, len(layout.loads)))
    hung = itertools.count(parts)
    shares: dict[int, float] = {}
    for node, wanted in point.amps.items():
        least, most = draws.drawn[node]
        shares[node] = (wanted - least) / (most - least) if most > least else 0.0
    where: dict[str, float] = {}
    for k, (r, load) in enumerate(zip(layout.box.loads, layout.loads, strict=True)):
        name = layout.box.load_name(k)
        if load.ohms is not None:
            siemens[0, k] = point.siemens[next(hung)]
            where[name] = 1 - _share(siemens[0, k], 1 / r.high, 1 / r.low)
        elif load.at in shares:
            amps[0, k] = r.low + shares[load.at] * (r.high - r.low)
            where[name] = shares[load.at]
    for variable in layout.variables:
        if variable.kind == "part":
            of = layout.merged[variable.place]
            where[variable.name] = _share(1 / point.siemens[variable.place], of.low, of.high)
    where["supply"] = _share(abs(point.supply), *sorted(map(abs, draws.supply)))
    nets = nets_of(
        layout.circuit,
        point.siemens[None, :parts],
        np.array([point.supply]),
        layout.box.supply.source_ohms,
        layout.loads,
        siemens,
        amps,
        layout.box.supply.low_volts,
    )
    gaps, _ = potentials(nets)
    ends: dict[str, str] = {}
    for variable in layout.variables:
        share = where[variable.name]
        end = "low" if share < CLOSE_END else "high" if share > 1 - CLOSE_END else "between"
        ends |= dict.fromkeys(variable.name.split(), end)
    return float(gaps[0, layout.between[0], layout.between[1]]), ends


def _share(value: float, low: float, high: float) -> float:
    return (value - low) / (high - low) if high > low else 0.0
