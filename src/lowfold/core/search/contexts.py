"""Contexts: every way to put some parts around a block that is looked up in a table.

Taken apart at its joins towards the heavier side, every series–parallel arrangement is a block of
at most half or two thirds of its parts inside a context of the others, and the whole rises with
the block (docs/search.md).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.network.tree import Element, chain, group
from lowfold.core.parts.pool import Pool
from lowfold.core.search.combine import PARALLEL, SERIES, SINGLE, Table, table

__all__ = ["MOST_PARTS", "ROUNDING", "Drive", "Form", "forms"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.intp]

#: By parts: how many are in the block looked up, and in each step of its context, outermost first.
CONTEXTS: Final[dict[int, tuple[tuple[int, tuple[int, ...]], ...]]] = {
    1: ((1, ()),),
    2: ((2, ()),),
    3: ((2, (1,)),),
    4: ((2, (2,)), (2, (1, 1))),
    5: ((4, (1,)), (3, (2,))),
    6: ((3, (3,)), (4, (2,)), (4, (1, 1)), (3, (1, 2))),
}
MOST_PARTS: Final = max(CONTEXTS)
#: Relative error that computing one resistance in floats may leave.
ROUNDING: Final = 1e-12


@dataclass(frozen=True, slots=True)
class Drive:
    """What is across or through the whole, and what each chosen part may take."""

    allowed_watts: float
    volts: float | None = None  #: across the whole, V
    amps: float | None = None  #: through the whole, A

    def whole_watts(self, ohms: FloatArray) -> FloatArray:
        """Return what the whole takes, (n,) in W (P = V²/R = I²·R)."""
        if self.volts is not None:
            return self.volts**2 / ohms
        return (self.amps or 0.0) ** 2 * ohms


@dataclass(frozen=True, slots=True)
class _Step:
    """One join of every context in a form, with rows of a table or with the part in place."""

    join: int
    ohms: FloatArray  #: (contexts,)
    source: Table | None  #: None for the part in place
    rows: IntArray  #: (contexts,)

    def inside(self, whole: FloatArray | float, ohms: FloatArray) -> FloatArray:
        """Return what has to join `ohms` to make `whole`: 0 or inf where nothing can."""
        if self.join == SERIES:
            return np.maximum(whole - ohms, 0.0)
        with np.errstate(divide="ignore", invalid="ignore"):
            need = np.where(ohms > whole, whole * ohms / (ohms - whole), np.inf)
        return np.where(np.asarray(whole) <= 0, 0.0, need)

    def outside(self, inner: FloatArray, ohms: FloatArray) -> FloatArray:
        return inner + ohms if self.join == SERIES else inner * ohms / (inner + ohms)


class Form:
    """Contexts of one shape around the blocks of one table, outermost step first."""

    def __init__(
        self, steps: tuple[_Step, ...], inner: Table, contexts: int, join: int = SINGLE
    ) -> None:
        self.steps, self.inner, self.contexts = steps, inner, contexts
        self.join = join  #: how the chosen parts join the part in place; SINGLE where there is none

    def cut(self, most: int) -> Iterator[Form]:
        """Yield the form in pieces of at most `most` contexts."""
        for start in range(0, self.contexts, most):
            some = slice(start, start + most)
            steps = (_Step(s.join, s.ohms[some], s.source, s.rows[some]) for s in self.steps)
            yield Form(tuple(steps), self.inner, min(most, self.contexts - start), self.join)

    def need(self, whole: float) -> FloatArray:
        """Return the block that would make `whole` in each context, (contexts,) Ω."""
        found = np.full(self.contexts, whole)
        for step in self.steps:
            found = step.inside(found, step.ohms)
        return found

    def blocks(self, at: IntArray, inner: FloatArray) -> list[FloatArray]:
        """Return resistances from the whole inward to `inner`, for contexts `at`."""
        found = [inner]
        for step in reversed(self.steps):
            found.append(step.outside(found[-1], step.ohms[at]))
        return found[::-1]

    def watts(self, drive: Drive, at: IntArray, inner: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return the hottest chosen part of each context, and what the block takes, (n,) W."""
        steps, taken = self.watts_by_step(drive, at, inner)
        return np.max(steps, axis=0, initial=0.0), taken

    def watts_by_step(
        self, drive: Drive, at: IntArray, inner: FloatArray
    ) -> tuple[FloatArray, FloatArray]:
        """Return the hottest chosen part of each step, (steps, n), and of the block, (n,) W."""
        resistances = self.blocks(at, inner)
        taken = drive.whole_watts(resistances[0])
        found = [np.zeros(len(at))]
        for step, whole, inside in zip(self.steps, resistances, resistances[1:], strict=False):
            in_series = step.join == SERIES
            ohms = step.ohms[at]
            own = taken * (ohms / whole if in_series else whole / ohms)
            if step.source is not None:
                found.append(own * step.source.share[step.rows[at]])
            taken = taken * (inside / whole if in_series else whole / inside)
        return np.array(found), taken

    def leaves(self, at: IntArray, rows: IntArray) -> npt.NDArray[np.int32]:
        columns = [s.source.leaves[s.rows[at]] for s in self.steps if s.source is not None]
        return np.concatenate([*columns, self.inner.leaves[rows]], axis=1)

    def network(self, at: int, row: int) -> Element:
        """Return the chosen parts of one context and row, the part in place left out."""
        found = self.inner.network(row)
        for step in reversed(self.steps):
            if step.source is not None:
                other = step.source.network(int(step.rows[at]))
                found = (chain if step.join == SERIES else group)([other, found])
        return found


