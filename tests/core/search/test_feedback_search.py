"""Feedback pairs against every pair of legs, in exact ratios."""

import itertools
import random
from collections import Counter
from fractions import Fraction

import pytest

from lowfold.core.errors import DomainError
from lowfold.core.network.tree import Part, exact_resistance, parts_of
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.combine import Table, table
from lowfold.core.search.feedback import FeedbackNeed, regulated_extremes, regulated_output
from lowfold.core.search.feedback_search import search_feedback
from tests.effort import seeds

VALUES = [1e3, 2.2e3, 3.3e3, 4.7e3, 10e3, 22e3, 47e3, 100e3]


def exact(value: float) -> Fraction:
    return Fraction(repr(float(value)))


def every(need: FeedbackNeed) -> list[tuple[Fraction, ...]]:
    """(cost, |error|) of every pair that keeps the bounds."""
    counts = dict(zip(need.pool.ohms, need.pool.counts, strict=True))
    sizes: list[Table] = [table(need.pool, n) for n in range(1, need.max_per_leg + 1)]
    legs = [t.network(row) for t in sizes for row in range(len(t.ohms))]
    ref, pin, target = (exact(x) for x in (need.reference_volts, need.pin_amps, need.target_volts))
    found = []
    for upper, lower in itertools.product(legs, repeat=2):
        used = Counter(
            p.ohms for leg in (upper, lower) for p in parts_of(leg) if isinstance(p, Part)
        )
        if any(counts[v] < n for v, n in used.items()):
            continue
        up, down = exact_resistance(upper), exact_resistance(lower)
        if ref / down + pin <= 0:
            continue
        out, amps = regulated_output(up, down, ref, pin), ref / down
        error = abs(out / target - 1)
        if need.within is not None and error > exact(need.within):
            continue
        if need.max_amps is not None and amps > exact(need.max_amps):
            continue
        if need.min_amps is not None and amps < exact(need.min_amps):
            continue
        if need.max_output_ohms is not None and up * down / (up + down) > exact(
            need.max_output_ohms
        ):
            continue
        corners = [
            regulated_output(up * (1 + a * exact(need.tolerance)), down * (1 + b * exact(need.tolerance)),
                             ref * (1 + c * exact(need.reference_tolerance)), pin)
            for a, b, c in itertools.product((-1, 1), repeat=3)
        ]  # fmt: skip
        cost = {
            "nearest": error,
            "worst_case": max(max(corners) - target, target - min(corners)),
            "least_current": amps,
        }[need.prefer]
        found.append((cost, error))
    return sorted(found)


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(30))
def test_candidates_are_the_best_of_all_pairs(seed: int) -> None:
    rng = random.Random(seed)
    per_leg = rng.choice([1, 1, 2])
    values = sorted(rng.sample(VALUES, 3 if per_leg == 2 else 7))
    need = FeedbackNeed(
        reference_volts=rng.choice([0.6, 0.8, 1.25]),
        reference_tolerance=rng.choice([0.0, 0.02]),
        target_volts=round(rng.uniform(1.0, 9.0), 2),
        pin_amps=rng.choice([0.0, 1e-6, 20e-6, -15e-6]),
        pool=Pool.stock({v: rng.choice([1, 2, PLENTY]) for v in values}),
        max_per_leg=per_leg,
        tolerance=rng.choice([0.01, 0.05]),
        min_amps=rng.choice([None, 20e-6]),
        max_amps=rng.choice([None, 200e-6]),
        max_output_ohms=rng.choice([None, 8e3]),
        within=rng.choice([None, 0.1]),
        limit=rng.choice([1, 7]),
        prefer=rng.choice(["nearest", "worst_case", "least_current"]),
    )
    found = search_feedback(need)
    expected = every(need)[: need.limit]
    if need.prefer == "least_current":
        got = [(exact(c.amps), abs(exact(c.error))) for c in found.candidates]
        assert [float(a) for a, _ in got] == pytest.approx([float(c) for c, _ in expected])
        if per_leg == 1:  # fewer parts go before a smaller error
            assert [float(e) for _, e in got] == pytest.approx([float(e) for _, e in expected])
    elif need.prefer == "nearest":
        assert [abs(c.error) for c in found.candidates] == [float(c) for c, _ in expected]
    else:
        worst = [
            max(c.highest_volts - need.target_volts, need.target_volts - c.lowest_volts)
            for c in found.candidates
        ]
        assert worst == pytest.approx([float(c) for c, _ in expected], rel=1e-9)
    assert (found.reason is None) == bool(expected)


def test_a_pair_by_hand() -> None:
    # By hand: 0.8 V·(1 + 100k/32k) = 3.3 V; 1 µA into the pin adds 1 µA · 100 kΩ = 0.1 V
    pool = Pool.plenty([32e3, 100e3])
    need = FeedbackNeed(reference_volts=0.8, target_volts=3.4, pin_amps=1e-6, pool=pool, limit=1)
    best = search_feedback(need).candidates[0]
    assert (best.output_volts, best.without_pin_volts) == (3.4, 3.3)
    assert best.amps == 25e-6
    # P = I²R: 26 µA in the upper leg, 25 µA in the lower
    assert best.watts == pytest.approx({"R1": 26e-6**2 * 100e3, "R2": 25e-6**2 * 32e3})


def test_a_strong_current_out_of_the_pin_turns_the_upper_leg_round() -> None:
    low, high = regulated_extremes(1e3, 10e3, 1.0, -105e-6, 0.05, 0.0)
    corners = [
        regulated_output(1e3 * (1 + a), 10e3 * (1 + b), 1.0, -105e-6)
        for a, b in itertools.product((-0.05, 0.05), repeat=2)
    ]
    assert (low, high) == (min(corners), max(corners))


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(12))
def test_the_steadiest_are_found_where_the_pin_takes_nearly_all(seed: int) -> None:
    # Out of the pin flows nearly what some lower legs carry: at their ends the slope turns round
    rng = random.Random(1000 + seed)
    values = sorted(rng.sample(VALUES, 7))
    reference, lower = 0.8, rng.choice(values[2:5])
    need = FeedbackNeed(
        reference_volts=reference,
        reference_tolerance=rng.choice([0.0, 0.02]),
        target_volts=round(rng.uniform(0.81, 1.2), 3),
        pin_amps=-reference / lower * rng.uniform(0.9, 0.999),
        pool=Pool.plenty(values),
        tolerance=0.05,
        limit=7,
        prefer="worst_case",
    )
    found = search_feedback(need).candidates
    target = need.target_volts
    worst = [max(c.highest_volts - target, target - c.lowest_volts) for c in found]
    expected = every(need)[: need.limit]
    assert worst == pytest.approx([float(cost) for cost, _ in expected], rel=1e-9)


def test_an_output_at_the_reference_says_so() -> None:
    need = FeedbackNeed(reference_volts=1.2, target_volts=1.0, pool=Pool.plenty([1e3]), within=0.01)
    assert search_feedback(need).reason == (
        "a feedback pair sets an output above the reference of 1.2 V; 1 V is not above it"
    )
    with pytest.raises(
        DomainError, match=r"the reference is above 0 V, for instance 0\.8 V, got 0 V"
    ):
        FeedbackNeed(reference_volts=0.0, target_volts=1.0, pool=Pool.plenty([1e3]))
