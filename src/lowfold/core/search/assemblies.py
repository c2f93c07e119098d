"""The combinations of a given number of parts nearest to a resistance, meeting in the middle.

In each context (see `contexts`) the blocks nearest to the one that would hit the target are its
neighbours in a sorted table, on either side. Nothing else has to be looked at (docs/search.md).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.network.tree import Element, canonical
from lowfold.core.parts.pool import Pool
from lowfold.core.search.contexts import ROUNDING, Drive, Form, forms

__all__ = ["arrangements", "nearest_assemblies"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.intp]
BoolArray = npt.NDArray[np.bool_]

#: Raw hits taken per wanted combination at first: an arrangement may be met in several readings.
READINGS: Final = 3
#: Rings around the target searched one after the other, as relative distances.
RINGS: Final[tuple[float, ...]] = (0.0, 0.05, math.inf)
#: Finer ones where powers are limited, so that what is too hot is known before looking.
LIMITED_RINGS: Final = (0.002, 0.02, 0.2)
WIDENING: Final = 1.5
#: Different arrangements: how they join the part in place, and their text.
_Found = dict[tuple[int, str], Element]
#: Contexts handled at once, so that their columns stay in the processor's cache.
CONTEXTS_AT_ONCE: Final = 65_536
#: From here on contexts are worth a second thread.
MANY_CONTEXTS: Final = 100_000
#: Rows read at once from a table by few contexts.
BLOCK: Final = 4096


@dataclass(frozen=True, slots=True)
class _Hits:
    """Combinations met: contexts of a form with rows of its table, and how far off the whole is."""

    form: Form
    at: IntArray
    rows: IntArray
    away: FloatArray  #: |whole − target|, Ω

    def kept(self, which: BoolArray | IntArray) -> _Hits:
        return _Hits(self.form, self.at[which], self.rows[which], self.away[which])


class _Walk:
    """Some contexts of a form walking away from the target through rows of its table."""

    def __init__(
        self,
        form: Form,
        contexts: IntArray,
        level: tuple[IntArray, FloatArray] | None,
        start: IntArray,
        side: int,
    ) -> None:
        self.form, self.contexts, self.side = form, contexts, side
        self.rows: IntArray | None = level[0] if level else None
        self.ohms = level[1] if level else form.inner.ohms
        self.next = start

    def read(self, target: float, bound: float) -> _Hits | None:
        """Take the next rows of every context; those that pass `bound` are left for good."""
        active = np.flatnonzero((self.next >= 0) & (self.next < len(self.ohms)))
        if not len(active):
            return None
        contexts, start = self.contexts[active], self.next[active]
        depth = max(1, min(BLOCK // len(active), 256))
        if depth == 1:
            at, places = contexts, start
        else:
            at = np.repeat(contexts, depth)
            places = (start[:, None] + self.side * np.arange(depth)).ravel()
        missing = (places < 0) | (places >= len(self.ohms)) if depth > 1 else None
        if missing is not None:
            places = np.clip(places, 0, len(self.ohms) - 1)
        whole = self.form.blocks(at, self.ohms[places])[0]
        # Rounding may put an exact hit a hair on the other side; it still is the nearest.
        away = np.maximum(self.side * (whole - target), 0.0)
        if missing is not None:
            away[missing] = np.inf
        going = np.flatnonzero(away[depth - 1 :: depth] <= bound)
        self.contexts, self.next = contexts[going], start[going] + self.side * depth
        near = np.flatnonzero(away <= bound)
        rows = places[near] if self.rows is None else self.rows[places[near]]
        return _Hits(self.form, at[near], rows, away[near])


def nearest_assemblies(
    pool: Pool,
    parts: int,
    target: float,
    count: int,
    *,
    fixed: float | None = None,
    drive: Drive | None = None,
    beside: float | None = None,
) -> list[tuple[int, Element]]:
    """Return combinations of exactly `parts` chosen parts among which are the `count` nearest.

    Parameters
    ----------
    parts : int
        1 to `MOST_PARTS`; above 4 for pools of some twenty values only.
    target : float
        Ω of the whole, > 0.
    fixed : float, optional
        Ω of a part in place: the whole is it in series or in parallel with the chosen parts.
    beside : float, optional
        Ω of a load in parallel with all of that.
    drive : Drive, optional
        Only combinations in which no chosen part takes more than it may.
    count : int
        How many are wanted.

    Returns
    -------
    list of (int, Element)
        How the chosen parts join the part in place (SINGLE without one), and their canonical
        arrangement; each once, ties included, and all there are if they are fewer.
    """
    found: _Found = {}
    if not pool.ohms or sum(pool.counts) < parts:
        return []
    rings = RINGS
    if drive is not None:
        ends = (pool.ohms[0] / parts, parts * pool.ohms[-1] + (fixed or 0.0))
        if beside is not None:
            ends = (ends[0] * beside / (ends[0] + beside), ends[1] * beside / (ends[1] + beside))
        alone = fixed is None and beside is None
        start = _coolest(drive, parts, target) if alone else target
        rings = _limited_rings(target, start, *ends)
    for near, far in itertools.pairwise(rings):
        ring = _Ring(pool, parts, target, near, far, fixed, drive, beside)
        found |= ring.nearest(count - len(found))
        if len(found) >= count:
            break
    return [(join, network) for (join, _), network in found.items()]


def _coolest(drive: Drive, parts: int, target: float) -> float:
    """Return the resistance nearest to `target` at which `parts` parts could take the power."""
    most = parts * drive.allowed_watts
    if drive.volts is not None:
        return max(target, drive.volts**2 / most * (1 - 1e-9))
    return min(target, most / (drive.amps or 0.0) ** 2 * (1 + 1e-9)) if drive.amps else target


def _limited_rings(target: float, start: float, least: float, most: float) -> tuple[float, ...]:
    """Return rings that begin with `start` Ω, fine about it and widening, to `least` and `most`."""
    found = [abs(start / target - 1)]
    side = 1 if start >= target else -1
    found += [abs(start * (1 + side * x) / target - 1) for x in LIMITED_RINGS]
    reach = found[-1]
    while 1 + reach < most / target or (reach < 1 and 1 - reach > least / target):
        # Below the target what is left shrinks by the same factor as above it grows.
        reach = (1 + reach) * WIDENING - 1 if reach >= 1 else _next_below(reach)
        found.append(reach)
    return (*found, math.inf)


def _next_below(reach: float) -> float:
    left = (1 - reach) / WIDENING
    return min(1 - left, (1 + reach) * WIDENING - 1) if left > 1e-3 else 1.0


class _Ring:
    """The networks whose relative distance from the target lies between two bounds."""

    def __init__(
        self,
        pool: Pool,
        parts: int,
        target: float,
        near: float,
        far: float,
        fixed: float | None,
        drive: Drive | None,
        beside: float | None,
    ) -> None:
        self.pool, self.target, self.drive = pool, target, drive
        self.near, self.far = near, far
        low = max(target * (1 - far), 0.0) * (1 - ROUNDING)
        high = target * (1 + far) * (1 + ROUNDING)
        # Few contexts first: what they find spares the many a longer walk.
        whole = sorted(forms(pool, parts, fixed, low, high, beside), key=lambda f: f.contexts)
        self.forms = [some for form in whole for some in form.cut(CONTEXTS_AT_ONCE)]

    def _walks(self, form: Form) -> Iterator[_Walk]:
        """Start the contexts of a form at the ring's inner edge, on both sides of the target."""
        every = np.arange(form.contexts)
        start = None
        for side in (-1, 1):
            inner = self.target * (1 + side * self.near)
            if inner <= 0:
                continue
            if self.near:
                inner *= 1 - side * ROUNDING
            need = form.need(inner)
            if self.drive is not None:
                yield from self._level_walks(form, side, need)
                continue
            if start is None or self.near:
                start = np.searchsorted(form.inner.ohms, need)
            yield _Walk(form, every, None, start - (side < 0), side)

    def _every_walk(self) -> list[_Walk]:
        """Start all walks; many contexts in two threads, which bisection leaves free to run."""
        if sum(form.contexts for form in self.forms) < MANY_CONTEXTS:
            return [walk for form in self.forms for walk in self._walks(form)]
        with ThreadPoolExecutor(max_workers=2) as both:
            started = list(both.map(lambda form: list(self._walks(form)), self.forms))
        return [walk for walks in started for walk in walks]

    def _level_walks(self, form: Form, side: int, need: FloatArray) -> Iterator[_Walk]:
        """Start each context in the smallest level that holds every block cool enough in it."""
        edges, levels = form.inner.levels
        outer = max(self.target * (1 + side * self.far), 0.0)
        even = self._evenness(form, need, form.need(outer))
        level = np.minimum(np.searchsorted(edges, even, side="right"), len(levels) - 1)
        hopeful = even >= 1 / form.inner.parts
        for k, (rows, ohms) in enumerate(levels):
            contexts = np.flatnonzero(hopeful & (level == k))
            if len(contexts):
                start = np.searchsorted(ohms, need[contexts]) - (side < 0)
                yield _Walk(form, contexts, (rows, ohms), start, side)

    def _evenness(self, form: Form, one: FloatArray, two: FloatArray) -> FloatArray:
        """Return the largest share of a block's power its hottest part may take, per context.

        Between the two ends of the ring the power of a block, which sees a Thévenin source, is
        least at one of them; so is that of each of a context's parts, though not of the hottest:
        one part may cool while another heats. Negative where some part is too hot at both ends.
        """
        assert self.drive is not None  # asked only where powers are limited
        ends = form.inner.ohms[[0, -1]]
        every = np.arange(form.contexts)
        pairs = [
            form.watts_by_step(self.drive, every, np.clip(need, ends[0], ends[1]))
            for need in (one, two)
        ]
        hottest = np.minimum(pairs[0][0], pairs[1][0]).max(axis=0)
        taken = np.minimum(pairs[0][1], pairs[1][1])
        allowed = self.drive.allowed_watts * (1 + 1e-9)
        with np.errstate(divide="ignore"):
            return np.where(hottest <= allowed, allowed / taken, -1.0)

    def _allowed(self, hits: _Hits) -> _Hits:
        """Return the hits that are in stock and cool enough."""
        if self.pool.counted:
            hits = hits.kept(self.pool.in_stock(hits.form.leaves(hits.at, hits.rows)))
        if self.drive is None:
            return hits
        inner = hits.form.inner
        outer, block = hits.form.watts(self.drive, hits.at, inner.ohms[hits.rows])
        hottest = np.maximum(outer, block * inner.share[hits.rows])
        return hits.kept(hottest <= self.drive.allowed_watts * (1 + ROUNDING))

    def nearest(self, count: int) -> _Found:
        """Return the `count` nearest of the ring, with ties, or all there are."""
        share = READINGS * count
        while True:
            hits, bound, complete = self._within(share)
            found = self._distinct(hits, bound, count)
            if len(found) >= count or complete:
                return found
            share *= 4

    def _within(self, share: int) -> tuple[list[_Hits], float, bool]:
        """Return the `share` nearest hits with ties, how far they reach, and if that is all."""
        bound, complete = self.far * self.target, True
        taken: list[_Hits] = []
        reached = np.zeros(0)
        walks = self._every_walk()
        while walks:
            going = []
            for walk in walks:
                hits = walk.read(self.target, bound)
                if hits is None:
                    continue
                going.append(walk)
                hits = self._allowed(hits)
                taken.append(hits)
                reached = np.concatenate((reached, hits.away))
                if len(reached) > share:
                    complete = False
                    nearest = np.partition(reached, share - 1)[share - 1]
                    bound = min(bound, float(nearest) + ROUNDING * self.target)
                    reached = reached[reached <= bound]
            # Once `share` hits are exact but for rounding, further ones are no nearer.
            walks = going if complete or bound > 2 * ROUNDING * self.target else []
        return taken, bound, complete

    def _distinct(self, taken: list[_Hits], bound: float, count: int) -> _Found:
        """Return the nearest different arrangements within `bound`, canonical.

        Of more ties at the end than can be told apart (a sum that recurs by the thousand), those
        of fewest distinct values are taken.
        """
        near = [h.kept(np.flatnonzero(h.away <= bound)) for h in taken]
        near = [h for h in near if len(h.at)]
        if not near:
            return {}
        away = np.concatenate([h.away for h in near])
        owner = np.repeat(np.arange(len(near)), [len(h.at) for h in near])
        place = np.concatenate([np.arange(len(h.at)) for h in near])
        coarse = np.round(away / (ROUNDING * self.target))
        different = np.concatenate([_different(h.form.leaves(h.at, h.rows)) for h in near])
        found: _Found = {}
        last = math.inf
        for k in np.lexsort((different, coarse)):
            if coarse[k] > last or len(found) >= READINGS * count:
                break
            hits, at = near[owner[k]], int(place[k])
            text, network = canonical(hits.form.network(int(hits.at[at]), int(hits.rows[at])))
            found.setdefault((hits.form.join, text), network)
            if len(found) == count:
                last = coarse[k] + 1
        return found


def _different(leaves: npt.NDArray[np.int32]) -> IntArray:
    """Return how many different values each combination has, (n,)."""
    rising = np.sort(leaves, axis=1)
    found: IntArray = (np.diff(rising, axis=1) != 0).sum(axis=1)
    return found


@lru_cache(maxsize=64)
def arrangements(values: int, parts: int) -> int:
    """Return how many series–parallel arrangements `parts` parts of `values` values have.

    A chain is a multiset of components that are no chains themselves, and a group is its dual, so
    both have the same number; multisets are counted by the Euler transform (P. A. MacMahon, Proc.
    London Math. Soc. 22, 1891, for one value; from memory).

    Parameters
    ----------
    values : int
        How many values there are.
    parts : int
        How many parts are arranged.
    """
    components = [0, values]  # of each size: single parts, or chains (as many as groups)
    multisets = [1, values]
    for size in range(2, parts + 1):
        weights = [
            sum(d * components[d] for d in range(1, min(k, size - 1) + 1) if k % d == 0)
            for k in range(size + 1)
        ]
        known = weights[size] + sum(weights[k] * multisets[size - k] for k in range(1, size))
        components.append(known // size)
        multisets.append(2 * known // size)
    return multisets[parts]
