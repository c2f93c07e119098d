"""A regulator’s feedback pair, weighed."""

import itertools
import math

import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.feedback import FeedbackBrief
from lowfold.core.needs.kinds import (
    read_brief,
)
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.weighing.gate import Gate


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


def feedback(**texts: str) -> FeedbackBrief:
    need = read_brief("feedback", texts).need
    assert isinstance(need, FeedbackBrief)
    return need


def by_name(gates: tuple[Gate, ...]) -> dict[str, Gate]:
    return {g.name: g for g in gates}


PAIR = "R1=100k + @FB + R2=32k"


PINNED = {
    "target_v": "3.4 V",
    "reference_v": "0.8 V",
    "pin_a": "1 µA",
    "reference_tolerance": "1 %",
    "within": "3 %",
}


def test_gates_of_a_feedback_pair() -> None:
    # By hand: 0.8·(1 + 100/32) = 3.3 V; 1 µA · 100 kΩ adds 0.1 V; each part may be off by
    # 1 % + 100 ppm/K · 45 K = 1.45 %
    brief = feedback(**PINNED)
    gates = by_name(brief.weigh([network(PAIR)])[0].judged.gates)
    assert gates["value"].figure == pytest.approx(0.0, abs=1e-12)
    corners = [
        0.8 * (1 + 0.01 * c) * (1 + 100 * (1 + 0.0145 * a) / (32 * (1 + 0.0145 * b)))
        + 0.1 * (1 + 0.0145 * a)
        for a, b, c in itertools.product((-1, 1), repeat=3)
    ]
    worst = max(corners) / 3.4 - 1
    assert gates["spread"].figure == pytest.approx(worst)
    assert gates["spread"].verdict is Verdict.FAIL
    assert gates["load"].figure == pytest.approx(3.4 / 3.3 - 1)
    # The pin may take what lifts the highest corner to the top of the window, 3.502 V
    top = 0.8 * 1.01 * (1 + 100 * 1.0145 / (32 * 0.9855))
    most = (3.502 - top) / (100e3 * 1.0145)
    assert math.floor(most * 1e9) == 933
    assert gates["load"].notes[0] == (
        "Stays below its upper limit with up to 933 nA into the pin, at worst."
    )
    assert gates["load"].notes[1] == "The pair carries 25 × the pin's current."


def test_worst_powers_of_a_feedback_pair_are_at_the_corner_that_drives_each_leg() -> None:
    brief = feedback(**PINNED)
    judged = brief.weigh([network(PAIR)])[0].judged
    parts = {p.ref: p for p in judged.check.parts}
    held, half = 0.8 * 1.01, 0.0145
    most = held / (32e3 * (1 - half)) + 1e-6
    assert parts["R1"].worst_watts == pytest.approx(most**2 * 100e3 * (1 + half))
    assert parts["R2"].worst_watts == pytest.approx(held**2 / (32e3 * (1 - half)))
    assert parts["R1"].nominal_watts == pytest.approx((26e-6) ** 2 * 100e3)


def test_a_feedback_pair_without_pin_current_states_what_would_pass() -> None:
    gate = by_name(feedback(target_v="3.3 V", reference_v="0.8 V", within="3 %").weigh([network(PAIR)])[0].judged.gates)["load"]  # fmt: skip
    assert gate.verdict is None
    # By hand: the highest corner, 3.3 V and some 3.2 %, is above 3.3 V and 3 % already
    assert gate.notes == ("At its worst the output is high even with no current into the pin.",)
    high = (
        feedback(target_v="3.0 V", reference_v="0.8 V", within="3 %")
        .weigh([network(PAIR)])[0]
        .judged
    )
    assert by_name(high.gates)["load"].notes == (
        "At its worst the output is high even with no current into the pin.",
    )
