"""Networks to practise on: more parts and more awkward values from level to level."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from lowfold.core.network.tree import (
    Element,
    Part,
    Tap,
    chain,
    group,
    number_parts,
)
from lowfold.core.values.preferred import series_values
from lowfold.core.values.ranges import WIDEST_RANGE

__all__ = ["SIZES", "drawn_network", "drawn_supply", "drawn_values", "standard_near"]

TAPS: Final = "ABCDEFGH"


@dataclass(frozen=True, slots=True)
class _Values:
    """What parts of a level are made of."""

    ohms: tuple[float, ...]  #: of one decade from 100 Ω on
    decades: int


def _series(name: str) -> tuple[float, ...]:
    return tuple(float(v) for v in series_values([name], 100.0, 999.0))


_OF_LEVEL: Final = {
    1: _Values((100.0, 200.0, 300.0), 1),
    2: _Values((100.0, 150.0, 200.0, 300.0), 1),
    3: _Values(_series("E6"), 1),
    4: _Values(_series("E12"), 2),
    5: _Values(_series("E24"), 2),
}
#: How many parts a network of a level has, least and most.
SIZES: Final = {1: (2, 3), 2: (3, 4), 3: (4, 5), 4: (5, 6), 5: (7, 8)}


def drawn_values(chance: np.random.Generator, level: int, count: int) -> list[float]:
    """Return values of parts, Ω: round ones at first, any of E24 over two decades at last.

    Parameters
    ----------
    chance : numpy.random.Generator
    level : int
    count : int
    """
    of = _OF_LEVEL[level]
    decade = int(chance.integers(0, 4 - of.decades))
    found = []
    for _ in range(count):
        shift = decade + int(chance.integers(0, of.decades))
        mantissa = of.ohms[int(chance.integers(0, len(of.ohms)))]
        found.append(float(f"{mantissa:g}e{shift}"))
    return found


#: What drives a network of a level, V: easy to share out at first.
SUPPLIES: Final = {1: (10.0, 12.0), 2: (6.0, 10.0, 12.0), 3: (5.0, 9.0, 12.0)}
ODD_SUPPLIES: Final = (3.3, 5.0, 9.0, 14.4, 24.0)


def drawn_supply(chance: np.random.Generator, level: int) -> float:
    """Return what drives a network, V.

    Parameters
    ----------
    chance : numpy.random.Generator
    level : int
    """
    every = SUPPLIES.get(level, ODD_SUPPLIES)
    return every[int(chance.integers(0, len(every)))]


def standard_near(ohms: float) -> float:
    """Return the value of E12 nearest to some resistance, in the logarithm, Ω.

    Parameters
    ----------
    ohms : float
        Ω.
    """
    least, most = WIDEST_RANGE
    made = min(max(ohms, least), most)
    near = series_values(["E12"], max(made / 2, least), min(made * 2, most))
    return float(min(near, key=lambda v: abs(math.log(float(v) / ohms))))


def drawn_network(chance: np.random.Generator, level: int) -> Element:
    """Return a string of parts and groups of them, its junctions named from the supply down.

    Parameters
    ----------
    chance : numpy.random.Generator
    level : int
    """
    low, high = SIZES[level]
    count = int(chance.integers(low, high + 1))
    values = drawn_values(chance, level, count)
    pieces = [_tree(chance, some, parallel=True) for some in _shares(chance, values)]
    items: list[Element | Tap] = [pieces[0]]
    for name, piece in zip(TAPS, pieces[1:], strict=False):
        items += [Tap(name), piece]
    return number_parts(chain(items))


def _shares(chance: np.random.Generator, values: list[float]) -> list[list[float]]:
    """Return values in two or three heaps, each of at least one."""
    heaps = min(len(values), 2 if len(values) < 4 else int(chance.integers(2, 4)))
    cuts = sorted(
        int(c) for c in chance.choice(np.arange(1, len(values)), size=heaps - 1, replace=False)
    )
    ends = [0, *cuts, len(values)]
    return [values[a:b] for a, b in itertools.pairwise(ends)]


def _tree(chance: np.random.Generator, values: list[float], *, parallel: bool) -> Element:
    if len(values) == 1:
        return Part(values[0])
    pieces = [_tree(chance, some, parallel=not parallel) for some in _shares(chance, values)]
    return group(pieces) if parallel else chain(pieces)
