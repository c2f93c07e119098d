"""A box reduced as seen from two nodes, what of it may vary, and its values at any corners.

Parts that act as one are merged first. Few values that are left have all their corners laid out; of
many, those that the signs of what each value does leave open (see `signs`).
"""

from __future__ import annotations

import itertools
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch, Circuit
from lowfold.core.solving.carrying import carrying
from lowfold.core.solving.nets import Load, Nets, nets_of, nominal_nets
from lowfold.core.solving.nodes import MOST_CELLS, potentials
from lowfold.core.tolerance.box import Box, LoadRange
from lowfold.core.tolerance.condense import Merged, condense
from lowfold.core.tolerance.signs import Mesh, open_corners

__all__ = ["FEW_STEPS", "MOST_CORNERS", "Corners", "Layout", "every_corner", "laid_out", "reduced"]

FloatArray = npt.NDArray[np.float64]
BoolArray = npt.NDArray[np.bool_]

#: Corners one figure may need; beyond it the question is refused.
MOST_CORNERS: Final = 2**16
#: Values that may move independently, however few of their corners matter; some seconds of work.
MOST_VALUES: Final = 128
#: Multiplications up to which laying out all corners is quicker than asking for signs.
FEW_STEPS: Final = 2**21
#: Load currents, and the supply beside them, whose ends are all gone through for the signs.
MOST_APART: Final = 8
#: A load so many times lighter than its heavy end moves nothing that is told apart.
NOWHERE: Final = 1e12


