"""Briefs, gates, choices, and how a design stands."""

import math
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lowfold.core.checking.verdict import Verdict
from lowfold.core.drawing.schematic import Metrics, draw
from lowfold.core.errors import NotationError
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.gates import Gate
from lowfold.core.needs.kinds import KINDS, BriefKind, choices_for, read_brief
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.workbench.sheet import build_sheet
from lowfold.core.workbench.standing import standing

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


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


def gates_of(brief: DividerBrief | ResistanceBrief, text: str) -> dict[str, Gate]:
    return {g.name: g for g in brief.weigh([network(text)])[0].judged.gates}


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
    ("divider", {"values": "E25"}, "values", "“E25” is not a series of preferred values: use E3, E6, E12, E24, E48, E96, E192; or write drawer for your own stock"),
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
@settings(max_examples=80)
def test_no_brief_crashes(kind: BriefKind, texts: dict[str, str]) -> None:
    reading = read_brief(kind, texts)
    assert (reading.need is None) == any(not t.ok for t in reading.tokens.values())


def test_gates_of_the_battery_sense() -> None:
    gates = gates_of(divider(), "200k + @OUT + 56k")
    lower = 56e3 * 1e6 / 1.056e6
    nominal = 14.4 * lower / (200e3 + lower)
    assert gates["value"].figure == pytest.approx(nominal / 3 - 1)
    half = 0.01 + 100e-6 * 45
    up, down = 200e3 * (1 - half), 56e3 * (1 + half)
    worst = 14.4 * (down * 1e6 / (down + 1e6)) / (up + down * 1e6 / (down + 1e6))
    assert gates["spread"].figure == pytest.approx(worst / 3 - 1)
    assert gates["spread"].verdict is Verdict.MARGINAL
    assert gates["spread"].notes[0] == "Worst: R1 low, R2 high."
    assert gates["load"].figure == pytest.approx(nominal / (14.4 * 56 / 256) - 1)
    assert gates["power"].verdict is Verdict.PASS


def test_the_load_gate_names_the_loads_that_pass() -> None:
    # By hand, parts ± 1.45 %: at the low corner Vth = 3.0798 V behind 43.73 kΩ reaches 2.91 V at
    # 747 kΩ; at the high one 3.2214 V behind 43.74 kΩ falls to 3.09 V at 1.029 MΩ
    h = 0.0145
    low, high = (
        56 * (1 - h) / (56 * (1 - h) + 200 * (1 + h)),
        56 * (1 + h) / (56 * (1 + h) + 200 * (1 - h)),
    )
    volts, behind = (14.4 * low, 14.4 * high), (200 * (1 + h) * low, 200 * (1 - h) * high)
    heavy, light = 2.91 * behind[0] / (volts[0] - 2.91), 3.09 * behind[1] / (volts[1] - 3.09)
    note = gates_of(divider(), "200k + @OUT + 56k")["load"].notes[0]
    assert (math.ceil(heavy), math.floor(light / 10) / 100) == (747, 1.03)
    assert note == "At every corner it passes from 747 kΩ up to 1.03 MΩ. Unloaded: 3.150 V."
    least, most = (volts[1] - 3.09) / behind[1], (volts[0] - 2.91) / behind[0]
    current = gates_of(divider(load="3 µA"), "200k + @OUT + 56k")["load"].notes[0]
    up, down = math.ceil(1e5 * least) / 100, math.floor(1e5 * most) / 100
    assert (
        current
        == f"At every corner it passes from {up:.2f} µA to {down:.2f} µA. Unloaded: 3.150 V."
    )
    nothing = gates_of(divider(load="none"), "200k + @OUT + 51k")["load"]
    assert nothing.verdict is None
    assert nothing.notes[0].startswith("Nothing is connected. Unloaded: 2.926 V. At the worst ")


def test_a_load_with_a_range_is_judged_at_its_ends() -> None:
    assert gates_of(divider(load="1M ± 50 %"), "200k + @OUT + 56k")["load"].verdict is Verdict.FAIL
    assert gates_of(divider(load="1M ± 10 %"), "200k + @OUT + 56k")["load"].verdict is Verdict.PASS


def test_a_starved_output_is_judged_not_divided_by() -> None:
    gates = gates_of(divider(load="1 A", max_current_a="none"), "200k + @OUT + 56k")
    assert gates["value"].figure == pytest.approx(-1.0)
    assert gates["value"].verdict is Verdict.FAIL


