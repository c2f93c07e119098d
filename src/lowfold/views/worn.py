"""What is to be seen on each part that has to be fetched from the bin."""

from __future__ import annotations

from typing import Literal

from lowfold.core.marks.worn import worn
from lowfold.core.needs.choice import Judged
from lowfold.core.values.quantities import OHM, write
from lowfold.core.workbench.fetched import fetched_parts
from lowfold.views.view import view

__all__ = ["WornAnswer", "worn_parts"]


@view
class WornAnswer:
    """What is to be seen on a part in the bin."""

    ref: str
    shown: str  #: Its value, as written
    look: Literal["bands", "chip", "printed"]
    bands: list[str]
    code: str
    why: str  #: Why nothing is marked


def worn_parts(judged: Judged) -> list[WornAnswer]:
    """Return what is to be seen on each part of a network."""
    found = []
    for part in fetched_parts(judged):
        seen = worn(part.ohms, part.tolerance, part.family)
        found.append(
            WornAnswer(
                ref=part.ref,
                shown=write(part.ohms, OHM, 6, trim=True),
                look=seen.look,
                bands=list(seen.bands),
                code=seen.code,
                why=seen.why,
            )
        )
    return found
