"""Corners of small boxes laid out together."""

import pytest

from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_network
from lowfold.core.solving.nets import Load
from lowfold.core.solving.nodes import transfer_ohms
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.corner_grid import CornerGrid, shape_of, small


def divider(upper: float, lower: float, half: float = 0.01) -> Box:
    circuit = build_circuit(read_network(f"R1={upper} + @OUT + R2={lower}"))
    load = LoadRange(Load(circuit.node("OUT"), ohms=10e3), 9e3, 11e3)
    return Box(circuit, Supply(12.0, 0.05), (load,), (half, half))


def test_shapes_differ_by_what_varies_and_where_it_hangs() -> None:
    assert shape_of(divider(1e3, 2e3)) == shape_of(divider(47e3, 22e3))
    assert shape_of(divider(1e3, 2e3)) != shape_of(divider(1e3, 2e3, half=0.0))
    assert small(divider(1e3, 2e3))
    long = Box(build_circuit(read_network(" + ".join(["1k"] * 12))), Supply(1.0), (), (0.01,) * 12)
    assert not small(long)


def test_each_corner_is_what_the_solver_gives_there() -> None:
    boxes = [divider(1e3, 2e3), divider(47e3, 22e3)]
    grid = CornerGrid(boxes, [2])
    assert grid.names(0) == ["supply", "L1", "R1", "R2"]
    assert grid.corners.shape[:2] == (2, 16)
    for k, box in enumerate(boxes):
        for row in range(16):
            ends = grid.ends(k, row)
            sign = {name: 1 if end == "high" else -1 for name, end in ends.items()}
            ohms = [b.ohms * (1 + 0.01 * sign[b.ref]) for b in box.circuit.branches]
            circuit = build_circuit(read_network(f"R1={ohms[0]} + @OUT + R2={ohms[1]}"))
            load = Load(2, ohms=10e3 + 1e3 * sign["L1"])
            expected = solve(circuit, 12 * (1 + 0.05 * sign["supply"]), 0.0, [load]).voltages[2]
            assert grid.corners[k, row, 2, 0] == pytest.approx(expected, rel=1e-9)
        volts, seen, corner_volts, corner_ohms = grid.lines[2]
        assert volts[k] == pytest.approx(solve(box.circuit, 12.0).voltages[2])
        assert seen[k] == pytest.approx(transfer_ohms(box.circuit, 2)[2])
        assert (
            corner_volts.shape == corner_ohms.shape == (2, 8)
        )  # the load's ends make no difference
    assert grid.starved == [False, False]


def test_a_part_held_to_its_value_is_told_nothing_of_what_it_sees() -> None:
    circuit = build_circuit(read_network("R1=1k + R2=1k"))
    watts, ohms, volts = CornerGrid([Box(circuit, Supply(10.0), (), (0.1, 0.0))]).worst_powers()
    # By hand: R2 takes most with R1 low: (10/1.9)²/1k; R1 sees 1 kΩ, which lies in its range
    assert watts[0] == pytest.approx([25e-3, (10 / 1.9) ** 2 / 1e3])
    assert ohms[0] == pytest.approx([1e3, 1e3])
    assert volts[0] == pytest.approx([10 * 1.1 / 2.1, 10 / 1.9])