def test_power_gate_of_the_pull_down() -> None:
    # By hand: 12 V on 470 Ω at −1.45 % is 310.9 mW; an 0603 may take half of 100 mW
    brief = resistance(target_ohm="470", use="12 V", rating="0603")
    gate = gates_of(brief, "470")["power"]
    assert gate.figure == pytest.approx(144 / (470 * (1 - 0.0145)))
    assert gate.verdict is Verdict.FAIL
    assert gate.notes[-1] == "A 750 mW part would do; 0603 does not."
    assert gates_of(resistance(target_ohm="470"), "470")["power"].verdict is None
    huge = gates_of(resistance(target_ohm="470", use="500 V"), "470")["power"]
    assert huge.notes[-1] == "No single standard part would do: share it among several."


def test_a_loop_receiver_beside_its_input() -> None:
    brief = resistance(target_ohm="250", within="1 %", use="20 mA", load="1M", rating="1/4 W")
    gates = gates_of(brief, "150 + 100")
    assert gates["load"].figure == pytest.approx(-250 / 1_000_250)
    # I²·R of the larger part at its high end, 1 MΩ beside both taking its share of the 20 mA
    hot, cool = 150 * 1.0145, 100 * (1 - 0.0145)
    assert gates["power"].figure == pytest.approx((0.02 * 1e6 / (1e6 + hot + cool)) ** 2 * hot)


def test_choices_are_ranked_as_preferred() -> None:
    brief = divider()
    nearest = choices_for(brief, "nearest").rows
    errors = [abs(c.governing.error) for c in nearest]
    assert errors == sorted(errors)
    worst = choices_for(brief, "worst_case").rows
    reach = [max(c.governing.highest - 3, 3 - c.governing.lowest) for c in worst]
    assert reach == sorted(reach)
    least = choices_for(brief, "least_current").rows
    assert all(abs(c.governing.error) <= 0.03 for c in least)
    drawn = [c.amps or 0.0 for c in least]
    assert drawn == sorted(drawn)
    assert max(drawn) <= 80e-6


def test_advice_says_when_one_more_part_is_worth_it() -> None:
    worth = choices_for(resistance(target_ohm="4321"), "nearest").found.advice
    assert worth == "a second part removes 0.46 % of error against 4k3 alone: worth it at 1 %"
    hit = choices_for(resistance(target_ohm="4.3k"), "nearest").found.advice
    assert hit == "4k3 is exact already"


def test_how_a_design_stands() -> None:
    pinned = standing(build_sheet("divider", BUOY, choice="R1=200k + @OUT + R2=56k"))
    assert (pinned.verdict, pinned.words) == (Verdict.MARGINAL, "spread uses 95.4 % of the window")
    assert (pinned.need, pinned.figure) == ("14.4 V to 3 V ± 3 %", "3.018 V")
    unpinned = standing(build_sheet("divider", BUOY))
    assert unpinned.words.endswith("; nothing pinned yet")
    wrong = standing(build_sheet("divider", BUOY | {"target_v": "x"}))
    assert wrong.words == "brief not understood: wanted voltage"
    stray = standing(build_sheet("divider", BUOY, choice="1k + 2k"))
    assert stray.words.startswith(
        "the pinned choice does not fit: the network has no junction called “OUT”"
    )
    broken = standing(build_sheet("divider", BUOY, choice="1k +"))
    assert broken.verdict is None


METRICS = Metrics(part_width=100, part_height=50, symbol=20, lead=10, terminal=60)


def test_a_divider_is_drawn_downwards_with_its_load_at_the_right() -> None:
    drawn = draw(network("R1=1k + @OUT + R2=2k"), METRICS, [("L1", "OUT")])
    assert [(p.name, p.x, p.y) for p in drawn.parts] == [("R1", 60, 25), ("R2", 60, 75)]
    assert [(p.name, p.x, p.y) for p in drawn.loads] == [("L1", 160, 75)]
    assert (drawn.width, drawn.height) == (260, 100)
    assert drawn.supply is not None


def test_parallel_branches_stand_side_by_side_without_touching() -> None:
    drawn = draw(network("(1k || (2k + 3k)) + (4k || 5k || 6k)"), METRICS, driven=False)
    places = {(p.x, p.y) for p in drawn.parts}
    assert len(places) == 6
    for one in places:
        for two in places - {one}:
            assert (
                abs(one[0] - two[0]) >= METRICS.part_width or abs(one[1] - two[1]) >= METRICS.symbol
            )
    assert [e.name for e in drawn.ends] == ["in", "0"]


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
