"""From readings to the fault: how probable each hypothesis is, given all readings at once.

Under each hypothesis the readings of one board share the deviations of its parts, so they are taken
together: normal, with the covariance that parts, supply, loads and the meter's limits make (JCGM
100 and 101; from memory), a value uniform within its limits counted with its variance. A
hypothesis with a free value is a mixture over that value. See docs/diagnosis.md.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import numpy.typing as npt
from scipy.special import log_ndtr

from lowfold.core.bench.predict import NO_END, Board, Change, Model, Predicted, Probe
from lowfold.core.bench.priors import START, PriorKind, Priors, each_of
from lowfold.core.bench.suspects import (
    Suspect,
    Suspects,
    as_designed,
    hides,
    loaded,
    on_the_board,
    pairs_of,
    part_is,
    supply_is,
    suspects,
)
from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import GROUND
from lowfold.core.tolerance.box import Box
from lowfold.core.values.preferred import series_values
from lowfold.core.values.quantities import OHM, write
from lowfold.core.values.ranges import WIDEST_RANGE

__all__ = ["Diagnosis", "Hypothesis", "Observed", "covers", "diagnose"]

FloatArray = npt.NDArray[np.float64]

#: Values tried of something that may be anything: a coarse row, and a fine one round the best fit.
COARSE: Final = 19
FINE: Final = 9
PASSES: Final = 3
NARROWER: Final = 6.0  #: from pass to pass; it still holds what lies between two values before
FLOOR: Final = 1e-7  #: share of a reading, below which nothing is told
TINY: Final = 1e-300
NEVER: Final = -1e300
#: Beyond a tolerance, in the logarithm: a supply a few percent low is as common as one at half.
BESIDE: Final = np.array([1e-9, 0.01, 0.02, 0.03, 0.05, 0.07, 0.1, 0.15, 0.2, 0.3])
DECADES: Final = 3.0  #: that a free value may be off, to either side
MOST_PAIRS: Final = 40_000
PIECE: Final = 2000  #: of the pairs, weighed together
#: Where two at once are tried: the singles with the best fit, and all that are gross.
GROSS: Final = ("open", "short", "decade", "misread", "neighbour", "load")
MOST_UNKNOWN: Final = 4.0  #: decades that a reading of something else may be anywhere in


@dataclass(frozen=True, slots=True)
class Observed:
    """A reading, with the meter's limit of error at it."""

    probe: Probe
    value: float | None  #: None is over the range
    limit: float


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """One thing that may be wrong, as the readings leave it."""

    suspect: Suspect
    probability: float
    mean: FloatArray  #: (r,) what it predicts, nominal
    off: FloatArray  #: (r,) how far each reading is from that, in its own spreads
    distance: float  #: of all readings together, squared
    course: tuple[float, ...]  #: its probability after none, one, two … of the readings


@dataclass(frozen=True, slots=True)
class Diagnosis:
    """Everything considered, likeliest first."""

    hypotheses: tuple[Hypothesis, ...]
    model: Model
    observed: tuple[Observed, ...]
    priors: Priors


_Each = Mapping[PriorKind, float]
_Row = tuple[Suspect, FloatArray, FloatArray, FloatArray, float]


@dataclass
class _Weighed:
    """Candidates with the likelihood of all readings, and of the first so many of them."""

    log: FloatArray  #: (h, r + 1): after none, one, two … of the readings
    mean: FloatArray
    off: FloatArray
    distance: FloatArray


def covers(predicted: Predicted, limits: FloatArray, size: FloatArray) -> FloatArray:
    """Return the covariance of readings of each board, (h, r, r).

    What varies within a half width is uniform there: its variance is a third of the square.

    Parameters
    ----------
    limits : (r,) ndarray
        The meter's limits of error.
    size : (r,) ndarray
        Of the readings, for a floor below which nothing is known.
    """
    spread = predicted.slopes / math.sqrt(3)
    found: FloatArray = spread @ spread.transpose(0, 2, 1)
    place = np.arange(len(limits))
    found[:, place, place] += limits**2 / 3 + (FLOOR * np.maximum(size, 1e-9)) ** 2
    return found


