"""A derivation, and one's own working held against it, as they are seen."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from lowfold.core.folding.derivation import Line
from lowfold.core.folding.working import QUANTITIES, Figured, Quantity
from lowfold.core.values.quantities import write
from lowfold.views.view import view

__all__ = ["DerivationAnswer", "FigureAnswer", "WorkingAnswer", "working_answer"]


@view
class DerivationAnswer:
    steps: list[Line]  #: The last one gives the figure


@view
class FigureAnswer:
    """One figure of one's own."""

    ref: str  #: The part, or `total_ohm`
    quantity: Quantity
    typed: str
    right: bool  #: Right, or following rightly from an earlier figure of one's own
    judged: Literal["right", "near", "follows", "wrong"]
    slip: str  #: What explains it; empty where it is right, or nothing does
    shown: str  #: What it is


@view
class WorkingAnswer:
    figures: list[FigureAnswer]


def working_answer(found: Sequence[Figured], texts: Sequence[str]) -> WorkingAnswer:
    """Return figures as judged, each with how it was typed.

    Parameters
    ----------
    texts : sequence of str
        In the same order.
    """
    return WorkingAnswer(
        figures=[
            FigureAnswer(
                ref=one.ref,
                quantity=one.quantity,
                typed=text,
                right=one.judged in {"right", "follows"},
                judged=one.judged,
                slip=one.slip,
                shown=write(one.true, QUANTITIES[one.quantity], 4, trim=True),
            )
            for one, text in zip(found, texts, strict=True)
        ]
    )
