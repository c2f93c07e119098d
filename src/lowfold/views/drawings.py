"""Drawings as they are seen: how large, how dense, and where the leads go."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

from cachetools import LRUCache, cached
from cachetools.keys import hashkey

from lowfold.core.drawing.diamond import diamond
from lowfold.core.drawing.leads import lead_places
from lowfold.core.drawing.rails import draw_rails
from lowfold.core.drawing.schematic import Drawing, Metrics, draw
from lowfold.core.folding.fold import series_parallel
from lowfold.core.network.circuit import GROUND, Branch, Circuit, junctions
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element, write_network
from lowfold.core.solving.solution import solve

__all__ = [
    "DENSE",
    "FOLD_ROOM",
    "FULL",
    "MOST_WRITTEN",
    "SHEET_ROOM",
    "SMALL",
    "TINY",
    "Writing",
    "bench_drawing",
    "edges_drawing",
    "fitting",
    "full_drawing",
    "small_drawing",
]


#: Sizes in CSS pixels: beside a part stand two lines of writing; in a row of choices, none.
FULL = Metrics(part_width=142.0, part_height=96.0, symbol=44.0, lead=14.0, terminal=66.0)
#: The same for a network that would outgrow its place: shorter, and the writing stacked.
DENSE = Metrics(
    part_width=88.0, part_height=72.0, symbol=36.0, lead=12.0, terminal=86.0, stacked=True
)


#: For many parts: names and values alone.
TINY = Metrics(
    part_width=84.0, part_height=34.0, symbol=22.0, lead=8.0, terminal=80.0, lines=1, stacked=True
)


#: What the page has room for at full size.
MOST_WRITTEN = 16  #: parts that there is room to write more than a name and a value beside
#: From a part's middle to its writing and behind it, and a character of that.
BESIDE, CHARACTER = 29.0, 7.4
ROOM_WIDTH, ROOM_HEIGHT = 380.0, 250.0
SMALL = Metrics(part_width=15.0, part_height=19.0, symbol=11.0, lead=3.0, terminal=0.0)


def full_drawing(
    network: Element, loads: list[tuple[str, str]], *, driven: bool, two_ends: bool = False
) -> Drawing:
    """Draw a network with room for its figures; denser where it would outgrow its place."""
    drawing = draw(network, FULL, loads, driven=driven, two_ends=two_ends)
    if drawing.width > ROOM_WIDTH or drawing.height > ROOM_HEIGHT:
        drawing = draw(network, DENSE, loads, driven=driven, two_ends=two_ends)
    return drawing


@dataclass(frozen=True, slots=True)
class Writing:
    """How long the longest line beside a part is, in characters: in full, stacked, and its name."""

    full: int = 0
    stacked: int = 0
    name: int = 0
    tap: int = 0  #: the longest name of a junction

    def sizes(self) -> tuple[Metrics, ...]:
        """Return sizes with columns so wide that no writing reaches the next part, or its tap."""
        lines = (
            (FULL, max(self.full, self.name)),
            (DENSE, max(self.stacked, self.name)),
            (TINY, self.name + self.tap),
        )
        return tuple(
            replace(m, part_width=max(m.part_width, BESIDE + count * CHARACTER))
            for m, count in lines
        )


#: What there is room for on the sheet, and where a network is folded: at full size, and stacked.
SHEET_ROOM: Final = ((380.0, 250.0), (380.0, 250.0))
FOLD_ROOM: Final = ((520.0, 400.0), (600.0, 460.0))


def fitting(draw_with: Callable[[Metrics], Drawing], writing: Writing | None = None) -> Drawing:
    """Draw with as much writing as there is room for."""
    rooms = (*(FOLD_ROOM if writing else SHEET_ROOM), (math.inf, math.inf))
    for metrics, (wide, tall) in zip((writing or Writing()).sizes(), rooms, strict=True):
        drawn = draw_with(metrics)
        if drawn.width <= wide and drawn.height <= tall:
            break
    return drawn


def edges_drawing(
    edges: Sequence[Branch],
    titles: dict[int, str],
    volts: Mapping[int, float],
    *,
    low: int = GROUND,
    two_ends: bool = False,
    writing: Writing | None = None,
) -> Drawing:
    """Draw resistances between junctions: as a tree, as a bridge, or else between rails."""
    element = series_parallel(edges, titles) if low == GROUND else None

    def drawn(metrics: Metrics) -> Drawing:
        if element is not None:
            return draw(element, metrics, two_ends=two_ends)
        bridge = diamond(edges, titles, metrics, low=low, two_ends=two_ends)
        return bridge or draw_rails(edges, volts, titles, metrics, low=low, two_ends=two_ends)

    return fitting(drawn, writing)


def bench_drawing(
    network: Element | Netlist,
    circuit: Circuit,
    loads: Sequence[tuple[str, str]],
    closed: Collection[str],
    *,
    driven: bool,
) -> tuple[Drawing, dict[str, tuple[float, float]]]:
    """Draw a network as it is built, and tell by junction where the leads go."""
    two_ends = driven and circuit.low != GROUND

    def drawn(metrics: Metrics) -> Drawing:
        if not isinstance(network, Netlist):
            return draw(network, metrics, loads, driven=driven, two_ends=two_ends)
        parts = [b for b in circuit.branches if b.a != b.b]
        # A dead low end still has the others lie above it.
        volts = {n: v for n, v in enumerate(solve(circuit, 1.0).voltages) if not math.isnan(v)}
        titles = {node: name for name, node in junctions(circuit).items()}
        return draw_rails(
            parts, volts, titles, metrics, driven=driven, low=circuit.low, two_ends=two_ends
        )

    found = drawn(FULL)
    if found.width > ROOM_WIDTH or found.height > ROOM_HEIGHT:
        found = drawn(DENSE)
    if len(found.parts) > MOST_WRITTEN:
        found = drawn(TINY)
    names = {node: name for name, node in junctions(circuit).items()}
    places = lead_places(circuit, found, closed)
    return found, {names[n]: at for n, at in places.items()}


def _shape(network: Element) -> tuple[object, ...]:
    """Return what a small drawing follows from: all but the values."""
    return hashkey(re.sub(r"=[^ )]+", "", write_network(network)))


@cached(LRUCache(512), key=_shape)
def small_drawing(network: Element) -> Drawing:
    """Draw a network as it stands in a list, without writing."""
    return draw(network, SMALL)
