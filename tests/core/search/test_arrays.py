"""Arrays of equal parts against every size and value."""

import itertools
from fractions import Fraction

import pytest

from lowfold.core.network.tree import part_watts, resistance, write_network
from lowfold.core.parts.pool import Pool
from lowfold.core.search.arrays import search_arrays
from lowfold.core.search.contexts import Drive
from lowfold.core.values.preferred import series_values

E12 = Pool.plenty(series_values(["E12"], 1.0, 1e3))


@pytest.mark.parametrize(("volts", "amps"), [(20.0, None), (None, 2.0)])
def test_the_first_array_is_the_best_of_all(volts: float | None, amps: float | None) -> None:
    drive = Drive(2.5, volts, amps)
    best, fewest = None, None
    for s, p in itertools.product(range(1, 41), repeat=2):
        if not 4 < s * p <= 40:
            continue
        for ohms in E12.ohms:
            whole = ohms * s / p
            watts = (volts**2 / whole if volts is not None else (amps or 0) ** 2 * whole) / (s * p)
            error = abs(float(Fraction(repr(ohms)) * s / p / 8 - 1))
            if watts <= 2.5 * (1 + 1e-12):
                best = min(best, (error, s * p)) if best else (error, s * p)
                if error <= 0.05:
                    fewest = min(fewest, (s * p, error)) if fewest else (s * p, error)
    found = search_arrays(E12, 8.0, drive, more_than=4, most=40)[0]
    assert (abs(found.error), found.parts) == best
    within = search_arrays(E12, 8.0, drive, more_than=4, most=40, within=0.05)[0]
    assert (within.parts, abs(within.error)) == fewest


def test_n_by_n_equal_parts_have_the_resistance_of_one_and_share_the_power() -> None:
    # Common practice: an n × n square of equal parts has the resistance of one, n² times its power
    pool = Pool.plenty([8.0])
    array = search_arrays(pool, 8.0, Drive(2.5, amps=1.5), within=0.0)[0]
    assert (array.in_series, array.in_parallel, array.whole_ohms) == (3, 3, 8.0)
    assert array.part_watts == pytest.approx(1.5**2 * 8 / 9)
    assert write_network(array.network, refs=False) == ("(8 + 8 + 8) || (8 + 8 + 8) || (8 + 8 + 8)")
    assert resistance(array.network) == pytest.approx(8.0)
    assert [w for _, w in part_watts(array.network, 12.0)] == pytest.approx([2.0] * 9)


def test_a_stock_that_runs_out_and_parts_too_hot_leave_nothing() -> None:
    assert search_arrays(Pool.stock({8.0: 8}), 8.0, Drive(2.5, amps=1.5), within=0.0) == []
    assert search_arrays(Pool.plenty([8.0]), 8.0, Drive(1e-6, amps=1.5)) == []
    assert search_arrays(Pool.plenty([]), 8.0, Drive(1.0, amps=1.5)) == []
