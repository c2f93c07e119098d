"""An output against its load, and which loads pass."""

from __future__ import annotations

import numpy as np

from lowfold.core.tolerance.loadline import Passing
from lowfold.views.view import view

__all__ = ["LinePoints", "LoadLineAnswer", "MeterAnswer", "OutputLoad", "PassingAnswer"]


@view
class PassingAnswer:
    """Loads that keep the output inside its window, as currents and as resistances."""

    least_a: float
    most_a: float | None  #: null: any
    heaviest_ohm: float | None  #: null: only no load at all passes
    lightest_ohm: float | None  #: null: no load passes too

    @classmethod
    def from_core(cls, found: Passing | None) -> PassingAnswer | None:
        if found is None:
            return None
        return cls(
            least_a=found.least_amps,
            most_a=_finite(found.most_amps),
            heaviest_ohm=_finite(found.heaviest_ohms),
            lightest_ohm=_finite(found.lightest_ohms),
        )


@view
class LinePoints:
    load_a: list[float]
    nominal_v: list[float]
    lowest_v: list[float]  #: Over the box of everything but this load
    highest_v: list[float]


@view
class MeterAnswer:
    meter: str
    ohm: float
    reads_v: float
    off: float


@view
class OutputLoad:
    at: str
    open_v: float
    source_ohm: float  #: Thévenin resistance: the slope of the line
    short_a: float | None  #: null: unlimited
    line: LinePoints
    passes: PassingAnswer | None  #: Nominal; null without a window or load
    passes_at_worst: PassingAnswer | None  #: At every corner
    #: False where a current load elsewhere may starve meanwhile, or tracking parts were looked at
    #: in steps: the line is then straight where the output's is not
    exact: bool
    meters: list[MeterAnswer]  #: With the loads connected


@view
class LoadLineAnswer:
    outputs: list[OutputLoad]


def _finite(value: float) -> float | None:
    return value if np.isfinite(value) else None
