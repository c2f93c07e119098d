"""A round at the bench, of the lake buoy's battery sense and of the trade's own network."""

import pytest

from lowfold.core.bench.expect import Expected
from lowfold.core.bench.models import BENCH, HANDHELD, IDEAL
from lowfold.core.bench.points import Point
from lowfold.core.bench.readings import Taken, read_taken
from lowfold.core.bench.round import Bench, Round, bench_of, go_round, points_of
from lowfold.core.bench.round_words import build_verdict, doing, hint, standing, stopping
from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import TooLargeError
from lowfold.core.needs.kinds import read_brief, weigh
from lowfold.core.needs.network import read_stated
from lowfold.core.network.circuit import GROUND, SUPPLY
from lowfold.core.sheet.sheet import series_parallel
from lowfold.core.tolerance.box import Supply
from lowfold.core.weighing.choice import Judged

NETWORK = "R1=33k + @A + (R2=82k || (R3=15k + @B + R4=18k))"
A, B = 2, 3


def judged(**texts: str) -> Judged:
    _, stated = read_stated({"network": NETWORK, "supply_v": "12 V", "tolerance": "1 %", **texts})
    assert stated is not None
    return stated.weighed()


def volts(at: int, text: str) -> dict[Point, Taken]:
    return {Point("voltage", at=at): read_taken(text, "voltage")}


def ohms(part: int, text: str) -> dict[Point, Taken]:
    return {Point("resistance", part=part): read_taken(text, "resistance")}


def around(found: Round, point: Point) -> tuple[float, float, float]:
    step = next(s for s in found.steps if s.point == point)
    assert isinstance(step.expected, Expected)
    assert step.expected.span is not None
    assert step.expected.low is not None
    assert step.expected.high is not None
    return step.expected.span.nominal, step.expected.low, step.expected.high


def test_the_order_is_the_trades() -> None:
    bench = bench_of(judged())
    assert points_of(bench) == [
        *(Point("resistance", part=k) for k in range(4)),
        Point("resistance", at=SUPPLY, against=GROUND),
        Point("voltage", at=SUPPLY),
        Point("voltage", at=A),
        Point("voltage", at=B),
        Point("current", supply=True),
    ]
    found = go_round(bench, IDEAL, {})
    groups = [step.group for step in found.steps]
    assert groups == [
        *["parts out of circuit"] * 4, "built, power off", *["power on"] * 3, "current last",
    ]  # fmt: skip
    # Common practice, worked by hand in the trade: 4.995 V and 2.725 V
    assert around(found, Point("voltage", at=A))[0] == pytest.approx(4.995, abs=5e-4)
    assert around(found, Point("voltage", at=B))[0] == pytest.approx(2.725, abs=5e-4)
    assert standing(found) == "not built"
    assert build_verdict(found) is None
    assert found.following == 0


def test_at_the_bench_nothing_is_hot_cold_or_old() -> None:
    bench = bench_of(judged(tcr="100 ppm/K", drift="1 %", low_c="-20 °C", high_c="60 °C"))
    assert bench.box.half_widths == (0.01,) * 4
    own = bench_of(judged(own="R2 0.1 %"))
    assert own.box.half_widths == (0.01, 0.001, 0.01, 0.01)


def test_what_was_measured_tightens_what_is_expected() -> None:
    bench = bench_of(judged(supply_tolerance="3 %"))
    parts = {**ohms(0, "33k1"), **ohms(1, "81k7"), **ohms(2, "15k05"), **ohms(3, "17k98")}
    supply = volts(SUPPLY, "12.13 V")
    wide = go_round(bench, BENCH, {})
    narrow = go_round(bench, BENCH, {**parts, **supply})
    loose = go_round(bench, BENCH, {**parts, **supply}, as_built=False)
    at = Point("voltage", at=A)
    nominal, low, high = around(narrow, at)
    # By hand, with the meter: 81.7k ‖ 33.03k ‖ 10M = 23.466k; 12.13 V · 23.466/(33.1 + 23.466)
    assert nominal == pytest.approx(12.13 * 23.466 / 56.566, rel=1e-4)
    assert high - low < 0.01 * (around(wide, at)[2] - around(wide, at)[1]) * 2
    assert around(loose, at) == around(wide, at)
    assert narrow.supply_volts == 12.13
    assert sorted(narrow.measured) == [0, 1, 2, 3]
    # Ohms against what is marked stay judged by what is marked
    assert around(narrow, Point("resistance", part=0)) == around(wide, Point("resistance", part=0))


def test_a_part_lies_where_both_its_marks_and_the_meter_say() -> None:
    bench = bench_of(judged())
    found = go_round(bench, HANDHELD, ohms(0, "33.2k"))
    # By hand: 33.2k less 0.2 Ω of leads, ± (0.9 % + 3 · 10 Ω) is 32.871k to 33.529k; the marks say
    # 32.67k to 33.33k, so both 32.871k to 33.33k
    middle, half = found.measured[0]
    assert middle == pytest.approx((32871 + 33330) / 2, abs=1)
    assert middle * half == pytest.approx((33330 - 32871) / 2, abs=1)
    # With nothing in common the meter is believed
    apart = go_round(bench, BENCH, ohms(0, "36k")).measured[0]
    assert apart[0] == pytest.approx(36e3, rel=1e-5)
    assert go_round(bench, BENCH, ohms(0, "0")).measured == {}


