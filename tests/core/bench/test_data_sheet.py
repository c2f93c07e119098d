"""Meters in the words of a data sheet, there and back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.bench.data_sheet import (
    meter_in_words,
    range_in_words,
    read_meter,
    read_range,
)
from lowfold.core.bench.models import MODELS, MeterModel, Range
from lowfold.core.errors import DomainError, LowfoldError


@pytest.mark.parametrize("model", [m for m in MODELS if m.volts], ids=lambda m: m.name)
def test_those_that_ship_read_back_the_same(model: MeterModel) -> None:
    assert read_meter(model.name, meter_in_words(model), of_full=model.of_full) == model


RANGES = [
    ("6 V ± (0.5 % + 2), resolution 1 mV", "volts",
     Range(full=6, accuracy=0.005, counts=2, resolution=1e-3)),
    ("6V +/- 0.5% + 2 digits, resolution 1mV", "volts",
     Range(full=6, accuracy=0.005, counts=2, resolution=1e-3)),
    ("10 V ± 35 ppm", "volts", Range(full=10, accuracy=35e-6)),
    ("6 kΩ", "ohms", Range(full=6000)),
    ("60 mA ± (1 % + 3), resolution 10 µA, burden 2 Ω, jack mA, fuse 630 mA", "amps",
     Range(full=0.06, accuracy=0.01, counts=3, resolution=1e-5, burden_ohms=2, jack="mA",
           fuse_amps=0.63)),
]  # fmt: skip


@pytest.mark.parametrize(("text", "what", "wanted"), RANGES)
def test_a_range_as_written(text: str, what: str, wanted: Range) -> None:
    assert read_range(text, what) == wanted  # type: ignore[arg-type]


WRONG = [
    ("6 V ± (0.5 % + 2)", "2 counts of what? say the resolution too, like “resolution 1 mV”"),
    ("6 V ± lots", "“6 V ± lots” is no range: write where it ends, like 6 V ± (0.5 % + 2)"),
    ("6 V, colour red", "“colour red” is not understood: resolution, burden, jack or fuse, and"),
    ("6 A ± 1 %", "“6 A” is a current; wanted is a voltage"),
    ("0 V ± 1 %", "a range ends above 0, got 0"),
]


@pytest.mark.parametrize(("text", "told"), WRONG)
def test_a_range_that_is_none(text: str, told: str) -> None:
    with pytest.raises(LowfoldError) as found:
        read_range(text, "volts")
    assert told in found.value.message


WRONG_METERS = [
    ({"volts": "6 V\nsix"}, "volts", "line 2: "),
    ({"volts": "6 V\n6 V"}, "volts", "two ranges end at the same figure"),
    ({}, "volts", "a meter has at least one range"),
    ({"volts": "6 V", "input": "-1"}, "input", ""),
    ({"volts": "6 V", "leads": "-1"}, "leads", ""),
    ({"volts": "\n".join(f"{k} V" for k in range(1, 30))}, "volts", "29 ranges: at most 20"),
]


@pytest.mark.parametrize(("words", "field", "told"), WRONG_METERS)
def test_a_meter_that_is_none_names_the_field(words: dict[str, str], field: str, told: str) -> None:
    with pytest.raises(DomainError) as found:
        read_meter("mine", words)
    assert found.value.field == field
    assert told in found.value.message


@given(
    st.floats(1e-6, 1e3),
    st.just(0.0) | st.floats(1e-6, 0.5),
    st.integers(0, 99),
    st.floats(1e-9, 1e3),
    st.just(0.0) | st.floats(1e-6, 1e4),
    st.sampled_from(["", "mA", "V Ω"]),
    st.floats(0.01, 20),
)
def test_any_range_reads_back(
    full: float, share: float, counts: int, step: float, burden: float, jack: str, fuse: float
) -> None:
    one = Range(
        full=full, accuracy=share, counts=counts, resolution=step, burden_ohms=burden, jack=jack,
        fuse_amps=fuse,
    )  # fmt: skip
    back = read_range(range_in_words(one, "amps"), "amps")
    for name in ("full", "accuracy", "resolution", "burden_ohms", "fuse_amps"):
        assert getattr(back, name) == pytest.approx(getattr(one, name), rel=1e-8, abs=1e-15)
    assert (back.counts, back.jack) == (counts, jack)
