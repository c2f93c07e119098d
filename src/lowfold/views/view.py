"""What every view is: frozen, by names, in plain values; each field says its meaning after `#:`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, TypeVar, dataclass_transform

__all__ = ["under", "view"]

T = TypeVar("T")


def under(name: str) -> Any:
    """Return a field that goes by another name outside: one that is a word of the language."""
    return field(metadata={"serialization_alias": name})


@dataclass_transform(frozen_default=True, kw_only_default=True, field_specifiers=(field, under))
def view(cls: type[T]) -> type[T]:
    """Make a class a view: a frozen dataclass whose fields are given by name."""
    made: Callable[[type[T]], type[T]] = dataclass(frozen=True, slots=True, kw_only=True)
    return made(cls)
