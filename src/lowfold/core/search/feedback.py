"""A regulator's feedback pair: what is wanted of it, and the output it sets.

The regulator holds the tap at its reference, so the output follows from the legs:
Vout = Vref·(1 + RU/RL) + Ipin·RU, with Ipin the current into the feedback pin.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, TypeVar

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError
from lowfold.core.parts.pool import Pool
from lowfold.core.search.divider import check_in_place, check_pairing

__all__ = ["FeedbackNeed", "regulated_extremes", "regulated_output", "regulated_span"]

FloatArray = npt.NDArray[np.float64]
Number = TypeVar("Number", float, Fraction, FloatArray)


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedbackNeed:
    """A wanted output of a regulator and what its feedback pair must keep to."""

    reference_volts: float
    target_volts: float
    pool: Pool
    reference_tolerance: float = 0.0
    pin_amps: float = 0.0  #: into the feedback pin; negative where it flows out
    max_per_leg: int = 1
    upper_ohms: float | None = None  #: a leg that is in place already
    lower_ohms: float | None = None
    tolerance: float = 0.01  #: of each part
    min_amps: float | None = None  #: in the lower leg, nominal
    max_amps: float | None = None
    max_output_ohms: float | None = None  #: upper beside lower, as the pin sees them
    within: float | None = None
    limit: int = 20
    prefer: Literal["nearest", "worst_case", "least_current"] = "nearest"

    def __post_init__(self) -> None:
        check_pairing(self.pool, self.max_per_leg, self.limit, self.min_amps, self.max_amps)
        check_in_place(self.upper_ohms, self.lower_ohms)
        if not self.reference_volts > 0:
            msg = f"the reference is above 0 V, for instance 0.8 V, got {self.reference_volts:g} V"
            raise DomainError(msg, field="reference_v")
        if not self.target_volts > 0:
            msg = f"the output is above 0 V, got {self.target_volts:g} V"
            raise DomainError(msg, field="target_v")


def regulated_output(upper: Number, lower: Number, reference: Number, pin: Number) -> Number:
    """Return Vout = Vref·(1 + RU/RL) + Ipin·RU, V.

    Parameters
    ----------
    upper, lower : Ω
    reference : V held at the tap
    pin : A into the feedback pin
    """
    return reference + upper * (reference / lower + pin)


def regulated_extremes(
    upper: Number,
    lower: Number,
    reference: Number,
    pin: Number,
    tolerance: Number,
    reference_tolerance: Number,
) -> tuple[Number, Number]:
    """Return the least and the greatest output over the tolerances of both legs and the reference.

    The output rises with the reference and falls with the lower leg; with the upper leg it moves
    the way of the current in it, which only a strong current out of the pin can turn round.

    Parameters
    ----------
    upper : Number
        Upper leg, Ω.
    lower : Number
        Lower leg, Ω.
    reference : Number
        V held at the tap.
    pin : Number
        A into the feedback pin.
    tolerance : Number
        Half width, a fraction.
    reference_tolerance : Number
        Half width, a fraction.
    """
    found = []
    for sign in (-1, 1):
        held = reference * (1 + sign * reference_tolerance)
        amps = held / (lower * (1 - sign * tolerance)) + pin
        turned = sign if amps >= 0 else -sign
        found.append(held + upper * (1 + turned * tolerance) * amps)
    return found[0], found[1]


def regulated_span(
    upper: tuple[float, float],
    lower: tuple[float, float],
    reference: tuple[float, float],
    pin: float,
) -> tuple[float, float]:
    """Return the least and the greatest output with legs and reference between ends of their own.

    The output is monotonic in each of them, so that its extremes are at corners.

    Parameters
    ----------
    upper, lower : (low, high) in Ω
    reference : (low, high) in V
    pin : A into the feedback pin
    """
    every = [
        regulated_output(up, down, held, pin)
        for up, down, held in itertools.product(upper, lower, reference)
    ]
    return min(every), max(every)