def _weigh(predicted: Predicted, observed: Sequence[Observed]) -> _Weighed:
    count, readings = predicted.mean.shape
    steps, off = np.zeros((count, readings)), np.zeros((count, readings))
    told = [k for k, o in enumerate(observed) if o.value is not None]
    over = [k for k, o in enumerate(observed) if o.value is None]
    distance = np.zeros(count)
    if told:
        some = Predicted(predicted.mean[:, told], predicted.slopes[:, told])
        values = np.array([observed[k].value or 0.0 for k in told])
        limits = np.array([observed[k].limit for k in told])
        cover = covers(some, limits, np.abs(values))
        lower = np.linalg.cholesky(cover)
        away = values - some.mean
        white = np.linalg.solve(lower, away[:, :, None])[:, :, 0]
        scale = np.log(np.diagonal(lower, axis1=1, axis2=2))
        steps[:, told] = -0.5 * white**2 - scale - 0.5 * math.log(2 * math.pi)
        off[:, told] = away / np.sqrt(np.diagonal(cover, axis1=1, axis2=2))
        distance = (white**2).sum(axis=1)
    for k in over:
        chosen = observed[k].probe.range
        full = chosen.full if chosen else NO_END
        own = np.sqrt((predicted.slopes[:, k] ** 2).sum(axis=1) / 3 + observed[k].limit ** 2 / 3)
        beyond = (np.abs(predicted.mean[:, k]) - full) / np.maximum(own, FLOOR * full)
        steps[:, k] = log_ndtr(np.clip(beyond, -1e6, 1e6))
        off[:, k] = np.clip(beyond, -1e6, 0.0)
    log = np.concatenate([np.zeros((count, 1)), np.cumsum(steps, axis=1)], axis=1)
    return _Weighed(log, predicted.mean, off, distance)


def diagnose(
    box: Box,
    observed: Sequence[Observed],
    priors: Priors = START,
    *,
    most_at_once: int = 1,
    powered: bool = True,
    progress: Callable[[float, str], None] | None = None,
) -> Diagnosis:
    """Return how probable everything considered is, given some readings.

    Parameters
    ----------
    box : Box
        The design with its tolerances; measured parts in it as measured.
    observed : sequence of Observed
        In the order they were taken.
    priors : Priors
        How often each kind of fault is met.
    most_at_once : int
        1 or 2 faults.
    powered : bool
        Whether anything drives it.
    progress : callable, optional
        Told how many of the pairs are tried.

    Raises
    ------
    TooLargeError
        For more pairs of faults than are tried.
    """
    model = Model(box)
    probes = [o.probe for o in observed]
    known, each = suspects(box, priors, supply=powered), each_of(priors)
    if most_at_once == 2:
        gross = [s for s in known.single if s.kind in GROSS]
        if len(gross) ** 2 / 2 > MOST_PAIRS:
            msg = (
                f"{len(gross)} single faults make {len(gross) ** 2 // 2} pairs; up to "
                f"{MOST_PAIRS} are tried. Look for one fault at a time"
            )
            raise TooLargeError(msg, field="most_at_once")
    singles = [as_designed(), *known.single]
    weighed = _weigh(model.predict([s.board for s in singles], probes), observed)
    rows = [*zip(singles, weighed.log, weighed.mean, weighed.off, weighed.distance, strict=True)]
    if any(p.point.kind == "resistance" and p.point.part is not None for p in probes):
        rows = _in_the_part_or_on_the_board(rows, model, observed)
    rows += _fitted(model, known, each, observed, powered=powered)
    if most_at_once == 2:
        pairs = pairs_of(gross)
        for start in range(0, len(pairs), PIECE):
            if progress is not None:
                progress(start / len(pairs), f"{start} of {len(pairs)} pairs of faults")
            some = pairs[start : start + PIECE]
            two = _weigh(model.predict([s.board for s in some], probes), observed)
            rows += zip(some, two.log, two.mean, two.off, two.distance, strict=True)
    return Diagnosis(_ranked(rows, each, observed, model), model, tuple(observed), priors)


