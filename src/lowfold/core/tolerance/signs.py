"""Which way a voltage goes with each part, proven over a whole range of values.

A voltage rises with a part's resistance where the part's own voltage u and its voltage in the
adjoint network, û (1 A into the node asked about, the supply dead), have one sign, and falls where
they differ: ∂V/∂G = −u·û (S. W. Director and R. A. Rohrer, 1969; from memory). Where neither
changes sign anywhere in the range, the end that makes the voltage extreme is known, and with that
part held there the range of the others is smaller. What stays open is tried at both ends.

How far u may move from u₀, its value at the middle conductances g₀: with g = g₀(1 + δ), |δ| ≤ ε,
and A the incidence of parts on free nodes, Kirchhoff's current law at both gives
w = u − u₀ = −Π(δ·(u₀ + w)), Π = Aᵀ(A g₀ Aᵀ)⁻¹A g₀; the same at g says that −w is the projection of
δ/(1 + δ)·u₀ in the norm Σ g x², hence Σ g w² ≤ Σ g₀ u₀² ε²/(1 − ε). The first, with any bound of w
put in, gives another bound.

The power in a part with conductance g that sees the rest through its own voltage û per ampere goes
as u²g, and ln u by −g·û for each ln g: it grows with g wherever g·û < ½ (the part is above what it
sees) and falls wherever g·û > ½. Between, its peak may lie inside, and ranges of g are cut.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.solving.nets import reached_nodes

__all__ = ["Mesh", "open_corners"]

FloatArray = npt.NDArray[np.float64]
BoolArray = npt.NDArray[np.bool_]

#: Rounds of putting a bound of w into the formula for w; each can only lower it.
ROUNDS: Final = 6
#: Parts still open that are tried at all their ends instead of being looked at one by one.
FEW: Final = 4
#: Ranges looked at before giving up.
MOST_LOOKS: Final = 1_000
#: Pieces a range of load currents may be cut into.
MOST_PIECES: Final = 1_024
#: A part that can move the voltage by less than this share of the largest drop does not count.
NOTHING: Final = 1e-13
#: A sign must be clear of zero by this share of the largest drop: the arithmetic's own error.
CLEAR: Final = 1e-10


@dataclass(frozen=True, slots=True)
class Mesh:
    """Resistances with a range of values; the supply and load currents at one of their ends."""

    circuit: Circuit
    low: FloatArray  #: (branches,) S, each above 0
    high: FloatArray  #: (branches,) S
    supply_v: float  #: of a current source, its A
    source_ohms: float  #: inf makes the supply a current source
    drawn: FloatArray  #: (nodes,) A to 0 V, whatever the voltage
    low_v: float = 0.0  #: what the circuit's low end lies at


@dataclass(frozen=True, slots=True)
class _Question:
    """A mesh laid out for the voltage of one node above another."""

    incidence: FloatArray  #: (free nodes, branches): 1 at the first end, −1 at the second
    held: FloatArray  #: (branches,) V across each from nodes whose potential is given
    tied: FloatArray  #: (free nodes,) S to 0 V inside the source
    entering: FloatArray  #: (free nodes,) A
    probe: FloatArray  #: (free nodes,): 1 at the node asked about, −1 at the other
    offset: float  #: V between the two from nodes whose potential is given
    own: int | None  #: column of the part whose power is asked about

    def look(self, low: FloatArray, high: FloatArray, drawn: tuple[float, float]) -> _Look:
        """Bound every part's voltage over a range, in the network and in its adjoint."""
        middle, off = (low + high) / 2, (high - low) / (high + low)
        weighed = self.incidence * middle
        inverse = np.linalg.inv(weighed @ self.incidence.T + np.diag(self.tied))
        amps, spare = sum(drawn) / 2, (drawn[1] - drawn[0]) / 2
        potentials = inverse @ (self.entering - amps * self.probe - weighed @ self.held)
        across = self.incidence.T @ potentials + self.held
        back = self.incidence.T @ (inverse @ self.probe)
        moved = np.abs(self.incidence.T @ (inverse @ weighed)) * off

        def reach(u: FloatArray) -> FloatArray:
            bound = np.sqrt(((middle * off**2 / (1 - off)) @ u**2) / low)
            first = moved @ np.abs(u)
            for _ in range(ROUNDS):
                bound = np.minimum(bound, first + moved @ bound)
            return bound

        back_off = reach(back)
        off_by = reach(across) + spare * (np.abs(back) + back_off)
        swing = off * middle * (np.abs(across) + off_by) * (np.abs(back) + back_off)
        largest = max(float(np.abs(across).max()), float(np.abs(self.held).max()))
        clear = (np.abs(across) > off_by + CLEAR * largest) & (
            np.abs(back) > back_off + CLEAR * float(np.abs(back).max())
        )
        rises, known = across * back > 0, clear | (swing <= NOTHING * largest)
        if self.own is not None:
            seen, by = abs(back[self.own]), back_off[self.own]
            rises[self.own] = low[self.own] * (seen - by) > 0.5
            known[self.own] = rises[self.own] or high[self.own] * (seen + by) < 0.5
        return _Look(
            volts=float(self.probe @ potentials) + self.offset,
            swing=float(swing.sum()) + NOTHING * largest,
            moves=swing,
            rises=rises,
            known=known,
        )


