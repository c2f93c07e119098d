"""A value among the standard ones, against plain lists of them."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import DomainError
from lowfold.core.values.neighbours import among, beside
from lowfold.core.values.preferred import SERIES, series_values

LISTS = {name: series_values([name], 1e-3, 1e9) for name in SERIES}

BY_HAND = [  # IEC 60063, from memory
    (4700.0, "E24", 4300.0, 5100.0),
    (4700.0, "E12", 3900.0, 5600.0),
    (1000.0, "E96", 976.0, 1020.0),
    (1000.0, "E3", 470.0, 2200.0),
    (9100.0, "E24", 8200.0, 10e3),
    (9.2, "E192", 9.09, 9.31),
]


@pytest.mark.parametrize(("ohms", "series", "below", "above"), BY_HAND)
def test_what_lies_next_to_a_value(ohms: float, series: str, below: float, above: float) -> None:
    assert beside(ohms, series) == (below, above)


@given(st.floats(1e-2, 1e7))
def test_neighbours_are_those_of_the_plain_list(ohms: float) -> None:
    for found in among(ohms):
        values = LISTS[found.series]
        assert found.below == values[values < ohms].max()
        assert found.above == values[values > ohms].min()
        ratios = abs(values / ohms)
        off = min(abs(math.log(r)) for r in ratios)
        assert abs(math.log(found.nearest / ohms)) == pytest.approx(off, abs=1e-12)


@pytest.mark.parametrize("ohms", [0.0, 1e-4, 1e13, math.inf, math.nan])
def test_outside_of_what_is_told(ohms: float) -> None:
    with pytest.raises(DomainError, match="series are told of from 1 mΩ to 1 TΩ"):
        among(ohms)
