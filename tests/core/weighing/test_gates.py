"""Gates of a choice."""

import math
from dataclasses import replace

import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import read_brief
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.values.quantities import VOLT
from lowfold.core.weighing.conditions import Wanted
from lowfold.core.weighing.gate import Gate
from lowfold.core.weighing.weighing import weigh_networks

BUOY = {
    "supply_v": "14.4", "supply_tolerance": "0 %", "target_v": "3V0", "within": "3 %",
    "load": "1M ± 0 %", "max_current_a": "80 µA", "min_ohm": "1k", "max_ohm": "1M",
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
    current = gates_of(divider(load="3 µA ± 0 %"), "200k + @OUT + 56k")["load"].notes[0]
    up, down = math.ceil(1e5 * least) / 100, math.floor(1e5 * most) / 100
    assert (
        current
        == f"At every corner it passes from {up:.2f} µA to {down:.2f} µA. Unloaded: 3.150 V."
    )
    nothing = gates_of(divider(load="none"), "200k + @OUT + 51k")["load"]
    assert nothing.verdict is None
    assert nothing.notes[0].startswith("Nothing is connected. At the worst corner no load passes")
    assert nothing.notes[0].endswith(" Unloaded: 2.926 V.")


def test_one_figure_is_a_load_give_or_take_a_tenth() -> None:
    # By hand: 43.75 kΩ behind 3.15 V gives 3.004 V into 900 kΩ and 3.029 V into 1.1 MΩ
    brief = divider(load="1M", within="6 %")
    gates = gates_of(brief, "200k + @OUT + 56k")
    heavy, light = (3.15 * r / (r + 43.75e3) for r in (900e3, 1.1e6))
    assert gates["value"].figure == pytest.approx(light / 3 - 1)
    shown = f"{heavy:.3f} V … {light:.3f} V over its load."
    assert gates["value"].notes[0].endswith(shown)
    # At its heaviest 3.004 V/900 kΩ; past it 3.004 V/56 kΩ
    assert gates["load"].notes[1].startswith("The string carries 16.1 × the load")
    assert gates["load"].verdict is Verdict.PASS


#: A load, what is asked beside it, and how its gate stands: the definition, case by case.
SOFT = "110k + @OUT + 75k"
DEFINED = [
    ("47k ± 1 %", {}, SOFT, "marginal", "soft, and right only while the load is there"),
    ("47k ± 1 %", {"stiff": "any"}, SOFT, "pass", "said to be always there"),
    ("47k", {}, SOFT, "fail", "± 10 % leaves the window"),
    ("47k ± 1 %", {"feeds_v": "6 V"}, SOFT, "fail", "9.73 V without it, of 6 V that is stood"),
    ("47k ± 1 %", {"feeds_v": "6 V", "stiff": "any"}, SOFT, "fail", "the same, though said there"),
    ("47k or open", {}, SOFT, "fail", "a range that reaches to nothing is a range"),
    ("1M", {}, "15k + @OUT + 4k", "pass", "stiff: 250 times"),
    ("15k", {"within": "20 %"}, "15k + @OUT + 4k", "pass", "not stiff, in its window without too"),
    ("15k", {"within": "20 %", "stiff": "2 ×"}, "15k + @OUT + 4k", "pass", "stiff enough as asked"),
    ("up to 0.1 mA", {"within": "12 %"}, "15k + @OUT + 4k", "pass", "nothing is its light end"),
    ("0.1 mA ± 0 %", {"stiff": "20"}, "15k + @OUT + 4k3", "marginal", "12 times, 20 asked"),
]


@pytest.mark.parametrize(
    ("load", "more", "text", "verdict"),
    [pytest.param(*row[:4], id=row[4]) for row in DEFINED],
)
def test_the_load_gate_as_defined(load: str, more: dict[str, str], text: str, verdict: str) -> None:
    said = {
        "supply_v": "24 V", "target_v": "5 V", "within": "3 %", "tolerance": "0 %",
        "tcr": "0 ppm/K", "max_current_a": "none", "load": load,
    }  # fmt: skip
    gate = gates_of(divider(**said | more), text)["load"]
    assert gate.verdict is not None
    assert gate.verdict.value == verdict


def test_what_holds_only_with_its_load_is_told_with_its_limits() -> None:
    # By hand: 9.7297 V behind 44.595 kΩ reaches 4.85 V at 44.33 kΩ and 5.15 V at 50.15 kΩ
    said = {"supply_v": "24 V", "target_v": "5 V", "tolerance": "0 %", "tcr": "0 ppm/K"}
    brief = divider(**said, load="47k ± 1 %", max_current_a="none")
    note = gates_of(brief, SOFT)["load"].notes[0]
    assert note == "Holds only while 44.4 kΩ … 50.1 kΩ is connected; without it 9.73 V."


def test_a_range_of_resistances_may_pass_where_no_current_does() -> None:
    # Parts ± 1.45 %: of currents none is left at every corner, of resistances some are
    note = gates_of(
        divider(supply_v="24 V", target_v="5 V", within="2 %", load="47k", max_current_a="1 mA"),
        SOFT,
    )["load"].notes[0]
    assert note == "At every corner it passes from 46.8 kΩ up to 47.5 kΩ. Unloaded: 9.730 V."


def test_a_load_with_a_range_is_judged_at_its_ends() -> None:
    still = {"tolerance": "0.1 %", "tcr": "10 ppm/K"}
    wide, near = (divider(load=f"1M ± {x} %", **still) for x in (50, 10))
    assert gates_of(wide, "200k + @OUT + 56k")["load"].verdict is Verdict.FAIL
    assert gates_of(near, "200k + @OUT + 56k")["load"].verdict is Verdict.PASS


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
    brief = resistance(target_ohm="250", within="1 %", use="20 mA", load="1M ± 0 %", rating="1/4 W")
    gates = gates_of(brief, "150 + 100")
    assert gates["load"].figure == pytest.approx(-250 / 1_000_250)
    # I²·R of the larger part at its high end, 1 MΩ beside both taking its share of the 20 mA
    hot, cool = 150 * 1.0145, 100 * (1 - 0.0145)
    assert gates["power"].figure == pytest.approx((0.02 * 1e6 / (1e6 + hot + cool)) ** 2 * hot)


def test_power_is_governed_by_voltage_where_that_uses_more() -> None:
    # By hand: 200 V over 2 × 10 MΩ is 100 V on each, of the 75 V of an 0603; 1 mW of 50 mW
    bare = {"load": "none", "supply_tolerance": "0 %", "tcr": "0 ppm/K"}
    sold = {"rating": "0603", "tolerance": "0 %", "drift": "0 %"}
    brief = divider(supply_v="200 V", target_v="100 V", **bare, **sold)
    gate = gates_of(brief, "R1=10M + @OUT + R2=10M")["power"]
    assert (gate.kind, gate.allowed) == (VOLT, 75.0)
    assert gate.figure == pytest.approx(100.0)
    assert gate.verdict is Verdict.FAIL
    assert gate.used == pytest.approx(100 / 75)
    assert gate.notes[1] == "Its voltage governs: 100 V of 75.0 V."


def test_the_range_of_what_lies_beside_a_resistance_is_judged() -> None:
    # By hand: 1 kΩ beside 9 kΩ is 900 Ω, beside 11 kΩ 916.7 Ω; of 909.1 Ω ± 1 % the first is out
    still = {"tolerance": "0 %", "tcr": "0 ppm/K"}
    loose = resistance(target_ohm="909.1", within="0.5 %", load="10k ± 10 %", **still)
    tight = resistance(target_ohm="909.1", within="1.2 %", load="10k", **still)
    assert gates_of(loose, "1k")["load"].verdict is Verdict.FAIL
    assert gates_of(loose, "1k")["load"].used == pytest.approx((909.1 - 900) / 909.1 / 0.005)
    assert gates_of(tight, "1k")["load"].verdict is Verdict.PASS


def test_of_several_figures_the_spread_says_whose_it_is() -> None:
    brief = divider(load="none")
    wanted = (Wanted("OUT", 3.0, 0.03), Wanted("A", 7.2, 0.5))
    both = replace(brief.conditions, wanted=wanted)
    (judged,) = weigh_networks(both, [network("100k + @A + 58k3 + @OUT + 41k7")])
    (spread,) = [g for g in judged.gates if g.name == "spread"]
    assert spread.notes[0].startswith("OUT: R1 and R2 low")
    (alone,) = weigh_networks(brief.conditions, [network("200k + @OUT + 53k")])
    assert next(g for g in alone.gates if g.name == "spread").notes[0].startswith("Worst: ")


def test_value_and_spread_are_judged_over_what_lies_beside() -> None:
    # By hand: 1 kΩ beside 9 kΩ is 900 Ω, beside 11 kΩ 916.67 Ω, beside 10 kΩ 909.09 Ω
    still = {"tolerance": "0 %", "tcr": "0 ppm/K", "load": "10k ± 10 %"}
    high = gates_of(resistance(target_ohm="904", within="2 %", **still), "1k")
    assert high["value"].figure == pytest.approx(11e3 / 12 / 904 - 1)
    assert high["value"].used == pytest.approx((11e3 / 12 / 904 - 1) / 0.02)
    low = gates_of(resistance(target_ohm="912", within="2 %", **still), "1k")
    assert low["value"].figure == pytest.approx(900 / 912 - 1)
    assert low["spread"].used == pytest.approx((1 - 900 / 912) / 0.02)


def test_of_two_outputs_that_come_too_high_the_one_further_above_is_told() -> None:
    # By hand: 12 V · 2/3 = 8 V of 5 V and 4 V of 3 V: 1.6 and 1.33 times what they feed stands
    still = {"load": "none", "supply_tolerance": "0 %", "tolerance": "0 %", "tcr": "0 ppm/K"}
    brief = divider(supply_v="12 V", target_v="4 V", **still)
    wanted = (Wanted("OUT", 4.0, 0.1), Wanted("A", 8.0, 0.1))
    both = replace(brief.conditions, wanted=wanted, stands=3.0)
    (judged,) = weigh_networks(both, [network("10k + @A + 10k + @OUT + 10k")])
    (spread,) = [g for g in judged.gates if g.name == "spread"]
    assert spread.used == pytest.approx(8 / 3)
    assert spread.verdict is Verdict.FAIL
