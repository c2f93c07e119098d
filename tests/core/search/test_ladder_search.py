"""Ladders against every combination of values, solved by the general node equations."""

import itertools
import random
from dataclasses import replace

import pytest

from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network.circuit import build_circuit, lifted
from lowfold.core.network.tree import Chain, Part, Tap, number_parts
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.ladder import LadderNeed, TapNeed
from lowfold.core.search.ladder_search import search_ladder
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.values.preferred import series_values
from tests.effort import seeds

VALUES = [10.0, 15.0, 22.0, 33.0, 47.0, 68.0, 100.0, 220.0, 470.0]


def solved(need: LadderNeed, ohms: tuple[float, ...]) -> tuple[list[float], float, bool]:
    items: list[Part | Tap] = [Part(ohms[0])]
    for k, r in enumerate(ohms[1:]):
        items += [Tap(f"T{k + 1}"), Part(r)]
    circuit = lifted(build_circuit(number_parts(Chain(tuple(items)))), need.low_volts)
    loads = [
        Load(circuit.node(f"T{k + 1}"), ohms=t.load_ohms, amps=t.load_amps)
        for k, t in enumerate(need.taps)
        if t.load_ohms is not None or t.load_amps is not None
    ]
    found = solve(circuit, need.supply_volts, need.source_ohms, loads, need.low_volts)
    volts = [found.voltages[circuit.node(f"T{k + 1}")] for k in range(len(need.taps))]
    return volts, found.supply_amps, not found.held


def every(need: LadderNeed) -> list[float]:
    """The worst error of every ladder that keeps the bounds, by the node equations."""
    counts = dict(zip(need.pool.ohms, need.pool.counts, strict=True))
    worst = []
    for ohms in itertools.product(need.pool.ohms, repeat=len(need.taps) + 1):
        if any(ohms.count(v) > counts[v] for v in set(ohms)):
            continue
        volts, amps, fed = solved(need, ohms)
        drawing = [v for v, t in zip(volts, need.taps, strict=True) if t.load_amps]
        if not fed or min(drawing, default=1.0) <= 1e-11:
            continue
        # At a limit is within it, whatever a double's last place says
        if need.max_amps is not None and amps > need.max_amps * (1 + 1e-12):
            continue
        if need.min_amps is not None and amps < need.min_amps * (1 - 1e-12):
            continue
        errors = [abs(v / t.target_volts - 1) for v, t in zip(volts, need.taps, strict=True)]
        worst.append(max(errors))
    return sorted(worst)


@pytest.mark.law
@pytest.mark.parametrize(
    ("seed", "low"),
    [(s, 0.0) for s in seeds(16)]
    + [(s, -6.0) for s in seeds(16)]
    + [(s, 0.25) for s in [*seeds(4), 271862]],  # 50 mA to the last place
)
def test_candidates_are_the_best_of_all_ladders(seed: int, low: float) -> None:
    rng = random.Random(seed)
    taps = rng.choice([1, 2, 2, 3, 4])
    values = sorted(rng.sample(VALUES, {1: 9, 2: 6, 3: 4, 4: 3}[taps]))
    counts = {v: rng.choice([1, 2, 3, PLENTY]) for v in values}
    targets = sorted((round(rng.uniform(0.3, 9.5), 3) for _ in range(taps)), reverse=True)
    loads = [
        {"load_ohms": rng.uniform(30, 3000)}
        if rng.random() < 0.4
        else {"load_amps": rng.uniform(0, 0.03)}
        if rng.random() < 0.5
        else {}
        for _ in targets
    ]
    need = LadderNeed(
        supply_volts=10.0,
        taps=tuple(TapNeed(target_volts=t, **x) for t, x in zip(targets, loads, strict=True)),
        pool=Pool.stock(counts),
        source_ohms=rng.choice([0.0, 5.0]),
        low_volts=low,
        max_amps=rng.choice([None, 0.05]),
        min_amps=rng.choice([None, 0.02]),
        limit=rng.choice([1, 10]),
    )
    found = search_ladder(need)
    expected = every(need)[: need.limit]
    assert found.exact
    assert [c.worst_error for c in found.candidates] == pytest.approx(expected, abs=1e-9)
    assert (found.reason is None) == bool(expected)
    for c in found.candidates:
        volts, amps, _ = solved(need, c.ohms)
        assert [t.output_volts for t in c.taps] == pytest.approx(volts, rel=1e-12)
        assert c.amps == pytest.approx(amps, rel=1e-9)