def _in_the_part_or_on_the_board(
    rows: list[_Row], model: Model, observed: Sequence[Observed]
) -> list[_Row]:
    """Return open and short as either: the part itself, or a joint, a wire, a bridge of solder.

    Lifted out, the one reads so, the other sound; before anything is read, each is as likely.
    """
    places = [k for k, row in enumerate(rows) if row[0].kind in {"open", "short"}]
    others = [on_the_board(rows[k][0], model.box.circuit) for k in places]
    ahead = model.predict([s.board for s in others], [o.probe for o in observed])
    weighed = _weigh(ahead, observed)
    found = [*rows]
    for n, k in enumerate(places):
        one = rows[k]
        log = np.logaddexp(one[1], weighed.log[n]) - math.log(2)
        if weighed.log[n][-1] > one[1][-1]:
            row = (others[n], log, weighed.mean[n], weighed.off[n], float(weighed.distance[n]))
            found[k] = row
        else:
            found[k] = (one[0], log, *one[2:])
    return found


@dataclass(frozen=True, slots=True)
class _Curve:
    """A fault with a free value, and where the middle of what it may be lies."""

    middle: float  #: logarithm
    sound: float  #: how far from the middle, in the logarithm, it is as designed
    board: Callable[[float], Board]  #: of a value
    suspect: Callable[[float], Suspect]


def _curves(model: Model, known: Suspects, each: _Each, *, powered: bool) -> list[_Curve]:
    box, circuit = model.box, model.box.circuit

    def value(part: int) -> _Curve:
        branch, prior = circuit.branches[part], each["value"] / len(known.parts)
        return _Curve(
            math.log(branch.ohms),
            box.half_widths[part],
            lambda v: Board((Change(branch.a, branch.b, 1 / v - 1 / branch.ohms, part, v),)),
            lambda v: part_is(circuit, part, v, "value", "", prior),
        )

    def load(node: int) -> _Curve:
        prior = each["load"] / 2 / len(known.nodes)
        return _Curve(
            total,
            0.0,
            lambda v: Board((Change(node, GROUND, 1 / v),)),
            lambda v: loaded(circuit, node, v, prior),
        )

    found = [value(k) for k in known.parts]
    if not powered:
        return found
    # What loads or hides is seen from some ten times all parts down, and up from their 10⁻⁴
    total = math.log(float(model.ohms.sum()) / 10)
    hidden = _Curve(
        total,
        0.0,
        lambda v: Board(series_ohms=v),
        lambda v: hides(v, each["series resistance"]),
    )
    return [*found, *_supply_curve(box, each), hidden, *(load(node) for node in known.nodes)]


def _supply_curve(box: Box, each: _Each) -> list[_Curve]:
    """Return what the supply may be instead; at 0 V it is the common wire, and nothing else."""
    if not box.supply.volts:
        return []
    sign = math.copysign(1.0, box.supply.volts)
    return [
        _Curve(
            math.log(abs(box.supply.volts)),
            box.supply.tolerance,
            lambda v: Board(supply_volts=sign * v),
            lambda v: supply_is(sign * v, each["supply"]),
        )
    ]


