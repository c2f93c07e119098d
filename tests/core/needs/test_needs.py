"""Needs of every kind: how they are read, searched and weighed."""

import itertools
import math

import pytest

from lowfold.core.checking.check import Demand, check_network
from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.choice import Choice
from lowfold.core.needs.feedback import FeedbackBrief
from lowfold.core.needs.gates import Gate
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
from lowfold.core.needs.network import read_stated, variants_of
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.parts.limits import PartLimits
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.solving.nodes import Load
from lowfold.core.tolerance.box import LoadRange, Supply
from lowfold.core.workbench.standing import network_standing


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


def feedback(**texts: str) -> FeedbackBrief:
    need = read_brief("feedback", texts).need
    assert isinstance(need, FeedbackBrief)
    return need


def ladder(**texts: str) -> LadderBrief:
    need = read_brief("ladder", texts).need
    assert isinstance(need, LadderBrief)
    return need


def resistance(**texts: str) -> ResistanceBrief:
    need = read_brief("resistance", texts).need
    assert isinstance(need, ResistanceBrief)
    return need


def by_name(gates: tuple[Gate, ...]) -> dict[str, Gate]:
    return {g.name: g for g in gates}


PAIR = "R1=100k + @FB + R2=32k"
PINNED = {
    "target_v": "3.4 V",
    "reference_v": "0.8 V",
    "pin_a": "1 µA",
    "reference_tolerance": "1 %",
}


def test_gates_of_a_feedback_pair() -> None:
    # By hand: 0.8·(1 + 100/32) = 3.3 V; 1 µA · 100 kΩ adds 0.1 V; each part may be off by
    # 1 % + 100 ppm/K · 45 K = 1.45 %
    brief = feedback(**PINNED)
    gates = by_name(brief.weigh([network(PAIR)])[0].judged.gates)
    assert gates["value"].figure == pytest.approx(0.0, abs=1e-12)
    corners = [
        0.8 * (1 + 0.01 * c) * (1 + 100 * (1 + 0.0145 * a) / (32 * (1 + 0.0145 * b)))
        + 0.1 * (1 + 0.0145 * a)
        for a, b, c in itertools.product((-1, 1), repeat=3)
    ]
    worst = max(corners) / 3.4 - 1
    assert gates["spread"].figure == pytest.approx(worst)
    assert gates["spread"].verdict is Verdict.FAIL
    assert gates["load"].figure == pytest.approx(3.4 / 3.3 - 1)
    # The pin may take what lifts the highest corner to the top of the window, 3.502 V
    top = 0.8 * 1.01 * (1 + 100 * 1.0145 / (32 * 0.9855))
    most = (3.502 - top) / (100e3 * 1.0145)
    assert math.floor(most * 1e9) == 933
    assert gates["load"].notes[0] == (
        "Stays below its upper limit with up to 933 nA into the pin, at worst."
    )
    assert gates["load"].notes[1] == "The pair carries 25 × the pin's current."


def test_worst_powers_of_a_feedback_pair_are_at_the_corner_that_drives_each_leg() -> None:
    brief = feedback(**PINNED)
    judged = brief.weigh([network(PAIR)])[0].judged
    parts = {p.ref: p for p in judged.check.parts}
    held, half = 0.8 * 1.01, 0.0145
    most = held / (32e3 * (1 - half)) + 1e-6
    assert parts["R1"].worst_watts == pytest.approx(most**2 * 100e3 * (1 + half))
    assert parts["R2"].worst_watts == pytest.approx(held**2 / (32e3 * (1 - half)))
    assert parts["R1"].nominal_watts == pytest.approx((26e-6) ** 2 * 100e3)


def test_a_feedback_pair_without_pin_current_states_what_would_pass() -> None:
    gate = by_name(feedback(target_v="3.3 V", reference_v="0.8 V").weigh([network(PAIR)])[0].judged.gates)["load"]  # fmt: skip
    assert gate.verdict is None
    # By hand: the highest corner, 3.3 V and some 3.2 %, is above 3.3 V and 3 % already
    assert gate.notes == ("At its worst the output is high even with no current into the pin.",)
    high = feedback(target_v="3.0 V", reference_v="0.8 V").weigh([network(PAIR)])[0].judged
    assert by_name(high.gates)["load"].notes == (
        "At its worst the output is high even with no current into the pin.",
    )


