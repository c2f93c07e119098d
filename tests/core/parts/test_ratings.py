"""Derating and standard ratings."""

import pytest

from lowfold.core.errors import DomainError
from lowfold.core.parts.ratings import STANDARD_WATTS, derated_watts, suggested_watts


@pytest.mark.parametrize(
    ("ambient", "share"), [(-40, 1.0), (70, 1.0), (112.5, 0.5), (155, 0.0), (200, 0.0)]
)
def test_derating_at_its_corners(ambient: float, share: float) -> None:
    # Common practice: full power to 70 °C, then straight to zero at 155 °C
    assert derated_watts(0.1, ambient) == pytest.approx(0.1 * share)


def test_derating_corners_in_order() -> None:
    with pytest.raises(DomainError, match="full power ends at 70 °C, which must lie below 70 °C"):
        derated_watts(1.0, 25.0, 70.0, 70.0)


def test_smallest_standard_rating() -> None:
    # By hand: 311 mW at half stress needs 622 mW; the next step is 3/4 W
    assert suggested_watts(0.311, 0.5, 1.0) == 0.75
    assert suggested_watts(0.311, 0.5, 0.5) == 2.0
    assert suggested_watts(6.0, 1.0, 1.0) is None


def test_standard_powers_are_what_parts_are_sold_for() -> None:
    # Common practice: 0402 to 2512 chips, leaded film, wirewound
    assert STANDARD_WATTS == (0.0625, 0.1, 0.125, 0.25, 0.5, 0.75, 1.0, 2.0, 5.0)