def _fitted(
    model: Model,
    known: Suspects,
    each: _Each,
    observed: Sequence[Observed],
    *,
    powered: bool,
) -> list[_Row]:
    """Return the hypotheses that have a free value, each a mixture over it.

    A coarse row over all decades, evenly in the logarithm, then ever finer ones about the best: the
    likelihood is smooth in the logarithm, and its peak as wide as the spreads make it. What lies
    within its tolerance is no fault; values just outside are tried one by one.
    """
    curves = _curves(model, known, each, powered=powered)
    if not curves:
        return []
    probes = [o.probe for o in observed]

    middle = np.array([[c.middle] for c in curves])
    sound = np.array([[c.sound] for c in curves])

    def weighed(grid: FloatArray) -> _Weighed:
        values = np.exp(grid).tolist()
        boards = [c.board(v) for c, row in zip(curves, values, strict=True) for v in row]
        return _weigh(model.predict(boards, probes), observed)

    reach = DECADES * math.log(10)
    rows = np.arange(len(curves))
    grid = middle + np.linspace(-reach, reach, COARSE)
    width = np.full(len(curves), 2 * reach / (COARSE - 1))
    # The best is looked for among sound values too: a fault just outside lies beside them
    some = weighed(grid)
    pieces = [(grid, some)]
    for _ in range(PASSES):
        best = some.log[:, -1].reshape(grid.shape).argmax(axis=1)
        grid = grid[rows, best][:, None] + width[:, None] * np.linspace(-1, 1, FINE)
        some = weighed(grid)
        pieces.append((grid, some))
        width = width / NARROWER
    beside = middle + (sound + BESIDE) * np.array([[-1.0], [1.0]])[:, :, None]
    pieces += [(grid, weighed(grid)) for grid in beside]
    x = np.concatenate([grid for grid, _ in pieces], axis=1)
    log = _joined(pieces, "log")
    log[np.abs(x - middle) < sound] = NEVER
    told = log[:, :, -1].argmax(axis=1)
    at = np.concatenate([_joined(pieces, "mean"), _joined(pieces, "off")], axis=2)[rows, told]
    distance = _joined(pieces, "distance")[rows, told]
    value = np.exp(x[rows, told]).tolist()
    order = np.argsort(x, axis=1)
    x = np.take_along_axis(x, order, axis=1)
    log = np.take_along_axis(log, order[:, :, None], axis=1)
    apart = np.diff(x, axis=1) / 2
    shares = np.zeros_like(x)  # of the range that each value stands for
    shares[:, 1:] += apart
    shares[:, :-1] += apart
    shares[log[:, :, 0] == NEVER] = 0.0
    shares /= shares.sum(axis=1, keepdims=True)
    top = log.max(axis=1, keepdims=True)
    mixed = top[:, 0] + np.log((shares[:, :, None] * np.exp(log - top)).sum(axis=1) + TINY)
    result: list[_Row] = []
    for k, curve in enumerate(curves):
        suspect = _told(curve.suspect(value[k]), model.box)
        mean, off = np.split(at[k], 2)
        result.append((suspect, mixed[k], mean, off, float(distance[k])))
    return result


def _joined(pieces: Sequence[tuple[FloatArray, _Weighed]], name: str) -> FloatArray:
    """Return one figure of all pieces side by side, (curves, values, …)."""
    every = [(grid.shape, getattr(some, name)) for grid, some in pieces]
    return np.concatenate([of.reshape(*shape, *of.shape[1:]) for shape, of in every], axis=1)


def _told(suspect: Suspect, box: Box) -> Suspect:
    """Return a fitted value with the standard value that it may be."""
    if suspect.kind != "value" or suspect.ohms is None:
        return suspect
    (ref,) = suspect.refs
    (place,) = suspect.places
    shown = write(suspect.ohms, OHM, 3, trim=True)
    # Beyond the ends of what is made there is no standard value to be near
    low, high = max(suspect.ohms / 2, WIDEST_RANGE[0]), min(suspect.ohms * 2, WIDEST_RANGE[1])
    near = [float(v) for v in series_values(["E24"], low, high)] if low < high else []
    nearest = min(near, key=lambda v: abs(math.log(v / (suspect.ohms or 1.0))), default=None)
    words = f"{ref} some other value: about {shown}"
    meant = box.circuit.branches[place].ohms
    if nearest not in {None, meant} and abs((nearest or 0.0) / suspect.ohms - 1) < 0.05:
        words += f", perhaps {write(nearest, OHM, 3, trim=True)}"
    nominal = write(meant, OHM, 4, trim=True)
    return replace(suspect, words=f"{words}, in place of {nominal}")


def _ranked(
    rows: Sequence[_Row], each: _Each, observed: Sequence[Observed], model: Model
) -> tuple[Hypothesis, ...]:
    """Return the hypotheses with their shares of one, those of no model beside them."""
    rows = [*rows, *_outliers(rows[0], each, observed, model)]
    logs = np.array([row[1] for row in rows])
    before = np.array([row[0].prior for row in rows])
    # As designed is as likely as all faults together, whichever kinds of them there can be here
    before[1:] *= before[0] / before[1:].sum()
    priors = np.log(before + TINY)
    total = logs + priors[:, None]
    total -= total.max(axis=0)
    shares = np.exp(total)
    shares /= shares.sum(axis=0)
    order = np.argsort(-shares[:, -1], kind="stable").tolist()
    courses = shares.tolist()
    return tuple(
        Hypothesis(
            suspect=replace(rows[k][0], prior=float(before[k])),
            probability=courses[k][-1],
            mean=rows[k][2],
            off=rows[k][3],
            distance=float(rows[k][4]),
            course=tuple(courses[k]),
        )
        for k in order
    )


