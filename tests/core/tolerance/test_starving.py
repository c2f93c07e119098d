"""Worst cases where a current load begins to starve, against points of the box itself."""

from __future__ import annotations

import random

import networkx as nx
import numpy as np
import numpy.typing as npt
import pytest

from lowfold.core.checking.check import check_network
from lowfold.core.errors import TooLargeError, TopologyError
from lowfold.core.network.circuit import GROUND, Branch, Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load, nets_of
from lowfold.core.solving.nodes import potentials
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.corners import starves
from lowfold.core.tolerance.extremes import extremes, starving_loads
from lowfold.core.tolerance.power import worst_power
from lowfold.core.tolerance.spread import output_spread, sensitivities
from tests.effort import seeds

FloatArray = npt.NDArray[np.float64]


def box_of(
    text: str,
    volts: float,
    half: float,
    *loads: tuple[str, float, float, float],
    source: float = 0.0,
) -> Box:
    circuit = build_circuit(read_text(text))
    ranges = tuple(
        LoadRange(Load(circuit.node(at), amps=amps), low, high) for at, amps, low, high in loads
    )
    halves = (half,) * len(circuit.branches)
    return Box(circuit, Supply(volts, 0.0, source), ranges, halves)


def states(box: Box, where: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Solve the nodal equations at places of the box, (m, values) from 0 to 1: V between nodes, Ω."""
    count = len(box.circuit.branches)
    low, high = np.array(box.low), np.array(box.high)
    ohms = low + where[:, :count] * (high - low)
    supply = box.supply.volts * (1 + box.supply.tolerance * (2 * where[:, count] - 1))
    siemens, amps = np.zeros((len(where), len(box.loads))), np.zeros((len(where), len(box.loads)))
    for k, r in enumerate(box.loads):
        stated = r.low + where[:, count + 1 + k] * (r.high - r.low)
        if r.load.ohms is not None:
            siemens[:, k] = 1 / stated
        else:
            amps[:, k] = stated
    source, loads = box.supply.source_ohms, box.nominal_loads
    nets = nets_of(box.circuit, 1 / ohms, supply, source, loads, siemens, amps)
    return potentials(nets)[0], ohms


def scattered(box: Box, count: int, seed: int) -> FloatArray:
    """Places all over the box, many of them on its faces, edges and corners."""
    rng = np.random.default_rng(seed)
    shape = (count, len(box.circuit.branches) + 1 + len(box.loads))
    inside, side = rng.random(shape), rng.random(shape)
    return np.where(side < 0.35, 0.0, np.where(side < 0.7, 1.0, inside))


def test_the_power_peaks_where_the_load_begins_to_starve() -> None:
    # By hand: at 12 mA and 1000 Ω all 12 V are across R1, whatever R2 is: 144 mW; beyond it the
    # current falls, before it the voltage does
    box = box_of("R1=1k + @OUT + R2=10k", 12.0, 0.2, ("OUT", 8e-3, 6e-3, 12e-3))
    found = worst_power(box, 0)
    assert found.watts == pytest.approx(0.144, rel=1e-9)
    assert found.ohms == pytest.approx(1000.0, rel=1e-6)
    assert found.volts == pytest.approx(12.0)
    output = extremes(box, (box.circuit.node("OUT"), GROUND))
    assert output[0].volts == 0.0
    # By hand: R1 low, R2 high, 6 mA
    assert output[1].volts == pytest.approx((12 / 800 - 6e-3) / (1 / 800 + 1 / 12e3))


def test_another_junction_is_lowest_on_the_border_of_the_regimes() -> None:
    text = "R1 in a 585; R2 a b 1390; R3 b c 4860; R4 c 0 629; R5 a in 101; R6 a c 323"
    box = box_of(text, 10.0, 0.3, ("c", 23.2e-3, 23.2e-3, 23.2e-3))
    found = output_spread(box, box.circuit.node("b"))
    # Sampled by climbing from random places with another program: 4.834 V, not the 5.070 of corners
    assert found.lowest == pytest.approx(4.834462822, rel=1e-9)
    assert found.lowest_corner["R6"] == "between"
    gaps, _ = states(box, scattered(box, 40_000, 1))
    volts = gaps[:, box.circuit.node("b"), GROUND]
    assert found.lowest <= volts.min() * (1 + 1e-12)
    assert volts.max() <= found.highest * (1 + 1e-12)


def random_box(rng: random.Random, least: float = 2.0, most: float = 4.0) -> Box:
    """A box with parts of 10^least to 10^most Ω, and loads that some of them starve."""
    nodes = rng.randint(3, 5)
    ends = [(n, rng.choice([0, 1, *range(2, n)])) for n in range(2, nodes)]
    ends += [tuple(rng.sample(range(nodes), 2)) for _ in range(rng.randint(1, 3))]  # type: ignore[misc]
    ends += [(1, 2)] if not any(1 in e for e in ends) else []
    ends += [(2, 0)] if not any(0 in e for e in ends) else []
    branches = tuple(
        Branch(f"R{k}", a, b, 10 ** rng.uniform(least, most))
        for k, (a, b) in enumerate(ends, start=1)
    )
    source = rng.choice([0.0, 0.0, 200.0, float("inf")])
    volts = 0.01 if source == float("inf") else rng.uniform(5, 20)
    loads = []
    for node in rng.sample(range(2, nodes), rng.randint(1, min(2, nodes - 2))):
        amps, wide = 10 ** rng.uniform(0.5 - most, 0.3 - least), rng.choice([0.0, 0.5, 0.9])
        loads.append(LoadRange(Load(node, amps=amps), amps * (1 - wide), amps * (1 + wide)))
    if rng.random() < 0.4:
        loads.append(LoadRange(Load(rng.randrange(2, nodes), ohms=2e3), 1e3, 4e3))
    halves = (rng.choice([0.05, 0.2, 0.5]),) * len(branches)
    circuit = Circuit(branches, nodes, {f"n{k}": k for k in range(2, nodes)})
    return Box(circuit, Supply(volts, rng.choice([0.0, 0.1]), source), tuple(loads), halves)


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(40))
def test_no_point_of_the_box_lies_outside_and_the_extremes_are_points_of_it(seed: int) -> None:
    # Half of the boxes have parts from milliohms to hundreds of megohms
    box = random_box(random.Random(seed), *((-3.0, 8.5) if seed % 2 else (2.0, 4.0)))
    around = nx.Graph((b.a, b.b) for b in box.circuit.branches)
    closed = nx.has_path(around, 1, 0) or box.supply.source_ohms < float("inf")
    if not closed or not starves(box):
        return
    gaps, ohms = states(box, scattered(box, 4_000, seed))
    for node in range(2, box.circuit.nodes):
        volts = gaps[:, node, GROUND]
        if np.isnan(volts).any():
            continue
        low, high = extremes(box, (node, GROUND))
        size = max(abs(low.volts), abs(high.volts)) + 1e-9
        assert low.volts <= volts.min() + 1e-9 * size
        assert volts.max() <= high.volts + 1e-9 * size
    for place, branch in enumerate(box.circuit.branches):
        across = np.nan_to_num(gaps[:, branch.a, branch.b])
        found = worst_power(box, place)
        assert (across**2 / ohms[:, place]).max() <= found.watts * (1 + 1e-9) + 1e-15
        assert np.abs(across).max() <= found.volts * (1 + 1e-9) + 1e-12 * (
            1 + np.nanmax(np.abs(gaps))
        )


def test_enough_of_the_random_boxes_starve() -> None:
    assert sum(starves(random_box(random.Random(seed))) for seed in range(60)) > 20


def test_what_a_current_source_cannot_be_rid_of_is_refused_in_words() -> None:
    branches = (Branch("R1", 2, 1, 2347.9), Branch("R2", 3, 0, 347.5))
    loads = (LoadRange(Load(2, amps=7e-4), 3e-4, 1e-3), LoadRange(Load(3, amps=0.02), 2e-3, 0.04))
    circuit = Circuit(branches, 4, {"a": 2, "b": 3})
    box = Box(circuit, Supply(0.01, 0.0, float("inf")), loads, (0.2, 0.2))
    with pytest.raises(TopologyError, match="no resistance leads the rest to its return"):
        extremes(box, (2, GROUND))


def test_a_climb_from_random_places_reaches_the_same_power() -> None:
    box = box_of(
        "R1 in a 585; R2 a b 1390; R3 b c 4860; R4 c 0 629; R5 a in 101; R6 a c 323",
        10.0, 0.3, ("c", 23.2e-3, 23.2e-3, 23.2e-3),
    )  # fmt: skip
    rng, branch = np.random.default_rng(0), box.circuit.branches[5]
    centre, best = np.full(8, 0.5), 0.0
    for step in range(40):
        wide = 0.6 * 0.75**step
        where = np.clip(centre + rng.normal(size=(3_000, 8)) * wide, 0, 1)
        gaps, ohms = states(box, where)
        watts = gaps[:, branch.a, branch.b] ** 2 / ohms[:, 5]
        if watts.max() > best:
            best, centre = watts.max(), where[watts.argmax()]
    assert worst_power(box, 5).watts == pytest.approx(best, rel=1e-4)
    assert worst_power(box, 5).watts >= best * (1 - 1e-12)


def test_a_load_that_may_starve_is_a_caution() -> None:
    box = box_of("R1=1k + @OUT + R2=10k", 12.0, 0.2, ("OUT", 8e-3, 6e-3, 11e-3))
    assert starving_loads(box) == [0]
    found = check_network(box.circuit, box.supply, loads=box.loads, outputs=[("OUT", None)])
    assert [c.code for c in found.cautions if c.code == "starved-load"] == []  # no tolerance: fed
    wide = check_network(box.circuit, Supply(12.0, 0.2), loads=box.loads, outputs=[("OUT", None)])
    words = [c.message for c in wide.cautions if c.code == "starved-load"]
    assert [w[:50] for w in words] == ["L1 may want more current than the network can give"]


def test_nothing_is_drawn_below_zero() -> None:
    box = box_of("R1=1k + @OUT + R2=10k", -12.0, 0.2, ("OUT", 8e-3, 6e-3, 12e-3))
    assert not starves(box)
    low, high = extremes(box, (box.circuit.node("OUT"), GROUND))
    assert (low.volts, high.volts) == pytest.approx((-12 * 12 / 12.8, -12 * 8 / 9.2))
    # The supply alone drives it, so that the output is proportional to it
    gain = next(s for s in sensitivities(box, 2) if s.name == "supply")
    assert gain.relative == 1.0


def test_too_many_values_are_refused_before_any_work() -> None:
    rows = [f"R{k} n{k} n{k + 1} 1k\nR{k + 40} n{k + 1} 0 100k" for k in range(34)]
    text = "\n".join(rows).replace("n0 ", "in ")
    box = box_of(text, 10.0, 0.2, ("n3", 50e-3, 1e-3, 90e-3), ("n30", 5e-3, 1e-3, 9e-3))
    with pytest.raises(TooLargeError, match="a current load starves inside their ranges"):
        extremes(box, (box.circuit.node("n17"), GROUND))
