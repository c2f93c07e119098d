"""What meters do to a circuit."""

import pytest

from lowfold.core.bench.meters import METERS, readings


def test_what_meters_read() -> None:
    # Common practice: 10 MΩ, 1 MΩ, 20 kΩ/V; by hand behind 500 kΩ at 5 V, the needle on 10 V
    found = readings(5.0, 500e3)
    assert [m.ohms for m in found] == [10e6, 1e6, 200e3]
    assert [m.volts for m in found] == pytest.approx([5 / 1.05, 5 / 1.5, 5 * 2 / 7])
    assert METERS[2].input_on(METERS[2].range_for("volts", 0.4)) == pytest.approx(10e3)
    assert METERS[2].input_on(METERS[2].range_for("volts", 3000.0)) == pytest.approx(20e6)
