"""Sentences by habit: bench slang, data sheets, spreadsheets, other word orders, units glued or apart.

Each has what it must mean, written by hand, or that it must be asked. The figures are read by the
notation itself, so that only their places are judged here.
"""

import itertools
from typing import Any

import pytest

from lowfold.core.one_line.reading import read_one_line
from lowfold.core.tokens.reading import Also
from lowfold.core.tokens.windows import spread
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, read

D12 = {"supply_v": 12.0, "target_v": 3.3}
D5 = {"supply_v": 5.0, "target_v": 3.3}
WHOLE: list[tuple[str, str, dict[str, Any]]] = [
    ("12V:3V3", "divider", D12),
    ("12V/3V3", "divider", D12),
    ("12 V rail down to 3.3 V bias", "divider", D12),
    ("bias 2.5 V from 5 V", "divider", {"supply_v": 5.0, "target_v": 2.5}),
    ("two thirds of 9 V into 10k", "divider",
     {"supply_v": 9.0, "ratio": "two thirds", "load": "10k"}),
    ("divide 24 V by 10", "divider", {"supply_v": 24.0, "ratio": "by 10"}),
    ("1:10 divider 24V", "divider", {"supply_v": 24.0, "ratio": "1:10"}),
    ("von 12 V auf 3,3 V", "divider", D12),
    ("aus 12 V 3,3 V machen", "divider", D12),
    ("12 V auf 3,3 V, höchstens 1 mA", "divider", {**D12, "max_current_a": 1e-3}),
    ("de 12 V à 3,3 V", "divider", D12),
    ("24V -> 5V ±2% @ 47k load", "divider",
     {"supply_v": 24.0, "target_v": 5.0, "within": 0.02, "load": "47k"}),
    ("battery 9-12.6V to ADC 2.5V max", "divider", {"supply_v": "9-12.6V", "target_v": 2.5}),
    ("monitor 48V ±10% with 3.3V ADC", "divider",
     {"supply_v": 48.0, "supply_tolerance": 0.1, "target_v": 3.3}),
    ("5 V to 3.3 V max 100uA", "divider", {**D5, "max_current_a": 1e-4}),
    ("5 V to 3.3 V Imax=100uA", "divider", {**D5, "max_current_a": 1e-4}),
    ("5V to 3.3V <100uA", "divider", {**D5, "max_current_a": 1e-4}),
    ("5V to 3.3V Rout<10k", "divider", {**D5, "max_output_ohm": 1e4}),
    ("5V to 3.3V source 50R", "divider", {**D5, "source_ohm": 50.0}),
    ("5V to 3.3V, -40..85C", "divider", {**D5, "low_c": "-40 C", "high_c": "85C"}),
    ("5 V to 3.3 V 0805 E96 0.1% 25ppm", "divider",
     {**D5, "rating": "0805", "values": "E96", "tolerance": 0.001, "tcr": "25ppm"}),
    ("within 1%: 5 V to 3.3 V", "divider", {**D5, "within": 0.01}),
    ("3.3V±1% from 5V±5%", "divider", {**D5, "within": 0.01, "supply_tolerance": 0.05}),
    ("3V3 from 5V0", "divider", D5),
    ("5000mV to 3300mV", "divider", D5),
    ("3.3 V out, 5 V in", "divider", D5),
    ("5 V in 3.3 V out", "divider", D5),
    ("in 5 V out 3.3 V", "divider", D5),
    ("supply: 5 V target: 3.3 V load: 100K", "divider", {**D5, "load": "100K"}),
    ("9V to 7V into 20uA to 50uA", "divider",
     {"supply_v": 9.0, "target_v": 7.0, "load": "20uA to 50uA"}),
    ("9V to 7V load between 20 and 50 uA", "divider",
     {"supply_v": 9.0, "target_v": 7.0, "load": "20 to 50 uA"}),
    ("9 V to 7 V, values between 10k and 100k", "divider",
     {"supply_v": 9.0, "target_v": 7.0, "min_ohm": 1e4, "max_ohm": 1e5}),
    ("-5 V from -12 V", "divider", {"supply_v": 0.0, "low_v": -12.0, "target_v": -5.0}),
    ("-12 V to -5 V", "divider", {"supply_v": 0.0, "low_v": -12.0, "target_v": -5.0}),
    ("-12V rail to -5V into 47k", "divider",
     {"supply_v": 0.0, "low_v": -12.0, "target_v": -5.0, "load": "47k"}),
    ("get 7 V from 9 V with 10k lower", "divider",
     {"supply_v": 9.0, "target_v": 7.0, "lower_ohm": 1e4}),
    ("9 V to 7 V, R1 = 22k, R2 = ?", "divider",
     {"supply_v": 9.0, "target_v": 7.0, "upper_ohm": 2.2e4}),
    ("R1=22k + @OUT + R2=? on 9 V to 7 V", "divider",
     {"supply_v": 9.0, "target_v": 7.0, "upper_ohm": 2.2e4}),
    ("9V to 7V with 4k7 as the lower leg", "divider",
     {"supply_v": 9.0, "target_v": 7.0, "lower_ohm": 4.7e3}),
    ("9 V to 7 V, bottom resistor 4k7 in place, E24", "divider",
     {"supply_v": 9.0, "target_v": 7.0, "lower_ohm": 4.7e3, "values": "E24"}),
    ("0.8 V reference to 5 V, bottom 10k", "feedback",
     {"reference_v": 0.8, "target_v": 5.0, "lower_ohm": 1e4}),
    ("4k7 || R2=? = 3k3", "resistance", {"target_ohm": 3.3e3, "in_place_ohm": 4.7e3}),
    ("R1 in OUT 10k; R2 OUT 0 3k3 on 12 V", "network",
     {"network": "R1 in OUT 10k\nR2 OUT 0 3k3", "supply_v": 12.0}),
    ("R1 in OUT 10k\nR2 OUT 0 3k3\nV1 in 0 12", "network",
     {"network": "R1 in OUT 10k\nR2 OUT 0 3k3", "supply_v": 12.0}),
    ("9 V to 7 V, two parts per leg", "divider",
     {"supply_v": 9.0, "target_v": 7.0, "per_leg": "two"}),
    ("12 V and -12 V to 5 V", "divider", {"supply_v": 12.0, "low_v": -12.0, "target_v": 5.0}),
    ("pullup 4.7k 5% 0603", "resistance",
     {"target_ohm": 4700.0, "tolerance": 0.05, "rating": "0603"}),
    ("270 ohm quarter watt", "resistance", {"target_ohm": 270.0, "rating": "1/4 W"}),
    ("1.37k using two resistors", "resistance", {"target_ohm": 1370.0, "max_parts": "two"}),
    ("I need about 1.37k", "resistance", {"target_ohm": 1370.0}),
    ("123 ohm using 100, 220 and 330", "resistance",
     {"target_ohm": 123.0, "values": "100, 220 and 330"}),
    ("55R from 30R and 40R", "resistance", {"target_ohm": 55.0, "values": "30R and 40R"}),
    ("50 mΩ 2 W", "resistance", {"target_ohm": 0.05, "rating": "2 W"}),
    ("shunt 100 mΩ for 5 A", "resistance", {"target_ohm": 0.1, "use": "5 A"}),
    ("15k 1% 50ppm/°C 1206", "resistance",
     {"target_ohm": 15e3, "tolerance": 0.01, "tcr": "50ppm/°C", "rating": "1206"}),
    ("2k2 in place, need 1.8k", "resistance", {"target_ohm": 1800.0, "in_place_ohm": 2200.0}),
    ("1.8k beside 10k load", "resistance", {"target_ohm": 1800.0, "load": "10k"}),
    ("Vref 0.6V, Vout 5V", "feedback", {"reference_v": 0.6, "target_v": 5.0}),
    ("0.6 V FB, 5 V out, 1% parts", "feedback",
     {"reference_v": 0.6, "target_v": 5.0, "tolerance": 0.01}),
    ("buck 0.8V ref, 1.8V out, 0.1 uA fb bias", "feedback",
     {"reference_v": 0.8, "target_v": 1.8, "pin_a": 1e-7}),
    ("taps 8, 4 V from 12 V", "ladder", {"supply_v": 12.0, "tap1_v": 8.0, "tap2_v": 4.0}),
    ("12 V: 8 V, 4 V", "ladder", {"supply_v": 12.0, "tap1_v": 8.0, "tap2_v": 4.0}),
    ("10k parallel 22k", "network", {"network": "10k || 22k"}),
    ("10k in parallel with 22k", "network", {"network": "10k || 22k"}),
    ("10k in series with 22k on 5 V", "network", {"network": "10k + 22k", "supply_v": 5.0}),
    ("12V across 100k + 22k", "network", {"network": "100k + 22k", "supply_v": 12.0}),
]  # fmt: skip
#: Two meanings, or none that is said: never taken without a word.
ASKED = [
    "2.5V reference from 5V rail", "5 to 3.3", "3.3 out of 5", "10k:10k", "10k/10k on 5V",
    "scale 0-10V to 0-2.5V", "measure 0 to 30 V with a 3.3 V ADC", "LED resistor 5V 20mA",
    "+12V to -5V", "half of -12 V", "4 cells 12.6 V to 2.5 V ADC", "250 Ω for 4-20 mA",
    "9 V to 7 V using 10k to 100k", "4.7K0", "3x 1k in parallel",
    "12V battery 9 to 16 V to 3V", "12V ladder 9V 6V 3V", "5 V to 3.3 V, 10k", "-4k7", "5 V",
]  # fmt: skip
KINDS = {"_v": VOLT, "_a": AMPERE, "_ohm": OHM}


