"""Which point to measure next: how much it tells, against what it costs; and what cannot be told.

What a reading tells is the expected fall of the entropy over what may be wrong, in bits: each
hypothesis predicts the reading as a normal of its own, given the readings so far, and the mixture
of them is what would be read.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.bench.ahead import Ahead
from lowfold.core.bench.diagnosis import Diagnosis, Hypothesis, covers
from lowfold.core.bench.points import Point
from lowfold.core.bench.predict import NO_END, Board, Model, Predicted, Probe

__all__ = ["EFFORT", "Candidate", "Outcome", "alike", "effort_of", "told_apart", "worth_measuring"]

FloatArray = npt.NDArray[np.float64]

#: A voltage needs no soldering, a current opens a wire, a part out of circuit is lifted.
EFFORT: Final[dict[str, float]] = {
    "voltage": 1.0, "resistance": 2.0, "supply": 2.0, "current": 3.0, "part": 4.0,
}  # fmt: skip
MOST_WEIGHED: Final = 40  #: hypotheses that matter for what comes next
LEAST: Final = 1e-4  #: probability below which one does not
NODES: Final = 7  #: of the Gauss–Hermite rule
NOTHING_TOLD: Final = 0.01  #: bits below which a point tells nothing more
MOST_OUTCOMES: Final = 4


@dataclass(frozen=True, slots=True)
class Outcome:
    """What may be read, and what would then be likely."""

    value: float  #: nominal
    hypotheses: tuple[Hypothesis, ...]


@dataclass(frozen=True, slots=True)
class Candidate:
    """A point that is not measured yet."""

    probe: Probe
    bits: float  #: expected information about which hypothesis holds
    effort: float
    outcomes: tuple[Outcome, ...]


def effort_of(point: Point) -> float:
    """Return what a point costs, a voltage being 1."""
    if point.kind == "resistance":
        return EFFORT["part" if point.part is not None else "resistance"]
    return EFFORT["supply" if point.supply else point.kind]


def worth_measuring(found: Diagnosis, ahead: Sequence[Ahead]) -> list[Candidate]:
    """Return points by what they tell for their effort, best first.

    Parameters
    ----------
    ahead : sequence of Ahead
        Points not measured yet.
    """
    likely = [
        h for h in found.hypotheses
        if h.probability > LEAST and h.suspect.kind not in {"something else", "meter"}
    ][:MOST_WEIGHED]  # fmt: skip
    if not likely or not ahead:
        return []
    share = np.array([h.probability for h in likely])
    share = share / share.sum()
    mean, deviation = _foreseen(found, likely, ahead)
    points, weights = np.polynomial.hermite_e.hermegauss(NODES)
    weights = weights / weights.sum()
    # (c, h, q): what each hypothesis may bring at each point
    y = mean.T[:, :, None] + deviation.T[:, :, None] * points
    gap = (y[:, :, :, None] - mean.T[:, None, None, :]) / deviation.T[:, None, None, :]
    log = -0.5 * gap**2 - np.log(deviation.T)[:, None, None, :]
    top = log.max(axis=3, keepdims=True)
    mixed = top[..., 0] + np.log((share * np.exp(log - top)).sum(axis=3))
    own = -0.5 * points**2 - np.log(deviation.T)[:, :, None]
    bits = ((own - mixed) * weights).sum(axis=2) @ share / math.log(2)
    result = [
        Candidate(
            probe=one.probe,
            bits=max(0.0, float(bits[k])),
            effort=effort_of(one.probe.point),
            outcomes=_outcomes(likely, mean[:, k], deviation[:, k]),
        )
        for k, one in enumerate(ahead)
    ]
    return sorted(result, key=lambda c: -c.bits / c.effort)


def _foreseen(
    found: Diagnosis, likely: Sequence[Hypothesis], ahead: Sequence[Ahead]
) -> tuple[FloatArray, FloatArray]:
    """Return what each hypothesis foresees at each point, given what was read: mean and spread."""
    told = [o for o in found.observed if o.value is not None]
    both = found.model.predict(
        [h.suspect.board for h in likely], [*(o.probe for o in told), *(one.probe for one in ahead)]
    )
    count = len(told)
    mean = np.clip(both.mean, -NO_END, NO_END)
    off = _limits(ahead, mean[:, count:])
    values = np.array([o.value or 0.0 for o in told])
    read = np.array([o.limit for o in told])
    slopes = both.slopes / math.sqrt(3)
    size = np.abs(mean[:, count:])
    own = (slopes[:, count:] ** 2).sum(axis=2) + off**2 / 3 + (1e-7 * size + 1e-12) ** 2
    middle = mean[:, count:]
    if count:
        some = Predicted(mean[:, :count], both.slopes[:, :count])
        cover = covers(some, read, np.abs(values))
        cross = slopes[:, count:] @ slopes[:, :count].transpose(0, 2, 1)
        solved = np.linalg.solve(cover, cross.transpose(0, 2, 1))  # (h, r, c)
        middle = middle + np.einsum("hrc,hr->hc", solved, values - mean[:, :count])
        own = own - np.einsum("hcr,hrc->hc", cross, solved)
    return middle, np.sqrt(np.maximum(own, (1e-7 * size + 1e-12) ** 2))


def _outcomes(
    likely: Sequence[Hypothesis], mean: FloatArray, deviation: FloatArray
) -> tuple[Outcome, ...]:
    """Return what may be read as groups of hypotheses that foresee the same, likeliest first."""
    order = np.argsort(mean)
    groups: list[list[int]] = []
    for k in order:
        if groups:
            last = groups[-1][-1]
            if mean[k] - mean[last] <= 2 * (deviation[k] + deviation[last]):
                groups[-1].append(int(k))
                continue
        groups.append([int(k)])
    groups.sort(key=lambda g: -sum(likely[k].probability for k in g))
    found = []
    for group in groups[:MOST_OUTCOMES]:
        ranked = sorted(group, key=lambda k: -likely[k].probability)
        found.append(Outcome(float(mean[ranked[0]]), tuple(likely[k] for k in ranked)))
    return tuple(found)


def _limits(ahead: Sequence[Ahead], mean: FloatArray) -> FloatArray:
    """Return the meter's limits of error at what is foreseen, (h, points)."""
    return np.stack([one.limit(mean[:, k]) for k, one in enumerate(ahead)], axis=1)


