"""Yields against closed forms, scipy's distributions, and the general solver."""

import math
from dataclasses import replace

import numpy as np
import pytest
from scipy import stats

from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.sampling import sampled, sampled_legs
from lowfold.core.tolerance.scatter import scatter, wilson
from lowfold.core.tolerance.spread import output_spread, resistance_spread

SAMPLES = 200_000


def box_of(text: str, half: float, supply: Supply | None = None, *loads: LoadRange) -> Box:
    circuit = build_circuit(read_text(text))
    return Box(circuit, supply or Supply(10.0), loads, (half,) * len(circuit.branches))


def test_a_single_part_is_uniform_over_its_tolerance() -> None:
    # Closed form: of ±5 % uniform, the share within ±2 % is 2/5
    values = sampled(box_of("R1=1k", 0.05), [None], SAMPLES, "uniform", 1)[0]
    found = scatter(values, (980.0, 1020.0))
    assert found.inside is not None
    assert found.inside == pytest.approx(0.4, abs=4 * math.sqrt(0.24 / SAMPLES))
    assert found.mean == pytest.approx(1000.0, rel=1e-3)
    assert found.stdev == pytest.approx(100 / math.sqrt(12), rel=0.01)  # width over √12
    assert sum(found.counts) == SAMPLES
    assert 950 <= found.edges[0] < found.edges[-1] <= 1050
    assert found.percentiles["50"] == pytest.approx(1000.0, rel=1e-3)


def test_a_single_part_may_be_normal_truncated_at_its_tolerance() -> None:
    values = sampled(box_of("R1=1k", 0.03), [None], SAMPLES, "normal", 1)[0]
    assert values.min() >= 970
    assert values.max() <= 1030
    # scipy: truncated normal with σ a third of the half-width
    exact = stats.truncnorm(-3, 3, loc=1000, scale=10)
    assert stats.kstest(values, exact.cdf).pvalue > 1e-3
    found = scatter(values, (990.0, 1010.0))
    assert found.inside == pytest.approx(exact.cdf(1010) - exact.cdf(990), abs=0.005)


def test_a_ratio_of_two_has_a_closed_form() -> None:
    # Two equal parts, each uniform over ±t: V > 5(1 + t/2) … by the area of a triangle where
    # R2/R1 > k: with x, y in [1−t, 1+t], P(y > kx) = ((1+t) − k(1−t))²/(2k·(2t)²) while k ≥ 1
    t = 0.1
    values = sampled(box_of("R1=1k + @OUT + R2=1k", t), [2], SAMPLES, "uniform", 3)[0]
    for ratio in (1.05, 1.1, 1.15):
        threshold = 10 * ratio / (1 + ratio)
        share = ((1 + t) - ratio * (1 - t)) ** 2 / (2 * ratio * (2 * t) ** 2)
        assert (values > threshold).mean() == pytest.approx(share, abs=0.005)


@pytest.mark.parametrize(
    "text",
    [
        "R1=1k + @OUT + (R2=2k2 || (R3=470 + @B + R4=330))",
        "R1 in OUT 100\nR2 in b 220\nR3 OUT 0 330\nR4 b 0 150\nR5 OUT b 47",
    ],
)
def test_every_sample_is_what_the_general_solver_says(text: str) -> None:
    circuit = build_circuit(read_text(text))
    node = circuit.node("OUT")
    load = LoadRange(Load(node, ohms=5e3), 5e3, 5e3)
    box = Box(circuit, Supply(9.0, 0.05, 33.0), (load,), (0.02,) * len(circuit.branches))
    values = sampled(box, [node, None], 40, "uniform", 11)
    rng = np.random.default_rng(11)
    factors = [1 + 0.02 * rng.uniform(-1, 1, 40) for _ in circuit.branches]
    supply = 9.0 * (1 + 0.05 * rng.uniform(-1, 1, 40))
    for k in range(40):
        pairs = zip(circuit.branches, factors, strict=True)
        moved = replace(
            circuit, branches=tuple(replace(b, ohms=b.ohms * float(f[k])) for b, f in pairs)
        )
        found = solve(moved, float(supply[k]), 33.0, [load.load])
        assert values[0][k] == pytest.approx(found.voltages[node], rel=1e-9)
        assert values[1][k] == pytest.approx(found.total_ohms, rel=1e-9)


