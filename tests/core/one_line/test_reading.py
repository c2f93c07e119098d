"""Needs said in one line: what is understood, what is marked, and that no figure is lost."""

import itertools
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import TooLargeError
from lowfold.core.needs.kinds import read_brief
from lowfold.core.needs.network import read_stated
from lowfold.core.one_line.reading import OneLine, read_one_line
from lowfold.core.one_line.words import LONGEST
from lowfold.core.parts.families import Family

DIVIDER: dict[str, float | str] = {"supply_v": 14.4, "target_v": 3.0}
# Spellings that mean the same: text, kind, tokens read as figures (None: as text)
SPELLINGS: list[tuple[str, str, dict[str, float | str]]] = [
    ("14.4 V to 3 V", "divider", DIVIDER),
    ("14.4V to 3V", "divider", DIVIDER),
    ("14,4 V to 3,0 V", "divider", DIVIDER),
    ("14V4 to 3V0", "divider", DIVIDER),
    ("from 14.4 V to 3 V", "divider", DIVIDER),
    ("From 14.4 V make 3 V.", "divider", DIVIDER),
    ("make 3 V from 14.4 V", "divider", DIVIDER),
    ("3 V from 14.4 V", "divider", DIVIDER),
    ("3 V out of 14.4 V", "divider", DIVIDER),
    ("14.4 V -> 3 V", "divider", DIVIDER),
    ("14.4 V → 3 V", "divider", DIVIDER),
    ("14.4 V => 3 V", "divider", DIVIDER),
    ("14.4 to 3 V", "divider", DIVIDER),
    ("14400 mV to 3000 mV", "divider", DIVIDER),
    ("V 14.4 to V 3", "divider", DIVIDER),
    ("14.4 volts down to 3 volts", "divider", DIVIDER),
    ("14.4 VDC to 3 VDC", "divider", DIVIDER),
    ("I need 3 V from a 14.4 V supply please", "divider", DIVIDER),
    ("14.4 V supply, 3 V out", "divider", DIVIDER),
    ("14.4 V to 3 V within 4 %", "divider", {**DIVIDER, "within": 0.04}),
    ("14.4 V to 3 V ± 3 %", "divider", {**DIVIDER, "within": 0.03}),
    ("14.4 V to 3 V +/- 3%", "divider", {**DIVIDER, "within": 0.03}),
    ("14.4 V to 3 V +-3 percent", "divider", {**DIVIDER, "within": 0.03}),
    ("14.4 V to 3 V accurate to 3 %", "divider", {**DIVIDER, "within": 0.03}),
    ("14.4 V ± 5 % to 3 V", "divider", {**DIVIDER, "supply_tolerance": 0.05}),
    ("14.4 V to 3 V into 1 MΩ", "divider", {**DIVIDER, "load": "1 MΩ"}),
    ("14.4 V to 3 V into 1 Mohm", "divider", {**DIVIDER, "load": "1 Mohm"}),
    ("14.4 V to 3 V loaded with 1M", "divider", {**DIVIDER, "load": "1M"}),
    ("14.4 V to 3 V, load 200k ± 10 %", "divider", {**DIVIDER, "load": "200k ± 10 %"}),
    ("14.4 V to 3 V into 40k to 60k", "divider", {**DIVIDER, "load": "40k to 60k"}),
    ("14.4 V to 3 V load 40k-60k", "divider", {**DIVIDER, "load": "40k-60k"}),
    ("14.4 V to 3 V into 1k5–2k2", "divider", {**DIVIDER, "load": "1k5–2k2"}),
    ("14.4 V to 3 V into 47k or open", "divider", {**DIVIDER, "load": "47k or open"}),
    ("14.4 V to 3 V into at least 1 MΩ", "divider", {**DIVIDER, "load": "at least 1 MΩ"}),
    ("14.4 V to 3 V into up to 5 mA", "divider", {**DIVIDER, "load": "up to 5 mA"}),
    ("14.4 V to 3 V into 5 mA max", "divider", {**DIVIDER, "load": "5 mA max"}),
    ("14.4 V to 3 V into 0 … 40 µA, 1 %", "divider",
     {**DIVIDER, "load": "0 … 40 µA", "tolerance": 0.01}),
    ("14.4 V to 3 V into 47k or open, at most 2 mA", "divider",
     {**DIVIDER, "load": "47k or open", "max_current_a": 2e-3}),
    ("14.4 V to 3 V into 47k, always there", "divider",
     {**DIVIDER, "load": "47k", "stiff": "any"}),
    ("14.4 V to 3 V into 20 µA", "divider", {**DIVIDER, "load": "20 µA"}),
    ("14.4 V to 3 V at most 80 µA", "divider", {**DIVIDER, "max_current_a": 80e-6}),
    ("14.4 V to 3 V, drawing at most 80 uA", "divider", {**DIVIDER, "max_current_a": 80e-6}),
    ("14.4 V to 3 V, max 80µA", "divider", {**DIVIDER, "max_current_a": 80e-6}),
    ("14.4 V to 3 V ≤ 80 µA", "divider", {**DIVIDER, "max_current_a": 80e-6}),
    ("14.4 V to 3 V < 0.08 mA", "divider", {**DIVIDER, "max_current_a": 80e-6}),
    ("14.4 V to 3 V, no more than 80 microamps", "divider", {**DIVIDER, "max_current_a": 80e-6}),
    ("14.4 V to 3 V at least 10 µA", "divider", {**DIVIDER, "min_current_a": 10e-6}),
    ("14.4 V to 3 V ≥ 10 µA", "divider", {**DIVIDER, "min_current_a": 10e-6}),
    ("14.4 V to 3 V behind 50 Ω", "divider", {**DIVIDER, "source_ohm": 50.0}),
    ("14.4 V to 3 V, E96 0.1 % 0603", "divider",
     {**DIVIDER, "values": "E96", "tolerance": 0.001, "rating": "0603"}),
    ("14.4 V to 3 V, 1 % 1/4 W", "divider", {**DIVIDER, "tolerance": 0.01, "rating": "1/4 W"}),
    ("14.4 V to 3 V between 10k and 1M", "divider", {**DIVIDER, "min_ohm": 1e4, "max_ohm": 1e6}),
    ("14.4 V to 3 V, −20 to 60 °C", "divider", {**DIVIDER, "low_c": -20.0, "high_c": 60.0}),
    ("14.4 V to 3 V, -20 °C to 60 °C", "divider", {**DIVIDER, "low_c": -20.0, "high_c": 60.0}),
    ("14.4 V to 3 V 25 ppm/K", "divider", {**DIVIDER, "tcr": 25.0}),
    ("14.4 V to 3 V, 25 ppm", "divider", {**DIVIDER, "tcr": 25.0}),
    ("14.4 V to 3 V used to 60 %", "divider", {**DIVIDER, "stress": 0.6}),
    ("14.4 V - 3 V", "divider", DIVIDER),
    ("14400 to 3000 mV", "divider", DIVIDER),
    ("14.4 to 3V0", "divider", DIVIDER),
    ("14.4v to 3v0", "divider", DIVIDER),
    ("Vin 14.4 V, Vout 3 V", "divider", DIVIDER),
    ("divide 14.4 V into 3 V", "divider", DIVIDER),
    ("14.4 V to 3 V, 1 MΩ load", "divider", {**DIVIDER, "load": "1 MΩ"}),
    ("14.4 V to 3 V, 200k ± 10 % load", "divider", {**DIVIDER, "load": "200k ± 10 %"}),
    ("Vin=14.4V, Vout=3V, RL=1M, Imax=80uA", "divider",
     {**DIVIDER, "load": "1M", "max_current_a": 80e-6}),
    ("14.4 V to 3 V, 10 µA min, 80ua max", "divider",
     {**DIVIDER, "min_current_a": 10e-6, "max_current_a": 80e-6}),
    ("14.4 V to 3 V, 50 ohm source", "divider", {**DIVIDER, "source_ohm": 50.0}),
    ("14.4 V to 3 V, output impedance below 10k", "divider", {**DIVIDER, "max_output_ohm": 1e4}),
    ("14.4 V to 3 V, 1 % parts, 3 % overall", "divider",
     {**DIVIDER, "tolerance": 0.01, "within": 0.03}),
    ("14.4 V to 3 V, accuracy 3 %", "divider", {**DIVIDER, "within": 0.03}),
    ("14.4V–3V", "divider", DIVIDER),
    ("14.4 V to 3 V between 10 µA and 80 µA", "divider",
     {**DIVIDER, "min_current_a": 10e-6, "max_current_a": 80e-6}),
    ("14.4 V to 3 V between 10k - 1M", "divider", {**DIVIDER, "min_ohm": 1e4, "max_ohm": 1e6}),
    ("14.4 V to 3 V, −20…60 °C", "divider", {**DIVIDER, "low_c": -20.0, "high_c": 60.0}),
    ("14.4 V to 3 V, -20/60 °C", "divider", {**DIVIDER, "low_c": -20.0, "high_c": 60.0}),
    ("±14.4 V to 3 V", "divider", {**DIVIDER, "low_v": -14.4}),
    ("from 14.4 V and −5 V make 3 V", "divider", {**DIVIDER, "low_v": -5.0}),
    ("3 V out of 14.4 V, input impedance of the ADC is 1 MΩ", "divider",
     {**DIVIDER, "load": "1 MΩ"}),
    ("14.4 V to 3 V, quarter-watt 1 % parts", "divider",
     {**DIVIDER, "tolerance": 0.01, "rating": "1/4 W"}),
    # Ranges, windows, shares, lists
    ("9 to 16 V to 3 V", "divider", {"supply_v": "9 to 16 V", "target_v": 3.0}),
    ("9V to 16V to 3V", "divider", {"supply_v": "9V to 16V", "target_v": 3.0}),
    ("3 V from 9-16 V", "divider", {"supply_v": "9-16 V", "target_v": 3.0}),
    ("supply between 9 and 16 V, 3 V out", "divider",
     {"supply_v": "between 9 and 16 V", "target_v": 3.0}),
    ("12 V to 3.2 to 3.4 V", "divider", {"supply_v": 12.0, "target_v": "3.2 to 3.4 V"}),
    ("3.2 … 3.4 V from 12 V", "divider", {"supply_v": 12.0, "target_v": "3.2 … 3.4 V"}),
    ("9 to 16 V to 3.2 to 3.4 V", "divider",
     {"supply_v": "9 to 16 V", "target_v": "3.2 to 3.4 V"}),
    ("10-14 V to 3 V and 2 V", "ladder", {"supply_v": "10-14 V", "tap1_v": 3.0, "tap2_v": 2.0}),
    ("14.4 V to 3 V within 50 mV", "divider", {**DIVIDER, "within": "50 mV"}),
    ("14.4 V to 3 V ± 50 mV", "divider", {**DIVIDER, "within": "50 mV"}),
    ("14.4 V to 3 V +5/-0 %", "divider", {**DIVIDER, "within": "+5/-0 %"}),
    ("14.4 V to 3 V, within +50/-20 mV", "divider", {**DIVIDER, "within": "+50/-20 mV"}),
    ("14.4 V +10/-20 % to 3 V", "divider", {"supply_v": "14.4 V +10/-20 %", "target_v": 3.0}),
    ("14.4 V ± 0.5 V to 3 V", "divider", {"supply_v": "14.4 V ± 0.5 V", "target_v": 3.0}),
    ("4k53 within 20 Ω", "resistance", {"target_ohm": 4530.0, "within": "20 Ω"}),
    ("0.25 of 12 V", "divider", {"supply_v": 12.0, "ratio": "0.25"}),
    ("half of 12 V", "divider", {"supply_v": 12.0, "ratio": "half"}),
    ("a third of 5 V within 2 %", "divider", {"supply_v": 5.0, "ratio": "a third", "within": 0.02}),
    ("25 % of 12 V", "divider", {"supply_v": 12.0, "ratio": "25 %"}),
    ("12 V, divide by 4", "divider", {"supply_v": 12.0, "ratio": "divide by 4"}),
    ("12 V divided by 4 into 1M", "divider",
     {"supply_v": 12.0, "ratio": "divided by 4", "load": "1M"}),
    ("10:1", "divider", {"ratio": "10:1"}),
    ("10:1 from 24 V", "divider", {"supply_v": 24.0, "ratio": "10:1"}),
    ("28V max to 2.5V ADC, 10 k max source", "divider",
     {"supply_v": 28.0, "target_v": 2.5, "max_output_ohm": 1e4}),
    ("28 V to 2.5 V, source impedance below 10k", "divider",
     {"supply_v": 28.0, "target_v": 2.5, "max_output_ohm": 1e4}),
    ("14.4 V to 3 V, between -40 and 85 °C", "divider",
     {**DIVIDER, "low_c": -40.0, "high_c": 85.0}),
    ("55 ohm from 30 and 40", "resistance", {"target_ohm": 55.0, "values": "30 and 40"}),
    ("55 ohm from 3x 100, 220", "resistance", {"target_ohm": 55.0, "values": "3x 100, 220"}),
    ("4k7, 1/4 W", "resistance", {"target_ohm": 4700.0, "rating": "1/4 W"}),
    ("4k7, 1206, 0.5 %", "resistance",
     {"target_ohm": 4700.0, "rating": "1206", "tolerance": 0.005}),
    ("4k53 1 %", "resistance", {"target_ohm": 4530.0, "tolerance": 0.01}),
    ("pull-up of 4k53", "resistance", {"target_ohm": 4530.0}),
    ("4k53 from two E24 1 % resistors", "resistance",
     {"max_parts": "two", "target_ohm": 4530.0, "values": "E24", "tolerance": 0.01}),
    ("4.53 kOhms", "resistance", {"target_ohm": 4530.0}),
    ("4.53 KOHM", "resistance", {"target_ohm": 4530.0}),
    ("5 MegOhm", "resistance", {"target_ohm": 5e6}),
    ("4k53 1%", "resistance", {"target_ohm": 4530.0, "tolerance": 0.01}),
    ("4.53 k", "resistance", {"target_ohm": 4530.0}),
    ("4.53K", "resistance", {"target_ohm": 4530.0}),
    ("4.53 kilohm", "resistance", {"target_ohm": 4530.0}),
    ("4,53 kΩ", "resistance", {"target_ohm": 4530.0}),
    ("4530", "resistance", {"target_ohm": 4530.0}),
    ("4 530 ohms", "resistance", {"target_ohm": 4530.0}),
    ("Ω 4530", "resistance", {"target_ohm": 4530.0}),
    ("R47", "resistance", {"target_ohm": 0.47}),
    ("250 ohm from the drawer", "resistance", {"target_ohm": 250.0, "values": "drawer"}),
    ("250R out of my stock", "resistance", {"target_ohm": 250.0, "values": "drawer"}),
    ("two parts 4k53 from E24 + E96", "resistance",
     {"max_parts": "two", "target_ohm": 4530.0, "values": "E24 + E96"}),
    ("4k53 ± 0.2 %, 3 parts", "resistance",
     {"target_ohm": 4530.0, "within": 0.002, "max_parts": "3"}),
    ("10k with 4k7 in place", "resistance", {"target_ohm": 1e4, "in_place_ohm": 4700.0}),
    ("2k2 carrying 20 mA", "resistance", {"target_ohm": 2200.0, "use": "20 mA"}),
    ("1206 ohm 0805", "resistance", {"target_ohm": 1206.0, "rating": "0805"}),
    ("0.8 V reference to 3.3 V", "feedback", {"reference_v": 0.8, "target_v": 3.3}),
    ("3.3 V from a 0.8 V ± 1 % reference, 50 nA", "feedback",
     {"reference_v": 0.8, "target_v": 3.3, "reference_tolerance": 0.01, "pin_a": 50e-9}),
    ("3.3 V, reference 0.8 V", "feedback", {"reference_v": 0.8, "target_v": 3.3}),
    ("0.8 V ref to 3.3 V, 50 nA pin current", "feedback",
     {"reference_v": 0.8, "target_v": 3.3, "pin_a": 50e-9}),
    ("fb 0.8 V to 3.3 V", "feedback", {"reference_v": 0.8, "target_v": 3.3}),
    ("feedback 3V3 ref 0V8", "feedback", {"reference_v": 0.8, "target_v": 3.3}),
    ("5 V to 3.2 V and 1.4 V", "ladder", {"supply_v": 5.0, "tap1_v": 3.2, "tap2_v": 1.4}),
    ("5 V to 1.4, 3.2 V", "ladder", {"supply_v": 5.0, "tap1_v": 3.2, "tap2_v": 1.4}),
    ("3.2 V and 1.4 V from 5 V", "ladder", {"supply_v": 5.0, "tap1_v": 3.2, "tap2_v": 1.4}),
    ("5 V to 1.4 V into 2M and 3.2 V into 1M", "ladder",
     {"supply_v": 5.0, "tap1_v": 3.2, "tap1_load": "1M", "tap2_v": 1.4, "tap2_load": "2M"}),
]  # fmt: skip
FIGURES = {
    "_v": "VOLT", "_a": "AMPERE", "_ohm": "OHM", "_c": "CELSIUS",
    "tcr": "PPM_PER_KELVIN",
}  # fmt: skip


