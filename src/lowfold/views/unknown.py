"""An unknown part, and any two of V, I, R and P."""

from __future__ import annotations

from lowfold.views.figures import Figure
from lowfold.views.view import view

__all__ = ["AnyTwoAnswer", "NearestAnswer", "UnknownAnswer"]


@view
class NearestAnswer:
    ohm: float
    shown: str
    gives_shown: str
    gives: float  #: The known figure as it would become
    error: float | None  #: gives / known − 1; null where the known figure is 0


@view
class UnknownAnswer:
    ref: str
    ohm: float
    shown: str
    nearest: list[NearestAnswer]


@view
class AnyTwoAnswer:
    v: float
    a: float
    ohm: float
    w: float
    shown: dict[str, Figure]
    rules: list[str]  #: The relations that gave the two that were not given
