"""Extremes where a current load begins to starve: two regimes and the border between them.

A current load draws its current while its junction is above 0 V and else holds it at 0 V. Across
that border a voltage is no ratio of linear functions any more, and its extremes may lie on the
border, inside the box. What holds everywhere is linear in potentials and currents: Kirchhoff's
current law at every junction; in every resistance with conductance between g₀ and g₁ and voltage
u ≥ 0 a current between g₀·u and g₁·u (W. Oettli and W. Prager, Numerische Mathematik 6, 1964; from
memory); and of every load either i between its ends and v ≥ 0, or v = 0 and 0 ≤ i. With the signs
of u and the regimes of the loads given, the set is a polytope, and conversely each of its points is
met by values inside the box. Where the supply's low end lies below 0 V a load has a third regime:
v ≤ 0 and i = 0. So the extremes are the best of a few linear programs; signs and
regimes that a program leaves open are tried one after the other (branch and bound). A part's power
is u·i, which is quasi-concave where both are above 0: it is greatest on the outline of what u and i
can be together (docs/worst-case.md).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import TooLargeError, TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch
from lowfold.core.tolerance.programs import Program

__all__ = ["MOST_STARVING", "Draws", "Point", "greatest_power", "greatest_voltage"]

FloatArray = npt.NDArray[np.float64]

#: Values that may move independently where a load starves; some seconds of work.
MOST_STARVING: Final = 32
#: Linear programs for one figure before giving up.
MOST_PROGRAMS: Final = 4_000
#: What the programs' own tolerance leaves, as a share of the largest voltage.
CLOSE: Final = 1e-9
#: A corner of the outline that gains less than this share is on the line already.
FLAT: Final = 1e-11


@dataclass(frozen=True, slots=True)
class Draws:
    """A circuit with a range for everything, some end of its supply above 0 V.

    Resistive loads are branches to 0 V; the current loads of one junction are taken together.
    """

    nodes: int
    branches: tuple[Branch, ...]
    low: FloatArray  #: (branches,) S; 0 of a load that may not be there
    high: FloatArray  #: (branches,) S
    supply: tuple[float, float]  #: V, least and most; of a current source, its A
    source_ohms: float
    drawn: Mapping[int, tuple[float, float]]  #: A by junction, least and most
    low_end: int = GROUND  #: the supply's low end
    low_volts: float = 0.0  #: what that lies at

    @property
    def below(self) -> bool:
        """Whether some end of the supply lies below 0 V."""
        return min(self.supply[0], self.low_volts) < 0


@dataclass(frozen=True, slots=True)
class Point:
    """Values inside the box at which a figure is extreme."""

    value: float  #: V or W
    siemens: FloatArray  #: (branches,)
    supply: float
    amps: Mapping[int, float]  #: what the loads of each junction want


#: A junction above 0 V, at it, and below it.
FED, HELD, IDLE = 1, -1, -2


@dataclass(frozen=True, slots=True)
class _Tried:
    """Signs of branches (1, −1) and regimes of junctions (fed, held, idle) settled so far."""

    signs: Mapping[int, int] = field(default_factory=dict)
    regimes: Mapping[int, int] = field(default_factory=dict)


class _Programs:
    """The linear programs of one question, every column in units of the most it can be.

    Columns: potentials of all junctions but 0 V, then each branch's current, then each branch's
    voltage, then each junction's drawn current, then the supply's own. Each has a unit of its own,
    so that microamperes beside amperes, and millivolts beside hundreds of volts, keep their digits.
    """

    def __init__(self, draws: Draws) -> None:
        self.draws = draws
        self.count = 0
        self.at = sorted(draws.drawn)
        branches = len(draws.branches)
        self.volts = {n: n - 1 for n in range(1, draws.nodes)}
        self.first = draws.nodes - 1
        self.across = [self.first + branches + k for k in range(branches)]
        self.load = {n: self.first + 2 * branches + k for k, n in enumerate(self.at)}
        self.driven = self.first + 2 * branches + len(self.at)
        self.columns = self.driven + 1
        self.scale = _largest(draws)
        voltage = not math.isinf(draws.source_ohms)
        self.unit = self.scale if voltage else draws.supply[1]  # of the supply's own column
        self.amps = _most_amps(draws, self.scale)
        with np.errstate(divide="ignore"):
            self.reach = np.minimum(self.scale, self.amps / draws.low)  # V of each branch
        #: Current over conductance times voltage, each in its unit, at both ends of the range.
        self.ratios = np.array([draws.low, draws.high]) * self.reach / self.amps
        self.balance, self.entering = self._kirchhoff()
        self._program: tuple[_Tried, Program] | None = None  # of what was asked last

    def between(self, a: int, b: int) -> FloatArray:
        """Return the row of the voltage of one junction above another."""
        row = np.zeros(self.columns)
        for node, sign in ((a, 1.0), (b, -1.0)):
            if node != GROUND:
                row[self.volts[node]] += sign
        return row

    def _kirchhoff(self) -> tuple[FloatArray, FloatArray]:
        """Return both laws: of currents where the supply holds no junction itself, of voltages."""
        draws, rows, right = self.draws, [], []
        for node in range(1, draws.nodes):
            row = np.zeros(self.columns)
            for place, branch in enumerate(draws.branches):
                for end, sign in ((branch.a, 1.0), (branch.b, -1.0)):
                    if end == node:
                        row[self.first + place] += sign * self.amps[place]
            if node in self.load:
                row[self.load[node]] += draws.drawn[node][1]
            entering = 0.0
            if node == SUPPLY:
                row = self._driven(row)
            elif node == draws.low_end:
                row = np.zeros(self.columns)
                row[self.volts[node]], entering = 1.0, draws.low_volts / self.scale
            rows.append(row)
            right.append(entering)
        for place, branch in enumerate(draws.branches):
            row = self.between(branch.a, branch.b)
            row[self.across[place]] = -self.reach[place] / self.scale
            rows.append(row)
            right.append(0.0)
        sizes = [float(np.abs(row).max()) for row in rows]
        kept = [k for k, size in enumerate(sizes) if size]
        return np.array([rows[k] / sizes[k] for k in kept]), np.array([right[k] for k in kept])

    def _driven(self, row: FloatArray) -> FloatArray:
        """Return the current law at the supply's end, given what else flows there."""
        inside = self.draws.source_ohms
        if inside == 0:  # its potential is the supply's
            row = np.zeros(self.columns)
            row[self.volts[SUPPLY]], row[self.driven] = 1.0, -1.0
        elif math.isinf(inside):
            row[self.driven] = -self.draws.supply[1]
        else:
            row[self.volts[SUPPLY]] += self.scale / inside
            row[self.driven] = -self.scale / inside
        return row

    def _bounds(self, tried: _Tried) -> list[tuple[float, float]]:
        draws = self.draws
        floor = -1.0 if draws.below else 0.0
        found = [(floor, 1.0)] * self.first
        found += [(-1.0, 1.0)] * (2 * len(draws.branches))
        for node in self.at:
            least, most = draws.drawn[node]
            regime = tried.regimes.get(node, 0)
            found.append((least / most if regime == FED else 0.0, 0.0 if regime == IDLE else 1.0))
            if regime:
                found[self.volts[node]] = {FED: (0.0, 1.0), HELD: (0.0, 0.0), IDLE: (floor, 0.0)}[
                    regime
                ]
        found.append((draws.supply[0] / self.unit, draws.supply[1] / self.unit))
        return found

    def _limits(self, tried: _Tried) -> tuple[FloatArray, FloatArray]:
        """Return what keeps each current to its voltage, and each open load to its regimes.

        A branch whose sign is open is bounded by the hull of both signs.
        """
        branches = len(self.draws.branches)
        signs = np.array([tried.signs.get(k, 0) for k in range(branches)], dtype=np.float64)
        known, places = signs[:, None], np.arange(branches)
        x, y = np.zeros((branches, self.columns)), np.zeros((branches, self.columns))
        x[places, self.first + places] = 1.0
        y[places, self.across] = 1.0
        low, high = self.ratios[:, :, None]
        size = np.maximum(high, 1.0)
        middle, half = (low + high) / 2 / size, (high - low)[:, 0] / 2 / size[:, 0]
        of_known, of_open = signs != 0, signs == 0
        rows = [
            (known * (low * y - x) / np.maximum(low, 1.0))[of_known],
            (known * (x - high * y) / size)[of_known],
            (-known * y)[of_known],
            (x / size - middle * y)[of_open],
            (middle * y - x / size)[of_open],
        ]
        right = [np.zeros(3 * int(of_known.sum())), half[of_open], half[of_open]]
        for node in self.at:
            least, most = self.draws.drawn[node]
            if tried.regimes.get(node, 0) == 0 and least > 0:
                row = np.zeros((1, self.columns))
                row[0, self.volts[node]], row[0, self.load[node]] = least / most, -1.0
                rows.append(row)
                right.append(np.zeros(1))
        return np.vstack(rows), np.concatenate(right)

    def best(self, tried: _Tried, aim: FloatArray) -> FloatArray | None:
        """Return the point of greatest `aim`, (columns,), or None where there is none.

        Raises
        ------
        TooLargeError
            If too many programs were needed already.
        """
        self.count += 1
        if self.count > MOST_PROGRAMS:
            msg = (
                "a current load starves inside this box, and which way each part then carries its "
                f"current is open in more than {MOST_PROGRAMS} ways: set some tolerances to 0, or "
                "draw less"
            )
            raise TooLargeError(msg, field="loads")
        if self._program is None or self._program[0] is not tried:
            bounds = self._bounds(tried)
            made = Program(*self._limits(tried), self.balance, self.entering, bounds)
            self._program = tried, made
        return self._program[1].best(aim)

    def open_choice(self, tried: _Tried, point: FloatArray) -> list[_Tried]:
        """Return both ways of what a point leaves open most; empty where it is a real state."""
        worst, ways = CLOSE, list[_Tried]()
        for place, (low, high) in enumerate(self.ratios.T.tolist()):
            if tried.signs.get(place, 0):
                continue
            x, y = float(point[self.first + place]), float(point[self.across[place]])
            beyond = max(x - max(high * y, low * y), min(high * y, low * y) - x) / max(high, 1.0)
            if beyond > worst:
                worst = beyond
                ways = [replace(tried, signs={**tried.signs, place: s}) for s in (1, -1)]
        for node in self.at:
            least, most = self.draws.drawn[node]
            if tried.regimes.get(node, 0):
                continue
            v, i = float(point[self.volts[node]]), float(point[self.load[node]])
            beyond = max(min(v, least / most - i), min(-v, i))
            if beyond > worst:
                worst = beyond
                every = (FED, HELD, IDLE) if self.draws.below else (FED, HELD)
                ways = [replace(tried, regimes={**tried.regimes, node: s}) for s in every]
        return ways

    def met(self, value: float, point: FloatArray) -> Point:
        """Return the values in the box that make this state."""
        draws, siemens = self.draws, []
        for place, (low, high) in enumerate(zip(draws.low, draws.high, strict=True)):
            x, y = float(point[self.first + place]), float(point[self.across[place]])
            g = self.amps[place] * x / (self.reach[place] * y) if abs(y) > CLOSE else high
            near = [end for end in (low, high) if abs(g - end) < 1e-7 * (end or high)]
            siemens.append(near[0] if near else min(max(g, low), high))
        wanted = {}
        for node in self.at:
            least, most = draws.drawn[node]
            wanted[node] = min(max(float(point[self.load[node]]) * most, least), most)
        supply = float(np.clip(point[self.driven] * self.unit, *draws.supply))
        return Point(value, np.array(siemens), supply, wanted)


