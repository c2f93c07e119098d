"""Worst corners, spread and worst power, against brute force over every corner and sampling."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.optimize import differential_evolution

from lowfold.core.errors import DomainError, TopologyError
from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.parts.limits import half_width
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply, Tracking
from lowfold.core.tolerance.power import worst_power
from lowfold.core.tolerance.spread import output_spread


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


def test_extreme_value_budget() -> None:
    # Common practice: tolerance + |TCR|·|ΔT| + drift, added; 1 % + 100 ppm/K · 45 K + 1 %
    assert half_width(0.01, -100, 45, 0.01) == pytest.approx(0.0245)


def test_ranges_that_make_no_sense() -> None:
    with pytest.raises(DomainError, match="the sum must stay below 1"):
        box_of("1k + @OUT + 1k", Supply(5.0), 1.0)
    with pytest.raises(DomainError, match="does not hold its nominal value"):
        LoadRange(Load(2, ohms=1e3), 2e3, 3e3)
    with pytest.raises(TopologyError, match="nothing connects this junction"):
        output_spread(box_of("R1 in 0 1k\nR2 a b 1k", Supply(5.0), 0.01), 2)


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


@pytest.mark.parametrize("ohms", [-0.5, -1e-9, float("nan")])
def test_a_source_has_no_negative_resistance(ohms: float) -> None:
    with pytest.raises(DomainError, match="source resistance is 0 Ω or more"):
        Supply(1.0, 0.0, ohms)


def test_a_box_is_still_where_nothing_in_it_may_move() -> None:
    load = ("OUT", 1e3, 1e3, 1e3)
    assert box_of("1k + @OUT + 1k", Supply(1.0), 0.0, (load,)).still
    assert not box_of("1k + @OUT + 1k", Supply(1.0, 0.01), 0.0, (load,)).still
    assert not box_of("1k + @OUT + 1k", Supply(1.0), 0.01, (load,)).still
    assert not box_of("1k + @OUT + 1k", Supply(1.0), 0.0, (("OUT", 1e3, 9e2, 1e3),)).still


def test_a_ratio_binds_only_where_it_is_held_tighter_than_the_values() -> None:
    # By hand: two parts of ± 1 % may differ by 1.01/0.99, which is 2.02 %
    plain = box_of("1k + @OUT + 1k", Supply(1.0), 0.01)
    loose = replace(plain, tracking=Tracking(0.0203))
    tight = replace(plain, tracking=Tracking(0.002))
    assert loose.common == 0.0
    assert loose.own == (0.01, 0.01)
    # What each has of its own is ratio/(2 + ratio): 0.002/2.002
    assert tight.own == pytest.approx((0.002 / 2.002,) * 2)
    assert tight.common == pytest.approx(1.01 / (1 + 0.002 / 2.002) - 1)
