"""A network stated whole."""

import math

import pytest

from lowfold.core.checking.check import Demand, check_network
from lowfold.core.needs.network import read_stated, variants_of
from lowfold.core.parts.limits import PartLimits
from lowfold.core.sheet.standing import network_standing
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import LoadRange, Supply

STATED = {"network": "R1=4 + (R2=6 || (R3=2 + R4=4))", "supply_v": "24 V", "source_ohm": "1"}


def test_a_stated_network_stands_with_what_it_folds_to_and_draws() -> None:
    # Common practice, worked by hand in the trade: EMF 24 V with 1 Ω inside draws 3 A
    standing = network_standing(STATED)
    assert (standing.figure, standing.words) == ("7 Ω", "draws 3.000 A from 24 V")
    assert network_standing({"network": "R1=1k + S1"}).figure == "open"
    assert network_standing({"network": "1k ++"}).words == "not understood: network"
    long = " + ".join(["1k"] * 40)
    assert len(network_standing({"network": long}).need) == 41


def test_the_resistance_inside_the_supply_is_a_part_that_changes_nothing_else() -> None:
    # Ohm's law alone: 12 V over 1 k + 1 k and 2 k with 2 k beside it is 4 mA, less the rest
    texts = {"network": "R1=1k + @OUT + R2=2k", "supply_v": "12 V", "source_ohm": "1k",
             "loads": "OUT 2k"}  # fmt: skip
    _, stated = read_stated(texts)
    assert stated is not None
    shown = stated.with_source_as_part()
    found = []
    for each in (stated, shown):
        supply = Supply(12.0, source_ohms=each.source_ohms)
        solution = check_network(each.circuit, supply, loads=each.loads).solution
        found.append((solution.supply_amps, solution.voltages[each.circuit.node("OUT")]))
    assert [f for pair in found for f in pair] == pytest.approx([4e-3, 4.0] * 2)
    assert solution.voltages[shown.circuit.node("TERM")] == pytest.approx(8.0)


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
    assert readings["loads"].shown == "A 1 mA ± 10 %, B 10 kΩ ± 10 %"
    assert [(x.ohms, x.amps) for x in stated.hung] == [(None, 1e-3), (10e3, None)]
    assert math.isclose(stated.supply_volts, 12.0)


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
