"""Which of many sound pairs of legs one would rather buy: few parts, common ones, few values."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from lowfold.core.network.tree import Chain, Element, Part, Tap, chain, number_parts, parts_of
from lowfold.core.search.sound_dividers import SoundPairs
from lowfold.core.values.preferred import SERIES, commonest_series

__all__ = ["pair_network", "preferred_legs"]

#: Seen at a tap: below it a string is heavier than need be, above it leakage and noise count
#: (common practice).
COMFORTABLE: Final = (1e3, 100e3)
COMPARED: Final = 240  #: pairs told apart by the values they are made of


def pair_network(some: SoundPairs, place: int) -> Chain:
    """Return a pair of legs as a divider with its tap OUT, parts named.

    Parameters
    ----------
    some : SoundPairs
        Pairs of legs.
    place : int
        Which of them.
    """
    above = some.upper.network(int(some.u[place]))
    below = some.lower.network(int(some.v[place]))
    whole = number_parts(chain([above, Tap("OUT"), below]))
    assert isinstance(whole, Chain)  # two legs and a tap
    return whole


def preferred_legs(
    every: Sequence[SoundPairs], most: int, *, comfortable: bool = False
) -> list[Element]:
    """Return the sound pairs that one would rather buy, best first.

    Fewest parts, then the most widely stocked series, then fewest values, then what leaves most of
    its window (common practice).

    Parameters
    ----------
    every : sequence of SoundPairs
        Pairs of legs of several structures.
    most : int
        How many are returned at most.
    comfortable : bool
        Those with a comfortable tap alone, where there are any.
    """
    found: list[tuple[tuple[float, ...], Element]] = []
    for some in every:
        kept = _comfortable(some) if comfortable else some
        order = np.lexsort((kept.used, kept.parts))[:COMPARED]
        for place in order.tolist():
            network = pair_network(kept, place)
            values = tuple(p.ohms for p in parts_of(network) if isinstance(p, Part))
            series = commonest_series(values)
            stocked = SERIES.index(series) if series else len(SERIES)
            key = (len(values), stocked, len(set(values)), float(kept.used[place]))
            found.append((key, network))
    found.sort(key=lambda one: one[0])
    return [network for _, network in found[:most]]


def _comfortable(some: SoundPairs) -> SoundPairs:
    above, below = some.upper.ohms[some.u], some.lower.ohms[some.v]
    seen = above * below / (above + below)
    inside = (seen >= COMFORTABLE[0]) & (seen <= COMFORTABLE[1])
    return some.some(inside) if inside.any() else some
