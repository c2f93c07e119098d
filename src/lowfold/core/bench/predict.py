"""What a meter reads of many boards that differ in a few values from one: means and sensitivities.

One inverse of the node equations serves all of them. A value that changes is a rank-one update of
it (Sherman and Morrison 1950; from memory), and so is a meter between two nodes or in series, so
that every reading is exact for its board. Sensitivities are the derivatives of these expressions.
Nodes hang on a leak far below every conductance, so that a board that is open has an inverse too.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.bench.models import Range
from lowfold.core.bench.points import Point
from lowfold.core.network.circuit import GROUND, SUPPLY
from lowfold.core.tolerance.box import Box

__all__ = ["NO_END", "Board", "Change", "Model", "NotSettledError", "Predicted", "Probe"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]

LEAK: Final = 1e-8  #: of the least conductance, from every node to 0 V
#: Turns in which every current load that is not as assumed changes at once; a few mostly do.
TURNS_AT_ONCE: Final = 12
#: Turns after those, one load at a time: more than that is rounding, and is said.
TURNS_ONE_BY_ONE: Final = 2000
SIGN: Final = 1e-6  #: of the greatest current wanted: less has no sign
ROUNDING: Final = 1e-13  #: of the greatest voltage
NO_END: Final = 1e15  #: Ω, what an open part reads: over every range
STIFF: Final = 1e-6  #: of the least resistance: what an ideal supply has inside


@dataclass(frozen=True, slots=True)
class Change:
    """One resistance of a board that is not as designed."""

    a: int
    b: int
    siemens: float  #: what is added between the two nodes; negative takes away
    part: int | None = None  #: position of the part that it is, if it is one
    ohms: float = math.inf  #: what that part then is, Ω
    lifted: float | None = None  #: what it reads lifted out, where the fault stays on the board


@dataclass(frozen=True, slots=True)
class Board:
    """A board as it might be: what differs from the design."""

    changes: tuple[Change, ...] = ()
    supply_volts: float | None = None
    series_ohms: float = 0.0  #: in source and leads, beyond what is stated
    missing: tuple[int, ...] = ()  #: positions of loads that are not there


@dataclass(frozen=True, slots=True)
class Probe:
    """A point as it is read: with the meter's range, which does not change with the board."""

    point: Point
    range: Range | None
    meter_ohms: float  #: between the leads, or in series with them; inf and 0 for none
    lead_ohms: float = 0.0


@dataclass(frozen=True, slots=True)
class Predicted:
    """Readings of h boards at r points, and how they go with what varies."""

    mean: FloatArray  #: (h, r) in the unit read
    slopes: FloatArray  #: (h, r, v) for a whole half width of each value that varies


class NotSettledError(ArithmeticError):
    """Which current loads of a board are fed was not found."""


