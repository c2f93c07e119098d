"""A part from one figure."""

import pytest

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
