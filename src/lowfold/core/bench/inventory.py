"""What is the user's own, meters and how often faults are met included."""

from __future__ import annotations

from dataclasses import dataclass, field

from lowfold.core.bench.models import MODELS, MeterModel
from lowfold.core.bench.priors import START, Priors
from lowfold.core.parts.stock import Stock

__all__ = ["Inventory", "meters_with_typical"]


@dataclass(frozen=True, slots=True)
class Inventory(Stock):
    """Parts in the drawer, families and meters of the user's own."""

    meters: tuple[MeterModel, ...] = ()
    priors: Priors = field(default_factory=lambda: START)


def meters_with_typical(own: tuple[MeterModel, ...]) -> tuple[MeterModel, ...]:
    """Return the user's own meters, then the typical ones that no own one replaces by name.

    Parameters
    ----------
    own : tuple[MeterModel, ...]
    """
    taken = {m.name.casefold() for m in own}
    return own + tuple(m for m in MODELS if m.name.casefold() not in taken)
