"""Potentials as heights: places against potentials, falls against Kirchhoff's voltage law."""

import itertools
import random

import pytest

from lowfold.core.drawing.heights import APART, Heights, heights
from lowfold.core.network.circuit import Circuit, build_circuit, junctions, lifted
from lowfold.core.network.notation import read_text
from lowfold.core.solving.solution import solve


def drawn(text: str, volts: float, low: float = 0.0) -> tuple[Heights, Circuit]:
    circuit = lifted(build_circuit(read_text(text)), low)
    found = solve(circuit, volts, low_v=low)
    titles = {node: name for name, node in junctions(circuit).items()}
    picture = heights(circuit.branches, dict(enumerate(found.voltages)), titles)
    assert picture is not None
    return picture, circuit


def test_a_loaded_divider_by_hand() -> None:
    # 6 V over 1 kΩ and 2 kΩ ∥ 2 kΩ: half falls on each.
    found, _ = drawn("R1=1k + @A + (R2=2k || R3=2k)", 6.0)
    assert [(level.name, level.height) for level in found.levels] == [
        ("in", 1.0), ("A", pytest.approx(0.5)), ("0", 0.0),
    ]  # fmt: skip
    falls = {f.ref: f for f in found.falls}
    assert falls["R1"].volts == pytest.approx(3.0)
    assert falls["R2"].shared == ("R3",)
    assert falls["R3"].shared == ("R2",)
    assert falls["R2"].upper == pytest.approx(0.5)
    assert falls["R2"].lower == 0.0


def test_drawn_again_it_is_the_same_and_nothing_lies_beside_itself() -> None:
    text = "R1=1k1 + @A + (R2=2k || R3=2k)"
    first, second = (drawn(text, 6.0)[0] for _ in range(2))
    assert first == second
    assert all(fall.ref not in fall.shared for fall in second.falls)


def test_below_0_v_the_picture_goes_down_to_the_low_end() -> None:
    found, _ = drawn("R1=1k + @A + R2=1k", 5.0, -5.0)
    assert (found.lowest, found.highest) == (-5.0, 5.0)
    assert {level.name: level.height for level in found.levels} == {
        "in": 1.0, "A": pytest.approx(0.5), "0": 0.0,
    }  # fmt: skip


@pytest.mark.parametrize("seed", range(12))
def test_the_falls_round_every_loop_add_up(seed: int) -> None:
    chance = random.Random(seed)
    way = ["in", "a", "b", "c", "0"]
    pairs = [*itertools.pairwise(way), *(chance.sample(way, 2) for _ in range(4))]
    text = "\n".join(
        f"R{k} {a} {b} {chance.choice(['1k', '2k2', '470', '10k'])}"
        for k, (a, b) in enumerate(pairs, 1)
    )
    found, circuit = drawn(text, 12.0)
    at = {level.node: level.height for level in found.levels}
    for branch in circuit.branches:
        fall = next(f for f in found.falls if f.ref == branch.ref)
        # A fall stands between the levels of its ends, and is as tall as its voltage
        assert {fall.upper, fall.lower} == {at[branch.a], at[branch.b]}
        assert fall.volts == pytest.approx(12.0 * (fall.upper - fall.lower), abs=1e-9)
    columns = [f.column for f in found.falls]
    assert sorted(columns) == list(range(found.columns))
    for level in found.levels:
        touching = [
            f.column
            for f in found.falls
            for b in circuit.branches
            if b.ref == f.ref and level.node in (b.a, b.b)
        ]
        assert (level.start, level.stop) == (min(touching), max(touching))


def test_names_of_near_levels_stand_apart_and_inside() -> None:
    parts = " + ".join(f"@N{k} + R{k}=1" for k in range(1, 9))
    found, _ = drawn(f"R0=10k + {parts}", 5.0)
    labels = [level.label for level in found.levels]
    assert all(a - b >= APART - 1e-9 for a, b in itertools.pairwise(labels))
    assert max(labels) <= 1
    assert min(labels) >= 0


def test_what_no_potential_reaches_is_no_picture() -> None:
    circuit = build_circuit(read_text("R1=1k + @A + R2=1k"))
    assert heights(circuit.branches, {}, {}) is None