class Model:
    """The node equations of one design, solved once.

    Parameters
    ----------
    box : Box
        What varies, by how much.
    """

    def __init__(self, box: Box) -> None:
        self.box = box
        circuit = box.circuit
        self.ohms = np.array([b.ohms for b in circuit.branches])
        self.nodes = circuit.nodes - 1  # without 0 V
        self._picks = np.vstack([np.zeros(self.nodes), np.eye(self.nodes)])
        self.ends = self.across([b.a for b in circuit.branches], [b.b for b in circuit.branches])
        self.loads = [(r.load.at, r.load.siemens, r.load.amps or 0.0) for r in box.loads]
        hung = [s for _, s, _ in self.loads if s]
        least = min([*(1 / self.ohms), *hung])
        stiff = STIFF * min([*self.ohms, *(1 / s for s in hung)])
        self.source = max(box.supply.source_ohms, stiff)
        self.leak = LEAK * least
        base = self.ends.T @ (self.ends / self.ohms[:, None]) + np.eye(self.nodes) * self.leak
        self._bare = np.linalg.inv(base + np.eye(self.nodes) * self.leak)
        powered = base.copy()
        for at, siemens, _ in self.loads:
            if at != GROUND:
                powered[at - 1, at - 1] += siemens
        powered[SUPPLY - 1, SUPPLY - 1] += 1 / self.source
        low = circuit.low
        if low != GROUND:
            powered[low - 1, low - 1] += 1 / stiff
        self._powered = np.linalg.inv(powered)
        #: By load, A wanted; none where nothing is above 0 V.
        self.wanted = np.array([amps * box.above_zero * (at > 0) for at, _, amps in self.loads])
        self.at = np.array([at for at, _, _ in self.loads], dtype=np.int64)
        self.held = 1 / stiff  #: S that hold at 0 V what a load would draw below it
        self.given = np.zeros(self.nodes)
        if low != GROUND:  # what holds the low end gives a current as a load takes one
            self.given[low - 1] -= box.supply.low_volts / stiff
        self.half_widths = np.array(box.half_widths)

    def across(self, a: int | Sequence[int], b: int | Sequence[int]) -> FloatArray:
        """Return what picks the voltage of one node above another, (nodes,), or (k, nodes)."""
        found: FloatArray = self._picks[a] - self._picks[b]
        return found

    def inverses(self, boards: Sequence[Board], *, powered: bool) -> FloatArray:
        """Return the inverse of each board's node equations, (h, nodes, nodes) in Ω."""
        base = self._powered if powered else self._bare
        found: FloatArray = np.repeat(base[None], len(boards), axis=0)
        most = max((len(b.changes) for b in boards), default=0)
        for place in range(most):
            rows = [k for k, b in enumerate(boards) if len(b.changes) > place]
            here = [boards[k].changes[place] for k in rows]
            ends = self.across([c.a for c in here], [c.b for c in here])
            siemens = np.array([c.siemens for c in here])
            found[rows] = _updated(found[rows], ends, siemens)
        if powered:
            rows = [k for k, b in enumerate(boards) if b.series_ohms > 0]
            if rows:
                inside = np.array([self.source + boards[k].series_ohms for k in rows])
                ends = np.repeat(self.across(SUPPLY, GROUND)[None], len(rows), axis=0)
                found[rows] = _updated(found[rows], ends, 1 / inside - 1 / self.source)
        return found

    def predict(self, boards: Sequence[Board], probes: Sequence[Probe]) -> Predicted:
        """Return what is read of each board at each point.

        Parameters
        ----------
        boards : sequence of Board
        probes : sequence of Probe
        """
        count, parts, loads = len(boards), len(self.ohms), len(self.loads)
        mean = np.zeros((count, len(probes)))
        slopes = np.zeros((count, len(probes), parts + 1 + loads))
        if not probes:
            return Predicted(mean, slopes)
        siemens, ohms, lifted = self._values(boards)
        volts = np.array(
            [self.box.supply.volts if b.supply_volts is None else b.supply_volts for b in boards]
        )
        inside = np.array([self.source + b.series_ohms for b in boards])
        powered, drawn, fed = self._fed(boards, self.inverses(boards, powered=True), volts / inside)
        alone = powered[:, :, SUPPLY - 1] * (volts / inside)[:, None]
        nodes = alone - np.einsum("hij,hj->hi", powered, drawn)
        off = (
            self.inverses(boards, powered=False)
            if any(p.point.kind == "resistance" and p.point.part is None for p in probes)
            else None
        )
        across = nodes @ self.ends.T  # (h, parts): the voltage on each part
        for column, probe in enumerate(probes):
            point = probe.point
            if point.kind == "resistance" and point.part is not None:
                shut = np.isfinite(lifted[:, point.part])
                own = np.where(shut, lifted[:, point.part], NO_END)
                mean[:, column] = own + probe.lead_ohms
                slopes[:, column, point.part] = np.where(shut, own, 0.0)
            elif point.kind == "resistance":
                assert off is not None  # it was asked for
                ends = self.across(point.at, point.against)
                seen = _seen(off, point.at, point.against)
                mean[:, column] = seen @ ends + probe.lead_ohms
                slopes[:, column, :parts] = (seen @ self.ends.T) ** 2 * siemens
            elif point.kind == "voltage":
                ends = self.across(point.at, point.against)
                seen = _seen(powered, point.at, point.against)  # (h, nodes)
                inner = seen @ ends
                bare = nodes @ ends
                share = 1 / (1 + inner / probe.meter_ohms)
                mean[:, column] = bare * share
                cross = seen @ self.ends.T
                slopes[:, column, :parts] = (
                    (cross * across) * share[:, None]
                    - (bare * share**2 / probe.meter_ohms)[:, None] * cross**2
                ) * siemens
                slopes[:, column, parts] = (alone @ ends) * share
                self._hang(slopes, column, seen, nodes, share, bare, probe.meter_ohms, fed)
            elif point.supply:
                self._supply(
                    mean, slopes, column, probe, boards, siemens, powered, volts, drawn, fed
                )
            else:
                self._through(mean, slopes, column, probe, siemens, ohms, powered, across, alone)
        slopes[:, :, :parts] *= self.half_widths
        slopes[:, :, parts] *= self.box.supply.tolerance
        for k, r in enumerate(self.box.loads):
            if r.load.ohms is not None:  # in conductance, so that nothing connected is a figure
                wide = (1 / r.low - 1 / r.high) / 2 * r.load.ohms
            else:
                wide = (r.high - r.low) / 2 / r.load.amps if r.load.amps else 0.0
            slopes[:, :, parts + 1 + k] *= wide
        return Predicted(np.nan_to_num(mean), np.nan_to_num(slopes))

    def _fed(
        self, boards: Sequence[Board], powered: FloatArray, source: FloatArray
    ) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Return inverses, what is drawn, (h, nodes) A, and which loads get it, (h, loads) 0 or 1.

        A current load draws what it wants while its junction is above 0 V; else it holds it there
        with less, or draws nothing where that lies below 0 V by itself. Which of the three is found
        by principal pivoting: all at once first (Júdice and Pires 1994), then the first of those
        that are wrong alone, which ends for every passive network (Murty 1974; both from memory).
        """
        fed = np.ones((len(boards), len(self.loads)))
        for row, board in enumerate(boards):
            fed[row, list(board.missing)] = 0.0
        drawn = np.repeat(self.given[None], len(boards), axis=0)
        if not self.wanted.any():
            return powered, drawn, fed
        wanted: FloatArray = (fed * self.wanted) @ self._picks[self.at]  # by junction
        there = np.flatnonzero(wanted.any(axis=0))
        alone = powered[:, there, SUPPLY - 1] * source[:, None]
        alone -= powered[:, there] @ self.given
        across = powered[:, there][:, :, there]
        free = np.ones_like(wanted)  # 1 fed, 0 held at 0 V or idle below it
        held = np.zeros_like(wanted)
        fed_volts = alone - np.einsum("hij,hj->hi", across, wanted[:, there])
        rows = np.flatnonzero(((fed_volts < 0) & (wanted[:, there] > 0)).any(axis=1))
        if len(rows):
            powered = powered.copy()
            here = np.ix_(rows, there)
            free[here], held[here] = self._settled(alone[rows], across[rows], wanted[here])
            for node in there[held[:, there].any(axis=0)]:
                ends = np.repeat(np.eye(self.nodes)[None, node], len(rows), axis=0)
                powered[rows] = _updated(powered[rows], ends, self.held * held[rows, node])
        drawn += wanted * free
        for k in np.flatnonzero(self.wanted):
            fed[:, k] *= free[:, self.at[k] - 1]
        return powered, drawn, fed

    def _settled(
        self, alone: FloatArray, across: FloatArray, wanted: FloatArray
    ) -> tuple[FloatArray, FloatArray]:
        """Return which junctions get what is wanted and which are held at 0 V, (h, n) each.

        `alone` is what they lie at with nothing drawn, V; `across` what a current drawn at one
        takes from another, (h, n, n) in Ω. What is neither draws nothing, below 0 V by itself.

        Raises
        ------
        NotSettledError
            If rounding keeps it from an end.
        """
        draws = wanted > 0
        free: FloatArray = np.where(draws, 0.0, 1.0)
        idle = np.zeros_like(wanted)
        # Between two that are held nothing is left to draw, and rounding is not a sign
        tiny = SIGN * wanted.max(axis=1) + ROUNDING * self.held * np.abs(alone).max(axis=1)
        tiny = tiny[:, None]
        eye = np.eye(wanted.shape[1])
        for turn in range(TURNS_AT_ONCE + TURNS_ONE_BY_ONE):
            held = (1 - free) * (1 - idle) * draws
            pulled = alone - np.einsum("hij,hj->hi", across, wanted * free)
            equations = eye + across * (self.held * held)[:, None]
            volts = np.linalg.solve(equations, pulled[:, :, None])[:, :, 0] * self.held
            let_go = volts * held > wanted + tiny
            sunk = volts * held < -tiny
            starves = (free > 0) & draws & (volts < -tiny)
            back = starves | ((idle > 0) & (volts > tiny))
            wrong = let_go | sunk | back
            if not wrong.any():
                return free, held
            if turn >= TURNS_AT_ONCE:
                wrong &= wrong.cumsum(axis=1) == 1
            free = np.where(back & wrong, 0.0, np.where(let_go & wrong, 1.0, free))
            idle = np.where(back & wrong, 0.0, np.where(sunk & wrong, 1.0, idle))
        raise NotSettledError

    def _values(self, boards: Sequence[Board]) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Return each part's conductance, resistance, and what it reads lifted, (h, parts)."""
        ohms = np.repeat(self.ohms[None], len(boards), axis=0)
        lifted = ohms.copy()
        for row, board in enumerate(boards):
            for change in board.changes:
                if change.part is not None:
                    ohms[row, change.part] = change.ohms
                    own = change.ohms if change.lifted is None else change.lifted
                    lifted[row, change.part] = own
        with np.errstate(divide="ignore"):
            return 1 / ohms, ohms, lifted

    def _hang(
        self,
        slopes: FloatArray,
        column: int,
        seen: FloatArray,
        nodes: FloatArray,
        share: FloatArray,
        bare: FloatArray,
        meter: float,
        fed: FloatArray,
    ) -> None:
        """Fill in how a voltage goes with each load."""
        first = len(self.ohms) + 1
        for k, (at, siemens, amps) in enumerate(self.loads):
            if at == GROUND:
                continue
            here = seen[:, at - 1]
            if siemens:
                slopes[:, column, first + k] = (siemens * fed[:, k]) * (
                    here * nodes[:, at - 1] * share - bare * share**2 / meter * here**2
                )
            elif amps:
                slopes[:, column, first + k] = -amps * fed[:, k] * here * share

    def _supply(
        self,
        mean: FloatArray,
        slopes: FloatArray,
        column: int,
        probe: Probe,
        boards: Sequence[Board],
        siemens: FloatArray,
        powered: FloatArray,
        volts: FloatArray,
        drawn: FloatArray,
        fed: FloatArray,
    ) -> None:
        """Fill in the supply's own current: what leaves it through source and burden."""
        before = np.array([self.source + b.series_ohms for b in boards])
        after = before + probe.meter_ohms
        at = SUPPLY - 1
        inner = _updated_row(powered[:, at], powered[:, at, at], 1 / after - 1 / before)
        kept = inner[:, at]
        into = (inner * drawn).sum(axis=1)
        mean[:, column] = (volts * (1 - kept / after) + into) / after
        cross = inner @ self.ends.T
        row, own = powered[:, at], powered[:, at, at]
        change = 1 / after - 1 / before
        weight = change / (1 + change * own) * (row * drawn).sum(axis=1)
        pulled = np.einsum("hij,hj->hi", powered, drawn) - weight[:, None] * row
        lift = (volts / after)[:, None] * inner - pulled
        parts = len(self.ohms)
        on_parts = (lift @ self.ends.T) * cross
        slopes[:, column, :parts] = -on_parts * siemens / after[:, None]
        slopes[:, column, parts] = volts * (1 - kept / after) / after
        for k, (node, load, amps) in enumerate(self.loads):
            if node == GROUND:
                continue
            here = inner[:, node - 1]
            if load:
                pull = -load * fed[:, k]
                slopes[:, column, parts + 1 + k] = pull * here * lift[:, node - 1] / after
            elif amps:
                slopes[:, column, parts + 1 + k] = amps * fed[:, k] * here / after

    def _through(
        self,
        mean: FloatArray,
        slopes: FloatArray,
        column: int,
        probe: Probe,
        siemens: FloatArray,
        ohms: FloatArray,
        powered: FloatArray,
        across: FloatArray,
        alone: FloatArray,
    ) -> None:
        """Fill in the current through a part, with the burden in series with it."""
        part = probe.point.part
        assert part is not None  # the supply's is another
        parts = len(self.ohms)
        with np.errstate(divide="ignore"):
            lower = 1 / (ohms[:, part] + probe.meter_ohms)
        change = lower - siemens[:, part]
        ends = self.ends[part]
        branch = self.box.circuit.branches[part]
        seen = _seen(powered, branch.a, branch.b)
        own = seen @ ends
        factor = 1 / (1 + change * own)
        cross = (seen @ self.ends.T) * factor[:, None]  # (h, parts), with the burden
        over = across - (change * across[:, part])[:, None] * cross
        mean[:, column] = lower * over[:, part]
        slopes[:, column, :parts] = lower[:, None] * cross * over * siemens
        finite = np.where(np.isfinite(ohms[:, part]), ohms[:, part], 0.0)
        slopes[:, column, part] = -finite * lower**2 * over[:, part] * (1 - lower * own * factor)
        slopes[:, column, parts] = lower * (alone @ ends) * factor


def _seen(inverse: FloatArray, a: int, b: int) -> FloatArray:
    """Return what a current into one node and out of another makes of every node, (h, nodes)."""
    zero = np.zeros(inverse.shape[::2])
    found: FloatArray = (inverse[:, a - 1] if a else zero) - (inverse[:, b - 1] if b else zero)
    return found


def _updated(inverse: FloatArray, ends: FloatArray, siemens: FloatArray) -> FloatArray:
    """Return inverses with a conductance more between two nodes each, (h, nodes, nodes)."""
    seen = np.einsum("hij,hj->hi", inverse, ends)
    own = np.einsum("hi,hi->h", seen, ends)
    below = 1 + siemens * own
    # A part that is all that holds its end: what is left there is the leak
    below = np.where(np.abs(below) < 1e-13, 1e-13, below)
    found: FloatArray = (
        inverse - (siemens / below)[:, None, None] * seen[:, :, None] * seen[:, None]
    )
    return found


def _updated_row(row: FloatArray, own: FloatArray, siemens: FloatArray) -> FloatArray:
    """Return the supply's row of an inverse with another conductance at the supply, (h, nodes)."""
    found: FloatArray = row / (1 + siemens * own)[:, None]
    return found
