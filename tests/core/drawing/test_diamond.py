"""A bridge as a diamond: which networks are one, and that its wires join what the network joins."""

import itertools
import math

import pytest

from lowfold.core.drawing.diamond import diamond
from lowfold.core.drawing.rails import MOST_APART, draw_rails
from lowfold.core.drawing.schematic import Metrics
from lowfold.core.network.circuit import Circuit, build_circuit, junctions, lifted
from lowfold.core.network.notation import read_text

SIZES = Metrics(part_width=140, part_height=90, symbol=44, lead=14, terminal=66)
BRIDGE = "R1 in a 1k2\nR2 in b 1k8\nR3 a b 3k3\nR4 a 0 1k\nR5 b 0 1k5"


def titles(circuit: Circuit) -> dict[int, str]:
    return {node: name for name, node in junctions(circuit).items()}


@pytest.mark.parametrize(
    ("text", "is_one"),
    [
        (BRIDGE, True),
        ("R1 a in 1k\nR2 b in 1k\nR3 b a 1k\nR4 0 a 1k\nR5 0 b 1k", True),
        (BRIDGE + "\nR6 in 0 1k", False),
        ("R1 in a 1k\nR2 in b 1k\nR3 a b 3k\nR4 a 0 1k", False),
        ("R1 in a 1k\nR2 in b 1k\nR3 in a 3k\nR4 a 0 1k\nR5 b 0 1k", False),
        ("R1 in a 1k\nR2 a b 1k\nR3 b c 3k\nR4 c 0 1k\nR5 a 0 1k", False),
    ],
)
def test_four_arms_and_one_bridge_are_a_diamond(text: str, is_one: bool) -> None:  # noqa: FBT001
    circuit = build_circuit(read_text(text))
    assert (diamond(circuit.branches, titles(circuit), SIZES) is not None) is is_one


def test_each_part_lies_on_the_line_between_its_junctions() -> None:
    circuit = build_circuit(read_text(BRIDGE))
    found = diamond(circuit.branches, titles(circuit), SIZES)
    assert found is not None
    half = found.symbol / 2
    for part in found.parts:
        # The ends of the symbol as turned: two wires end there, at the nodes of the part
        turn = math.radians(part.angle)
        ends = {
            (round(part.x - s * half * math.sin(turn), 6), round(part.y + s * half * math.cos(turn), 6))
            for s in (-1, 1)
        }  # fmt: skip
        touching = [
            w.net
            for w in found.wires
            for x, y in ((w.x1, w.y1), (w.x2, w.y2))
            if (round(x, 6), round(y, 6)) in ends
        ]
        branch = circuit.branches[circuit.branch(part.name)]
        assert {*touching} == {branch.a, branch.b}
    assert {d.name for d in found.dots if d.name} == {"a", "b"}


def test_between_two_supplies_it_has_terminals_and_a_mark_of_0_v() -> None:
    circuit = lifted(build_circuit(read_text(BRIDGE)), -5.0)
    found = diamond(
        circuit.branches, titles(circuit), SIZES, low=circuit.low, two_ends=True
    )  # fmt: skip
    assert found is not None
    assert found.supply is None
    assert [e.name for e in found.ends] == ["in", "0"]
    assert [g.name for g in found.grounds] == ["0 V"]


def test_many_parts_stand_above_one_another_and_none_on_another() -> None:
    nodes = ["in", *"abcdef", "0"]
    lines = [f"R{k} {a} {b} 1k" for k, (a, b) in enumerate(itertools.pairwise(nodes), 1)]
    lines += [f"R{k + 7} {a} {b} 2k" for k, (a, b) in enumerate(
        [("in", "c"), ("a", "e"), ("b", "f"), ("c", "0"), ("d", "0"), ("in", "e")], 1
    )]  # fmt: skip
    circuit = build_circuit(read_text("\n".join(lines)))
    volts = {node: 8.0 - nodes.index(name) for name, node in junctions(circuit).items()}
    found = draw_rails(circuit.branches, volts, titles(circuit), SIZES)
    columns = {p.x for p in found.parts}
    assert len(circuit.branches) > MOST_APART
    assert len(columns) < len(circuit.branches)
    spots = [(p.x, p.y) for p in found.parts]
    assert len(set(spots)) == len(spots)
    for part in found.parts:
        branch = circuit.branches[circuit.branch(part.name)]
        for other in found.parts:
            if other is part or other.x != part.x:
                continue
            theirs = circuit.branches[circuit.branch(other.name)]
            top, foot = sorted((8 - volts[branch.a], 8 - volts[branch.b]))
            upper, lower = sorted((8 - volts[theirs.a], 8 - volts[theirs.b]))
            assert foot <= upper or lower <= top
