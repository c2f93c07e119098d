"""Pass, marginal or fail: how a figure stands against what is allowed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

__all__ = ["ROUNDING", "Standing", "Verdict", "verdict_on", "worst"]

#: A figure this near its allowance, relatively, is on it: decimal fractions are not binary ones.
ROUNDING: Final = 1e-12
#: Inside with less than this share of the allowance left is marginal (common practice).
MARGIN: Final = 0.1


class Verdict(StrEnum):
    """From best to worst."""

    PASS = "pass"  # noqa: S105 a verdict, no password
    MARGINAL = "marginal"
    FAIL = "fail"


ORDER: Final = tuple(Verdict)


@dataclass(frozen=True, slots=True)
class Standing:
    """How a design stands, in one line."""

    verdict: Verdict | None
    words: str
    need: str  #: in short
    figure: str  #: what the choice gives
    gates: Mapping[str, Verdict | None] = field(default_factory=dict)  #: by name


def verdict_on(used: float, allowed: float) -> Verdict:
    """Judge `used` of `allowed`, both ≥ 0 and in one unit; on the limit is still inside.

    Parameters
    ----------
    used : float
        What is used, ≥ 0, in the unit of `allowed`.
    allowed : float
        What may be used, ≥ 0.
    """
    if used > allowed * (1 + ROUNDING):
        return Verdict.FAIL
    left = allowed - used
    return Verdict.MARGINAL if left < allowed * MARGIN * (1 - ROUNDING) else Verdict.PASS


def worst(verdicts: Iterable[Verdict | None]) -> Verdict | None:
    """Return the worst of those given, or None if nothing was judged.

    Parameters
    ----------
    verdicts : Iterable[Verdict | None]
        None where nothing was judged.
    """
    return max((v for v in verdicts if v is not None), key=ORDER.index, default=None)
