"""What a divider's accuracy costs in current: the choices that nothing beats in both.

Of all dividers that keep the bounds, those for which no other is at least as near to the target on
at most the same current. Going through the upper legs from the largest down, the current rises;
only pairs nearer than everything met at less current can belong, and they are one run of the sorted
lower legs, so nothing is missed (docs/search.md).
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.network.tree import Element, Tap, chain, number_parts
from lowfold.core.search.combine import Table
from lowfold.core.search.divider import DividerNeed
from lowfold.core.search.divider_legs import Legs
from lowfold.core.search.leg_tables import leg_tables
from lowfold.core.search.pairing import spread_out
from lowfold.core.search.ranking import SLACK

__all__ = ["Unbeaten", "some_dividers", "unbeaten_dividers"]

IntArray = npt.NDArray[np.int64]
FloatArray = npt.NDArray[np.float64]

FIRST_PIECE: Final = 32  #: upper legs handled together at first, then twice as many, and so on
MOST_AT_ONCE: Final = 200_000  #: pairs looked at together


@dataclass(frozen=True, slots=True)
class Unbeaten:
    """A divider with the trade it makes."""

    network: Element
    error: float
    amps: float


def unbeaten_dividers(need: DividerNeed) -> list[Unbeaten]:
    """Return the dividers of `need` that nothing beats in |error| and current, least current first.

    `need.within` bounds how far off they may be; without it, ten per cent.
    """
    need = _bounded(need)
    met = [
        (legs, u, v)
        for upper, lower in leg_tables(need)
        for legs, u, v in _candidates(need, upper, lower)
    ]
    if not met:
        return []
    off = np.concatenate([legs.off(u, v) for legs, u, v in met])
    amps = np.concatenate([legs.current(u, v) for legs, u, v in met])
    owner = np.repeat(np.arange(len(met)), [len(u) for _, u, _ in met])
    place = np.concatenate([np.arange(len(u)) for _, u, _ in met])
    found = []
    for k in _front(off, amps, SLACK * abs(need.target_volts)):
        legs, u, v = met[owner[k]]
        at = slice(int(place[k]), int(place[k]) + 1)
        upper, lower = legs.upper.network(int(u[at][0])), legs.lower.network(int(v[at][0]))
        error = float(legs.output(u[at], v[at])[0] / need.target_volts - 1)
        whole = number_parts(chain([upper, Tap("OUT"), lower]))
        found.append(Unbeaten(whole, error, float(amps[k])))
    return found


def some_dividers(need: DividerNeed, most: int) -> list[Unbeaten]:
    """Return up to `most` dividers of one part a leg that keep the bounds, spread evenly.

    Parameters
    ----------
    most : int
        How many at most.
    """
    need = _bounded(need)
    legs = Legs(need, *next(leg_tables(need)))
    u, v = spread_out(*legs.allowed())
    valid = np.flatnonzero(legs.valid(u, v))
    order = valid[np.argsort(legs.current(u[valid], v[valid]), kind="stable")]
    chosen = order[:: max(1, -(-len(order) // most))]
    u, v = u[chosen], v[chosen]
    errors, amps = legs.output(u, v) / need.target_volts - 1, legs.current(u, v)
    return [
        Unbeaten(
            number_parts(
                chain([legs.upper.network(int(a)), Tap("OUT"), legs.lower.network(int(b))])
            ),
            float(error),
            float(drawn),
        )
        for a, b, error, drawn in zip(u, v, errors, amps, strict=True)
    ]


def _bounded(need: DividerNeed) -> DividerNeed:
    return replace(need, within=need.within if need.within is not None else 0.1, prefer="nearest")


def _candidates(
    need: DividerNeed, upper: Table, lower: Table
) -> Iterator[tuple[Legs, IntArray, IntArray]]:
    """Yield pairs among which are all that nothing in these tables beats."""
    nearest = math.inf  # of the pairs that draw less than any still to come
    done: list[tuple[float, float]] = []  # (largest current, least error) of the pieces behind
    stop, size = len(upper.ohms), FIRST_PIECE
    while stop > 0:
        start = max(stop - size, 0)
        legs = Legs(need, upper.some(slice(start, stop)), lower)
        low, high = legs.allowed()
        if math.isfinite(nearest):
            runs = legs.at_most(nearest)
            low, high = np.maximum(low, runs[0]), np.minimum(high, runs[1])
        if size > FIRST_PIECE and int(np.maximum(high - low, 0).sum()) > MOST_AT_ONCE:
            size = max(size // 4, FIRST_PIECE)
            continue
        stop, size = start, 2 * size
        u, v = spread_out(low, high)
        valid = legs.valid(u, v)
        u, v = u[valid], v[valid]
        if len(u):
            off, amps = legs.off(u, v), legs.current(u, v)
            front = _front(off, amps, SLACK * abs(need.target_volts))
            yield legs, u[front], v[front]
            done.append((float(amps[front].max()), float(off[front].min())))
        # What is still to come has a smaller upper leg: it draws at least this much.
        least = _least_current(legs)
        nearest = min([nearest, *(away for amps, away in done if amps <= least)])


def _least_current(legs: Legs) -> float:
    """Return the least current that upper legs below the first of `legs` can draw, A."""
    need = legs.need
    top = need.target_volts + (need.within or 0.0) * abs(need.target_volts)
    return float(max(need.supply_volts - top, 0.0) / legs.above[0])


def _front(off: FloatArray, amps: FloatArray, rounding: float) -> npt.NDArray[np.intp]:
    """Return the positions nothing beats, least current first."""
    order = np.lexsort((off, amps))
    best = np.minimum.accumulate(off[order])
    before = np.concatenate(([np.inf], best[:-1]))
    kept: npt.NDArray[np.intp] = order[off[order] < before - rounding]
    return kept
