"""Steps said in the school asked for."""

from lowfold.core.folding.fold import fold
from lowfold.core.folding.words import rule_of, same_of, worked
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_text

LADDER = "R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))"


BRIDGE = "R1 in a 100\nR2 in b 220\nR3 a 0 330\nR4 b 0 150\nR5 a b 47"


def test_steps_are_said_in_the_school_asked_for() -> None:
    series, parallel, _ = fold(build_circuit(read_text(LADDER))).steps
    assert worked(series, "reciprocals") == "1 kΩ + 2.2 kΩ = 3.2 kΩ"
    assert rule_of(series, "product") == "R = R₁ + R₂"
    assert same_of(series) == "No third wire leaves between R2 and R3: they share one current."
    # By hand: 12·3.2/15.2 = 2.526 kΩ; 83.33 + 312.5 = 395.8 µS
    assert worked(parallel, "reciprocals") == "12 kΩ ∥ 3.2 kΩ = 1 ÷ (1/12 kΩ + 1/3.2 kΩ) = 2.526 kΩ"
    assert worked(parallel, "conductances") == (
        "12 kΩ ∥ 3.2 kΩ: 83.33 µS + 312.5 µS = 395.8 µS, so 2.526 kΩ"
    )
    assert worked(parallel, "product", 3) == (
        "12 kΩ ∥ 3.2 kΩ = 12 kΩ · 3.2 kΩ ÷ (12 kΩ + 3.2 kΩ) = 2.53 kΩ"
    )
    assert rule_of(parallel, "product") == "R = R₁·R₂ / (R₁ + R₂)"
    three = fold(build_circuit(read_text("1k || 2k || 3k"))).steps[0]
    assert "1/1 kΩ + 1/2 kΩ + 1/3 kΩ" in worked(three, "product")  # the rule is for two
    star = fold(build_circuit(read_text(BRIDGE))).steps[0]
    assert rule_of(star, "reciprocals") == "Rab = Ra + Rb + Ra·Rb/Rc"
    assert "becomes the delta" in same_of(star)
    assert worked(star, "reciprocals").count(" = ") == 3
