"""How far a part's value may wander."""

import pytest

from lowfold.core.errors import DomainError
from lowfold.core.needs.kinds import read_brief, weigh
from lowfold.core.network.notation import read_network
from lowfold.core.parts.limits import Environment, PartLimits, half_width


@pytest.mark.parametrize(
    ("tolerance", "tcr", "dt", "drift", "half"),
    [
        (0.01, 100.0, 45.0, 0.0, 0.0145),  # by hand: 1 % + 100 ppm/K · 45 K
        (0.01, -100.0, 45.0, 0.005, 0.0195),
        (0.001, 25.0, -60.0, 0.0, 0.0025),
        (0.0, 0.0, 100.0, 0.0, 0.0),
    ],
)
def test_the_extreme_value_budget(
    tolerance: float, tcr: float, dt: float, drift: float, half: float
) -> None:
    assert half_width(tolerance, tcr, dt, drift) == pytest.approx(half)


def test_the_furthest_ambient_counts() -> None:
    assert Environment(low_c=-20, high_c=60).largest_dt == 45
    assert Environment(low_c=20, high_c=85).largest_dt == 60
    with pytest.raises(DomainError, match="the coldest, 61 °C, is above the hottest, 60 °C"):
        Environment(low_c=61, high_c=60)


def test_a_measured_part_is_what_it_is() -> None:
    sold = PartLimits(tolerance=0.01, tcr_ppm=100, drift=0.005, rated_watts=0.1)
    assert sold.measured() == PartLimits(rated_watts=0.1)


def test_a_part_of_its_own_family_keeps_the_drift_that_is_stated() -> None:
    brief = {
        "supply_v": "10 V",
        "target_v": "5 V",
        "drift": "2 %",
        "tcr": "0 ppm/K",
        "tolerance": "1 %",
    }
    need = read_brief("divider", brief | {"own": "R1 1206"}).need
    assert need is not None
    mark = weigh(need, read_network("R1=10k + @OUT + R2=10k")).judged.marks[0]
    # By hand: both legs ± 3 %, whatever family R1 is of: 10 · 1.03/(1.03 + 0.97)
    assert (mark.lowest, mark.highest) == pytest.approx((4.85, 5.15))
