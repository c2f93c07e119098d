"""Where something was measured, as it is written at the bench."""

import pytest

from lowfold.core.network.point_names import point_at


@pytest.mark.parametrize(
    ("where", "point"),
    [
        ("OUT", {"kind": "voltage", "at": "OUT"}),
        (" @A ", {"kind": "voltage", "at": "A"}),
        ("V(A)", {"kind": "voltage", "at": "A"}),
        ("v( R2 )", {"kind": "voltage", "across": "R2"}),
        ("I(R1)", {"kind": "current", "through": "R1"}),
        ("i(supply)", {"kind": "current", "through": "supply"}),
        ("R12", {"kind": "resistance", "part": "R12"}),
        ("RL", {"kind": "voltage", "at": "RL"}),
    ],
)
def test_a_point_is_told_by_its_name(where: str, point: dict[str, str]) -> None:
    assert point_at(where) == point
