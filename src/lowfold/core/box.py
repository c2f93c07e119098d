"""The box: every part, the supply and every load anywhere in its own range, independently.

A part's half-width is its tolerance, plus |TCR| times the largest |ΔT|, plus drift: the
extreme-value budget (common practice). Extremes over the box are taken at its corners. A node
voltage is a ratio of two functions linear in any single resistance or conductance, with no pole
in the box, so it is monotonic in each and its extremes lie at corners; the signs may depend on the
other values, so the corners are enumerated, after parts that act as one have been merged.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import numpy.typing as npt

from lowfold.core.circuit import GROUND, SUPPLY, Circuit
from lowfold.core.condense import Merged, condense
from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.solve import Load, Values, node_gaps

__all__ = [
    "MOST_CORNERS",
    "TOGETHER",
    "Box",
    "Corners",
    "LoadRange",
    "Supply",
    "Tracking",
    "corner_ends",
    "corners",
    "half_width",
]

FloatArray = npt.NDArray[np.float64]

#: Corners one figure may need; beyond it the question is refused before any work.
MOST_CORNERS: Final = 2**16
#: Numbers held at once while solving corners, some tens of megabytes.
MOST_CELLS: Final = 2**22
#: Places between the ends of the common deviation that are looked at where no proof holds.
COMMON_STEPS: Final = 33
#: What the deviation that tracking parts share goes by in corners and sensitivities.
TOGETHER: Final = "together"


@dataclass(frozen=True, slots=True)
class Supply:
    """A supply as stated."""

    volts: float  #: EMF, V; of a current source, its A
    tolerance: float = 0.0  #: half width, fraction
    source_ohms: float = 0.0  #: Ω; inf makes it a current source

    def __post_init__(self) -> None:
        if not math.isfinite(self.volts):
            msg = f"the supply must be a finite voltage, got {self.volts!r}"
            raise DomainError(msg, field="supply.v")
        if not 0 <= self.tolerance < 1:
            msg = f"the supply's tolerance is a fraction from 0 to below 1, got {self.tolerance:g}"
            raise DomainError(msg, field="supply.tolerance")
        if not self.source_ohms >= 0:
            msg = f"the source resistance is 0 Ω or more, got {self.source_ohms:g} Ω"
            raise DomainError(msg, field="supply.source_ohm")


@dataclass(frozen=True, slots=True)
class LoadRange:
    """A load with the ends between which it may lie, in Ω or A like the load itself."""

    load: Load
    low: float
    high: float

    def __post_init__(self) -> None:
        nominal = self.load.ohms if self.load.ohms is not None else self.load.amps
        if nominal is None or not self.low <= nominal <= self.high < math.inf or self.low < 0:
            msg = f"the load's range {self.low:g} to {self.high:g} does not hold its nominal value"
            raise DomainError(msg, field="loads")
        if self.load.ohms is not None and self.low <= 0:
            msg = "a load's least resistance must be above 0 Ω"
            raise DomainError(msg, field="loads")


@dataclass(frozen=True, slots=True)
class Tracking:
    """Parts of one array or one reel, whose ratios are held tighter than their values."""

    ratio: float  #: how far the ratio of any two may be off its nominal, fraction
    refs: frozenset[str] | None = None  #: designators as in the circuit; None is every part

    def __post_init__(self) -> None:
        if not 0 <= self.ratio < 1:
            msg = f"a ratio tolerance is a fraction from 0 to below 1, got {self.ratio:g}"
            raise DomainError(msg, field="tracking.ratio")


@dataclass(frozen=True, slots=True)
class Box:
    """A circuit with a range for everything in it."""

    circuit: Circuit
    supply: Supply
    loads: tuple[LoadRange, ...]
    half_widths: tuple[float, ...]  #: of each branch, fraction of its nominal value
    tracking: Tracking | None = None

    def __post_init__(self) -> None:
        for branch, half in zip(self.circuit.branches, self.half_widths, strict=True):
            if not 0 <= half < 1:
                msg = (
                    f"{branch.ref} may deviate by {half:.4g} of its value (tolerance + temperature "
                    "+ drift); the sum must stay below 1 (100 %)"
                )
                raise DomainError(msg, field="parts")

    @property
    def low(self) -> list[float]:
        pairs = zip(self.circuit.branches, self.half_widths, strict=True)
        return [b.ohms * (1 - h) for b, h in pairs]

    @property
    def high(self) -> list[float]:
        pairs = zip(self.circuit.branches, self.half_widths, strict=True)
        return [b.ohms * (1 + h) for b, h in pairs]

    @property
    def tracked(self) -> tuple[bool, ...]:
        """Return which branches track each other."""
        if self.tracking is None:
            return (False,) * len(self.half_widths)
        refs = self.tracking.refs
        return tuple(refs is None or b.ref in refs for b in self.circuit.branches)

    @property
    def common(self) -> float:
        """Return the half-width of the deviation that tracking parts share, a fraction.

        A tracking part is nominal · (1 + c) · (1 + d), c shared within ± this and d its own. Half
        of the ratio tolerance is left to each part's own d, and the whole stays within its
        half-width.
        """
        halves = [h for h, t in zip(self.half_widths, self.tracked, strict=True) if t]
        if self.tracking is None or len(halves) < 2:
            return 0.0
        return max(0.0, (1 + min(halves)) / (1 + self.tracking.ratio / 2) - 1)

    @property
    def own(self) -> tuple[float, ...]:
        """Return each branch's half-width beside what it shares with others, fractions."""
        common = self.common
        pairs = zip(self.half_widths, self.tracked, strict=True)
        return tuple((1 + h) / (1 + common) - 1 if t else h for h, t in pairs)

    @property
    def proven(self) -> bool:
        """Whether extremes at the ends of the common deviation are provably the extremes.

        Scaling every tracking part by one factor is, for voltages, scaling the one thing that does
        not track by its inverse; a node voltage is monotonic in that. With two such things or
        more it need not be, and places between are looked at too.
        """
        if not self.common:
            return True
        hung = {r.load.at for r in self.loads if r.load.ohms is not None}
        drawn = any(r.high > 0 for r in self.loads if r.load.amps is not None)
        return self.tracked.count(False) + len(hung) + drawn + bool(self.supply.source_ohms) <= 1

    def variants(self) -> list[tuple[str, Box]]:
        """Return boxes of independent parts that together hold the extremes of this one.

        Each with the end at which the common deviation stands there: low, high, or between.
        """
        common = self.common
        if not common:
            return [("", replace(self, tracking=None))]
        count = 2 if self.proven else COMMON_STEPS
        own, tracked = self.own, self.tracked
        found = []
        for place, c in enumerate(np.linspace(-common, common, count).tolist()):
            pairs = zip(self.circuit.branches, tracked, strict=True)
            moved = tuple(replace(b, ohms=b.ohms * (1 + c)) if t else b for b, t in pairs)
            circuit = replace(self.circuit, branches=moved)
            end = "low" if place == 0 else "high" if place == count - 1 else "between"
            found.append((end, Box(circuit, self.supply, self.loads, own)))
        return found

    @property
    def nominal_loads(self) -> tuple[Load, ...]:
        return tuple(r.load for r in self.loads)

    def load_name(self, position: int) -> str:
        """Return the name a load goes by in corners and sensitivities: L1, L2 … in order."""
        return f"L{position + 1}"


