"""The divider rule, node equations, and folds in words."""

import numpy as np
import pytest

from lowfold.core.drawing.rails import draw_rails
from lowfold.core.drawing.schematic import Metrics
from lowfold.core.folding.fold import fold
from lowfold.core.folding.other_ways import divider_rule, node_equations
from lowfold.core.folding.words import rule_of, same_of, worked
from lowfold.core.network.circuit import SUPPLY, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nodes import solve
from lowfold.core.solving.unknown import Known, find_unknown, read_unknown
from lowfold.core.values.ohm import any_two
from lowfold.core.values.quantities import OHM

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


def test_steps_are_said_in_the_school_asked_for() -> None:
    series, parallel, _ = fold(build_circuit(read_text(LADDER))).steps
    assert worked(series, "reciprocals") == "1 kΩ + 2.2 kΩ = 3.2 kΩ"
    assert rule_of(series, "product") == "R = R₁ + R₂"
    assert same_of(series) == "No third wire leaves between R2 and R3: they share one current."
    # By hand: 12·3.2/15.2 = 2.526 kΩ; 83.33 + 312.5 = 395.8 µS
    assert worked(parallel, "reciprocals") == "12 kΩ ∥ 3.2 kΩ = 1 ÷ (1/12 kΩ + 1/3.2 kΩ) = 2.526 kΩ"
    assert worked(parallel, "conductances") == (
        "12 kΩ ∥ 3.2 kΩ: 83.33 µS + 312.5 µS = 395.8 µS, so 2.526 kΩ"
    )
    assert worked(parallel, "product", 3) == (
        "12 kΩ ∥ 3.2 kΩ = 12 kΩ · 3.2 kΩ ÷ (12 kΩ + 3.2 kΩ) = 2.53 kΩ"
    )
    assert rule_of(parallel, "product") == "R = R₁·R₂ / (R₁ + R₂)"
    three = fold(build_circuit(read_text("1k || 2k || 3k"))).steps[0]
    assert "1/1 kΩ + 1/2 kΩ + 1/3 kΩ" in worked(three, "product")  # the rule is for two
    star = fold(build_circuit(read_text(BRIDGE))).steps[0]
    assert rule_of(star, "reciprocals") == "Rab = Ra + Rb + Ra·Rb/Rc"
    assert "becomes the delta" in same_of(star)
    assert worked(star, "reciprocals").count(" = ") == 3


METRICS = Metrics(part_width=100, part_height=60, symbol=30, lead=10, terminal=80)


def test_a_bridge_is_drawn_on_rails_with_no_wire_across_another() -> None:
    circuit = build_circuit(read_text(BRIDGE))
    folding = fold(circuit)
    volts = dict(enumerate(solve(circuit, 10.0).voltages))
    drawn = draw_rails(folding.start, volts, folding.titles, METRICS)
    assert {p.name for p in drawn.parts} == {"R1", "R2", "R3", "R4", "R5"}
    assert len({p.x for p in drawn.parts}) == 5
    rails = [w for w in drawn.wires if w.y1 == w.y2]
    upright = [w for w in drawn.wires if w.x1 == w.x2 and w.x1 > 0]
    crossings = [
        (rail, wire)
        for rail in rails
        for wire in upright
        if rail.x1 < wire.x1 < rail.x2 and wire.y1 < rail.y1 < wire.y2
    ]
    assert crossings == []
    heights = {d.name: d.y for d in drawn.dots if d.name}
    assert set(heights) == {"a", "b"}
    higher, lower = sorted("ab", key=lambda n: -volts[circuit.node(n)])
    assert heights[higher] < heights[lower]  # current runs down
    bare = draw_rails(folding.start, volts, folding.titles, METRICS, driven=False)
    assert bare.supply is None
    assert [e.name for e in bare.ends] == ["in", "0"]


def test_an_unknown_keeps_its_name_and_lies_between_its_neighbours() -> None:
    circuit, position = read_unknown("R1=1k + @OUT + Rx1=?")
    values = (100.0, 220.0, 470.0, 1000.0, 2200.0)
    found = find_unknown(circuit, position, Known("node", 4.0, "OUT"), values, 12.0)
    # By hand: 4/(12 − 4) · 1 kΩ = 500 Ω; the nearest standard value is 470 Ω: 12·470/1470 V
    assert found.ref == "Rx1"
    assert found.ohms == pytest.approx(500.0, rel=1e-12)
    assert [n.ohms for n in found.nearest] == [470.0, 1000.0, 220.0, 2200.0]
    assert found.nearest[0].gives == pytest.approx(12 * 470 / 1470)
    assert found.nearest[0].error == pytest.approx(12 * 470 / 1470 / 4 - 1)


def test_any_two_is_consistent_with_itself() -> None:
    found = any_two(ohms=470.0, watts=0.25)
    assert found.volts * found.amps == pytest.approx(0.25)
    assert found.volts / found.amps == pytest.approx(470.0)
    assert OHM.unit == "Ω"
