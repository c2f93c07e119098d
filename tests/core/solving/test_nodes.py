"""Node equations against textbooks, hand arithmetic and independent solutions."""

import math
import random

import networkx as nx
import numpy as np
import pytest
import sympy
from hypothesis import given

from lowfold.core.errors import DomainError, TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit, build_circuit
from lowfold.core.network.notation import Netlist, read_netlist, read_network, read_text
from lowfold.core.network.tree import Element, exact_resistance
from lowfold.core.solving.nets import Load
from lowfold.core.solving.nodes import supply_resistance, transfer_ohms
from lowfold.core.solving.solution import Solution, solve
from tests.core.strategies import random_mesh, random_tree, trees


def solved(
    text: str, volts: float, source: float = 0.0, loads: tuple[tuple[str, float], ...] = ()
) -> tuple[Circuit, Solution]:
    circuit = build_circuit(read_text(text))
    hung = [Load(circuit.node(at), ohms=ohms) for at, ohms in loads]
    return circuit, solve(circuit, volts, source, hung)


#: OpenStax, College Physics, section 21.1 (from memory): 1, 6 and 13 Ω on 12 V.
TEXTBOOK = [
    ("1 + 6 + 13", 20.0, 0.600, (0.600, 3.60, 7.80), (0.600, 0.600, 0.600), (0.360, 2.16, 4.68)),
    ("1 || 6 || 13", 0.804, 14.9, (12.0, 12.0, 12.0), (12.0, 2.00, 0.923), (144.0, 24.0, 11.1)),
    ("1 + (6 || 13)", 5.11, 2.35, (2.35, 9.65, 9.65), (2.35, 1.61, 0.742), (5.5, 15.5, 7.16)),
]


@pytest.mark.parametrize(("text", "ohms", "amps", "volts", "each", "watts"), TEXTBOOK)
def test_textbook_circuits(
    text: str,
    ohms: float,
    amps: float,
    volts: tuple[float, ...],
    each: tuple[float, ...],
    watts: tuple[float, ...],
) -> None:
    _, found = solved(text, 12.0)
    three_figures = 4e-3
    assert found.total_ohms == pytest.approx(ohms, rel=three_figures)
    assert found.supply_amps == pytest.approx(amps, rel=three_figures)
    assert [p.volts for p in found.parts] == pytest.approx(volts, rel=three_figures)
    assert [p.amps for p in found.parts] == pytest.approx(each, rel=three_figures)
    assert [p.watts for p in found.parts] == pytest.approx(watts, rel=6e-3)


def test_hand_worked_ladder() -> None:
    # Common practice: 6.8 kΩ + [12 kΩ ‖ (1 kΩ + 2.2 kΩ)] on 15 V
    circuit, found = solved("R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))", 15.0)
    at = {name: found.voltages[node] for name, node in circuit.names.items()}
    assert at["A"] == pytest.approx(4.063, abs=5e-4)
    assert at["B"] == pytest.approx(2.793, abs=5e-4)
    currents = {p.ref: p.amps for p in found.parts}
    assert currents["R4"] == pytest.approx(338.6e-6, abs=5e-8)
    assert found.supply_amps == pytest.approx(1.608e-3, abs=5e-7)


def test_a_kilo_read_as_mega_shows() -> None:
    # Common practice: the same with the 12 kΩ replaced by 12 MΩ
    circuit, found = solved("6k8 + @A + (12M || (1k + 2k2))", 15.0)
    assert found.voltages[circuit.node("a")] == pytest.approx(4.799, abs=5e-4)


def test_source_with_internal_resistance() -> None:
    # Common practice: EMF 24 V with 1 Ω inside, 4 Ω + [6 Ω ‖ (2 Ω + 4 Ω)]
    _, found = solved("4 + (6 || (2 + 4))", 24.0, 1.0)
    assert found.total_ohms + 1.0 == pytest.approx(8.0)
    assert found.supply_amps == pytest.approx(3.0)
    assert found.terminal_volts == pytest.approx(21.0)
    assert [p.volts for p in found.parts] == pytest.approx([12.0, 9.0, 3.0, 6.0])
    assert found.parts[0].watts == pytest.approx(36.0)
    assert found.supply_watts == pytest.approx(72.0)