def figure(token: str, text: str) -> float:
    """Return what a token's text is, by the notation itself."""
    from lowfold.core.values import quantities  # noqa: PLC0415

    name = next((kind for end, kind in FIGURES.items() if token.endswith(end)), "FRACTION")
    kind: quantities.Kind = getattr(quantities, name)
    return quantities.read(text, kind)


@pytest.mark.parametrize(("text", "kind", "tokens"), SPELLINGS, ids=[s[0] for s in SPELLINGS])
def test_a_spelling_is_understood_whole(
    text: str, kind: str, tokens: dict[str, float | str]
) -> None:
    found = read_one_line(text)
    assert found.unread == ()
    assert found.kind == kind
    assert set(found.tokens) == set(tokens)
    for name, wanted in tokens.items():
        said = found.tokens[name]
        if isinstance(wanted, str):
            assert said == wanted
        else:
            assert figure(name, said) == pytest.approx(wanted)
    assert found.need is not None
    assert all(r.ok for r in read_brief(found.need, found.tokens).tokens.values())


MARKED = [  # text, what is marked, part of why
    ("14.4 V to 3 V, 80 µA", ["80 µA"], "say at most or at least"),
    ("14.4 V to 3 V, 10k", ["10k"], "say what it is"),
    ("14.4 V to 3 V into 1 MΩ, 80 µA", ["80 µA"], "say at most or at least"),
    ("4k53 4k7", ["4k7"], "a second resistance"),
    ("5 V", ["5 V"], "alone says no need"),
    ("14.4 V to 3 V at 85 °C", ["85 °C"], "one temperature alone"),
    ("14.4 V to 3 V, 7", ["7"], "has no unit"),
    ("14.4 V to 3 V, 1 % 2 %", ["2 %"], "said already: 1 %"),
    ("14.4 V to 3 V at most 2 V", ["2 V"], "“at most” does not stand before a voltage"),
    ("4k53 at most 20 mA", ["20 mA"], "a resistance has no place for this"),
    ("± 3 % 14.4 V to 3 V", ["3 %"], "± of what"),
    ("14.4 V to 3 V quickly", ["quickly"], "is not understood here"),
    ("14.4 V to 3 V into 1M ± 5 % ± 6 %", ["6 %"], "± of what"),
    ("9 V to 5, 4, 3, 2 and 1 V", ["1 V"], "several taps has no place for this"),
    ("hello", ["hello"], "is not understood here"),
    ("R0", ["R0"], "0 Ω"),
    ("4,700 ohms", ["4,700 ohms"], "could be two figures: write a point, or 4700 ohms"),
    ("-4k7", ["-4k7"], "is not understood"),
    ("٤k7", ["٤k7"], "is not understood"),
    ("2x10k", ["2x10k"], "is not understood"),
    ("12 to 3.3", ["12", "3.3"], "has no unit"),
    ("14.4 V to 3 V input 3.6 V max", ["3.6 V"], "the supply is said already: 14.4 V"),
    ("10 furlongs", ["10", "furlongs"], "has no unit"),
    ("14.4:3", ["14.4:3"], "does not say of what"),
    ("14.4 V to 3 V within 1/2 %", ["1/2 %"], "does not say of what"),
    ("12V battery 9 to 16 V to 3V", ["12V"], "lies inside 9 to 16 V, which is said too"),
    ("12 V to 3 V, 10:1", ["10:1"], "3 V is wanted already"),
    ("10k + 22x on 12 V", ["22x"], "is not understood"),
    ("10k + (22k || 4k7 on 12 V", ["10k + (22k || 4k7"], "a network that is not understood"),
    ("4k7 from 30,40 and 50", ["30,40 and 50"], "one figure or two"),
    ("14.4 V to 3 V feeds 3.3 V", ["feeds", "3.3 V"], "is not understood"),
    ("14.4 V to 3 V at most 80 µA 14.4 V", ["14.4 V"], "write “and” before another tap"),
    ("14.4 V to 3 V E24 from the drawer", ["the drawer"], "E24 is said already"),
    ("regulator 5 V to 3.3 V", ["5 V"], "say which is the reference"),
]


