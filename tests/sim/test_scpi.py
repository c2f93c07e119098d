"""Program messages as SCPI-99 volume 1 has them (from memory)."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.sim.board import drawn_board
from lowfold.sim.meter import IDENTITY, Session
from lowfold.sim.scpi import MOST_ERRORS, ScpiError, Unit, number, pattern, units

HEADERS = [  # as a manual has it, spelled so, whether it is that
    ("MEASure[:SCALar]:VOLTage[:DC]", "MEAS:VOLT", True),
    ("MEASure[:SCALar]:VOLTage[:DC]", "MEASURE:SCALAR:VOLTAGE:DC", True),
    ("MEASure[:SCALar]:VOLTage[:DC]", "MEASU:VOLT", False),
    ("MEASure[:SCALar]:VOLTage[:DC]", "MEAS:VOLT:AC", False),
    ("[SENSe:]VOLTage:RANGe[:UPPer]", "VOLT:RANG", True),
    ("[SENSe:]VOLTage:RANGe[:UPPer]", "SENS:VOLTAGE:RANGE:UPP", True),
    ("*IDN", "*IDN", True),
]


@pytest.mark.parametrize(("spelled", "sent", "same"), HEADERS)
def test_headers_have_a_short_and_a_long_form(spelled: str, sent: str, *, same: bool) -> None:
    assert bool(pattern(spelled).fullmatch(sent)) is same


PATHS = [  # a message, and its headers from the root: volume 1, 6.2.4
    ("MEAS:VOLT?;CURR?", ["MEAS:VOLT", "MEAS:CURR"]),
    ("SENS:VOLT:RANG 1;RANG:AUTO?", ["SENS:VOLT:RANG", "SENS:VOLT:RANG:AUTO"]),
    ("SYST:ERR?;*CLS;ERR?", ["SYST:ERR", "*CLS", "SYST:ERR"]),
    ("SENS:VOLT:RANG 1;:READ?", ["SENS:VOLT:RANG", "READ"]),
    (" read? ; ; fetc?", ["READ", "FETC"]),
]


@pytest.mark.parametrize(("line", "headers"), PATHS)
def test_a_header_goes_on_where_the_last_one_ended(line: str, headers: list[str]) -> None:
    found = list(units(line))
    assert [u.header for u in found if isinstance(u, Unit)] == headers


def test_quotes_hold_what_would_part() -> None:
    (unit,) = units('ROUT:PROB "a;b","c,d"')
    assert isinstance(unit, Unit)
    assert unit.parameters == ('"a;b"', '"c,d"')


NUMBERS = [
    ("10", "V", 10.0),
    ("1E1 V", "V", 10.0),
    (".5mV", "V", 0.5e-3),
    ("4.7KOHM", "OHM", 4700.0),
    ("1 MOHM", "OHM", 1e6),  # the one case in which M is mega (table 7-1)
    ("2 MAA", "A", 2e6),
    ("-3e-3", "A", -3e-3),
]


@pytest.mark.parametrize(("text", "unit", "value"), NUMBERS)
def test_numbers_with_their_units(text: str, unit: str, value: float) -> None:
    assert number(text, unit) == pytest.approx(value, rel=1e-15)


@pytest.mark.parametrize(("text", "error"), [("ten", -104), ("1 A", -131), ("1e999", -222)])
def test_what_is_no_number(text: str, error: int) -> None:
    with pytest.raises(ScpiError) as found:
        number(text, "V")
    assert found.value.number == error


def session() -> Session:
    return Session(drawn_board("R1=200k + @OUT + R2=56k", 14.4, tolerance=0, seed=1))


ERRORS = [  # a message, and the number that is queued
    ("FOO:BAR?", -113),
    ("MEAS:VOLT", -113),  # a query alone
    ("*IDN? 1", -108),
    ("VOLT:RANG", -109),
    ("VOLT:RANG 2000", -222),
    ("VOLT:RANG 1 A", -131),
    ("VOLT:RANG:AUTO MAYBE", -224),
    ("ROUT:PROB OUT", -104),
    ('ROUT:PROB "NO","0"', -224),
    ('ROUT:PROB "a', -151),
    ("FETC?", -230),
    ("1VOLT?", -102),
    ("\x07", -101),
    ("CONF:VOLT 1,2,3", -108),
    ('FUNC "TEMP"', -224),
]


@pytest.mark.parametrize(("line", "error"), ERRORS)
def test_errors_are_queued_by_their_numbers(line: str, error: int) -> None:
    ours = session()
    assert ours.answer(line) is None
    assert (ours.answer("SYST:ERR?") or "").split(",")[0] == str(error)
    assert ours.answer("SYST:ERR?") == '0,"No error"'


def test_the_first_error_ends_its_message_and_the_queue_says_when_it_is_full() -> None:
    ours = session()
    assert ours.answer("*IDN?;FOO;*IDN?") == IDENTITY
    for _ in range(MOST_ERRORS + 5):
        ours.answer("FOO")
    assert ours.answer("SYST:ERR:COUN?") == str(MOST_ERRORS)
    shown = [ours.answer("SYST:ERR?") or "" for _ in range(MOST_ERRORS)]
    assert shown[0].startswith("-113")
    assert shown[-1] == '-350,"Queue overflow"'


def test_the_event_register_tells_and_forgets() -> None:
    ours = session()
    assert ours.answer("*ESR?") == "128"  # power on (IEEE 488.2, 11.5.1)
    ours.answer("FOO")
    ours.answer("VOLT:RANG 1e9")
    ours.answer("*OPC")
    assert ours.answer("*STB?") == "4"
    assert ours.answer("*ESR?;*ESR?") == f"{32 + 16 + 1};0"
    ours.answer("*ESE 32;*SRE 32;BAR")
    assert ours.answer("*ESE?;*SRE?;*STB?") == f"32;32;{4 + 32 + 64}"
    ours.answer("*CLS")
    assert ours.answer("*ESR?;SYST:ERR:COUN?;*OPC?") == "0;0;1"


def test_ranges_are_the_smallest_that_includes() -> None:
    ours = session()
    assert float(ours.answer("VOLT:RANG 1;RANG?") or "") == 1
    assert float(ours.answer("SENS:VOLT:RANG 1.0001;RANG?") or "") == 10
    assert ours.answer("VOLT:RANG:AUTO?;:VOLT:RANG:AUTO ON;AUTO?") == "0;1"
    assert float(ours.answer("VOLT:RANG? MAX") or "") == 1000
    assert ours.answer('ROUT:PROB "in","0";:MEAS:VOLT? 1') == "9.9E37"  # 14.4 V on 1 V
    assert float(ours.answer("MEAS:VOLT? 10 V,0.001") or "0") > 9e37
    assert (ours.answer("CONF?") or "").startswith('"VOLT +1.0')


def test_what_it_measures_follows_the_probes() -> None:
    ours = session()
    # By hand, 10 MΩ across the lower leg: 56k‖10M = 55.688 kΩ, 14.4 · 55.688/255.688 = 3.1363 V
    assert float(ours.answer('ROUT:PROB "OUT","0";:MEAS:VOLT?') or "") == pytest.approx(
        3.1363, rel=1e-4
    )
    assert float(ours.answer('ROUT:PROB "R1";:MEAS:RES?') or "") == pytest.approx(2e5, rel=1e-3)
    supply = float(ours.answer('ROUT:PROB "in","0";:MEAS:CURR?') or "")
    assert supply == pytest.approx(14.4 / 256e3, rel=5e-2)  # the limit of error is wide down here
    assert ours.answer('ROUT:PROB "supply";:READ?') == f"{supply:+.8E}"
    assert ours.answer("ROUT:PROB?") == '"supply"'
    assert ours.answer("*RST;ROUT:PROB?;:FUNC?") == '"in","0";"VOLT"'
    assert ours.answer('FUNC "CURR:DC";FUNC?') == '"CURR"'


@given(st.text(max_size=200))
def test_nothing_that_is_sent_stops_it(line: str) -> None:
    ours = session()
    ours.answer(line)
    assert ours.answer("*IDN?") == IDENTITY
