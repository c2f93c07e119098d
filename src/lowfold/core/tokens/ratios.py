"""An output as a share of its supply: `10:1`, `a third`, `25 %`, divided by 4."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any, Final

from lowfold.core.errors import DomainError
from lowfold.core.tokens.reading import Token, TokenReading, optional
from lowfold.core.values.quantities import VOLT, write

__all__ = ["RATIO", "SHARES", "follow_ratio"]

#: Shares by their names.
SHARES: Final[dict[str, float]] = {
    "half": 1 / 2, "a half": 1 / 2, "one half": 1 / 2, "a third": 1 / 3, "one third": 1 / 3,
    "two thirds": 2 / 3, "a quarter": 1 / 4, "one quarter": 1 / 4, "three quarters": 3 / 4,
    "a fourth": 1 / 4, "a fifth": 1 / 5, "two fifths": 2 / 5, "three fifths": 3 / 5,
    "four fifths": 4 / 5, "a tenth": 1 / 10, "one tenth": 1 / 10,
}  # fmt: skip
LONGEST: Final = 40  #: characters
_NUMBER = r"([0-9]{1,6}(?:[.,][0-9]{1,6})?|[.,][0-9]{1,6})"
_OVER = re.compile(rf"{_NUMBER}\s*[:/]\s*{_NUMBER}")
_BY = re.compile(rf"(?:divided? by|by|÷|/)?\s*{_NUMBER}\s*(?P<percent>%|percent)?(?:\s+of\s+it)?")
FIGURES: Final = 12  #: in which the output that follows is stated


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _share(text: str) -> tuple[Any, str]:
    """Read a share of the supply; a divider only lowers, so that `10:1` and `1:10` are the same."""
    word = " ".join(text.lower().split())
    share = SHARES.get(word.removesuffix(" of it").removesuffix(" of the supply"))
    if share is None and len(word) <= LONGEST:
        if over := _OVER.fullmatch(word):
            one, other = _number(over[1]), _number(over[2])
            share = min(one, other) / max(one, other) if one and other else None
        elif by := _BY.fullmatch(word):
            value = _number(by[1]) / (100 if by["percent"] else 1)
            share = 1 / value if value > 1 else value
    if share is None or not 0 < share < 1:
        msg = f"“{text.strip()[:30]}” is no share of a supply: write 10:1, 1/4, 25 % or a third"
        raise DomainError(msg)
    return share, f"{share:.4g} of it"


RATIO: Final = Token(optional(_share, "as wanted"), "none", "output over supply", "none")


def follow_ratio(values: dict[str, Any], readings: dict[str, TokenReading]) -> None:
    """Work the wanted voltage out where a share of the supply is said, which goes before it.

    Parameters
    ----------
    values : dict
        Values read, by token.
    readings : dict
        What was understood, by token.
    """
    share, supply = values.get("ratio"), values.get("supply_v")
    if share is None or not isinstance(supply, float):
        return
    low = values.get("low_v") or 0.0
    target = float(f"{low + share * (supply - low):.{FIGURES}g}")
    values["target_v"] = target
    shown = write(target, VOLT, 6, trim=True)
    readings["target_v"] = replace(
        readings["target_v"], ok=True, shown=shown, message="", by="ratio"
    )
