"""Readings as typed, and the three verdicts."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from lowfold.core.bench.expect import Expected, Span
from lowfold.core.bench.models import Range
from lowfold.core.bench.points import Point
from lowfold.core.bench.readings import Taken, read_taken, verdict_on_reading

TYPED = [
    ("3.02", "voltage", 3.02),
    ("3V02", "voltage", 3.02),
    ("-1.5 V", "voltage", -1.5),
    ("57.9 uA", "current", 57.9e-6),
    ("199k8", "resistance", 199.8e3),
    ("0", "resistance", 0.0),
]


@pytest.mark.parametrize(("text", "kind", "value"), TYPED)
def test_readings_are_read_in_the_fields_notation(text: str, kind: str, value: float) -> None:
    assert read_taken(text, kind).value == pytest.approx(value)  # type: ignore[arg-type]


@pytest.mark.parametrize("text", ["OL", "0L", " o.l ", "overload", "∞", "O L"])
def test_over_range_is_written_in_many_ways(text: str) -> None:
    taken = read_taken(text, "voltage")
    assert taken.overload
    assert taken.value is None
    assert taken.understood


@pytest.mark.parametrize(
    ("text", "kind", "told"),
    [
        ("three", "voltage", "“three”"),
        ("3 A", "voltage", "“3 A” is a current; wanted is a voltage"),
        ("-5", "resistance", "a resistance is not negative"),
        ("", "current", ""),
    ],
)
def test_what_is_not_understood_is_kept_as_typed(text: str, kind: str, told: str) -> None:
    taken = read_taken(text, kind)  # type: ignore[arg-type]
    assert taken.text == text
    assert not taken.understood
    assert told in taken.wrong
    assert taken.wrong


def expected(nominal: float, low: float, high: float, full: float = 100.0) -> Expected:
    span = Span(nominal, low, high)
    over = abs(nominal) > full
    return Expected(Point("voltage", at=1), span, low, high, nominal, Range(full=full), over)


VERDICTS = [  # nominal, limits, reading, verdict: the contract's rule worked by hand
    (5.0, (4.9, 5.1), 4.9, "as expected"),
    (5.0, (4.9, 5.1), 5.1, "as expected"),
    (5.0, (4.9, 5.1), 5.11, "off"),
    # Beyond 5.1 by 3 · 0.1 = 0.3 and by 5 % of 5 V = 0.25: above 5.4 V
    (5.0, (4.9, 5.1), 5.39, "off"),
    (5.0, (4.9, 5.1), 5.41, "far out"),
    # Narrow limits: 3 · 0.001, but 5 % of 5 V rules: above 5.251 V
    (5.0, (4.999, 5.001), 5.25, "off"),
    (5.0, (4.999, 5.001), 5.252, "far out"),
    # Wide limits below, narrow above: each side by its own
    (5.0, (4.0, 5.1), 1.1, "off"),
    (5.0, (4.0, 5.1), 0.9, "far out"),
    (-5.0, (-5.1, -4.9), -5.41, "far out"),
    (-5.0, (-5.1, -4.9), 5.0, "far out"),
    (0.0, (-0.001, 0.001), 0.002, "off"),
    (0.0, (-0.001, 0.001), 0.0041, "far out"),
]


@pytest.mark.parametrize(("nominal", "limits", "value", "verdict"), VERDICTS)
def test_the_three_verdicts(
    nominal: float, limits: tuple[float, float], value: float, verdict: str
) -> None:
    assert verdict_on_reading(Taken("", value), expected(nominal, *limits)) == verdict


def test_over_range_is_expected_where_the_box_may_exceed_it() -> None:
    over = Taken("OL", overload=True)
    assert verdict_on_reading(over, expected(120.0, 110, 130)) == "as expected"
    assert verdict_on_reading(over, expected(99.0, 95, 103)) == "as expected"
    assert verdict_on_reading(over, expected(90.0, 85, 95)) == "far out"
    nothing = Expected(Point("resistance", at=1), None, None, None, None, None, overload=True)
    assert verdict_on_reading(over, nothing) == "as expected"
    assert verdict_on_reading(Taken("", 5.0), nothing) == "far out"
    assert verdict_on_reading(Taken("?"), nothing) is None


@given(
    st.floats(-100, 100), st.floats(0, 10), st.floats(0, 10), st.floats(-200, 200), st.floats(1, 3)
)
def test_further_away_is_never_better(
    nominal: float, below: float, above: float, value: float, further: float
) -> None:
    assume(abs(value - nominal) > 1e-6)
    order = ["as expected", "off", "far out"]
    there = expected(nominal, nominal - below, nominal + above, 1e9)
    # Both counted from the nominal, so that rounding takes neither nearer than the other
    steps = (nominal + (value - nominal) * times for times in (1.0, further))
    near, far = (verdict_on_reading(Taken("", v), there) for v in steps)
    assert near is not None
    assert far is not None
    assert order.index(near) <= order.index(far)
