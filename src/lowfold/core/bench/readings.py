"""Readings: what was typed or taken, and whether it lies where it was expected."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final, Literal

from lowfold.core.bench.expect import Expected
from lowfold.core.bench.models import MeterModel
from lowfold.core.bench.points import Kind
from lowfold.core.errors import LowfoldError
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, read
from lowfold.core.values.quantities import Kind as Quantity

__all__ = ["FAR", "FAR_SHARE", "QUANTITIES", "Taken", "Told", "read_taken", "verdict_on_reading"]

Told = Literal["as expected", "off", "far out"]

FAR: Final = 3.0  #: times the distance from what is expected to the limit, beyond that limit
FAR_SHARE: Final = 0.05  #: of what is expected, beyond the limit

QUANTITIES: Final[dict[Kind, Quantity]] = {
    "voltage": VOLT, "current": AMPERE, "resistance": OHM,
}  # fmt: skip
#: How meters show that a reading is over their range.
OVER: Final = {"ol", "0l", "o.l", "0.l", ".ol", "overload", "over", "1.", "∞", "inf"}


@dataclass(frozen=True, slots=True)
class Taken:
    """A reading as it was typed, and what it says."""

    text: str
    value: float | None = None  #: None where it is over range, or not understood
    overload: bool = False
    wrong: str = ""  #: why it is not understood
    meter: MeterModel | None = None  #: that it was read on; None is the round's

    @property
    def understood(self) -> bool:
        return self.overload or self.value is not None


def read_taken(text: str, kind: Kind, meter: MeterModel | None = None) -> Taken:
    """Read a reading in the field's notation; what is not understood is kept as typed.

    Parameters
    ----------
    text : str
        `3.02 V`, `3V02`, `57.9 uA`, `OL`; a bare number is in V, A or Ω.
    kind : str
        What was measured.
    meter : MeterModel, optional
        That it was read on.
    """
    bare = text.strip()
    if bare.replace(" ", "").casefold() in OVER:
        return Taken(text, overload=True, meter=meter)
    try:
        value = read(bare, QUANTITIES[kind])
    except LowfoldError as error:
        return Taken(text, wrong=error.message)
    if kind == "resistance" and value < 0:
        return Taken(text, wrong="a resistance is not negative: power off, and zero the leads")
    return Taken(text, value, meter=meter)


def verdict_on_reading(taken: Taken, expected: Expected) -> Told | None:
    """Tell whether a reading lies where it was expected; None while it is not understood.

    As expected within the exact ends with the meter's limit of error. Far out where it lies beyond
    them by more than `FAR` times their distance and by more than `FAR_SHARE` of what is expected;
    off between (common practice).

    Parameters
    ----------
    expected : Expected
        At the same point, with the same meter.
    """
    if not taken.understood:
        return None
    span, low, high = expected.span, expected.low, expected.high
    if span is None or low is None or high is None:
        return "as expected" if taken.overload else "far out"
    if taken.value is None:
        return "as expected" if expected.overload or _may_exceed(expected) else "far out"
    if low <= taken.value <= high:
        return "as expected"
    limit = high if taken.value > high else low
    beyond = abs(taken.value - limit)
    far = beyond > FAR * abs(limit - span.nominal) and beyond > FAR_SHARE * abs(span.nominal)
    return "far out" if far else "off"


def _may_exceed(expected: Expected) -> bool:
    """Whether a sound board may bring more than the range holds."""
    full = expected.range.full if expected.range else math.inf
    ends = [abs(end) for end in (expected.low, expected.high) if end is not None]
    return max(ends, default=0.0) > full
