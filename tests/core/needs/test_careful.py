"""The choice a careful designer takes: sound where something sound passes, told in facts."""

import math

import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.breath import read_breath
from lowfold.core.needs.careful import careful
from lowfold.core.needs.choice import Choice
from lowfold.core.needs.gates import stiffness
from lowfold.core.needs.kinds import Choices, choices_for, read_brief


def chosen(text: str, most: int = 12) -> Choices:
    """Return the choices for a need in one line."""
    breath = read_breath(text)
    assert breath.kind is not None
    assert breath.unread == ()
    need = read_brief(breath.kind, breath.tokens).need
    assert need is not None
    return choices_for(need, "nearest", (), most)


def carries(choice: Choice) -> float:
    found = stiffness(choice.judged.check, choice.judged.loads)
    return math.inf if found is None else found


def test_it_is_told_in_facts_that_hold() -> None:
    found = chosen("12 V to 3.3 V")
    taken = found.careful
    assert taken is not None
    passing = [c for c in found.rows if c.judged.verdict is Verdict.PASS]
    assert taken.choice in passing
    order = ["E3", "E6", "E12", "E24", "E48", "E96", "E192", ""]
    assert order.index(taken.choice.series) == min(order.index(c.series) for c in passing)
    assert taken.words.startswith(
        "18 kΩ over 6.8 kΩ: of the 2 that pass of 24 weighed, the only one of E12 values; "
    )
    # By hand: 12 V over 24.8 kΩ is 484 µA, 18 kΩ beside 6.8 kΩ is 4.94 kΩ.
    assert taken.words.endswith("it draws 484 µA, seen as 4.94 kΩ.")


def test_there_is_none_where_nothing_passes() -> None:
    assert chosen("12 V to 3.3 V within 0.1 %").careful is None
    only = chosen("12 V to 3.3 V").rows[0]
    alone = careful([only])
    assert alone is not None
    assert ": the only choice there is, and it passes;" in alone.words


LOADED = [
    "14.4 V to 3 V within 3 % into 1 MΩ, at most 80 µA",
    "14.4 V to 3 V within 3 % into 1 MΩ",
    "18.5 V to 2.2 V into 470k within 4 %, at most 60 µA",
    "20.3 V to 3.19 V within 3 % into 47k E96, at most 300 µA",
    "23.8 V to 9.59 V within 5 % into 10k E96",
    "12 V to 3.3 V into 10k",
    "5 V to 2.5 V into 100k within 2 %",
    "5 V to 2.5 V into 20 µA within 3 %",
    "3.3 V to 1.2 V into 1 MΩ within 1.5 % 0.5 % E96",
    "9 V to 1.1 V into 47k within 4 % E12",
]


@pytest.mark.parametrize("text", LOADED)
def test_a_load_is_fed_by_the_lightest_string_that_is_stiff(text: str) -> None:
    # Against every candidate the search brought, each weighed (common practice: ten times)
    found = chosen(text)
    breath = read_breath(text)
    assert breath.kind is not None
    need = read_brief(breath.kind, breath.tokens).need
    assert need is not None
    assert found.careful is not None
    every = [c for c in need.weigh(found.found.networks) if c.judged.verdict is Verdict.PASS]
    stiff = [c for c in every if carries(c) >= 10 * (1 - 1e-9)]
    taken = found.careful.choice
    assert taken.judged.verdict is Verdict.PASS
    if stiff:
        assert carries(taken) >= 10 * (1 - 1e-9)
        assert (taken.amps or 0.0) <= 3 * min(c.amps or 0.0 for c in stiff)
    else:
        assert carries(taken) >= max(carries(c) for c in every) / 2


@pytest.mark.parametrize("text", [*LOADED, "12 V to 3.3 V", "5 V to 3.2 V and 1.4 V into 1M"])
def test_it_is_listed_and_the_first_row_does_not_depend_on_it(text: str) -> None:
    found = chosen(text)
    assert found.careful is not None
    assert found.careful.choice in found.rows
    assert len(found.rows) <= 12
    ranks = [c.judged.verdict is not Verdict.PASS for c in found.rows]
    assert ranks == sorted(ranks)
    assert chosen(text, most=1).rows[0].notation == found.rows[0].notation


def test_without_a_sound_one_the_one_nearest_to_it_is_taken() -> None:
    # By hand: 24 V over 3.1 MΩ is 7.74 µA; 1.8 MΩ beside 1.3 MΩ is 755 kΩ, no 100 kΩ
    taken = chosen("24 V to 10 V at most 10 µA").careful
    assert taken is not None
    assert "the only one among the lowest at the tap; " in taken.words
    assert taken.words.endswith("it draws 7.74 µA, seen as 755 kΩ.")
