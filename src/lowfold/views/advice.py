"""What would make a choice pass, tried before it is told."""

from __future__ import annotations

from lowfold.core.advice.case import Advice, AdviceKind
from lowfold.core.checking.verdict import Verdict
from lowfold.core.sheet.standing import governing_words
from lowfold.views.view import view

__all__ = ["AdviceAnswer", "AdvisedAnswer"]


@view
class AdviceAnswer:
    """One way; following it is putting `changes` into the brief and choosing `choice`."""

    kind: AdviceKind
    words: str
    brings: str  #: How the choice stands once this is followed
    verdict: Verdict | None
    changes: dict[str, str]
    choice: str  #: Empty where the brief itself states the network

    @classmethod
    def from_core(cls, advice: Advice) -> AdviceAnswer:
        return cls(
            kind=advice.kind,
            words=advice.words,
            brings=governing_words(advice.judged.gates),
            verdict=advice.verdict,
            changes=dict(advice.changes),
            choice=advice.notation,
        )


@view
class AdvisedAnswer:
    ways: list[AdviceAnswer]  #: Those that pass first
    #: The first way that passes; null where none does, or the choice passes as it is
    cheapest: AdviceAnswer | None
    denied: str  #: That nothing which can be bought passes, where that is proven; else empty
    limit: str  #: What no part can cure; empty where one can
    looked: str  #: How far other choices were looked through, where none of them passes
    lightest: str  #: The string of least current that passes, in words
    verdict: Verdict | None  #: How the choice stands as it is
