"""Briefs, gates, choices, and how a design stands."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import NotationError
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import KINDS, BriefKind, choices_for, read_brief
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.notation import read_text
from lowfold.core.sheet.sheet import build_sheet
from lowfold.core.weighing.listing import RANK
from tests.effort import cases

BUOY = {
    "supply_v": "14.4", "supply_tolerance": "0 %", "target_v": "3V0", "within": "3 %",
    "load": "1M", "max_current_a": "80 µA", "min_ohm": "1k", "max_ohm": "1M",
}  # fmt: skip


def divider(**more: str) -> DividerBrief:
    need = read_brief("divider", BUOY | more).need
    assert isinstance(need, DividerBrief)
    return need


def resistance(**texts: str) -> ResistanceBrief:
    need = read_brief("resistance", texts).need
    assert isinstance(need, ResistanceBrief)
    return need


@pytest.mark.parametrize("kind", KINDS)
def test_defaults_state_a_whole_need(kind: BriefKind) -> None:
    reading = read_brief(kind, {})
    assert reading.need is not None
    assert all(t.ok for t in reading.tokens.values())


WRONG = [
    ("divider", {"target_v": "3k3"}, "target_v", "“3k3” is a resistance; wanted is a voltage, for instance 3V3"),
    ("divider", {"target_v": "15 V"}, "target_v", "a divider only lowers: write less than the supply's 14.4 V"),
    ("divider", {"min_ohm": "2M"}, "max_ohm", "the largest part is below the smallest: write 2 MΩ or more"),
    ("divider", {"low_c": "80"}, "high_c", "the hottest is below the coldest: write 80 °C or more"),
    ("divider", {"values": "E25"}, "values", "“E25” is not a series of preferred values: use E3, E6, E12, E24, E48, E96, E192; or write drawer for your own stock, or values: 30, 40"),
    ("divider", {"within": "0 %"}, "within", "0 % does not fit here: it must be more than 0 % and at most 100 %"),
    ("divider", {"load": "3 V"}, "load", "“3 V” is a voltage; wanted is a resistance, for instance 4k7; a load is a resistance (200k) or a current (20 µA)"),
    ("divider", {"tolerance": "50 %", "tcr": "10000"}, "tcr", ""),
    ("resistance", {"max_parts": "7"}, "max_parts", "“7” is not how many parts: write 1 to 6"),
    ("resistance", {"use": "4k7"}, "use", "“4k7” is a resistance; wanted is a voltage, for instance 3V3; write the current through it (20 mA) or the voltage across it (5 V)"),
]  # fmt: skip


@pytest.mark.parametrize(("kind", "texts", "token", "message"), WRONG)
def test_a_wrong_token_says_what_would_be_right(
    kind: BriefKind, texts: dict[str, str], token: str, message: str
) -> None:
    reading = read_brief(kind, (BUOY if kind == "divider" else {}) | texts)
    wrong = {name: t.message for name, t in reading.tokens.items() if not t.ok}
    assert wrong == ({token: message} if message else wrong)
    assert (reading.need is None) == bool(wrong)


def test_tokens_are_shown_as_understood() -> None:
    tokens = read_brief("divider", BUOY | {"load": "20 uA ± 10 %", "max_current_a": "none"}).tokens
    assert tokens["load"].shown == "20 µA ± 10 %"
    assert tokens["max_current_a"].shown == "any current"
    assert tokens["target_v"].shown == "3 V"


@given(
    st.sampled_from(list(KINDS)),
    st.dictionaries(
        st.sampled_from([name for kind in KINDS.values() for name in kind.tokens]),
        st.text(max_size=12),
        max_size=4,
    ),
)
@cases(80)
def test_no_brief_crashes(kind: BriefKind, texts: dict[str, str]) -> None:
    reading = read_brief(kind, texts)
    assert (reading.need is None) == any(not t.ok for t in reading.tokens.values())


FAILS = RANK[Verdict.FAIL]


def test_choices_are_ranked_as_preferred() -> None:
    brief = divider()
    nearest = choices_for(brief, "nearest").rows
    ranks = [RANK[c.judged.verdict] for c in nearest]
    assert ranks == sorted(ranks)
    errors = [(r, abs(c.governing.error)) for r, c in zip(ranks, nearest, strict=True) if r < FAILS]
    assert errors == sorted(errors)
    worst = choices_for(brief, "worst_case").rows
    reach = [
        (RANK[c.judged.verdict], max(c.governing.highest - 3, 3 - c.governing.lowest))
        for c in worst
    ]
    passing = [r for r in reach if r[0] < FAILS]
    assert passing == sorted(passing)
    least = choices_for(brief, "least_current").rows
    assert all(abs(c.governing.error) <= 0.03 for c in least)
    drawn = [(RANK[c.judged.verdict], c.amps or 0.0) for c in least]
    passing = [d for d in drawn if d[0] < FAILS]
    assert passing == sorted(passing)
    assert max(amps for _, amps in drawn) <= 80e-6


def test_advice_says_when_one_more_part_is_worth_it() -> None:
    worth = choices_for(resistance(target_ohm="4321"), "nearest").found.advice
    assert worth == "a second part removes 0.46 % of error against 4k3 alone: worth it at 1 %"
    hit = choices_for(resistance(target_ohm="4.3k"), "nearest").found.advice
    assert hit == "4k3 is exact already"


def test_parts_of_their_own_have_to_be_there() -> None:
    token = build_sheet("divider", BUOY | {"own": "R9 0.1 %"}).reading.tokens["own"]
    assert (token.ok, token.message) == (False, "no choice has a part called R9; there are R1, R2")
    assert build_sheet("divider", BUOY | {"own": "R2 0.1 %"}).reading.tokens["own"].ok
    bare = build_sheet("divider", BUOY | {"own": "R1 0.01"}).reading.tokens["own"]
    assert bare.message.startswith("“0.01” has no unit: write 0.01 W for a power, or a family")


@pytest.mark.parametrize(("text", "message"), [
    ("V1 in 0 5", "V1 would be a voltage source: the supply is stated in its own place, between “in” and “0”"),
    ("R1 in a 1k\nC1 a 0 10u", "C1 would be a capacitor, which carries no direct current: leave the line out"),
])  # fmt: skip
def test_what_is_no_resistor_is_refused(text: str, message: str) -> None:
    with pytest.raises(NotationError, match=re.escape(message)):
        read_text(text)
