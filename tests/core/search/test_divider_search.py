"""The divider search against plain enumeration of every pair."""

import itertools
import math
import random
from collections import Counter
from dataclasses import replace
from fractions import Fraction

import pytest

from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network.tree import resistance, write_network
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.divider import DividerNeed, loaded_output
from lowfold.core.search.divider_search import Divider, search_divider
from lowfold.core.values.preferred import series_values

VALUES = [10.0, 22.0, 33.0, 47.0, 68.0, 100.0, 150.0, 220.0, 330.0, 470.0, 1e3, 2.2e3, 4.7e3, 1e4]

#: A figure on its bound but for rounding keeps it.
ON_IT = 1e-12


def test_tap_voltage_by_hand() -> None:
    assert loaded_output(2e3, 3e3, 5.0, 0.0, 0.0, 0.0) == pytest.approx(3.0)  # common practice
    assert loaded_output(1e3, 1e3, 10.0, 0.0, 1e-3, 0.0) == pytest.approx(10 / 3)  # three of 1 kΩ
    assert loaded_output(1e3, 1e3, 10.0, 0.0, 0.0, 2e-3) == pytest.approx(4.0)  # Vth − I·Rth
    assert loaded_output(1e3, 1e3, 10.0, 0.0, 0.0, 1.0) == 0.0  # starved
    assert loaded_output(1e3, 3e3, 5.0, -3.0, 0.0, 0.0) == pytest.approx(
        3.0
    )  # (VH·RL+VL·RU)/(RU+RL)
    assert loaded_output(1e3, 1e3, 1.0, -5.0, 0.0, 1.0) == -2.0  # below 0 V a load draws nothing


def legs(need: DividerNeed) -> list[tuple[float, Counter[int]]]:
    """Every leg of the parts allowed, with what it takes from the pool."""
    found = [(ohms, Counter([i])) for i, ohms in enumerate(need.pool.ohms)]
    if need.max_per_leg == 2:
        pairs = itertools.combinations_with_replacement(enumerate(need.pool.ohms), 2)
        for (i, one), (j, two) in pairs:
            found += [(r, Counter([i, j])) for r in (one + two, one * two / (one + two))]
    return found


def plain(need: DividerNeed) -> list[float]:
    """Every pair of legs by nested loops: the cost of each that keeps the bounds, sorted."""
    siemens = 1 / need.load_ohms if need.load_ohms else 0.0
    amps = need.load_amps or 0.0
    costs = []
    for (up, taken), (down, more) in itertools.product(legs(need), repeat=2):
        if any(need.pool.counts[i] < n for i, n in (taken + more).items()):
            continue

        def output(u: float, d: float, s: float) -> float:
            return loaded_output(u + need.source_ohms, d, s, need.low_volts, siemens, amps)

        nominal = output(up, down, need.supply_volts)
        drawn = (need.supply_volts - nominal) / (up + need.source_ohms)
        thevenin = 1 / (1 / (up + need.source_ohms) + 1 / down)
        error = nominal / need.target_volts - 1
        feeds = 0.0 if amps and need.target_volts > 0 else -math.inf
        if (
            nominal <= feeds
            or (need.within is not None and abs(error) > need.within + ON_IT)
            or (need.max_amps is not None and drawn > need.max_amps + ON_IT)
            or (need.min_amps is not None and drawn < need.min_amps - ON_IT)
            or (need.max_output_ohms is not None and thevenin > need.max_output_ohms + ON_IT)
        ):
            continue
        t, s = need.tolerance, need.supply_tolerance
        corners = [
            output(up * (1 + a * t), down * (1 + b * t), need.supply_volts * (1 + c * s))
            for a, b, c in itertools.product((-1, 1), repeat=3)
        ]
        worst = max(max(corners) - need.target_volts, need.target_volts - min(corners))
        costs.append(
            {"nearest": abs(error), "worst_case": worst, "least_current": drawn}[need.prefer]
        )
    return sorted(costs)


def random_need(rng: random.Random, per_leg: int) -> DividerNeed:
    values = sorted(rng.sample(VALUES, rng.randint(3, 8 if per_leg == 1 else 4)))
    counts = [rng.choice([1, 2, 3, PLENTY]) for _ in values]
    bounds = {"within": 0.1, "max_amps": 0.02, "min_amps": 5e-3, "max_output_ohms": 500.0}
    loads = [
        {},
        {},
        {"load_ohms": 5e3},
        {"load_ohms": 300.0},
        {"load_amps": 1e-3},
        {"load_amps": 5e-2},
    ]
    more = {name: value for name, value in bounds.items() if rng.random() < 0.35} | rng.choice(
        loads
    )
    return DividerNeed(
        supply_volts=12.0,
        target_volts=rng.choice([3.0, 5.5, 7.0, 1.7]),
        low_volts=rng.choice([0.0, 0.0, -3.0, 1.0]),
        source_ohms=rng.choice([0.0, 50.0]),
        supply_tolerance=0.05,
        tolerance=0.02,
        limit=rng.choice([1, 5, 20]),
        max_per_leg=per_leg,
        prefer=rng.choice(["nearest", "worst_case", "least_current"]),
        pool=Pool.stock(dict(zip(values, counts, strict=True))),
        **more,  # type: ignore[arg-type]  # names of bounds, each a number
    )


