"""A weighed network looked into: contributions, lines and what fails, against closed forms."""

import math

import numpy as np
import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import TooLargeError
from lowfold.core.needs.kinds import BriefKind, read_brief, weigh
from lowfold.core.network.notation import read_network
from lowfold.core.sheet import opened
from lowfold.core.sheet.opened import contributions_of, look_into, scatters_of
from lowfold.core.tolerance.loadline import Passing
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, Kind, axis_unit
from lowfold.core.weighing.choice import Judged
from lowfold.core.weighing.gate import Gate
from lowfold.core.weighing.gate_words import passing_words, times

STILL = {"tcr": "0 ppm/K", "low_c": "25 °C", "high_c": "25 °C"}


def judged(kind: BriefKind, texts: dict[str, str], text: str) -> Judged:
    need = read_brief(kind, STILL | texts).need
    assert need is not None
    return weigh(need, read_network(text)).judged


def test_what_contributes_to_a_regulated_output() -> None:
    texts = {
        "target_v": "3.6 V", "within": "3 %", "reference_v": "0.8 V", "pin_a": "1 µA",
        "reference_tolerance": "2 %", "tolerance": "1 %",
    }  # fmt: skip
    pair = judged("feedback", texts, "R1=35k + @FB + R2=10k")
    moves = {c.name: c.moves for c in contributions_of(pair)}
    # By hand: dV = dRU·(Vref/RL + Ipin), −RU·Vref/RL²·dRL, dVref·(1 + RU/RL)
    assert moves == {
        "R1": pytest.approx(350 * (80e-6 + 1e-6)),
        "R2": pytest.approx(-35e3 * 80e-6 * 0.01),
        "reference": pytest.approx(0.016 * 4.5),
    }
    # The share is of the accepted 3 % of 3.6 V
    assert contributions_of(pair)[0].share == pytest.approx(350 * 81e-6 / 0.108)


def test_what_contributes_to_a_resistance_and_how_it_fails() -> None:
    found = look_into(
        judged("resistance", {"target_ohm": "250", "tolerance": "2 %"}, "R1=150 + R2=100")
    )
    assert [(c.name, c.kind) for c in found.contributions] == [("R1", OHM), ("R2", OHM)]
    assert [c.moves for c in found.contributions] == pytest.approx([3.0, 2.0])
    failed = [(ref, mode) for ref, mode, _ in found.failed_ohms]
    assert failed == [("R1", "open"), ("R1", "short"), ("R2", "open"), ("R2", "short")]
    assert [x for *_, x in found.failed_ohms] == pytest.approx([math.inf, 100.0, math.inf, 150.0])


@pytest.mark.parametrize(
    ("load", "names"),
    [
        ("none", []),
        ("100k ± 0 %", ["nominal", "open"]),
        ("100k ± 20 %", ["nominal", "lightest", "heaviest", "open"]),
        ("at least 100k", ["nominal", "open"]),
    ],
)
def test_a_load_line_reaches_beyond_its_loads_and_what_passes(load: str, names: list[str]) -> None:
    texts = {"supply_v": "12 V", "target_v": "4 V", "within": "10 %", "load": load}
    curve = look_into(judged("divider", texts, "R1=20k + @OUT + R2=10k")).curves[0]
    assert [point[0] for point in curve.points] == names
    # By hand: 4 V behind 6.67 kΩ leaves 3.6 V at 60 µA
    assert curve.leaves == pytest.approx(60e-6)
    assert curve.x[-1] > 60e-6
    assert (curve.lowest <= curve.nominal).all()
    assert (curve.nominal <= curve.highest).all()
    assert [m.ohms for m in curve.meters] == [10e6, 1e6, 200e3]
    # By hand: past a load that draws I the lower leg carries (4 V − I · 6.67 kΩ) / 10 kΩ
    assert curve.stiff == (pytest.approx(0.4e-3 / (10 + 2 / 3)) if names else None)
    for name, _, stated, x, y in curve.points:
        if name == "open":
            assert [x, y] == pytest.approx([0.0, 4.0])
            continue
        assert y == pytest.approx(4 * stated / (stated + 20e3 / 3))
        assert x == pytest.approx(y / stated)


def test_a_regulated_output_rises_with_the_current_into_its_pin() -> None:
    texts = {"target_v": "3.6 V", "within": "5 %", "reference_v": "0.8 V", "pin_a": "1 µA",
             "reference_tolerance": "1 %", "tolerance": "1 %"}  # fmt: skip
    found = judged("feedback", texts, "R1=35k + @FB + R2=10k")
    curve = look_into(found).curves[0]
    # By hand: 3.6 V without it, 35 mV more for every microampere; 3.78 V is reached at 5.14 µA
    assert curve.nominal[0] == pytest.approx(3.6)
    assert curve.leaves == pytest.approx(0.18 / 35e3)
    assert curve.points[0][2:] == pytest.approx((1e-6, 1e-6, 3.635))
    at = int(np.argmin(np.abs(curve.x - 1e-6)))
    slack = 1.1 * 35e3 * abs(float(curve.x[at]) - 1e-6) + 1e-12
    assert curve.lowest[at] == pytest.approx(found.marks[0].lowest, abs=slack)
    assert curve.highest[at] == pytest.approx(found.marks[0].highest, abs=slack)


