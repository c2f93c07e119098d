"""What the core refuses, by meaning.

LowfoldError
├── DomainError      a value outside what the trade allows (a part of 0 Ω, a tolerance of 200 %)
│   └── QuantityError    text that is not a quantity of the wanted kind
├── NotationError    text that is not a network; carries the position of the first bad character
├── TopologyError    a network that parses but cannot be asked this (unknown tap, shorted supply)
└── TooLargeError    work beyond a stated bound, refused before it starts
"""

from __future__ import annotations

from functools import partial
from typing import Any

__all__ = [
    "DomainError",
    "LowfoldError",
    "NotationError",
    "QuantityError",
    "TooLargeError",
    "TopologyError",
]


class LowfoldError(ValueError):
    """Base of everything the core refuses; `field` names the input it is about, if one is."""

    def __init__(self, message: str, *, field: str | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.field = field


class DomainError(LowfoldError):
    """A value outside what the rule allows."""


class QuantityError(DomainError):
    """Text that cannot be read as the wanted kind of quantity."""


class NotationError(LowfoldError):
    """Text that cannot be read as a network."""

    def __init__(self, message: str, *, position: int, field: str | None = None) -> None:
        super().__init__(message, field=field)
        self.position = position

    def __reduce__(self) -> tuple[Any, ...]:
        """Come back whole from a worker process."""
        again = partial(type(self), position=self.position, field=self.field)
        return again, (self.message,)


class TopologyError(LowfoldError):
    """A readable network for which the question has no answer."""


class TooLargeError(LowfoldError):
    """Work beyond a bound that is named in the message."""
