"""Laws every search keeps: more to choose from never makes the best worse; scaling changes nothing."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.arrays import search_arrays
from lowfold.core.search.contexts import Drive
from lowfold.core.search.divider import DividerNeed
from lowfold.core.search.divider_search import search_divider
from lowfold.core.search.feedback import FeedbackNeed
from lowfold.core.search.feedback_search import search_feedback
from lowfold.core.search.ladder import LadderNeed, TapNeed
from lowfold.core.search.ladder_search import search_ladder
from lowfold.core.search.resistance_search import ResistanceNeed, search_resistance
from lowfold.core.search.tradeoff import unbeaten_dividers
from tests.effort import cases

VALUES = [10.0, 12.0, 15.0, 22.0, 33.0, 47.0, 68.0, 100.0, 220.0, 470.0]
some = st.lists(st.sampled_from(VALUES), min_size=1, max_size=5, unique=True).map(sorted)
volts = st.floats(0.5, 9.5)


def plenty(values: list[float]) -> Pool:
    return Pool.stock(dict.fromkeys(values, PLENTY))


def best_divider(values: list[float], target: float, per_leg: int = 1, **more: float) -> float:
    need = DividerNeed(
        supply_volts=10.0, target_volts=target, pool=plenty(values), max_per_leg=per_leg, limit=1,
        **more,  # type: ignore[arg-type]
    )  # fmt: skip
    found = search_divider(need).candidates
    return abs(found[0].error) if found else math.inf


@given(some, st.sampled_from(VALUES), volts)
@cases(40)
def test_more_values_or_parts_never_make_the_best_divider_worse(
    values: list[float], extra: float, target: float
) -> None:
    wider = sorted({*values, extra})
    assert best_divider(wider, target) <= best_divider(values, target) + 1e-15
    assert best_divider(values, target, 2) <= best_divider(values, target) + 1e-15


@given(some, volts, st.floats(0.01, 1.0))
@cases(40)
def test_a_looser_bound_never_makes_the_best_divider_worse(
    values: list[float], target: float, amps: float
) -> None:
    bounded = best_divider(values, target, max_amps=amps)
    assert best_divider(values, target, max_amps=2 * amps) <= bounded + 1e-15
    assert best_divider(values, target) <= bounded + 1e-15


@given(some, st.sampled_from(VALUES), volts)
@cases(40)
def test_more_values_never_make_the_best_feedback_pair_worse(
    values: list[float], extra: float, target: float
) -> None:
    def best(of: list[float]) -> float:
        need = FeedbackNeed(reference_volts=0.4, target_volts=target, pool=plenty(of), limit=1)
        return abs(search_feedback(need).candidates[0].error)

    assert best(sorted({*values, extra})) <= best(values) + 1e-15


@given(some, st.sampled_from(VALUES), st.floats(5.0, 9.0), st.floats(1.0, 4.5))
@cases(40)
def test_more_values_never_make_the_best_ladder_worse(
    values: list[float], extra: float, high: float, low: float
) -> None:
    def best(of: list[float]) -> float:
        taps = (TapNeed(target_volts=high), TapNeed(target_volts=low))
        need = LadderNeed(supply_volts=10.0, taps=taps, pool=plenty(of), limit=1)
        return search_ladder(need).candidates[0].worst_error

    assert best(sorted({*values, extra})) <= best(values) + 1e-12


@given(some, st.floats(5.0, 2000.0), st.integers(1, 4))
@cases(40)
def test_a_power_limit_never_makes_the_best_better(
    values: list[float], target: float, parts: int
) -> None:
    free = ResistanceNeed(target_ohms=target, pool=plenty(values), max_parts=parts, limit=1)
    best = search_resistance(free).candidates[0]
    for watts in (0.05, 0.5, 5.0):
        limited = ResistanceNeed(
            target_ohms=target, pool=plenty(values), max_parts=parts, limit=1, across_volts=5.0,
            part_watts=watts,
        )  # fmt: skip
        found = search_resistance(limited).candidates
        assert not found or abs(found[0].error) >= abs(best.error) - 1e-15


@given(some, st.floats(5.0, 2000.0))
@cases(30)
def test_a_part_in_place_that_is_a_chosen_value_is_one_part_more(
    values: list[float], target: float
) -> None:
    fixed = ResistanceNeed(
        target_ohms=target, pool=plenty(values), max_parts=2, limit=1, fixed_ohms=values[0]
    )
    free = ResistanceNeed(target_ohms=target, pool=plenty(values), max_parts=3, limit=1)
    with_it = search_resistance(fixed).candidates[0]
    assert abs(search_resistance(free).candidates[0].error) <= abs(with_it.error) + 1e-12


@pytest.mark.parametrize("decade", [1e-2, 1e3])
def test_scaling_every_value_scales_the_answer(decade: float) -> None:
    values = [10.0, 22.0, 47.0]
    scaled = [float(f"{v}e{round(math.log10(decade))}") for v in values]
    for parts in (1, 2, 3, 4):
        one = search_resistance(
            ResistanceNeed(target_ohms=37.7, pool=plenty(values), max_parts=parts)
        )
        two = search_resistance(
            ResistanceNeed(target_ohms=37.7 * decade, pool=plenty(scaled), max_parts=parts)
        )
        assert [c.error for c in two.candidates] == pytest.approx([c.error for c in one.candidates])
    assert best_divider(scaled, 3.3) == pytest.approx(best_divider(values, 3.3))


@given(some, volts)
@cases(30)
def test_the_nearest_divider_ends_the_trade_off(values: list[float], target: float) -> None:
    need = DividerNeed(
        supply_volts=10.0, target_volts=target, pool=plenty(values), within=0.5, limit=1
    )
    front, nearest = unbeaten_dividers(need), search_divider(need).candidates
    assert bool(front) == bool(nearest)
    if front:
        assert abs(front[-1].error) == pytest.approx(abs(nearest[0].error), abs=1e-12)


@given(st.integers(1, 6), st.integers(1, 6), st.floats(0.1, 10.0))
@cases(40)
def test_an_array_shares_its_power_evenly(series: int, parallel: int, amps: float) -> None:
    whole = 100.0 * series / parallel
    allowed = amps**2 * whole / (series * parallel)
    found = search_arrays(
        Pool.plenty([100.0]), whole, Drive(allowed, amps=amps), within=1e-9, most=36
    )
    fits = [a for a in found if a.whole_ohms == pytest.approx(whole)]
    assert any(a.parts <= series * parallel for a in fits)
    for array in found:
        total = amps**2 * array.whole_ohms
        assert array.part_watts * array.parts == pytest.approx(total)
        assert array.part_watts <= allowed * (1 + 1e-9)
