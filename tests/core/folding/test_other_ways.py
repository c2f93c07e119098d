"""The divider rule, node equations, and folds in words."""

import numpy as np
import pytest

from lowfold.core.folding.fold import fold
from lowfold.core.folding.other_ways import divider_rule, node_equations
from lowfold.core.network.circuit import SUPPLY, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.solution import solve

LADDER = "R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))"
BRIDGE = "R1 in a 100\nR2 in b 220\nR3 a 0 330\nR4 b 0 150\nR5 a b 47"


def test_the_divider_rule_applies_where_all_current_passes() -> None:
    circuit = build_circuit(read_text(LADDER))
    folding = fold(circuit)
    rule = divider_rule(folding.start, folding.titles, circuit.node("A"), 15.0)
    # By hand: 12 kΩ beside 3.2 kΩ below A, 6.8 kΩ above
    below = 12e3 * 3.2e3 / 15.2e3
    assert [rule.above, rule.below] == pytest.approx([6800.0, below])
    assert rule.volts == pytest.approx(15 * below / (6800 + below))
    fails = divider_rule(folding.start, folding.titles, circuit.node("B"), 15.0)
    assert fails.volts is None
    assert fails.reason == "not at B: some current reaches 0 V without passing it"


def test_the_divider_rule_fails_in_a_bridge() -> None:
    circuit = build_circuit(read_text(BRIDGE))
    folding = fold(circuit)
    for name in "ab":
        assert divider_rule(folding.start, folding.titles, circuit.node(name), 1.0).volts is None


@pytest.mark.parametrize("source", [0.0, 33.0])
def test_node_equations_are_symmetric_and_agree_with_the_solver(source: float) -> None:
    circuit = build_circuit(read_text(BRIDGE))
    folding = fold(circuit)
    found = node_equations(folding.start, folding.titles, 12.0, source)
    assert np.allclose(found.matrix, found.matrix.T)
    assert found.names == (("a", "b") if not source else ("in", "a", "b"))
    solved = solve(circuit, 12.0, source)
    for name, volts in zip(found.names, found.volts, strict=True):
        node = SUPPLY if name == "in" else circuit.node(name)
        assert volts == pytest.approx(solved.voltages[node], rel=1e-12)
    # Row a by hand: 1/100 + 1/330 + 1/47 on the diagonal, −1/47 beside it
    row = found.matrix[found.names.index("a")]
    assert row[found.names.index("a")] == pytest.approx(1 / 100 + 1 / 330 + 1 / 47)
    assert row[found.names.index("b")] == pytest.approx(-1 / 47)
