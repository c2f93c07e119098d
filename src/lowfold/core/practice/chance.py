"""Questions drawn by drill, level and number: the same three give the same question anywhere."""

from __future__ import annotations

from typing import get_args

import numpy as np

from lowfold.core.errors import DomainError
from lowfold.core.practice.levels import LEVELS, MOST_SEED, Drill

__all__ = ["chance_of"]


def chance_of(drill: Drill, level: int, seed: int) -> np.random.Generator:
    """Return the source of chance of one question.

    Parameters
    ----------
    level : int
        From 1 to 5.
    seed : int
        From 0 to `MOST_SEED`.

    Raises
    ------
    DomainError
        For a level or a seed there is none of.
    """
    if level not in LEVELS:
        msg = f"levels go from {LEVELS[0]} to {LEVELS[-1]}, not {level}"
        raise DomainError(msg, field="level")
    if not 0 <= seed <= MOST_SEED:
        msg = f"a question's number goes from 0 to {MOST_SEED}, not {seed}"
        raise DomainError(msg, field="seed")
    return np.random.default_rng([get_args(Drill).index(drill), level, seed])