def cost_of(need: DividerNeed, found: Divider) -> float:
    if need.prefer == "least_current":
        return found.amps
    if need.prefer == "nearest":
        return abs(found.error)
    return max(found.highest_volts - need.target_volts, need.target_volts - found.lowest_volts)


@pytest.mark.parametrize("per_leg", [1, 2])
@pytest.mark.parametrize("seed", range(80))
def test_candidates_are_the_best_there_are(seed: int, per_leg: int) -> None:
    need = random_need(random.Random(seed), per_leg)
    found = search_divider(need)
    costs = [cost_of(need, d) for d in found.candidates]
    assert costs == pytest.approx(plain(need)[: need.limit], rel=1e-12, abs=1e-13)
    assert (found.reason is None) == bool(found.candidates)
    assert len({write_network(d.network) for d in found.candidates}) == len(found.candidates)


def test_a_candidates_figures_by_exact_arithmetic() -> None:
    need = DividerNeed(
        supply_volts=14.4, supply_tolerance=0.03, target_volts=3.0, load_ohms=200e3,
        pool=Pool.plenty(series_values(["E24"])), max_amps=80e-6,
    )  # fmt: skip
    best = search_divider(need).candidates[0]
    assert write_network(best.network) == "R1=360k + @OUT + R2=180k"
    # By hand: 180k ‖ 200k = 94736.842 Ω; 14.4 · 94736.842 / 454736.842 = 3 V exactly
    assert best.output_volts == 3.0
    assert best.error == 0.0
    assert best.unloaded_volts == pytest.approx(4.8)
    assert best.amps == pytest.approx(14.4 / (360e3 + 3.6e10 / 380e3))
    assert best.output_ohms == pytest.approx(120e3)
    assert best.watts["R1"] == pytest.approx((14.4 - 3.0) ** 2 / 360e3)
    assert best.watts["R2"] == pytest.approx(9 / 180e3)
    low = [Fraction(x) for x in ("14.4", "0.97", "363600", "178200", "200000")]
    lower = low[3] * low[4] / (low[3] + low[4])
    assert best.lowest_volts == float(low[0] * low[1] * lower / (lower + low[2]))


def test_exact_ties_go_to_a_comfortable_output_resistance() -> None:
    # Half the supply is met exactly by every equal pair; 20 kΩ each gives 10 kΩ at the tap
    need = DividerNeed(
        supply_volts=5.0, target_volts=2.5, pool=Pool.plenty(series_values(["E96", "E24"])), limit=3
    )
    found = search_divider(need).candidates
    assert write_network(found[0].network) == "R1=20k + @OUT + R2=20k"
    assert all(d.error == 0.0 for d in found)
    assert all(resistance(d.upper) == resistance(d.lower) for d in found)


def test_the_union_is_searched_in_full() -> None:
    pool = Pool.plenty(series_values(["E192"]))
    need = DividerNeed(supply_volts=3.3, target_volts=1.234, pool=pool, limit=1)
    best = search_divider(need).candidates[0]
    ohms = pool.ohms
    decade = [v for v in ohms if 1e3 <= v < 1e4]
    wide = [v for v in ohms if 1e2 <= v < 1e5]
    brute = min(abs(3.3 * d / (u + d) / 1.234 - 1) for u in decade for d in wide)
    assert abs(best.error) == pytest.approx(brute, rel=1e-6)


@pytest.mark.parametrize(
    ("supply", "target", "network"),
    [
        (1e6, 1e-6, "R1=1G + @OUT + R2=1L"),  # a million millionfold: 1 mΩ under 1 GΩ
        (1e-3, 0.5e-3, "R1=20k + @OUT + R2=20k"),  # millivolts
    ],
)
def test_extreme_ratios_cost_no_figures(supply: float, target: float, network: str) -> None:
    pool = Pool.plenty(series_values(["E24"], 1e-3, 1e9))
    best = search_divider(
        DividerNeed(supply_volts=supply, target_volts=target, pool=pool)
    ).candidates[0]
    assert write_network(best.network) == network
    assert best.error == pytest.approx(0.0, abs=2e-12)


