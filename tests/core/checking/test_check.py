"""Checks, ratings, verdicts and cautions."""

import pytest

from lowfold.core.checking.cautions import cautions_for
from lowfold.core.checking.check import Demand, check_network
from lowfold.core.checking.verdict import Verdict, verdict_on, worst
from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_network
from lowfold.core.parts.limits import Environment, PartLimits
from lowfold.core.parts.ratings import derated_watts, suggested_watts
from lowfold.core.solving.nodes import Load
from lowfold.core.tolerance.box import LoadRange, Supply


@pytest.mark.parametrize(
    ("ambient", "share"), [(-40, 1.0), (70, 1.0), (112.5, 0.5), (155, 0.0), (200, 0.0)]
)
def test_derating_at_its_corners(ambient: float, share: float) -> None:
    # Common practice: full power to 70 °C, then straight to zero at 155 °C
    assert derated_watts(0.1, ambient) == pytest.approx(0.1 * share)


def test_derating_corners_in_order() -> None:
    with pytest.raises(DomainError, match="full power ends at 70 °C, which must lie below 70 °C"):
        derated_watts(1.0, 25.0, 70.0, 70.0)


def test_smallest_standard_rating() -> None:
    # By hand: 311 mW at half stress needs 622 mW; the next step is 3/4 W
    assert suggested_watts(0.311, 0.5, 1.0) == 0.75
    assert suggested_watts(0.311, 0.5, 0.5) == 2.0
    assert suggested_watts(6.0, 1.0, 1.0) is None


def test_verdicts_at_their_edges() -> None:
    # The contract: marginal is inside with less than a tenth of the allowance left
    assert verdict_on(0.9, 1.0) is Verdict.PASS
    assert verdict_on(0.9001, 1.0) is Verdict.MARGINAL
    assert verdict_on(1.0, 1.0) is Verdict.MARGINAL
    assert verdict_on(1.0001, 1.0) is Verdict.FAIL
    assert verdict_on(0.1 + 0.2, 0.3) is Verdict.MARGINAL  # rounding alone does not fail it
    assert worst([Verdict.PASS, None, Verdict.FAIL, Verdict.MARGINAL]) is Verdict.FAIL
    assert worst([None]) is None


def test_a_hundred_ohms_on_24_volts() -> None:
    # Common practice: at 24 V a 100 Ω part takes 5.8 W
    found = check_network(
        build_circuit(read_network("100")), Supply(24.0), default=PartLimits(rated_watts=0.25)
    )
    part = found.parts[0]
    assert part.nominal_watts == pytest.approx(5.76)
    assert (part.verdict, part.suggested_watts) == (Verdict.FAIL, None)
    assert part.stress == pytest.approx(5.76 / 0.25)
    assert [c.code for c in found.cautions] == ["hot-part"]


def test_a_part_fails_on_either_limit() -> None:
    limits = PartLimits(rated_watts=0.1, limiting_volts=75.0)
    found = check_network(build_circuit(read_network("10M")), Supply(80.0), default=limits)
    assert found.parts[0].worst_watts < 0.05
    assert found.parts[0].verdict is Verdict.FAIL
    assert [c.code for c in found.cautions] == ["hazardous-voltage"]


def test_heat_widens_the_box_and_lowers_the_rating() -> None:
    circuit = build_circuit(read_network("1k + @OUT + 1k"))
    limits = PartLimits(tolerance=0.01, tcr_ppm=-100, drift=0.005, rated_watts=0.1)
    place = Environment(low_c=-20, high_c=112.5)
    found = check_network(
        circuit,
        Supply(10.0),
        default=limits,
        environment=place,
        outputs=[("OUT", Demand(5.0, 0.05))],
    )
    half = 0.01 + 100e-6 * 87.5 + 0.005  # ΔT from 25 °C to the hottest
    assert found.outputs[0].spread.highest == pytest.approx(10 * (1 + half) / 2)
    assert found.parts[0].rated_watts == pytest.approx(0.05)
    assert found.parts[0].allowed_watts == pytest.approx(0.025)
    assert found.verdict is Verdict.FAIL  # 25 mW nominal, more at the corner


def test_single_parts_override_the_default() -> None:
    circuit = build_circuit(read_network("R1=1k + @OUT + R2=1k"))
    found = check_network(
        circuit, Supply(10.0), default=PartLimits(tolerance=0.05),
        parts={"r2": PartLimits(tolerance=0.0)}, outputs=[("out", None)],
    )  # fmt: skip
    spread = found.outputs[0].spread
    assert spread.highest == pytest.approx(10 / 1.95)
    assert found.outputs[0].verdict is None
    assert found.verdict is None


def test_load_range_and_unloaded_output() -> None:
    circuit = build_circuit(read_network("1k + @OUT + 1k"))
    node = circuit.node("OUT")
    loads = [LoadRange(Load(node, amps=1e-3), 0.0, 2e-3)]
    spread = (
        check_network(circuit, Supply(10.0), loads=loads, outputs=[("OUT", None)]).outputs[0].spread
    )
    assert (spread.unloaded, spread.nominal) == pytest.approx((5.0, 4.5))
    assert (spread.lowest, spread.highest) == pytest.approx((4.0, 5.0))
    assert spread.lowest_corner == {"L1": "high"}


def test_what_makes_no_sense_is_named() -> None:
    circuit = build_circuit(read_network("1k"))
    with pytest.raises(DomainError, match=r"above 0 to 1, got 1\.5"):
        check_network(circuit, Supply(1.0), stress=1.5)
    with pytest.raises(DomainError, match="the coldest, 50 °C, is above the hottest, 20 °C"):
        Environment(low_c=50, high_c=20)
    with pytest.raises(DomainError, match="the supply's tolerance is a fraction"):
        Supply(1.0, 1.0)


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
    assert [c.code for c in found.cautions] == ["no-power-supply", "heavy-current"]
    # By hand: 5 Ω against 10 Ω: 8 V of 12 V, a sag of a third; 24 V over 15 Ω is 1.6 A
    assert found.cautions[0].message.startswith("OUT sags by 33 % under load")
    assert found.cautions[1].message.startswith("1.60 A flows.")
    light = [LoadRange(Load(2, ohms=1e3), 1e3, 1e3)]
    quiet = check_network(circuit, Supply(12.0), loads=light, outputs=[("OUT", None)])
    assert quiet.cautions == ()
