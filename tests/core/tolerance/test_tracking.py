"""Parts of one array or reel: their ratios are held tighter than their values."""

import itertools
import math

import numpy as np
import pytest

from lowfold.core.errors import DomainError
from lowfold.core.needs.kinds import read_brief, weigh
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_network, read_text
from lowfold.core.search.feedback import regulated_output
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply, Tracking
from lowfold.core.tolerance.power import worst_power
from lowfold.core.tolerance.sampling import sampled
from lowfold.core.tolerance.spread import output_spread, resistance_spread
from tests.core.tolerance.test_spread import moved


def tracking_box(
    text: str, half: float, ratio: float, *loads: float, source: float = 0.0, amps: float = 0.0
) -> Box:
    circuit = build_circuit(read_text(text))
    ranges = [LoadRange(Load(circuit.node("OUT"), ohms=x), 0.5 * x, 2 * x) for x in loads]
    if amps:
        ranges.append(LoadRange(Load(circuit.node("OUT"), amps=amps), 0.0, amps))
    halves = (half,) * len(circuit.branches)
    return Box(circuit, Supply(10.0, 0.02, source), tuple(ranges), halves, Tracking(ratio))


def grid(box: Box, steps: int) -> list[float]:
    """Every output on a grid of the smallest factor and every end of all else: the plain way.

    Parts keep a ratio where the largest of their factors is at most 1 + ratio times the smallest.
    """
    assert box.tracking is not None
    found, half, wide = [], box.half_widths[0], 1 + box.tracking.ratio
    for least in np.linspace(1 - half, (1 + half) / wide, steps):
        ends = [(b.ohms * least, b.ohms * least * wide) for b in box.circuit.branches]
        for ohms in itertools.product(*ends):
            for chosen in itertools.product(*[(r.low, r.high) for r in box.loads]):
                loads = [
                    Load(r.load.at, ohms=x) if r.load.ohms else Load(r.load.at, amps=x)
                    for r, x in zip(box.loads, chosen, strict=True)
                ]
                for volts in (9.8, 10.2):
                    solution = solve(moved(box, ohms), volts, box.supply.source_ohms, loads)
                    found.append(solution.voltages[box.circuit.node("OUT")])
    return found


def test_each_part_stays_within_its_own_half_width_and_any_two_within_the_ratio() -> None:
    box = tracking_box("R1=3k + @OUT + R2=1k", 0.01, 0.002)
    for _, still in box.variants():
        least = min(low / b.ohms for low, b in zip(still.low, box.circuit.branches, strict=True))
        most = max(high / b.ohms for high, b in zip(still.high, box.circuit.branches, strict=True))
        assert (least >= 0.99 - 1e-12, most <= 1.01 + 1e-12) == (True, True)
        assert most / least == pytest.approx(1.002, rel=1e-12)
    # What is drawn at random keeps them too: (1 + c)·(1 + d)
    assert (1 + box.common) * (1 + box.own[0]) == pytest.approx(1.01)
    assert (1 + box.own[0]) / (1 - box.own[1]) == pytest.approx(1.002, rel=1e-12)


def test_all_may_be_low_together_with_a_ratio_of_one() -> None:
    # By hand: two 1k of ±20 % whose ratio is 1 ± 20 %: both may be 800 Ω, both 1200 Ω
    both = tracking_box("R1=1k + @OUT + R2=1k", 0.2, 0.2)
    spread = resistance_spread(both)
    assert (spread.lowest, spread.highest) == pytest.approx((1600.0, 2400.0), rel=1e-12)
    # A ratio looser than the values themselves holds nothing: the box is the one without it
    loose = tracking_box("R1=1k + @OUT + R2=1k", 0.2, 0.6)
    alone = Box(loose.circuit, loose.supply, (), loose.half_widths)
    assert output_spread(loose, 2) == output_spread(alone, 2)


@pytest.mark.parametrize("halves", [(0.2, 0.05), (0.05, 0.2), (0.3, 0.0), (0.1, 0.1)])
def test_resistance_extremes_with_unlike_parts_are_met_and_never_passed(
    halves: tuple[float, float],
) -> None:
    circuit = build_circuit(read_text("R1=1k + @OUT + R2=3k"))
    box = Box(circuit, Supply(10.0), (), halves, Tracking(0.1))
    found = resistance_spread(box)
    ends = [np.linspace(1 - h, 1 + h, 401) for h in halves]
    one, two = np.meshgrid(*ends)
    kept = np.maximum(one, two) <= 1.1 * np.minimum(one, two) * (1 + 1e-12)
    totals = (1e3 * one + 3e3 * two)[kept]
    assert found.lowest <= totals.min() * (1 + 1e-12)
    assert found.highest >= totals.max() * (1 - 1e-12)
    assert (found.lowest, found.highest) == pytest.approx((totals.min(), totals.max()), rel=2e-3)