@pytest.mark.parametrize(
    ("text", "tokens"),
    [
        ("120 + 120 + 120 on 18 V", {"network": "120 + 120 + 120", "supply_v": "18 V"}),
        ("6k8 + (15k || 3k3) on 12 V", {"network": "6k8 + (15k || 3k3)", "supply_v": "12 V"}),
        ("8k2 + (15k ‖ 3k3)", {"network": "8k2 + (15k || 3k3)"}),
        ("12 V: R1=10k + @OUT + R2=22k, 1 %",
         {"supply_v": "12 V", "network": "R1=10k + @OUT + R2=22k", "tolerance": "1 %"}),
        ("10k // 22k", {"network": "10k || 22k"}),
        ("9 to 16 V on 10k + @A + 4.7 kΩ", {"network": "10k + @A + 4.7 kΩ", "supply_v": "9 to 16 V"}),
    ],
)  # fmt: skip
def test_what_is_joined_is_a_network(text: str, tokens: dict[str, str]) -> None:
    found = read_one_line(text)
    assert (found.kind, found.need) == ("network", None)
    assert found.unread == ()
    assert found.tokens == tokens
    assert all(r.ok for r in read_stated(found.tokens)[0].values())


@pytest.mark.parametrize(("text", "marked", "why"), MARKED, ids=[m[0] for m in MARKED])
def test_what_is_not_understood_is_marked_with_its_reason(
    text: str, marked: list[str], why: str
) -> None:
    found = read_one_line(text)
    assert [u.text for u in found.unread] == marked
    assert why in found.unread[0].message
    assert all(text[u.start : u.end] == u.text for u in found.unread)


