"""The points that can still be measured, and how far the meter is off at what it reads there."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from lowfold.core.bench.models import MeterModel
from lowfold.core.bench.points import Point, careful_round
from lowfold.core.bench.predict import Probe
from lowfold.core.tolerance.box import Box

__all__ = ["Ahead", "points_ahead", "probe_of"]

FloatArray = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Ahead:
    """A point that can be measured."""

    probe: Probe
    limit: Callable[[FloatArray], FloatArray]
    """The meter's limit of error at readings, each on the smallest range that holds it."""


def probe_of(point: Point, meter: MeterModel, full: float | None) -> Probe:
    """Return a point as a meter reads it on a range.

    Parameters
    ----------
    full : float or None
        Of the range; None for a meter without ranges.
    """
    every = getattr(meter, point.measured)
    chosen = next((r for r in every if r.full == full), None)
    if point.kind == "voltage":
        ohms = meter.input_on(chosen)
        return Probe(point, chosen, np.inf if ohms is None else ohms)
    if point.kind == "current":
        return Probe(point, chosen, chosen.burden_ohms if chosen else 0.0)
    return Probe(point, chosen, 0.0, meter.lead_ohms)


def points_ahead(box: Box, meter: MeterModel, *, powered: bool) -> list[Ahead]:
    """Return every point of a board, each on the range that no fault is likely to exceed.

    Parameters
    ----------
    powered : bool
        Whether anything drives it.
    """
    points = [p for p in careful_round(box) if powered or p.kind == "resistance"]
    if powered:
        live = [k for k, b in enumerate(box.circuit.branches) if b.a != b.b]
        points += [Point("current", part=k) for k in live]
    return [Ahead(_on_a_safe_range(box, p, meter), _limit_of(meter, p)) for p in points]


def _on_a_safe_range(box: Box, point: Point, meter: MeterModel) -> Probe:
    """Return a point on the smallest range that holds the most supply and parts can bring."""
    ohms = [b.ohms for b in box.circuit.branches]
    if point.kind == "resistance":
        most = sum(ohms) if point.part is None else ohms[point.part]
    else:
        most = abs(box.supply.volts) / (1.0 if point.kind == "voltage" else min(ohms))
    chosen = meter.range_for(point.measured, most)
    return probe_of(point, meter, chosen.full if chosen else None)


def _limit_of(meter: MeterModel, point: Point) -> Callable[[FloatArray], FloatArray]:
    ranges = sorted(getattr(meter, point.measured), key=lambda r: r.full)
    if not ranges:
        return np.zeros_like
    fulls = np.array([r.full for r in ranges])
    shares = np.array([0.0 if meter.of_full else r.accuracy for r in ranges])
    amounts = np.array([r.limit(0.0, of_full=meter.of_full) for r in ranges])

    def limit(values: FloatArray) -> FloatArray:
        size = np.abs(values)
        place = np.minimum(np.searchsorted(fulls, size), len(ranges) - 1)
        found: FloatArray = shares[place] * size + amounts[place]
        return found

    return limit