LADDER = {
    "supply_v": "10 V", "tap1_v": "8 V", "tap2_v": "5 V", "within": "5 %",
    "tolerance": "1 %", "tcr": "0 ppm/K",
}  # fmt: skip


def test_gates_of_a_ladder_tell_the_worst_tap() -> None:
    # Common practice, worked by hand in the trade: 2, 3 and 5 on 10 V drop 2, 3 and 5 V
    judged = ladder(**LADDER).weigh([network("2k + @T1 + 3k + @T2 + 5k")])[0].judged
    gates = by_name(judged.gates)
    assert gates["value"].figure == pytest.approx(0.0, abs=1e-15)
    # By hand: T2 is highest at R3 high, R1 and R2 low: 10·5.05/(5.05 + 1.98 + 2.97)
    assert abs(gates["spread"].figure or 0.0) == pytest.approx(5.05 / 5 - 1)
    assert gates["spread"].notes[0].startswith("T2: ")
    assert gates["load"].verdict is None
    assert gates["power"].verdict is Verdict.PASS


def test_a_load_at_one_tap_moves_the_others_and_its_range_is_judged() -> None:
    brief = ladder(**LADDER, tap2_load="50k ± 50 %")
    judged = brief.weigh([network("2k + @T1 + 3k + @T2 + 5k")])[0].judged
    gate = by_name(judged.gates)["load"]

    def tap2(load: float) -> float:
        low = 5e3 * load / (5e3 + load)
        return 10 * low / (5e3 + low)

    assert gate.figure == pytest.approx(tap2(50e3) / 5 - 1)
    assert gate.used == pytest.approx((5 - tap2(25e3)) / (0.05 * 5))
    assert gate.verdict is Verdict.FAIL
    nominal = judged.check.outputs[0].spread
    assert nominal.nominal < nominal.unloaded  # T1 moves though nothing hangs there


@pytest.mark.parametrize("kind", KINDS)
def test_choices_of_every_kind_are_weighed_as_the_search_ranked_them(kind: BriefKind) -> None:
    need = read_brief(kind, {}).need
    assert need is not None
    found = choices_for(need, known_preference(kind, "nearest"))
    errors = [abs(c.governing.error) for c in found.rows]
    assert errors == pytest.approx(sorted(errors), abs=1e-12)
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


def test_the_drawer_gives_only_what_is_tight_enough_and_in_the_range() -> None:
    drawer = (
        DrawerLine(100.0, 2, 0.01, "film"),
        DrawerLine(100.0, 3, 0.001, "thin film"),
        DrawerLine(220.0, None, 0.05, "carbon"),
        DrawerLine(1e6, 1, 0.001, ""),
    )
    brief = resistance(values="drawer", tolerance="1 %", max_ohm="10k", target_ohm="500")
    pool = brief.parts.pool(drawer)
    assert (pool.ohms, pool.counts) == ((100.0,), (5,))
    assert choices_for(brief, "nearest", drawer).rows[0].notation == "R1=100 + R2=100"
    loose = resistance(values="my drawer", tolerance="5 %", target_ohm="500").parts.pool(drawer)
    assert loose.ohms == (100.0, 220.0, 1e6)
    reason = choices_for(resistance(values="drawer"), "nearest").found.reason
    assert reason is not None
    assert reason.startswith("the drawer has no part that fits")


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


def test_optional_tokens_say_when_the_sentence_can_do_without_them() -> None:
    tokens = read_brief("divider", {"load": "none", "source_ohm": "0"}).tokens
    assert all(tokens[n].absent for n in ("load", "source_ohm", "per_leg", "min_ohm"))
    stated = read_brief("divider", {"load": "1M", "source_ohm": "50", "per_leg": "two"}).tokens
    assert not any(stated[n].absent for n in ("load", "source_ohm", "per_leg"))
    assert not tokens["target_v"].absent


