"""What every kind of need has: a brief that is searched and weighed, and how it is read."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from lowfold.core.network.tree import Element
from lowfold.core.parts.pool import Pool
from lowfold.core.tokens.parts import Parts
from lowfold.core.tokens.reading import Token
from lowfold.core.values.quantities import Kind
from lowfold.core.weighing.choice import Choice, Found, Preference
from lowfold.core.weighing.conditions import Conditions
from lowfold.core.weighing.weighing import weigh_networks

__all__ = ["Brief", "NeedKind"]


class Brief(ABC):
    """A need as understood: what it is searched for and weighed against."""

    __slots__ = ()
    parts: Parts
    within: float  #: accepted deviation, a fraction

    @property
    @abstractmethod
    def conditions(self) -> Conditions:
        """Return what a network for this need works under, and what is wanted of it."""

    @abstractmethod
    def search(self, preference: Preference, pool: Pool, limit: int) -> Found:
        """Search networks for this need, `limit` at most."""

    def presumed(self, networks: Sequence[Element]) -> Sequence[bool] | None:  # noqa: ARG002
        """Return which networks pass, all judged together; None where weighing alone tells."""
        return None

    def worth_weighing(self, pool: Pool, weighed: Sequence[Choice]) -> list[Element]:  # noqa: ARG002
        """Return networks beside those weighed that a careful designer may rather take."""
        return []

    def leaves_in_place(self, network: Element) -> bool:  # noqa: ARG002
        """Whether a network leaves alone what is on the board already."""
        return True

    @property
    def in_place(self) -> bool:
        """Whether a part of it is on the board already, and stays as it is."""
        return False

    @abstractmethod
    def lines(self, network: Element) -> tuple[str, ...]:
        """Write a network as it is read in a list."""

    def weigh(self, networks: Sequence[Element]) -> list[Choice]:
        """Weigh networks together against this need.

        Raises
        ------
        TopologyError, TooLargeError
            If one does not fit the brief (a divider without a tap OUT) or has too many parts.
        """
        conditions = self.conditions
        found = []
        for network, judged in zip(networks, weigh_networks(conditions, networks), strict=True):
            solution = judged.check.solution
            found.append(
                Choice(
                    network=network,
                    lines=self.lines(network),
                    amps=solution.supply_amps if conditions.supply is not None else None,
                    output_ohms=judged.check.source_ohms,
                    judged=judged,
                )
            )
        return found


@dataclass(frozen=True)
class NeedKind:
    """How one kind of need is read from its tokens."""

    tokens: Mapping[str, Token]
    preferences: tuple[Preference, ...]
    unit: Kind  #: of what is wanted
    said: tuple[str, ...]  #: tokens that say the need in short
    read: Callable[[Mapping[str, Any]], Brief]
    misfits: Callable[[Mapping[str, Any]], list[tuple[str, str]]]