@dataclass(frozen=True, slots=True)
class Corners:
    """Corners of a box as sets of values for a reduced circuit."""

    circuit: Circuit  #: the merged one
    merged: tuple[Merged, ...]
    nets: Nets
    high: BoolArray  #: (m, variables): which end each variable stands at
    variables: tuple[str, ...]  #: supply, loads by name, then one per merged part: its members
    between: tuple[int, int]  #: the nodes asked about, in the reduced circuit

    def gap(self) -> FloatArray:
        """Return by how much the one node is above the other at every corner, (m,) in V."""
        return self.solved()[0]

    def ends(self, row: int) -> dict[str, str]:
        """Return where each value stands in one corner: `{"R1": "low", "supply": "high"}`."""
        found: dict[str, str] = {}
        for name, high in zip(self.variables, self.high[row], strict=True):
            for single in name.split():
                found[single] = "high" if high else "low"
        return found

    def solved(self) -> tuple[FloatArray, BoolArray]:
        """Return the voltage at every corner, (m,) in V, and which loads starve, (m, loads)."""
        sets = len(self.high)
        step = max(1, MOST_CELLS // self.circuit.nodes**2)
        found = np.empty(sets)
        starved = np.empty(self.nets.load_amps.shape, dtype=np.bool_)
        for start in range(0, sets, step):
            some = slice(start, start + step)
            gaps, starved[some] = potentials(self.nets.some(some))
            found[some] = gaps[:, self.between[0], self.between[1]]
        return found, starved

    def loaded(self, ohms: float) -> Corners:
        """Return the same corners with one more load, from the node asked about to 0 V."""
        beside = np.full((len(self.high), 1), 1 / ohms)
        nets = replace(
            self.nets,
            at=np.hstack([self.nets.at, [[self.between[0]]]]),
            load_siemens=np.hstack([self.nets.load_siemens, beside]),
            load_amps=np.hstack([self.nets.load_amps, np.zeros_like(beside)]),
        )
        return replace(self, nets=nets)


@dataclass(frozen=True, slots=True)
class _Variable:
    """One value that may stand at either end of its range."""

    kind: Literal["supply", "load", "part"]
    place: int  #: among the loads, or the merged parts
    name: str
    branch: int | None  #: of a resistance, its place in the mesh: merged parts, then such loads


@dataclass(frozen=True, slots=True)
class Layout:
    """A box reduced as seen from two nodes, with what of it may vary."""

    box: Box
    merged: tuple[Merged, ...]
    circuit: Circuit
    loads: tuple[Load, ...]
    places: Mapping[int, int]  #: of the box's nodes, those kept, in the reduced circuit
    variables: tuple[_Variable, ...]
    asked: tuple[int, int] = (SUPPLY, GROUND)  #: the two nodes, as the box has them

    @property
    def between(self) -> tuple[int, int]:
        """Return the nodes asked about, in the reduced circuit."""
        return self.places[self.asked[0]], self.places[self.asked[1]]

    def nominal_nets(self) -> Nets:
        """Return the one set of values with nothing off."""
        supply = self.box.supply
        return nominal_nets(
            self.circuit, supply.volts, supply.source_ohms, self.loads, supply.low_volts
        )

    def nets(self, high: BoolArray) -> Nets:
        """Return the values at corners, (m, variables) of which end each stands at."""
        supply, sets = self.box.supply, len(high)
        supply_v = np.full(sets, supply.volts)
        load_siemens = np.tile([load.siemens for load in self.loads], (sets, 1))
        load_amps = np.tile([load.amps or 0.0 for load in self.loads], (sets, 1))
        ohms = np.tile([m.nominal for m in self.merged], (sets, 1))
        for column, variable in enumerate(self.variables):
            if variable.kind == "supply":
                step = supply.volts * supply.tolerance
                supply_v += np.where(high[:, column], step, -step)
                continue
            of: Sequence[LoadRange | Merged]
            of = self.box.loads if variable.kind == "load" else self.merged
            ends = of[variable.place]
            chosen = np.where(high[:, column], ends.high, ends.low)
            if variable.kind == "part":
                ohms[:, variable.place] = chosen
            elif variable.branch is not None:
                load_siemens[:, variable.place] = 1 / chosen
            else:
                load_amps[:, variable.place] = chosen
        return nets_of(
            self.circuit,
            1 / ohms if self.merged else np.zeros((sets, 0)),
            supply_v,
            supply.source_ohms,
            self.loads,
            load_siemens,
            load_amps,
            supply.low_volts,
        )

    def at(self, high: BoolArray, between: tuple[int, int]) -> Corners:
        """Return corners with the voltage between two nodes asked for."""
        names = tuple(v.name for v in self.variables)
        return Corners(self.circuit, self.merged, self.nets(high), high, names, between)

    def open_corners(
        self, between: tuple[int, int], drawn: float = 0.0, own: int | None = None
    ) -> BoolArray | None:
        """Return corners that hold the extremes, by signs; None if they leave too much open.

        With `own`, the place of a merged part, those of its voltage and of its power.
        """
        apart = self._apart
        if len(apart) > MOST_APART:
            return None
        branches = [(k, v.branch) for k, v in enumerate(self.variables) if v.branch is not None]
        columns, places = np.array(branches, dtype=np.intp).reshape(-1, 2).T
        rows = []
        for outer in every_corner(len(apart)):
            start = np.zeros((1, len(self.variables)), dtype=np.bool_)
            start[0, apart] = outer
            mesh = self._mesh(start)
            ends = open_corners(
                mesh,
                *between,
                drawn=(min(drawn, 0.0), max(drawn, 0.0)),
                power_of=own,
                most=MOST_CORNERS >> len(apart),
            )
            if ends is None:
                return None
            found = np.repeat(start, len(ends), axis=0)
            found[:, columns] = ends[:, places]
            rows.append(found)
        found = np.concatenate(rows)
        for column, variable in enumerate(self.variables):
            if variable.kind == "supply" and column not in apart:
                risen = found.copy()
                risen[:, column] = True
                found = np.concatenate([found, risen])
        return np.unique(found, axis=0)

    @property
    def _apart(self) -> list[int]:
        """Return the variables whose ends are gone through beside the signs of resistances.

        Where every voltage goes with the supply, one end of it tells of the other.
        """
        return [
            k
            for k, v in enumerate(self.variables)
            if v.branch is None and (v.kind == "load" or not self.box.scales)
        ]

    def _mesh(self, start: BoolArray) -> Mesh:
        """Return the resistances in their ranges, all else as at one corner."""
        nets = self.nets(start)
        supply_v = float(nets.supply_v[0])
        drawn = np.zeros(self.circuit.nodes)
        supply = self.box.supply
        if max(supply_v, supply.low_volts) > 0:  # else no node is above 0 V, and none draws
            np.add.at(drawn, [load.at for load in self.loads], nets.load_amps[0])
        hung = [r for r in self.box.loads if r.load.ohms is not None]
        at = [load.at for load in self.loads if load.ohms is not None]
        ends = [(m.low, m.high) for m in self.merged] + [(r.low, r.high) for r in hung]
        low, high = np.array(ends).reshape(-1, 2).T
        high = np.minimum(high, NOWHERE * low)  # nothing connected; below that no sign is told
        branches = (*self.circuit.branches, *(Branch("", n, GROUND, 1.0) for n in at))
        circuit = replace(self.circuit, branches=branches)
        return Mesh(
            circuit, 1 / high, 1 / low, supply_v, supply.source_ohms, drawn, supply.low_volts
        )

    @property
    def drawing(self) -> set[int]:
        """Return the junctions from which a current is drawn, where anything is above 0 V."""
        if not self.box.above_zero:
            return set()
        pairs = zip(self.box.loads, self.loads, strict=True)
        return {load.at for r, load in pairs if load.amps is not None and r.high > 0}

    @property
    def few(self) -> bool:
        """Whether all corners are laid out sooner than the signs are asked for."""
        return bool(2 ** len(self.variables) * self.circuit.nodes**3 <= FEW_STEPS)

    @property
    def clipped(self) -> bool:
        """Whether the one junction that is drawn from is the one asked about.

        Its voltage is then the linear one, kept from going through 0 V: monotonic in everything.
        Where the low end lies below 0 V it is so only piece by piece.
        """
        return (
            self.box.supply.low_volts >= 0
            and self.drawing == {self.between[0]}
            and self.between[1] == GROUND
        )

    def fed(self) -> bool:
        """Whether every junction that is drawn from is proven to stay above 0 V."""
        if self.few:
            return not self.at(every_corner(len(self.variables)), self.between).solved()[1].any()
        for node in self.drawing:
            between = (node, GROUND)
            ends = self.open_corners(between)
            if ends is None or self.at(ends, between).solved()[1].any():
                return False
        return True


def every_corner(count: int) -> BoolArray:
    """Return every corner of so many variables, (2^count, count).

    Parameters
    ----------
    count : int
        Variables that stand at either end.
    """
    high = np.array(list(itertools.product((False, True), repeat=count)), dtype=np.bool_)
    return high.reshape(2**count, count)


def reduced(box: Box, asked: Collection[int], apart: Collection[int]) -> Layout:
    """Return a box with those parts merged that act as one, seen from some nodes.

    Parameters
    ----------
    asked : collection of int
        Nodes that are kept, beside those of the supply and the loads.
    apart : collection of int
        Branches that stay on their own and stand still.
    """
    kept = {*box.circuit.ends, *asked, *(r.load.at for r in box.loads)}
    merged = condense(box.circuit, box.low, box.high, kept, apart)
    inside = {n for m in merged for n in (m.a, m.b)} - kept
    order = [GROUND, SUPPLY, *sorted(kept - {GROUND, SUPPLY}), *sorted(inside)]
    place = {node: k for k, node in enumerate(order)}
    branches = tuple(replace(m.branch(), a=place[m.a], b=place[m.b]) for m in merged)
    return Layout(
        box=box,
        merged=merged,
        circuit=Circuit(branches, len(order), {}, place[box.circuit.low]),
        loads=tuple(replace(r.load, at=place[r.load.at]) for r in box.loads),
        places=place,
        variables=tuple(_variables(box, merged, apart)),
    )


def _variables(box: Box, merged: Sequence[Merged], apart: Collection[int]) -> Iterator[_Variable]:
    if box.supply.tolerance > 0 and box.supply.volts != 0:
        yield _Variable("supply", 0, "supply", None)
    hung = itertools.count(len(merged))
    for i, r in enumerate(box.loads):
        branch = None if r.load.ohms is None else next(hung)
        if r.low < r.high:
            yield _Variable("load", i, box.load_name(i), branch)
    for i, m in enumerate(merged):
        if m.low < m.high and set(m.members).isdisjoint(apart):
            name = " ".join(box.circuit.branches[k].ref for k in sorted(m.members))
            yield _Variable("part", i, name, i)


def _without_idle(box: Box, drawn_at: Collection[int]) -> Box:
    """Return the box with those parts held whose values do not matter: no current passes them."""
    branches = box.circuit.branches
    loaded = [*box.circuit.ends - {GROUND, SUPPLY}, *(r.load.at for r in box.loads), *drawn_at]
    hung = [Branch("", node, GROUND, 1.0) for node in loaded]
    live = {e.ref for e in carrying([*branches, *hung])}
    pairs = zip(branches, box.half_widths, strict=True)
    return replace(box, half_widths=tuple(h if b.ref in live else 0.0 for b, h in pairs))


def laid_out(
    box: Box, between: tuple[int, int], power_of: int | None = None, drawn: float = 0.0
) -> Layout:
    """Reduce a box as seen from two nodes; refuse one with too many values.

    Parameters
    ----------
    between : tuple[int, int]
        The two nodes: the first above the second.
    power_of : int | None
        A branch whose power is asked about.
    drawn : float
        Further current from the first node, A.

    Returns
    -------
    Layout
        The reduced circuit and what of it varies.

    Raises
    ------
    TooLargeError
        If more than `MOST_VALUES` move independently.
    """
    apart = () if power_of is None else (power_of,)
    layout = replace(reduced(box, between, apart), asked=between)
    if not layout.few:
        idle = _without_idle(box, between[:1] if drawn else ())
        layout = replace(reduced(idle, between, apart), asked=between)
    count = len(layout.variables)
    if count > MOST_VALUES:
        msg = (
            f"{count} values move independently; the worst case of up to {MOST_VALUES} is "
            "searched. Set the tolerance of some parts to 0"
        )
        raise TooLargeError(msg, field="network")
    return layout
