"""A gate: one question about a choice, its governing figure, what is allowed, what governs it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

from lowfold.core.checking.verdict import Verdict
from lowfold.core.values.quantities import Kind
from lowfold.core.weighing.gate_words import margin_words

__all__ = ["Gate", "GateName", "Say"]

GateName = Literal["value", "spread", "load", "power"]
#: Says what governs a gate and what would help, when it is read.
Say = Callable[[], tuple[str, ...]]


@dataclass(frozen=True, slots=True)
class Gate:
    """One question about a choice."""

    name: GateName
    verdict: Verdict | None  #: None where the brief gives nothing to judge by
    figure: float | None  #: the governing figure, in the unit of `kind`
    kind: Kind
    allowed: float | None
    of: str  #: what the figure is of, in words
    used: float | None  #: share of the allowance used; may exceed 1; inf where nothing is allowed
    say: Say = field(compare=False, repr=False)

    @classmethod
    def unjudged(
        cls, name: GateName, kind: Kind, say: Say | str, *, of: str = "",
        figure: float | None = None,
    ) -> Gate:  # fmt: skip
        """Return a gate for which the brief gives nothing to judge by, with the reason."""
        said = (lambda: (say,)) if isinstance(say, str) else say
        return cls(name, None, figure, kind, None, of, None, said)

    @property
    def notes(self) -> tuple[str, ...]:
        """Return what governs it, and what would help."""
        return self.say()

    @property
    def margin(self) -> str:
        """Return what is left of the allowance, or by how much it is exceeded, in words."""
        return margin_words(self.used, self.verdict)
