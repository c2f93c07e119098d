"""Two choices side by side: every line against figures worked by hand."""

import pytest

from lowfold.core.needs.kinds import KINDS, BriefKind, read_brief, weigh
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.sheet.beside import Difference, set_beside
from lowfold.core.weighing.choice import Choice


def choice(kind: BriefKind, text: str, **texts: str) -> Choice:
    need = read_brief(kind, texts).need
    found = read_text(text)
    assert need is not None
    assert not isinstance(found, Netlist)
    return weigh(need, found)


NEED = {"supply_v": "12 V", "target_v": "3.3 V", "tolerance": "1 %", "tcr": "0 ppm/K"}


def lines(one: str, two: str) -> dict[str, Difference]:
    pair = [choice("divider", text, **NEED) for text in (one, two)]
    return {d.what: d for d in set_beside(pair[0], pair[1], KINDS["divider"].unit).lines}


def test_each_line_says_both_figures_and_which_is_the_better() -> None:
    found = lines("R1=18k + @OUT + R2=6k8", "R1=24k + @OUT + R2=9k1")
    # By hand: 12·6.8/24.8 = 3.2903 V, 12·9.1/33.1 = 3.2991 V; 12/24.8k = 484 µA, 12/33.1k = 363 µA;
    # 18k ∥ 6.8k = 4.94 kΩ, 24k ∥ 9.1k = 6.60 kΩ.
    assert (found["nominal"].one, found["nominal"].two) == ("3.2903 V", "3.2991 V")
    assert found["nominal"].better is None
    assert (found["off by"].one, found["off by"].two) == ("−0.293 %", "−0.027 %")
    assert (found["off by"].better, found["off by"].by) == ("two", "nearer")
    assert (found["draws"].one, found["draws"].two) == ("484 µA", "363 µA")
    assert (found["draws"].better, found["draws"].by) == ("two", "less drawn")
    assert (found["output resistance"].one, found["output resistance"].two) == (
        "4.94 kΩ",
        "6.60 kΩ",
    )
    assert (found["output resistance"].better, found["output resistance"].by) == ("one", "stiffer")
    assert (found["series"].one, found["series"].two) == ("E12", "E24")
    assert (found["series"].better, found["series"].by) == ("one", "more widely stocked")
    assert found["parts"].better is None


def test_the_sentence_says_what_each_is_better_in_and_nothing_that_is_alike() -> None:
    pair = [
        choice("divider", text, **NEED) for text in ("R1=18k + @OUT + R2=6k8", "R1=1k8 + @OUT + R2=680")
    ]  # fmt: skip
    words = set_beside(pair[0], pair[1], KINDS["divider"].unit).words
    assert words == "For the first: less drawn and more power left; for the second: stiffer."
    same = set_beside(pair[0], pair[0], KINDS["divider"].unit)
    assert same.words == "They are alike in all of this."
    assert all(line.better is None for line in same.lines)


@pytest.mark.parametrize("kind", KINDS)
def test_choices_of_every_kind_can_be_set_side_by_side(kind: BriefKind) -> None:
    texts = {
        "resistance": ("R1=4k3 + R2=20", "R1=8k2 || R2=9k1"),
        "divider": ("R1=47k + @OUT + R2=91k", "R1=6k2 + @OUT + R2=12k"),
        "feedback": ("R1=75k + @FB + R2=24k", "R1=47k + @FB + R2=15k"),
        "ladder": ("R1=12k + @T1 + R2=11k + @T2 + R3=13k", "R1=36k + @T1 + R2=33k + @T2 + R3=39k"),
    }[kind]
    pair = [choice(kind, text) for text in texts]
    found = set_beside(pair[0], pair[1], KINDS[kind].unit)
    back = set_beside(pair[1], pair[0], KINDS[kind].unit)
    other = {"one": "two", "two": "one", None: None}
    assert [line.better for line in back.lines] == [other[line.better] for line in found.lines]
    assert [(line.one, line.two) for line in back.lines] == [
        (line.two, line.one) for line in found.lines
    ]
