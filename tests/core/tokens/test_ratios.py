"""Shares of a supply, by hand."""

import pytest

from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import choices_for, read_brief


@pytest.mark.parametrize(
    ("text", "volts"),
    [
        ("10:1", 1.2), ("1:10", 1.2), ("1/4", 3.0), ("4", 3.0), ("÷ 4", 3.0), ("divide by 4", 3.0),
        ("25 %", 3.0), ("0.25", 3.0), ("0,25", 3.0), ("a third", 4.0), ("two thirds", 8.0),
        ("half of it", 6.0), ("5:2", 4.8),
    ],
)  # fmt: skip
def test_an_output_may_be_a_share_of_its_supply(text: str, volts: float) -> None:
    found = read_brief("divider", {"supply_v": "12 V", "ratio": text})
    assert isinstance(found.need, DividerBrief)
    assert found.need.target_volts == pytest.approx(volts, rel=1e-11)
    assert found.tokens["target_v"].by == "ratio"


def test_a_share_is_of_what_lies_between_the_ends() -> None:
    # By hand: a quarter of the way from −4 V to 12 V is 0 V, half of it 4 V
    need = read_brief("divider", {"supply_v": "12 V", "low_v": "-4 V", "ratio": "half"}).need
    assert isinstance(need, DividerBrief)
    assert need.target_volts == pytest.approx(4.0)


def test_a_share_chooses_the_ratio_of_the_legs() -> None:
    # 1/10 is 9 : 1 of the legs; of E24 there is 27k over 3k, 18k over 2k and others
    need = read_brief("divider", {"supply_v": "12 V", "ratio": "10:1"}).need
    assert need is not None
    first = choices_for(need, "nearest").rows[0]
    assert first.marks[0].nominal == pytest.approx(1.2, rel=1e-12)


@pytest.mark.parametrize("text", ["1", "0", "3:3", "0:5", "soon", "12 V", "1:2:3", "-4"])
def test_what_is_no_share_is_refused(text: str) -> None:
    reading = read_brief("divider", {"supply_v": "12 V", "ratio": text}).tokens["ratio"]
    assert not reading.ok
    assert "10:1" in reading.message
