"""Names that a list shows whole, and that say what a design is for."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.one_line.naming import LONGEST, short_name
from lowfold.core.one_line.reading import read_one_line


@pytest.mark.parametrize(
    ("text", "name"),
    [
        ("14.4 V to 3 V within 4 % into 1 MΩ, 1 % 0603", "14.4 V to 3 V into 1 MΩ"),
        ("9 to 16 V to 3.2 to 3.4 V into 47k or open", "9 to 16 V to 3.2 to 3.4 V"),
        ("4k53 1 %", "4k53"),
        ("250 Ω for 20 mA", "250 Ω at 20 mA"),
        ("0.8 V reference to 3.3 V", "0.8 V ref to 3.3 V"),
        ("5 V to 3.2 V and 1.4 V", "5 V to 3.2 V, 1.4 V"),
        ("a third of 12 V", "a third of 12 V"),
        ("120 + (220 || 330) on 12 V", "120 + (220 || 330) on 12 V"),
        ("R1=10k + @OUT + (R2=22k || R3=4k7) on 12 V", "network on 12 V"),
        ("hello", ""),
    ],
)
def test_a_design_is_named_after_what_it_is_for(text: str, name: str) -> None:
    found = read_one_line(text)
    assert short_name(found.kind, found.tokens) == name


@given(st.text(max_size=60))
def test_no_name_is_cut_on_a_list(text: str) -> None:
    found = read_one_line(text)
    assert len(short_name(found.kind, found.tokens)) <= LONGEST
