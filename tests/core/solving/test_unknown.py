"""A part from one figure."""

import pytest

from lowfold.core.errors import NotationError
from lowfold.core.network.notation import read_text
from lowfold.core.solving.unknown import Known, find_unknown, read_unknown


def test_an_unknown_keeps_its_name_and_lies_between_its_neighbours() -> None:
    circuit, position = read_unknown("R1=1k + @OUT + Rx1=?")
    values = (100.0, 220.0, 470.0, 1000.0, 2200.0)
    found = find_unknown(circuit, position, Known("node", 4.0, "OUT"), values, 12.0)
    # By hand: 4/(12 − 4) · 1 kΩ = 500 Ω; the nearest standard value is 470 Ω: 12·470/1470 V
    assert found.ref == "Rx1"
    assert found.ohms == pytest.approx(500.0, rel=1e-12)
    assert [n.ohms for n in found.nearest] == [470.0, 1000.0, 220.0, 2200.0]
    assert found.nearest[0].gives == pytest.approx(12 * 470 / 1470)
    assert found.nearest[0].error == pytest.approx(12 * 470 / 1470 / 4 - 1)


@pytest.mark.parametrize(
    ("text", "message", "position"),
    [
        ("1k + 2k", "there is no “?” in the network: write one for the value to be found", 7),
        ("? + ?", "there are 2 “?” in the network: write one for the value to be found", 4),
        ("R1=4? + 1k", "“?” stands for a whole value: write it alone, like R1=?", 4),
        ("R1 ? 0 1k\nR2 in 0 1k", "does not fit at character 4", 3),
    ],
)
def test_where_no_value_is_open_says_why(text: str, message: str, position: int) -> None:
    with pytest.raises(NotationError) as refused:
        read_unknown(text)
    assert message in refused.value.message
    assert refused.value.position == position


@pytest.mark.parametrize("text", ["R1=1k + @A + ?", "1k || ?", "R1 in a 1k\nR2 a 0 ?"])
def test_the_open_part_is_told_by_its_place(text: str) -> None:
    circuit, place = read_unknown(text)
    assert circuit.branches[place].ref == "R2"
    with pytest.raises(NotationError, match="“\\?” is a value to be found; here every part has"):
        read_text(text)
