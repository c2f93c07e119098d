"""Where the leads go: on a wire of the junction they are named for."""

import pytest

from lowfold.core.drawing.leads import lead_places
from lowfold.core.drawing.rails import draw_rails
from lowfold.core.drawing.schematic import Drawing, Metrics, draw
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit, build_circuit, junctions
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.solving.solution import solve

METRICS = Metrics(part_width=100, part_height=80, symbol=40, lead=14, terminal=66)

NETWORKS = [
    "R1=1k",
    "R1=1k + R2=2k",
    "R1=1k + @A + (R2=2k || (R3=3k + @B + R4=4k))",
    "(R1=1k + R2=2k) || (R3=3k + R4=4k) || R5=5k",
    "R1=1k + (R2=2k || R3=3k || (R4=4k + (R5=5k || R6=6k))) + @X + R7=7k",
    "R1 in a 1k\nR2 a 0 2k\nR3 in b 3k\nR4 b 0 4k\nR5 a b 5k",
]


def drawn(text: str) -> tuple[Circuit, Drawing]:
    network = read_text(text)
    circuit = build_circuit(network)
    if isinstance(network, Netlist):
        titles = {node: name for name, node in junctions(circuit).items()}
        volts = dict(enumerate(solve(circuit, 1.0).voltages))
        return circuit, draw_rails(circuit.branches, volts, titles, METRICS)
    return circuit, draw(network, METRICS)


@pytest.mark.parametrize("text", NETWORKS)
def test_each_lead_lies_on_a_wire_that_ends_at_its_parts(text: str) -> None:
    circuit, drawing = drawn(text)
    places = lead_places(circuit, drawing)
    assert set(places) == set(junctions(circuit).values())
    nets = {
        node: next(w.net for w in drawing.wires if w.net is not None and w.holds(*at))
        for node, at in places.items()
    }
    assert len(set(nets.values())) == len(nets)
    half = drawing.symbol / 2
    for branch in circuit.branches:
        (part,) = (p for p in drawing.parts if p.name == branch.ref)
        touching = {
            next(w.net for w in drawing.wires if w.net is not None and w.holds(part.x, y))
            for y in (part.y - half, part.y + half)
        }
        assert touching == {nets[branch.a], nets[branch.b]}


def test_a_closed_switch_is_one_junction_and_an_open_one_two() -> None:
    network = read_text("R1=1k + S1 + R2=2k")
    assert not isinstance(network, Netlist)
    closed = build_circuit(network, ["S1"])
    places = lead_places(closed, draw(network, METRICS), ["S1"])
    assert set(places) == {GROUND, SUPPLY, 2}
    apart = lead_places(build_circuit(network), draw(network, METRICS))
    assert {GROUND, SUPPLY} <= set(apart)
