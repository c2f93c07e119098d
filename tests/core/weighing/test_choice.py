"""A choice of any need."""

from lowfold.core.needs.kinds import (
    read_brief,
    weigh,
)
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.weighing.choice import Choice


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


def resistance(**texts: str) -> ResistanceBrief:
    need = read_brief("resistance", texts).need
    assert isinstance(need, ResistanceBrief)
    return need


def test_the_most_widely_stocked_series_of_a_choice() -> None:
    brief = resistance(target_ohm="1k")

    def series(text: str) -> str:
        choice: Choice = weigh(brief, network(text))
        return choice.series

    # IEC 60063, from memory: 10 and 22 are in E3, 15 in E6, 12 in E12, 11 in E24, 1.02 in E48 …
    assert [series(x) for x in ("1k + 22", "1k + 15", "1k + 12", "1k + 11", "1k + 1R05", "1k + 1R02", "1k + 1R01", "1234")] == [
        "E3", "E6", "E12", "E24", "E48", "E96", "E192", "",
    ]  # fmt: skip
