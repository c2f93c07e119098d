"""Folding and unfolding against independent solutions, and the worked circuits of the trade."""

import itertools
import random

import networkx as nx
import numpy as np
import pytest
import sympy

from lowfold.core.folding.fold import fold
from lowfold.core.folding.unfold import unfold
from lowfold.core.folding.words import same_of
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch, Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load
from tests.effort import seeds


def circuit_of(text: str, closed: tuple[str, ...] = ()) -> Circuit:
    return build_circuit(read_text(text), closed)


def between_the_ends(edges: tuple[Branch, ...]) -> float:
    """networkx: effective resistance, parallel edges merged by their conductance."""
    graph = nx.Graph()
    for e in edges:
        siemens = 1 / e.ohms + (graph[e.a][e.b]["weight"] if graph.has_edge(e.a, e.b) else 0.0)
        graph.add_edge(e.a, e.b, weight=siemens)
    return float(
        nx.resistance_distance(graph, SUPPLY, GROUND, weight="weight", invert_weight=False)
    )


def nodal(edges: tuple[Branch, ...], volts: float) -> dict[int, float]:
    """NumPy: node voltages by the plain nodal matrix."""
    nodes = sorted({n for e in edges for n in (e.a, e.b)} - {GROUND, SUPPLY})
    place = {n: k for k, n in enumerate(nodes)}
    matrix, right = np.zeros((len(nodes), len(nodes))), np.zeros(len(nodes))
    for e in edges:
        for one, two in ((e.a, e.b), (e.b, e.a)):
            if one in place:
                matrix[place[one], place[one]] += 1 / e.ohms
                if two in place:
                    matrix[place[one], place[two]] -= 1 / e.ohms
                elif two == SUPPLY:
                    right[place[one]] += volts / e.ohms
    solved = np.linalg.solve(matrix, right) if nodes else np.zeros(0)
    return {GROUND: 0.0, SUPPLY: volts, **dict(zip(nodes, solved, strict=True))}


def random_edges(rng: random.Random, *, dense: bool) -> str:
    """A connected random netlist, bridges and rings among them."""
    nodes = ["in", "0", *(f"k{i}" for i in range(rng.randint(0, 6)))]
    pairs = [(nodes[i], nodes[rng.randrange(i)]) for i in range(1, len(nodes))]
    pairs += [tuple(rng.sample(nodes, 2)) for _ in range(rng.randint(0, 9 if dense else 3))]  # type: ignore[misc]
    return "\n".join(
        f"R{i} {a} {b} {rng.choice([1, 4.7, 10, 33, 100, 470, 2200])}"
        for i, (a, b) in enumerate(pairs, start=1)
    )


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(30))
def test_every_step_leaves_what_the_source_sees(seed: int) -> None:
    rng = random.Random(seed)
    circuit = circuit_of(random_edges(rng, dense=seed % 2 == 0))
    loads = [Load(rng.randrange(circuit.nodes), ohms=50.0)] if seed % 3 else []
    loads = [x for x in loads if x.at not in (GROUND, SUPPLY)]
    folding = fold(circuit, loads)
    assert folding.total is not None
    expected = between_the_ends(folding.start)
    for step in folding.steps:
        assert between_the_ends(step.left) == pytest.approx(expected, rel=1e-9)
        written = build_circuit(read_text(step.remains))
        again = tuple(Branch(b.ref, b.a, b.b, b.ohms) for b in written.branches)
        assert between_the_ends(again) == pytest.approx(expected, rel=1e-9)
        assert {e.ref for e in step.left} == {b.ref for b in written.branches}
    assert folding.total.ohms == pytest.approx(expected, rel=1e-9)
    unfolded = unfold(folding, 9.0, 2.0)
    assert unfolded is not None
    terminal = 9.0 * expected / (2.0 + expected)
    volts = nodal(folding.start, terminal)
    for part, edge in zip(unfolded.parts, folding.start, strict=True):
        assert part.volts == pytest.approx(volts[edge.a] - volts[edge.b], abs=1e-9)
        assert part.amps == pytest.approx(part.volts / edge.ohms)
    # Parts left out carry nothing: the full nodal solution says so too
    for b in circuit.branches:
        if b.ref in folding.idle and b.a in volts and b.b in volts:
            assert volts[b.a] == pytest.approx(volts[b.b], abs=1e-9)


WORKED = [  # network, total Ω, source
    ("R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))", 6.8e3 + 12e3 * 3.2e3 / 15.2e3, "common practice, worked by hand"),
    ("4 + (6 || (2 + 4))", 7.0, "common practice: 8 Ω with the 1 Ω inside the source"),
    ("1 + (6 || 13)", 1 + 78 / 19, "OpenStax College Physics 21.1, from memory: 5.11 Ω"),
    ("220 || 330", 132.0, "common practice, worked by hand"),
    ("100 || 100 || 100", 100 / 3, "common practice: three 100 Ω in parallel 33.3 Ω"),
    ("(50 || 50) + 20", 45.0, "common practice, worked by hand"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "ohms"), [pytest.param(t, o, id=s) for t, o, s in WORKED])
