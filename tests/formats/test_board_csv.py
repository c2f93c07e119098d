"""The needs of a board as text: lines and tables, names, and no text that crashes."""

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import LowfoldError
from lowfold.formats.board_csv import COLUMNS, read_needs, write_board

LINES = [
    ("14.4 V to 3 V", [(1, "", "14.4 V to 3 V")]),
    ("Battery sense: 14.4 V to 3 V", [(1, "Battery sense", "14.4 V to 3 V")]),
    ("R12:\t4k53 1 %", [(1, "R12:", "4k53 1 %")]),
    ("3V3 rail: 12 V to 3.3 V", [(1, "3V3 rail", "12 V to 3.3 V")]),
    ("# what follows is of the buoy\n\n4k53\r\n250 Ω", [(3, "", "4k53"), (4, "", "250 Ω")]),
    # No name without a letter, none that is all there is, none longer than a line of a list
    ("14.4:3", [(1, "", "14.4:3")]),
    ("Loop:", [(1, "", "Loop:")]),
    (": 4k53", [(1, "", ": 4k53")]),
    ("x" * 81 + ": 4k53", [(1, "", "x" * 81 + ": 4k53")]),
]


@pytest.mark.parametrize(("text", "needs"), LINES)
def test_a_line_is_a_need_with_its_name_before_a_colon(
    text: str, needs: list[tuple[int, str, str]]
) -> None:
    assert read_needs(text) == needs


TABLES = [
    ("name,need\nLoop,250 Ω\n", [(2, "Loop", "250 Ω")]),
    ("\ufeffNeed;Ref\n14,4 V to 3 V;R1\n\n;R2\n4k53;\n", [(2, "R1", "14,4 V to 3 V"), (5, "", "4k53")]),
    ('need\tnote\n"5 V to 3.2 V,\n1.4 V"\tany\n', [(3, "", "5 V to 3.2 V,\n1.4 V")]),
    ("what,count,wanted\nLoop,3,250 Ω\nPull", [(2, "Loop", "250 Ω")]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "needs"), TABLES)
def test_a_table_names_its_columns_and_others_are_left_alone(
    text: str, needs: list[tuple[int, str, str]]
) -> None:
    assert read_needs(text) == needs


def test_a_table_that_cannot_be_taken_apart_is_told_with_its_line() -> None:
    with pytest.raises(LowfoldError, match=r"line 2 is no line of a table"):
        read_needs('need,name\n"4k53,open')


@given(st.text(max_size=200) | st.text(max_size=60).map(lambda rest: f"need,name\n{rest}"))
def test_no_text_crashes_and_every_need_says_something(text: str) -> None:
    try:
        needs = read_needs(text)
    except LowfoldError as error:
        assert error.message
    else:
        assert all(need.strip() and line >= 1 for line, _, need in needs)


def test_no_cell_of_what_is_handed_out_runs_in_a_spreadsheet() -> None:
    # RFC 4180 by the standard library's reader; a leading = + - @ starts a formula (common practice)
    cells = ["=1+1", "+x", "-2", "@a", *["plain"] * (len(COLUMNS) - 4)]
    head, row = list(csv.reader(io.StringIO(write_board([cells]))))
    assert tuple(head) == COLUMNS
    assert all(not cell.startswith(("=", "+", "@")) for cell in row)