def test_taps_beyond_those_of_a_ladder_are_marked_however_many() -> None:
    text = " ".join(["30 V to", *(f"{n} V and" for n in range(24, 0, -1))])
    found = read_one_line(text)
    assert found.tokens == {
        "supply_v": "30 V", "tap1_v": "24 V", "tap2_v": "23 V", "tap3_v": "22 V", "tap4_v": "21 V",
    }  # fmt: skip
    assert [u.text for u in found.unread] == [f"{n} V" for n in range(20, 0, -1)]


def test_a_familys_own_name_is_a_size() -> None:
    own = Family(name="thick 7", rated_watts=0.2)
    assert read_one_line("4k53 thick 7", (own,)).tokens["rating"] == "thick 7"


def test_a_text_too_long_is_refused_before_it_is_read() -> None:
    with pytest.raises(TooLargeError, match="a need is said in 400"):
        read_one_line("1" * (LONGEST + 1))


def places_of(found: OneLine) -> list[tuple[int, int]]:
    """Return every place that is told of."""
    told = [(u.start, u.end) for u in found.understood]
    return [*told, *((u.start, u.end) for u in found.unread)]


WORDS = st.sampled_from(
    ["14.4 V", "3 V", "1 %", "±", "to", "from", "into", "10k", "at most", "80 µA", "E24", "0603",
     "and", ",", "reference", "drawer", "60 °C", "7", "x", "between", "1/4 W", "Ω", "(", "-4k7",
     "…", "-", "feedback", "11", ":",
     "3V3", "4k7", "max", "load", "R1", "9 to 16 V", "±12 V", "+5/-0 %", "-2/+3 %", "a third of",
     "divided by 4", "10:1", "from 30 and 40", "3x 100, 220", "120 + 220", "(15k || 3k3)",
     "10k + @OUT + 22k", "in parallel with", "out", "in", "always there", "10 k max source", "stands"]
)  # fmt: skip


