"""What is read of a design of each kind: a sensor's resistor, a board of needs."""

import pytest

from lowfold.core.record.statement import read_statement
from lowfold.core.sheet.standing import board_standing, sensor_standing

SENSOR = {"supply_v": "3.3 V", "sensor": "0 °C 27k, 20 °C 11k2, 40 °C 5k1"}


def test_a_sensor_with_its_resistor_is_the_network_of_both() -> None:
    # By hand: 3.3 V over 12 k + 27 k is 84.6 µA at the first point
    found = read_statement("sensor", SENSOR, "R1=12k + @OUT + RS1=27k")
    assert found.judged is not None
    assert found.notation == "R1=12k + @OUT + RS1=27k"
    assert found.tokens["sensor"].shown.startswith("0 °C 27 kΩ")
    assert found.wrong == ""


@pytest.mark.parametrize(
    ("texts", "choice", "wrong"),
    [
        (SENSOR, None, "nothing is chosen yet"),
        (SENSOR, "R1=12k || RS1=27k", "is no resistor beside a sensor"),
        ({"sensor": "warm"}, "R1=12k + @OUT + RS1=27k", "not understood: the sensor at its points"),
    ],
)
def test_what_a_sensor_lacks_is_told(texts: dict[str, str], choice: str, wrong: str) -> None:
    found = read_statement("sensor", texts, choice)
    assert found.judged is None
    assert wrong in found.wrong


def test_how_a_sensor_stands_is_told_of_the_choice_else_of_the_first() -> None:
    first = sensor_standing(SENSOR, None)
    # Common practice: the geometric mean of 27 kΩ and 5.1 kΩ is 11.7 kΩ
    assert (first.figure, first.need) == ("12 kΩ", "3 points, widest swing")
    chosen = sensor_standing(SENSOR | {"window": "1.2 V to 2.2 V"}, "R1=47k + @OUT + RS1=27k")
    assert (chosen.figure, chosen.verdict) == ("47 kΩ", "fail")
    assert sensor_standing({"sensor": "warm"}, None).words.startswith("not understood")
    assert sensor_standing(SENSOR, "R1=1k").verdict is None
    none = sensor_standing(SENSOR | {"aim": "window", "window": "3 V to 3.01 V"}, None)
    assert (none.verdict, none.figure) == ("fail", "")


def test_a_board_is_its_lines_and_stands_for_none_of_them() -> None:
    texts = {"needs": "Sense: 14.4 V to 3 V\n\n250 Ω within 2 %"}
    found = read_statement("board", texts, None)
    assert found.network is None
    assert found.tokens["needs"].shown == "2 needs"
    standing = board_standing(texts)
    assert (standing.verdict, standing.need) == (None, "Sense: 14.4 V to 3 V")
    assert standing.words.startswith("2 needs")
    assert board_standing({}).words.startswith("0 needs")