def _largest(draws: Draws) -> float:
    """Return the largest voltage there can be, V: between given ends, or of a current.

    A current makes no more than along any one way through which it could go, every part of it at
    its highest: what lies beside only lowers it (Rayleigh's monotonicity, common practice).
    """
    if not math.isinf(draws.source_ohms):
        given = (0.0, *draws.supply, draws.low_volts)
        return max(given) - min(given)
    along = [math.inf] * draws.nodes  # Ω from the supply's end
    along[SUPPLY] = 0.0
    for _ in draws.branches:
        for branch, low in zip(draws.branches, draws.low.tolist(), strict=True):
            if low > 0:  # a load that may not be there leads nothing for certain
                along[branch.a] = min(along[branch.a], along[branch.b] + 1 / low)
                along[branch.b] = min(along[branch.b], along[branch.a] + 1 / low)
    out = along[draws.low_end]
    if math.isinf(out):
        out = float(np.sum(1 / draws.low[draws.low > 0]))
    return draws.supply[1] * out + abs(draws.low_volts)


def _most_amps(draws: Draws, scale: float) -> FloatArray:
    """Return the most that each branch can carry, A, by its voltage and by what can reach it.

    At a junction that nothing holds, a branch carries no more than all others there together.
    """
    found: FloatArray = draws.high * scale
    held = {GROUND, draws.low_end}
    fed = 0.0
    if draws.source_ohms == 0:
        held.add(SUPPLY)
    elif math.isinf(draws.source_ohms):
        fed = draws.supply[1]
    else:
        fed = scale / draws.source_ohms
    ends = np.array([(b.a, b.b) for b in draws.branches]).reshape(-1, 2)
    for _ in draws.branches:
        before = found.copy()
        for node in range(draws.nodes):
            if node in held:
                continue
            at = np.flatnonzero((ends == node).any(axis=1))
            # Summed anew: what is small would be lost in a difference of large ones
            for place in at:
                others = float(found[at[at != place]].sum()) + draws.drawn.get(node, (0, 0))[1]
                found[place] = min(found[place], others + (fed if node == SUPPLY else 0.0))
        if np.all(found > before * 0.999):
            break
    return np.maximum(found, 1e-300)


