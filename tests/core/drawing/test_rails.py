"""Networks that are no tree, drawn on rails."""

from lowfold.core.drawing.rails import draw_rails
from lowfold.core.drawing.schematic import Metrics
from lowfold.core.folding.fold import fold
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.solution import solve

BRIDGE = "R1 in a 100\nR2 in b 220\nR3 a 0 330\nR4 b 0 150\nR5 a b 47"


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