def test_samples_stay_inside_the_extremes_and_come_near_them() -> None:
    circuit = build_circuit(read_text("R1=10k + @OUT + R2=4k7"))
    box = Box(circuit, Supply(12.0, 0.05), (), (0.01, 0.02))
    volts, ohms = sampled(box, [circuit.node("OUT"), None], SAMPLES, "uniform", 5)
    extreme, total = output_spread(box, circuit.node("OUT")), resistance_spread(box)
    assert extreme.lowest <= volts.min() < volts.max() <= extreme.highest
    assert volts.max() > extreme.nominal + 0.9 * (extreme.highest - extreme.nominal)
    assert total.lowest <= ohms.min() < ohms.max() <= total.highest


def test_a_starved_current_load_holds_its_junction_at_0_v() -> None:
    circuit = build_circuit(read_text("R1=10k + @OUT + R2=100k"))
    node = circuit.node("OUT")
    load = LoadRange(Load(node, amps=1e-3), 1e-3, 1e-3)
    box = Box(circuit, Supply(10.0, 0.2), (load,), (0.1, 0.1))
    values = sampled(box, [node], 5000, "uniform", 2)[0]
    assert values.min() == 0.0
    assert 0.3 < (values == 0).mean() < 0.7  # 10 V − 1 mA · 10 kΩ is about nothing
    assert values.max() > 1.0


def test_the_same_seed_gives_the_same_samples() -> None:
    box = box_of("R1=1k + @OUT + R2=1k", 0.05)
    one, two, other = (sampled(box, [2], 70_000, "normal", s)[0] for s in (4, 4, 5))
    assert (one == two).all()
    assert (one != other).any()


@pytest.mark.parametrize(("hits", "samples"), [(0, 10), (10, 10), (3, 17), (995, 1000)])
def test_the_interval_is_wilsons(hits: int, samples: int) -> None:
    # scipy: binomtest's Wilson interval without continuity correction
    exact = stats.binomtest(hits, samples).proportion_ci(0.95, method="wilson")
    assert wilson(hits, samples) == pytest.approx((exact.low, exact.high), abs=1e-12)


def test_too_many_samples_or_none_are_refused() -> None:
    with pytest.raises(TooLargeError, match="2000001 samples are more than the 2000000 drawn"):
        sampled(box_of("R1=1k", 0.1), [None], 2_000_001, "uniform", 0)
    with pytest.raises(DomainError, match="at least one sample"):
        sampled(box_of("R1=1k", 0.1), [None], 0, "uniform", 0)


@pytest.mark.parametrize("count", [2, 7, 1000])
def test_a_scatter_is_what_numpy_says_of_the_samples(count: int) -> None:
    values = np.random.default_rng(3).normal(5.0, 0.1, count)
    found = scatter(values, (4.95, 5.05))
    counts, edges = np.histogram(values, bins=len(found.counts))
    assert found.counts == tuple(counts.tolist())
    assert found.edges == pytest.approx(tuple(edges.tolist()))
    for name, value in found.percentiles.items():
        assert value == pytest.approx(float(np.percentile(values, float(name))), rel=1e-12)
    assert found.inside == pytest.approx(((values >= 4.95) & (values <= 5.05)).mean())


def test_the_same_seed_gives_the_same_samples_however_the_batches_fall() -> None:
    box = box_of("R1=1k + @OUT + R2=1k", 0.05)
    first, again = (sampled(box, [2], 200_000, "uniform", 7)[0] for _ in range(2))
    assert (first == again).all()
    assert not (first == sampled(box, [2], 200_000, "uniform", 8)[0]).all()
    told: list[float] = []
    sampled(box, [2], 200_000, "uniform", 7, progress=told.append)
    assert told == [0.25, 0.5, 0.75, 1.0]


def test_a_regulated_output_scatters_as_its_legs_and_reference_do() -> None:
    box = box_of("R1=35k + @FB + R2=10k", 0.01, Supply(0.8, 0.02))
    upper, lower, held = sampled_legs(box, 2, 100_000, "uniform", 1)
    # Closed form of uniform parts: standard deviation is the half-width over √3
    assert upper.std() == pytest.approx(350 / math.sqrt(3), rel=0.02)
    assert lower.std() == pytest.approx(100 / math.sqrt(3), rel=0.02)
    assert held.std() == pytest.approx(0.016 / math.sqrt(3), rel=0.02)
    assert abs(np.corrcoef(upper, lower)[0, 1]) < 0.02