def forms(
    pool: Pool,
    parts: int,
    fixed: float | None,
    low: float,
    high: float,
    beside: float | None = None,
) -> Iterator[Form]:
    """Yield the forms of exactly `parts` parts that can make something from `low` to `high` Ω.

    Parameters
    ----------
    fixed : float, optional
        Ω of a part in place, in series or in parallel with the chosen ones.
    beside : float, optional
        Ω in parallel with all of that.
    parts : int
        How many are chosen.
    low : float
        Least of the whole, Ω.
    high : float
        Greatest of the whole, Ω.
    """
    joins_in_place = (SINGLE,) if fixed is None else (SERIES, PARALLEL)
    load = [] if beside is None else [(PARALLEL, beside)]
    for size, outer in CONTEXTS[parts]:
        inner = table(pool, size)
        if not len(inner.ohms):
            continue
        for first in (SERIES, PARALLEL) if outer else (SERIES,):
            # Two joins of one kind in a row are one join: another form has it.
            joins = [first if k % 2 == 0 else SERIES + PARALLEL - first for k in range(len(outer))]
            around = [(join, table(pool, of)) for join, of in zip(joins, outer, strict=True)]
            for before in joins_in_place:
                in_place = [*load, *([] if fixed is None else [(before, fixed)])]
                yield _reaching(before, in_place, around, inner, low, high)


def _reaching(
    joined: int,
    in_place: list[tuple[int, float]],
    around: list[tuple[int, Table]],
    inner: Table,
    low: float,
    high: float,
) -> Form:
    """Return the contexts in which some block makes something from `low` to `high` Ω.

    Step by step inward: what a step may be is one run of its sorted table, since whatever comes
    inside it lies between the least and the most that can.
    """
    lows, highs = np.array([low]), np.array([high])
    steps: list[_Step] = []
    for join, ohms in in_place:
        step = _Step(join, np.array([ohms]), None, np.zeros(1, dtype=np.intp))
        lows, highs = step.inside(lows, step.ohms), step.inside(highs, step.ohms)
        steps.append(step)
    for place, (join, source) in enumerate(around):
        least, most = (_most(around[place + 1 :], inner, end) for end in (0, -1))
        probe = _Step(join, lows, source, np.zeros(0, dtype=np.intp))
        lowest = probe.inside(lows, np.full(len(lows), most)) * (1 - ROUNDING)
        highest = probe.inside(highs, np.full(len(highs), least)) * (1 + ROUNDING)
        if place == len(around) - 1 and source.parts == inner.parts:
            # Of two blocks of one size the outer is the larger in series, the smaller in parallel.
            if join == SERIES:
                lowest = np.maximum(lowest, lows / 2 * (1 - ROUNDING))
            else:
                highest = np.minimum(highest, highs * 2 * (1 + ROUNDING))
        start = np.searchsorted(source.ohms, lowest)
        stop = np.maximum(np.searchsorted(source.ohms, highest, side="right"), start)
        length = stop - start
        context = np.repeat(np.arange(len(lows)), length)
        rows = np.arange(len(context)) + (start - np.cumsum(length) + length)[context]
        steps = [_Step(s.join, s.ohms[context], s.source, s.rows[context]) for s in steps]
        step = _Step(join, source.ohms[rows], source, rows)
        if place < len(around) - 1:
            lows = step.inside(lows[context], step.ohms)
            highs = step.inside(highs[context], step.ohms)
        steps.append(step)
    return Form(tuple(steps), inner, len(steps[0].ohms) if steps else 1, joined)


def _most(around: list[tuple[int, Table]], inner: Table, end: int) -> float:
    """Return the least (`end` 0) or the most (−1) that blocks inside these steps can make, Ω."""
    found = float(inner.ohms[end])
    for join, source in reversed(around):
        other = float(source.ohms[end])
        found = found + other if join == SERIES else found * other / (found + other)
    return found
