"""Wires of a drawing by the junction they are at."""

from hypothesis import given

from lowfold.core.drawing.schematic import Metrics, draw
from lowfold.core.drawing.wires import Wire, with_nets
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import Element
from tests.core.strategies import trees

METRICS = Metrics(part_width=100, part_height=60, symbol=30, lead=10, terminal=80)


def test_wires_that_meet_are_at_one_junction() -> None:
    level, upright, apart = Wire(0, 0, 10, 0), Wire(5, 0, 5, 8), Wire(20, 0, 30, 0)
    assert [w.net for w in with_nets([level, upright, apart], None)] == [0, 0, 1]
    crossing = Wire(5, -4, 5, 4)  # crosses without an end on it
    assert [w.net for w in with_nets([level, crossing], None)] == [0, 1]
    assert [w.net for w in with_nets([Wire(0, 0, 0, 9), level], 0.0)] == [None, 0]


@given(trees())
def test_there_are_as_many_as_the_network_has_nodes(network: Element) -> None:
    drawing = draw(network, METRICS)
    nets = {wire.net for wire in drawing.wires} - {None}
    assert len(nets) == build_circuit(network).nodes


def test_a_load_hangs_between_its_tap_and_the_return() -> None:
    for driven in (True, False):
        network = read_network("1k + @OUT + 2k")
        drawing = draw(network, METRICS, [("L1", "OUT")], driven=driven)
        assert {wire.net for wire in drawing.wires} - {None} == {0, 1, 2}
