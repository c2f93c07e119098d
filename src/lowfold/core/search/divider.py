"""A divider: what is wanted of one, and the voltage at its loaded tap."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import Final, Literal, TypeVar

from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.parts.pool import Pool

__all__ = ["DividerNeed", "check_in_place", "check_pairing", "loaded_output"]

Number = TypeVar("Number", float, Fraction)

MOST_PER_LEG: Final = 2  #: parts
#: Distinct values for legs of two parts: E96 over seven decades has 673, its legs 453,000.
MOST_PAIRED: Final = 700
MOST_LISTED: Final = 500


@dataclass(frozen=True, slots=True, kw_only=True)
class DividerNeed:
    """A wanted output and what a divider must keep to."""

    supply_volts: float
    target_volts: float
    pool: Pool
    low_volts: float = 0.0  #: at the divider's other end
    supply_tolerance: float = 0.0
    source_ohms: float = 0.0  #: in series with the supply
    load_ohms: float | None = None  #: from the tap to 0 V
    load_amps: float | None = None
    load_ends: tuple[float, float] | None = None  #: between which it lies, in its own unit
    max_per_leg: int = 1
    upper_ohms: float | None = None  #: a leg that is in place already
    lower_ohms: float | None = None
    tolerance: float = 0.01  #: of each part
    min_amps: float | None = None  #: drawn from the supply, nominal, loaded
    max_amps: float | None = None
    max_output_ohms: float | None = None  #: Thévenin, source included
    within: float | None = None
    limit: int = 20
    prefer: Literal["nearest", "worst_case", "least_current"] = "nearest"

    def __post_init__(self) -> None:
        check_pairing(self.pool, self.max_per_leg, self.limit, self.min_amps, self.max_amps)
        check_in_place(self.upper_ohms, self.lower_ohms)
        if self.low_volts >= self.supply_volts:
            msg = (
                f"the other end at {self.low_volts:g} V is not below the supply of "
                f"{self.supply_volts:g} V: the supply is the higher of the two"
            )
            raise DomainError(msg, field="low_v")
        if self.target_volts == 0:
            msg = "a target of 0 V has no relative error: give a target other than 0 V"
            raise DomainError(msg, field="target_v")
        if self.load_ohms is not None and self.load_amps is not None:
            msg = "a load is a resistance or a current: give one of the two"
            raise DomainError(msg, field="load_a")
        stated = self.load_ohms if self.load_ohms is not None else self.load_amps
        if self.load_ends is not None and stated is not None:
            low, high = self.load_ends
            if not 0 <= low <= stated <= high or (self.load_ohms is not None and low <= 0):
                msg = f"the load's range {low:g} to {high:g} does not hold its nominal value"
                raise DomainError(msg, field="load_ends")

    @property
    def lightest(self) -> tuple[float, float]:
        """Return what the load draws at least, as S and A."""
        return self._drawn(1)

    @property
    def heaviest(self) -> tuple[float, float]:
        """Return what the load draws at most, as S and A."""
        return self._drawn(0)

    def _drawn(self, end: int) -> tuple[float, float]:
        if self.load_ohms is not None:
            return 1 / (self.load_ends[end] if self.load_ends else self.load_ohms), 0.0
        amps = self.load_amps or 0.0
        return 0.0, self.load_ends[1 - end] if self.load_ends and amps else amps

    @property
    def load_varies(self) -> bool:
        loaded = self.load_ohms is not None or self.load_amps is not None
        return loaded and self.load_ends is not None and self.load_ends[0] < self.load_ends[1]

    @property
    def least_volts(self) -> float:
        """Return what the output must stay above: 0 V where a current load has to be fed."""
        fed = self.load_amps is not None and self.load_amps > 0 and self.target_volts > 0
        return 0.0 if fed else -math.inf

    @property
    def between_its_ends(self) -> bool:
        """Whether the output lies between the divider's ends whatever its legs are.

        A load pulls towards 0 V; where that lies between the ends, the output rises with the lower
        leg, the supply and a lighter load, and falls as the upper leg rises. Below 0 V a lighter
        load lets it sink: every corner is looked at there.
        """
        loaded = self.load_ohms is not None or bool(self.load_amps)
        return not loaded or (self.low_volts <= 0 <= self.supply_volts and self.target_volts > 0)


def check_pairing(
    pool: Pool, max_per_leg: int, limit: int, min_amps: float | None, max_amps: float | None
) -> None:
    """Refuse a search of two legs that passes a bound or contradicts itself.

    Parameters
    ----------
    max_per_leg : int
        Parts in a leg.
    limit : int
        Candidates wanted.
    min_amps : float | None
        Least current, A.
    max_amps : float | None
        Greatest current, A.

    Raises
    ------
    TooLargeError, DomainError
        Naming the bound, or the field that is wrong.
    """
    if max_per_leg > MOST_PER_LEG:
        msg = f"legs of {max_per_leg} parts are asked for; up to {MOST_PER_LEG} are searched"
        raise TooLargeError(msg, field="max_parts_per_leg")
    if max_per_leg > 1 and len(pool.ohms) > MOST_PAIRED:
        msg = (
            f"{len(pool.ohms)} values are more than the {MOST_PAIRED} searched for legs "
            "of two parts: narrow the range or use one part per leg"
        )
        raise TooLargeError(msg, field="values")
    if limit > MOST_LISTED:
        msg = f"{limit} candidates are asked for; at most {MOST_LISTED} are listed"
        raise TooLargeError(msg, field="limit")
    if min_amps is not None and max_amps is not None and min_amps > max_amps:
        msg = "the smallest current is above the largest"
        raise DomainError(msg, field="min_current_a")


def check_in_place(upper_ohms: float | None, lower_ohms: float | None) -> None:
    """Refuse a pair of which both legs are in place.

    Parameters
    ----------
    upper_ohms, lower_ohms : float or None
        A leg in place, Ω.

    Raises
    ------
    DomainError
        As nothing is left to be chosen.
    """
    if upper_ohms is not None and lower_ohms is not None:
        msg = "both legs are in place, so nothing is left to be chosen: state them as a network"
        raise DomainError(msg, field="lower_ohm")


def loaded_output(
    upper: Number,
    lower: Number,
    supply: Number,
    low: Number,
    siemens: Number,
    amps: Number,
) -> Number:
    """Return the tap's voltage under its load, V.

    Vout = (VH·GU + VL·GL − I)/(GU + GL + Gload), the node equation of the tap, here times RU·RL. A
    current load draws only while the tap stays above 0 V, else it holds the tap at 0 V.

    Parameters
    ----------
    upper, lower : Ω, the source resistance counted into the upper leg
    supply, low : V at the two ends
    siemens, amps : the load from the tap to 0 V
    """
    driven, total = supply * lower, upper + lower
    if low:
        driven += low * upper
    if siemens:
        total += siemens * upper * lower
    if amps and driven > 0:
        driven = max(driven - amps * upper * lower, type(driven)(0))
    return driven / total
