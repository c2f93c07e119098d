"""A sensor in one leg of a divider: the resistor for its other leg, of all there are.

Every value is tried in every position asked for, in one pass: what comes first is best by
exhaustion. The widest swing lies near the geometric mean of the sensor's end resistances, and the
straight line through three points near (Rm(Rl + Rh) − 2RlRh)/(Rl + Rh − 2Rm) (common practice).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final, Literal

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network.tree import Chain, Element, Part, Tap
from lowfold.core.parts.pool import Pool

__all__ = [
    "Position",
    "SensorFound",
    "SensorLeg",
    "SensorNeed",
    "leg_of",
    "rule_ohms",
    "search_sensor",
]

FloatArray = npt.NDArray[np.float64]
Position = Literal["lower", "upper"]
Aim = Literal["swing", "linear", "window"]

FEWEST, MOST = 2, 9  #: points of a sensor
MOST_LISTED: Final = 500
ROUNDING: Final = 1e-12  #: of a window's ends and of a power, for the last places of a double


@dataclass(frozen=True, slots=True, kw_only=True)
class SensorNeed:
    """A sensor, and what its divider is to do."""

    supply_volts: float
    sensor_ohms: tuple[float, ...]  #: at its points, in order, taken as equally spaced
    positions: tuple[Position, ...]  #: legs that the sensor may be in
    pool: Pool
    aim: Aim
    window: tuple[float, float] | None = None  #: that every output keeps inside, V
    load_ohms: float | None = None  #: from the tap to 0 V
    load_ends: tuple[float, float] | None = None  #: between which it lies, Ω; inf is nothing
    tolerance: float = 0.01  #: of the resistor alone, a fraction
    max_sensor_watts: float | None = None  #: nominal, at the worst of the points
    limit: int = 20
    #: What each point stands for, one way; None where they are equally spaced.
    at: tuple[float, ...] | None = None

    @property
    def shares(self) -> FloatArray:
        """Return where each point lies between first and last, as shares."""
        at = np.array(self.at) if self.at else np.arange(len(self.sensor_ohms), dtype=float)
        found: FloatArray = (at - at[0]) / (at[-1] - at[0])
        return found

    def __post_init__(self) -> None:
        if not FEWEST <= len(self.sensor_ohms) <= MOST:
            msg = f"a sensor has {FEWEST} to {MOST} points, not {len(self.sensor_ohms)}"
            raise DomainError(msg, field="sensor")
        if self.supply_volts <= 0:
            msg = f"the supply is above 0 V, got {self.supply_volts:g} V"
            raise DomainError(msg, field="supply_v")
        if (self.window is not None) != (self.aim == "window"):
            msg = "a window is given with the aim window, and with no other"
            raise DomainError(msg, field="window_v")
        if self.window is not None and not self.window[0] < self.window[1]:
            msg = f"the window goes up: {self.window[0]:g} V is not below {self.window[1]:g} V"
            raise DomainError(msg, field="window_v")
        if self.limit > MOST_LISTED:
            msg = f"{self.limit} candidates are asked for; at most {MOST_LISTED} are listed"
            raise TooLargeError(msg, field="limit")


@dataclass(frozen=True, slots=True)
class SensorLeg:
    """One resistor beside the sensor."""

    ohms: float
    position: Position  #: of the sensor
    outputs: tuple[float, ...]  #: V, at each point
    swing: float  #: V, between the first point and the last
    nonlinearity: float  #: of the swing; inf where there is none
    sensor_watts: float
    lowest: tuple[float, ...]  #: V, over the resistor's tolerance and the load's range
    highest: tuple[float, ...]
    network: Element  #: the sensor at its first point


@dataclass(frozen=True, slots=True)
class SensorFound:
    legs: tuple[SensorLeg, ...]  #: best first
    searched: int
    reason: str | None  #: why there is none


def _outputs(
    need: SensorNeed, ohms: FloatArray, position: Position, load_ohms: float | None = None
) -> FloatArray:
    """Return the tap's voltage by resistor and point, (n, points) in V; the load nominal."""
    sensor = 1 / np.array(need.sensor_ohms)[None, :]
    beside = 1 / ohms[:, None]
    hung = load_ohms or need.load_ohms
    load = 1 / hung if hung else 0.0
    upper, lower = (beside, sensor) if position == "lower" else (sensor, beside)
    found: FloatArray = need.supply_volts * upper / (upper + lower + load)
    return found