#: Common practice, worked by hand in the trade.
BY_HAND = [
    ("220 + 330", 22.0, 0.040, (8.8, 13.2), (0.352, 0.528)),
    ("220 || 330", 33.0, 0.25, (33.0, 33.0), (4.95, 3.30)),
    ("100 + 100 + 100", 24.0, 0.08, (8.0, 8.0, 8.0), (0.64, 0.64, 0.64)),
    ("100 || 100 || 100", 24.0, 0.72, (24.0, 24.0, 24.0), (5.76, 5.76, 5.76)),
    ("2k + 3k", 5.0, 1e-3, (2.0, 3.0), (2e-3, 3e-3)),
    ("2 + 3 + 5", 10.0, 1.0, (2.0, 3.0, 5.0), (2.0, 3.0, 5.0)),
    ("24 + 30", 9.0, 9 / 54, (4.0, 5.0), (16 / 24, 25 / 30)),
]


@pytest.mark.parametrize(("text", "supply", "amps", "volts", "watts"), BY_HAND)
def test_hand_worked_circuits(
    text: str, supply: float, amps: float, volts: tuple[float, ...], watts: tuple[float, ...]
) -> None:
    _, found = solved(text, supply)
    assert found.supply_amps == pytest.approx(amps, rel=1e-12)
    assert [p.volts for p in found.parts] == pytest.approx(volts, rel=1e-12)
    assert [p.watts for p in found.parts] == pytest.approx(watts, rel=1e-12)


def test_a_load_is_in_parallel_with_the_lower_leg() -> None:
    circuit, found = solved("360k + @OUT + 180k", 14.4, loads=(("out", 200e3),))
    lower = 180e3 * 200e3 / 380e3
    assert found.voltages[circuit.node("OUT")] == pytest.approx(14.4 * lower / (360e3 + lower))
    assert found.load_amps[0] == pytest.approx(3.0 / 200e3)


def test_a_current_load_draws_until_its_node_is_at_zero() -> None:
    circuit = build_circuit(read_network("1k + @OUT + 1k"))
    node = circuit.node("OUT")
    fed = solve(circuit, 10.0, 0.0, [Load(node, amps=4e-3)])
    assert fed.voltages[node] == pytest.approx(10 * 0.5 - 4e-3 * 500)  # Vth − I·Rth
    starved = solve(circuit, 10.0, 0.0, [Load(node, amps=50e-3)])
    assert starved.voltages[node] == 0.0
    assert starved.load_amps == pytest.approx([10e-3])  # all that 1 kΩ lets through
    assert starved.held == (0,)


def test_holding_one_junction_feeds_another() -> None:
    # A's load takes all it can; B then stays above 0 V only by its own way to the supply.
    circuit = build_circuit(read_netlist("R1 in a 1k\nR2 in b 2k\nR3 a b 3k\nR4 a 0 4k\nR5 b 0 5k"))
    a, b = circuit.node("a"), circuit.node("b")
    found = solve(circuit, 10.0, 0.0, [Load(a, amps=1.0), Load(b, amps=1e-3)])
    siemens = 1 / 2e3 + 1 / 3e3 + 1 / 5e3
    assert found.voltages[a] == 0.0
    assert found.voltages[b] == pytest.approx((10 / 2e3 - 1e-3) / siemens)
    assert found.held == (0,)


def test_nothing_cancels_between_extreme_values() -> None:
    _, found = solved("10M + @A + 10L + @B + 10M", 5.0)
    assert found.supply_amps == pytest.approx(5 / 20_000_000.01, rel=1e-14)


def test_open_and_closed_switches() -> None:
    text = read_network("1k + @A + S1 + @B + 1k")
    opened = build_circuit(text)
    found = solve(opened, 5.0)
    assert math.isinf(found.total_ohms)
    assert found.voltages[opened.node("A")] == 5.0
    assert found.voltages[opened.node("B")] == 0.0
    closed = build_circuit(text, ["s1"])
    assert solve(closed, 5.0).total_ohms == pytest.approx(2000.0)


