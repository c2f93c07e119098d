"""Figures said with what lies about them: by hand, and the same window said in another way."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import DomainError
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import BriefReading, read_brief
from lowfold.core.tokens.reading import Also
from lowfold.core.tokens.windows import spread
from lowfold.core.values.quantities import VOLT


def divider(**texts: str) -> DividerBrief:
    need = read_brief("divider", {"supply_v": "12 V", "target_v": "3 V", **texts}).need
    assert isinstance(need, DividerBrief)
    return need


def trouble(**texts: str) -> dict[str, str]:
    found: BriefReading = read_brief("divider", {"supply_v": "12 V", "target_v": "3 V", **texts})
    return {name: r.message for name, r in found.tokens.items() if not r.ok}


@pytest.mark.parametrize(
    ("text", "volts", "around"),
    [
        # By hand: 9 V to 16 V is 12.5 V, 3.5 V to either side
        ("9 to 16 V", 12.5, 0.28),
        ("9 V to 16 V", 12.5, 0.28),
        ("9…16 V", 12.5, 0.28),
        ("9-16V", 12.5, 0.28),
        ("9 V – 16 V", 12.5, 0.28),
        ("16 to 9 V", 12.5, 0.28),
        ("between 9 and 16 V", 12.5, 0.28),
        ("from 9 to 16 V", 12.5, 0.28),
        ("48 V ± 10 %", 48.0, 0.1),
        ("48 V +/- 10%", 48.0, 0.1),
        ("12 V ± 0.6 V", 12.0, 0.05),
        ("12 V ± 600 mV", 12.0, 0.05),
        # 12 V − 20 % is 9.6 V, + 10 % is 13.2 V
        ("12 V +10/-20 %", 11.4, 1.8 / 11.4),
        ("12 V +10 % -20 %", 11.4, 1.8 / 11.4),
        ("12 V -20/+10 %", 11.4, 1.8 / 11.4),
        ("12 V +1/-2 V", 11.5, 1.5 / 11.5),
        ("3V3", 3.3, 0.0),
        ("1e1 V", 10.0, 0.0),
        ("1e-1 to 3e-1 V", 0.2, 0.5),
    ],
)
def test_a_supply_says_its_own_range(text: str, volts: float, around: float) -> None:
    need = divider(supply_v=text, target_v="50 mV")
    assert need.supply_volts == pytest.approx(volts, rel=1e-12)
    assert need.supply_tolerance == pytest.approx(around, rel=1e-9)


@pytest.mark.parametrize(
    ("texts", "volts", "within"),
    [
        ({"within": "50 mV"}, 3.0, 0.05 / 3),
        ({"within": "± 50 mV"}, 3.0, 0.05 / 3),
        ({"within": "2 %"}, 3.0, 0.02),
        ({"within": "0.02"}, 3.0, 0.02),
        # By hand: 3 V to 3.15 V has its middle at 3.075 V
        ({"within": "+5/-0 %"}, 3.075, 0.075 / 3.075),
        ({"within": "-0/+5 %"}, 3.075, 0.075 / 3.075),
        ({"within": "+50/-20 mV"}, 3.015, 0.035 / 3.015),
        ({"target_v": "3.2 to 3.4 V"}, 3.3, 0.1 / 3.3),
        ({"target_v": "3V ± 60 mV"}, 3.0, 0.02),
    ],
)
def test_a_window_in_any_unit_is_a_fraction_about_its_middle(
    texts: dict[str, str], volts: float, within: float
) -> None:
    need = divider(**texts)
    assert need.target_volts == pytest.approx(volts, rel=1e-12)
    assert need.within == pytest.approx(within, rel=1e-9)


def test_a_resistance_has_windows_in_ohms() -> None:
    for text, within in (("20 Ω", 20 / 4530), ("0.5 %", 0.005)):
        found = read_brief("resistance", {"target_ohm": "4k53", "within": text})
        assert found.need is not None
        assert found.need.within == pytest.approx(within)
    found = read_brief("resistance", {"target_ohm": "4k53", "within": "+100/-0 Ω"})
    assert found.tokens["within"].shown.endswith("± 1.09 % about 4.58 kΩ")
    found = read_brief("resistance", {"target_ohm": "4.5 to 4.6 kΩ"})
    assert found.need is not None
    assert found.need.within == pytest.approx(50 / 4550)
    assert found.tokens["within"].by == "target_ohm"
    assert found.tokens["target_ohm"].shown == "4.5 kΩ … 4.6 kΩ"


def test_a_reference_says_its_tolerance() -> None:
    found = read_brief("feedback", {"reference_v": "0.8 V ± 1 %", "target_v": "3.3 V"})
    assert found.tokens["reference_tolerance"].shown == "1 %"
    assert found.tokens["reference_tolerance"].by == "reference_v"


@pytest.mark.parametrize(
    ("texts", "token", "why"),
    [
        ({"supply_v": "12 V ± 2 %", "supply_tolerance": "5 %"}, "supply_v", "say it once"),
        ({"target_v": "3.2 to 3.4 V", "within": "2 %"}, "target_v", "said here and as 2 %"),
        ({"within": "4 V"}, "within", "wider than what is wanted"),
        ({"within": "+0/-0 %"}, "within", "leaves nothing"),
        ({"within": "soon"}, "within", "soon"),
        ({"within": "0 %"}, "within", "more than"),
        ({"supply_v": "12 V ± 13 V"}, "supply_v", "too wide"),
        ({"supply_v": "-5 to 5 V"}, "supply_v", "lies on both sides of 0"),
        ({"supply_v": "9 to 16 A"}, "supply_v", "16 A"),
        ({"supply_v": "9 to " + "1" * 200}, "supply_v", "9 to"),
    ],
)
def test_what_does_not_fit_is_told_at_its_token(
    texts: dict[str, str], token: str, why: str
) -> None:
    told = trouble(**texts)
    assert token in told
    assert why in told[token]


@given(st.integers(1, 900), st.integers(1, 900), st.sampled_from([" to ", "…", "-", " – "]))
def test_both_ends_of_a_range_are_kept(one: int, other: int, sign: str) -> None:
    value, shown = spread(VOLT, 0.0, 1e5, "around")(f"{one}{sign}{other} V")
    assert isinstance(value, Also)
    half = value.others["around"][0]
    ends = value.value * (1 - half), value.value * (1 + half)
    assert ends == pytest.approx(sorted((one, other)), rel=1e-11)
    assert f"{min(one, other)} V" in shown


@given(st.text(max_size=100))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        spread(VOLT, 0.0, 1e5, "around")(text)
    except DomainError as error:
        assert error.message