def _bent(outputs: FloatArray, places: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Return swing, V, and the largest distance from the straight line as a share of it, (n,)."""
    first, last = outputs[:, :1], outputs[:, -1:]
    share = places[None, :]
    away = np.abs(outputs - (first + share * (last - first))).max(axis=1)
    swing = np.abs(last - first)[:, 0]
    # Ends that are apart by a double's last places alone have no line between them
    apart = swing > ROUNDING * np.abs(outputs).max(axis=1)
    bent = np.divide(away, swing, out=np.full_like(away, np.inf), where=apart)
    return swing, bent


def search_sensor(need: SensorNeed) -> SensorFound:
    """Return the best resistors beside a sensor.

    Returns
    -------
    SensorFound
        No value of the pool, in no position asked for, is better than the first.
    """
    ohms = np.array(need.pool.ohms)
    searched = len(ohms) * len(need.positions)
    if not searched:
        return SensorFound((), 0, "there is no value to choose from")
    every: list[tuple[FloatArray, Position, FloatArray]] = [
        (ohms, position, _outputs(need, ohms, position)) for position in need.positions
    ]
    values = np.concatenate([v for v, _, _ in every])
    place = np.repeat(np.arange(len(every)), len(ohms))
    outputs = np.concatenate([o for _, _, o in every])
    across = outputs.copy()
    for k, (_, position, _o) in enumerate(every):
        if position == "upper":
            across[place == k] = need.supply_volts - across[place == k]
    watts = (across**2 / np.array(need.sensor_ohms)).max(axis=1)
    swing, bent = _bent(outputs, need.shares)
    most = math.inf if need.max_sensor_watts is None else need.max_sensor_watts
    cool = watts <= most * (1 + ROUNDING)
    inside = _inside(need, outputs)
    straight = np.isfinite(bent) | (need.aim != "linear")
    kept = np.flatnonzero(cool & inside & straight)
    if not len(kept):
        return SensorFound((), searched, _reason(need, cool, inside, outputs))
    key = bent if need.aim == "linear" else -swing / need.supply_volts
    # The better, then the cooler, then the sensor below, then the smaller part; what is alike but
    # for a double's last places is alike
    ranks = (values, place, _alike(watts / watts.max()), _alike(key))
    order = kept[np.lexsort([rank[kept] for rank in ranks])][: need.limit]
    legs = tuple(
        _leg(need, float(values[k]), need.positions[place[k]], float(watts[k])) for k in order
    )
    return SensorFound(legs, searched, None)


def leg_of(need: SensorNeed, ohms: float, position: Position) -> SensorLeg:
    """Return one resistor beside the sensor, whether it is of the pool or not.

    Parameters
    ----------
    ohms : float
        Ω.
    position : str
        Of the sensor.
    """
    across = _outputs(need, np.array([ohms]), position)[0]
    if position == "upper":
        across = need.supply_volts - across
    return _leg(need, ohms, position, float((across**2 / np.array(need.sensor_ohms)).max()))


def _alike(shares: FloatArray) -> FloatArray:
    """Return shares of one, those the same that differ by their last places alone."""
    rounded: FloatArray = np.round(shares, 12)
    return rounded


def _inside(need: SensorNeed, outputs: FloatArray) -> npt.NDArray[np.bool_]:
    if need.window is None:
        return np.ones(len(outputs), dtype=np.bool_)
    slack = ROUNDING * need.supply_volts
    low, high = need.window[0] - slack, need.window[1] + slack
    kept: npt.NDArray[np.bool_] = ((outputs >= low) & (outputs <= high)).min(axis=1)
    return kept


def _reason(
    need: SensorNeed,
    cool: npt.NDArray[np.bool_],
    inside: npt.NDArray[np.bool_],
    outputs: FloatArray,
) -> str:
    """Say why nothing is left, by what came nearest."""
    if need.window is not None and not inside.any():
        low, high = need.window
        beyond = np.maximum(low - outputs, outputs - high).max(axis=1)
        near = outputs[int(beyond.argmin())]
        return (
            f"no value keeps every output inside {low:g} V to {high:g} V; the nearest goes from "
            f"{near.min():.4g} V to {near.max():.4g} V"
        )
    if not cool.any():
        return "every value heats the sensor by more than is allowed"
    if need.aim == "linear":
        return "no value gives a swing at all: the sensor's ends are alike"
    return "no value that keeps inside the window leaves the sensor cool enough"


def _leg(need: SensorNeed, ohms: float, position: Position, watts: float) -> SensorLeg:
    # The tap goes one way with the resistor and the load, so that their ends are the output's
    three = np.array([ohms, ohms * (1 - need.tolerance), ohms * (1 + need.tolerance)])
    outputs = _outputs(need, three, position)
    swing, bent = _bent(outputs[:1], need.shares)
    ends = [_outputs(need, three, position, end) for end in need.load_ends or ()]
    every = np.concatenate([outputs, *ends])
    sensor, resistor = Part(need.sensor_ohms[0], "RS1"), Part(ohms, "R1")
    upper, lower = (resistor, sensor) if position == "lower" else (sensor, resistor)
    return SensorLeg(
        ohms=ohms,
        position=position,
        # An output at an end of the window is not beyond it by a double's last place
        outputs=tuple(np.clip(outputs[0], *(need.window or (-np.inf, np.inf))).tolist()),
        swing=float(swing[0]),
        nonlinearity=float(bent[0]),
        sensor_watts=watts,
        lowest=tuple(every.min(axis=0).tolist()),
        highest=tuple(every.max(axis=0).tolist()),
        network=Chain((upper, Tap("OUT"), lower)),
    )


def rule_ohms(aim: Aim, sensor_ohms: tuple[float, ...]) -> float | None:
    """Return where the rule of thumb for an aim lies, Ω, without a load; None where it has none.

    Parameters
    ----------
    aim : str
        `swing`: the geometric mean of the ends; `linear`: of first, middle and last point.
    sensor_ohms : tuple of float
        Ω, in order.
    """
    first, last = sensor_ohms[0], sensor_ohms[-1]
    if aim == "swing":
        return math.sqrt(first * last)
    if aim == "window" or len(sensor_ohms) % 2 == 0:
        return None
    middle = sensor_ohms[len(sensor_ohms) // 2]
    below = first + last - 2 * middle
    found = (middle * (first + last) - 2 * first * last) / below if below else math.inf
    return found if 0 < found < math.inf else None
