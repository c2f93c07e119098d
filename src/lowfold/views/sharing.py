"""One choice for each of several designs, out of few different values, as it is seen."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from lowfold.core.checking.verdict import Verdict

if TYPE_CHECKING:
    from lowfold.core.needs.kinds import BriefKind
from lowfold.views.view import view

__all__ = ["LeftOut", "SharedAnswer", "SharedChoice", "SharingNeed"]


@dataclass(frozen=True, slots=True)
class SharingNeed:
    """One design that should share values."""

    id: int
    name: str
    revision: int
    kind: BriefKind
    texts: dict[str, str]
    choice: str | None


@view
class SharedChoice:
    id: int
    name: str
    revision: int  #: Of the design the choice was made for
    notation: str
    share: float  #: |error| as a share of the accepted one
    verdict: Verdict | None  #: By the design's own gates; none fails
    words: str  #: Which gate uses most of its allowance
    cost: str  #: What it gives up against the design's own choice, or its first


@view
class LeftOut:
    """A design that takes no part."""

    id: int
    name: str
    words: str


@view
class SharedAnswer:
    """The result of the job."""

    choices: list[SharedChoice]
    left_out: list[LeftOut]  #: Designs of which no choice passes their own gates
    values: list[str]  #: The different values to buy
    before: int | None  #: Different values of the choices made; null if some lack
    #: False where only the nearest choices of a design were compared
    complete: bool
