"""Each part's worst power over the box."""

import itertools
import math
import random
from dataclasses import replace

import numpy as np
import pytest
from scipy.optimize import minimize_scalar

from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_netlist, read_network, read_text
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.power import worst_power
from tests.core.strategies import random_mesh
from tests.effort import seeds


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


def test_power_peaks_inside_the_range_where_it_meets_what_it_sees() -> None:
    # Maximum power transfer: 10 V behind exactly 1 kΩ gives (10/2)²/1k = 25 mW at 1 kΩ
    circuit = build_circuit(read_network("R1=1k + @OUT + R2=1k1"))
    box = Box(circuit, Supply(10.0), (), (0.0, 0.5))
    found = worst_power(box, 1)
    assert found.ohms == pytest.approx(1e3, rel=1e-9)
    assert found.watts == pytest.approx(25e-3, rel=1e-12)
    assert found.volts == pytest.approx(10 * 1650 / 2650, rel=1e-12)


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(2))
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


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(4))
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


def test_a_part_on_an_ideal_supply_is_worst_at_its_low_end() -> None:
    # V²/R, which has no peak: 1 V on 0.5 Ω ± 10 % is 1/0.45 W
    box = Box(build_circuit(read_network("0.5")), Supply(1.0), (), (0.1,))
    assert worst_power(box, 0).watts == pytest.approx(1 / 0.45)
    assert worst_power(box, 0).ohms == pytest.approx(0.45)
