"""Every kind of need read, searched and weighed."""

import pytest

from lowfold.core.needs.kinds import (
    KINDS,
    BriefKind,
    choices_for,
    known_preference,
    read_brief,
    trades_for,
    weigh,
)
from lowfold.core.needs.ladder import LadderBrief
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.weighing.listing import RANK


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


def ladder(**texts: str) -> LadderBrief:
    need = read_brief("ladder", texts).need
    assert isinstance(need, LadderBrief)
    return need


@pytest.mark.parametrize("kind", KINDS)
def test_choices_of_every_kind_list_what_passes_first_then_as_the_search_ranked_them(
    kind: BriefKind,
) -> None:
    need = read_brief(kind, {}).need
    assert need is not None
    found = choices_for(need, known_preference(kind, "nearest"))
    order = [(RANK[c.judged.verdict], round(abs(c.governing.error), 12)) for c in found.rows]
    assert order == sorted(order)
    assert order[0][0] == 0, "a new need opens with a choice that passes"
    for choice in found.rows:
        assert [g.name for g in choice.judged.gates] == ["value", "spread", "load", "power"]
        for mark in choice.marks:
            assert mark.lowest <= mark.nominal <= mark.highest
        assert choice.distinct <= len(choice.values)
        again = weigh(need, network(choice.notation))
        assert again.notation == choice.notation


def test_a_preference_another_kind_has_counts_as_the_first() -> None:
    assert known_preference("ladder", "least_current") == "nearest"
    assert known_preference("resistance", "cool") == "cool"
    assert known_preference("feedback", "worst_case") == "worst_case"


def test_only_dividers_trade_accuracy_for_current() -> None:
    divider = read_brief("divider", {"target_v": "3.1 V", "supply_v": "14.4 V"}).need
    assert divider is not None
    found = trades_for(divider)
    assert found is not None
    best, beaten, count = found
    assert len(best) == count
    for one in beaten:
        assert any(
            abs(b.error) <= abs(one.error) + 1e-12 and b.amps <= one.amps * (1 + 1e-9) for b in best
        )
    assert trades_for(ladder()) is None
