"""A board as built: what its meter reads, with and without a fault."""

import pytest

from lowfold.core.errors import DomainError
from lowfold.sim.board import NotBetweenThem, drawn_board

NETWORK = "R1=33k + @A + (R2=82k || (R3=15k + @B + R4=18k))"


def volts(fault: str, at: str) -> float | None:
    board = drawn_board(NETWORK, 12.0, tolerance=0, fault=fault)
    return board.read(board.point("voltage", (at, "0"))).value


FAULTS = [  # common practice, worked by hand in the trade: 12 V, no meter
    ("", 4.995, 2.725),
    ("R2 open", 6.000, 3.273),
    ("R3 open", 8.557, 0.0),
    ("R4 open", 8.557, 8.557),
    ("R3 short", 3.708, 3.708),
    ("R4 short", 3.331, 0.0),
    ("R1 short", 12.0, 6.545),
    ("R2 R4 swapped", 3.781, 3.197),
    ("A B bridge", 3.708, 3.708),
]


@pytest.mark.parametrize(("fault", "a", "b"), FAULTS)
def test_faults_read_as_worked_by_hand(fault: str, a: float, b: float) -> None:
    # The meter's 10 MΩ changes each by less than a third of a per cent.
    assert volts(fault, "A") == pytest.approx(a, rel=4e-3, abs=2e-3)
    assert volts(fault, "B") == pytest.approx(b, rel=4e-3, abs=2e-3)


def test_the_same_seed_is_the_same_board_within_tolerance() -> None:
    boards = [drawn_board(NETWORK, 12.0, tolerance=0.05, seed=seed) for seed in (4, 4, 5)]
    one, again, other = ([b.ohms for b in board.box.circuit.branches] for board in boards)
    assert one == again
    assert one != other
    for nominal, drawn in zip((33e3, 82e3, 15e3, 18e3), one, strict=True):
        assert abs(drawn / nominal - 1) <= 0.05 + 1e-12


def test_a_lifted_part_and_an_open_one() -> None:
    board = drawn_board(NETWORK, 12.0, tolerance=0, fault="R4 open")
    assert board.read(board.point("resistance", ("R3",))).value == pytest.approx(15e3, rel=1e-3)
    assert board.read(board.point("resistance", ("R4",))).value is None
    assert board.read(board.point("current", ("R4",))).value == pytest.approx(0, abs=1e-6)


def test_a_current_is_read_of_the_one_thing_between_the_probes() -> None:
    board = drawn_board("R1=1k || R2=1k", 1.0, tolerance=0)
    assert board.point("current", ("in", "0")).supply
    with pytest.raises(NotBetweenThem, match=r"no parts lie between A and 0: put the probe"):
        drawn_board("R1=1k + @A + R2=1k + R3=1k", 1.0).point("current", ("A", "0"))


@pytest.mark.parametrize(
    ("fault", "told"),
    [
        ("R9 open", "the fault “R9 open” does not fit: the network has no part called “R9”"),
        ("melted", "the fault “melted” is not understood: write R4 open, R4 short"),
        ("R1 melted", "the fault “R1 melted” does not fit: "),
    ],
)
def test_a_fault_that_is_none(fault: str, told: str) -> None:
    with pytest.raises(DomainError) as found:
        drawn_board(NETWORK, 12.0, fault=fault)
    assert found.value.message.startswith(told)
