"""The drills, their levels, and the numbers that questions go by."""

from __future__ import annotations

from typing import Final, Literal

__all__ = ["LEVELS", "MOST_SEED", "Drill"]

Drill = Literal["estimate", "series", "fault"]
LEVELS: Final = (1, 2, 3, 4, 5)
MOST_SEED: Final = 2**31 - 1
