"""Drawer files: read whole or not at all, every bad line named; round trips."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.parts.stock import DrawerLine
from lowfold.formats.drawer_csv import read_drawer, write_drawer
from lowfold.formats.tables import BrokenFile


def test_columns_may_stand_in_any_order_and_be_parted_in_three_ways() -> None:
    wanted = [DrawerLine(4700.0, 3, 0.05, "film"), DrawerLine(0.47, None, 0.01, "")]
    assert read_drawer("value,count,tolerance,family\n4k7,3,5 %,film\nR47,,,\n") == wanted
    assert read_drawer("\ufeffFamily;VALUE;count;tolerance\r\nfilm;4.7 kΩ;3;5%\r\n\r\n;0R47;plenty;1 %") == wanted  # fmt: skip
    assert read_drawer("value\tcount\n10\t2") == [DrawerLine(10.0, 2, 0.01, "")]


BROKEN = [
    ("", [(1, "the file is empty: its first line is value,count,tolerance,family")]),
    ("ohms\n1", [(1, "“ohms” is no column: the first line names some of value, count, tolerance, family")]),
    ("value,value\n1,2", [(1, "the columns are not clear: the first line names some of value, count, tolerance, family")]),
    ("value,count\n4x7,1\n10,2.5\n10,-1", [
        (2, "“4x7”: “x” is no unit or prefix of a resistance; write it like 4k7"),
        (3, "“2.5” is no count: write a whole number up to 1000000, or nothing"),
        (4, "“-1” is no count: write a whole number up to 1000000, or nothing"),
    ]),
    ("value\n10\n\n10", [(4, "this is line 2 again: give the count once")]),
    ("value\n10,20", [(2, "2 cells where the first line names 1")]),
    ("value\n0", [(2, "0 Ω is no part: values lie between 1 mΩ and 1 GΩ")]),
    ("value,family\n10,=cmd()", [(2, "“=cmd()” is no name of a family: start with a letter or a digit")]),
    ("value,tolerance\n10,80 %", [(2, "80.00 % is no tolerance: write 0 % to 50 %")]),
    ('value,family\n10,"open', [(2, "this line cannot be taken apart: unexpected end of data")]),
    ("value\n1\0", [(2, "this is not text")]),
    ("value\n" + "1\n" * 5001, [(5002, "at most 5000 lines are taken")]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "bad"), BROKEN)
def test_every_bad_line_is_named(text: str, bad: list[tuple[int, str]]) -> None:
    with pytest.raises(BrokenFile) as refused:
        read_drawer(text)
    assert [(b.line, b.message) for b in refused.value.lines] == bad


@given(st.text(max_size=200))
def test_no_text_crashes(text: str) -> None:
    try:
        read_drawer(text)
    except BrokenFile as broken:
        assert all(b.message for b in broken.lines)


lines = st.builds(
    DrawerLine,
    st.floats(1e-3, 1e9),
    st.one_of(st.none(), st.integers(0, 1_000_000)),
    st.integers(0, 500_000).map(lambda ppm: ppm / 1e6),
    st.from_regex(r"[A-Za-z0-9 ,;\"/%.]{0,20}", fullmatch=True).map(str.strip),
)


@given(st.lists(lines, max_size=20, unique_by=lambda x: (x.ohms, x.tolerance, x.family)))
def test_what_is_written_is_read_back_the_same(drawer: list[DrawerLine]) -> None:
    if not drawer:
        return
    back = read_drawer(write_drawer(drawer))
    assert [(x.ohms, x.count, x.family) for x in back] == [(x.ohms, x.count, x.family) for x in drawer]  # fmt: skip
    assert [x.tolerance for x in back] == pytest.approx([x.tolerance for x in drawer], abs=5e-7)
