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
import numpy.typing as npt

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

FloatArray = npt.NDArray[np.float64]

#: Share of a range within which a value stands at its end.
CLOSE_END: Final = 1e-6
#: A step that gains less than this share is rounding.
GAIN: Final = 1e-13
MOST_STEPS: Final = 200


@dataclass(frozen=True, slots=True)
class Extreme:
    """A voltage at its lowest or highest in a box."""

    volts: float
    ends: Mapping[str, str]  #: where each value stands there: low, high, or between


def extremes(box: Box, between: tuple[int, int]) -> tuple[Extreme, Extreme]:
    """Return where the voltage of one node above another is lowest and highest over `box`.

    Parameters
    ----------
    between : tuple[int, int]
        The two nodes: the first above the second.

    Raises
    ------
    TooLargeError
        If the box has too many values or corners.
    """
    layout = laid_out(box, between)
    if not layout.clipped and starves(box):
        places = _Places(layout)
        points = (greatest_voltage(places.draws, *layout.between, sign) for sign in (-1, 1))
        low, high = (
            places.extreme(places.climbed(point, sign))
            for point, sign in zip(points, (-1, 1), strict=True)
        )
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
    places = _Places(layout)
    place = next(i for i, m in enumerate(layout.merged) if m.members == (position,))
    hottest, furthest = greatest_power(places.draws, place)
    here = places.climbed(hottest, 0, place)
    siemens = float(here[place])
    ends = (places.climbed(point, sign) for point, sign in zip(furthest, (1, -1), strict=True))
    volts = max(abs(float(places.gaps(end[None])[0])) for end in ends)
    across = float(places.gaps(here[None])[0])
    return across**2 * siemens, 1 / siemens, volts


def starving_loads(box: Box) -> list[int]:
    """Return the positions of the current loads that get less than they want somewhere in `box`.

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


class _Places:
    """Places of a reduced box: S of each branch, what the supply gives, A wanted at junctions.

    Linear programs leave what is less than a ten-thousand-millionth of the whole; where a figure is
    that small, a place found by them is the best but for steps of single values, which are taken
    here by the node equations.
    """

    def __init__(self, layout: Layout) -> None:
        self.layout, self.draws = layout, _draws(layout)
        draws = self.draws
        self.at = sorted(draws.drawn)
        drawn = np.array([draws.drawn[node] for node in self.at]).reshape(-1, 2)
        self.low = np.concatenate([draws.low, draws.supply[:1], drawn[:, 0]])
        self.high = np.concatenate([draws.high, draws.supply[1:], drawn[:, 1]])

    def of(self, point: Point) -> FloatArray:
        """Return the place of what linear programs found, (values,)."""
        amps = [point.amps[node] for node in self.at]
        return np.concatenate([point.siemens, [point.supply], amps])

    @property
    def nominal(self) -> FloatArray:
        layout, box = self.layout, self.layout.box
        parts = [1 / m.nominal for m in layout.merged]
        hung = [x.siemens for x in box.nominal_loads if x.ohms is not None]
        amps = dict.fromkeys(self.at, 0.0)
        for load, moved in zip(box.nominal_loads, layout.loads, strict=True):
            if moved.at in amps:
                amps[moved.at] += load.amps or 0.0
        there = np.array([*parts, *hung, box.supply.volts, *amps.values()])
        found: FloatArray = np.clip(there, self.low, self.high)
        return found

    def gaps(self, places: FloatArray) -> FloatArray:
        """Return the voltage asked for at each of some places, (m, values), by node equations."""
        layout, parts = self.layout, len(self.layout.merged)
        one, other = layout.between
        nets = nets_of(
            layout.circuit,
            places[:, :parts],
            places[:, len(self.draws.branches)],
            layout.box.supply.source_ohms,
            layout.loads,
            self._siemens(places),
            self._amps(places)[0],
            layout.box.supply.low_volts,
        )
        found: FloatArray = potentials(nets)[0][:, one, other]
        return found

    def _siemens(self, places: FloatArray) -> FloatArray:
        found = np.zeros((len(places), len(self.layout.loads)))
        hung = itertools.count(len(self.layout.merged))
        for k, load in enumerate(self.layout.loads):
            if load.ohms is not None:
                found[:, k] = places[:, next(hung)]
        return found

    def _amps(self, places: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return what each load wants, (m, loads) A, and how far between its ends that is."""
        amps = np.zeros((len(places), len(self.layout.loads)))
        shares = np.zeros_like(amps)
        first = len(self.draws.branches) + 1
        for k, (r, load) in enumerate(zip(self.layout.box.loads, self.layout.loads, strict=True)):
            if load.ohms is None and load.at in self.draws.drawn:
                column = first + self.at.index(load.at)
                least, most = self.low[column], self.high[column]
                if most > least:
                    shares[:, k] = (places[:, column] - least) / (most - least)
                amps[:, k] = r.low + shares[:, k] * (r.high - r.low)
        return amps, shares

    def climbed(self, point: Point, sign: int, place: int | None = None) -> FloatArray:
        """Return a place no worse than `point`'s, and than that of nominal values.

        From it no single value moved to an end is better: a voltage of `sign`, or the power of the
        branch at `place`.
        """

        def worth(places: FloatArray) -> FloatArray:
            gaps = np.nan_to_num(self.gaps(places))
            return sign * gaps if place is None else gaps**2 * places[:, place]

        moving = np.flatnonzero(self.high > self.low)
        each = np.arange(len(moving))
        starts = np.array([self.of(point), self.nominal])
        here: FloatArray = starts[int(np.argmax(worth(starts)))]
        for _ in range(MOST_STEPS):
            tried = np.repeat(here[None], 2 * len(moving) + 1, axis=0)
            tried[1 + each, moving] = self.low[moving]
            tried[1 + len(moving) + each, moving] = self.high[moving]
            values = worth(tried)
            best = int(np.argmax(values))
            if values[best] <= values[0] + abs(values[0]) * GAIN:
                break
            here = tried[best]
        return here

    def extreme(self, place: FloatArray) -> Extreme:
        """Return the voltage at a place, and where each value stands there."""
        layout = self.layout
        shares = self._amps(place[None])[1][0]
        where: dict[str, float] = {}
        hung = itertools.count(len(layout.merged))
        for k, (r, load) in enumerate(zip(layout.box.loads, layout.loads, strict=True)):
            name = layout.box.load_name(k)
            if load.ohms is not None:
                where[name] = 1 - _share(float(place[next(hung)]), 1 / r.high, 1 / r.low)
            elif load.at in self.draws.drawn:
                where[name] = float(shares[k])
        for variable in layout.variables:
            if variable.kind == "part":
                of = layout.merged[variable.place]
                where[variable.name] = _share(1 / float(place[variable.place]), of.low, of.high)
        given = float(place[len(self.draws.branches)])
        where["supply"] = _share(abs(given), *sorted(map(abs, self.draws.supply)))
        ends: dict[str, str] = {}
        for variable in layout.variables:
            share = where[variable.name]
            end = "low" if share < CLOSE_END else "high" if share > 1 - CLOSE_END else "between"
            ends |= dict.fromkeys(variable.name.split(), end)
        return Extreme(float(self.gaps(place[None])[0]), ends)


def _share(value: float, low: float, high: float) -> float:
    return (value - low) / (high - low) if high > low else 0.0
