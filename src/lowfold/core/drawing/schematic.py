"""Lay a series–parallel network out as a drawing: current runs down, series down, parallel across.

Geometry only, in units of the caller's choice: where wires, parts, dots and names go. How a part
looks and what is written beside it is for whoever draws.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

from lowfold.core.drawing.wires import Wire, with_nets
from lowfold.core.network.tree import Chain, Element, Group, Tap

__all__ = ["ZERO", "Drawing", "Metrics", "Placed", "Side", "draw", "laid_down"]

Side = Literal["right", "left", "above", "upper left", "upper right", "lower left", "lower right"]
ZERO: Final = "0 V"  #: what is written beside the mark of 0 V


@dataclass(frozen=True, slots=True)
class Metrics:
    """Sizes of a drawing."""

    part_width: float  #: column a part and its writing take
    part_height: float  #: row a part takes
    symbol: float  #: length of the part's symbol
    lead: float  #: from a rail to a symbol column, and room above and below groups
    terminal: float  #: width of the column of the supply, 0 for none
    lines: int = 3  #: of writing beside a part, its name and value included
    stacked: bool = False  #: voltage and current have a line each


@dataclass(frozen=True, slots=True)
class Placed:
    """Something with a name at a point: a part's centre, a junction, the supply."""

    name: str
    x: float
    y: float
    angle: float = 0.0  #: degrees that a part's symbol is turned by, clockwise from upright
    side: Side = "right"  #: where what is written of it stands


@dataclass(frozen=True, slots=True)
class Drawing:
    width: float
    height: float
    column: float  #: width of one part with its writing
    symbol: float  #: length of a part's symbol
    lines: int  #: of writing there is room for beside a part
    stacked: bool  #: voltage and current have a line each there
    wires: tuple[Wire, ...]
    parts: tuple[Placed, ...]  #: parts and switches
    loads: tuple[Placed, ...]
    dots: tuple[Placed, ...]  #: junctions of three or more wires; named where tapped
    supply: Placed | None
    ends: tuple[Placed, ...]  #: terminals: open, or each held at a voltage of its own
    grounds: tuple[Placed, ...] = ()  #: marks of 0 V, where no end of the network lies there


class _Pen:
    """Collects what is drawn."""

    def __init__(self, metrics: Metrics) -> None:
        self.m = metrics
        self.wires: list[Wire] = []
        self.parts: list[Placed] = []
        self.dots: list[Placed] = []
        self.taps: list[Placed] = []

    def wire(self, x1: float, y1: float, x2: float, y2: float) -> None:
        if (x1, y1) != (x2, y2):
            self.wires.append(Wire(x1, y1, x2, y2))

    def size(self, item: Element) -> tuple[float, float]:
        """Return width and height of `item`, its entry being at the left of its width."""
        if isinstance(item, Chain):
            sizes = [self.size(i) for i in item.items if not isinstance(i, Tap)]
            return max(w for w, _ in sizes), sum(h for _, h in sizes)
        if isinstance(item, Group):
            sizes = [self.size(b) for b in item.branches]
            return sum(w for w, _ in sizes), max(h for _, h in sizes) + 2 * self.m.lead
        return self.m.part_width, self.m.part_height

    def place(self, item: Element, x: float, top: float, bottom: float) -> None:
        """Draw `item` with its entry at (x, top) and its exit at (x, bottom)."""
        if isinstance(item, Chain):
            self._chain(item, x, top, bottom)
        elif isinstance(item, Group):
            self._group(item, x, top, bottom)
        else:
            middle, half = (top + bottom) / 2, self.m.symbol / 2
            self.wire(x, top, x, middle - half)
            self.parts.append(Placed(item.ref, x, middle))
            self.wire(x, middle + half, x, bottom)

    def _chain(self, item: Chain, x: float, top: float, bottom: float) -> None:
        heights = [self.size(i)[1] for i in item.items if not isinstance(i, Tap)]
        stretch = (bottom - top) / sum(heights)
        y = top
        rows = iter(heights)
        for inner in item.items:
            if isinstance(inner, Tap):
                self.taps.append(Placed(inner.name, x, y))
                continue
            below = y + next(rows) * stretch
            self.place(inner, x, y, below)
            y = below

    def _group(self, item: Group, x: float, top: float, bottom: float) -> None:
        upper, lower = top + self.m.lead, bottom - self.m.lead
        self.wire(x, top, x, upper)
        self.wire(x, lower, x, bottom)
        column, last = x, x
        for position, branch in enumerate(item.branches):
            self.place(branch, column, upper, lower)
            if position < len(item.branches) - 1:
                self.dots.extend((Placed("", column, upper), Placed("", column, lower)))
            last = column
            column += self.size(branch)[0]
        self.wire(x, upper, last, upper)
        self.wire(x, lower, last, lower)


