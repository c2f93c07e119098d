"""What is the user's own: parts in the drawer, and families."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from lowfold.core.parts.families import Family

__all__ = ["DRAWER", "DrawerLine", "Stock"]

#: What the token for values says where the user's own stock is meant.
DRAWER: Final = "drawer"


@dataclass(frozen=True, slots=True)
class DrawerLine:
    """So many parts of one value in the user's own drawer."""

    ohms: float
    count: int | None  #: None is plenty
    tolerance: float  #: fraction
    family: str


@dataclass(frozen=True, slots=True)
class Stock:
    """What is the user's own: parts in the drawer, and families beside the typical ones."""

    lines: tuple[DrawerLine, ...] = ()
    families: tuple[Family, ...] = ()