MISFITS: list[tuple[BriefKind, dict[str, str], str, str]] = [
    ("ladder", {"tap2_v": "4 V"}, "tap2_v", "taps go down: write less than the 3.3 V of the tap above"),
    ("ladder", {"tap1_v": "6 V"}, "tap1_v", "taps go down: write less than the 5 V of the supply"),
    ("feedback", {"target_v": "0.5 V"}, "target_v", "a pair sets an output above the reference: write more than 800 mV"),
    ("divider", {"min_current_a": "2 mA", "max_current_a": "1 mA"}, "min_current_a", "this is above the largest: write 1 mA or less"),
    ("resistance", {"max_parts": "5"}, "max_parts", "a series is searched for up to 4 parts, a drawer of at most 20 values for up to 6"),
]  # fmt: skip


@pytest.mark.parametrize(("kind", "texts", "token", "message"), MISFITS)
def test_tokens_that_do_not_fit_each_other_say_so(
    kind: BriefKind, texts: dict[str, str], token: str, message: str
) -> None:
    reading = read_brief(kind, texts)
    assert reading.need is None
    assert reading.tokens[token].message == message


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


STATED = {"network": "R1=4 + (R2=6 || (R3=2 + R4=4))", "supply_v": "24 V", "source_ohm": "1"}


def test_a_stated_network_stands_with_what_it_folds_to_and_draws() -> None:
    # Common practice, worked by hand in the trade: EMF 24 V with 1 Ω inside draws 3 A
    standing = network_standing(STATED)
    assert (standing.figure, standing.words) == ("7 Ω", "draws 3.000 A from 24 V")
    assert network_standing({"network": "R1=1k + S1"}).figure == "open"
    assert network_standing({"network": "1k ++"}).words == "not understood: network"
    long = " + ".join(["1k"] * 40)
    assert len(network_standing({"network": long}).need) == 41


WRONG = [
    ({"loads": "OUT"}, "loads", "“OUT” is no load: write a junction and what it feeds, like OUT 10k"),
    ({"loads": "A 3V"}, "loads", "“3V” is a voltage; wanted is a resistance, for instance 4k7; a load is a resistance (200k) or a current (20 µA)"),
    ({"closed": "S9"}, "closed", "the network has no switch called “S9”; there are: none"),
    ({"network": "S1", "closed": "S1"}, "closed", "the closed switches put a short straight across the supply: open one of them"),
]  # fmt: skip


@pytest.mark.parametrize(("texts", "token", "message"), WRONG)
def test_a_stated_network_says_which_token_is_wrong(
    texts: dict[str, str], token: str, message: str
) -> None:
    readings, stated = read_stated({"network": "1k + @A + 1k", **texts})
    assert stated is None
    assert readings[token].message == message


def test_a_stated_network_may_be_loaded_with_currents_at_several_junctions() -> None:
    readings, stated = read_stated({"network": "1k + @A + 1k + @B + 1k", "loads": "A 1 mA; @B 10k"})
    assert stated is not None
    assert readings["loads"].shown == "A 1 mA, B 10 kΩ"
    assert [(x.ohms, x.amps) for x in stated.hung] == [(None, 1e-3), (10e3, None)]
    assert math.isclose(stated.supply_volts, 12.0)


def test_the_most_widely_stocked_series_of_a_choice() -> None:
    brief = resistance(target_ohm="1k")

    def series(text: str) -> str:
        choice: Choice = weigh(brief, network(text))
        return choice.series

    # IEC 60063, from memory: 10 and 22 are in E3, 15 in E6, 12 in E12, 11 in E24, 1.02 in E48 …
    assert [series(x) for x in ("1k + 22", "1k + 15", "1k + 12", "1k + 11", "1k + 1R05", "1k + 1R02", "1k + 1R01", "1234")] == [
        "E3", "E6", "E12", "E24", "E48", "E96", "E192", "",
    ]  # fmt: skip


