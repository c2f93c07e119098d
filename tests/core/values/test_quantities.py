"""Notation of IEC 60062 (from memory) and engineering notation (common practice)."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import QuantityError
from lowfold.core.values.quantities import (
    AMPERE,
    CELSIUS,
    FRACTION,
    KINDS,
    OHM,
    PPM_PER_KELVIN,
    VOLT,
    WATT,
    Kind,
    read,
    readable_codes,
    write,
    write_code,
    write_percent,
)

READ = [
    ("4k7", OHM, 4700.0, "IEC 60062 letter code"),
    ("4K7", OHM, 4700.0, "IEC 60062 letter code, its own capital"),
    ("4.7 kΩ", OHM, 4700.0, "SI prefix"),
    ("4.7 kΩ", OHM, 4700.0, "the same with the ohm sign U+2126"),
    ("4,7k", OHM, 4700.0, "decimal comma"),
    ("4700", OHM, 4700.0, "plain"),
    ("4.7e3", OHM, 4700.0, "exponent"),
    ("4K7J", OHM, 4700.0, "a code with its tolerance letter (IEC 60062, from memory)"),
    ("100RJ", OHM, 100.0, "the same without a figure behind the point"),
    ("1 000", OHM, 1000.0, "thousands set apart"),
    ("2 200 000 Ω", OHM, 2.2e6, "more of them"),
    ("1 kilohm", OHM, 1000.0, "prefix as a word"),
    ("2.2 megohms", OHM, 2.2e6, "the same"),
    ("½ W", WATT, 0.5, "one sign"),
    ("12 VDC", VOLT, 12.0, "what kind of voltage, said"),
    ("3V3 DC", VOLT, 3.3, "the same behind a code"),
    ("80 UA", AMPERE, 80e-6, "a typewriter's micro"),
    ("20 milliamps", AMPERE, 0.02, "prefix as a word"),
    ("+/-5 %", FRACTION, 0.05, "plus or minus on a typewriter"),
    ("R47", OHM, 0.47, "IEC 60062: R as the point"),
    ("0R1", OHM, 0.1, "IEC 60062: R as the point"),
    ("4R7", OHM, 4.7, "IEC 60062: R as the point"),
    ("100R", OHM, 100.0, "IEC 60062: R behind"),
    ("1M", OHM, 1e6, "mega"),
    ("1M0", OHM, 1e6, "IEC 60062"),
    ("2meg", OHM, 2e6, "common practice"),
    ("5L0", OHM, 5e-3, "L for milliohms (common practice)"),
    ("0L5", OHM, 5e-4, "L for milliohms (common practice)"),
    ("47 mΩ", OHM, 0.047, "milli, not mega"),
    ("3V3", VOLT, 3.3, "V as the point"),
    ("-12 V", VOLT, -12.0, "sign"),
    ("−12 V", VOLT, -12.0, "the minus sign U+2212"),
    ("250 mA", AMPERE, 0.25, "milli"),
    ("80 µA", AMPERE, 80e-6, "micro sign U+00B5"),
    ("80 μA", AMPERE, 80e-6, "Greek mu U+03BC"),
    ("80uA", AMPERE, 80e-6, "u for micro"),
    ("1/4 W", WATT, 0.25, "ratings are said as fractions"),
    ("5 %", FRACTION, 0.05, "per cent"),
    ("±1%", FRACTION, 0.01, "sign of a tolerance"),
    ("0.01", FRACTION, 0.01, "fraction"),
    ("50 ppm", FRACTION, 50e-6, "parts per million"),
    ("-20 °C", CELSIUS, -20.0, "temperature"),
    ("100 ppm/K", PPM_PER_KELVIN, 100.0, "coefficient"),
    ("±50 ppm/°C", PPM_PER_KELVIN, 50.0, "coefficient"),
]


@pytest.mark.parametrize(
    ("text", "kind", "value"), [pytest.param(*r[:3], id=f"{r[0]}: {r[3]}") for r in READ]
)
def test_reads_the_fields_notation(text: str, kind: Kind, value: float) -> None:
    assert read(text, kind) == value


REFUSED = [
    ("250 MA", AMPERE, "“250 MA” has M for mega, a million: write 250 mA for milli"),
    ("5 V", OHM, "“5 V” is a voltage; wanted is a resistance, for instance 4k7"),
    ("4k7", VOLT, "“4k7” is a resistance; wanted is a voltage, for instance 3V3"),
    ("1", FRACTION, "“1” alone would mean 100 %: write 1 %, or the fraction"),
    (
        "4,700",
        OHM,
        "“4,700” could be 4.700 or 4700: use a point for decimals and no thousands mark",
    ),
    (
        "4E7",
        OHM,
        "“4E7” could be 4R7, with E in place of the point, or 4 times ten to the 7: write 4R7 or 4e+7",
    ),
    (
        "10u",
        OHM,
        "“10u” is how a capacitor or an inductor is written: a resistance is written like 4R7, 4k7, or 10 µΩ",
    ),
    ("k7", OHM, "“k7” lacks the digits before k: write 0k7"),
    ("abc", OHM, "“abc” is not a resistance: write it like 4k7"),
    ("60 F", CELSIUS, "“60 F”: “F” is no unit or prefix of a temperature; write it like -20 °C"),
    ("", OHM, "nothing is written: a resistance is wanted, for instance 4k7"),
    ("1e400", OHM, "“1e400” is far too large for a resistance: write it like 4k7"),
    ("9" * 70, OHM, "99999999999999999999… is too long to be a resistance: write it like 4k7"),
]


@pytest.mark.parametrize(("text", "kind", "message"), REFUSED)
def test_refusals_say_what_would_be_right(text: str, kind: Kind, message: str) -> None:
    with pytest.raises(QuantityError) as refused:
        read(text, kind)
    assert refused.value.message == message


WRITTEN = [
    (0.0016079, AMPERE, 4, "1.608 mA", "the issue's own example"),
    (999.96, OHM, 4, "1.000 kΩ", "rounding carries into the next prefix"),
    (200e3, OHM, 4, "200.0 kΩ", "four figures kept"),
    (-0.0425, FRACTION, 3, "−4.25 %", "true minus"),
    (0.0, VOLT, 4, "0 V", "zero has no figures"),
    (9.9996e-7, AMPERE, 4, "1.000 µA", "carry below one"),
    (2.5, VOLT, 1, "3 V", "half up"),
]


@pytest.mark.parametrize(
    ("value", "kind", "digits", "text"), [pytest.param(*r[:4], id=r[4]) for r in WRITTEN]
)
def test_writes_engineering_notation(value: float, kind: Kind, digits: int, text: str) -> None:
    assert write(value, kind, digits) == text


def test_trims_a_parts_value() -> None:
    assert write(200e3, OHM, 6, trim=True) == "200 kΩ"


@pytest.mark.parametrize(
    ("value", "text"), [(0.00599, "+0.599"), (-0.0004, "−0.040"), (0.0, "0.000"), (4e-7, "0.000")]
)
def test_percentages_align(value: float, text: str) -> None:
    assert write_percent(value, 3) == text


@pytest.mark.parametrize(
    ("ohms", "code"),
    [
        (4700.0, "4k7"),
        (0.47, "0R47"),
        (0.005, "5L"),
        (0.05, "50L"),
        (47.0, "47"),
        (1.5, "1R5"),
        (1e6, "1M"),
        (4123.456789, "4k123456789"),
    ],
)
def test_letter_codes(ohms: float, code: str) -> None:
    assert write_code(ohms) == code


@given(st.floats(min_value=1e-6, max_value=1e12))
def test_a_written_code_reads_back_to_the_same_float(ohms: float) -> None:
    assert read(write_code(ohms), OHM) == ohms


@given(
    st.sampled_from(KINDS),
    st.floats(allow_nan=False, allow_infinity=False, min_value=-1e9, max_value=1e9),
)
def test_written_figures_read_back_within_their_figures(kind: Kind, value: float) -> None:
    if 0 < abs(value) < 1e-9 or kind.prefixes == "":
        return
    if kind is not OHM and abs(value) >= 999e3:
        return  # mega is refused for volts, amperes and watts
    assert read(write(value, kind, 6), kind) == pytest.approx(value, rel=1e-5)


@given(st.sampled_from(KINDS), st.text(max_size=70))
def test_no_text_crashes_the_reader(kind: Kind, text: str) -> None:
    try:
        assert math.isfinite(read(text, kind))
    except QuantityError as refused:
        assert refused.message


@pytest.mark.parametrize(
    ("value", "kind", "text"),
    [
        (0.9231, OHM, "0.923 Ω"),
        (0.1, OHM, "0.100 Ω"),
        (0.0923, OHM, "92.3 mΩ"),
        (3.6e-17, FRACTION, "0 %"),  # what rounding leaves is no share
        (1e-9, FRACTION, "0.000000100 %"),
    ],
)
def test_figures_are_written_as_they_are_read(value: float, kind: Kind, text: str) -> None:
    assert write(value, kind, 3) == text


@pytest.mark.parametrize(
    ("text", "read_as"),
    [
        ("R1=10k + @OUT + R2=11k5470053838", "R1=10k + @OUT + R2=11k547"),
        ("R1 in 0 4R70000000001", "R1 in 0 4R7"),
        ("R1=4k7 || R2=12k", "R1=4k7 || R2=12k"),
    ],
)
def test_values_are_shown_in_no_more_figures_than_are_read(text: str, read_as: str) -> None:
    assert readable_codes(text) == read_as