@given(st.lists(WORDS, max_size=9).map(" ".join))
def test_no_figure_is_lost_whatever_the_order(text: str) -> None:
    found = read_one_line(text)
    places = places_of(found)
    for digits in re.finditer(r"[0-9]+", text):
        assert any(a <= digits.start() and digits.end() <= b for a, b in places), (text, found)
    ends = sorted(places)
    assert all(one[1] <= other[0] for one, other in itertools.pairwise(ends)), text


@given(
    st.sampled_from("xqzж٤⁴"), st.sampled_from(["4k7", "10k", "14.4 V", "3 V", "47"]), st.booleans()
)
def test_of_a_word_that_nobody_knows_no_figure_is_taken(
    letter: str,
    figure: str,
    before: bool,  # noqa: FBT001  # drawn
) -> None:
    word = f"{letter}{figure}" if before else f"{figure.replace(' ', '')}{letter}"
    found = read_one_line(f"{word} 1 %")
    assert "target_ohm" not in found.tokens
    assert "supply_v" not in found.tokens
    assert any(letter in u.text for u in found.unread)


@given(st.text(max_size=LONGEST))
def test_any_text_is_answered(text: str) -> None:
    found = read_one_line(text)
    assert all(0 <= start < end <= len(text) for start, end in places_of(found))
