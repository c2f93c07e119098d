"""Advice is tried, so what it promises is what comes of following it."""

import itertools

import pytest

from lowfold.core.advice.advice import Advised, advise, advise_stated, lightest
from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.kinds import BriefKind, read_brief, weigh
from lowfold.core.needs.network import read_stated
from lowfold.core.network.notation import read_network
from lowfold.core.parts.families import Family
from lowfold.core.parts.stock import DrawerLine, Stock
from lowfold.core.values.preferred import series_values
from lowfold.core.values.quantities import write_code

SENSE = {
    "supply_v": "14.4 V", "target_v": "3 V", "within": "2.5 %", "load": "1 MΩ ± 0 %",
    "min_ohm": "1 kΩ", "max_ohm": "1 MΩ", "low_c": "-20 °C", "high_c": "60 °C",
}  # fmt: skip
PULL_DOWN = {"target_ohm": "470", "within": "5 %", "max_parts": "1", "use": "12 V"}
FEEDBACK = {"target_v": "3.6 V", "within": "2.5 %", "reference_v": "0.8 V", "values": "E96"}
LADDER = {"supply_v": "5 V", "tap1_v": "3.2 V", "tap2_v": "1.4 V", "within": "1.5 %"}

CASES: list[tuple[BriefKind, dict[str, str], str]] = [
    ("divider", SENSE, "R1=200k + @OUT + R2=56k"),
    ("divider", SENSE | {"within": "1.2 %"}, "R1=200k + @OUT + R2=56k"),
    ("divider", SENSE | {"supply_v": "60 V", "rating": "0402"}, "R1=1k8 + @OUT + R2=91"),
    ("divider", SENSE | {"target_v": "3.3 V", "load": "none"}, "R1=200k + @OUT + R2=56k"),
    ("resistance", PULL_DOWN, "R1=470"),
    ("resistance", PULL_DOWN | {"within": "1.2 %"}, "R1=470"),
    ("resistance", PULL_DOWN | {"use": "none", "target_ohm": "475"}, "R1=430"),
    ("feedback", FEEDBACK, "R1=249k + @FB + R2=71k5"),
    ("ladder", LADDER, "R1=18k + @T1 + R2=18k + @T2 + R3=14k"),
]


def stands(kind: BriefKind, texts: dict[str, str], text: str, stock: Stock) -> Verdict | None:
    """How a choice stands by the way the sheet goes: read, weighed."""
    need = read_brief(kind, texts, stock.families).need
    assert need is not None
    return weigh(need, read_network(text)).judged.verdict


@pytest.mark.parametrize(("kind", "texts", "text"), CASES)
def test_every_way_followed_does_what_it_says(
    kind: BriefKind, texts: dict[str, str], text: str
) -> None:
    stock = Stock()
    before = stands(kind, texts, text, stock)
    assert before in {Verdict.FAIL, Verdict.MARGINAL}
    found = advise(kind, texts, read_network(text), stock)
    assert found.ways
    order = list(Verdict)
    for way in found.ways:
        after = stands(kind, texts | dict(way.changes), way.notation, stock)
        assert after == way.verdict
        assert after is not None
        assert order.index(after) < order.index(before)
    assert stands(kind, texts | dict(found.ways[0].changes), found.ways[0].notation, stock) in {
        Verdict.PASS, Verdict.MARGINAL,
    }  # fmt: skip


def kinds_of(found: Advised) -> list[str]:
    return [way.kind for way in found.ways]


def test_a_spread_is_mended_by_one_part_one_array_or_another_choice() -> None:
    found = advise("divider", SENSE | {"within": "3 %"}, read_network(CASES[0][2]))
    # What costs nothing first: another choice of the same parts, then tighter ones, then an array
    assert found.ways[0].words == "Take 100 kΩ over 27 kΩ instead"
    assert found.ways[0].notation == "R1=100k + @OUT + R2=27k"
    assert found.ways[0].verdict is Verdict.PASS
    assert [(w.words, dict(w.changes)) for w in found.ways[1:4]] == [
        ("Buy R1 at 0.5 %", {"own": "R1 0.5 %"}),
        ("Buy R2 at 0.5 %", {"own": "R2 0.5 %"}),
        ("Take them from one array whose ratios hold to 0.5 %", {"tracking": "0.5 %"}),
    ]


def test_the_loosest_grade_that_is_enough_is_told() -> None:
    texts = SENSE | {"within": "3 %"}
    ways = advise("divider", texts, read_network(CASES[0][2])).ways
    way = next(w for w in ways if w.kind == "tolerance")
    assert dict(way.changes) == {"own": "R1 0.5 %"}
    # The next looser one that is sold, 1 %, is what stands there already and is marginal
    assert stands("divider", texts | {"own": "R1 1 %"}, CASES[0][2], Stock()) is Verdict.MARGINAL


def test_a_grade_that_passes_is_told_before_one_that_is_only_marginal() -> None:
    texts = SENSE | {"within": "2.6 %"}
    ways = advise("divider", texts, read_network(CASES[0][2])).ways
    told = next(dict(w.changes)["own"] for w in ways if "R1" in w.words)
    sold = ["1 %", "0.5 %", "0.25 %", "0.1 %", "0.05 %"]
    assert told == "R1 0.25 %"
    found = [stands("divider", texts | {"own": f"R1 {t}"}, CASES[0][2], Stock()) for t in sold]
    assert found == [Verdict.FAIL, Verdict.MARGINAL, Verdict.PASS, Verdict.PASS, Verdict.PASS]


