"""Parts merged where they act as one."""

import pytest

from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_netlist, read_text
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.condense import condense
from lowfold.core.tolerance.corners import corners


def box_of(
    text: str, supply: Supply, half: float, loads: tuple[tuple[str, float, float, float], ...] = ()
) -> Box:
    circuit = build_circuit(read_text(text))
    ranges = tuple(
        LoadRange(Load(circuit.node(at), ohms=nominal), low, high)
        for at, nominal, low, high in loads
    )
    return Box(circuit, supply, ranges, (half,) * len(circuit.branches))


def test_merging_keeps_what_is_seen_and_drops_dead_ends() -> None:
    circuit = build_circuit(
        read_netlist("R1 in a 1k\nR2 a b 1k\nR3 a 0 1k\nR4 a c 5k\nR5 b 0 2k\nR6 0 b 2k")
    )
    ohms = [b.ohms for b in circuit.branches]
    merged = condense(circuit, ohms, ohms, {0, 1, circuit.node("a")})
    assert sorted((sorted(m.members), m.nominal) for m in merged) == [
        ([0], 1000.0),
        ([1, 2, 4, 5], pytest.approx(1e3 * 2e3 / 3e3)),
    ]


def test_many_parts_that_act_together_need_few_corners() -> None:
    long = " + ".join(["1k"] * 40)
    box = box_of(f"{long} + @OUT + ({' || '.join(['47k'] * 30)})", Supply(5.0, 0.01), 0.01)
    assert corners(box, (box.circuit.node("OUT"), 0)).high.shape == (8, 3)
