"""The choice a careful designer takes: sound where something sound passes, told in facts."""

import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import Choices, choices_for, read_brief
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.one_line.reading import read_one_line
from lowfold.core.weighing.careful import careful
from lowfold.core.weighing.choice import Choice


def chosen(text: str, most: int = 12) -> Choices:
    """Return the choices for a need in one line."""
    read = read_one_line(text)
    assert read.need is not None
    assert read.unread == ()
    need = read_brief(read.need, read.tokens).need
    assert need is not None
    return choices_for(need, "nearest", (), most)


def test_it_is_told_in_facts_that_hold() -> None:
    found = chosen("12 V to 3.3 V")
    taken = found.careful
    assert taken is not None
    passing = [c for c in found.rows if c.judged.verdict is Verdict.PASS]
    assert taken.choice in passing
    order = ["E3", "E6", "E12", "E24", "E48", "E96", "E192", ""]
    assert order.index(taken.choice.series) == min(order.index(c.series) for c in passing)
    assert taken.words.startswith(
        "18 kΩ over 6.8 kΩ: of the 4 that pass of 26 weighed, one of 2 of E12 values, "
    )
    # By hand: 12 V over 24.8 kΩ is 484 µA, 18 kΩ beside 6.8 kΩ is 4.94 kΩ.
    assert taken.words.endswith("it draws 484 µA, output resistance 4.94 kΩ.")


def test_there_is_none_where_nothing_passes() -> None:
    assert chosen("12 V to 3.3 V within 0.1 %").careful is None
    only = chosen("12 V to 3.3 V").rows[0]
    alone = careful([only])
    assert alone is not None
    assert ": the only choice there is, and it passes;" in alone.words


LOADED = [
    "14.4 V to 3 V within 5 % into 1 MΩ, at most 80 µA",
    "14.4 V to 3 V within 4 % into 1 MΩ",
    "18.5 V to 2.2 V into 470k within 6 %, at most 90 µA",
    "23.8 V to 9.59 V within 6 % into 100k",
    "12 V to 3.3 V into 10k within 5 %",
    "5 V to 2.5 V into 100k within 2.5 %",
    "5 V to 2.5 V into up to 20 µA within 5 %",
    "3.3 V to 1.2 V into 1 MΩ within 1.5 % 0.5 % E96",
    "9 V to 1.1 V into 47k or open within 6 % E12",
    "12 V to 5 V into 10k, always there, within 6 %",
]


@pytest.mark.parametrize("text", LOADED)
def test_among_all_that_can_be_bought_it_draws_at_most_three_times_the_lightest(text: str) -> None:
    # Every pair of values, each weighed for itself: none that passes is three times lighter
    found = chosen(text)
    read = read_one_line(text)
    assert read.need is not None
    need = read_brief(read.need, read.tokens).need
    assert isinstance(need, DividerBrief)
    assert found.careful is not None
    taken = found.careful.choice
    assert taken.judged.verdict is Verdict.PASS
    span, window = need.supply_volts, 1.2 * need.within
    near = [
        f"{up!r} + @OUT + {down!r}"
        for up in need.parts.pool(()).ohms
        for down in need.parts.pool(()).ohms
        if up + down > span / (1.2 * (taken.amps or 1.0))
        and (need.demand.loaded or abs(span * down / (up + down) / need.target_volts - 1) < window)
        and _in_window(need, up, down)
    ]
    passing = [c for c in need.weigh([network(n) for n in near]) if _passes(c)]
    lightest = min((c.amps or 0.0 for c in passing), default=taken.amps or 0.0)
    assert (taken.amps or 0.0) <= 3 * lightest * (1 + 1e-9)


def _passes(choice: Choice) -> bool:
    return choice.judged.verdict is Verdict.PASS


def _in_window(need: DividerBrief, up: float, down: float) -> bool:
    """Ohm's law at the tap: no pair whose nominal output is out of the window passes."""
    assert need.load is not None
    siemens, amps = (1 / need.load.ohms if need.load.ohms else 0.0), need.load.amps or 0.0
    volts = (need.supply_volts / up - amps) / (1 / up + 1 / down + siemens)
    return abs(volts / need.target_volts - 1) <= need.within


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


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
    assert "among the lowest at the tap" in taken.words
    assert taken.words.endswith("it draws 7.74 µA, output resistance 755 kΩ.")
