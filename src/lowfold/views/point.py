"""A point of measurement as a request names it, and as it is told: light to load."""

from __future__ import annotations

from typing import Literal, Required, TypedDict

from lowfold.views.view import view

__all__ = ["Kind", "Named", "PointTold"]

Kind = Literal["voltage", "current", "resistance"]


class Named(TypedDict, total=False):
    """A point by the names of what is there, as a request has it."""

    kind: Required[Kind]
    at: str
    against: str
    across: str
    through: str
    part: str


@view
class PointTold:
    """A point as a request has it, and in words."""

    kind: Kind
    at: str | None = None
    against: str | None = None
    across: str | None = None
    through: str | None = None
    part: str | None = None
    words: str
