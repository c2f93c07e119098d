"""Unfolding: Kirchhoff's laws on the way back, step by step."""

import math
import random

import pytest

from lowfold.core.folding.fold import Folding, fold
from lowfold.core.folding.unfold import Unfolding, unfold
from lowfold.core.network.circuit import GROUND, SUPPLY, build_circuit
from lowfold.core.network.notation import read_text


def random_text(rng: random.Random, parts: int) -> str:
    if parts == 1:
        return f"{rng.choice([1, 2.2, 4.7, 10, 33, 100])}"
    split = rng.randint(1, parts - 1)
    kind = rng.choice([" + ", " || "])
    return f"({random_text(rng, split)}{kind}{random_text(rng, parts - split)})"


def both(text: str, volts: float, source: float = 0.0) -> tuple[Folding, Unfolding]:
    folding = fold(build_circuit(read_text(text)))
    found = unfold(folding, volts, source)
    assert found is not None
    return folding, found


@pytest.mark.parametrize("seed", range(20))
def test_steps_share_what_they_say_and_powers_add_up(seed: int) -> None:
    rng = random.Random(seed)
    folding, found = both(random_text(rng, rng.randint(2, 12)), 12.0, rng.choice([0.0, 3.0]))
    carried = {found.whole.ref: found.whole}
    for step in found.steps:
        result = carried[step.step.results[0].ref]
        if step.shared == "current":
            assert {round(abs(m.amps), 12) for m in step.members} == {round(abs(result.amps), 12)}
            total = math.fsum(abs(m.volts) for m in step.members)
            assert total == pytest.approx(abs(result.volts))
        else:
            for m in step.members:
                assert abs(m.volts) == pytest.approx(abs(result.volts))
            assert math.fsum(abs(m.amps) for m in step.members) == pytest.approx(abs(result.amps))
        watts = math.fsum(m.watts for m in step.members)
        assert watts == pytest.approx(result.watts)
        carried |= {m.ref: m for m in step.members}
    assert math.fsum(p.watts for p in found.parts) == pytest.approx(found.whole.watts)
    assert [p.ref for p in found.parts] == [e.ref for e in folding.start]
    assert found.volts[GROUND] == 0.0
    assert found.volts[SUPPLY] == pytest.approx(abs(found.whole.volts))


def test_a_star_is_unfolded_from_the_voltages_of_its_ends() -> None:
    # A balanced bridge, by hand: both middles at 2/3 of 9 V, nothing in the fifth part
    text = "R1 in a 100\nR2 in b 200\nR3 a 0 200\nR4 b 0 400\nR5 a b 47"
    _, found = both(text, 9.0)
    parts = {p.ref: p for p in found.parts}
    assert parts["R5"].amps == pytest.approx(0.0, abs=1e-15)
    assert parts["R3"].volts == pytest.approx(6.0)
    assert parts["R4"].volts == pytest.approx(6.0)
    assert found.steps[-1].shared == "junction voltages"
    assert found.steps[-1].amount is None


def test_rules_name_where_a_figure_came_from() -> None:
    _, found = both("R1=1k + (R2=2k || R3=2k)", 6.0)
    rules = {p.ref: p.rule for p in found.parts}
    assert rules == {
        "R1": "I of F2, V = I · R", "R2": "V of F1, I = V / R", "R3": "V of F1, I = V / R",
    }  # fmt: skip
    assert found.whole.rule == "I = E / R"
    assert both("R1=1k + R2=1k", 6.0, 5.0)[1].whole.rule == "I = E / (r + R)"


def test_a_supply_turned_round_turns_every_sign() -> None:
    _, plus = both("R1=1k + (R2=2k || R3=3k)", 5.0)
    _, minus = both("R1=1k + (R2=2k || R3=3k)", -5.0)
    for a, b in zip(plus.parts, minus.parts, strict=True):
        assert (a.volts, a.amps, a.watts) == pytest.approx((-b.volts, -b.amps, b.watts))
