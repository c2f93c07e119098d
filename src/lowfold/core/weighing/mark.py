"""One figure of a network against what is wanted of it."""

from __future__ import annotations

from dataclasses import dataclass

from lowfold.core.checking.verdict import ROUNDING
from lowfold.core.values.quantities import Kind

__all__ = ["Mark"]


@dataclass(frozen=True, slots=True)
class Mark:
    """One figure of a network against its target, Ω or V."""

    name: str  #: of the tap; empty for a resistance or a regulator's output
    kind: Kind  #: OHM or VOLT
    target: float
    within: float  #: accepted deviation, a fraction of the target
    nominal: float
    lowest: float
    highest: float

    @property
    def error(self) -> float:
        return self.nominal / self.target - 1

    @property
    def deviations(self) -> tuple[float, float]:
        """Return how far the lowest and the highest lie from the target, fractions."""
        return self.lowest / self.target - 1, self.highest / self.target - 1

    @property
    def window(self) -> tuple[float, float]:
        """Return the least and the greatest accepted, on the limit included."""
        half = self.within * abs(self.target) * (1 + ROUNDING)
        return self.target - half, self.target + half