def _outliers(sound: _Row, each: _Each, observed: Sequence[Observed], model: Model) -> list[_Row]:
    """Return what has no model: a reading taken wrongly, and something else altogether.

    An outlier lies anywhere between nothing and twice the supply, or within some decades.
    A reading taken wrongly is any one of them so, the others as designed.
    """
    suspect, log, mean, off, distance = sound
    count = len(observed)
    broad = np.array([-math.log(_room(o, model.box)) for o in observed])
    outside = np.concatenate([[0.0], np.cumsum(broad)])
    nothing = np.full(count, np.nan)
    rows: list[_Row] = [
        (
            Suspect(
                "something else", (), "Something else: none of what was tried",
                suspect.board, each["something else"],
            ),
            outside, nothing, np.zeros(count), 0.0,
        )
    ]  # fmt: skip
    if count:
        wrong = _one_is_wrong(log, observed, model, broad)
        words = "The meter: one reading taken wrongly (jack, range, leads, a flat battery)"
        rows.append(
            (
                Suspect("meter", (), words, suspect.board, each["meter"]),
                wrong, mean, off, distance,
            )
        )  # fmt: skip
    return rows


def _one_is_wrong(
    log: FloatArray, observed: Sequence[Observed], model: Model, broad: FloatArray
) -> FloatArray:
    """Return the likelihood of none, one, two … readings if any one of all is an outlier, (r + 1,).

    Each is as likely to be the one, and the others are then as designed, taken together: their own
    joint density, since all of them less one is lost in rounding where that one is far out.
    """
    count = len(observed)
    ahead = model.predict([Board()], [o.probe for o in observed])
    told = [k for k, o in enumerate(observed) if o.value is not None]
    values = np.array([observed[k].value or 0.0 for k in told])
    limits = np.array([observed[k].limit for k in told])
    some = Predicted(ahead.mean[:, told], ahead.slopes[:, told])
    cover = covers(some, limits, np.abs(values))[0]
    away = values - some.mean[0]
    alone = np.diff(log)  # of what is over its range: it stands by itself
    wrong = np.zeros(count + 1)
    for k in range(1, count + 1):
        first = [n for n, j in enumerate(told) if j < k]
        over = [j for j in range(k) if observed[j].value is None]
        without = _without_each(cover[np.ix_(first, first)], away[first])
        ways = np.full(k, math.fsum(alone[over])) + broad[:k]
        ways[over] += _density(cover[np.ix_(first, first)], away[first]) - alone[over]
        ways[[told[n] for n in first]] += without
        later = [log[k] + math.log(count - k)] if k < count else []
        wrong[k] = np.logaddexp.reduce([*ways, *later]) - math.log(count)
    return wrong


def _density(cover: FloatArray, away: FloatArray) -> FloatArray:
    """Return the logarithm of a normal density that far from its middle, (…,)."""
    lower = np.linalg.cholesky(cover)
    white = np.linalg.solve(lower, away[..., None])[..., 0]
    scale = np.log(np.diagonal(lower, axis1=-2, axis2=-1)).sum(axis=-1)
    found: FloatArray = -0.5 * (white**2 + math.log(2 * math.pi)).sum(axis=-1) - scale
    return found


def _without_each(cover: FloatArray, away: FloatArray) -> FloatArray:
    """Return the density of all readings but the first, but the second …, (r,)."""
    count = len(away)
    others = np.array([[j for j in range(count) if j != k] for k in range(count)], dtype=np.int64)
    others = others.reshape(count, max(count - 1, 0))
    return _density(cover[others[:, :, None], others[:, None]], away[others])


def _room(observed: Observed, box: Box) -> float:
    """Return how wide the range is that a reading of no model lies in, in its unit."""
    value = max(abs(observed.value or 0.0), observed.limit, 1e-12)
    if observed.value is None:
        return 2.0  # over the range as likely as not
    if observed.probe.point.kind == "voltage":
        return 2.2 * max(abs(box.supply.volts), value)
    return value * MOST_UNKNOWN * math.log(10)