def _start(draws: Draws) -> _Tried:
    """Return the signs that are known: current leaves the supply's end and enters 0 V.

    Only if no given potential is below 0 V, or above the supply.
    """
    if draws.below:
        return _Tried()
    signs = {}
    lone = draws.low_end == GROUND
    for place, branch in enumerate(draws.branches):
        if GROUND in (branch.a, branch.b):
            signs[place] = 1 if branch.b == GROUND else -1
        elif lone and SUPPLY in (branch.a, branch.b):
            signs[place] = 1 if branch.a == SUPPLY else -1
    regimes = {node: FED for node, (least, _) in draws.drawn.items() if least <= 0}
    return _Tried(signs, regimes)


def greatest_voltage(draws: Draws, a: int, b: int, sign: int = 1) -> Point:
    """Return where the junction `a` is furthest above `b`, or with `sign` −1 furthest below.

    Parameters
    ----------
    a, b : int
        Junctions of `draws`.
    draws : Draws
        Resistances and currents with their ranges.
    sign : int
        1 for the greatest, −1 for the least.

    Returns
    -------
    Point
        Its `value` is a bound that the point meets but for rounding, V of `a` above `b`.

    Raises
    ------
    TooLargeError
        If the signs leave too many ways open.
    """
    programs = _Programs(draws)
    found, reached = _greatest(programs, sign * programs.between(a, b))
    return programs.met(sign * reached * programs.scale, found)


