"""Pictures of practice: a network drawn upright, lying or slanted, with what is lit in it."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Final

import numpy as np

from lowfold.core.drawing.leads import nets_at
from lowfold.core.drawing.rails import draw_rails
from lowfold.core.drawing.schematic import Drawing, Metrics, draw, laid_down
from lowfold.core.drawing.slanted import draw_slanted
from lowfold.core.folding.fold import Folding
from lowfold.core.network.circuit import Branch, build_circuit, switch_refs
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.practice.as_written import as_written
from lowfold.core.practice.series import Way
from lowfold.core.values.quantities import OHM, VOLT, write
from lowfold.views.drawings import bench_drawing, edges_drawing
from lowfold.views.practice_question import LeadPlace, Picture

__all__ = [
    "LYING",
    "SLANTED",
    "UPRIGHT",
    "board_picture",
    "folded_picture",
    "question_picture",
    "values_of",
]


UPRIGHT: Final = Metrics(112.0, 78.0, 40.0, 14.0, 62.0, lines=1)
#: Laid down afterwards, so that what is high here is wide there.
LYING: Final = Metrics(64.0, 104.0, 40.0, 16.0, 60.0, lines=1)
SLANTED: Final = Metrics(104.0, 82.0, 40.0, 12.0, 0.0, lines=1)


def values_of(edges: Sequence[Branch]) -> dict[str, str]:
    """Return the value of each part as written."""
    return {e.ref: write(e.ohms, OHM, 4, trim=True) for e in edges}


def question_picture(
    network: str,
    volts: float,
    way: Way,
    *,
    closed: tuple[str, ...] = (),
    load_at: str = "",
    load_ohms: float = 0.0,
    hot: Collection[str] = (),
    beside: Collection[str] = (),
    nodes: Collection[int] = (),
    seed: int = 0,
) -> Picture:
    """Draw a network as it was written, in one of three ways; parts and junctions of it lit.

    Parameters
    ----------
    nodes : collection of int
        Of the circuit with its switches as they are.
    seed : int
        Of a slanted sketch.
    """
    parsed = read_text(network)
    written = as_written(network, closed, load_at)
    circuit = build_circuit(parsed, closed)
    lit = {own for node in nodes for own in written.nodes.get(node, ())}
    switched = bool(switch_refs(parsed))
    if isinstance(parsed, Netlist) or (way == "slanted" and not switched):
        if way == "slanted":
            chance = np.random.default_rng(seed)
            found = draw_slanted(written.edges, written.volts, written.titles, SLANTED, chance)
        else:
            sizes = LYING if way == "lying" else UPRIGHT
            found = draw_rails(written.edges, written.volts, written.titles, sizes)
        nets = lit
    else:
        hung = [("L1", load_at)] if load_at else []
        found = draw(parsed, LYING if way != "upright" else UPRIGHT, hung)
        own = nets_at(circuit, found, closed)
        nets = {net for node in nodes for net in own.get(node, ())}
    if way == "lying" or (way == "slanted" and not _slants(found)):
        found = laid_down(found)
    shown = values_of(circuit.branches)
    if load_at:
        shown["L1"] = write(load_ohms, OHM, 4, trim=True)
    return Picture(
        way=way,
        drawing=found,
        shown=shown,
        places={},
        supply=write(volts, VOLT, 4, trim=True),
        closed=list(closed),
        hot=list(hot),
        beside=list(beside),
        nets=sorted(nets),
    )


def _slants(drawing: Drawing) -> bool:
    return any(part.angle for part in drawing.parts)


def board_picture(network: str, volts: float, load_at: str, load_ohms: float) -> Picture:
    """Draw a network as it is built, with the places for the leads."""
    parsed = read_text(network)
    circuit = build_circuit(parsed)
    hung = [("L1", load_at)] if load_at else []
    drawing, places = bench_drawing(parsed, circuit, hung, (), driven=True)
    shown = values_of(circuit.branches)
    if load_at:
        shown["L1"] = write(load_ohms, OHM, 4, trim=True)
    return Picture(
        way="upright",
        drawing=drawing,
        shown=shown,
        places={name: LeadPlace(x=x, y=y) for name, (x, y) in places.items()},
        supply=write(volts, VOLT, 4, trim=True),
        closed=[],
        hot=[],
        beside=[],
        nets=[],
    )


def folded_picture(
    folding: Folding,
    folds: int,
    node_volts: Mapping[int, float],
    supply: str,
    hot: Collection[str],
    shown: Mapping[str, str],
) -> Picture:
    """Draw a network after so many steps of its folding."""
    edges = folding.steps[folds - 1].left if folds else folding.start
    return Picture(
        way="upright",
        drawing=edges_drawing(edges, folding.titles, node_volts),
        shown={e.ref: shown.get(e.ref, "") for e in edges},
        places={},
        supply=supply,
        closed=[],
        hot=list(hot),
        beside=[],
        nets=[],
    )
