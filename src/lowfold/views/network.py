"""A network as it is typed, as it is seen: read, folded, judged, edited."""

from __future__ import annotations

from lowfold.core.checking.cautions import Caution
from lowfold.core.checking.verdict import Standing
from lowfold.core.tokens.reading import TokenReading
from lowfold.views.folded import FoldAnswer
from lowfold.views.gates import GateAnswer
from lowfold.views.part_look import PartLook
from lowfold.views.view import view

__all__ = ["EditAnswer", "NetworkSheetAnswer", "RelationAnswer", "SwitchAnswer"]


@view
class SwitchAnswer:
    ref: str
    closed: bool


@view
class NetworkSheetAnswer:
    tokens: dict[str, TokenReading]
    folded: FoldAnswer | None
    switches: list[SwitchAnswer]
    #: The same network in other states, in words, as briefs to be set beside it
    variants: dict[str, dict[str, str]]
    gates: list[GateAnswer]  #: What is not stated is not judged
    gates_trouble: str  #: Why the gates could not be worked out
    cautions: list[Caution]
    parts: list[PartLook]  #: What is to be seen on each part in the bin
    standing: Standing


@view
class RelationAnswer:
    kind: str  #: series, parallel or neither
    reason: str


@view
class EditAnswer:
    network: str
