"""Part families: the typical table, how they are named, and what a brief takes from them."""

from typing import Any

import pytest

from lowfold.core.errors import DomainError
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import read_brief, weigh
from lowfold.core.network.notation import read_network
from lowfold.core.parts.families import TYPICAL, Family, families_with_typical, read_family
from lowfold.core.parts.ratings import STANDARD_WATTS
from lowfold.core.tokens.parts import Parts

#: Typical ratings (common practice): family, W at 70 °C, limiting V; None is √(P·R).
RATINGS = [
    ("0402", 1 / 16, 50),
    ("0603", 1 / 10, 75),
    ("0805", 1 / 8, 150),
    ("1206", 1 / 4, 200),
    ("2010", 3 / 4, 200),
    ("2512", 1, 200),
    ("1/8 W film", 1 / 8, 200),
    ("1/4 W film", 1 / 4, 250),
    ("1/2 W film", 1 / 2, 350),
    ("1 W film", 1, 500),
    ("2 W film", 2, 500),
    ("5 W wirewound", 5, None),
]
THIN = Family(
    name="Thin 0603",
    tolerance=0.001,
    tcr_ppm=25.0,
    drift=0.0005,
    rated_watts=0.0625,
    limiting_volts=75.0,
    zero_power_c=125.0,
)
BUOY = {"supply_v": "14.4 V", "target_v": "3 V", "low_c": "-20 °C", "high_c": "60 °C"}


@pytest.mark.parametrize(("name", "watts", "volts"), RATINGS)
def test_the_typical_table(name: str, watts: float, volts: float | None) -> None:
    family = next(f for f in TYPICAL if f.name == name)
    assert (family.rated_watts, family.limiting_volts) == (watts, volts)
    assert (family.full_power_c, family.zero_power_c) == (70, 155)
    assert family.rated_watts in STANDARD_WATTS


def test_above_the_critical_resistance_voltage_limits() -> None:
    # By hand: (75 V)² / 0.1 W = 56.25 kΩ
    assert read_family("0603").critical_ohms == pytest.approx(56250)
    assert read_family("5 W").critical_ohms is None


@pytest.mark.parametrize(("text", "name"), [("603", "0603"), ("402", "0402"), ("1206", "1206"), ("½ W", "1/2 W film"), ("1/4", "1/4 W film")])  # fmt: skip
def test_a_size_may_lack_its_leading_zero(text: str, name: str) -> None:
    assert read_family(text).name == name


@pytest.mark.parametrize("text", ["0.25", "0.01", "999", "1210", "12345"])
def test_a_number_alone_is_no_power(text: str) -> None:
    with pytest.raises(DomainError, match=r"has no unit|is not among the families"):
        read_family(text)


@pytest.mark.parametrize(
    ("text", "name", "watts", "volts"),
    [
        ("0603", "0603", 0.1, 75.0),
        ("1/4 W", "1/4 W film", 0.25, 250.0),
        ("250 mW", "1/4 W film", 0.25, 250.0),
        ("1/4 w FILM", "1/4 W film", 0.25, 250.0),
        ("5 W", "5 W wirewound", 5.0, None),
        ("300 mW", "300 mW", 0.3, None),
        (" thin  0603", "Thin 0603", 0.0625, 75.0),
    ],
)
def test_families_are_read_by_name_size_or_power(
    text: str, name: str, watts: float, volts: float | None
) -> None:
    found = read_family(text, [THIN])
    assert (found.name, found.rated_watts, found.limiting_volts) == (name, watts, volts)


def test_an_own_family_stands_in_for_the_typical_one_of_its_name() -> None:
    own = Family(name="0603", rated_watts=0.2, limiting_volts=50.0)
    assert read_family("0603", [own]).rated_watts == 0.2
    known = families_with_typical([own, THIN])
    assert len(known) == len(TYPICAL) + 1
    assert known[:2] == (own, THIN)


