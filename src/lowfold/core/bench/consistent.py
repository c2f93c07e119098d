"""Whether values inside every tolerance and every limit of the meter give all the readings at once.

The readings are linear in small deviations, to first order; a linear program finds deviations that
give them, and the board with these deviations is solved again, so that what is told to be
consistent has a witness. Beyond what any deviations inside their limits can bring, none is looked
for.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Final

import numpy as np
import numpy.typing as npt
from scipy.optimize import linprog

from lowfold.core.bench.diagnosis import Diagnosis, Observed
from lowfold.core.bench.predict import Board, Change, Model
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import Box, LoadRange

__all__ = ["consistent"]

FloatArray = npt.NDArray[np.float64]

PASSES: Final = 4  #: of linearising about the deviations found last
LEAST_SIEMENS: Final = 1e-15  #: of a load that is hardly there
SLACK: Final = 1e-6  #: of a limit, for rounding


def consistent(found: Diagnosis, board: Board, distance: float) -> bool:
    """Return whether a board of a hypothesis can give every reading.

    Parameters
    ----------
    board : Board
        Of the hypothesis, its parts nominal.
    distance : float
        Of the readings from what it predicts, squared: each uniform value within its half width
        adds at most 3.
    """
    told = [o for o in found.observed if o.value is not None]
    if not _over_agrees(found.model, board, found.observed):
        return False
    if not told:
        return True
    varies = int((found.model.half_widths > 0).sum()) + 1 + len(found.model.loads)
    if distance > 3 * (varies + len(told)):
        return False
    model, values = found.model, np.array([o.value or 0.0 for o in told])
    size = np.abs(values) + 1e-300
    # A limit is a share of what is there, which may be more than what was read, by the limit
    shares = np.minimum(np.array([o.limit for o in told]) / size, 0.5)
    limits = np.array([o.limit for o in told]) / (1 - shares) + 1e-9 * size
    where = np.zeros(len(model.half_widths) + 1 + len(model.loads))
    for turn in range(PASSES):
        moved, shifted = _moved(model, board, where)
        ahead = moved.predict([shifted], [o.probe for o in told])
        mean, slopes = ahead.mean[0], ahead.slopes[0]
        if (np.abs(values - mean) <= limits * (1 + SLACK)).all():
            return True
        if turn == 0:
            # The likeliest deviations are at hand without a search, and mostly serve
            where = np.clip(_likeliest(values - mean, slopes, limits), -1.0, 1.0)
            continue
        size = len(where)
        # Find the deviations that miss the readings by least, in limits of the meter
        a = np.vstack(
            [np.hstack([slopes, -limits[:, None]]), np.hstack([-slopes, -limits[:, None]])]
        )
        base = mean - slopes @ where
        b = np.concatenate([values - base, base - values])
        aim = np.zeros(size + 1)
        aim[-1] = 1.0
        bounds = [(-1.0, 1.0)] * size + [(0.0, None)]
        solved = linprog(aim, A_ub=a, b_ub=b, bounds=bounds, method="highs")
        if not solved.success:
            return False
        where = solved.x[:size]
    moved, shifted = _moved(model, board, where)
    mean = moved.predict([shifted], [o.probe for o in told]).mean[0]
    return bool((np.abs(values - mean) <= limits * (1 + SLACK)).all())


def _likeliest(away: FloatArray, slopes: FloatArray, limits: FloatArray) -> FloatArray:
    """Return the deviations, in half widths, that explain best how far readings are away, (v,)."""
    floor = 1e-12 * float((slopes**2).sum()) + 1e-300
    cover = slopes @ slopes.T + np.diag(limits**2 / 9 + floor)
    found: FloatArray = slopes.T @ np.linalg.solve(cover, away)
    return found


def _over_agrees(model: Model, board: Board, observed: Sequence[Observed]) -> bool:
    """Return whether what was over its range may have been, to first order."""
    over = [o for o in observed if o.value is None]
    if not over:
        return True
    ahead = model.predict([board], [o.probe for o in over])
    most = np.abs(ahead.mean[0]) + np.abs(ahead.slopes[0]).sum(axis=1)
    fulls = [o.probe.range.full if o.probe.range else np.inf for o in over]
    return bool((most + np.array([o.limit for o in over]) >= np.array(fulls)).all())


def _moved_load(hung: LoadRange, share: float) -> Load:
    """Return a load so far towards its high end, or its low one where the share is negative."""
    load, end = hung.load, hung.high if share > 0 else hung.low
    if load.ohms is None:
        amps = load.amps or 0.0
        drawn = amps + abs(share) * (end - amps)
        return replace(load, amps=min(max(drawn, hung.low), hung.high))
    siemens = load.siemens + abs(share) * (1 / end - load.siemens)  # nothing at all at inf Ω
    ohms = 1 / max(siemens, LEAST_SIEMENS)
    return replace(load, ohms=min(max(ohms, hung.low), hung.high))


def _moved(model: Model, board: Board, where: np.ndarray) -> tuple[Model, Board]:
    """Return a board with every value so many half widths off, and its node equations."""
    box, parts = model.box, len(model.half_widths)
    scale = 1 + where[:parts] * model.half_widths
    branches = tuple(
        replace(b, ohms=b.ohms * float(s)) for b, s in zip(box.circuit.branches, scale, strict=True)
    )
    volts = box.supply.volts * (1 + float(where[parts]) * box.supply.tolerance)
    supply = replace(box.supply, volts=volts)
    loads = []
    for k, hung in enumerate(box.loads):
        loads.append(replace(hung, load=_moved_load(hung, float(where[parts + 1 + k]))))
    circuit = replace(box.circuit, branches=branches)
    moved = Box(circuit, supply, tuple(loads), box.half_widths)
    changes = []
    for change in board.changes:
        if change.part is None:
            changes.append(change)
            continue
        # A part that is another one deviates as that other one does
        now = branches[change.part].ohms
        ohms = change.ohms * float(scale[change.part])
        new = 0.0 if not np.isfinite(ohms) else 1 / ohms
        lifted = None if change.lifted is None else change.lifted * float(scale[change.part])
        changes.append(Change(change.a, change.b, new - 1 / now, change.part, ohms, lifted))
    volts_now = board.supply_volts
    if volts_now is not None:
        volts_now *= 1 + float(where[parts]) * box.supply.tolerance
    return Model(moved), replace(board, changes=tuple(changes), supply_volts=volts_now)
