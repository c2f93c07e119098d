"""Like parts together; what the drawer has is taken off once."""

from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.board.bill import BillLine
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.record.parts_list import Need, parts_list

FILM = "1/4 W film"


def part(ref: str, ohms: float, tolerance: float = 0.01, family: str = FILM) -> BillLine:
    return BillLine(ref, ohms, tolerance, family, 0.25)


def test_like_parts_stand_in_one_line() -> None:
    need = Need("", (part("R1", 8.2), part("R2", 8.2), part("R3", 10.0)))
    first, second = parts_list([need])
    assert (first.quantity, first.value, first.code, first.refs) == (
        2,
        "8.2 Ω",
        "8R2",
        ("R1", "R2"),
    )
    assert (second.quantity, second.rating, second.tolerance_words) == (1, "250 mW", "1 %")


def test_boards_multiply_and_names_tell_them_apart() -> None:
    one = Need("Battery sense", (part("R1", 100.0),), boards=3)
    other = Need("Loop receiver", (part("R2", 100.0),), boards=2)
    (line,) = parts_list([one, other])
    assert (line.quantity, line.refs) == (5, ("Battery sense: R1", "Loop receiver: R2"))


def test_the_drawer_is_taken_off_once() -> None:
    needs = [Need("a", (part("R1", 100.0),), 3), Need("b", (part("R1", 100.0, 0.05),), 3)]
    drawer = [DrawerLine(100.0, 4, 0.01, FILM)]
    tight, loose = parts_list(needs, drawer)
    assert (tight.in_drawer, tight.to_buy) == (3, 0)
    assert (loose.in_drawer, loose.to_buy) == (1, 2)


def test_a_looser_part_or_another_make_does_not_serve() -> None:
    need = Need("", (part("R1", 100.0),))
    for line in (DrawerLine(100.0, 9, 0.05, FILM), DrawerLine(100.0, 9, 0.01, "0603")):
        assert parts_list([need], [line])[0].to_buy == 1
    assert parts_list([need], [DrawerLine(100.0, None, 0.001, "")])[0].to_buy == 0


@given(
    st.lists(st.tuples(st.integers(0, 3), st.integers(0, 5)), max_size=6),
    st.lists(st.tuples(st.integers(0, 3), st.integers(0, 5)), max_size=6),
)
def test_nothing_is_taken_that_is_not_there(
    wanted: list[tuple[int, int]], there: list[tuple[int, int]]
) -> None:
    needs = [
        Need(str(k), (part("R1", 100.0 * (1 + v)),), boards) for k, (v, boards) in enumerate(wanted)
    ]
    drawer = [DrawerLine(100.0 * (1 + v), count, 0.01, FILM) for v, count in there]
    for line in parts_list(needs, drawer):
        stock = sum(d.count or 0 for d in drawer if d.ohms == line.ohms)
        assert line.in_drawer == min(line.quantity, stock)
        assert line.quantity == sum(n.boards for n in needs if n.parts[0].ohms == line.ohms)