def draw(
    network: Element,
    metrics: Metrics,
    loads: Sequence[tuple[str, str]] = (),
    *,
    driven: bool = True,
    two_ends: bool = False,
) -> Drawing:
    """Lay out `network` between a supply at the left and its loads at the right.

    Parameters
    ----------
    loads : sequence of (name, tap)
        A tap called `in` is the supply's positive end. Each load hangs from its tap to the return.
    driven : bool
        Draw a supply; otherwise two open terminals.
    two_ends : bool
        Each end lies at a voltage of its own: terminals, and loads go to 0 V apart from them.
    """
    pen = _Pen(metrics)
    width, height = pen.size(network)
    left = metrics.terminal
    pen.place(network, left, 0.0, height)
    supply = None
    ends: tuple[Placed, ...] = ()
    if metrics.terminal:
        pen.wire(0.0, 0.0, left, 0.0)
        pen.wire(0.0, height, left, height)
        if driven and not two_ends:
            supply = Placed("supply", 0.0, height / 2)
            pen.wire(0.0, 0.0, 0.0, height)
        else:
            ends = (Placed("in", 0.0, 0.0), Placed("0", 0.0, height))
    grounds = [Placed(ZERO, 0.0, height / 2)] if two_ends and metrics.terminal else []
    placed = []
    right = left + width
    taps = {t.name.casefold(): t for t in pen.taps}

    def depth(load: tuple[str, str]) -> float:
        tap = taps.get(load[1].casefold())
        return -tap.y if tap else 0.0

    # The lowest tap's load stands nearest, so that no wire to a load crosses another load.
    for number, (name, at) in enumerate(sorted(loads, key=depth)):
        column = right + number * metrics.part_width
        tap = taps.get(at.casefold())
        y = tap.y if tap else 0.0
        start = tap.x if tap else left
        middle, half = (y + height) / 2, metrics.symbol / 2
        pen.wire(start, y, column, y)
        pen.wire(column, y, column, middle - half)
        pen.wire(column, middle + half, column, height)
        pen.dots.append(Placed("", start, y))
        if two_ends:
            grounds.append(Placed("", column, height))
        else:
            pen.wire(left, height, column, height)
            pen.dots.append(Placed("", left, height))
        placed.append(Placed(name, column, middle))
    return Drawing(
        width=right + len(loads) * metrics.part_width,
        height=height,
        column=metrics.part_width,
        symbol=metrics.symbol,
        lines=metrics.lines,
        stacked=metrics.stacked,
        wires=with_nets(pen.wires, supply.x if supply else None),
        parts=tuple(pen.parts),
        loads=tuple(placed),
        dots=(*pen.dots, *pen.taps),
        supply=supply,
        ends=ends,
        grounds=tuple(grounds),
    )


def laid_down(drawing: Drawing) -> Drawing:
    """Return a drawing on its side: what ran down runs across."""

    def turned(placed: Sequence[Placed]) -> tuple[Placed, ...]:
        return tuple(replace(p, x=p.y, y=p.x) for p in placed)

    def lying(placed: Sequence[Placed]) -> tuple[Placed, ...]:
        return tuple(replace(p, x=p.y, y=p.x, angle=-90.0) for p in placed)

    return replace(
        drawing,
        width=drawing.height,
        height=drawing.width,
        wires=tuple(replace(w, x1=w.y1, y1=w.x1, x2=w.y2, y2=w.x2) for w in drawing.wires),
        parts=lying(drawing.parts),
        loads=lying(drawing.loads),
        dots=turned(drawing.dots),
        supply=turned([drawing.supply])[0] if drawing.supply else None,
        ends=turned(drawing.ends),
        grounds=turned(drawing.grounds),
    )