def test_an_unknown_size_names_the_known_ones() -> None:
    with pytest.raises(DomainError) as refused:
        read_family("0604")
    assert refused.value.message == (
        "“0604” is not among the families: 0402, 0603, 0805, 1206, 2010, 2512, 1/8 W film, "
        "1/4 W film, 1/2 W film, 1 W film, 2 W film, 5 W wirewound"
    )


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"name": " "}, "name"),
        ({"name": "a;b"}, "name"),
        ({"rated_watts": 0.0}, "rating_w"),
        ({"limiting_volts": 0.0}, "limiting_v"),
        ({"full_power_c": 155.0}, "full_power_c"),
        ({"drift": 0.6}, "drift"),
        ({"tolerance": -0.1}, "tolerance"),
    ],
)
def test_what_no_part_can_be_is_refused(wrong: dict[str, Any], field: str) -> None:
    fields: dict[str, Any] = {"name": "x", "rated_watts": 1.0} | wrong
    with pytest.raises(DomainError) as refused:
        Family(**fields)
    assert refused.value.field == field


def parts_of(more: dict[str, str]) -> Parts:
    need = read_brief("divider", BUOY | more, (THIN,)).need
    assert isinstance(need, DividerBrief)
    return need.parts


def test_a_brief_takes_what_it_leaves_open_from_the_family() -> None:
    left = {"tolerance": "family", "tcr": "family", "drift": "family", "rating": "thin 0603"}
    parts = parts_of(left)
    # By hand: 0.1 % + 25 ppm/K · 45 K + 0.05 %
    assert parts.half_width == pytest.approx(0.001 + 25e-6 * 45 + 0.0005)
    assert parts.limits.zero_power_c == 125
    assert parts.derated_watts == pytest.approx(0.0625)
    shown = read_brief("divider", BUOY | left, (THIN,)).tokens["tolerance"].shown
    assert shown == "0.1 %, as Thin 0603"
    stated = parts_of(left | {"tolerance": "0.5 %"})
    assert (stated.tolerance, stated.tcr_ppm) == (0.005, 25.0)


def test_single_parts_may_be_of_their_own() -> None:
    parts = parts_of({"own": "r2 0.1 % 25 ppm/K thin 0603; R1 1206", "rating": "0603"})
    assert [o.words for o in parts.own] == ["R2 0.1 % 25 ppm/K Thin 0603", "R1 1206"]
    need = read_brief("divider", BUOY | {"own": "R2 0.1 % 10 ppm/K; R1 1206; R7 5 %"}).need
    assert need is not None
    judged = weigh(need, read_network("R1=390k + @OUT + R2=100k")).judged
    limits = {p.ref: p.rated_watts for p in judged.check.parts}
    assert limits == {"R1": 0.25, "R2": 0.1}
    halves = need.parts.half_widths(judged.circuit)
    # By hand: 1 % + 100 ppm/K · 45 K, and 0.1 % + 10 ppm/K · 45 K
    assert halves == pytest.approx((0.0145, 0.00145))


@pytest.mark.parametrize(
    ("text", "message"),
    [
        (
            "0.1 %",
            "“0.1 %” names no part and what it is: write R2 0.1 %, or R2 0.1 % 25 ppm/K 0805",
        ),
        ("R2 0.1 %; r2 1 %", "R2 is given twice: write all of it behind one name"),
        ("R2 60 %", "60 % does not fit here: it must be at least 0 % and at most 50 %"),
    ],
)
def test_parts_of_their_own_are_refused_in_words(text: str, message: str) -> None:
    token = read_brief("divider", BUOY | {"own": text}).tokens["own"]
    assert (token.ok, token.message) == (False, message)


@pytest.mark.parametrize(
    ("text", "share"), [("half", 0.5), ("all", 1.0), ("In full", 1.0), ("80 %", 0.8)]
)
def test_both_schools_have_a_word_for_their_stress(text: str, share: float) -> None:
    assert parts_of({"stress": text}).stress == share
