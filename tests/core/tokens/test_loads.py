"""Loads as they are said, and as they are taken (common practice: rarely better than ±10 %)."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import LowfoldError
from lowfold.core.tokens.loads import LoadToken, load, load_text, resistive_load

INF = math.inf
#: As said, nominal Ω, nominal A, ends, as shown.
SAID = [
    ("47k", 47e3, None, (42.3e3, 51.7e3), "47 kΩ ± 10 %"),
    ("50 mA", None, 0.05, (0.045, 0.055), "50 mA ± 10 %"),
    ("47k ± 0 %", 47e3, None, (47e3, 47e3), "47 kΩ ± 0 %"),
    ("47k +/- 20 %", 47e3, None, (37.6e3, 56.4e3), "47 kΩ ± 20 %"),
    ("40k to 90k", 60e3, None, (40e3, 90e3), "40 kΩ … 90 kΩ"),
    ("90k … 40k", 60e3, None, (40e3, 90e3), "40 kΩ … 90 kΩ"),
    ("40-90 kΩ", 60e3, None, (40e3, 90e3), "40 kΩ … 90 kΩ"),
    ("10 … 50 mA", None, 0.03, (0.01, 0.05), "10 mA … 50 mA"),
    ("47k or open", 47e3, None, (47e3, INF), "47 kΩ or open"),
    ("open to 47k", 47e3, None, (47e3, INF), "47 kΩ or open"),
    ("47k ± 10 % or nothing", 47e3, None, (42.3e3, INF), "47 kΩ ± 10 % or open"),
    ("at least 1M", 1e6, None, (1e6, INF), "1 MΩ or open"),
    ("up to 50 mA", None, 0.05, (0.0, 0.05), "up to 50 mA"),
    ("50 mA max", None, 0.05, (0.0, 0.05), "up to 50 mA"),
    ("0 to 40 µA", None, 40e-6, (0.0, 40e-6), "up to 40 µA"),
    ("0 A", None, 0.0, (0.0, 0.0), "0 A"),
    ("1e-3 A", None, 1e-3, (0.9e-3, 1.1e-3), "1 mA ± 10 %"),
]


@pytest.mark.parametrize(("text", "ohms", "amps", "ends", "shown"), SAID)
def test_a_load_is_the_range_that_is_said(
    text: str, ohms: float | None, amps: float | None, ends: tuple[float, float], shown: str
) -> None:
    token, words = load(text)
    assert words == shown
    assert (token.ohms, token.amps) == (pytest.approx(ohms), pytest.approx(amps))
    assert (token.low, token.high) == pytest.approx(ends)


@pytest.mark.parametrize(
    ("text", "right"),
    [
        ("up to 47k", "47 kΩ or open"),
        ("-5k", "between 1 mΩ"),
        ("0 … 47k", "between 1 mΩ"),
        ("47k ± 95 %", "at most 90 %"),
        ("5 V", "a load is a resistance (200k) or a current (20 µA)"),
    ],
)
def test_what_is_no_load_is_told_with_what_would_be_right(text: str, right: str) -> None:
    with pytest.raises(LowfoldError) as refused:
        load(text)
    assert right in refused.value.message


def test_what_lies_in_parallel_is_a_resistance() -> None:
    assert resistive_load("300k to open")[0].high == INF
    with pytest.raises(LowfoldError):
        resistive_load("up to 5 mA")


ENDS = st.floats(1e-2, 1e9)


@given(ENDS, ENDS, st.sampled_from(["drawn", "resistive"]), st.sampled_from(["open", ""]))
def test_a_load_reads_back_as_it_is_written(one: float, two: float, kind: str, to: str) -> None:
    low, high = sorted((one, two))
    drawn, opened = kind == "drawn", bool(to)
    middle = (low + high) / 2 if drawn else math.sqrt(low * high)
    middle = high if drawn and opened else min(max(middle, low), high)
    scale = 1e-9 if drawn else 1.0
    if drawn:
        token = LoadToken(None, middle * scale, 0.0 if opened else low * scale, high * scale)
    else:
        token = LoadToken(middle, None, low, INF if opened else high)
    again = load(load_text(token))[0]
    assert (again.low, again.high) == pytest.approx((token.low, token.high), rel=1e-8)
    nominal = (again.ohms or 0.0) + (again.amps or 0.0)
    assert nominal == pytest.approx((token.ohms or 0.0) + (token.amps or 0.0), rel=1e-8)
