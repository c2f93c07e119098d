"""Ranges of resistance that are searched."""

from __future__ import annotations

from typing import Final

__all__ = ["DEFAULT_RANGE", "WIDEST_RANGE"]

DEFAULT_RANGE: Final = (1.0, 10e6)  #: Ω, common practice
WIDEST_RANGE: Final = (1e-3, 1e9)  #: Ω, what a request may ask for
