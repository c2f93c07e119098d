"""A meter set rightly and wrongly on a board worked by hand: common practice."""

from dataclasses import replace

import pytest

from lowfold.core.bench.built_board import BuiltBoard
from lowfold.core.bench.models import HANDHELD
from lowfold.core.bench.points import point_named
from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.practice.meter_in_hand import Shown, jacks_of, look
from lowfold.core.tolerance.box import Box, Supply

CIRCUIT = build_circuit(read_text("R1=1k + @A + R2=2k"))
#: 12 V over 1 kΩ and 2 kΩ: 8 V at A, 4 mA.
BOARD = BuiltBoard(Box(CIRCUIT, Supply(12.0), (), (0.0, 0.0)), HANDHELD, seed=1)


def read(full: float | None = None, jack: str | None = None, **at: str) -> Shown:
    return look(BOARD, point_named(CIRCUIT, **at), full, jack)  # type: ignore[arg-type]


def test_set_rightly_it_reads_what_is_there() -> None:
    assert read(kind="voltage", at="A").value == pytest.approx(8.0, rel=0.01)
    assert read(kind="current", through="R1").value == pytest.approx(4e-3, rel=0.02)
    assert read(kind="resistance", part="R2").value == pytest.approx(2e3, rel=0.01)
    assert read(kind="voltage", at="A").jack == "V Ω"
    assert read(kind="current", through="R1").jack == "mA"
    assert jacks_of(HANDHELD) == ("V Ω", "mA", "10 A")


def test_volts_with_the_lead_for_current_are_a_short_that_blows_the_fuse() -> None:
    # 12 V over the 1.2 Ω of the mA jack: 10 A through a fuse of 630 mA
    shown = read(kind="voltage", at="in", jack="mA")
    assert (shown.shows, shown.blew, shown.tells) == ("0.00 V", True, False)
    assert shown.words == (
        "the lead is in the mA jack, so the meter is a short there: 10 A went through it, and its "
        "630 mA fuse is blown"
    )
    # At A, 1 kΩ from the supply, only 12 mA go: the fuse stands, the display says nothing
    held = read(kind="voltage", at="A", jack="mA")
    assert (held.blew, held.value, held.tells) == (False, 0.0, False)
    assert "12 mA go through it, and no volts are left" in held.words


def test_a_current_above_the_fuse_blows_it_and_then_nothing_flows() -> None:
    stiff = build_circuit(read_text("R1=10 + @A + R2=2"))
    board = BuiltBoard(Box(stiff, Supply(12.0), (), (0.0, 0.0)), HANDHELD, seed=1)
    point = point_named(stiff, "current", through="R1")
    shown = look(board, point, None, "mA")  # 12 V over 12 Ω and the burden: near 0.9 A
    assert (shown.value, shown.blew) == (0.0, True)
    after = look(board, point, None, "mA", ["mA"])
    assert (after.value, after.blew, after.blown) == (0.0, False, True)
    assert look(board, point, None, "10 A", ["mA"]).value == pytest.approx(1.0, rel=0.05)


def test_a_lead_in_another_jack_tells_nothing() -> None:
    assert read(kind="current", through="R1", jack="V Ω").words == (
        "the lead is in V Ω: no current gets through the meter, and the wire is open"
    )
    ohms = read(kind="resistance", part="R1", jack="10 A")
    assert (ohms.value, ohms.shows, ohms.tells) == (None, "OL", False)
    range_of_the_other = read(kind="current", through="R1", full=0.06, jack="10 A")
    assert (range_of_the_other.value, range_of_the_other.tells) == (0.0, False)
    assert "the 60 mA range is the mA jack’s" in range_of_the_other.words


def test_a_range_too_small_is_over_and_a_coarse_one_loses_digits() -> None:
    over = read(kind="voltage", at="A", full=6.0)
    assert (over.value, over.shows, over.overload) == (None, "OL", True)
    assert over.words == "over the 6 V range"
    assert read(kind="voltage", at="A", full=600.0).shows in {"7.9 V", "8.0 V", "8.1 V"}


def test_what_the_meter_has_not() -> None:
    with pytest.raises(DomainError, match="has no jack “3 A”; there are: V Ω, mA, 10 A"):
        read(kind="voltage", at="A", jack="3 A")
    with pytest.raises(DomainError, match="has no range of volts to 7"):
        read(kind="voltage", at="A", full=7.0)


def test_a_part_sound_in_the_hand_is_on_a_range_of_its_own() -> None:
    # Shorted on the board by a bridge of solder; lifted out it reads its 1 kΩ
    branches = (replace(CIRCUIT.branches[0], ohms=0.01), CIRCUIT.branches[1])
    box = replace(BOARD.box, circuit=replace(CIRCUIT, branches=branches))
    board = BuiltBoard(box, HANDHELD, 1, {0: 1000.0})
    shown = look(board, point_named(CIRCUIT, "resistance", part="R1"))
    assert shown.value == pytest.approx(1000.0, rel=0.01)
