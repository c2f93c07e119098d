"""A board as somebody may have built it, its parts drawn within tolerance, and what meters show."""

from __future__ import annotations

import math
import zlib
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np

from lowfold.core.bench.expect import expect
from lowfold.core.bench.models import MeterModel, Range
from lowfold.core.bench.points import Point
from lowfold.core.bench.predict import Board
from lowfold.core.bench.suspects import SHORT_OHMS
from lowfold.core.network.circuit import Branch, Circuit
from lowfold.core.tolerance.box import Box

__all__ = ["COLD_JOINT_OHMS", "BuiltBoard", "Reading", "built_with", "drawn_within"]

COLD_JOINT_OHMS: Final = 1e12  #: what an open joint still leaks
#: Share of its limit of error that the meter is off by at most: it is a good one.
WITHIN: Final = 0.6
#: Beyond its full scale by so much a range still shows a figure.
BEYOND: Final = 1.2


@dataclass(frozen=True, slots=True)
class Reading:
    """What the meter has on its display."""

    value: float | None  #: None is overload
    range: Range


@dataclass(frozen=True, slots=True)
class BuiltBoard:
    """A built board with a meter on the table."""

    box: Box  #: nothing in it varies: it is as it was drawn
    model: MeterModel
    seed: int  #: of the meter's own error at each point
    lifted: Mapping[int, float] = field(default_factory=dict)
    """What parts read lifted out, Ω, where that is not what they are on the board."""

    def read(self, point: Point, full: float | None = None) -> Reading:
        """Return what the display shows.

        Parameters
        ----------
        full : float, optional
            Of the range that is set; not given, the meter finds its own.
        """
        found = expect(self._on_the_table(point), point, self.model, full)
        chosen = found.range
        assert chosen is not None  # the model has ranges for everything
        if found.overload or found.span is None:
            # Leads that nothing joins: no volts and no current, and no end of ohms
            nothing = None if point.kind == "resistance" or found.span is not None else 0.0
            return Reading(nothing, chosen)
        which = zlib.crc32(f"{point.measured} {chosen.full}".encode())
        error = np.random.default_rng([self.seed, which]).uniform(-1, 1)
        value = found.span.nominal
        if abs(value) > chosen.resolution:
            value += float(error) * WITHIN * chosen.limit(value, of_full=self.model.of_full)
        if chosen.resolution:
            value = round(value / chosen.resolution) * chosen.resolution
        return Reading(None if abs(value) > BEYOND * chosen.full else value, chosen)

    def _on_the_table(self, point: Point) -> Box:
        """Return the board; for a part lifted out, with that part as it then is."""
        place = point.part
        if point.kind != "resistance" or place is None or place not in self.lifted:
            return self.box
        branches = [*self.box.circuit.branches]
        branches[place] = replace(branches[place], ohms=self.lifted[place])
        return replace(self.box, circuit=replace(self.box.circuit, branches=tuple(branches)))


def drawn_within(circuit: Circuit, tolerance: float, chance: np.random.Generator) -> Circuit:
    """Return a circuit with its parts drawn, evenly within their tolerance.

    A short and a cold joint are as they are.

    Parameters
    ----------
    tolerance : float
        Fraction.
    chance : numpy.random.Generator
    """
    branches = tuple(
        b
        if b.ohms in {COLD_JOINT_OHMS, SHORT_OHMS}
        else replace(b, ohms=b.ohms * float(1 + chance.uniform(-tolerance, tolerance)))
        for b in circuit.branches
    )
    return replace(circuit, branches=branches)


def built_with(
    box: Box, fault: Board, tolerance: float, seed: int, model: MeterModel
) -> BuiltBoard:
    """Return a board built with a fault, its parts drawn within their tolerance.

    Parameters
    ----------
    box : Box
        The design.
    fault : Board
        What differs from it.
    tolerance : float
        Of the parts, a fraction; the wrong one too is within it of what it is.
    seed : int
        The same seed is the same board.
    model : MeterModel
        What it is measured with.
    """
    branches, missing = [*box.circuit.branches], set()
    own: dict[int, float] = {}
    for change in fault.changes:
        if change.part is not None:
            is_now = COLD_JOINT_OHMS if math.isinf(change.ohms) else change.ohms
            branches[change.part] = replace(branches[change.part], ohms=is_now)
            if change.lifted is not None:
                own[change.part] = change.lifted
        elif change.siemens > 0:
            branches.append(Branch("what is too many", change.a, change.b, 1 / change.siemens))
        else:
            missing |= {k for k, r in enumerate(box.loads) if r.load.at == change.a}
    circuit = replace(box.circuit, branches=tuple(branches))
    chance = np.random.default_rng(seed)
    drawn = drawn_within(circuit, tolerance, chance)
    supply = box.supply
    if fault.supply_volts is not None:
        supply = replace(supply, volts=fault.supply_volts)
    supply = replace(supply, source_ohms=supply.source_ohms + fault.series_ohms)
    loads = tuple(r for k, r in enumerate(box.loads) if k not in missing)
    still = Box(drawn, supply, loads, (0.0,) * len(drawn.branches))
    lifted = {k: ohms * float(1 + chance.uniform(-tolerance, tolerance)) for k, ohms in own.items()}
    return BuiltBoard(still, model, seed, lifted)
