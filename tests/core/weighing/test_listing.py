"""The list of choices: what passes first, one row a ratio, and the careful choice with its facts."""

from typing import Any

import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.kinds import KINDS, BriefKind, Choices, choices_for, read_brief, weigh
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.weighing.listing import RANK, looked_at, ratio_of, rows_of


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


def listed(kind: BriefKind, prefer: str = "nearest", most: int = 12, **texts: str) -> Choices:
    need = read_brief(kind, texts).need
    assert need is not None
    known: Any = prefer
    return choices_for(need, known, (), most)


@pytest.mark.parametrize("kind", KINDS)
def test_a_new_need_opens_with_choices_that_pass(kind: BriefKind) -> None:
    found = listed(kind)
    assert found.rows[0].judged.verdict is Verdict.PASS
    assert found.careful is not None
    assert found.careful.choice.judged.verdict is Verdict.PASS


def test_what_passes_is_not_hidden_behind_what_is_nearer() -> None:
    # A heavy load: the nearest strings are too soft, stiffer ones further off pass.
    found = listed(
        "divider", supply_v="14.4 V", target_v="3 V", load="20k ± 20 %", within="5 %", most=5
    )
    ranks = [RANK[c.judged.verdict] for c in found.rows]
    assert ranks == sorted(ranks)
    assert ranks[0] == 0
    nearest = min(found.found.errors, key=abs)
    assert abs(nearest) < abs(found.rows[0].governing.error)


@pytest.mark.parametrize(
    ("one", "two", "same"),
    [
        ("R1=22k + @OUT + R2=36k", "R1=2k2 + @OUT + R2=3k6", True),
        ("R1=22k + @OUT + R2=36k", "R1=220k + @OUT + R2=3k6", False),
        ("R1=22k + @OUT + R2=36k", "R1=36k + @OUT + R2=22k", False),
        ("R1=1k + @OUT + (R2=10k || R3=1M)", "R1=10 + @OUT + (R2=100 || R3=10k)", True),
        ("R1=1k + @OUT + (R2=10k || R3=1M)", "R1=1k + @OUT + (R2=10k + R3=1M)", False),
        ("R1=9M1 + @OUT + R2=100", "R1=910 + @OUT + R2=10m", True),
    ],
)
def test_one_ratio_in_several_decades_is_one_ratio(one: str, two: str, same: bool) -> None:  # noqa: FBT001
    assert (ratio_of(network(one)) == ratio_of(network(two))) is same


def test_decades_are_one_row_with_a_comfortable_source() -> None:
    found = listed("divider", supply_v="5 V", target_v="3.3 V")
    keys = [ratio_of(row.choice.network) for row in found.listed]
    assert len(set(keys)) == len(keys)
    for row in found.listed:
        # Comfortable is nearest to 10 kΩ (common practice): within half a decade, there being
        # one in every decade
        assert row.choice.output_ohms is not None
        assert 2e3 < row.choice.output_ohms < 50e3
        assert all(ratio_of(n) == ratio_of(row.choice.network) for n in row.decades)


def test_by_least_current_the_decade_is_the_lightest() -> None:
    found = listed("divider", "least_current", supply_v="5 V", target_v="3.3 V")
    first = found.listed[0]
    need = read_brief("divider", {"supply_v": "5 V", "target_v": "3.3 V"}).need
    assert need is not None
    for other in first.decades:
        choice = weigh(need, other)
        better = RANK[choice.judged.verdict] < RANK[first.choice.judged.verdict]
        assert not better
        if RANK[choice.judged.verdict] == RANK[first.choice.judged.verdict]:
            assert (first.choice.amps or 0.0) <= (choice.amps or 0.0)


def test_a_ratio_too_hot_in_its_comfortable_decade_is_listed_in_one_that_passes() -> None:
    need = read_brief("divider", {"supply_v": "60 V", "target_v": "30 V", "rating": "0402"}).need
    assert need is not None
    pair = [network(f"R1={r} + @OUT + R2={r}") for r in ("10k", "1k", "100k", "1M")]
    looked = looked_at(need.weigh, pair, "nearest", by_ratio=True, most=5)
    (row,) = rows_of(looked, (), 5, by_ratio=True)
    assert len(looked.faces) == 1
    # By hand: 30 V across 10 kΩ is 90 mW, above half of 1/16 W; across 100 kΩ it is 9 mW.
    assert row.choice.values == (100e3, 100e3)
    assert list(row.decades) == [pair[1], pair[0], pair[3]]


def test_the_first_row_does_not_depend_on_how_many_are_listed() -> None:
    for kind in KINDS:
        notations = {listed(kind, most=most).rows[0].notation for most in (1, 5, 12)}
        assert len(notations) == 1


@pytest.mark.parametrize("load", ["none", "47k to 100k", "10k", "up to 99 µA", "1M or open"])
def test_what_passes_is_listed_by_what_stands_for_its_ratio(load: str) -> None:
    # 9 V by 39 Ω over 15 Ω is 2.5 V into any load, and too hot: 3k9 over 1k5 is not as near
    texts = {"supply_v": "9 V", "target_v": "2.5 V", "within": "5 %", "load": load}
    need = read_brief("divider", texts).need
    assert need is not None
    networks = need.search("nearest", need.parts.pool(()), 200).networks
    looked = looked_at(
        need.weigh, networks, "nearest", by_ratio=True, most=12, presumed=need.presumed(networks)
    )
    off = [abs(c.judged.marks[0].nominal - 2.5) for c in looked.faces if not RANK[c.judged.verdict]]
    assert len(off) > 5
    assert off == sorted(off)