def test_extremes_are_at_the_corners_of_parts_and_supply() -> None:
    need = LadderNeed(
        supply_volts=12.0,
        supply_tolerance=0.05,
        taps=(TapNeed(target_volts=8.0, load_ohms=2e3), TapNeed(target_volts=3.0, load_amps=1e-3)),
        pool=Pool.plenty(series_values(["E12"], 100.0, 10e3)),
        tolerance=0.1,
        limit=3,
    )
    for ladder in search_ladder(need).candidates:
        every_corner = []
        for signs in itertools.product((-1, 1), repeat=4):
            moved = LadderNeed(
                supply_volts=12.0 * (1 + signs[3] * 0.05), taps=need.taps, pool=need.pool
            )
            ohms = tuple(r * (1 + s * 0.1) for r, s in zip(ladder.ohms, signs, strict=False))
            every_corner.append(solved(moved, ohms)[0])
        for k, tap in enumerate(ladder.taps):
            volts = [corner[k] for corner in every_corner]
            assert (tap.lowest_volts, tap.highest_volts) == pytest.approx((min(volts), max(volts)))


def test_2_3_and_5_ohms_on_10_volts() -> None:
    # Common practice, worked by hand in the trade: 2, 3 and 5 Ω on 10 V drop 2, 3 and 5 V
    need = LadderNeed(
        supply_volts=10.0,
        taps=(TapNeed(target_volts=8.0), TapNeed(target_volts=5.0)),
        pool=Pool.plenty([2.0, 3.0, 5.0]),
        limit=1,
    )
    best = search_ladder(need).candidates[0]
    assert best.ohms == (2.0, 3.0, 5.0)
    assert [t.output_volts for t in best.taps] == [8.0, 5.0]
    assert best.amps == 1.0


def test_a_whole_series_is_proven_for_two_taps_and_says_how_far_for_more() -> None:
    pool = Pool.plenty(series_values(["E96"]))
    need = LadderNeed(
        supply_volts=12.6,
        taps=tuple(TapNeed(target_volts=v) for v in (9.1, 6.2, 3.1, 0.9)),
        pool=pool,
    )
    found = search_ladder(need)
    assert found.exact
    assert found.method.startswith("every ladder with all taps within ")
    assert len(found.candidates) == 20
    # A heavy load under a current bound leaves only ladders far off: too many to prove anything.
    starved = LadderNeed(
        supply_volts=5.0,
        taps=tuple(TapNeed(target_volts=v, load_ohms=47e3) for v in (4.0, 2.5, 1.2, 0.31)),
        pool=pool,
        max_amps=1e-9,
    )
    assert search_ladder(starved).candidates == ()


REFUSED = [
    ({"taps": ()}, TooLargeError, "0 taps are asked for; a ladder here has 1 to 4"),
    ({"taps": (TapNeed(target_volts=2.0), TapNeed(target_volts=3.0))}, DomainError, "tap 2 wants 3 V, which is not between 0 V and the 2 V of the tap above it: list the taps highest first"),
    ({"taps": (TapNeed(target_volts=12.0),)}, DomainError, "tap 1 wants 12 V, which is not between 0 V and the 10 V of the supply: list the taps highest first"),
    ({"min_amps": 2.0, "max_amps": 1.0}, DomainError, "the smallest current is above the largest"),
    ({"limit": 501}, TooLargeError, "501 candidates are asked for; at most 500 are listed"),
]  # fmt: skip


@pytest.mark.parametrize(("more", "kind", "message"), REFUSED)
def test_needs_that_contradict_themselves(
    more: dict[str, object], kind: type[DomainError], message: str
) -> None:
    given = {"taps": (TapNeed(target_volts=5.0),), **more}
    with pytest.raises(kind) as refused:
        LadderNeed(supply_volts=10.0, pool=Pool.plenty([1.0]), **given)  # type: ignore[arg-type]
    assert refused.value.message == message


@pytest.mark.parametrize("most_error", [0.002, 0.02, 0.3])
def test_what_is_further_off_than_is_asked_for_is_left_out_and_nothing_else(
    most_error: float,
) -> None:
    need = LadderNeed(
        supply_volts=12.0, taps=(TapNeed(target_volts=8.0), TapNeed(target_volts=3.0, load_ohms=20e3)),
        pool=Pool.plenty(series_values(["E6"], 100.0, 1e5)), limit=20,
    )  # fmt: skip
    every = search_ladder(need).candidates
    near = search_ladder(replace(need, most_error=most_error)).candidates
    assert near == tuple(c for c in every if c.worst_error <= most_error * (1 + 1e-9))
