"""The parts that every search of two legs shares."""

import itertools
import random
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.combine import table
from lowfold.core.search.divider import DividerNeed
from lowfold.core.search.divider_legs import Legs
from lowfold.core.search.pairing import (
    both_in_stock,
    from_comfortable,
    parallel_of,
    runs,
    shortlist,
    spread_out,
)


def test_runs_are_spread_out_to_pairs_in_order() -> None:
    u, v = spread_out(np.array([0, 5, 2]), np.array([2, 5, 4]))
    assert list(zip(u.tolist(), v.tolist(), strict=True)) == [(0, 0), (0, 1), (2, 2), (2, 3)]
    empty = spread_out(np.array([3]), np.array([1]))  # an end before its start is nothing
    assert [len(x) for x in empty] == [0, 0]


def test_runs_hold_what_lies_between_two_bounds_rounding_allowed() -> None:
    rising = np.array([1.0, 2.0, 2.0, 3.0, 5.0])
    start, stop = runs(rising, 3, np.array([2.0, 2.5, 6.0]), np.array([3.0, 2.6, 7.0]))
    assert list(zip(start.tolist(), stop.tolist(), strict=True)) == [(1, 4), (3, 3), (5, 5)]
    near = runs(rising, 1, 2.0 * (1 + 1e-13), 3.0 * (1 - 1e-13))
    assert (near[0][0], near[1][0]) == (1, 4)


def test_ten_kilohms_is_the_most_comfortable() -> None:
    assert from_comfortable(10e3) == 0.0
    assert from_comfortable(1e3) == pytest.approx(float(from_comfortable(100e3)))


@pytest.mark.parametrize("seed", range(8))
def test_two_legs_need_what_they_need_together(seed: int) -> None:
    rng = random.Random(seed)
    pool = Pool.stock({v: rng.choice([1, 2, PLENTY]) for v in (10.0, 22.0, 47.0)})
    one, two = table(pool, rng.choice([1, 2])), table(pool, rng.choice([1, 2]))
    pairs = list(itertools.product(range(len(one.ohms)), range(len(two.ohms))))
    u, v = (np.array(side) for side in zip(*pairs, strict=True))
    found = both_in_stock(one, u, two, v)
    for (a, b), enough in zip(pairs, found, strict=True):
        used = [*one.leaves[a].tolist(), *two.leaves[b].tolist()]
        assert enough == all(used.count(k) <= pool.counts[k] for k in used)


@pytest.mark.parametrize("prefer", ["nearest", "worst_case", "least_current"])
@pytest.mark.parametrize("seed", range(6))
def test_a_known_cost_narrows_the_shortlist_but_loses_none_of_the_best(
    prefer: str, seed: int
) -> None:
    rng = random.Random(seed)
    values = sorted(rng.sample([10.0, 12.0, 15.0, 22.0, 33.0, 47.0, 68.0, 100.0], 6))
    need = DividerNeed(
        supply_volts=10.0,
        target_volts=rng.uniform(1, 9),
        pool=Pool.plenty(values),
        within=0.5 if prefer == "least_current" else None,
        limit=3,
        prefer=prefer,  # type: ignore[arg-type]
    )
    legs = Legs(need, table(need.pool, 1), table(need.pool, 1))

    def costs(known: float) -> list[float]:
        pairs = list(shortlist(legs, known))
        u, v = (np.array(side, dtype=np.int64) for side in zip(*pairs, strict=True))
        return sorted(legs.cost(u, v).tolist())[: need.limit]

    free = costs(float("inf"))
    assert costs(free[-1] * 1.001) == pytest.approx(free)


@given(*[st.fractions(Fraction(1, 1000), 10**9) for _ in "12"])
def test_two_in_parallel_are_correctly_rounded(one: Fraction, other: Fraction) -> None:
    assert parallel_of(one, other) == float(one * other / (one + other))
