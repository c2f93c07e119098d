"""The usual cautions, where they apply."""

import math

import pytest

from lowfold.core.checking.cautions import FailingLeg, cautions_for, highest_between
from lowfold.core.checking.check import check_network
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_network
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import LoadRange, Supply


def test_cautions_apply_from_their_limits_on() -> None:
    # IEC 61010-1 (from memory): 60 V DC in normal condition
    assert cautions_for(highest_volts=60.0) == ()
    assert [c.code for c in cautions_for(highest_volts=60.1, overloaded=["R1"], starved=["L1"])] == [
        "hazardous-voltage", "hot-part", "starved-load",
    ]  # fmt: skip


def test_a_sagging_output_and_a_heavy_current_are_cautions() -> None:
    # Common practice: a divider is no power supply; a battery across a small resistance overheats
    circuit = build_circuit(read_network("10 + @OUT + 10"))
    loads = [LoadRange(Load(2, ohms=10.0), 10.0, 10.0)]
    found = check_network(circuit, Supply(24.0), loads=loads, outputs=[("OUT", None)])
    assert [c.code for c in found.cautions] == ["burns-fingers", "no-power-supply", "heavy-current"]
    # By hand: 5 Ω against 10 Ω: 8 V of 12 V, a sag of a third; 24 V over 15 Ω is 1.6 A
    assert found.cautions[1].message.startswith("OUT sags by 33 % under load")
    assert found.cautions[2].message.startswith("1.60 A flows.")
    light = [LoadRange(Load(2, ohms=1e3), 1e3, 1e3)]
    quiet = check_network(circuit, Supply(3.0), loads=light, outputs=[("OUT", None)])
    assert quiet.cautions == ()


def test_a_part_burns_fingers_whatever_its_rating_and_leads_and_leakage_count() -> None:
    # Common practice: from some 1 W on, below 1 Ω, above 10 MΩ; by hand 24²/100 is 5.76 W
    hot = check_network(build_circuit(read_network("100")), Supply(24.0))
    assert [c.code for c in hot.cautions] == ["burns-fingers"]
    assert "R1 takes up to 5.8 W" in hot.cautions[0].message
    near = check_network(build_circuit(read_network("576")), Supply(23.9))
    assert near.cautions == ()
    small = check_network(build_circuit(read_network("0R47 + 22M + 10M + 1")), Supply(1.0))
    assert [c.code for c in small.cautions] == ["leads-count", "leakage-counts"]
    assert small.cautions[0].message.startswith("R1 below 1 Ω")
    assert small.cautions[1].message.startswith("R2 above 10 MΩ")


def test_the_supply_at_its_highest_counts_for_what_is_hazardous() -> None:
    # By hand: 58 V ± 5 % reaches 60.9 V, above the 60 V of IEC 61010-1 (from memory)
    circuit = build_circuit(read_network("10k + @OUT + 10k"))
    assert check_network(circuit, Supply(58.0, 0.02)).cautions == ()
    assert [c.code for c in check_network(circuit, Supply(58.0, 0.05)).cautions] == [
        "hazardous-voltage"
    ]


@pytest.mark.parametrize(
    ("sag", "amps", "codes"),
    [
        (0.1, 0.999, []),
        (0.1001, 0.999, ["no-power-supply"]),
        (0.0, 1.0, ["heavy-current"]),
    ],
)
def test_cautions_at_their_edges(sag: float, amps: float, codes: list[str]) -> None:
    # Common practice: a tenth of sag, and one ampere
    found = cautions_for(highest_volts=12.0, soft=[("OUT", sag)], supply_amps=amps)
    assert [c.code for c in found] == codes


def test_faults_that_were_not_looked_at_are_told_from_their_number_on() -> None:
    assert cautions_for(highest_volts=1.0, unsearched=60) == ()
    (told,) = cautions_for(highest_volts=1.0, unsearched=61)
    assert told.code == "faults-not-searched"
    assert told.message.startswith("61 parts are more than the 60")


def test_a_leg_that_fails_says_what_the_output_goes_to() -> None:
    (runs,) = cautions_for(
        highest_volts=1.0, failing=[FailingLeg("R2 opens", "the output", math.inf, 3.6)]
    )
    assert runs.message.startswith("If R2 opens, the output rises as high as the regulator")
    (lifted,) = cautions_for(highest_volts=1.0, failing=[FailingLeg("R2 opens", "OUT", 14.4, 3.6)])
    assert lifted.message == (
        "If R2 opens, OUT goes to 14.4 V, above the 3.6 V that what it feeds stands. Clamp it, or "
        "limit the current."
    )


def test_the_highest_voltage_is_between_the_furthest_points() -> None:
    # By hand: 5 V above −12 V are 17 V; of two above 0 V the higher counts against 0 V
    assert highest_between([5.0, -12.0, math.nan]) == 17.0
    assert highest_between([5.0, 12.0]) == 12.0
    assert highest_between([-5.0, -12.0]) == 12.0
    assert highest_between([math.nan]) == 0.0


def test_what_an_output_feeds_is_told_in_four_figures() -> None:
    (told,) = cautions_for(
        highest_volts=1.0, failing=[FailingLeg("R2 opens", "OUT", 14.4, 3.45678)]
    )
    assert "above the 3.457 V that" in told.message