def test_worked_circuits_fold_to_what_the_trade_says(text: str, ohms: float) -> None:
    total = fold(circuit_of(text)).total
    assert total is not None
    assert total.ohms == pytest.approx(ohms, rel=1e-14)


def test_a_worked_circuit_step_by_step() -> None:
    folding = fold(circuit_of("R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))"))
    said = [(s.kind, [e.ref for e in s.members], s.remains) for s in folding.steps]
    assert said == [
        ("series", ["R2", "R3"], "R1=6k8 + @A + (R4=12k || F1=3k2)"),
        ("parallel", ["R4", "F1"], "R1=6k8 + @A + F2=2k526315789473684"),
        ("series", ["R1", "F2"], "F3=9k326315789473683"),
    ]
    # Common practice, worked by hand in the trade: 15 V gives 4.063 and 2.793 V, 338.6 µA, 1.608 mA
    back = unfold(folding, 15.0)
    assert back is not None
    by_ref = {p.ref: p for p in back.parts}
    assert round(by_ref["R4"].volts, 3) == 4.063
    assert round(by_ref["R3"].volts, 3) == 2.793
    assert round(by_ref["R4"].amps * 1e6, 1) == 338.6
    assert round(back.whole.amps * 1e3, 3) == 1.608
    assert [s.shared for s in back.steps] == ["current", "voltage", "current"]


def test_a_source_with_resistance_inside() -> None:
    # Common practice: EMF 24 V with 1 Ω inside: 3 A, 21 V at the terminals, 36 W in the 4 Ω
    back = unfold(fold(circuit_of("R1=4 + (R2=6 || (R3=2 + R4=4))")), 24.0, 1.0)
    assert back is not None
    parts = {p.ref: p for p in back.parts}
    assert [back.whole.amps, back.whole.volts] == pytest.approx([3.0, 21.0])
    assert parts["R1"].watts == pytest.approx(36.0)
    assert [parts[f"R{k}"].volts for k in (2, 3, 4)] == pytest.approx([9.0, 3.0, 6.0])


BRIDGE = "R1 in a 100\nR2 in b 220\nR3 a 0 330\nR4 b 0 150\nR5 a b 47"


def test_a_bridge_folds_by_star_and_delta_exactly() -> None:
    folding = fold(circuit_of(BRIDGE))
    assert folding.steps[0].kind == "star-delta"
    assert folding.total is not None
    # sympy: nodal equations in exact ratios
    a, b = sympy.symbols("a b")
    one = sympy.Rational(1)
    solved = sympy.solve(
        [(a - 1) / 100 + a / 330 + (a - b) / 47, (b - 1) / 220 + b / 150 + (b - a) / 47], [a, b]
    )
    exact = one / ((1 - solved[a]) / 100 + (1 - solved[b]) / 220)
    assert folding.total.ohms == pytest.approx(float(exact), rel=1e-14)
    star = folding.steps[0]
    assert len(star.results) == 3
    # star–delta: Rab = Ra + Rb + Ra·Rb/Rc
    ra, rb, rc = (e.ohms for e in star.members)
    assert star.results[0].ohms == pytest.approx(ra + rb + ra * rb / rc, rel=1e-14)


def test_a_star_of_many_arms_becomes_a_mesh() -> None:
    text = "\n".join(
        f"R{i} {a} {b} {10 * i}"
        for i, (a, b) in enumerate(itertools.combinations(["in", "0", "p", "q", "r"], 2), start=1)
    )
    folding = fold(circuit_of(text))
    assert folding.total is not None
    assert folding.total.ohms == pytest.approx(between_the_ends(folding.start), rel=1e-12)


def test_what_carries_no_current_is_named_and_left_out() -> None:
    text = "R1 in a 10\nR2 a 0 10\nR3 a x 5\nR4 x y 5\nR5 y a 5\nR6 y z 1\nR7 p q 1"
    folding = fold(circuit_of(text))
    assert folding.idle == ("R3", "R4", "R5", "R6", "R7")
    open_switch = fold(circuit_of("R1=10 + S1"))
    assert open_switch.total is None
    assert unfold(open_switch, 5.0) is None
    closed = fold(circuit_of("R1=10 + S1", ("S1",)))
    assert closed.total is not None
    assert (closed.total.ohms, closed.steps) == (10.0, ())


def test_a_star_of_four_becomes_a_mesh() -> None:
    star = "R1 in m 1k\nR2 m 0 1k\nR3 m a 1k\nR4 m b 1k\nR5 in a 1k\nR6 a 0 1k\nR7 in b 1k\nR8 b 0 1k\nR9 a b 1k"
    steps = [s for s in fold(circuit_of(star)).steps if s.kind == "star-delta"]
    whole = {3: "the delta of its ends.", 4: "the mesh of all pairs of its ends."}
    assert all(same_of(s).endswith(whole[len(s.members)]) for s in steps)