def test_legs_of_two_parts_take_from_one_drawer() -> None:
    # By hand: 2 kΩ over 1 kΩ on 3 V is 1 V; with one 2 kΩ and three 1 kΩ the upper leg is either
    pool = Pool.stock({1e3: 3})
    need = DividerNeed(supply_volts=3.0, target_volts=1.0, pool=pool, max_per_leg=2, limit=1)
    best = search_divider(need).candidates[0]
    assert write_network(best.network) == "R1=1k + R2=1k + @OUT + R3=1k"
    assert best.watts == pytest.approx({"R1": 1e-3, "R2": 1e-3, "R3": 1e-3})
    many = Pool.plenty([float(v) for v in range(1, 702)])
    with pytest.raises(TooLargeError, match="701 values are more than the 700 searched"):
        DividerNeed(supply_volts=3.0, target_volts=1.0, pool=many, max_per_leg=2)


CONTRADICTIONS = [
    ({"max_per_leg": 3}, TooLargeError, "legs of 3 parts are asked for; up to 2 are searched"),
    ({"limit": 501}, TooLargeError, "501 candidates are asked for; at most 500 are listed"),
    ({"low_volts": 5.0}, DomainError, "the other end at 5 V is not below the supply of 5 V: the supply is the higher of the two"),
    ({"target_volts": 0.0}, DomainError, "a target of 0 V has no relative error: give a target other than 0 V"),
    ({"load_ohms": 1.0, "load_amps": 1.0}, DomainError, "a load is a resistance or a current: give one of the two"),
    ({"min_amps": 2.0, "max_amps": 1.0}, DomainError, "the smallest current is above the largest"),
]  # fmt: skip


@pytest.mark.parametrize(("more", "kind", "message"), CONTRADICTIONS)
def test_needs_that_contradict_themselves(
    more: dict[str, float], kind: type[DomainError], message: str
) -> None:
    fields: dict[str, float] = {"supply_volts": 5.0, "target_volts": 2.0} | more
    with pytest.raises(kind) as refused:
        DividerNeed(pool=Pool.plenty([1.0]), **fields)  # type: ignore[arg-type]
    assert refused.value.message == message


REASONS = [
    ({"target_volts": 6.0, "within": 0.01}, "a divider's output lies between its ends, 0 V and 5 V; 6 V does not"),
    ({"target_volts": 3.0, "within": 1e-4, "max_amps": 1e-6}, "no pair of these values meets every bound at once (within 0.0100%, at most 1e-06 A): loosen one of them"),
    ({"target_volts": 3.0, "load_amps": 10.0}, "the load holds the output down with all of these values: use lower ones or less load"),
]  # fmt: skip


@pytest.mark.parametrize(("more", "reason"), REASONS)
def test_nothing_found_says_why(more: dict[str, float], reason: str) -> None:
    need = DividerNeed(supply_volts=5.0, pool=Pool.plenty([1e3, 2.2e3, 4.7e3]), **more)  # type: ignore[arg-type]
    found = search_divider(need)
    assert (found.candidates, found.reason) == ((), reason)


def two_supplies(**more: object) -> DividerNeed:
    return DividerNeed(pool=Pool.plenty(series_values(["E24"], 100.0, 1e5)), **more)  # type: ignore[arg-type]


def brute(need: DividerNeed, up: float, down: float) -> tuple[float, float]:
    """The lowest and highest output over every corner, by the tap's node equation."""
    t, s = need.tolerance, need.supply_tolerance
    found = []
    for a, b, c in itertools.product((-1, 1), repeat=3):
        u, d = up * (1 + a * t) + need.source_ohms, down * (1 + b * t)
        v = need.supply_volts * (1 + c * s)
        load = 1 / need.load_ohms if need.load_ohms else 0.0
        found.append((v / u + need.low_volts / d) / (1 / u + 1 / d + load))
    return min(found), max(found)


def test_a_load_pulls_an_output_below_its_low_end() -> None:
    # By hand, all eight corners: 10.8 V over 1320 Ω, 5 V under 1320 Ω, 1 kΩ to 0 V
    need = two_supplies(
        supply_volts=12.0, low_volts=5.0, target_volts=5.2, load_ohms=1e3, tolerance=0.1,
        supply_tolerance=0.1, limit=500,
    )  # fmt: skip
    found = {(resistance(d.upper), resistance(d.lower)): d for d in search_divider(need).candidates}
    pair = found[1.2e3, 1.2e3]
    assert pair.lowest_volts == pytest.approx((10.8 / 1320 + 5 / 1320) / (2 / 1320 + 1e-3))
    assert pair.lowest_volts == pytest.approx(4.7590, abs=5e-5)
    for (up, down), divider in found.items():
        assert (divider.lowest_volts, divider.highest_volts) == pytest.approx(brute(need, up, down))


