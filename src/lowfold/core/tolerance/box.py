"""The box: every part, the supply and every load anywhere in its own range, independently.

A part's half-width is its tolerance, plus |TCR| times the largest |ΔT|, plus drift: the
extreme-value budget (common practice).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import GROUND, Circuit, load_names
from lowfold.core.solving.nets import Load

__all__ = [
    "TOGETHER",
    "Box",
    "LoadRange",
    "Supply",
    "Tracking",
]

#: Places between the ends of the common deviation that are looked at where no proof holds.
COMMON_STEPS: Final = 33
#: What the deviation that tracking parts share goes by in corners and sensitivities.
TOGETHER: Final = "together"


@dataclass(frozen=True, slots=True)
class Supply:
    """A supply as stated."""

    volts: float  #: EMF, V; of a current source, its A
    tolerance: float = 0.0  #: half width, fraction
    source_ohms: float = 0.0  #: Ω; inf makes it a current source
    low_volts: float = 0.0  #: what its low end lies at, V, exactly

    def __post_init__(self) -> None:
        if not math.isfinite(self.low_volts):
            msg = f"the low end lies at a finite voltage, got {self.low_volts!r}"
            raise DomainError(msg, field="supply.low_v")
        if not math.isfinite(self.volts):
            msg = f"the supply must be a finite voltage, got {self.volts!r}"
            raise DomainError(msg, field="supply.v")
        if not 0 <= self.tolerance < 1:
            msg = f"the supply's tolerance is a fraction from 0 to below 1, got {self.tolerance:g}"
            raise DomainError(msg, field="supply.tolerance")
        if not self.source_ohms >= 0:
            msg = f"the source resistance is 0 Ω or more, got {self.source_ohms:g} Ω"
            raise DomainError(msg, field="supply.source_ohm")


@dataclass(frozen=True, slots=True)
class LoadRange:
    """A load with the ends between which it may lie, in Ω or A like the load itself.

    A resistance of inf Ω at its high end is nothing connected.
    """

    load: Load
    low: float
    high: float

    def __post_init__(self) -> None:
        nominal = self.load.ohms if self.load.ohms is not None else self.load.amps
        amps = self.load.amps is not None
        if (
            nominal is None
            or not self.low <= nominal <= self.high
            or self.low < 0
            or not nominal < math.inf
            or (amps and math.isinf(self.high))
        ):
            msg = f"the load's range {self.low:g} to {self.high:g} does not hold its nominal value"
            raise DomainError(msg, field="loads")
        if self.load.ohms is not None and self.low <= 0:
            msg = "a load's least resistance must be above 0 Ω"
            raise DomainError(msg, field="loads")

    @property
    def freed(self) -> LoadRange:
        """Return the same load with nothing connected as its light end."""
        return LoadRange(self.load, *((self.low, math.inf) if self.load.ohms else (0.0, self.high)))

    @property
    def heaviest(self) -> Load:
        """Return the load where it draws most."""
        if self.load.ohms is not None:
            return replace(self.load, ohms=self.low)
        return replace(self.load, amps=self.high)


@dataclass(frozen=True, slots=True)
class Tracking:
    """Parts of one array or one reel, whose ratios are held tighter than their values."""

    ratio: float  #: how far the ratio of any two may be off its nominal, fraction
    refs: frozenset[str] | None = None  #: designators as in the circuit; None is every part

    def __post_init__(self) -> None:
        if not 0 <= self.ratio < 1:
            msg = f"a ratio tolerance is a fraction from 0 to below 1, got {self.ratio:g}"
            raise DomainError(msg, field="tracking.ratio")


@dataclass(frozen=True, slots=True, eq=False)
class Box:
    """A circuit with a range for everything in it; the same one only if it is one object."""

    circuit: Circuit
    supply: Supply
    loads: tuple[LoadRange, ...]
    half_widths: tuple[float, ...]  #: of each branch, fraction of its nominal value
    tracking: Tracking | None = None

    def __post_init__(self) -> None:
        if self.supply.low_volts and self.circuit.low == GROUND:
            msg = "the supply's low end is off 0 V in a circuit whose node 0 is 0 V: lift it first"
            raise ValueError(msg)
        for branch, half in zip(self.circuit.branches, self.half_widths, strict=True):
            if not 0 <= half < 1:
                msg = (
                    f"{branch.ref} may deviate by {half:.4g} of its value (tolerance + temperature "
                    "+ drift); the sum must stay below 1 (100 %)"
                )
                raise DomainError(msg, field="parts")

    @property
    def low(self) -> list[float]:
        pairs = zip(self.circuit.branches, self.half_widths, strict=True)
        return [b.ohms * (1 - h) for b, h in pairs]

    @property
    def high(self) -> list[float]:
        pairs = zip(self.circuit.branches, self.half_widths, strict=True)
        return [b.ohms * (1 + h) for b, h in pairs]

    @property
    def tracked(self) -> tuple[bool, ...]:
        """Return which branches track each other."""
        if self.tracking is None:
            return (False,) * len(self.half_widths)
        refs = self.tracking.refs
        return tuple(refs is None or b.ref in refs for b in self.circuit.branches)

    @property
    def _tracking_halves(self) -> list[float]:
        return [h for h, t in zip(self.half_widths, self.tracked, strict=True) if t]

    @property
    def _binds(self) -> bool:
        """Whether the ratios are held tighter than the values alone hold them."""
        halves = self._tracking_halves
        if self.tracking is None or len(halves) < 2:
            return False
        widest = sorted(halves)[-2:]
        furthest = max((1 + one) / (1 - two) for one, two in (widest, reversed(widest)))
        return furthest > 1 + self.tracking.ratio

    @property
    def common(self) -> float:
        """Return the half-width of the deviation that tracking parts share, a fraction.

        For what is drawn at random and for root-sum-square a tracking part is
        nominal · (1 + c) · (1 + d), c shared within ± this and d its own: with |d| up to
        ratio/(2 + ratio), any two keep their ratio, and each stays within its half-width.
        """
        if self.tracking is None or not self._binds:
            return 0.0
        own = self.tracking.ratio / (2 + self.tracking.ratio)
        return max(0.0, (1 + min(self._tracking_halves)) / (1 + own) - 1)

    @property
    def own(self) -> tuple[float, ...]:
        """Return each branch's half-width beside what it shares with others, fractions."""
        if self.tracking is None or not self._binds:
            return self.half_widths
        common, most = self.common, self.tracking.ratio / (2 + self.tracking.ratio)
        pairs = zip(self.half_widths, self.tracked, strict=True)
        return tuple(min(most, (1 + h) / (1 + common) - 1) if t else h for h, t in pairs)

    @property
    def proven(self) -> bool:
        """Whether extremes at the ends of what tracking parts share are provably the extremes.

        Scaling every tracking part by one factor is, for voltages, scaling the one thing that does
        not track by its inverse; a node voltage is monotonic in that. With two such things or
        more, or with parts of several half-widths, it need not be, and places between are looked
        at too.
        """
        if not self._binds:
            return True
        if len(set(self._tracking_halves)) > 1:
            return False
        hung = {r.load.at for r in self.loads if r.load.ohms is not None}
        drawn = any(r.high > 0 for r in self.loads if r.load.amps is not None)
        return self.tracked.count(False) + len(hung) + drawn + bool(self.supply.source_ohms) <= 1

    def variants(self) -> list[tuple[str, Box]]:
        """Return boxes of independent parts that together hold the extremes of this one.

        Parts track where the largest of their factors is at most 1 + ratio times the smallest, m:
        for a given m each lies between m and m·(1 + ratio), within its own half-width. Each box
        comes with the place of its m: low, high, or between.
        """
        if self.tracking is None or not self._binds:
            return [("", self if self.tracking is None else replace(self, tracking=None))]
        least, most = self._ends_of_least
        count = 2 if self.proven else COMMON_STEPS
        found = []
        for place, m in enumerate(np.linspace(least, most, count).tolist()):
            ends = self._factors(m)
            pairs = zip(self.circuit.branches, ends, strict=True)
            moved = tuple(replace(b, ohms=b.ohms * (lo + hi) / 2) for b, (lo, hi) in pairs)
            circuit = replace(self.circuit, branches=moved)
            halves = tuple(max(0.0, (hi - lo) / (hi + lo)) for lo, hi in ends)
            end = "low" if place == 0 else "high" if place == count - 1 else "between"
            found.append((end, Box(circuit, self.supply, self.loads, halves)))
        return found

    @property
    def _ends_of_least(self) -> tuple[float, float]:
        """Return between what the smallest factor of all tracking parts may lie.

        Beyond these ends the boxes are parts of those at them.
        """
        assert self.tracking is not None  # asked for only where parts track
        halves, wide = self._tracking_halves, 1 + self.tracking.ratio
        least = max(1 - max(halves), (1 - min(halves)) / wide)
        most = min(1 + min(halves), (1 + max(halves)) / wide)
        return least, max(least, most)

    def _factors(self, least: float) -> list[tuple[float, float]]:
        """Return between what factors of its nominal value each part lies, given the smallest."""
        assert self.tracking is not None  # asked for only where parts track
        top = least * (1 + self.tracking.ratio)
        return [
            (max(least, 1 - h), min(top, 1 + h)) if tracks else (1 - h, 1 + h)
            for h, tracks in zip(self.half_widths, self.tracked, strict=True)
        ]

    @property
    def lowest_together(self) -> list[float]:
        """Return every part at the lowest it can be while all others are too, Ω."""
        if self.tracking is None or not self._binds:
            return self.low
        factors = self._factors(self._ends_of_least[0])
        return [b.ohms * lo for b, (lo, _) in zip(self.circuit.branches, factors, strict=True)]

    @property
    def highest_together(self) -> list[float]:
        """Return every part at the highest it can be while all others are too, Ω."""
        if self.tracking is None or not self._binds:
            return self.high
        factors = self._factors(self._ends_of_least[1])
        return [b.ohms * hi for b, (_, hi) in zip(self.circuit.branches, factors, strict=True)]

    @property
    def scales(self) -> bool:
        """Whether every voltage goes with the supply: nothing else drives a current."""
        drawn = any(r.high > 0 for r in self.loads if r.load.amps is not None)
        return not drawn and not self.supply.low_volts

    @property
    def above_zero(self) -> bool:
        """Whether any junction can be above 0 V, so that a current load draws."""
        return max(self.supply.volts, self.supply.low_volts) > 0

    @property
    def still(self) -> bool:
        """Whether nothing in it may deviate."""
        moving = any(self.half_widths) or self.supply.tolerance > 0
        return not moving and all(r.low == r.high for r in self.loads)

    @property
    def nominal_loads(self) -> tuple[Load, ...]:
        return tuple(r.load for r in self.loads)

    def load_name(self, position: int) -> str:
        """Return the name a load goes by in corners and sensitivities."""
        return load_names(self.circuit, len(self.loads))[position]