def test_too_hot_a_part_is_larger_or_split_among_equal_ones() -> None:
    found = advise("resistance", PULL_DOWN, read_network("R1=470"))
    assert kinds_of(found) == ["bought", "split", "split"]
    # By hand: 12²/470 = 306 mW needs more than 612 mW at half stress; the next size has 3/4 W
    assert dict(found.ways[0].changes) == {"rating": "2010"}
    for way in found.ways[1:]:
        assert len({b.ohms for b in way.judged.circuit.branches}) == 1
        assert all(p.verdict is Verdict.PASS for p in way.judged.check.parts)


def test_both_schools_of_stress() -> None:
    # By hand: 12²/1500 = 96 mW is within 1/10 W, but not within half of it
    texts = PULL_DOWN | {"target_ohm": "1k5"}
    found = advise("resistance", texts, read_network("R1=1k5"))
    way = next(w for w in found.ways if w.kind == "stress")
    assert dict(way.changes) == {"stress": "100 %"}
    assert "where the data sheet allows it" in way.words
    assert way.verdict is Verdict.MARGINAL


def test_what_no_part_can_cure_is_said() -> None:
    texts = SENSE | {"supply_tolerance": "4 %", "load": "none"}
    found = advise("divider", texts, read_network("R1=200k + @OUT + R2=53k"))
    assert found.ways == ()
    assert found.limit.startswith("No part can cure the spread: the supply's ± 4 % alone is more")


def test_a_nominal_value_that_is_off_brings_finer_values() -> None:
    texts = {
        "target_ohm": "473",
        "within": "0.6 %",
        "max_parts": "1",
        "tolerance": "0.1 %",
        "tcr": "5 ppm/K",
    }
    found = advise("resistance", texts, read_network("R1=470"))
    # 470 + 3 Ω, or 475 Ω of E96: one part more costs less than a finer series
    assert found.ways[0].words == "Take (470 + 3)"
    assert all(abs(w.judged.marks[0].error) < 0.006 for w in found.ways)


def test_nothing_is_advised_where_nothing_is_wrong_or_understood() -> None:
    good = advise("divider", SENSE | {"within": "10 %"}, read_network(CASES[0][2]))
    assert good == Advised()
    assert advise("divider", SENSE | {"target_v": "x"}, read_network(CASES[0][2])) == Advised()


def test_the_lightest_string_that_passes_is_told() -> None:
    texts = SENSE | {"within": "3 %"}
    found = lightest("divider", texts)
    assert found is not None
    words, amps = found
    need = read_brief("divider", texts).need
    assert need is not None
    # By looking at every pair of the series: none that draws less passes
    values = series_values(["E24"], 1e3, 1e6)
    for upper, lower in itertools.product(values, values):
        below = lower * 1e6 / (lower + 1e6)
        lighter = 14.4 / (upper + below) < amps * (1 - 1e-9)
        if lighter and abs(14.4 * below / (upper + below) - 3) <= 0.09:
            pair = read_network(f"R1={write_code(upper)} + @OUT + R2={write_code(lower)}")
            assert weigh(need, pair).judged.verdict is not Verdict.PASS
    assert words == "100 kΩ over 27 kΩ"
    assert lightest("resistance", PULL_DOWN) is None


def test_the_drawer_and_own_families_are_what_there_is() -> None:
    stock = Stock(
        (DrawerLine(220.0, 9, 0.01, ""), DrawerLine(470.0, 1, 0.01, "")),
        (Family(name="heavy 2 W", rated_watts=2.0),),
    )
    texts = PULL_DOWN | {"values": "drawer", "max_parts": "2", "use": "24 V"}
    found = advise("resistance", texts, read_network("R1=470"), stock)
    # By hand: 24²/470 = 1.2 W needs more than 2.4 W at half stress
    assert "5 W wirewound" in {w.changes.get("rating") for w in found.ways}
    assert all({b.ohms for b in w.judged.circuit.branches} <= {220.0, 470.0} for w in found.ways)


BRIDGE = "R1 in a 1k\nR2 a 0 2k\nR3 in b 1k\nR4 b 0 2k2\nR5 a b 470"
STATED: list[dict[str, str]] = [
    {"network": BRIDGE, "wanted": "a 6.7 V ± 1 %", "supply_v": "10 V", "tolerance": "1 %"},
    {"network": "R1=470 || R2=10k", "supply_v": "12 V", "rating": "0603"},
    {"network": "R1=200k + @OUT + R2=56k", "wanted": "OUT 3.15 V ± 1 %", "supply_v": "14.4 V",
     "tolerance": "1 %", "tcr": "50 ppm/K", "low_c": "-20 °C"},
]  # fmt: skip


@pytest.mark.parametrize("texts", STATED, ids=["a bridge", "too hot", "a divider"])
def test_ways_for_a_stated_network_do_what_they_say(texts: dict[str, str]) -> None:
    found = advise_stated(texts)
    assert found.ways
    for way in found.ways:
        _, stated = read_stated(texts | dict(way.changes))
        assert stated is not None
        assert stated.weighed().verdict == way.verdict
        assert way.verdict is not Verdict.FAIL
        assert way.notation == ""


def test_a_part_of_a_stated_network_is_split_in_its_text() -> None:
    split = next(w for w in advise_stated(STATED[1]).ways if w.kind == "split")
    assert set(split.changes) == {"network"}
    assert "R2=10k" in split.changes["network"]
    assert advise_stated({"network": "1k"}) == Advised()