@pytest.mark.parametrize("prefer", ["nearest", "worst_case", "least_current"])
@pytest.mark.parametrize(
    ("supply", "low", "target", "load"),
    [(-5.0, -12.0, -5.1, 1e4), (12.0, 5.0, 5.2, 1e3), (12.0, 5.0, 4.5, 2e3), (5.0, -5.0, 0.5, 1e4),
     (-3.0, -9.0, -2.5, 5e3), (9.0, 2.0, 6.0, 3e4)],
)  # fmt: skip
def test_two_supplies_against_every_pair(
    prefer: str, supply: float, low: float, target: float, load: float
) -> None:
    within = 0.05 if prefer == "least_current" else None
    need = two_supplies(
        supply_volts=supply, low_volts=low, target_volts=target, load_ohms=load, tolerance=0.02,
        supply_tolerance=0.01, within=within, prefer=prefer, limit=20,
    )  # fmt: skip
    costs = []
    for up, down in itertools.product(need.pool.ohms, repeat=2):
        nominal = (supply / up + low / down) / (1 / up + 1 / down + 1 / load)
        if within is not None and abs(nominal / target - 1) > within + ON_IT:
            continue
        lowest, highest = brute(need, up, down)
        worst = max(highest - target, target - lowest)
        drawn = (supply - nominal) / up
        costs.append(
            {"nearest": abs(nominal / target - 1), "worst_case": worst, "least_current": drawn}[
                prefer
            ]
        )
    costs.sort()
    found = search_divider(need).candidates
    mine = [
        {
            "nearest": abs(d.error),
            "worst_case": max(d.highest_volts - target, target - d.lowest_volts),
            "least_current": d.amps,
        }[prefer]
        for d in found
    ]
    assert mine == pytest.approx(costs[: len(mine)], rel=1e-9, abs=1e-12)
    assert len(mine) == min(20, len(costs))
    for d in found:
        assert d.lowest_volts <= d.output_volts <= d.highest_volts
    one = search_divider(replace(need, limit=1)).candidates
    assert [write_network(d.network) for d in one] == [write_network(d.network) for d in found[:1]]


@pytest.mark.parametrize("per_leg", [1, 2])
@pytest.mark.parametrize("prefer", ["nearest", "worst_case", "least_current"])
def test_the_first_row_is_the_same_for_every_limit(prefer: str, per_leg: int) -> None:
    rng = random.Random(5)
    for _ in range(12):
        supply = rng.uniform(3, 20)
        need = two_supplies(
            supply_volts=supply, target_volts=supply * rng.uniform(0.1, 0.9),
            load_ohms=rng.choice([None, 1e4, 1e6]), max_per_leg=per_leg, tolerance=0.01,
            within=0.05, prefer=prefer,
        )  # fmt: skip
        every = [
            write_network(search_divider(replace(need, limit=k)).candidates[0].network)
            for k in (1, 2, 20, 100)
        ]
        assert len(set(every)) == 1


def test_the_range_of_a_load_counts_in_the_worst_case() -> None:
    need = two_supplies(
        supply_volts=5.0, target_volts=3.31, load_ohms=1e4, load_ends=(9e3, 11e3), tolerance=0.0,
        prefer="worst_case", limit=5,
    )  # fmt: skip
    for d in search_divider(need).candidates:
        up, down = resistance(d.upper), resistance(d.lower)
        ends = [5 * (1 / (1 / down + 1 / x)) / (up + 1 / (1 / down + 1 / x)) for x in (9e3, 11e3)]
        assert (d.lowest_volts, d.highest_volts) == pytest.approx((min(ends), max(ends)))


def test_the_resistance_seen_at_the_tap_counts_the_source_in() -> None:
    # By hand (Thévenin): (10 kΩ + 2 kΩ) ∥ 6 kΩ = 4 kΩ, and 9 V·6/18 = 3 V
    need = DividerNeed(
        supply_volts=9.0, target_volts=3.0, source_ohms=2e3, pool=Pool.plenty([6e3, 10e3]), limit=4
    )
    first = search_divider(need).candidates[0]
    assert (write_network(first.network), first.output_volts) == ("R1=10k + @OUT + R2=6k", 3.0)
    assert first.output_ohms == 4e3
    softer = replace(need, max_output_ohms=3.9e3)
    assert all(c.output_ohms <= 3.9e3 for c in search_divider(softer).candidates)