def test_a_floating_island_has_no_voltage() -> None:
    circuit = build_circuit(read_netlist("R1 in 0 1k\nR2 a b 1k\nS1 b in"))
    found = solve(circuit, 5.0)
    assert math.isnan(found.voltages[circuit.node("a")])
    assert found.parts[1].amps == 0.0


def test_a_current_source() -> None:
    _, found = solved("1k || 2k", 20e-3, math.inf)
    assert found.terminal_volts == pytest.approx(20e-3 * 2e3 / 3)
    assert [p.amps for p in found.parts] == pytest.approx([20e-3 * 2 / 3, 20e-3 / 3])


REFUSED = [
    (lambda: build_circuit(read_network("S1 || 1k"), ["S1"]), "the closed switches put a short straight across the supply: open one of them"),
    (lambda: build_circuit(read_network("1k"), ["S2"]), "the network has no switch called “S2”; there are: none"),
    (lambda: build_circuit(read_netlist("R1 in a 1k")), "no part reaches node “0”: nodes “in” and “0” are the supply's ends"),
    (lambda: build_circuit(read_network("1k + @A + 1k")).node("B"), "the network has no junction called “B”; there are: A"),
    (lambda: build_circuit(read_network("1k")).branch("R9"), "the network has no part called “R9”; there are: R1"),
    (lambda: solved("S1 + 1k", 1.0, math.inf), "a current source needs a conducting way to its return"),
]  # fmt: skip


@pytest.mark.parametrize(("ask", "message"), REFUSED)
def test_questions_without_an_answer(ask: object, message: str) -> None:
    assert callable(ask)
    with pytest.raises(TopologyError) as refused:
        ask()
    assert refused.value.message == message


def test_loads_that_are_none() -> None:
    with pytest.raises(DomainError, match="give exactly one of ohm and a"):
        Load(2)
    with pytest.raises(DomainError, match="must be above 0 Ω and finite"):
        Load(2, ohms=0.0)
    with pytest.raises(DomainError, match="a load draws 0 A or more"):
        Load(2, amps=-1.0)


def graph_of(circuit: Circuit) -> "nx.MultiGraph[int]":
    graph: nx.MultiGraph[int] = nx.MultiGraph()
    for b in circuit.branches:
        graph.add_edge(b.a, b.b, weight=b.ohms)
    return graph


@pytest.mark.parametrize("seed", range(25))
def test_resistance_equals_networkx_on_random_meshes(seed: int) -> None:
    # networkx.resistance_distance: an independent, general-purpose computation
    rng = random.Random(seed)
    circuit = build_circuit(read_netlist(random_mesh(rng, rng.randint(3, 7), rng.randint(5, 12))))
    graph = graph_of(circuit)
    if not nx.has_path(graph, SUPPLY, GROUND):
        pytest.skip("nothing conducts between the ends")
    island = graph.subgraph(nx.node_connected_component(graph, SUPPLY))
    expected = nx.resistance_distance(island, SUPPLY, GROUND, weight="weight")
    assert supply_resistance(circuit) == pytest.approx(expected, rel=1e-9)


@pytest.mark.parametrize("seed", range(15))
def test_voltages_equal_a_dense_nodal_analysis(seed: int) -> None:
    rng = random.Random(seed + 100)
    text = random_mesh(rng, 6, 11)
    circuit = build_circuit(read_netlist(text))
    loads = [Load(circuit.node("a"), ohms=470.0), Load(circuit.node("b"), amps=1e-6)]
    found = solve(circuit, 9.0, 3.0, loads)
    # Independently: the Laplacian with the supply as a Norton source, by numpy's LU
    size = circuit.nodes
    matrix, inflow = np.zeros((size, size)), np.zeros(size)
    for b in circuit.branches:
        incidence = np.zeros(size)
        incidence[b.a] += 1
        incidence[b.b] -= 1
        matrix += np.outer(incidence, incidence) / b.ohms
    matrix[SUPPLY, SUPPLY] += 1 / 3.0
    inflow[SUPPLY] = 9.0 / 3.0
    matrix[loads[0].at, loads[0].at] += 1 / 470.0
    inflow[loads[1].at] -= 1e-6
    rest = [n for n in range(size) if n != GROUND]
    expected = np.linalg.solve(matrix[np.ix_(rest, rest)], inflow[rest])
    if (expected < 0).any():  # nothing feeds the current load there, so it holds its node
        assert found.held == (1,)
    else:
        assert [found.voltages[n] for n in rest] == pytest.approx(expected, rel=1e-9, abs=1e-12)


