"""A mark as read: its series, whether such parts are sold, and what a meter says of it."""

from decimal import Decimal

from lowfold.core.bench.models import HANDHELD
from lowfold.core.marks.mark import MarkRead, likeliest_first, series_of, sold, words_of
from lowfold.core.values.preferred import SERIES, mantissas


def test_every_series_that_has_a_value() -> None:
    # IEC 60063, from memory; counted over the whole tables
    assert series_of(Decimal(4700)) == ("E3", "E6", "E12", "E24", "E192")
    assert series_of(Decimal("9.2")) == ("E192",)
    assert series_of(Decimal("0.1")) == tuple(SERIES)
    assert series_of(Decimal(0)) == ()
    assert series_of(Decimal(1234)) == ()
    for name in SERIES:
        assert all(name in series_of(Decimal(m).scaleb(-4)) for m in mantissas(name))


def test_what_is_sold_at_a_tolerance() -> None:
    # Usual tolerances (common practice): E12 at 10 %, E24 at 1, 2 and 5 %, E96 at 1 %, E192 at 0.5 %
    def at(ohms: int, tolerance: float | None) -> bool:
        return sold(MarkRead(Decimal(ohms), tolerance))

    assert (at(470, 0.1), at(510, 0.1)) == (True, False)
    assert (at(510, 0.05), at(510, 0.02), at(510, 0.01), at(510, 0.005)) == (True, True, True, False)  # fmt: skip
    assert (at(475, 0.05), at(475, 0.01), at(481, 0.01), at(481, 0.005)) == (False, True, False, True)  # fmt: skip
    assert (at(481, None), at(482, None), at(0, None)) == (True, False, True)


def test_a_measured_part_says_which_reading_holds() -> None:
    # Trade, section 8: 68.0 Ω ± 2 %; a part that reads 68.7 Ω is inside
    read = MarkRead(Decimal("68.0"), 0.02)
    measured = HANDHELD.ohms_between(68.7)
    assert read.holds(*measured)
    other = MarkRead(Decimal(680), 0.05)
    assert not other.holds(*measured)
    assert likeliest_first([other, read], measured) == [read, other]
    assert "what is measured may be it" in words_of(read, measured)
    assert "it is not what is measured" in words_of(other, measured)


def test_an_interval_holds_with_its_ends() -> None:
    read = MarkRead(Decimal(100), 0.01)
    assert read.holds(101.0, 102.0)
    assert read.holds(98.0, 99.0)
    assert not read.holds(101.01, 102.0)
    assert not read.holds(98.0, 98.99)


def test_words() -> None:
    assert words_of(MarkRead(Decimal(3600), 0.05, None, "right")) == "3.6 kΩ ± 5 %, read from the right; a value of E24"  # fmt: skip
    assert words_of(MarkRead(Decimal(3650), 0.05)) == "3.65 kΩ ± 5 %; a value of E48, which is not usually sold at this tolerance"  # fmt: skip
    assert words_of(MarkRead(Decimal(3651), None)) == "3.651 kΩ; no tolerance is marked; no value of a standard series"  # fmt: skip
    assert words_of(MarkRead(Decimal(0), None)) == "0 Ω: a link"