def value(token: str, text: str) -> float:
    kind = next((kind for end, kind in KINDS.items() if token.endswith(end)), FRACTION)
    return read(text, kind)


def same(token: str, text: str, wanted: float | str) -> bool:
    if isinstance(wanted, str):
        return text == wanted
    return value(token, text) == pytest.approx(wanted)


@pytest.mark.parametrize(("text", "kind", "tokens"), WHOLE, ids=[s[0] for s in WHOLE])
def test_a_sentence_is_read_whole(text: str, kind: str, tokens: dict[str, Any]) -> None:
    found = read_one_line(text)
    assert found.unread == ()
    assert (found.kind, set(found.tokens)) == (kind, set(tokens))
    for name, wanted in tokens.items():
        assert same(name, found.tokens[name], wanted), name


@pytest.mark.parametrize("text", ASKED)
def test_what_could_be_meant_otherwise_is_asked(text: str) -> None:
    assert read_one_line(text).unread


ORDERS = [
    "{i} to {o}", "{i} -> {o}", "{i} → {o}", "{i} => {o}", "{i} – {o}", "{i} down to {o}",
    "from {i} make {o}", "{o} from {i}", "{o} out of {i}", "Vin={i} Vout={o}", "Vin {i}, Vout {o}",
    "supply {i}, {o} out", "input {i} output {o}", "{i} in, {o} out", "I need {o} from {i} please",
    "{i} supply down to {o}", "divide {i} down to {o}", "von {i} auf {o}", "get {o} from a {i} rail",
]  # fmt: skip
PAIRS = [
    ("12 V", "5 V"), ("12V", "5V"), ("5V0", "3V3"), ("24,0 V", "3,3 V"), ("14400 mV", "3000 mV"),
    ("48 VDC", "2.5 VDC"), ("9 volts", "1.25 volts"),
]  # fmt: skip
ADDED: list[tuple[str, dict[str, Any]]] = [
    ("", {}),
    (" within 2 %", {"within": 0.02}),
    (", into 47k", {"load": "47k"}),
    (", max 1 mA", {"max_current_a": 1e-3}),
    (", 1% 0603 E96", {"tolerance": 0.01, "rating": "0603", "values": "E96"}),
    ("; load 100 kΩ or open; at least 10 µA", {"load": "100 kΩ or open", "min_current_a": 1e-5}),
    (", within +5/-2 %, output impedance below 10k", {"within": "+5/-2 %", "max_output_ohm": 1e4}),
]
MANY = list(itertools.product(ORDERS, PAIRS, ADDED))


def test_a_thousand_sentences_are_read_whole() -> None:
    assert len(MANY) + len(WHOLE) + len(ASKED) >= 1000
    wrong = []
    for order, (supply, target), (more, tokens) in MANY:
        text = order.format(i=supply, o=target) + more
        found = read_one_line(text)
        wanted = {"supply_v": read(supply, VOLT), "target_v": read(target, VOLT), **tokens}
        if (
            found.unread
            or found.kind != "divider"
            or set(found.tokens) != set(wanted)
            or not all(same(name, found.tokens[name], v) for name, v in wanted.items())
        ):
            wrong.append((text, found.tokens, [u.text for u in found.unread]))
    assert wrong == []


def test_a_range_may_stand_wherever_its_supply_may() -> None:
    for order in ORDERS:
        text = order.format(i="9 to 16 V", o="3.3 V")
        found = read_one_line(text)
        assert (found.unread, found.kind) == ((), "divider"), text
        said, _ = spread(VOLT, 0.0, 1e5, "around")(found.tokens["supply_v"])
        assert isinstance(said, Also), text
        assert said.value == pytest.approx(12.5)
        assert read(found.tokens["target_v"], VOLT) == pytest.approx(3.3)
