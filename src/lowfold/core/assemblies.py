"""Three and four parts nearest to a resistance, by meeting in the middle over the table of pairs.

Every series–parallel arrangement of three parts is one part with a pair, in series or in parallel;
of four, two pairs, or one part with a part-and-pair of the other kind (docs/search.md). All of them
are an outer choice and a pair p, and the whole rises with p. So for each outer choice the pairs
nearest to the target are neighbours in the sorted table, on either side of the p that would hit it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.combine import Pool, Table, table
from lowfold.core.network import Element, Part, canonical, chain, group

__all__ = ["arrangements", "nearest_assemblies"]

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.int64]

#: Outer choices are narrowed to those that can come this near; checked against what is found.
NEAR: Final = 0.05
#: Fewer outer choices than this are not worth narrowing.
FEW: Final = 5_000
#: Raw hits taken per wanted candidate at first: most arrangements have a few readings.
READINGS: Final = 5
#: Relative error that computing one resistance in floats may leave.
ROUNDING: Final = 1e-12


@dataclass(frozen=True, slots=True)
class _Form:
    """One way of putting an outer choice and a pair together."""

    need: FloatArray  #: per outer choice, the pair that would hit the target; 0 or inf if none can
    whole: Callable[[IntArray, FloatArray], FloatArray]  #: of outer choices and pairs, Ω
    build: Callable[[int, int], Element]  #: of an outer choice and a row of pairs


def _beside(one: FloatArray, two: FloatArray) -> FloatArray:
    both: FloatArray = one * two / (one + two)
    return both


def _less(wanted: float, taken: FloatArray) -> FloatArray:
    """Return what is missing in series, 0 where nothing is."""
    return np.maximum(wanted - taken, 0.0)


def _beside_need(wanted: FloatArray | float, taken: FloatArray) -> FloatArray:
    """Return what has to lie beside `taken` to make `wanted`: inf where even nothing is too low."""
    with np.errstate(divide="ignore", invalid="ignore"):
        need = np.where(taken > wanted, wanted * taken / (taken - wanted), np.inf)
    return np.where(np.asarray(wanted) <= 0, 0.0, need)


def _forms(pool: Pool, parts: int, wanted: float, near: float) -> Iterator[_Form]:
    """Yield every form of exactly `parts` parts, outer choices narrowed to errors below `near`."""
    singles, pairs = table(pool, 1), table(pool, 2)
    low, high = wanted * (1 - near), wanted * (1 + near)
    if parts == 3:
        for join, kept in ((chain, singles.ohms < high), (group, singles.ohms > low)):
            yield _pair_with(singles, np.flatnonzero(kept), pairs, join, wanted)
        return
    # Of two pairs in series the larger is at least half the whole, in parallel at most twice.
    yield _pair_with(pairs, _between(pairs.ohms, low / 2, high), pairs, chain, wanted)
    yield _pair_with(pairs, _between(pairs.ohms, low, 2 * high), pairs, group, wanted)
    yield _part_and_pair(singles, pairs, wanted, low, high, outer=chain)
    yield _part_and_pair(singles, pairs, wanted, low, high, outer=group)


def _between(rising: FloatArray, low: float, high: float) -> IntArray:
    return np.arange(np.searchsorted(rising, low), np.searchsorted(rising, high, side="right"))


_Join = Callable[[list[Element]], Element]


def _pair_with(outer: Table, rows: IntArray, pairs: Table, join: _Join, wanted: float) -> _Form:
    ohms = outer.ohms[rows]
    in_series = join is chain
    return _Form(
        need=_less(wanted, ohms) if in_series else _beside_need(wanted, ohms),
        whole=lambda i, p: ohms[i] + p if in_series else _beside(ohms[i], p),
        build=lambda i, row: join([outer.network(int(rows[i])), pairs.network(row)]),
    )


def _part_and_pair(
    singles: Table, pairs: Table, wanted: float, low: float, high: float, *, outer: _Join
) -> _Form:
    """One part in series with a part beside a pair, or the same with the joins exchanged."""
    in_series = outer is chain
    v, c = (side.ravel() for side in np.meshgrid(singles.ohms, singles.ohms, indexing="ij"))
    inside_series, inside_group = (
        (v < high) & (c > low - v),
        (v > low) & (c < _beside_need(high, v)),
    )
    kept = inside_series if in_series else inside_group
    places = np.flatnonzero(kept)
    v, c = v[places], c[places]
    first, second = np.divmod(places, len(singles.ohms))
    if in_series:
        need = _beside_need(_less(wanted, v), c)
    else:
        inner = _beside_need(wanted, v)
        need = np.where(np.isinf(inner), np.inf, np.maximum(inner - c, 0.0))
    ohms = singles.pool.ohms

    def build(i: int, row: int) -> Element:
        one, two = Part(ohms[int(first[i])]), Part(ohms[int(second[i])])
        inside = (group if in_series else chain)([two, pairs.network(row)])
        return outer([one, inside])

    return _Form(
        need=need,
        whole=lambda i, p: v[i] + _beside(c[i], p) if in_series else _beside(v[i], c[i] + p),
        build=build,
    )


def nearest_assemblies(
    pool: Pool, parts: int, wanted: float, count: int, accept: Callable[[Element], bool]
) -> list[Element]:
    """Return networks among which are the `count` nearest below and above `wanted`.

    Parameters
    ----------
    parts : int
        Exactly so many, 3 or 4.
    wanted : float
        Ω, > 0.
    accept : callable
        Whether an arrangement may be used (its parts are in stock, none is too hot).

    Returns
    -------
    list of Element
        Canonical, each arrangement once; all there are if they are fewer.
    """
    pairs = table(pool, 2)
    few = len(pool.ohms) ** (1 if parts == 3 else 2) + len(pairs.ohms) < FEW
    near = math.inf if few else NEAR
    while True:
        forms = list(_forms(pool, parts, wanted, near))
        found: dict[str, Element] = {}
        reach = 0.0
        for side in (-1, 1):
            kept, bound = _one_side(forms, pairs, wanted, side, count, accept)
            found |= kept
            reach = max(reach, bound)
        if math.isinf(near) or reach < near * wanted:
            return list(found.values())
        near = math.inf  # sparser than assumed: leave nothing out


def _one_side(
    forms: list[_Form],
    pairs: Table,
    wanted: float,
    side: int,
    count: int,
    accept: Callable[[Element], bool],
) -> tuple[dict[str, Element], float]:
    """Return the `count` nearest on one side of `wanted`, ties included, and how far they reach."""
    hits = _Hits(forms, pairs, wanted, side)
    share = READINGS * count
    hits.widen(math.inf)
    while True:
        bound = hits.bound(share)
        # Once `share` hits are exact but for rounding, further ones are no nearer.
        while bound > 2 * ROUNDING * wanted and hits.widen(bound):
            bound = min(bound, hits.bound(share))
        found = {text: net for text, net in hits.networks(bound, share) if accept(net)}
        if len(found) >= count or math.isinf(bound):
            return found, bound
        share *= 4


class _Hits:
    """Pairs met on one side of the target, neighbour by neighbour."""

    def __init__(self, forms: list[_Form], pairs: Table, wanted: float, side: int) -> None:
        self.forms, self.pairs, self.wanted, self.side = forms, pairs, wanted, side
        step = -1 if side < 0 else 0
        self.next = [
            np.searchsorted(pairs.ohms, f.need, "right" if side < 0 else "left") + step
            for f in forms
        ]
        self.open = [np.arange(len(f.need)) for f in forms]
        self.far = [np.zeros(len(f.need)) for f in forms]
        self.taken: list[list[tuple[IntArray, IntArray, FloatArray]]] = [[] for _ in forms]

    def widen(self, bound: float) -> bool:
        """Take the next pair of every outer choice whose last one was within `bound`."""
        moved = False
        for k, form in enumerate(self.forms):
            alive = self.open[k][self.far[k][self.open[k]] <= bound]
            rows = self.next[k][alive]
            inside = (rows >= 0) & (rows < len(self.pairs.ohms))
            alive, rows = alive[inside], rows[inside]
            self.open[k] = alive
            if not len(alive):
                continue
            moved = True
            away = self.side * (form.whole(alive, self.pairs.ohms[rows]) - self.wanted)
            # Rounding may put an exact hit a hair on the other side; it still is the nearest.
            away = np.maximum(away, 0.0)
            self.far[k][alive] = away
            self.next[k][alive] += self.side
            self.taken[k].append((alive, rows, away))
        return moved

    def bound(self, share: int) -> float:
        """Return how far the nearest `share` hits reach, inf if there are fewer."""
        every = [away for taken in self.taken for _, _, away in taken]
        away = np.concatenate(every) if every else np.zeros(0)
        if len(away) <= share:
            return math.inf
        return float(np.partition(away, share - 1)[share - 1]) + ROUNDING * self.wanted

    def networks(self, bound: float, most: int) -> Iterator[tuple[str, Element]]:
        """Yield the arrangements hit within `bound`, canonical, with their text.

        Where more than `most` are as near as the bound but for rounding (a sum that recurs by the
        thousand), any `most` of them are as good.
        """
        every = [
            (form, alive[near], rows[near], away[near])
            for form, taken in zip(self.forms, self.taken, strict=True)
            for alive, rows, away in taken
            if (near := np.flatnonzero(away <= bound)).size
        ]
        if not every:
            return
        away = np.concatenate([x[3] for x in every])
        limit = math.inf if len(away) <= most else float(np.partition(away, most - 1)[most - 1])
        left = most
        for form, alive, rows, distance in every:
            for at in np.flatnonzero(distance < limit):
                left -= 1
                yield canonical(form.build(int(alive[at]), int(rows[at])))
        for form, alive, rows, distance in every:
            for at in np.flatnonzero(distance == limit)[: max(left, 0)]:
                left -= 1
                yield canonical(form.build(int(alive[at]), int(rows[at])))


def arrangements(pool: Pool, parts: int) -> int:
    """Return how many series–parallel arrangements `parts` parts of a pool have, counts aside.

    A chain is a multiset of components that are no chains themselves; a group is its dual, so both
    have the same number.
    """
    n = len(pool.ohms)
    two = math.comb(n + 1, 2)
    three = math.comb(n + 2, 3) + n * two
    four = math.comb(n + 3, 4) + two * two + math.comb(two + 1, 2) + n * three
    return {1: n, 2: 2 * two, 3: 2 * three, 4: 2 * four}[parts]