def _greatest(programs: _Programs, aim: FloatArray) -> tuple[FloatArray, float]:
    """Return the state in which `aim` is greatest, and how great.

    Raises
    ------
    TopologyError
        If there is no state at all.
    """
    best, found = -math.inf, None
    waiting = [(math.inf, _start(programs.draws))]
    while waiting:
        bound, tried = waiting.pop()
        if bound <= best + FLAT:
            continue
        point = programs.best(tried, aim)
        if point is None or (reached := float(aim @ point)) <= best + FLAT:
            continue
        ways = programs.open_choice(tried, point)
        if ways:
            waiting += [(reached, way) for way in ways]
        else:
            best, found = reached, point
    if found is None:  # a resistor network with its loads has a state, unless a source drives it
        msg = (
            "a current source gives more than the loads take, and no resistance leads the rest to "
            "its return"
        )
        raise TopologyError(msg, field="network")
    return found, best


def greatest_power(draws: Draws, place: int) -> tuple[Point, tuple[Point, Point]]:
    """Return where a branch takes most, W, and where its voltage is largest either way, V.

    Parameters
    ----------
    place : int
        Of the branch in `draws`.
    draws : Draws
        Resistances and currents with their ranges.

    Raises
    ------
    TooLargeError
        If the signs leave too many ways open.
    """
    programs = _Programs(draws)
    start = _start(draws)
    across = np.zeros(programs.columns)
    across[programs.across[place]] = 1.0
    far, near = (_greatest(programs, sign * across) for sign in (1, -1))
    unit = float(programs.reach[place])
    ends = programs.met(far[1] * unit, far[0]), programs.met(-near[1] * unit, near[0])
    programs.count = 0
    known = start.signs.get(place)
    best, found = 0.0, None
    for sign in (known,) if known else (1, -1):
        waiting = [replace(start, signs={**start.signs, place: sign})]
        while waiting:
            tried = waiting.pop()
            reached, point = _outline_best(programs, tried, place, sign, best)
            if point is None or reached <= best + FLAT**2:
                continue
            ways = programs.open_choice(tried, point)
            if ways:
                waiting += ways
            else:
                best, found = reached, point
    watts = best * float(programs.reach[place] * programs.amps[place])
    if found is None:  # nothing is across it anywhere
        wanted = {node: least for node, (least, _) in draws.drawn.items()}
        return Point(0.0, draws.high.copy(), draws.supply[1], wanted), ends
    return programs.met(watts, found), ends


