"""Family files: read whole or not at all, every bad line named; round trips."""

import pytest

from lowfold.core.parts.families import TYPICAL, Family
from lowfold.formats.families_csv import read_families, write_families
from lowfold.formats.tables import BrokenFile

THIN = Family(
    name="thin film 0603", tolerance=0.001, tcr_ppm=25.0, drift=0.0005, rated_watts=0.0625,
    limiting_volts=75.0, zero_power_c=125.0,
)  # fmt: skip


def test_what_is_written_reads_back_the_same() -> None:
    every = [*TYPICAL, THIN]
    text = write_families(every)
    assert text.splitlines()[0] == "family,tolerance,tcr,drift,power,limiting,full_to,none_from"
    assert text.splitlines()[-1] == "thin film 0603,0.1 %,25 ppm/K,0.05 %,62.5 mW,75 V,70 °C,125 °C"
    assert read_families(text) == every


def test_what_is_not_given_is_as_usual() -> None:
    assert read_families("Power;FAMILY\n1/4 W;own film") == [
        Family(name="own film", rated_watts=0.25)
    ]


BROKEN = [
    ("family\nx", [(2, "the power is missing: write it like 100 mW or 1/4 W")]),
    ("family,power\nx,0 W", [(2, "a part's power is above 0 W and at most 1 kW, got 0 W")]),
    ("family,power\n=x,1 W", [(2, "“=x” is no name of a family: start with a letter or a digit")]),
    ("family,power\nx,1 W\nX,2 W", [(3, "this is line 2 again: give its figures once")]),
    ("family,power,drift\nx,1 W,5 K", [(2, "“5 K”: “K” is no unit or prefix of a fraction; write it like 1 %")]),
    ("power\n1 W", [(1, "the columns are not clear: the first line names some of family, tolerance, tcr, drift, power, limiting, full_to, none_from")]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "bad"), BROKEN)
def test_every_bad_line_is_named(text: str, bad: list[tuple[int, str]]) -> None:
    with pytest.raises(BrokenFile) as refused:
        read_families(text)
    assert [(b.line, b.message) for b in refused.value.lines] == bad
