"""A network as dots and slanting parts: everything is there once, joined as it is."""

import itertools
import math

import numpy as np
import pytest

from lowfold.core.drawing.schematic import Drawing, Metrics, draw, laid_down
from lowfold.core.drawing.slanted import draw_slanted
from lowfold.core.folding.fold import node_titles
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.solution import solve

SIZES = Metrics(104.0, 82.0, 40.0, 12.0, 0.0, lines=1)
NETWORKS = [
    "R1=1k + @A + R2=2k",
    "R1=1k + @A + (R2=2k || R3=3k || (R4=1k + @B + R5=1k))",
    "R1 in a 1k\nR2 in b 2k\nR3 a b 3k\nR4 a 0 4k\nR5 b 0 5k",
]


def sketched(network: str, seed: int = 3) -> tuple[Circuit, Drawing]:
    circuit = build_circuit(read_text(network))
    volts = dict(enumerate(solve(circuit, 1.0).voltages))
    chance = np.random.default_rng(seed)
    return circuit, draw_slanted(circuit.branches, volts, node_titles(circuit), SIZES, chance)


@pytest.mark.parametrize("network", NETWORKS)
def test_each_part_hangs_between_its_own_two_dots(network: str) -> None:
    circuit, drawing = sketched(network)
    titles = node_titles(circuit)
    dots = {d.name: (d.x, d.y) for d in (*drawing.dots, *drawing.ends)}
    assert sorted(dots) == sorted(titles.values())
    assert len(drawing.parts) == len(circuit.branches)
    for branch in circuit.branches:
        (part,) = [p for p in drawing.parts if p.name == branch.ref]
        turn = math.radians(part.angle)
        along = (-math.sin(turn) * 20, math.cos(turn) * 20)
        ends = [(part.x + s * along[0], part.y + s * along[1]) for s in (-1, 1)]
        joined = set()
        for wire in drawing.wires:
            for near, far in (((wire.x1, wire.y1), (wire.x2, wire.y2)),
                              ((wire.x2, wire.y2), (wire.x1, wire.y1))):  # fmt: skip
                if any(math.dist(near, end) < 0.1 for end in ends):
                    joined |= {n for n, at in dots.items() if math.dist(at, far) < 0.1}
        assert joined == {titles[branch.a], titles[branch.b]}


@pytest.mark.parametrize("network", NETWORKS)
def test_what_is_drawn_has_room_and_the_supply_is_on_top(network: str) -> None:
    _, drawing = sketched(network)
    for one, other in itertools.combinations(drawing.parts, 2):
        assert math.dist((one.x, one.y), (other.x, other.y)) > 34
    ends = {e.name: e.y for e in drawing.ends}
    assert ends["in"] == min(d.y for d in (*drawing.dots, *drawing.ends))
    assert ends["0"] == max(d.y for d in (*drawing.dots, *drawing.ends))
    assert sketched(network)[1] == drawing  # the same chance, the same sketch
    assert any(abs(p.angle) > 3 for p in drawing.parts)
    assert {w.net for w in drawing.wires} >= {SUPPLY, GROUND}


def test_laid_down_it_runs_across() -> None:
    upright = draw(read_text("R1=1k + @A + (R2=2k || R3=3k)"), SIZES)  # type: ignore[arg-type]
    lying = laid_down(upright)
    assert (lying.width, lying.height) == (upright.height, upright.width)
    assert [(p.x, p.y, p.angle) for p in lying.parts] == [(p.y, p.x, -90.0) for p in upright.parts]
    assert [w.net for w in lying.wires] == [w.net for w in upright.wires]