def test_an_unloaded_divider_sees_the_ratio_alone() -> None:
    free = output_spread(tracking_box("R1=3k + @OUT + R2=1k", 0.01, 0.0), 2)
    # By hand: with a ratio held to nothing, only the supply's 2 % is left
    assert (free.lowest, free.highest) == pytest.approx((2.45, 2.55))
    tight = output_spread(tracking_box("R1=3k + @OUT + R2=1k", 0.01, 0.002), 2)
    # By hand: the lower part 0.2 % above the upper one
    assert tight.highest == pytest.approx(10.2 * 1.002 / (1.002 + 3), rel=1e-12)
    assert tight.highest_corner["together"] in {"low", "high"}


@pytest.mark.parametrize(
    "box",
    [
        tracking_box("R1=3k + @OUT + R2=1k", 0.05, 0.01, 2e3),
        tracking_box("R1=3k + @OUT + (R2=2k || R3=2k2)", 0.05, 0.02, amps=1e-3),
        tracking_box(
            "R1 in a 1k\nR2 a 0 2k\nR3 in OUT 3k\nR4 OUT 0 1k\nR5 a OUT 500", 0.03, 0.01, 1e3
        ),
    ],
    ids=["one load", "a current load", "a bridge"],
)
def test_extremes_with_one_thing_that_does_not_track_are_proven(box: Box) -> None:
    found = output_spread(box, box.circuit.node("OUT"))
    every = grid(box, 21)
    assert found.proven
    assert (found.lowest, found.highest) == pytest.approx((min(every), max(every)), rel=1e-12)


def test_with_more_than_one_the_places_between_are_looked_at_too() -> None:
    box = tracking_box("R1=3k + @OUT + R2=1k", 0.2, 0.01, 1.5e3, source=500.0)
    found = output_spread(box, box.circuit.node("OUT"))
    every = grid(box, 101)
    assert not found.proven
    assert found.lowest == pytest.approx(min(every), rel=1e-4)
    assert found.highest == pytest.approx(max(every), rel=1e-4)


def test_resistance_keeps_its_full_tolerance_but_averages_less() -> None:
    text = "R1=1k + R2=1k + @OUT + R3=1k + R4=1k"
    tracked = resistance_spread(tracking_box(text, 0.01, 0.002))
    assert tracked.highest == pytest.approx(4040.0)
    # By hand: four shared parts move as one; what is their own averages
    box = tracking_box(text, 0.01, 0.002)
    own = box.own[0] * 1e3 * math.sqrt(4)
    assert tracked.rss == pytest.approx(math.hypot(own, 4e3 * box.common), rel=1e-9)


def test_power_takes_parts_as_independent_which_is_never_too_low() -> None:
    box = tracking_box("R1=3k + @OUT + R2=1k", 0.05, 0.01)
    alone = Box(box.circuit, box.supply, (), box.half_widths)
    assert worst_power(box, 0) == worst_power(alone, 0)


def test_samples_share_what_they_share() -> None:
    box = tracking_box("R1=3k + @OUT + R2=1k", 0.05, 0.001)
    still = Box(box.circuit, Supply(10.0), (), box.half_widths, box.tracking)
    volts, total = sampled(still, [2, None], 50_000, "uniform", 5)
    spread = output_spread(still, 2)
    assert spread.lowest <= volts.min()
    assert volts.max() <= spread.highest
    assert total.std() == pytest.approx(4e3 * box.common / math.sqrt(3), rel=0.02)


def test_a_feedback_pair_of_one_array_keeps_its_ratio() -> None:
    texts = {"target_v": "3.6 V", "reference_v": "0.8 V", "reference_tolerance": "0 %"}
    network = read_network("R1=35k + @FB + R2=10k")
    need = read_brief("feedback", texts | {"tracking": "0.1 %", "pin_a": "1 µA"}).need
    assert need is not None
    found = weigh(need, network).marks[0]
    # By hand: 1 % + 100 ppm/K · 45 K each, the larger factor at most 0.1 % above the smaller
    every = [
        regulated_output(35e3 * low * u, 10e3 * low * v, 0.8, 1e-6)
        for low in (1 - 0.0145, 1.0145 / 1.001)
        for u in (1.0, 1.001)
        for v in (1.0, 1.001)
    ]
    assert (found.lowest, found.highest) == pytest.approx((min(every), max(every)), rel=1e-12)


def test_a_ratio_of_more_than_everything_is_refused() -> None:
    with pytest.raises(DomainError, match="a ratio tolerance is a fraction from 0 to below 1"):
        Tracking(1.0)