@dataclass(frozen=True, slots=True)
class _Look:
    volts: float  #: at the middle
    swing: float  #: V that the whole range can add or take from that, at most
    moves: FloatArray  #: (branches,) V, the same for each part
    rises: BoolArray  #: (branches,): it rises with the part's resistance, at the middle
    known: BoolArray  #: (branches,): and does so, or falls, in the whole range


@dataclass(frozen=True, slots=True)
class _Range:
    low: FloatArray
    high: FloatArray
    ends: BoolArray  #: (branches,): of parts no longer free, the end they stand at
    drawn: tuple[float, float]  #: A from the node asked about, least and most

    @property
    def free(self) -> BoolArray:
        return self.low < self.high

    def at(self, places: npt.NDArray[np.intp], high_ohms: BoolArray) -> _Range:
        """Hold the parts at `places` at an end of their range."""
        low, high, ends = self.low.copy(), self.high.copy(), self.ends.copy()
        siemens = np.where(high_ohms, low[places], high[places])
        low[places] = high[places] = siemens
        ends[places] = high_ohms
        return replace(self, low=low, high=high, ends=ends)


def _laid_out(mesh: Mesh, a: int, b: int, power_of: int | None) -> tuple[_Question, list[int]]:
    """Return the question and the positions of the branches that can matter to it."""
    circuit = mesh.circuit
    given = {circuit.low: mesh.low_v, GROUND: 0.0}
    given |= {SUPPLY: mesh.supply_v} if mesh.source_ohms == 0 else {}
    reached = reached_nodes(circuit, given if mesh.source_ohms == np.inf else {*given, SUPPLY})
    free = [n for n in range(circuit.nodes) if reached[n] and n not in given]
    place = {n: k for k, n in enumerate(free)}
    live = [i for i, x in enumerate(circuit.branches) if x.a != x.b and reached[x.a]]
    incidence = np.zeros((len(place), len(live)))
    held = np.zeros(len(live))
    for column, i in enumerate(live):
        branch = circuit.branches[i]
        for node, sign in ((branch.a, 1.0), (branch.b, -1.0)):
            if node in place:
                incidence[place[node], column] = sign
            else:
                held[column] += sign * given[node]
    tied = np.zeros(len(place))
    entering = np.array([-mesh.drawn[n] for n in place])
    if SUPPLY in place:
        inside = 1 / mesh.source_ohms  # none in a current source
        tied[place[SUPPLY]] += inside
        entering[place[SUPPLY]] += mesh.supply_v * (inside or 1.0)
    probe = np.zeros(len(place))
    offset = 0.0
    for node, sign in ((a, 1.0), (b, -1.0)):
        if node in place:
            probe[place[node]] += sign
        else:
            offset += sign * given.get(node, 0.0)
    own = live.index(power_of) if power_of in live else None
    return _Question(incidence, held, tied, entering, probe, offset, own), live


