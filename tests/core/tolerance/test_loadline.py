"""The load line against the general solver, and passing loads against trying them."""

import math
import random

import numpy as np
import pytest

from lowfold.core.errors import TopologyError
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.loadline import load_line
from lowfold.core.tolerance.spread import output_spread
from tests.core.strategies import random_mesh


def box_of(text: str, supply: Supply, half: float, *loads: LoadRange) -> Box:
    circuit = build_circuit(read_text(text))
    return Box(circuit, supply, loads, (half,) * len(circuit.branches))


def test_a_divider_by_hand() -> None:
    # Thévenin by hand: 12 V · 1/(2 + 1) = 4 V behind 2k ∥ 1k = 666.7 Ω
    line = load_line(box_of("2k + @OUT + 1k", Supply(12.0), 0.0), 2)
    assert line.open_volts == pytest.approx(4.0)
    assert line.source_ohms == pytest.approx(2000 / 3)
    assert line.short_amps == pytest.approx(12 / 2000)
    assert line.volts(np.array([0.0, 3e-3, 6e-3, 9e-3])) == pytest.approx([4.0, 2.0, 0.0, 0.0])
    passing = line.passing(3.8, 4.2)
    assert passing is not None
    # 0.2 V over 666.7 Ω is 300 µA; 3.8 V at 300 µA is 12.67 kΩ
    assert (passing.least_amps, passing.most_amps) == pytest.approx((0.0, 3e-4))
    assert passing.heaviest_ohms == pytest.approx(3.8 / 3e-4)
    assert math.isinf(passing.lightest_ohms)


def test_an_output_that_needs_its_load_has_a_lightest_one() -> None:
    line = load_line(box_of("2k + @OUT + 1k", Supply(12.0), 0.0), 2)
    passing = line.passing(3.0, 3.2)
    assert passing is not None
    assert passing.least_amps == pytest.approx(0.8 / (2000 / 3))
    assert line.volts_into(passing.lightest_ohms) == pytest.approx(3.2)
    assert line.volts_into(passing.heaviest_ohms) == pytest.approx(3.0)
    assert line.passing(4.1, 4.3) is None


@pytest.mark.parametrize("seed", range(8))
def test_lines_of_random_meshes_agree_with_the_solver(seed: int) -> None:
    rng = random.Random(seed)
    circuit = build_circuit(read_text(random_mesh(rng, 5, 8)))
    source = rng.choice([0.0, 33.0])
    elsewhere = LoadRange(Load(3, ohms=470.0), 470.0, 470.0)
    box = Box(circuit, Supply(9.0, 0.0, source), (elsewhere,), (0.0,) * 8)
    line = load_line(box, 2)
    for ohms in (10.0, 1e3, 1e5):
        volts = solve(circuit, 9.0, source, [elsewhere.load, Load(2, ohms=ohms)]).voltages[2]
        assert line.volts_into(ohms) == pytest.approx(volts, rel=1e-9)
    amps = 0.3 * line.short_amps
    volts = solve(circuit, 9.0, source, [elsewhere.load, Load(2, amps=amps)]).voltages[2]
    assert line.volts(np.array([amps]))[0] == pytest.approx(volts, rel=1e-9)


@pytest.mark.parametrize("source", [0.0, 150.0])
def test_extremes_along_the_line_are_those_of_the_box(source: float) -> None:
    box = box_of("3k3 + @OUT + (2k2 || 10k)", Supply(5.0, 0.03, source), 0.05)
    line = load_line(box, 2)
    for amps in (0.0, 2e-4, 6e-4):
        lowest, highest = line.extremes(np.array([amps]))
        load = LoadRange(Load(2, amps=amps), amps, amps)
        spread = output_spread(Box(box.circuit, box.supply, (load,), box.half_widths), 2)
        assert lowest[0] == pytest.approx(spread.lowest, rel=1e-9)
        assert highest[0] == pytest.approx(spread.highest, rel=1e-9)


def test_what_passes_at_worst_just_passes_and_no_more() -> None:
    box = box_of("3k3 + @OUT + 2k2", Supply(5.0, 0.01), 0.01)
    passing = load_line(box, 2).passing_at_worst(1.8, 2.2)
    assert passing is not None

    def lowest(ohms: float) -> float:
        load = LoadRange(Load(2, ohms=ohms), ohms, ohms)
        return output_spread(Box(box.circuit, box.supply, (load,), box.half_widths), 2).lowest

    assert lowest(passing.heaviest_ohms) == pytest.approx(1.8)
    assert lowest(passing.heaviest_ohms * 0.999) < 1.8
    assert load_line(box, 2).passing_at_worst(1.99, 2.01) is None


def test_a_negative_supply_mirrors() -> None:
    line = load_line(box_of("2k + @OUT + 1k", Supply(-12.0), 0.0), 2)
    passing = line.passing(-4.2, -3.8)
    assert passing is not None
    assert passing.heaviest_ohms == pytest.approx(3.8 / 3e-4)
    assert line.volts(np.array([1e-3])) == pytest.approx([-4.0])  # a current load does not draw


def test_a_junction_that_hangs_on_nothing_is_refused() -> None:
    box = box_of("R1 in 0 1k\nR2 a b 1k", Supply(5.0), 0.0)
    with pytest.raises(TopologyError, match="nothing connects this junction"):
        load_line(box, box.circuit.node("a"))


def test_connected_loads_shift_the_point_and_what_one_more_sees() -> None:
    line = load_line(box_of("2k + @OUT + 1k", Supply(12.0), 0.0), 2)
    volts, behind = line.connected([Load(2, ohms=2e3), Load(2, amps=1e-3)])
    # By hand: 2k ∥ 1k ∥ 2k = 500 Ω; (12/2k − 1 mA) · 500 Ω
    assert (volts, behind) == pytest.approx((2.5, 500.0))


def test_an_output_without_resistance_stands_whatever_is_drawn() -> None:
    box = box_of("2k + @OUT + 1k", Supply(12.0), 0.0)
    line = load_line(box, 1)
    assert (line.source_ohms, line.short_amps) == (0.0, math.inf)
    passing = line.passing(12.0, 13.0)
    assert passing is not None
    assert (passing.most_amps, passing.heaviest_ohms) == (math.inf, 0.0)
    assert line.passing(10.0, 11.0) is None


def test_an_output_at_the_low_end_passes_with_no_load_only() -> None:
    line = load_line(box_of("2k + @OUT + 1k", Supply(12.0), 0.0), 2)
    passing = line.passing(line.open_volts, 5.0)
    assert passing is not None
    assert (passing.most_amps, passing.heaviest_ohms) == (0.0, math.inf)


def test_a_range_of_resistances_and_none_are_told_apart() -> None:
    # By hand: 4 V behind 666.7 Ω is 3.8 V at 300 µA, which no resistance heavier than 12.67 kΩ takes
    line = load_line(box_of("2k + @OUT + 1k", Supply(12.0), 0.0), 2)
    some, none = line.passing(3.8, 4.2), line.passing(4.0, 4.2)
    assert some is not None
    assert some.resistances
    assert some.heaviest_ohms < some.lightest_ohms
    assert none is not None
    assert not none.resistances or math.isinf(none.heaviest_ohms)