def half_width(tolerance: float, tcr_ppm: float, largest_dt: float, drift: float) -> float:
    """Return a part's extreme-value half-width: tolerance + |TCR|·|ΔT| + drift, a fraction.

    Parameters
    ----------
    tolerance, drift : float
        Fractions, ≥ 0.
    tcr_ppm : float
        ppm/K, of either sign.
    largest_dt : float
        Largest |T − reference|, K.
    """
    return tolerance + abs(tcr_ppm) * 1e-6 * abs(largest_dt) + drift


@dataclass(frozen=True, slots=True)
class Corners:
    """Every corner of a box as sets of values for a reduced circuit."""

    circuit: Circuit  #: the merged one
    merged: tuple[Merged, ...]
    values: Values
    high: npt.NDArray[np.bool_]  #: (m, variables): which end each variable stands at
    variables: tuple[str, ...]  #: supply, loads by name, then one per merged part: its members
    place: Mapping[int, int]  #: of the nodes that survive, in the reduced circuit

    def gap(self, a: int, b: int, loads: Sequence[Load]) -> FloatArray:
        """Return by how much node `a` is above node `b` at every corner, (m,) in V."""
        sets = len(self.high)
        a, b = self.place[a], self.place[b]
        hung = [replace(load, at=self.place[load.at]) for load in loads]
        step = max(1, MOST_CELLS // self.circuit.nodes**2)
        found = np.empty(sets)
        for start in range(0, sets, step):
            some = slice(start, start + step)
            values = replace(
                self.values,
                siemens=self.values.siemens[some],
                supply_v=self.values.supply_v[some],
                load_siemens=self.values.load_siemens[some],
                load_amps=self.values.load_amps[some],
            )
            found[some] = node_gaps(self.circuit, values, hung)[0][:, a, b]
        return found


def corners(box: Box, keep: Sequence[int], apart: Sequence[int] = ()) -> Corners:
    """Lay out every corner of `box` as seen from the nodes in `keep`.

    Raises
    ------
    TooLargeError
        If there are more than `MOST_CORNERS`.
    """
    kept = {GROUND, SUPPLY, *keep, *(r.load.at for r in box.loads)}
    merged = condense(box.circuit, box.low, box.high, kept, apart)
    free_parts = [
        i for i, m in enumerate(merged) if m.low < m.high and set(m.members).isdisjoint(apart)
    ]
    free_loads = [i for i, r in enumerate(box.loads) if r.low < r.high]
    free_supply = box.supply.tolerance > 0 and box.supply.volts != 0
    count = len(free_parts) + len(free_loads) + free_supply
    if 2**count > MOST_CORNERS:
        msg = (
            f"the worst case of {count} values that move independently has 2^{count} corners; "
            f"at most {MOST_CORNERS} are searched. Set the tolerance of some parts to 0"
        )
        raise TooLargeError(msg, field="network")
    high = np.array(list(itertools.product((False, True), repeat=count)), dtype=np.bool_)
    high = high.reshape(2**count, count)
    sets = high.shape[0]
    supply_v = np.full(sets, box.supply.volts)
    column = 0
    names: list[str] = []
    if free_supply:
        step = box.supply.volts * box.supply.tolerance
        supply_v = np.where(high[:, 0], box.supply.volts + step, box.supply.volts - step)
        names.append("supply")
        column = 1
    load_siemens = np.tile([r.load.siemens for r in box.loads], (sets, 1))
    load_amps = np.tile([r.load.amps or 0.0 for r in box.loads], (sets, 1))
    for i in free_loads:
        ends = box.loads[i]
        chosen = np.where(high[:, column], ends.high, ends.low)
        if ends.load.ohms is not None:
            load_siemens[:, i] = 1 / chosen
        else:
            load_amps[:, i] = chosen
        names.append(box.load_name(i))
        column += 1
    ohms = np.tile([m.nominal for m in merged], (sets, 1))
    for i in free_parts:
        ohms[:, i] = np.where(high[:, column], merged[i].high, merged[i].low)
        names.append(" ".join(box.circuit.branches[k].ref for k in sorted(merged[i].members)))
        column += 1
    inside = {n for m in merged for n in (m.a, m.b)} - kept
    order = [GROUND, SUPPLY, *sorted(kept - {GROUND, SUPPLY}), *sorted(inside)]
    place = {node: k for k, node in enumerate(order)}
    reduced = Circuit(
        tuple(replace(m.branch(), a=place[m.a], b=place[m.b]) for m in merged), len(order), {}
    )
    values = Values(
        siemens=1 / ohms if merged else np.zeros((sets, 0)),
        supply_v=supply_v,
        load_siemens=load_siemens.reshape(sets, len(box.loads)),
        load_amps=load_amps.reshape(sets, len(box.loads)),
        source_ohms=box.supply.source_ohms,
    )
    return Corners(reduced, merged, values, high, tuple(names), place)


def corner_ends(found: Corners, row: int) -> dict[str, str]:
    """Return which end each value stands at in one corner: `{"R1": "low", "supply": "high"}`."""
    ends: dict[str, str] = {}
    for name, high in zip(found.variables, found.high[row], strict=True):
        for single in name.split():
            ends[single] = "high" if high else "low"
    return ends
