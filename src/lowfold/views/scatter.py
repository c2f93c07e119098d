"""How the figures of many networks scatter, as it is seen."""

from __future__ import annotations

from typing import Any

from lowfold.core.tolerance.scatter import Scatter
from lowfold.views.view import under, view

__all__ = ["YieldAnswer", "output_scatter", "scatter_answer"]


@view
class Histogram:
    edges: list[float]
    counts: list[int]


@view
class ScatterAnswer:
    #: Share inside the window; null without one
    inside: float | None = under("yield")
    yield_low: float | None  #: 95 % interval (Wilson)
    yield_high: float | None
    mean: float
    stdev: float
    histogram: Histogram
    percentiles: dict[str, float]


@view
class OutputScatter(ScatterAnswer):
    at: str


@view
class YieldAnswer:
    outputs: list[OutputScatter]
    resistance: ScatterAnswer | None
    samples: int


def scatter_answer(found: Scatter) -> ScatterAnswer:
    """Return how a figure scatters."""
    return ScatterAnswer(**_facts(found))


def output_scatter(at: str, found: Scatter) -> OutputScatter:
    """Return how an output's voltage scatters."""
    return OutputScatter(at=at, **_facts(found))


def _facts(found: Scatter) -> dict[str, Any]:
    return {
        "inside": found.inside,
        "yield_low": found.inside_low,
        "yield_high": found.inside_high,
        "mean": found.mean,
        "stdev": found.stdev,
        "histogram": Histogram(edges=list(found.edges), counts=list(found.counts)),
        "percentiles": found.percentiles,
    }
