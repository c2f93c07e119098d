"""Worst corners, spread and worst power, against brute force over every corner and sampling."""

import itertools
import math
import random
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import differential_evolution, minimize_scalar
from uncertainties import ufloat

from lowfold.core.errors import DomainError, TopologyError
from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_netlist, read_network, read_text
from lowfold.core.network.tree import Element
from lowfold.core.parts.limits import half_width
from lowfold.core.solving.nodes import Load, solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.condense import condense
from lowfold.core.tolerance.corners import corners
from lowfold.core.tolerance.power import worst_power
from lowfold.core.tolerance.spread import output_spread, resistance_spread
from tests.core.strategies import random_mesh, random_tree, tapped, trees


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


def test_extreme_value_budget() -> None:
    # Common practice: tolerance + |TCR|·|ΔT| + drift, added; 1 % + 100 ppm/K · 45 K + 1 %
    assert half_width(0.01, -100, 45, 0.01) == pytest.approx(0.0245)


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


def test_merging_keeps_what_is_seen_and_drops_dead_ends() -> None:
    circuit = build_circuit(
        read_netlist("R1 in a 1k\nR2 a b 1k\nR3 a 0 1k\nR4 a c 5k\nR5 b 0 2k\nR6 0 b 2k")
    )
    ohms = [b.ohms for b in circuit.branches]
    merged = condense(circuit, ohms, ohms, {0, 1, circuit.node("a")})
    assert sorted((sorted(m.members), m.nominal) for m in merged) == [
        ([0], 1000.0),
        ([1, 2, 4, 5], pytest.approx(1e3 * 2e3 / 3e3)),
    ]


def test_many_parts_that_act_together_need_few_corners() -> None:
    long = " + ".join(["1k"] * 40)
    box = box_of(f"{long} + @OUT + ({' || '.join(['47k'] * 30)})", Supply(5.0, 0.01), 0.01)
    assert corners(box, (box.circuit.node("OUT"), 0)).high.shape == (8, 3)


def test_ranges_that_make_no_sense() -> None:
    with pytest.raises(DomainError, match="the sum must stay below 1"):
        box_of("1k + @OUT + 1k", Supply(5.0), 1.0)
    with pytest.raises(DomainError, match="does not hold its nominal value"):
        LoadRange(Load(2, ohms=1e3), 2e3, 3e3)
    with pytest.raises(TopologyError, match="nothing connects this junction"):
        output_spread(box_of("R1 in 0 1k\nR2 a b 1k", Supply(5.0), 0.01), 2)


@given(trees(), st.floats(0.001, 0.4))
@settings(max_examples=50)
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
@settings(max_examples=50)
def test_resistance_never_falls_when_a_part_rises(
    network: Element, which: int, factor: float
) -> None:
    circuit = build_circuit(network)
    box = Box(circuit, Supply(1.0), (), (0.0,) * len(circuit.branches))
    at = which % len(circuit.branches)
    risen = tuple(b.ohms * (factor if i == at else 1) for i, b in enumerate(circuit.branches))
    higher = resistance_spread(replace(box, circuit=moved(box, risen))).nominal
    assert higher >= resistance_spread(box).nominal * (1 - 1e-13)


def test_power_peaks_inside_the_range_where_it_meets_what_it_sees() -> None:
    # Maximum power transfer: 10 V behind exactly 1 kΩ gives (10/2)²/1k = 25 mW at 1 kΩ
    circuit = build_circuit(read_network("R1=1k + @OUT + R2=1k1"))
    box = Box(circuit, Supply(10.0), (), (0.0, 0.5))
    found = worst_power(box, 1)
    assert found.ohms == pytest.approx(1e3, rel=1e-9)
    assert found.watts == pytest.approx(25e-3, rel=1e-12)
    assert found.volts == pytest.approx(10 * 1650 / 2650, rel=1e-12)


@pytest.mark.parametrize("seed", range(2))
def test_worst_power_against_corners_of_the_others_and_a_scalar_search(seed: int) -> None:
    # scipy.optimize.minimize_scalar over the part's own range, at every corner of the rest
    rng = random.Random(seed)
    circuit = build_circuit(read_netlist(random_mesh(rng, 4, 5)))
    node = circuit.node("a")
    box = Box(circuit, Supply(9.0, 0.05, 10.0), (LoadRange(Load(node, ohms=300.0), 200.0, 900.0),),
              tuple(rng.choice([0.02, 0.2, 0.6]) for _ in circuit.branches))  # fmt: skip
    position = rng.randrange(len(circuit.branches))
    best = 0.0
    for corner, volts, loads in every_corner(box):

        def watts(
            ohms: float, corner: Circuit = corner, volts: float = volts, loads: list[Load] = loads
        ) -> float:
            branches = list(corner.branches)
            branches[position] = replace(branches[position], ohms=ohms)
            changed = replace(corner, branches=tuple(branches))
            return -solve(changed, volts, 10.0, loads).parts[position].watts

        ends = (box.low[position], box.high[position])
        if corner.branches[position].ohms == ends[0]:
            inner = minimize_scalar(watts, bounds=ends, method="bounded", options={"xatol": 1e-6})
            best = max(best, -watts(ends[0]), -watts(ends[1]), -float(inner.fun))
    assert worst_power(box, position).watts == pytest.approx(best, rel=1e-9)


