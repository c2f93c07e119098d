"""What is to be seen on each part that has to be fetched from the bin."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from lowfold.api.fields import Answer
from lowfold.core.marks.worn import worn
from lowfold.core.needs.choice import Judged
from lowfold.core.values.quantities import OHM, write

__all__ = ["WornAnswer", "worn_parts"]


class WornAnswer(Answer):
    """What is to be seen on a part in the bin."""

    ref: str
    shown: str = Field(description="Its value, as written")
    look: Literal["bands", "chip", "printed"]
    bands: list[str]
    code: str
    why: str = Field(description="Why nothing is marked")


def worn_parts(judged: Judged) -> list[WornAnswer]:
    """Return what is to be seen on each part of a network."""
    parts = judged.parts
    own = {o.ref.casefold(): o for o in parts.own}
    found = []
    for branch in judged.circuit.branches:
        other = own.get(branch.ref.casefold())
        tolerance = other.tolerance if other else None
        family = (other.family if other else None) or (parts.family if parts.rated else None)
        seen = worn(
            branch.ohms,
            parts.tolerance if tolerance is None else tolerance,
            family.name if family else "",
        )
        found.append(
            WornAnswer(
                ref=branch.ref,
                shown=write(branch.ohms, OHM, 6, trim=True),
                look=seen.look,
                bands=list(seen.bands),
                code=seen.code,
                why=seen.why,
            )
        )
    return found
