"""Corners found by signs, against all corners, against closed forms, and against a climb."""

import math
import random

import numpy as np
import pytest

from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_netlist
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance import corners as laid_out
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.corners import corners
from lowfold.core.tolerance.loadline import load_line
from lowfold.core.tolerance.power import worst_power
from lowfold.core.tolerance.spread import output_spread
from tests.core.strategies import complete, random_mesh
from tests.core.tolerance.test_box import figures_of


def steps(bits: int) -> str:
    """A ladder of 10 kΩ with 20 kΩ rungs to `in` or `0`, ended by 20 kΩ: known in closed form."""
    rungs = [
        f"R{k} {'in' if k % 3 else '0'} n{k} 20k\nQ{k} n{k} n{k + 1} 10k" for k in range(bits - 1)
    ]
    last = bits - 1
    return "\n".join(["T n0 0 20k", *rungs, f"R{last} {'in' if last % 3 else '0'} n{last} 20k"])


def random_box(seed: int) -> Box:
    rng = random.Random(seed)
    nodes = rng.randint(4, 6)
    circuit = build_circuit(read_netlist(random_mesh(rng, nodes, rng.randint(nodes, 9))))
    loads = []
    if seed % 3:
        at = circuit.node(rng.choice("ab"))
        loads.append(LoadRange(Load(at, ohms=1e3), rng.choice([300, 1e3]), rng.choice([1e3, 9e3])))
    if seed % 4 == 0:
        at = circuit.node(rng.choice("ab"))
        loads.append(LoadRange(Load(at, amps=1e-4), 0.0, rng.choice([1e-4, 3e-4, 0.1])))
    supply = rng.choice(
        [
            Supply(9.0, 0.05),
            Supply(9.0, 0.0, 20.0),
            Supply(-5.0, 0.05),
            Supply(0.01, 0.05, math.inf),
        ]
    )
    halves = tuple(rng.choice([0.0, 0.001, 0.01, 0.05, 0.3, 0.8]) for _ in circuit.branches)
    return Box(circuit, supply, tuple(loads), halves)


def everything(box: Box) -> list[float]:
    """Extremes of an output, of every power and voltage, and of the load line at 20 currents."""
    node = box.circuit.node("a")
    spread, line = output_spread(box, node), load_line(box, node)
    powers = [worst_power(box, k) for k in range(len(box.circuit.branches))]
    reach = min(1.2 * abs(line.short_amps), 10.0)
    ends = np.concatenate(line.extremes(np.linspace(0.0, reach, 20)))
    sizes = [x for p in powers for x in (p.watts, p.volts)]
    return [spread.lowest, spread.highest, *sizes, *ends.tolist()]


