"""How often each kind of fault is met (common practice): start values, and a user's own."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final, Literal, TypeAlias, get_args

from lowfold.core.errors import DomainError

__all__ = ["KIND_WORDS", "MOST_WEIGHT", "START", "PriorKind", "Priors", "each_of", "priors_with"]

PriorKind = Literal[
    "open", "short", "bridge", "decade", "misread", "neighbour", "value", "swapped", "supply",
    "series resistance", "load", "meter", "something else",
]  # fmt: skip
Priors: TypeAlias = Mapping[PriorKind, float]

#: Those of one line of the trade's list share its share.
START: Final[Priors] = {
    "open": 4.0, "short": 1.5, "bridge": 0.5, "decade": 1.0, "misread": 1.0, "neighbour": 1.0,
    "value": 0.5, "swapped": 1.0, "supply": 1.5, "series resistance": 0.5, "load": 2.0,
    "meter": 2.0, "something else": 0.5,
}  # fmt: skip

KIND_WORDS: Final[Mapping[PriorKind, str]] = {
    "open": "a joint, a wire or a part open",
    "short": "a part shorted",
    "bridge": "two junctions bridged",
    "decade": "a power of ten",
    "misread": "a misread band",
    "neighbour": "a neighbour in the bin",
    "value": "some other value",
    "swapped": "two parts swapped",
    "supply": "another supply",
    "series resistance": "resistance in source and leads",
    "load": "a load forgotten, or one too many",
    "meter": "the meter (jack, range, battery)",
    "something else": "something else",
}
MOST_WEIGHT: Final = 1000.0


def priors_with(own: Mapping[str, float], base: Priors = START) -> Priors:
    """Return weights of all kinds, some of them replaced.

    Parameters
    ----------
    own : mapping of str to float
        By kind: how often it is met, against the other kinds; from 0 to 1000.
    base : Priors
        Of the kinds left out.

    Raises
    ------
    DomainError
        For a kind there is none of, a weight outside, or where nothing at all is left.
    """
    kinds = get_args(PriorKind)
    found = dict(base)
    for kind, weight in own.items():
        if kind not in kinds:
            msg = f"“{kind}” is no kind of fault; there are: {', '.join(kinds)}"
            raise DomainError(msg, field="priors")
        if not 0 <= weight <= MOST_WEIGHT:
            msg = f"{kind}: how often is a number from 0 to {MOST_WEIGHT:g}, not {weight:g}"
            raise DomainError(msg, field=f"priors.{kind}")
        found[kind] = float(weight)  # type: ignore[index]  # it is one of the kinds
    if not sum(found.values()) > 0:
        msg = "every kind of fault is said never to happen; at least one has to be possible"
        raise DomainError(msg, field="priors")
    return found


def each_of(priors: Priors) -> dict[PriorKind, float]:
    """Return the probability of each kind: all faults together as much as none."""
    whole = math.fsum(priors.values())
    return {kind: 0.5 * weight / whole for kind, weight in priors.items()}