def test_a_network_has_other_states_to_be_set_beside_it() -> None:
    texts = {"network": "R1=220 + @A + (R2=330 || S1)", "closed": "S1", "loads": "A 1k"}
    _, stated = read_stated(texts)
    assert stated is not None
    found = variants_of(stated, texts)
    assert list(found) == [
        "with S1 open", "without loads", "all its parts in series", "all its parts in parallel",
    ]  # fmt: skip
    assert found["with S1 open"]["closed"] == "none"
    assert found["without loads"]["loads"] == "none"
    # Common practice, worked by hand in the trade: 220 and 330 Ω, 550 Ω in series, 132 in parallel
    assert network_standing(found["all its parts in series"]).figure == "550 Ω"
    assert network_standing(found["all its parts in parallel"]).figure == "132 Ω"
    for brief in found.values():
        assert read_stated(brief)[1] is not None


BRIDGE = "R1 in a 1k\nR2 a 0 2k\nR3 in b 1k\nR4 b 0 2k2\nR5 a b 470"
GATED = {
    "network": BRIDGE,
    "supply_v": "10 V",
    "supply_tolerance": "2 %",
    "loads": "a 10k ± 20 %",
    "wanted": "a 6.5 V ± 5 %; total 1.5k ± 5 %",
    "tolerance": "1 %",
    "rating": "0603",
}


def test_a_stated_network_has_gates_of_its_own() -> None:
    _, stated = read_stated(GATED)
    assert stated is not None
    judged = stated.weighed()
    by_hand = check_network(
        stated.circuit,
        Supply(10.0, 0.02),
        loads=[LoadRange(Load(stated.circuit.node("a"), ohms=1e4), 8e3, 12e3)],
        default=PartLimits(tolerance=0.01, rated_watts=0.1, limiting_volts=75.0),
        outputs=[("a", Demand(6.5, 0.05))],
        resistance=Demand(1500.0, 0.05),
    )
    assert [(m.name, m.lowest, m.highest) for m in judged.marks] == [
        ("a", by_hand.outputs[0].spread.lowest, by_hand.outputs[0].spread.highest),
        ("", by_hand.resistance.spread.lowest, by_hand.resistance.spread.highest),  # type: ignore[union-attr]
    ]
    assert [g.name for g in judged.gates] == ["value", "spread", "load", "power"]
    assert judged.verdict is by_hand.verdict
    assert network_standing(GATED).words.startswith(("spread uses", "value uses", "load uses"))


def test_what_is_not_stated_of_a_network_is_not_judged() -> None:
    _, stated = read_stated({"network": BRIDGE})
    assert stated is not None
    judged = stated.weighed()
    assert [g.verdict for g in judged.gates] == [None] * 4
    assert judged.gates[0].notes == ("Say what is wanted, like OUT 3V ± 3 %, to judge this.",)
    assert all(p.verdict is None for p in judged.check.parts)


UNWANTED = [
    ({"wanted": "A 3 V"}, "wanted", "“A 3 V” does not say what is wanted: write a junction, its voltage and how far off it may be, like OUT 3V ± 3 %, or total 250 ± 1 %"),
    ({"wanted": "Z 3 V ± 1 %"}, "wanted", "the network has no junction called “Z”; there are: A"),
    ({"wanted": "A 0 V ± 1 %"}, "wanted", "a deviation in per cent needs a voltage other than 0 V"),
    ({"tolerance": "family"}, "tolerance", "no family is stated: say the size, power or family, or write the figure"),
    ({"own": "R9 1 %"}, "own", "the network has no part called “R9”; there are: R1, R2"),
    ({"low_c": "80 °C"}, "high_c", "the hottest is below the coldest: write 80 °C or more"),
]  # fmt: skip


@pytest.mark.parametrize(("texts", "token", "message"), UNWANTED)
def test_what_is_wanted_of_a_network_is_refused_in_words(
    texts: dict[str, str], token: str, message: str
) -> None:
    readings, stated = read_stated({"network": "1k + @A + 1k", **texts})
    assert stated is None
    assert readings[token].message == message
