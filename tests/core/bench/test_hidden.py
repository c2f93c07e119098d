"""What hides in series: Ohm's law round the loop, and a scan of everything that may vary."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from lowfold.core.bench.hidden import Known, hidden_ohms, words_of
from lowfold.core.bench.models import HANDHELD, IDEAL, MODELS
from lowfold.core.errors import DomainError


def test_by_hand() -> None:
    # By hand: 3 V on 120 Ω reads 24 mA: 125 Ω in all, 5 Ω in series, 2 Ω of it the 60 mA range's
    found = hidden_ohms(Known.within(3.0, 0.0), Known.within(120.0, 0.0), 0.024, HANDHELD)
    assert found.ohms == pytest.approx(5.0)
    assert found.burden_ohms == 2.0
    assert found.rest_ohms == pytest.approx(3.0)
    # ± (1 % of 24 mA + 3 · 10 µA) is 0.27 mA
    assert found.limit_amps == pytest.approx(0.27e-3)
    assert found.low == pytest.approx(3 / 24.27e-3 - 120)
    assert found.high == pytest.approx(3 / 23.73e-3 - 120)
    assert words_of(found).endswith("More hides there than the ammeter: measure across cell, leads and joints")  # fmt: skip
    turned = hidden_ohms(Known.within(-3.0, 0.0), Known.within(120.0, 0.0), -0.024, HANDHELD)
    assert (turned.ohms, turned.low, turned.high) == (found.ohms, found.low, found.high)


def test_what_may_account_for_it_is_said() -> None:
    network = Known.within(120.0, 0.05)
    supply = Known.within(3.0, 0.0)
    assert "alone may account for it" in words_of(hidden_ohms(supply, network, 0.024, HANDHELD))
    much = hidden_ohms(supply, Known.within(120.0, 0.0), 0.030, HANDHELD)
    assert words_of(much).startswith("More current flows than the network takes, by −20 Ω")
    less = hidden_ohms(supply, Known.within(120.0, 0.0), 0.02490, HANDHELD)
    assert less.high < 2.0
    assert "less than the ammeter's own" in words_of(less)
    tiny = hidden_ohms(supply, Known.within(120.0, 0.0), 1e-5, HANDHELD)
    assert math.isinf(tiny.high)
    assert "to no end" in words_of(tiny)
    exact = hidden_ohms(supply, Known.within(120.0, 0.0), 0.025, IDEAL)
    assert (exact.ohms, exact.low, exact.high, exact.range_full) == (0.0, 0.0, 0.0, None)


@pytest.mark.parametrize(("amps", "words"), [(0.0, "no current flows"), (-0.01, "against the supply")])  # fmt: skip
def test_currents_that_tell_nothing(amps: float, words: str) -> None:
    with pytest.raises(DomainError, match=words) as caught:
        hidden_ohms(Known.within(3.0, 0.0), Known.within(120.0, 0.0), amps, HANDHELD)
    assert caught.value.field == "supply_a"


def test_no_supply_drives_nothing() -> None:
    with pytest.raises(DomainError, match="the supply is 0 V") as caught:
        hidden_ohms(Known.within(0.0, 0.0), Known.within(120.0, 0.0), 0.01, HANDHELD)
    assert caught.value.field == "supply_v"


@given(
    st.floats(0.5, 50),
    st.floats(1, 1e5),
    st.floats(1e-4, 2),
    st.floats(0, 0.2),
    st.floats(0, 0.2),
    st.sampled_from(MODELS),
)
def test_the_ends_are_those_of_a_scan(
    volts: float, ohms: float, amps: float, parts: float, supply: float, meter: object
) -> None:
    found = hidden_ohms(Known.within(volts, supply), Known.within(ohms, parts), amps, meter)  # type: ignore[arg-type]
    assume(found.limit_amps < 0.9 * amps)
    grid = np.linspace(-1, 1, 5)
    scanned = [
        volts * (1 + v * supply) / (amps + i * found.limit_amps) - ohms * (1 + r * parts)
        for v, r, i in itertools.product(grid, grid, grid)
    ]
    scale = 1e-9 * (ohms + volts / amps)
    assert found.low == pytest.approx(min(scanned), rel=1e-9, abs=scale)
    assert found.high == pytest.approx(max(scanned), rel=1e-9, abs=scale)