def test_a_resistance_falls_by_what_lies_beside_it() -> None:
    texts = {"target_ohm": "250", "within": "2 %", "load": "100k", "tolerance": "0.5 %"}
    curve = look_into(judged("resistance", texts, "R1=150 + R2=100")).curves[0]
    # By hand: 245 Ω is left beside 250·245/5 = 12.25 kΩ
    assert curve.leaves == pytest.approx(12250.0)
    assert curve.points[0][3:] == pytest.approx((1e5, 250e5 / 100250))
    assert curve.nominal[-1] == pytest.approx(250.0, rel=1e-3)
    assert curve.highest[-1] == pytest.approx(251.25, rel=1e-3)


def test_samples_of_every_kind_lie_between_its_corners() -> None:
    cases: list[tuple[BriefKind, dict[str, str], str]] = [
        ("resistance", {"target_ohm": "250"}, "R1=150 + R2=100"),
        ("divider", {"supply_v": "12 V", "target_v": "4 V"}, "R1=20k + @OUT + R2=10k"),
        ("feedback", {"target_v": "3.6 V", "reference_v": "0.8 V"}, "R1=35k + @FB + R2=10k"),
        ("ladder", {"tap1_v": "3 V", "tap2_v": "1 V"}, "R1=20k + @T1 + R2=20k + @T2 + R3=10k"),
    ]
    for kind, texts, text in cases:
        for mark, scatter in scatters_of(judged(kind, texts, text), 5_000, "uniform"):
            assert mark.lowest <= scatter.edges[0]
            assert scatter.edges[-1] <= mark.highest
            assert scatter.mean == pytest.approx(mark.nominal, rel=2e-3)


@pytest.mark.parametrize(
    ("passing", "amps", "words"),
    [
        (None, True, "no load brings it into the window"),
        (Passing(0.0, 60e-6, 60e3, math.inf), True, "passes up to 60.0 µA"),
        (Passing(0.0, 60e-6, 60e3, math.inf), False, "passes from 60.0 kΩ up"),
        (Passing(1e-6, 60e-6, 60e3, 4e6), True, "passes from 1.00 µA to 60.0 µA"),
        (Passing(1e-6, 60e-6, 60e3, 4e6), False, "passes from 60.0 kΩ up to 4.00 MΩ"),
        (Passing(0.0, math.inf, 0.0, math.inf), True, "passes with any load"),
        # A limit is rounded to its safe side: 1.105 µA would fail as 1.11
        (Passing(1.104e-6, 1.106e-6, 1e3, math.inf), True, "passes from 1.11 µA to 1.10 µA"),
        (Passing(0.0, 0.0, math.inf, math.inf), False, "passes with no load only"),
    ],
)
def test_passing_loads_in_words(passing: Passing | None, amps: bool, words: str) -> None:  # noqa: FBT001
    assert passing_words(passing, amps=amps) == words


@pytest.mark.parametrize(
    ("ratio", "text"),
    [(0.5, "0.5 ×"), (17.93, "17.9 ×"), (999.6, "1\u202f000 ×"), (5764, "5\u202f760 ×")],
)
def test_ratios_in_words(ratio: float, text: str) -> None:
    assert times(ratio) == text


@pytest.mark.parametrize(
    ("largest", "kind", "factor", "unit"),
    [
        (80e-6, AMPERE, 1e6, "µA"), (3.2, VOLT, 1.0, "V"), (4.7e3, OHM, 1e-3, "kΩ"),
        (0.9999, VOLT, 1.0, "V"), (0.02, FRACTION, 100.0, "%"), (0.0, VOLT, 1.0, "V"),
    ],
)  # fmt: skip
def test_axes_are_marked_in_the_unit_of_their_end(
    largest: float, kind: Kind, factor: float, unit: str
) -> None:
    assert axis_unit(largest, kind) == (factor, unit)
    assert np.isfinite(factor * largest)


@pytest.mark.parametrize(
    ("used", "verdict", "words"),
    [
        (None, None, ""),
        (0.25, Verdict.PASS, "75\u00a0% left"),
        (0.954, Verdict.MARGINAL, "4.6\u00a0% left"),
        (1.0, Verdict.MARGINAL, "0\u00a0% left"),
        (1.217, Verdict.FAIL, "22\u00a0% over"),
        (6.22, Verdict.FAIL, "520\u00a0% over"),
        (31.2, Verdict.FAIL, "31.2 × what is allowed"),
        (12681.0, Verdict.FAIL, "12\u202f700 × what is allowed"),
        (math.inf, Verdict.FAIL, "nothing is allowed"),
    ],
)
def test_the_margin_of_a_gate_in_words(
    used: float | None, verdict: Verdict | None, words: str
) -> None:
    gate = Gate("spread", verdict, 0.01, FRACTION, 0.03, "at worst", used, lambda: ())
    assert gate.margin == words


def test_all_else_is_told_where_a_load_line_would_take_too_much(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    def refused(*_: object) -> None:
        msg = "the worst case of 40 values has too many corners"
        raise TooLargeError(msg)

    monkeypatch.setattr(opened, "load_line", refused)
    texts = {"supply_v": "12 V", "target_v": "4 V", "within": "10 %"}
    found = look_into(judged("divider", texts, "R1=20k + @OUT + R2=10k"))
    assert found.curves == ()
    assert found.undrawn == (
        "No load line of OUT: the worst case of 40 values has too many corners.",
    )
    assert len(found.scatters) == 1
