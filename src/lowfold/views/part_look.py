"""What is to be seen on each part that has to be fetched from the bin."""

from __future__ import annotations

from typing import Literal

from lowfold.core.board.bill import bill_of
from lowfold.core.marks.appearance import appearance_of
from lowfold.core.values.quantities import OHM, write
from lowfold.core.weighing.choice import Judged
from lowfold.views.view import view

__all__ = ["PartLook", "looks_of"]


@view
class PartLook:
    """What is to be seen on a part in the bin."""

    ref: str
    shown: str  #: Its value, as written
    look: Literal["bands", "chip", "printed"]
    bands: list[str]
    code: str
    why: str  #: Why nothing is marked


def looks_of(judged: Judged) -> list[PartLook]:
    """Return what is to be seen on each part of a network."""
    found = []
    for part in bill_of(judged):
        seen = appearance_of(part.ohms, part.tolerance, part.family)
        found.append(
            PartLook(
                ref=part.ref,
                shown=write(part.ohms, OHM, 6, trim=True),
                look=seen.look,
                bands=list(seen.bands),
                code=seen.code,
                why=seen.why,
            )
        )
    return found
