"""A choice: one network weighed against a need, the same for every kind of need."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from lowfold.core.checking.check import Check
from lowfold.core.checking.verdict import Verdict
from lowfold.core.network.circuit import Circuit
from lowfold.core.network.tree import Element, Part, parts_of, write_network
from lowfold.core.search.feedback import regulated_span
from lowfold.core.tokens.parts import Parts
from lowfold.core.tokens.reading import STIFF
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.values.preferred import commonest_series
from lowfold.core.weighing.gate import Gate
from lowfold.core.weighing.mark import Mark

__all__ = ["Choice", "Found", "Judged", "Pair", "Preference", "Trade"]

Preference = Literal["nearest", "fewest", "cool", "worst_case", "least_current"]


@dataclass(frozen=True, slots=True)
class Pair:
    """A regulator's feedback pair: what its output follows."""

    node: int  #: of the pin
    pin_amps: float
    upper: float  #: nominal, Ω
    lower: float
    reference: tuple[float, float, float]  #: low, nominal, high, V
    legs: tuple[tuple[tuple[float, float], tuple[float, float]], ...]
    """Ends of upper and lower, Ω; several where parts track, which together hold the extremes."""
    moves: Mapping[str, float]  #: by part, reference and what they share: first order, V

    def span(self, pin_amps: float) -> tuple[float, float]:
        """Return the least and the greatest output with a current into the pin, V."""
        held = self.reference[::2]
        every = [regulated_span(up, down, held, pin_amps) for up, down in self.legs]
        return min(low for low, _ in every), max(high for _, high in every)

    def most_pin_amps(self, limit: float) -> float:
        """Return the largest current into the pin that keeps the output at most at `limit` V.

        At every corner the output rises by the upper leg for each ampere; negative where it is too
        high without any.
        """
        return min(
            (limit - held * (1 + up / down)) / up
            for ups, downs in self.legs
            for up in ups
            for down in downs
            for held in self.reference[::2]
        )


@dataclass(frozen=True, slots=True)
class Judged:
    """A network weighed against its brief."""

    circuit: Circuit
    box: Box  #: what may vary; its supply is a pair's reference
    check: Check
    marks: tuple[Mark, ...]
    parts: Parts
    loads: tuple[LoadRange, ...]
    supply: Supply | None  #: None where the brief states no use
    gates: tuple[Gate, ...]
    verdict: Verdict | None
    stands: float | None = None  #: what its outputs feed stands, V
    pair: Pair | None = None
    stiff: float | None = STIFF  #: times its load's current that a string is to carry
    carries: float | None = None  #: of the load's current at its heaviest, where it is least


@dataclass(frozen=True, slots=True)
class Choice:
    """One network weighed against the need."""

    network: Element
    lines: tuple[str, ...]  #: its values as read in a list
    amps: float | None  #: drawn from the supply; None where nothing drives it
    output_ohms: float | None
    judged: Judged

    @property
    def marks(self) -> tuple[Mark, ...]:
        return self.judged.marks

    @property
    def notation(self) -> str:
        return write_network(self.network)

    @property
    def governing(self) -> Mark:
        """Return the mark furthest from its target."""
        return max(self.marks, key=lambda m: abs(m.error))

    @property
    def values(self) -> tuple[float, ...]:
        """Return the values of its parts, Ω, as written."""
        return tuple(p.ohms for p in parts_of(self.network) if isinstance(p, Part))

    @property
    def distinct(self) -> int:
        """Return how many different values have to be bought."""
        return len(set(self.values))

    @property
    def series(self) -> str:
        """Return the most widely stocked series that has every value; empty if none does."""
        return commonest_series(self.values)


@dataclass(frozen=True, slots=True)
class Trade:
    """One choice that nothing beats in both error and current."""

    notation: str
    error: float  #: of the nominal output, signed
    amps: float


@dataclass(frozen=True, slots=True)
class Found:
    """What a search brought: networks in the preferred order."""

    networks: tuple[Element, ...]
    errors: tuple[float, ...]  #: of each network, nominal, the worst where there are several
    searched: int
    what: str  #: what was searched: pairs, combinations, ladders
    advice: str = ""  #: when one more part is worth it
    reason: str | None = None  #: why there is nothing
    exact: bool = True
