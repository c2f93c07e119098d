"""Every corner of small boxes of one shape, laid out once and read by all that asks for corners.

A node voltage is monotonic in each value (see `corners`), so the extremes of a small box are found
by looking at all its corners. The same corners tell a part's worst power: with all else at a corner
its current goes as 1/(R + Rs), which its own two ends give. Loads alone, and what an output sees
with nothing hung on it, are further sets of values of the same networks, solved with them.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.network.circuit import GROUND, SUPPLY, Branch
from lowfold.core.solving.carrying import carrying
from lowfold.core.solving.nets import Nets
from lowfold.core.solving.nodes import potentials
from lowfold.core.tolerance.box import Box

__all__ = ["CornerGrid", "shape_of", "small"]

FloatArray = npt.NDArray[np.float64]
BoolArray = npt.NDArray[np.bool_]

#: Multiplications up to which all corners are laid out.
FEW_STEPS: Final = 2**21
MOST_VARYING: Final = 10  #: values
#: A part's ends tell what it sees where they differ by at least this factor.
APART: Final = 1.0001


def small(box: Box) -> bool:
    """Return whether all corners of `box` are laid out sooner than anything else is asked for."""
    count = sum(h > 0 for h in box.half_widths) + sum(r.low < r.high for r in box.loads) + 1
    return count <= MOST_VARYING and 2**count * box.circuit.nodes**3 <= FEW_STEPS


def shape_of(box: Box) -> Hashable:
    """Return what boxes have in common whose corners are laid out together."""
    return (
        box.circuit.nodes,
        tuple((b.a, b.b) for b in box.circuit.branches),
        tuple(h > 0 for h in box.half_widths),
        tuple((r.load.at, r.load.ohms is None, r.low < r.high) for r in box.loads),
        box.supply.tolerance > 0 and box.supply.volts != 0,
        box.supply.source_ohms,
        box.supply.low_volts,
        box.circuit.low,
    )


@lru_cache(maxsize=32)
def _every(count: int) -> BoolArray:
    """Return every corner of so many values, (2^count, count)."""
    high = np.array(list(itertools.product((False, True), repeat=count)), dtype=np.bool_)
    return high.reshape(2**count, count)


@lru_cache(maxsize=256)
def _carrying(branches: tuple[Branch, ...], hung: tuple[int, ...]) -> tuple[bool, ...]:
    """Return which branches some current can pass, with loads at the nodes `hung`."""
    beside = [Branch("", node, GROUND, 1.0) for node in hung]
    live = {id(b) for b in carrying([*branches, *beside])}
    return tuple(id(b) in live for b in branches)


@dataclass(frozen=True, slots=True)
class _Block:
    """Sets of values of every box: (boxes, sets, …)."""

    ohms: FloatArray
    supply_v: FloatArray
    load_siemens: FloatArray
    load_amps: FloatArray
    low_v: FloatArray  #: (boxes, sets)
    into: int | None = None  #: node that 1 A enters


class CornerGrid:
    """All corners of boxes of one shape.

    Parameters
    ----------
    boxes : sequence of Box
        Of one shape (`shape_of`), each `small`, none with tracking.
    lines : sequence of int
        Nodes of which it is asked what they are with nothing hung there.
    """

    def __init__(self, boxes: Sequence[Box], lines: Sequence[int] = ()) -> None:
        self.boxes = boxes
        first = boxes[0]
        self.circuit = first.circuit
        self.ends_a = np.array([b.a for b in self.circuit.branches], dtype=np.intp)
        self.ends_b = np.array([b.b for b in self.circuit.branches], dtype=np.intp)
        self.at = np.array([r.load.at for r in first.loads], dtype=np.intp)
        live = _carrying(
            tuple(replace(b, ref=str(k), ohms=1.0) for k, b in enumerate(self.circuit.branches)),
            (*self.circuit.ends - {GROUND, SUPPLY}, *(r.load.at for r in first.loads), *lines),
        )
        pairs = zip(first.half_widths, live, strict=True)
        self.supplied = first.supply.tolerance > 0 and first.supply.volts != 0
        self.loads = [k for k, r in enumerate(first.loads) if r.low < r.high]
        self.parts = [k for k, (h, lives) in enumerate(pairs) if h > 0 and lives]
        self.high = _every(self.supplied + len(self.loads) + len(self.parts))
        self._read_values()
        self._solve(lines)

    def _read_values(self) -> None:
        boxes = self.boxes
        count = len(boxes)
        nominal = [[b.ohms for b in box.circuit.branches] for box in boxes]
        self.ohms = np.array(nominal, dtype=np.float64).reshape(count, len(self.ends_a))
        half = np.array([box.half_widths for box in boxes]).reshape(self.ohms.shape)
        self.low, self.top = self.ohms * (1 - half), self.ohms * (1 + half)
        self.volts = np.array([box.supply.volts for box in boxes])
        self.wander = np.array([box.supply.tolerance for box in boxes])
        self.low_volts = np.array([box.supply.low_volts for box in boxes])
        loads = [[(r.low, r.load, r.high) for r in box.loads] for box in boxes]
        shape = (count, 3, len(self.at))

        def resistive(ends: tuple[float, float, float], *, wanted: bool) -> tuple[float, ...]:
            return tuple(1 / x for x in ends) if wanted else (0.0, 0.0, 0.0)

        stated = [
            [(low, x.ohms if x.ohms is not None else x.amps or 0.0, high) for low, x, high in row]
            for row in loads
        ]
        ohmic = [[x.ohms is not None for _, x, _ in row] for row in loads]
        self.siemens_of = np.array(
            [
                [resistive(s, wanted=o) for s, o in zip(row, kinds, strict=True)]
                for row, kinds in zip(stated, ohmic, strict=True)
            ]
        ).reshape(count, len(self.at), 3).transpose(0, 2, 1).reshape(shape)  # fmt: skip
        self.amps_of = np.array(
            [
                [(0.0, 0.0, 0.0) if o else s for s, o in zip(row, kinds, strict=True)]
                for row, kinds in zip(stated, ohmic, strict=True)
            ]
        ).reshape(count, len(self.at), 3).transpose(0, 2, 1).reshape(shape)  # fmt: skip

    def _block(self, high: BoolArray, *, parts: bool = True, into: int | None = None) -> _Block:
        """Return sets at corners, or with the loads alone there and all else nominal."""
        count, sets = len(self.boxes), len(high)
        ohms = np.repeat(self.ohms[:, None], sets, axis=1)
        supply = np.repeat(self.volts[:, None], sets, axis=1)
        low_v = np.repeat(self.low_volts[:, None], sets, axis=1)
        siemens = np.repeat(self.siemens_of[:, 1:2], sets, axis=1)
        amps = np.repeat(self.amps_of[:, 1:2], sets, axis=1)
        column = 0
        if self.supplied and parts:
            supply = supply * (1 + np.where(high[:, 0], 1, -1) * self.wander[:, None])
            column = 1
        for load in self.loads:
            chosen = np.broadcast_to(high[:, column], (count, sets))
            for of, found in ((self.siemens_of, siemens), (self.amps_of, amps)):
                low, top = of[:, 0, None, load], of[:, 2, None, load]
                found[:, :, load] = np.where(chosen, top, low)
            column += 1
        if parts:
            moved = self.parts
            chosen = high[None, :, column:]
            ohms[:, :, moved] = np.where(chosen, self.top[:, None, moved], self.low[:, None, moved])
        return _Block(ohms, supply, siemens, amps, low_v, into)

    def _bare(self, block: _Block, node: int) -> _Block:
        """Return sets with nothing hung on a node."""
        kept = (self.at != node).astype(np.float64)
        return replace(
            block, load_siemens=block.load_siemens * kept, load_amps=block.load_amps * kept
        )

    @staticmethod
    def _dead(block: _Block, node: int) -> _Block:
        """Return sets with the supply and load currents off and 1 A into a node."""
        return replace(
            block,
            supply_v=np.zeros_like(block.supply_v),
            low_v=np.zeros_like(block.low_v),
            load_amps=np.zeros_like(block.load_amps),
            into=node,
        )

    def _solve(self, lines: Sequence[int]) -> None:
        nominal = self._nominal()
        unloaded = replace(
            nominal,
            load_siemens=np.zeros_like(nominal.load_siemens),
            load_amps=np.zeros_like(nominal.load_amps),
        )
        corners = self._block(self.high)
        moved = self._block(_every(len(self.loads)), parts=False)
        blocks = [nominal, unloaded, corners, moved]
        for node in lines:
            columns = [
                self.supplied + k for k, load in enumerate(self.loads) if self.at[load] == node
            ]
            once = self._block(self.high[~self.high[:, columns].any(axis=1)])
            for block in (nominal, once):
                bare = self._bare(block, node)
                blocks += [bare, self._dead(bare, node)]
        solved = self._solved(blocks)
        self.nominal, self.starved_nominal = solved[0][0][:, 0], solved[0][1][:, 0]
        self.unloaded = solved[1][0][:, 0, :, GROUND]
        self.corners = solved[2][0]
        self.starved: list[bool] = [bool(each.any()) for each in solved[2][1]]
        self.moved = solved[3][0][:, :, :, GROUND]
        self.lines = {}
        for k, node in enumerate(lines):
            each = [solved[4 + 4 * k + j][0][:, :, node, GROUND] for j in range(4)]
            self.lines[node] = (each[0][:, 0], each[1][:, 0], each[2], each[3])

    def _nominal(self) -> _Block:
        return _Block(
            self.ohms[:, None],
            self.volts[:, None],
            self.siemens_of[:, 1:2],
            self.amps_of[:, 1:2],
            self.low_volts[:, None],
        )

    def _solved(self, blocks: Sequence[_Block]) -> list[tuple[FloatArray, BoolArray]]:
        """Solve blocks together: gaps, (boxes, sets, nodes, nodes) V, and starved loads."""
        count, n = len(self.boxes), self.circuit.nodes
        sizes = [block.ohms.shape[1] for block in blocks]
        total = sum(sizes)
        entering = None
        if any(block.into is not None for block in blocks):
            entering = np.zeros((count, total, n))
            start = 0
            for block, size in zip(blocks, sizes, strict=True):
                if block.into is not None:
                    entering[:, start : start + size, block.into] = 1.0
                start += size
            entering = entering.reshape(-1, n)

        def joined(name: str, width: int) -> FloatArray:
            found = np.concatenate([getattr(block, name) for block in blocks], axis=1)
            return found.reshape(count * total, width) if width >= 0 else found.reshape(-1)

        nets = Nets(
            nodes=n,
            a=self.ends_a[None],
            b=self.ends_b[None],
            siemens=1 / joined("ohms", len(self.ends_a)),
            at=self.at[None],
            load_siemens=joined("load_siemens", len(self.at)),
            load_amps=joined("load_amps", len(self.at)),
            supply_v=joined("supply_v", -1),
            source_ohms=self.boxes[0].supply.source_ohms,
            entering=entering,
            low=self.circuit.low,
            low_v=joined("low_v", -1),
        )
        gaps, starved = potentials(nets)
        gaps = gaps.reshape(count, total, n, n)
        starved = starved.reshape(count, total, len(self.at))
        found, start = [], 0
        for size in sizes:
            found.append((gaps[:, start : start + size], starved[:, start : start + size]))
            start += size
        return found

    def heavy(self, box: int) -> FloatArray:
        """Return every node with the loads at their heaviest and all else nominal, V."""
        of = self.boxes[box].loads
        most = [of[k].load.ohms is None for k in self.loads]
        row = int(np.flatnonzero((_every(len(self.loads)) == most).all(axis=1))[0])
        volts: FloatArray = self.moved[box, row]
        return volts

    def names(self, box: int) -> list[str]:
        """Return what the values that vary go by, in the order of `high`."""
        of = self.boxes[box]
        return [
            *(["supply"] if self.supplied else []),
            *(of.load_name(k) for k in self.loads),
            *(of.circuit.branches[k].ref for k in self.parts),
        ]

    def ends(self, box: int, row: int) -> dict[str, str]:
        """Return where each value stands at one corner: `{"R1": "low", "supply": "high"}`."""
        pairs = zip(self.names(box), self.high[row], strict=True)
        return {name: "high" if high else "low" for name, high in pairs}

    def worst_powers(self) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Return every part's worst power, its resistance there, and its largest voltage.

        Each (boxes, branches), in W, Ω and V. NaN where the part's ends lie too near each other to
        tell what it sees.

        Notes
        -----
        Of a part R that sees a source V behind Rs the power V²·R/(R + Rs)² is greatest at R = Rs,
        else at the nearer end of its range; its voltage at its high end (see `power`).
        """
        across = np.abs(np.nan_to_num(self.corners[:, :, self.ends_a, self.ends_b]))
        watts = np.max(across**2, axis=1) / self.ohms
        ohms, volts = self.ohms.copy(), across.max(axis=1)
        first = self.supplied + len(self.loads)
        for column, place in enumerate(self.parts, start=first):
            top = self.high[:, column]
            low, high = self.low[:, place, None], self.top[:, place, None]
            near, far = across[:, ~top, place] / low, across[:, top, place] / high
            with np.errstate(divide="ignore", invalid="ignore"):
                seen = (far * high - near * low) / (near - far)
                # Equal currents: the part sees a current source, and its high end is worst.
                seen = np.where(near - far <= 1e-14 * near, np.inf, np.maximum(seen, 0.0))
                worst = np.clip(seen, low, high)
                source = np.where(np.isinf(seen), 0.0, near * (low + seen))
                within = source**2 * worst / (worst + seen) ** 2
                power = np.where(np.isinf(seen), near**2 * high, within)
            row = np.argmax(power, axis=1)[:, None]
            watts[:, place] = np.take_along_axis(power, row, axis=1)[:, 0]
            ohms[:, place] = np.take_along_axis(worst, row, axis=1)[:, 0]
            blind = (high <= low * APART)[:, 0]
            watts[blind, place] = math.nan
        on_itself = self.ends_a == self.ends_b
        watts[:, on_itself] = 0.0
        return watts, ohms, volts
