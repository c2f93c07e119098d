"""What samples of a figure say: histogram, percentiles, and the share inside a window."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

__all__ = ["Scatter", "scatter", "wilson"]

FloatArray = npt.NDArray[np.float64]

BINS: Final = 60
PERCENTILES: Final = (0.1, 1.0, 5.0, 25.0, 50.0, 75.0, 95.0, 99.0, 99.9)
#: Samples within this share of their size are one value: bins could not be told apart.
SAME: Final = 1e-9
#: Two-sided 95 % point of the normal distribution.
Z95: Final = 1.959963984540054


@dataclass(frozen=True, slots=True)
class Scatter:
    """What the samples say of one figure."""

    inside: float | None  #: share inside the window; None without one
    inside_low: float | None  #: 95 % interval of it (Wilson)
    inside_high: float | None
    mean: float
    stdev: float
    edges: tuple[float, ...]
    counts: tuple[int, ...]
    percentiles: dict[str, float]


def wilson(hits: int, samples: int) -> tuple[float, float]:
    """Return the 95 % interval of a share (E. B. Wilson, J. Am. Stat. Assoc. 22, 1927).

    Parameters
    ----------
    hits : int
        Samples inside.
    samples : int
        How many are drawn.
    """
    share, z2 = hits / samples, Z95**2
    middle = (share + z2 / (2 * samples)) / (1 + z2 / samples)
    half = (
        Z95 / (1 + z2 / samples)
        * math.sqrt(share * (1 - share) / samples + z2 / (4 * samples**2))
    )  # fmt: skip
    # At none and at all the interval ends there exactly, which floats miss by a hair.
    return 0.0 if hits == 0 else middle - half, 1.0 if hits == samples else middle + half


def scatter(values: FloatArray, window: tuple[float, float] | None) -> Scatter:
    """Sum up samples, against a window where there is one.

    Percentiles are interpolated linearly between samples; bins hold their lower edge, the last one
    both.

    Parameters
    ----------
    values : FloatArray
        (n,) samples, V or Ω.
    window : tuple[float, float] | None
        Least and greatest accepted, V.

    Returns
    -------
    Scatter
        Histogram, quantiles and the share inside the window.
    """
    ordered = np.sort(values)
    count = len(ordered)
    inside = low = high = None
    if window is not None:
        below = np.searchsorted(ordered, window[0], side="left")
        hits = int(np.searchsorted(ordered, window[1], side="right") - below)
        inside = hits / count
        low, high = wilson(hits, count)
    edges = _bin_edges(float(ordered[0]), float(ordered[-1]))
    cuts = np.searchsorted(ordered, edges[1:-1], side="left")
    ranks = np.array(PERCENTILES) / 100 * (count - 1)
    under = np.floor(ranks).astype(np.intp)
    over = np.minimum(under + 1, count - 1)
    exact = ordered[under] + (ranks - under) * (ordered[over] - ordered[under])
    return Scatter(
        inside,
        low,
        high,
        float(values.mean()),
        float(values.std(ddof=1)) if count > 1 else 0.0,
        tuple(edges.tolist()),
        tuple(np.diff(np.concatenate(([0], cuts, [count]))).tolist()),
        {f"{p:g}": float(r) for p, r in zip(PERCENTILES, exact, strict=True)},
    )


def _bin_edges(low: float, high: float) -> FloatArray:
    """Return the edges of even bins; of a figure that hardly moves, about its one value."""
    size = max(abs(low), abs(high))
    if high - low <= SAME * size:
        around = SAME * size or 1.0
        low, high = low - around, high + around
    edges: FloatArray = np.linspace(low, high, BINS + 1)
    return edges
