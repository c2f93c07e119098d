"""A design as the store has it, on its way to a worker."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from lowfold.formats.dossier import Photograph

__all__ = ["Kept", "What"]

What = Literal["paper", "text", "parts", "drawing"]


@dataclass(frozen=True, slots=True)
class Kept:
    """A design as the store has it, to be handed to a worker."""

    fields: dict[str, Any]
    revision: int
    digest: str
    record: Sequence[dict[str, Any]]  #: with `number` and `at`
    photographs: dict[int, Photograph]  #: by their number in the record's `evidence`
    revisions: Sequence[tuple[int, str, str]]  #: number, when, what changed
