"""Predicted readings and their slopes: against the exact solver, and against small differences."""

from dataclasses import replace

import numpy as np
import pytest

from lowfold.core.bench.ahead import probe_of
from lowfold.core.bench.expect import expect
from lowfold.core.bench.models import HANDHELD, NEEDLE
from lowfold.core.bench.points import Point
from lowfold.core.bench.predict import Board, Change, Model
from lowfold.core.bench.suspects import suspects
from lowfold.core.network.circuit import build_circuit, lifted
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.corners import starves

BRIDGE = "R1 in a 1k\nR2 in b 2k2\nR3 a b 3k3\nR4 a 0 4k7\nR5 b 0 6k8"
TREE = "R1=33k + @A + (R2=82k || (R3=15k + @B + R4=18k))"


TWELVE = Supply(12.0, 0.02)


def box_of(text: str, supply: Supply = TWELVE, loads: tuple[LoadRange, ...] = ()) -> Box:
    circuit = lifted(build_circuit(read_text(text)), supply.low_volts)
    return Box(circuit, supply, loads, (0.05,) * len(circuit.branches))


def points_of(box: Box) -> list[Point]:
    nodes = [Point("voltage", at=n) for n in range(1, box.circuit.nodes)]
    parts = range(len(box.circuit.branches))
    through = [Point("current", part=k) for k in parts]
    apart = [Point("resistance", part=k) for k in parts]
    between = [
        Point("voltage", at=1, against=2),
        Point("resistance", at=1, against=box.circuit.low),
    ]
    return [*nodes, *between, *through, Point("current", supply=True), *apart]


def room_of(box: Box) -> float:
    """What holds a starved junction at 0 V leaves some millionths of the supply there."""
    return 1e-6 * abs(box.supply.volts) if starves(box) else 1e-12


def nominal(box: Box) -> Box:
    """The same with nothing that varies: its nominal figures, and no corner to be looked at."""
    loads = []
    for hung in box.loads:
        stated = hung.load.ohms or hung.load.amps or 0.0
        loads.append(replace(hung, low=stated, high=stated))
    supply = replace(box.supply, tolerance=0.0)
    return replace(
        box, supply=supply, loads=tuple(loads), half_widths=(0.0,) * len(box.half_widths)
    )


BOXES = [
    box_of(BRIDGE),
    box_of(TREE),
    box_of(TREE, Supply(12.0, 0.02, 470.0)),
    box_of(TREE, Supply(-5.0, 0.0, 0.0)),
    box_of(TREE, loads=(LoadRange(Load(2, ohms=100e3), 80e3, 120e3),)),
    box_of(TREE, loads=(LoadRange(Load(3, amps=20e-6), 10e-6, 30e-6),)),
    # Between two supplies: fed, starving, and idle below 0 V
    *(
        box_of(TREE, Supply(12.0, 0.02, 0.0, low), (LoadRange(Load(3, amps=a), a, a),))
        for low, a in ((-2.0, 2e-5), (-2.0, 1e-3), (-12.0, 1e-4))
    ),
    # Starving: B gets less than it wants; A and B both; B alone, behind a source
    box_of(TREE, loads=(LoadRange(Load(3, amps=900e-6), 800e-6, 1e-3),)),
    box_of(TREE, loads=tuple(LoadRange(Load(n, amps=1e-3), 8e-4, 2e-3) for n in (2, 3))),
    box_of(
        TREE,
        Supply(12.0, 0.02, 4.7e3),
        (LoadRange(Load(2, amps=20e-6), 1e-5, 3e-5), LoadRange(Load(3, amps=1e-3), 9e-4, 2e-3)),
    ),
]


@pytest.mark.parametrize("box", BOXES)
@pytest.mark.parametrize("meter", [HANDHELD, NEEDLE], ids=lambda m: m.name)
def test_the_board_as_designed_reads_as_the_exact_solver_says(box: Box, meter: object) -> None:
    model, points = Model(box), points_of(box)
    exact = [expect(box, p, meter) for p in points]  # type: ignore[arg-type]
    probes = [
        probe_of(p, meter, e.range.full if e.range else None)  # type: ignore[arg-type]
        for p, e in zip(points, exact, strict=True)
    ]
    found = model.predict([Board()], probes).mean[0]
    for value, e in zip(found, exact, strict=True):
        assert e.span is not None
        assert value == pytest.approx(e.span.nominal, rel=3e-6, abs=room_of(box))