def test_worst_power_under_a_stated_current() -> None:
    # I²·R at the part's high end: a current source leaves no peak inside
    circuit = build_circuit(read_network("100 + 50"))
    box = Box(circuit, Supply(0.02, 0.0, math.inf), (), (0.05, 0.05))
    assert worst_power(box, 0).watts == pytest.approx(0.02**2 * 105)
    assert worst_power(box, 0).volts == pytest.approx(0.02 * 105)


def test_random_points_of_the_box_never_leave_the_extremes() -> None:
    rng = np.random.default_rng(7)
    box = box_of(
        "1k + @A + (2k2 || (470 + @B + 680))", Supply(9.0, 0.1), 0.2, (("A", 2e3, 1e3, 9e3),)
    )
    node = box.circuit.node("B")
    spread, powers = output_spread(box, node), [worst_power(box, i).watts for i in range(4)]
    for _ in range(300):
        ohms = tuple(float(rng.uniform(lo, hi)) for lo, hi in zip(box.low, box.high, strict=True))
        load = Load(box.circuit.node("A"), ohms=float(rng.uniform(1e3, 9e3)))
        found = solve(moved(box, ohms), float(rng.uniform(8.1, 9.9)), 0.0, [load])
        assert spread.lowest <= found.voltages[node] <= spread.highest
        assert all(p.watts <= most for p, most in zip(found.parts, powers, strict=True))


def figures_of(box: Box, x: list[float], node: int) -> float:
    """The output with every value at x, −1 to 1 of its half-width or range, by nodal analysis."""
    count = len(box.circuit.branches)
    tied = np.zeros((box.circuit.nodes, box.circuit.nodes))

    def tie(a: int, b: int, siemens: float) -> None:
        tied[a, a] += siemens
        tied[b, b] += siemens
        tied[a, b] -= siemens
        tied[b, a] -= siemens

    for branch, half, u in zip(box.circuit.branches, box.half_widths, x[:count], strict=True):
        tie(branch.a, branch.b, 1 / (branch.ohms * (1 + half * u)))
    for r, u in zip(box.loads, x[count + 1 :], strict=True):
        tie(r.load.at, 0, 1 / ((r.low + r.high) / 2 + u * (r.high - r.low) / 2))
    behind = 1 / box.supply.source_ohms
    entering = np.zeros(box.circuit.nodes)
    entering[1] = box.supply.volts * (1 + box.supply.tolerance * x[count]) * behind
    tied[1, 1] += behind
    return float(np.linalg.solve(tied[1:, 1:], entering[1:])[node - 1])


@pytest.mark.parametrize(
    "box",
    [
        box_of("3k3 + @OUT + 2k2", Supply(5.0, 0.05, 100.0), 0.1, (("OUT", 10e3, 2e3, 80e3),)),
        box_of(
            "R1 in a 100\nR2 in b 220\nR3 a 0 330\nR4 b 0 150\nR5 a b 47",
            Supply(9.0, 0.0, 10.0),
            0.2,
        ),
    ],
    ids=["a wide load range", "a bridge"],
)
def test_extremes_against_a_global_optimiser(box: Box) -> None:
    # scipy.optimize.differential_evolution over the inside of the box, not only its corners
    node = 2
    found = output_spread(box, node)
    bounds = [(-1.0, 1.0)] * (len(box.circuit.branches) + 1 + len(box.loads))
    for sign, extreme in ((1, found.lowest), (-1, found.highest)):
        best = differential_evolution(
            lambda x, s=sign: s * figures_of(box, list(x), node),
            bounds,
            seed=1,
            maxiter=60,
            tol=1e-8,
        )
        assert sign * best.fun == pytest.approx(extreme, rel=1e-5)
        assert sign * extreme <= best.fun + 1e-12  # nothing inside lies beyond


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


@pytest.mark.parametrize("seed", range(4))
def test_a_power_peak_inside_the_box_against_dense_sampling(seed: int) -> None:
    rng = random.Random(seed)
    # R2 may equal what it sees, so its power peaks inside its range
    upper, half = rng.choice([100.0, 220.0]), rng.choice([0.2, 0.4])
    box = box_of(f"R1={upper} + @OUT + R2={upper}", Supply(10.0, 0.05), half)
    found = worst_power(box, 1)
    values = np.linspace(1 - half, 1 + half, 2001) * upper
    powers = (10.5 / (upper * (1 - half) + values)) ** 2 * values
    assert found.watts == pytest.approx(powers.max(), rel=1e-6)
    assert found.watts >= powers.max() * (1 - 1e-12)
    assert found.ohms == pytest.approx(values[powers.argmax()], rel=1e-3)
