"""Outputs and resistances over the box."""

import itertools
import math
import random
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from uncertainties import ufloat

from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.spread import output_spread, resistance_spread
from tests.core.strategies import random_mesh, random_tree, tapped, trees
from tests.effort import cases


def box_of(
    text: str, supply: Supply, half: float, loads: tuple[tuple[str, float, float, float], ...] = ()
) -> Box:
    circuit = build_circuit(read_text(text))
    ranges = tuple(
        LoadRange(Load(circuit.node(at), ohms=nominal), low, high)
        for at, nominal, low, high in loads
    )
    return Box(circuit, supply, ranges, (half,) * len(circuit.branches))


def moved(box: Box, ohms: tuple[float, ...]) -> Circuit:
    pairs = zip(box.circuit.branches, ohms, strict=True)
    return replace(box.circuit, branches=tuple(replace(b, ohms=r) for b, r in pairs))


def every_corner(box: Box) -> list[tuple[Circuit, float, list[Load]]]:
    """Every end of every part, load and the supply, one by one: the plain way."""
    found = []
    supplies = {box.supply.volts * (1 + s * box.supply.tolerance) for s in (-1, 1)}
    ends = [(low, high) for low, high in zip(box.low, box.high, strict=True)]
    load_ends = [{r.low, r.high} for r in box.loads]
    for ohms in itertools.product(*ends):
        for volts in supplies:
            for chosen in itertools.product(*load_ends):
                loads = [
                    replace(r.load, ohms=x) if r.load.ohms else replace(r.load, amps=x)
                    for r, x in zip(box.loads, chosen, strict=True)
                ]
                found.append((moved(box, ohms), volts, loads))
    return found


def test_divider_extremes_by_hand() -> None:
    # By hand: 2:1 of equal parts at ±1 % on 10 V ± 5 %; extremes at opposite ends
    found = output_spread(box_of("1k + @OUT + 1k", Supply(10.0, 0.05), 0.01), 2)
    assert found.lowest == pytest.approx(9.5 * 0.99 / 2, rel=1e-14)
    assert found.highest == pytest.approx(10.5 * 1.01 / 2, rel=1e-14)
    assert found.lowest_corner == {"supply": "low", "R1": "high", "R2": "low"}
    assert found.highest_corner == {"supply": "high", "R1": "low", "R2": "high"}


def test_sensitivities_of_an_unloaded_divider() -> None:
    # S(RL) = −S(RU) = RU/(RU+RL): closed form
    found = output_spread(box_of("3k + @OUT + 1k", Supply(8.0, 0.02), 0.01), 2)
    by_name = {s.name: s for s in found.sensitivities}
    assert by_name["R2"].relative == pytest.approx(0.75)
    assert by_name["R1"].relative == pytest.approx(-0.75)
    assert by_name["supply"].relative == pytest.approx(1.0)
    assert by_name["R1"].contribution_v == pytest.approx(-0.75 * 0.01 * 2.0)
    # JCGM 100:2008, 5.1.2: uncorrelated contributions add as squares
    assert found.rss == pytest.approx(2.0 * math.sqrt(2 * (0.75 * 0.01) ** 2 + 0.02**2))


@pytest.mark.parametrize("seed", range(12))
def test_sensitivities_equal_difference_quotients(seed: int) -> None:
    rng = random.Random(seed)
    network = tapped(random_tree(rng, 3), random_tree(rng, 2))
    circuit = build_circuit(network)
    node = circuit.node("OUT")
    load = Load(node, ohms=220.0) if seed % 2 else Load(node, amps=1e-4)
    nominal = load.ohms or load.amps or 0.0
    box = Box(circuit, Supply(10.0, 0.03, 5.0), (LoadRange(load, nominal, nominal),), (0.01,) * 5)
    base = solve(circuit, 10.0, 5.0, [load]).voltages[node]
    step = 1e-5
    for position, found in enumerate(output_spread(box, node).sensitivities):
        values = []
        for sign in (-1, 1):
            ohms = [
                b.ohms * (1 + sign * step * (i == position)) for i, b in enumerate(circuit.branches)
            ]
            volts = 10.0 * (1 + sign * step * (found.name == "supply"))
            values.append(solve(moved(box, tuple(ohms)), volts, 5.0, [load]).voltages[node])
        assert found.relative == pytest.approx(
            (values[1] - values[0]) / (2 * step * base), abs=1e-6
        )


