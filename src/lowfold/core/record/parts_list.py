"""What has to be bought for designs: like parts together, what the drawer has taken off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from lowfold.core.board.bill import BillLine
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.values.quantities import FRACTION, OHM, WATT, write, write_code

__all__ = ["Need", "PartsLine", "parts_list"]


@dataclass(frozen=True, slots=True)
class Need:
    """A design of which so many are built."""

    name: str  #: empty where there is no other
    parts: tuple[BillLine, ...]
    boards: int = 1


@dataclass(frozen=True, slots=True)
class PartsLine:
    """So many parts of one value, tolerance and family."""

    quantity: int
    ohms: float
    tolerance: float
    family: str
    rated_watts: float | None
    refs: tuple[str, ...]  #: with the design's name where there are several
    in_drawer: int  #: of them, taken from there
    drawer_left: int | None = None  #: in the lines that fit, afterwards; None is plenty, or no line

    @property
    def to_buy(self) -> int:
        return self.quantity - self.in_drawer

    @property
    def value(self) -> str:
        return write(self.ohms, OHM, 6, trim=True)

    @property
    def code(self) -> str:
        return write_code(self.ohms)

    @property
    def tolerance_words(self) -> str:
        """Return the tolerance as written; nothing where none is stated."""
        return write(self.tolerance, FRACTION, 3, trim=True) if self.tolerance else ""

    @property
    def rating(self) -> str:
        return "" if self.rated_watts is None else write(self.rated_watts, WATT, 3, trim=True)


def parts_list(needs: Sequence[Need], drawer: Sequence[DrawerLine] = ()) -> tuple[PartsLine, ...]:
    """Return like parts of some designs together, smallest first.

    A line of the drawer serves a part of its value that need not be tighter, of its family where
    both name one; each part in it serves once, the loosest that do first.

    Parameters
    ----------
    needs : sequence of Need
    drawer : sequence of DrawerLine
        What is at hand.
    """
    several = len(needs) > 1
    wanted: dict[tuple[float, float, str], PartsLine] = {}
    for need in needs:
        for part in need.parts:
            key = (part.ohms, part.tolerance, part.family)
            ref = f"{need.name}: {part.ref}" if several else part.ref
            line = wanted.get(key) or PartsLine(0, *key, part.rated_watts, (), 0)
            wanted[key] = replace(
                line, quantity=line.quantity + need.boards, refs=(*line.refs, ref)
            )
    left = {k: line.count for k, line in enumerate(drawer)}
    found = []
    # The tightest first, so that a loose part does not take what only it could use
    for line in sorted(wanted.values(), key=lambda w: (w.ohms, w.tolerance, w.family)):
        fits = [k for k, d in enumerate(drawer) if _serves(d, line)]
        fits.sort(key=lambda k: -drawer[k].tolerance)
        missing = line.quantity
        for k in fits:
            there = left[k]
            taken = missing if there is None else min(missing, there)
            missing -= taken
            if there is not None:
                left[k] = there - taken
        rest = [left[k] for k in fits]
        counted = [n for n in rest if n is not None]
        found.append(
            replace(
                line,
                in_drawer=line.quantity - missing,
                drawer_left=sum(counted) if rest and len(counted) == len(rest) else None,
            )
        )
    return tuple(found)


def _serves(line: DrawerLine, wanted: PartsLine) -> bool:
    same = abs(line.ohms / wanted.ohms - 1) < 1e-9
    made = not line.family or not wanted.family or line.family == wanted.family
    return same and made and line.tolerance <= wanted.tolerance * (1 + 1e-9)