@pytest.mark.parametrize("box", BOXES)
def test_every_single_fault_is_one_update_of_the_same_solution(box: Box) -> None:
    model = Model(box)
    points = [p for p in points_of(box) if p.kind == "voltage" or p.supply]
    probes = [probe_of(p, HANDHELD, expect(box, p, HANDHELD).range.full) for p in points]  # type: ignore[union-attr]
    for suspect in suspects(box).single:
        if suspect.kind == "bridge":
            continue
        branches = [*box.circuit.branches]
        for change in suspect.board.changes:
            if change.part is None:  # the load, taken away
                continue
            ohms = change.ohms if np.isfinite(change.ohms) else 1e13
            branches[change.part] = replace(branches[change.part], ohms=ohms)
        kept = [r for k, r in enumerate(box.loads) if k not in suspect.board.missing]
        circuit = replace(box.circuit, branches=tuple(branches))
        other = nominal(replace(box, circuit=circuit, loads=tuple(kept)))
        found = model.predict([suspect.board], probes).mean[0]
        for value, point, probe in zip(found, points, probes, strict=True):
            full = probe.range.full if probe.range else None
            exact = expect(other, point, HANDHELD, full)
            assert exact.span is not None
            # An ideal supply has a millionth of the least resistance inside here
            scale = abs(box.supply.volts) * (1 if point.kind == "voltage" else 1e-3)
            assert value == pytest.approx(exact.span.nominal, rel=1e-3, abs=1e-5 * scale)


@pytest.mark.parametrize("box", BOXES)
def test_slopes_are_those_of_small_differences(box: Box) -> None:
    points = points_of(box)
    probes = [probe_of(p, HANDHELD, expect(box, p, HANDHELD).range.full) for p in points]  # type: ignore[union-attr]
    base = Model(box).predict([Board()], probes)
    step = 1e-5
    for k, half in enumerate(box.half_widths):
        branches = [*box.circuit.branches]
        branches[k] = replace(branches[k], ohms=branches[k].ohms * (1 + step))
        moved = replace(box, circuit=replace(box.circuit, branches=tuple(branches)))
        difference = (Model(moved).predict([Board()], probes).mean - base.mean)[0] / step * half
        for mine, numeric, mean in zip(base.slopes[0, :, k], difference, base.mean[0], strict=True):
            assert mine == pytest.approx(
                numeric, rel=2e-2, abs=2e-4 * abs(mean) * half + room_of(box)
            )
    supply = replace(box.supply, volts=box.supply.volts * (1 + step))
    risen = Model(replace(box, supply=supply)).predict([Board()], probes).mean - base.mean
    column = base.slopes[0, :, len(box.half_widths)]
    assert column == pytest.approx(risen[0] / step * box.supply.tolerance, rel=1e-2, abs=1e-9)


def test_what_hides_in_series_and_what_loads_are_updates_too() -> None:
    box = box_of(TREE)
    probe = probe_of(Point("voltage", at=2), HANDHELD, 6.0)
    hidden = Model(box).predict([Board(series_ohms=10e3)], [probe]).mean[0, 0]
    other = replace(box, supply=Supply(12.0, 0.0, 10e3))
    assert hidden == pytest.approx(Model(other).predict([Board()], [probe]).mean[0, 0], rel=1e-5)
    loaded = Model(box).predict([Board((Change(2, 0, 1e-4),))], [probe]).mean[0, 0]
    load = (LoadRange(Load(2, ohms=1e4), 1e4, 1e4),)
    exact = expect(replace(box, loads=load), Point("voltage", at=2), HANDHELD, 6.0)
    assert exact.span is not None
    assert loaded == pytest.approx(exact.span.nominal, rel=1e-5)