@pytest.mark.parametrize("seed", range(10))
def test_output_extremes_equal_every_corner(seed: int) -> None:
    rng = random.Random(seed)
    if seed % 2:
        circuit = build_circuit(read_netlist(random_mesh(rng, 4, 6)))
        node = circuit.node("a")
    else:
        circuit = build_circuit(tapped(random_tree(rng, 3), random_tree(rng, 3)))
        node = circuit.node("OUT")
    loads = (LoadRange(Load(node, ohms=1e3), 500.0, 3e3),)
    halves = tuple(rng.choice([0.0, 0.01, 0.05, 0.3]) for _ in circuit.branches)
    box = Box(circuit, Supply(12.0, 0.04, rng.choice([0.0, 20.0])), loads, halves)
    found = output_spread(box, node)
    plain = [solve(c, v, box.supply.source_ohms, x).voltages[node] for c, v, x in every_corner(box)]
    assert found.lowest == pytest.approx(min(plain), rel=1e-12)
    assert found.highest == pytest.approx(max(plain), rel=1e-12)


def test_the_corner_named_gives_the_extreme() -> None:
    box = box_of(
        "1k + @A + (2k2 || (470 + @B + 680))", Supply(9.0, 0.1), 0.05, (("B", 5e3, 1e3, 1e4),)
    )
    node = box.circuit.node("B")
    found = output_spread(box, node)
    for corner, extreme in (
        (found.lowest_corner, found.lowest),
        (found.highest_corner, found.highest),
    ):
        ohms = tuple(
            hi if corner[b.ref] == "high" else lo
            for b, lo, hi in zip(box.circuit.branches, box.low, box.high, strict=True)
        )
        volts = 9.0 * (1.1 if corner["supply"] == "high" else 0.9)
        load = Load(node, ohms=1e4 if corner["L1"] == "high" else 1e3)
        assert solve(moved(box, ohms), volts, 0.0, [load]).voltages[node] == pytest.approx(extreme)


@given(trees(), st.floats(0.001, 0.4))
@cases(50)
def test_resistance_extremes_are_all_low_and_all_high(network: Element, half: float) -> None:
    # Rayleigh's monotonicity law; a network of one tolerance scales as a whole
    circuit = build_circuit(network)
    found = resistance_spread(Box(circuit, Supply(1.0), (), (half,) * len(circuit.branches)))
    assert found.lowest == pytest.approx(found.nominal * (1 - half), rel=1e-12)
    assert found.highest == pytest.approx(found.nominal * (1 + half), rel=1e-12)
    assert found.rss <= found.nominal * half * (1 + 1e-12)


def test_equal_parts_average() -> None:
    # n equal parts of one tolerance: the RSS spread shrinks by √n (closed form)
    found = resistance_spread(box_of(" + ".join(["1k"] * 9), Supply(1.0), 0.03))
    assert found.rss / found.nominal == pytest.approx(0.03 / 3)


@given(trees(), st.integers(0, 7), st.floats(1.01, 3))
@cases(50)
def test_resistance_never_falls_when_a_part_rises(
    network: Element, which: int, factor: float
) -> None:
    circuit = build_circuit(network)
    box = Box(circuit, Supply(1.0), (), (0.0,) * len(circuit.branches))
    at = which % len(circuit.branches)
    risen = tuple(b.ohms * (factor if i == at else 1) for i, b in enumerate(circuit.branches))
    higher = resistance_spread(replace(box, circuit=moved(box, risen))).nominal
    assert higher >= resistance_spread(box).nominal * (1 - 1e-13)


def test_root_sum_square_against_uncertainties() -> None:
    # The `uncertainties` package propagates linearly by itself
    box = box_of(
        "R1=3k + @OUT + (R2=2k || R3=5k)", Supply(10.0, 0.02), 0.01, (("OUT", 10e3, 1e4, 1e4),)
    )
    r1, r2, r3 = (ufloat(r, 0.01 * r) for r in (3e3, 2e3, 5e3))
    volts = ufloat(10.0, 0.2)
    lower = 1 / (1 / r2 + 1 / r3 + 1 / 10e3)
    assert output_spread(box, 2).rss == pytest.approx((volts * lower / (r1 + lower)).s, rel=1e-9)
    unloaded = 1 / (1 / r2 + 1 / r3)
    bare = replace(box, loads=())
    assert resistance_spread(bare).rss == pytest.approx((r1 + unloaded).s, rel=1e-9)


@given(trees(), st.integers(0, 7), st.floats(1.0001, 10.0))
def test_no_resistance_falls_when_one_part_rises(
    network: Element, which: int, factor: float
) -> None:
    # Rayleigh's monotonicity law, as a property
    circuit = build_circuit(network)
    place = which % len(circuit.branches)
    still = (0.0,) * len(circuit.branches)
    risen = tuple(b.ohms * factor if k == place else b.ohms for k, b in enumerate(circuit.branches))
    box = Box(circuit, Supply(1.0), (), still)
    after = Box(moved(box, risen), Supply(1.0), (), still)
    assert resistance_spread(after).nominal >= resistance_spread(box).nominal * (1 - 1e-12)