def alike(found: Diagnosis, listed: Sequence[Hypothesis], ahead: Sequence[Ahead]) -> list[int]:
    """Return a label for each hypothesis, shared by those no voltage and no current tells apart.

    Of those that share a label no two are told apart; likeliest first, each joins the first group
    all of whose members it is like.

    Parameters
    ----------
    listed : sequence of Hypothesis
    ahead : sequence of Ahead
        Every point there is; resistances are left out.
    """
    labels = list(range(len(listed)))
    modelled = [
        k for k, h in enumerate(listed) if h.suspect.kind not in {"something else", "meter"}
    ]
    electric = [one for one in ahead if one.probe.point.kind != "resistance"]
    if not electric or not modelled:
        return labels
    boards = [listed[k].suspect.board for k in modelled]
    apart = told_apart(found.model, boards, electric)
    groups: list[list[int]] = []
    for k in range(len(modelled)):
        # Like is not transitive: 1 may read as 2 does, and 2 as 3, and 3 be told from 1
        own = next((g for g in groups if all(apart[k, j] <= 1 for j in g)), None)
        if own is None:
            groups.append([k])
        else:
            own.append(k)
    for group in groups:
        for k in group:
            labels[modelled[k]] = modelled[group[0]]
    order = {label: n for n, label in enumerate(dict.fromkeys(labels))}
    return [order[label] for label in labels]


def told_apart(
    model: Model, boards: Sequence[Board], ahead: Sequence[Ahead], among: int | None = None
) -> FloatArray:
    """Return how far boards read apart where they do most, in limits of error of both readings.

    Where it is 1 or less, no reading tells two boards apart.

    Parameters
    ----------
    boards : sequence of Board
        All else nominal.
    ahead : sequence of Ahead
        The points that count.
    among : int, optional
        Only so many of the first are set against all.

    Returns
    -------
    (among, h) ndarray
    """
    mean = model.predict(boards, [one.probe for one in ahead]).mean
    own = _limits(ahead, mean)
    found = np.empty((len(boards) if among is None else among, len(boards)))
    for a in range(len(found)):
        away, limit = np.abs(mean - mean[a]), own + own[a]
        within = np.where(away <= limit, 0.5, np.inf)
        share = np.divide(away, limit, out=within, where=limit > 0)
        found[a] = share.max(axis=1)
    return found
