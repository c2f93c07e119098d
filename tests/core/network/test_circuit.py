"""Networks laid out as nodes and branches."""

import pytest

from lowfold.core.errors import TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY, build_circuit, load_names, switch_refs
from lowfold.core.network.notation import read_text


def test_a_tap_names_the_node_between_two_parts() -> None:
    circuit = build_circuit(read_text("R1=1k + @OUT + R2=2k"))
    assert [(b.ref, b.a, b.b) for b in circuit.branches] == [("R1", SUPPLY, 2), ("R2", 2, GROUND)]
    assert circuit.node("out") == 2
    assert (circuit.node("in"), circuit.node("0")) == (SUPPLY, GROUND)
    assert circuit.branch("r2") == 1


def test_a_closed_switch_makes_two_junctions_one() -> None:
    network = read_text("R1 in a 1k\nS1 a b\nR2 b 0 1k\nR3 a 0 1k")
    assert switch_refs(network) == ("S1",)
    assert build_circuit(network).nodes == 4
    shut = build_circuit(network, ["s1"])
    assert shut.nodes == 3
    assert shut.node("a") == shut.node("b")


@pytest.mark.parametrize(
    ("text", "closed", "message"),
    [
        ("1k + 1k", ["S9"], "the network has no switch called “S9”; there are: none"),
        ("R1 a 0 1k", [], "no part reaches node “in”"),
        ("S1 in 0\nR1 in 0 1k", ["S1"], "a short straight across the supply"),
        ("R1=1k + @in + R2=1k", [], "“in” is an end of the supply"),
        ("R1=1k + @IN + R2=1k", [], "“IN” is an end of the supply"),
    ],
)
def test_what_cannot_be_laid_out_says_why(text: str, closed: list[str], message: str) -> None:
    with pytest.raises(TopologyError, match=message):
        build_circuit(read_text(text), closed)


def test_a_load_never_has_the_name_of_a_part() -> None:
    circuit = build_circuit(read_text("L1=1k + L3=2k"))
    assert load_names(circuit, 3) == ["L1x", "L2", "L3x"]


def test_what_is_not_there_is_named_with_what_is() -> None:
    circuit = build_circuit(read_text("R1=1k + @OUT + R2=2k"))
    with pytest.raises(TopologyError, match="no junction called “X”; there are: OUT"):
        circuit.node("X")
    with pytest.raises(TopologyError, match="no part called “R9”; there are: R1, R2"):
        circuit.branch("R9")


def test_an_end_of_the_supply_may_be_named_where_it_is() -> None:
    circuit = build_circuit(read_text("@in + R1=1k + @A + R2=2k"))
    assert circuit.names == {"in": SUPPLY, "A": 2}