def open_corners(
    mesh: Mesh,
    a: int,
    b: int,
    *,
    drawn: tuple[float, float] = (0.0, 0.0),
    power_of: int | None = None,
    most: int = 2**16,
) -> BoolArray | None:
    """Return corners of `mesh` among which the voltage of `a` above `b` has its extremes.

    Parameters
    ----------
    drawn : (float, float)
        A drawn from `a`, least and most: the corners hold the extremes for every current between.
    power_of : int, optional
        A branch between `a` and `b`: the corners of the others among which it has, at some value
        in its range, its largest voltage either way and its worst power.
    most : int
        More corners than this are not returned.
    mesh : Mesh
        Resistances with their ranges.
    a : int
        The node asked about.
    b : int
        The node it is counted from.

    Returns
    -------
    (m, branches) ndarray of bool, or None
        True is a part's high resistance. None if the signs leave too much open.
    """
    question, live = _laid_out(mesh, a, b, power_of)
    count = len(mesh.circuit.branches)
    if not question.probe.any() or not live:
        return np.zeros((1, count), dtype=np.bool_)  # the supply holds it, or nothing does
    start = np.zeros(len(live), dtype=np.bool_)
    whole = _Range(mesh.low[live], mesh.high[live], start, drawn)
    found = []
    for own in (None, question.own)[: 1 if question.own is None else 2]:
        best = -np.inf
        for sign in (1.0, -1.0):
            walk = _Walk(replace(question, own=own), sign, most, best)
            if not walk.through(whole):
                return None
            found += walk.found
            if power_of is not None:
                best = walk.best  # its size counts, whichever way it goes
    ends = np.unique(np.array(found).reshape(-1, len(live)), axis=0)
    rows = np.zeros((len(ends), count), dtype=np.bool_)
    rows[:, live] = ends
    return rows if len(rows) <= most else None


@dataclass(slots=True)
class _Walk:
    """Ranges looked at one after the other, for the greatest voltage (or the least: `sign` −1)."""

    question: _Question
    sign: float
    most: int
    best: float  #: the furthest met at any point, in V or, for a power, V²·S
    found: list[BoolArray] = field(default_factory=list)

    def through(self, whole: _Range) -> bool:
        """Collect the corners that may be extreme; False if that is too much work."""
        least_piece = (whole.drawn[1] - whole.drawn[0]) / MOST_PIECES
        stack = [whole]
        for _ in range(MOST_LOOKS):
            while stack and not stack[-1].free.any():
                self.found.append(stack.pop().ends)
            if not stack or len(self.found) > self.most:
                break
            here = stack.pop()
            look = self.question.look(here.low, here.high, here.drawn)
            if self._cannot_win(here, look):
                continue
            free = here.free
            sure = np.flatnonzero(free & look.known)
            if len(sure):
                stack.append(here.at(sure, self._better(look, sure)))
            else:
                stack.extend(self._parts_of(here, look, np.flatnonzero(free), least_piece))
        return not stack and len(self.found) <= self.most

    def _better(self, look: _Look, places: npt.NDArray[np.intp]) -> BoolArray:
        """Return the ends, True for high resistance, that go further the way that is asked for."""
        better: BoolArray = look.rises[places] == (self.sign > 0)
        if self.question.own is not None:
            better = np.where(places == self.question.own, look.rises[places], better)
        return better

    def _cannot_win(self, here: _Range, look: _Look) -> bool:
        """Whether nothing in the range is as far as something already met."""
        if here.drawn[0] < here.drawn[1]:
            return False  # a question for each current
        met, may = self.sign * look.volts, self.sign * look.volts + look.swing
        own = self.question.own
        if own is not None:
            met = max(met, 0.0) ** 2 * (here.low[own] + here.high[own]) / 2
            may = max(may, 0.0) ** 2 * here.high[own]
        self.best = max(self.best, met)
        return may < self.best

    def _parts_of(
        self, here: _Range, look: _Look, free: npt.NDArray[np.intp], least_piece: float
    ) -> Iterator[_Range]:
        """Cut a range in two where it is widest, or try the few values left at all their ends."""
        own = self.question.own
        ends_only = free[free != own]
        widest = free[[int(np.argmax(look.moves[free]))]]
        if len(ends_only) <= FEW:
            if own in free:
                here = here.at(np.array([own]), np.array([False]))
            for ends in itertools.product((False, True), repeat=len(ends_only)):
                yield here.at(ends_only, np.array(ends, dtype=np.bool_))
        elif here.drawn[1] - here.drawn[0] > least_piece:
            middle = sum(here.drawn) / 2
            yield replace(here, drawn=(here.drawn[0], middle))
            yield replace(here, drawn=(middle, here.drawn[1]))
        elif widest[0] == own:
            low, high = here.low.copy(), here.high.copy()
            low[own] = high[own] = (here.low[own] + here.high[own]) / 2
            yield replace(here, high=high)
            yield replace(here, low=low)
        else:
            better = self._better(look, widest)
            yield here.at(widest, ~better)
            yield here.at(widest, better)  # looked at first
