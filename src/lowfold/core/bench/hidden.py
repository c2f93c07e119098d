"""What hides in series with a network whose current is too low: source, leads, the ammeter itself.

Ohm's law round the loop: the whole is V / I, and what the network does not account for hides.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from lowfold.core.bench.models import MeterModel
from lowfold.core.errors import DomainError
from lowfold.core.values.quantities import OHM, write

__all__ = ["Hidden", "Known", "hidden_ohms", "words_of"]


@dataclass(frozen=True, slots=True)
class Known:
    """Something with the ends between which it lies."""

    nominal: float
    low: float
    high: float

    @classmethod
    def within(cls, nominal: float, tolerance: float) -> Known:
        """Return a value that may be off by a fraction of itself."""
        ends = sorted((nominal * (1 - tolerance), nominal * (1 + tolerance)))
        return cls(nominal, *ends)


@dataclass(frozen=True, slots=True)
class Hidden:
    """A resistance in series that nobody drew, Ω."""

    ohms: float  #: below 0 where the current is higher than the network allows
    low: float
    high: float  #: inf where the current may be none at all
    burden_ohms: float  #: of it the ammeter's, on the range that it reads on
    range_full: float | None  #: A
    limit_amps: float  #: the meter's limit of error there

    @property
    def rest_ohms(self) -> float:
        """Return what is left for cell, leads and joints."""
        return self.ohms - self.burden_ohms


def hidden_ohms(supply: Known, network: Known, amps: float, meter: MeterModel) -> Hidden:
    """Return what hides in series, with its ends over supply, network and the meter's error.

    Exact: the figure rises with the supply and falls with the network and the current, so that its
    ends lie where they do.

    Parameters
    ----------
    supply : Known
        V, its sign that of the current.
    network : Known
        Ω.
    amps : float
        As read, A, not 0.
    meter : MeterModel
        Whose range puts its burden in series.

    Raises
    ------
    DomainError
        For no supply, no current, or one that flows against the supply.
    """
    if not amps:
        msg = "no current flows: what is in series is open, and no resistance can be told"
        raise DomainError(msg, field="supply_a")
    if not supply.nominal:
        msg = "the supply is 0 V: what drives the current is not stated"
        raise DomainError(msg, field="supply_v")
    if supply.nominal * amps < 0:
        msg = "the current flows against the supply: turn the leads round, or the sign"
        raise DomainError(msg, field="supply_a")
    sign = math.copysign(1.0, supply.nominal)
    volts = sorted((sign * supply.low, sign * supply.high))
    read = sign * amps
    chosen = meter.range_for("amps", read)
    limit = chosen.limit(read, of_full=meter.of_full) if chosen else 0.0
    least = read - limit
    return Hidden(
        ohms=sign * supply.nominal / read - network.nominal,
        low=volts[0] / (read + limit) - network.high,
        high=volts[1] / least - network.low if least > 0 else math.inf,
        burden_ohms=chosen.burden_ohms if chosen else 0.0,
        range_full=chosen.full if chosen else None,
        limit_amps=limit,
    )


def words_of(found: Hidden) -> str:
    """Say what hides, and what may account for it."""

    def shown(ohms: float) -> str:
        return "no end" if math.isinf(ohms) else write(ohms, OHM, 3, trim=True)

    span = f"{shown(found.ohms)} ({shown(found.low)} to {shown(found.high)})"
    if found.high < 0:
        return (
            f"More current flows than the network takes, by {span} in series: a part is lower "
            "than it should be, shorted, or bridged"
        )
    told = (
        f"{span} in series, of it the ammeter's {shown(found.burden_ohms)}; "
        f"{shown(found.rest_ohms)} is left for cell, leads and joints"
    )
    if found.low <= found.burden_ohms <= found.high:
        return f"{told}. Tolerances, the meter's error and its burden alone may account for it"
    if found.high < found.burden_ohms:
        return f"{told}. That is less than the ammeter's own: a part is lower than it should be"
    return f"{told}. More hides there than the ammeter: measure across cell, leads and joints"