def _outline_best(
    programs: _Programs, tried: _Tried, place: int, sign: int, least: float
) -> tuple[float, FloatArray | None]:
    """Return the greatest u·x on the outline of a branch's voltage and current, and its point.

    The outline runs from the greatest current to the greatest voltage; between two of its corners
    another is found in the direction square to the line between them, until there is none.
    """
    u, x = np.zeros(programs.columns), np.zeros(programs.columns)
    u[programs.across[place]] = sign
    x[programs.first + place] = sign
    one, two = programs.best(tried, x + FLAT * u), programs.best(tried, u + FLAT * x)
    if one is None or two is None:
        return 0.0, None
    best, found = least, None

    def flat(point: FloatArray) -> tuple[float, float]:
        return float(u @ point), float(x @ point)

    def edges(p: FloatArray, q: FloatArray) -> Iterator[tuple[FloatArray, FloatArray]]:
        (up, xp), (uq, xq) = flat(p), flat(q)
        if uq * xp <= best:  # the corner of the box that holds this piece is no better
            return
        rise, run = xp - xq, uq - up
        if rise <= FLAT or run <= FLAT:
            yield p, q
            return
        aim = rise * u + run * x
        middle = programs.best(tried, aim / float(np.abs(aim).max()))
        if middle is None or float(aim @ middle) <= float(aim @ p) + FLAT * max(rise, run):
            yield p, q
            return
        yield from edges(p, middle)
        yield from edges(middle, q)

    for p, q in edges(one, two):
        (up, xp), (uq, xq) = flat(p), flat(q)
        bent = (uq - up) * (xp - xq)
        # (up + t·Δu)(xp + t·Δx) is greatest where its slope vanishes.
        t = ((uq - up) * xp + (xq - xp) * up) / (2 * bent) if bent > 0 else 0.0
        for share in (0.0, min(max(t, 0.0), 1.0), 1.0):
            point = p + share * (q - p)
            here = flat(point)
            if here[0] * here[1] > best:
                best, found = here[0] * here[1], point
    return best, found
