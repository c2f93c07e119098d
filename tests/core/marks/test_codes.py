"""Letter codes, digits of chips, two digits and a letter (IEC 60062, from memory)."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import DomainError
from lowfold.core.marks.codes import read_code, why_not, write_codes
from lowfold.core.values.preferred import mantissas

#: Trade, section 4, and by hand from its rules: code, every value it has, tolerance of the first.
KNOWN = [
    ("4K7", ["4700"], None),
    ("4k7j", ["4700"], 0.05),
    ("4R7", ["4.7"], None),
    ("R47", ["0.47"], None),
    ("1M0", ["1000000"], None),
    ("100R", ["100"], None),
    ("100RF", ["100"], 0.01),
    ("5L0", ["0.005"], None),
    ("0L5", ["0.0005"], None),
    ("4K7M", ["4700"], 0.2),
    ("10M", ["10000000"], None),
    ("10MK", ["10000000"], 0.1),
    ("1G0", ["1000000000"], None),
    ("472", ["4700"], None),
    ("4701", ["4700"], None),
    ("100", ["10"], None),
    ("000", ["0"], None),
    ("0", ["0"], None),
    ("0R", ["0"], None),  # a link: common practice
    ("0R0", ["0"], None),
    ("66B", ["4750"], None),
    ("66h", ["4750"], None),
    ("01A", ["100"], None),
    ("96F", ["97600000"], None),
    ("01Z", ["0.1"], None),
    ("47R", ["47", "3.01"], None),
    ("96R", ["96", "9.76"], None),
]


@pytest.mark.parametrize(("code", "ohms", "tolerance"), KNOWN)
def test_known_codes(code: str, ohms: list[str], tolerance: float | None) -> None:
    found = read_code(code)
    assert [r.ohms for r in found] == [Decimal(o) for o in ohms]
    assert found[0].tolerance == tolerance


@pytest.mark.parametrize(
    ("code", "words"),
    [
        ("97A", "the index of E96 goes from 01 to 96"),
        ("00A", "the index of E96 goes from 01 to 96"),
        ("047", "a chip's first digit is not 0"),
        ("4Q7", "“Q” at character 2 stands in no mark"),
        ("4K7X", "means nothing"),
        ("K", "means nothing"),
        ("0K0", "means nothing"),
        ("12", "means nothing"),
        ("4m7", "write M for mega, L for milliohms"),
        ("", "1 to 12 characters"),
        ("1234567890123", "1 to 12 characters"),
        ("４７２", "“４” at character 1 stands in no mark"),
    ],
)
def test_codes_that_mean_nothing_say_why(code: str, words: str) -> None:
    with pytest.raises(DomainError, match=words) as caught:
        read_code(code)
    assert caught.value.field == "code"


def test_written_codes() -> None:
    # Trade, contract's example: 4.7 kΩ; 4.75 kΩ has its letter of E96
    assert write_codes(Decimal(4700)) == {"letter": "4K7", "three": "472", "four": "4701", "e96": None}  # fmt: skip
    assert write_codes(Decimal("4.75E3"))["e96"] == "66B"
    assert write_codes(Decimal("0.47")) == {"letter": "R47", "three": "R47", "four": "R470", "e96": None}  # fmt: skip
    assert write_codes(Decimal("0.0005"))["letter"] == "0L5"
    assert write_codes(Decimal(0)) == {"letter": None, "three": "000", "four": "0000", "e96": None}
    assert "more figures" in why_not("letter", Decimal("123456.7"))


@given(st.integers(1, 9999), st.integers(-4, 7))
def test_what_is_written_reads_back(digits: int, power: int) -> None:
    ohms = Decimal(digits).scaleb(power)
    codes = write_codes(ohms)
    for kind, code in codes.items():
        if code is None:
            assert why_not(kind, ohms)
        else:
            assert ohms in [r.ohms for r in read_code(code)], (kind, code)
    plain = str(digits).rstrip("0")
    if len(plain) <= 2 and 10 <= ohms < 10**9:
        assert codes["three"] is not None
    if int(plain.ljust(3, "0")[:3]) in mantissas("E96") and len(plain) <= 3 and 1 <= ohms < 10**7:
        assert codes["e96"] is not None


@given(st.text(alphabet="0123456789RKMGLBCDFJZYXSAHEmkr .-", max_size=6))
def test_any_text_reads_or_is_refused(text: str) -> None:
    try:
        found = read_code(text)
    except DomainError as error:
        assert error.field == "code"
        return
    assert all(r.ohms >= 0 for r in found)


@pytest.mark.parametrize(
    ("code", "ohms"),
    [("68Y", "4.99"), ("68R", "4.99"), ("68X", "49.9"), ("68S", "49.9"), ("68Z", "0.499"),
     ("68A", "499"), ("68B", "4990"), ("68H", "4990"), ("68C", "49900"), ("68D", "499000"),
     ("68E", "4990000"), ("68F", "49900000")],
)  # fmt: skip
def test_every_letter_of_e96(code: str, ohms: str) -> None:
    # EIA-96, from memory: 68 is 499; Z 0.001, Y and R 0.01, X and S 0.1, A 1, B and H 10, and so on
    assert float(ohms) in [float(one.ohms) for one in read_code(code)]


@pytest.mark.parametrize(
    ("code", "measured", "holds"),
    [
        # Three digits and E24 values are usually 5 %, four digits and E96 codes 1 % (common practice)
        ("472", 4.9e3, True), ("472", 5.0e3, False), ("4701", 4.74e3, True), ("4701", 4.8e3, False),
        ("4K7", 4.5e3, True), ("4K75", 4.79e3, True), ("4K75", 4.85e3, False), ("66B", 4.73e3, True),
        ("4K7F", 4.8e3, False),
    ],
)  # fmt: skip
def test_without_a_tolerance_the_usual_one_of_its_kind_counts(
    code: str, measured: float, *, holds: bool
) -> None:
    (read,) = read_code(code)
    assert read.holds(measured, measured) == holds
