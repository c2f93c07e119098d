"""IEC 60063 (from memory): the series and their one exception each."""

import numpy as np
import pytest

from lowfold.core.errors import DomainError
from lowfold.core.values.preferred import (
    SERIES,
    commonest_series,
    mantissas,
    read_series,
    series_values,
)
from lowfold.core.values.ranges import DEFAULT_RANGE

#: IEC 60063 table, from memory; as integers of three digits.
E24 = "100 110 120 130 150 160 180 200 220 240 270 300 330 360 390 430 470 510 560 620 680 750 820 910"
E12 = "100 120 150 180 220 270 330 390 470 560 680 820"
E6 = "100 150 220 330 470 680"
E3 = "100 220 470"
E48 = (
    "100 105 110 115 121 127 133 140 147 154 162 169 178 187 196 205 215 226 237 249 261 274 287 301 "
    "316 332 348 365 383 402 422 442 464 487 511 536 562 590 619 649 681 715 750 787 825 866 909 953"
)


@pytest.mark.parametrize(
    ("series", "table"), [("E3", E3), ("E6", E6), ("E12", E12), ("E24", E24), ("E48", E48)]
)
def test_series_are_the_published_tables(series: str, table: str) -> None:
    assert mantissas(series) == tuple(int(m) for m in table.split())


def test_e24_is_not_what_rounding_gives_at_eight_values() -> None:
    rounded = [round(10 * 10 ** (i / 24)) * 10 for i in range(24)]
    differing = [m for m, r in zip(mantissas("E24"), rounded, strict=True) if m != r]
    assert differing == [270, 300, 330, 360, 390, 430, 470, 820]  # IEC 60063, from memory


def test_e192_has_920_where_rounding_gives_919() -> None:
    assert 920 in mantissas("E192")
    assert 919 not in mantissas("E192")


@pytest.mark.parametrize("series", SERIES)
def test_each_series_has_its_number_of_values_and_contains_the_coarser_of_its_family(
    series: str,
) -> None:
    count = int(series[1:])
    assert len(set(mantissas(series))) == count
    coarser = f"E{count // 2}"
    if coarser in SERIES and count != 48:  # E48 leaves the two-digit family
        assert set(mantissas(coarser)) <= set(mantissas(series))


def test_range_ends_are_included_and_values_are_correctly_rounded() -> None:
    values = series_values(["E24"], 1.0, 10e6)
    assert len(values) == 7 * 24 + 1
    assert values[0] == 1.0
    assert values[-1] == 10e6
    assert {1.2, 12.0, 4.7, 8.2, 82e3} <= set(values.tolist())


def test_a_union_has_each_value_once() -> None:
    union = series_values(["E24", "E96"], 100.0, 999.0)
    assert len(union) == len(set(mantissas("E24")) | set(mantissas("E96")))
    assert (np.diff(union) > 0).all()


def test_series_text_is_read_in_any_writing() -> None:
    assert read_series("e96, E24+e24") == ("E24", "E96")
    with pytest.raises(DomainError) as refused:
        read_series("E25")
    assert refused.value.message == (
        "“E25” is not a series of preferred values: use E3, E6, E12, E24, E48, E96, E192"
    )


def test_ranges_that_make_no_sense_are_refused() -> None:
    with pytest.raises(DomainError, match="not inside 1 mΩ to 1 GΩ with its lower end first"):
        series_values(["E24"], 10.0, 1.0)


def test_the_widest_range_has_every_decade_whole() -> None:
    # IEC 60063: a series is the same in every decade; 1 mΩ to 1 GΩ are twelve of them
    values = series_values(["E6"], 1e-3, 1e9)
    assert len(values) == 12 * 6 + 1
    assert (values[0], values[-1]) == (1e-3, 1e9)
    with pytest.raises(DomainError, match="not inside 1 mΩ to 1 GΩ"):
        series_values(["E6"], 1e-4, 1.0)


def test_what_is_not_said_is_the_usual_range() -> None:
    values = series_values(["E3"])
    assert (values[0], values[-1]) == (DEFAULT_RANGE[0], DEFAULT_RANGE[1])


def test_the_commonest_series_is_the_coarsest_that_has_them_all() -> None:
    assert commonest_series([1e3, 4.7e3]) == "E3"
    assert commonest_series([1e3, 1.2e3]) == "E12"
    assert commonest_series([4.87e3, 1e3]) == "E48"
    assert commonest_series([4.99e3, 1e3]) == "E96"
    assert commonest_series([4.321e3]) == ""
