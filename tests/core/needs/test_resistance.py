"""A resistance out of parts, weighed."""

import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.kinds import (
    choices_for,
    read_brief,
    weigh,
)
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.weighing.gate import Gate


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


def resistance(**texts: str) -> ResistanceBrief:
    need = read_brief("resistance", texts).need
    assert isinstance(need, ResistanceBrief)
    return need


def by_name(gates: tuple[Gate, ...]) -> dict[str, Gate]:
    return {g.name: g for g in gates}


def test_cool_choices_keep_every_part_within_its_rating() -> None:
    brief = resistance(
        target_ohm="8", within="5 %", use="1.5 A", rating="5 W", values="E12", tcr="0 ppm/K", tolerance="0 %",
    )  # fmt: skip
    found = choices_for(brief, "cool")
    assert found.found.advice.startswith("too hot for 2: arrays of equal parts share the power")
    for choice in found.rows:
        power = by_name(choice.judged.gates)["power"]
        assert power.verdict is not Verdict.FAIL
        assert len(choice.values) >= 8  # 18 W at 2.5 W each


def test_an_array_is_listed_by_its_shape() -> None:
    brief = resistance(target_ohm="8", use="1.5 A", rating="5 W", values="E12")

    def lines(text: str) -> tuple[str, ...]:
        return weigh(brief, network(text)).lines

    string = "(8R2 + 8R2 + 8R2)"
    assert lines(f"{string} || {string} || {string}") == ("9 × 8R2", "3 strings of 3")
    assert lines("82 || 82 || 82 || 82 || 82") == ("5 × 82", "in parallel")
    assert lines("1 + 1 + 1 + 1 + 1") == ("5 × 1", "in series")
    assert lines("(3R9 + 3R9) || 8R2") == ("(3R9 + 3R9) || 8R2",)


def test_a_part_in_place_has_no_tolerance() -> None:
    brief = resistance(target_ohm="4k7", in_place_ohm="4650", tcr="0 ppm/K", tolerance="1 %")
    choice = weigh(brief, network("4k65 + 50"))
    mark = choice.marks[0]
    assert (mark.lowest, mark.highest) == pytest.approx((4650 + 49.5, 4650 + 50.5))