@pytest.mark.parametrize("seed", range(30))
def test_corners_by_signs_hold_the_extremes_of_all_corners(
    seed: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    box = random_box(seed)
    plain = everything(box)
    monkeypatch.setattr(laid_out, "FEW_STEPS", 0)
    assert everything(box) == pytest.approx(plain, rel=1e-10, abs=1e-14)


def test_far_fewer_corners_than_there_are() -> None:
    box = Box(build_circuit(read_netlist(steps(14))), Supply(5.0, 0.01), (), (0.01,) * 28)
    found = corners(box, (box.circuit.node("n13"), 0))
    assert len(found.variables) == 27  # the last two rungs act as one: 2²⁷ corners
    assert len(found.high) <= 8


@pytest.mark.parametrize("bits", [8, 14])
def test_a_long_ladder_against_its_closed_form(bits: int) -> None:
    # Closed form: rung k of a ladder of 2R and R, of `bits`, adds E · 2^(k − bits)
    box = Box(build_circuit(read_netlist(steps(bits))), Supply(5.0), (), (1e-9,) * (2 * bits))
    found = output_spread(box, box.circuit.node(f"n{bits - 1}"))
    expected = 5.0 * sum(2.0 ** (k - bits) for k in range(bits) if k % 3)
    assert found.nominal == pytest.approx(expected, rel=1e-12)
    # Parts this near to nominal: the extremes are first order, the sum of the contributions
    first = sum(abs(s.contribution_v) for s in found.sensitivities)
    assert found.highest - found.nominal == pytest.approx(first, rel=1e-5)
    assert found.nominal - found.lowest == pytest.approx(first, rel=1e-5)


@pytest.mark.parametrize("half", [0.02, 0.3])
def test_no_climb_from_anywhere_gets_beyond(half: float) -> None:
    # A voltage is monotonic in each value, so going from end to end, part by part, climbs to a
    # corner that no single part betters; none of them may lie beyond the extremes
    rng = random.Random(5)
    circuit = build_circuit(read_netlist(random_mesh(rng, 10, 24)))
    box = Box(circuit, Supply(9.0, 0.05, 10.0), (), (half,) * 24)
    node = circuit.node("c")
    assert len(corners(box, (node, 0)).variables) > 16
    found = output_spread(box, node)
    reached = set()
    for sign in (1, -1):
        for _ in range(8):
            x = [rng.choice([-1.0, 1.0]) for _ in range(25)]
            best, stuck = sign * figures_of(box, x, node), False
            while not stuck:
                stuck = True
                for k in range(25):
                    turned = [-v if i == k else v for i, v in enumerate(x)]
                    other = sign * figures_of(box, turned, node)
                    if other > best + 1e-15:
                        x, best, stuck = turned, other, False
            assert found.lowest - 1e-12 <= sign * best <= found.highest + 1e-12
            reached.add(round(sign * best, 9))
    assert {round(found.lowest, 9), round(found.highest, 9)} <= reached


def test_a_part_no_current_passes_does_not_count() -> None:
    box = Box(build_circuit(read_netlist(steps(8))), Supply(5.0), (), (0.01,) * 16)
    node = box.circuit.node("n7")
    hung = read_netlist(steps(8) + "\nX1 n7 x 1k\nX2 x y 1k\nX3 y n7 1k\nX4 x n7 1k\nX5 y n7 2k")
    beside = Box(build_circuit(hung), Supply(5.0), (), (0.01,) * 21)
    other = output_spread(beside, beside.circuit.node("n7"))
    assert output_spread(box, node).highest == pytest.approx(other.highest, rel=1e-12)
    assert worst_power(beside, beside.circuit.branch("X2")).watts == 0.0


def test_the_worst_power_of_many_parts_may_lie_inside() -> None:
    # Maximum power transfer: a ladder of 2R and R is R behind its open voltage, so V²/4R at R
    bare = Box(build_circuit(read_netlist(steps(12))), Supply(5.0), (), (0.0,) * 24)
    volts = output_spread(bare, bare.circuit.node("n11")).nominal
    circuit = build_circuit(read_netlist(steps(12) + "\nRL n11 0 10k"))
    place = circuit.branch("RL")
    halves = tuple(0.3 if k == place else 1e-6 for k in range(len(circuit.branches)))
    found = worst_power(Box(circuit, Supply(5.0), (), halves), place)
    assert found.ohms == pytest.approx(10e3, rel=1e-5)
    assert found.watts == pytest.approx(volts**2 / 4 / 10e3, rel=1e-4)
    assert found.watts > volts**2 / 4 / 10e3


def test_what_signs_leave_open_is_refused() -> None:
    # All but two nodes at one potential: no part between them has a voltage to go by
    box = Box(build_circuit(read_netlist(complete(8))), Supply(5.0), (), (0.05,) * 28)
    place = box.circuit.branch("R20")
    with pytest.raises(TooLargeError, match=r"27 values .* 2\^27 corners.*; at most 65536 are"):
        worst_power(box, place)


def test_too_many_values_are_refused_before_any_work() -> None:
    box = Box(build_circuit(read_netlist(steps(70))), Supply(5.0), (), (0.01,) * 140)
    with pytest.raises(TooLargeError, match="138 values move independently; the worst case of up"):
        output_spread(box, box.circuit.node("n69"))
