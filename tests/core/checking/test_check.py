"""Checks, ratings, verdicts and cautions."""

import pytest

from lowfold.core.checking.check import Demand, check_network
from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_network
from lowfold.core.parts.limits import Environment, PartLimits
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import LoadRange, Supply


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


def test_the_limit_that_is_used_up_further_governs() -> None:
    # By hand: 60 V on 10 kΩ are 0.36 W of 0.5 · 1 W allowed, 72 %, and 60 of 75 V, 80 %
    limits = PartLimits(rated_watts=1.0, limiting_volts=75.0)
    (part,) = check_network(build_circuit(read_network("10k")), Supply(60.0), default=limits).parts
    assert part.used == pytest.approx(0.8)
    # and of 100 V limiting 60 %
    wide = PartLimits(rated_watts=1.0, limiting_volts=100.0)
    (part,) = check_network(build_circuit(read_network("10k")), Supply(60.0), default=wide).parts
    assert part.used == pytest.approx(0.72)


def test_of_two_faults_that_lift_as_far_the_open_one_is_told() -> None:
    # R1 shorted and R2 open both put the supply on OUT: film parts rather open (common practice)
    for text, said in (("10k + @OUT + 10k", "R2 opens"), ("R9=10k + @OUT + R1=10k", "R1 opens")):
        found = check_network(
            build_circuit(read_network(text)), Supply(12.0), outputs=[("OUT", None)],
            with_faults=True, stands={"OUT": 7.0},
        )  # fmt: skip
        told = [c.message for c in found.cautions if c.code == "failing-leg"] or [
            c.message for c in found.cautions
        ]
        assert any(message.startswith(f"If {said}, OUT goes to 12 V") for message in told), told


def test_the_largest_deviation_is_judged_in_either_direction() -> None:
    # By hand: 3 V ± 4 % is 2.88 V to 3.12 V
    demand = Demand(3.0, 0.04)
    assert demand.judge(2.9, 3.05) is Verdict.PASS
    assert demand.judge(2.87, 3.0) is Verdict.FAIL
    assert demand.judge(3.0, 3.13) is Verdict.FAIL
    assert Demand(-3.0, 0.04).judge(-3.13) is Verdict.FAIL


@pytest.mark.parametrize("stress", [-0.5, 0.0, 1.0001])
def test_no_more_than_all_and_more_than_none_of_a_rating_may_be_used(stress: float) -> None:
    with pytest.raises(DomainError, match="above 0 to 1"):
        check_network(build_circuit(read_network("1k")), Supply(1.0), stress=stress)
