"""Two choices of one need side by side, as they are seen."""

from __future__ import annotations

from lowfold.core.sheet.beside import Beside, Difference
from lowfold.core.weighing.choice import Choice
from lowfold.views.shown import ShownAnswer, shown_answer
from lowfold.views.view import view

__all__ = ["BesideAnswer", "beside_answer"]


@view
class BesideAnswer:
    one: ShownAnswer
    two: ShownAnswer
    lines: list[Difference]
    words: str


def beside_answer(one: Choice, two: Choice, found: Beside) -> BesideAnswer:
    """Return two choices, each in full, with how they differ."""
    return BesideAnswer(
        one=shown_answer(one), two=shown_answer(two), lines=list(found.lines), words=found.words
    )
