"""Meters as CSV: what ships goes out and comes back the same; what is broken names its lines."""

import pytest

from lowfold.core.bench.models import MODELS
from lowfold.formats.meters_csv import read_meters, write_meters
from lowfold.formats.tables import BrokenFile

HEAD = "meter,input,leads,of_full,measures,range\n"


def test_what_ships_reads_back_the_same() -> None:
    ranged = [m for m in MODELS if m.volts]
    assert read_meters(write_meters(MODELS)) == ranged


def test_lines_of_one_name_are_one_meter() -> None:
    text = HEAD + "shelf,10 MΩ,0.2,no,volts,6 V ± 1 %\nshelf,10 MΩ,0.2,,ohms,6 kΩ ± 1 %\n"
    (found,) = read_meters(text)
    assert (found.name, len(found.volts), len(found.ohms), found.lead_ohms) == ("shelf", 1, 1, 0.2)


BROKEN = [
    ("shelf,10 MΩ,0.2,no,watts,6 V\n", 2, "“watts” is not what a range measures: volts, amps or"),
    ("shelf,10 MΩ,0.2,no,volts,six\n", 2, "“six”"),
    ("shelf,10 MΩ,0.2,perhaps,volts,6 V\n", 2, "“perhaps” is neither yes nor no"),
    ("shelf,ten,0.2,no,volts,6 V\n", 2, "“ten”"),
    ("shelf,10 MΩ,0.2,no,volts,6 V\nshelf,10 MΩ,0.2,no,volts,6 V\n", 3, "give each range once"),
    ("shelf,10 MΩ,0.2,no,volts,6 V\nshelf,1 MΩ,0.2,no,ohms,6 kΩ\n", 1, "lines of shelf differ"),
]


@pytest.mark.parametrize(("lines", "line", "told"), BROKEN)
def test_a_broken_file_names_its_lines(lines: str, line: int, told: str) -> None:
    with pytest.raises(BrokenFile) as found:
        read_meters(HEAD + lines)
    assert found.value.lines[0].line == line
    assert told in found.value.lines[0].message