@given(trees())
def test_a_tree_solves_to_its_exact_fold(network: Element) -> None:
    assert supply_resistance(build_circuit(network)) == pytest.approx(
        float(exact_resistance(network)), rel=1e-12
    )


def test_transfer_resistance_is_thevenins_and_reciprocal() -> None:
    circuit = build_circuit(read_netlist("R1 in a 1k\nR2 in b 2k\nR3 a b 3k\nR4 a 0 4k\nR5 b 0 5k"))
    a, b = circuit.node("a"), circuit.node("b")
    from_a, from_b = transfer_ohms(circuit, a), transfer_ohms(circuit, b)
    assert from_a[b] == pytest.approx(from_b[a], rel=1e-13)
    free = solve(circuit, 10.0).voltages[a]
    loaded = solve(circuit, 10.0, 0.0, [Load(a, ohms=1e3)]).voltages[a]
    assert loaded == pytest.approx(free * 1e3 / (1e3 + from_a[a]), rel=1e-12)


def test_a_bridge_in_exact_rationals() -> None:
    # sympy: the node equations of a Wheatstone bridge in rationals
    circuit = build_circuit(
        read_netlist("R1 in a 100\nR2 in b 220\nR3 a b 47\nR4 a 0 330\nR5 b 0 470")
    )
    va, vb = sympy.symbols("va vb")
    r = sympy.Rational
    answer = sympy.solve(
        [
            (12 - va) * r(1, 100) - (va - vb) * r(1, 47) - va * r(1, 330),
            (12 - vb) * r(1, 220) + (va - vb) * r(1, 47) - vb * r(1, 470),
        ],
        [va, vb],
    )
    found = solve(circuit, 12.0)
    assert found.voltages[circuit.node("a")] == pytest.approx(float(answer[va]), rel=1e-14)
    assert found.voltages[circuit.node("b")] == pytest.approx(float(answer[vb]), rel=1e-14)


def test_trees_and_their_netlists_solve_alike() -> None:
    rng = random.Random(5)
    tree = build_circuit(random_tree(rng, 7))
    lines = [
        f"{b.ref or f'R{i}'} {_node(b.a)} {_node(b.b)} {b.ohms}"
        for i, b in enumerate(tree.branches, 1)
    ]
    netlist = read_netlist("\n".join(lines))
    assert isinstance(netlist, Netlist)
    assert supply_resistance(build_circuit(netlist)) == pytest.approx(
        supply_resistance(tree), rel=1e-13
    )


def _node(index: int) -> str:
    return {GROUND: "0", SUPPLY: "in"}.get(index, f"n{index}")


def test_the_supply_gives_what_leaves_it_either_way_round() -> None:
    # By hand: 10 V over 1 kΩ and 2 kΩ side by side are 15 mA, however their ends are named
    netlist = read_netlist("R1 in 0 1k\nR2 0 in 2k")
    assert solve(build_circuit(netlist), 10.0).supply_amps == pytest.approx(15e-3)


def test_loads_that_hold_a_node_share_what_comes_to_it() -> None:
    # By hand: 1 V behind 1 kΩ gives 1 mA at 0 V; 3 mA and 1 mA wanted get 3/4 and 1/4 of it
    circuit = build_circuit(read_network("1k + @OUT + 1k"))
    loads = [Load(circuit.node("OUT"), amps=amps) for amps in (3e-3, 1e-3)]
    found = solve(circuit, 1.0, loads=loads)
    assert found.load_amps == pytest.approx((0.75e-3, 0.25e-3))
