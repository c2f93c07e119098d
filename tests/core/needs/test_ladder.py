"""A ladder of taps, weighed."""

import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.kinds import (
    read_brief,
)
from lowfold.core.needs.ladder import LadderBrief
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.weighing.gate import Gate


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


def ladder(**texts: str) -> LadderBrief:
    need = read_brief("ladder", texts).need
    assert isinstance(need, LadderBrief)
    return need


def by_name(gates: tuple[Gate, ...]) -> dict[str, Gate]:
    return {g.name: g for g in gates}


LADDER = {
    "supply_v": "10 V", "tap1_v": "8 V", "tap2_v": "5 V", "within": "5 %",
    "tolerance": "1 %", "tcr": "0 ppm/K",
}  # fmt: skip


def test_gates_of_a_ladder_tell_the_worst_tap() -> None:
    # Common practice, worked by hand in the trade: 2, 3 and 5 on 10 V drop 2, 3 and 5 V
    judged = ladder(**LADDER).weigh([network("2k + @T1 + 3k + @T2 + 5k")])[0].judged
    gates = by_name(judged.gates)
    assert gates["value"].figure == pytest.approx(0.0, abs=1e-15)
    # By hand: T2 is highest at R3 high, R1 and R2 low: 10·5.05/(5.05 + 1.98 + 2.97)
    assert abs(gates["spread"].figure or 0.0) == pytest.approx(5.05 / 5 - 1)
    assert gates["spread"].notes[0].startswith("T2: ")
    assert gates["load"].verdict is None
    assert gates["power"].verdict is Verdict.PASS


def test_a_load_at_one_tap_moves_the_others_and_its_range_is_judged() -> None:
    brief = ladder(**LADDER, tap2_load="50k ± 50 %")
    judged = brief.weigh([network("2k + @T1 + 3k + @T2 + 5k")])[0].judged
    gate = by_name(judged.gates)["load"]

    def tap2(load: float) -> float:
        low = 5e3 * load / (5e3 + load)
        return 10 * low / (5e3 + low)

    assert gate.figure == pytest.approx(tap2(50e3) / 5 - 1)
    # By hand, at the low corner: 4.95 kΩ beside 25 kΩ below 2.02 and 3.03 kΩ
    low = 4.95 * 25 / 29.95
    assert gate.used == pytest.approx((5 - 10 * low / (low + 5.05)) / (0.05 * 5))
    assert gate.verdict is Verdict.FAIL
    nominal = judged.check.outputs[0].spread
    assert nominal.nominal < nominal.unloaded  # T1 moves though nothing hangs there
