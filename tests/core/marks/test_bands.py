"""Colour bands both ways. Their table: IEC 60062, from memory."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import DomainError
from lowfold.core.marks.bands import exchanged, read_bands, write_bands
from lowfold.core.marks.colours import COLOURS, TCR_PPM, TOLERANCES
from lowfold.core.marks.mark import likeliest_first, words_of

#: By hand from the table: bands, Ω, tolerance, ppm/K.
KNOWN = [
    ("blue grey black gold red", "68.0", 0.02, None),  # trade, section 8
    ("orange white brown", "390", 0.2, None),
    ("orange white brown gold", "390", 0.05, None),
    ("brown green silver silver", "0.15", 0.1, None),
    ("red red pink brown", "0.022", 0.01, None),
    ("brown black black yellow red", "1000000", 0.02, None),
    ("violet red violet gold green", "72.7", 0.005, None),
    ("white orange brown black violet brown", "931", 0.001, 100.0),
    ("brown brown brown white grey grey", "111000000000", 0.0001, 1.0),
]


@pytest.mark.parametrize(("text", "ohms", "tolerance", "tcr"), KNOWN)
def test_known_bands(text: str, ohms: str, tolerance: float, tcr: float | None) -> None:
    read = read_bands(text.upper().split())[0]
    assert (read.ohms, read.tolerance, read.tcr_ppm) == (Decimal(ohms), tolerance, tcr)
    assert read.end == "left"


def test_both_ends_and_the_one_that_is_sold_first() -> None:
    # By hand from the table; gold is no first digit, so the second has one end only
    both = read_bands(["orange", "black", "black", "red", "red"])
    assert [(r.end, float(r.ohms), r.tolerance) for r in both] == [
        ("left", 30000, 0.02),
        ("right", 220, 0.0005),
    ]
    assert [
        (r.end, float(r.ohms)) for r in read_bands(["brown", "black", "red", "red", "gold"])
    ] == [("left", 10200)]
    first = likeliest_first(read_bands(["green", "red", "brown", "black", "brown"]))
    # 521·1 ± 1 % is of no series; 101·100 ± 0.5 % is of E192
    assert [(r.end, float(r.ohms)) for r in first] == [("right", 10100), ("left", 521)]


def test_a_black_first_digit_is_no_reading() -> None:
    assert [r.end for r in read_bands(["brown", "black", "black"])] == ["left"]
    with pytest.raises(DomainError, match="band 1: black is no first digit") as caught:
        read_bands(["black", "brown", "red", "black"])
    assert caught.value.field == "bands.0"


def test_what_cannot_stand_in_its_place_is_named() -> None:
    with pytest.raises(DomainError, match="band 2: “mauve” is no colour"):
        read_bands(["red", "mauve", "red"])
    with pytest.raises(DomainError, match=r"band 1: gold is no digit.*other end band 1: silver"):
        read_bands(["gold", "red", "red", "silver"])
    with pytest.raises(DomainError, match="band 4: white stands for no tolerance"):
        read_bands(["red", "red", "gold", "white"])
    with pytest.raises(DomainError, match="band 6: gold stands for no temperature coefficient"):
        read_bands(["red", "red", "red", "red", "red", "gold"])
    for count in (0, 2, 7):
        with pytest.raises(DomainError, match=f"{count} bands are seen; a resistor has 3 to 6"):
            read_bands(["red"] * count)


def test_exchanged_colours_are_the_commonly_confused_ones() -> None:
    # Common practice: red/orange/brown, blue/violet/grey, gold/yellow, silver/grey
    found = exchanged(["orange", "white", "red", "gold"])
    seen = {(e.band, e.seen, e.instead, float(e.read.ohms), e.read.tolerance) for e in found}
    assert seen == {
        (1, "orange", "red", 2900, 0.05),
        (1, "orange", "brown", 1900, 0.05),
        (3, "red", "orange", 39000, 0.05),
        (3, "red", "brown", 390, 0.05),
        (4, "gold", "yellow", 3900, 0.0002),
    }


@given(
    st.integers(100, 999),
    st.integers(-3, 9),
    st.sampled_from(sorted(TOLERANCES.values())),
    st.sampled_from(sorted(TCR_PPM.values())),
)
def test_what_is_written_reads_back(digits: int, power: int, tolerance: float, tcr: float) -> None:
    ohms = Decimal(digits).scaleb(power)
    rows = {count: write_bands(ohms, tolerance, tcr, count) for count in (4, 5, 6)}
    two_digits = digits % 10 == 0 and power < 9
    assert isinstance(rows[4], tuple) == two_digits
    for count, row in rows.items():
        if count == 4 and not two_digits:
            continue
        assert len(row) == count
        read = read_bands(row)[0]
        assert (read.ohms, read.tolerance) == (ohms, tolerance)
        assert read.tcr_ppm == (tcr if count == 6 else None)


@given(st.lists(st.sampled_from(COLOURS), min_size=3, max_size=6))
def test_any_row_of_colours_reads_or_is_refused_at_a_place(row: list[str]) -> None:
    try:
        found = read_bands(row)
    except DomainError as error:
        assert error.field is not None
        assert error.field.startswith("bands.")
        return
    mirrored = {r.ohms for r in read_bands(row[::-1])}
    assert {r.ohms for r in found} == mirrored
    for other in exchanged(row):
        assert row[other.band - 1] == other.seen != other.instead


def test_why_there_are_no_bands() -> None:
    # Trade: three digits do not fit two bands; 20 % is three bands
    assert "does not fit 2 digits" in write_bands(Decimal(475), 0.01, None, 4)
    assert write_bands(Decimal(475), 0.01, None, 5) == ("yellow", "violet", "green", "black", "brown")  # fmt: skip
    assert "no temperature coefficient" in write_bands(Decimal(475), 0.01, None, 6)
    assert "no band stands for 30 ppm" in write_bands(Decimal(475), 0.01, 30.0, 6)
    assert "no tolerance is stated" in write_bands(Decimal(470), None, None, 4)
    assert "three bands" in write_bands(Decimal(470), 0.2, None, 4)
    assert "no band stands for ± 3 %" in write_bands(Decimal(470), 0.03, None, 4)
    assert "one black band" in write_bands(Decimal(0), 0.05, None, 4)


@pytest.mark.parametrize(
    "text",
    [
        "black brown red",
        "black brown red gold",
        "black red red brown brown",
        "black red red brown brown red",
    ],
)
def test_black_is_no_first_digit_of_any_count(text: str) -> None:
    # IEC 60062, from memory: a first band of black would be a leading zero
    try:
        read = read_bands(text.split())
    except DomainError as error:
        assert "black is no first digit" in error.message
    else:
        assert [one.end for one in read] == ["right"]


def test_grey_is_spelt_in_two_ways_and_was_another_tolerance_once() -> None:
    """IEC 60062, from memory: grey is 0.01 %; in older editions 0.05 %."""
    found = read_bands(["blue", "Gray", "black", "brown", "gray"])
    assert [(r.tolerance, r.older) for r in found if r.end == "left"] == [
        (0.0001, False), (0.0005, True),
    ]  # fmt: skip
    assert "by an older edition" in words_of(found[1])
