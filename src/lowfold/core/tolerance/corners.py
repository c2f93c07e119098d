"""The corners of a box that hold the extremes of a voltage between two nodes.

A node voltage is a ratio of two functions linear in any single resistance or conductance, with no
pole in the box, so it is monotonic in each and its extremes lie at corners: all of them, or those
that the signs of what each value does leave open (see `layout`). Where a current load starves
somewhere in the box that does not hold (see `extremes`).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import GROUND
from lowfold.core.solving.nodes import potentials
from lowfold.core.tolerance.box import Box
from lowfold.core.tolerance.layout import (
    FEW_STEPS,
    MOST_CORNERS,
    Corners,
    Layout,
    every_corner,
    laid_out,
    reduced,
)

__all__ = ["corners", "corners_of", "metered", "starves"]

FloatArray = npt.NDArray[np.float64]


def corners_of(layout: Layout, power_of: int | None = None, drawn: float = 0.0) -> Corners:
    """Return corners of a box laid out that hold the extremes of what is asked; see `corners`.

    Parameters
    ----------
    layout : Layout
        The box as seen from the two nodes.
    power_of : int, optional
        A branch between the two that stays on its own.
    drawn : float
        Further current from the first node, A.

    Raises
    ------
    TooLargeError
        If there are more than `MOST_CORNERS`, and the signs leave too many.
    """
    count = len(layout.variables)
    high = None
    if not layout.few and (layout.clipped or not starves(layout.box)):
        own = next((i for i, m in enumerate(layout.merged) if m.members == (power_of,)), None)
        high = layout.open_corners(layout.between, drawn, own)
    if high is None:
        if 2**count > MOST_CORNERS:
            msg = (
                f"the worst case of {count} values that move independently has 2^{count} "
                "corners, and what each value does by itself does not tell which of them is "
                f"the worst; at most {MOST_CORNERS} are searched. Set the tolerance of some "
                "parts to 0"
            )
            raise TooLargeError(msg, field="network")
        high = every_corner(count)
    return layout.at(high, layout.between)


def corners(
    box: Box, between: tuple[int, int], *, power_of: int | None = None, drawn: float = 0.0
) -> Corners:
    """Lay out corners of `box` that hold the extremes of the voltage of one node above another.

    Parameters
    ----------
    power_of : int, optional
        A branch between the two that stays on its own: the corners of all else hold those at which
        it meets its worst power and its largest voltage, wherever in its range it stands.
    drawn : float
        A; the corners hold the extremes for every further current up to this from the first node.
        Negative is a current into it.
    between : tuple[int, int]
        The two nodes: the first above the second.

    Raises
    ------
    TooLargeError
        If more than `MOST_VALUES` move independently, or there are more than `MOST_CORNERS` and the
        signs of what each value does leave too many.
    """
    return corners_of(laid_out(box, between, power_of, drawn), power_of, drawn)


def metered(
    box: Box, pairs: Sequence[tuple[int, int]], ohms: float | None
) -> tuple[FloatArray, FloatArray] | None:
    """Return what one voltmeter reads between each of some pairs of nodes, at every corner at once.

    Every corner of the box is gone through, so that the extremes are among them.

    Parameters
    ----------
    pairs : sequence of (int, int)
        Two different nodes each: the first above the second.
    ohms : float or None
        Of the meter's input, Ω; None is none at all.

    Returns
    -------
    nominal : (pairs,) ndarray of float64
        V, NaN where nothing joins the nodes to the supply.
    corners : (pairs, m) ndarray of float64
        V. None in place of both where there are too many corners for that to be the quicker way,
        or a current load may starve.
    """
    tolerance = box.supply.tolerance
    if not box.scales:
        tolerance = 0.0
    else:  # every voltage goes with the supply: its ends need no corners of their own
        box = replace(box, supply=replace(box.supply, tolerance=0.0))
    layout = reduced(box, {n for pair in pairs for n in pair}, ())
    nodes, count = layout.circuit.nodes, len(layout.variables)
    if 2**count * len(pairs) * nodes**3 > FEW_STEPS or starves(box):
        return None
    place = layout.places
    ends = np.array([[place[a], place[b]] for a, b in pairs], dtype=np.intp)
    corners, still = layout.nets(every_corner(count)), layout.nominal_nets()
    siemens = np.concatenate([still.siemens, corners.siemens])
    sets, meters = len(siemens), len(pairs)
    beside = np.zeros((meters, sets, meters))
    beside[np.arange(meters), :, np.arange(meters)] = 0.0 if ohms is None else 1 / ohms
    inside = np.broadcast_to(siemens, (meters, *siemens.shape))
    every = replace(
        corners,
        a=np.hstack([corners.a, ends[None, :, 0]]),
        b=np.hstack([corners.b, ends[None, :, 1]]),
        siemens=np.concatenate([inside, beside], axis=2).reshape(meters * sets, -1),
        load_siemens=np.tile(
            np.concatenate([still.load_siemens, corners.load_siemens]), (meters, 1)
        ),
        load_amps=np.tile(np.concatenate([still.load_amps, corners.load_amps]), (meters, 1)),
        supply_v=np.tile(np.concatenate([still.supply_v, corners.supply_v]), meters),
        low_v=None
        if still.low_v is None or corners.low_v is None
        else np.tile(np.concatenate([still.low_v, corners.low_v]), meters),
    )
    gaps, _ = potentials(every)
    found = gaps.reshape(meters, sets, nodes, nodes)
    read = found[np.arange(meters), :, ends[:, 0], ends[:, 1]]
    ends_of_all = read[:, 1:]
    if tolerance:
        ends_of_all = np.hstack([ends_of_all * (1 - tolerance), ends_of_all * (1 + tolerance)])
    return read[:, 0], ends_of_all


@lru_cache(maxsize=16)
def starves(box: Box) -> bool:
    """Return whether a current load may get less than it wants somewhere in `box`.

    Where none does at any corner, none does inside: its voltage in the linear network is monotonic
    in everything, and least at a corner.

    Raises
    ------
    TooLargeError
        If the box has too many values.
    """
    node = next((r.load.at for r in box.loads if r.load.amps is not None and r.high > 0), None)
    if node is None or not box.above_zero:
        return False
    return not laid_out(box, (node, GROUND)).fed()