def test_marks_that_state_no_tolerance_hold_a_part_to_nothing() -> None:
    bench = bench_of(judged(tolerance="0 %"))
    middle, half = go_round(bench, HANDHELD, ohms(0, "33.1k")).measured[0]
    # By hand: 33.1k less 0.2 Ω of leads, ± (0.9 % + 3 · 10 Ω)
    assert middle == pytest.approx(33.1e3, rel=1e-4)
    assert half == pytest.approx((0.009 * 33.1e3 + 30) / 33.1e3, rel=0.01)


def test_a_source_with_resistance_inside_is_not_told_by_its_terminals() -> None:
    bench = bench_of(judged(source_ohm="10 Ω"))
    assert go_round(bench, BENCH, volts(SUPPLY, "11.99 V")).supply_volts is None


def test_the_first_reading_far_out_stops_the_round() -> None:
    bench = bench_of(judged())
    # The 15 kΩ open: A at 8.557 V (common practice, worked by hand in the trade)
    found = go_round(bench, HANDHELD, {**volts(SUPPLY, "12.0"), **volts(A, "8.557")})
    assert found.stopped == 6
    assert build_verdict(found) is Verdict.FAIL
    assert standing(found) == "stop: 1 of 9 as expected"
    told = stopping(bench.box.circuit, found)
    assert told.startswith("Stop at A against 0: it reads 8.557 V, expected 4.87")
    assert hint(found.steps[6]) == ""


def test_a_board_that_reads_as_expected_passes_and_one_off_is_marginal() -> None:
    bench = bench_of(judged())
    every = {
        **ohms(0, "33k"), **ohms(1, "82k"), **ohms(2, "15k"), **ohms(3, "18k"),
        **volts(SUPPLY, "12"), **volts(A, "4.99"), **volts(B, "2.72"),
        Point("resistance", at=SUPPLY, against=GROUND): read_taken("56k5", "resistance"),
        Point("current", supply=True): read_taken("212 uA", "current"),
    }  # fmt: skip
    found = go_round(bench, HANDHELD, every)
    assert standing(found) == "9 of 9 as expected"
    assert build_verdict(found) is Verdict.PASS
    assert found.following is None
    off = go_round(bench, HANDHELD, {**every, **volts(B, "2.80")}, as_built=False)
    assert standing(off) == "8 of 9 as expected, 1 off"
    assert build_verdict(off) is Verdict.MARGINAL


def test_a_reading_is_judged_by_the_meter_it_was_read_on() -> None:
    bench = bench_of(judged(tolerance="0 %"))
    text = {Point("voltage", at=A): read_taken("4.99 V", "voltage", HANDHELD)}
    mine = {Point("voltage", at=A): read_taken("4.99 V", "voltage")}
    assert go_round(bench, BENCH, text).count("as expected") == 1
    assert go_round(bench, BENCH, mine).count("as expected") == 0


def test_a_prefix_that_is_forgotten_is_said() -> None:
    bench = bench_of(judged())
    whole = Point("current", supply=True)
    found = go_round(bench, HANDHELD, {whole: read_taken("0.212", "current")})
    assert hint(found.steps[-1]) == "212 µA would be as expected: is it the prefix?"


def test_a_low_current_tells_what_hides() -> None:
    _, stated = read_stated({"network": "R1=60", "supply_v": "3 V", "tolerance": "0 %"})
    assert stated is not None
    bench = bench_of(stated.weighed())
    whole = Point("current", supply=True)
    found = go_round(bench, HANDHELD, {whole: read_taken("45 mA", "current")})
    assert found.hidden is not None
    # By hand: 3 V / 45 mA − 60 Ω = 6.667 Ω, of it the 60 mA range's 2 Ω
    assert found.hidden.ohms == pytest.approx(6.6667, rel=1e-4)
    assert found.hidden.rest_ohms == pytest.approx(4.6667, rel=1e-4)
    assert go_round(bench, HANDHELD, {whole: read_taken("52 mA", "current")}).hidden is None


def test_what_no_bench_supply_drives_is_measured_with_the_power_off() -> None:
    need = read_brief("resistance", {"target_ohm": "250", "use": "20 mA"}).need
    assert need is not None
    loop = bench_of(weigh(need, series_parallel("R1=150 + R2=100")).judged)
    assert not loop.powered
    assert loop.why == "A current feeds it: it is measured with the power off"
    assert [p.kind for p in points_of(loop)] == ["resistance"] * 3
    pair = read_brief("feedback", {"target_v": "3.3 V", "reference_v": "0.8 V"}).need
    assert pair is not None
    fed = bench_of(weigh(pair, series_parallel("R1=316k + @FB + R2=100k")).judged)
    assert "The regulator drives this pair" in fed.why
    assert not fed.powered


def test_what_to_do_is_said_for_every_kind() -> None:
    bench = bench_of(judged())
    words = [doing(bench.box.circuit, s) for s in go_round(bench, IDEAL, {}).steps]
    assert words[0] == "Power off. R1 out of the circuit, one lead on each of its ends."
    assert words[4] == "Built, supply disconnected, loads off. One lead on in, the other on 0."
    assert words[6] == "Power on. Red lead on A, black on 0."
    assert words[8].startswith("Power off, open the supply's wire, the meter into it")


def test_too_many_points_are_refused() -> None:
    box = bench_of(judged()).box
    bench = Bench(box, powered=True)
    with pytest.raises(TooLargeError, match="201 points is too long to be walked: up to 200"):
        go_round(bench, IDEAL, {}, points=[Point("voltage", at=A)] * 201)


def test_a_supply_of_nothing_is_not_powered() -> None:
    found = bench_of(judged(supply_v="0 V"))
    assert not found.powered
    assert found.box.supply == Supply(1.0)
