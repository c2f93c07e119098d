"""One's own working: right figures pass, and a slip is told only where it gives that figure."""

import random

import pytest

from lowfold.core.folding.working import Quantity, Typed, check_working
from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from tests.core.folding.test_derivation import drawn
from tests.effort import seeds

LOADED = build_circuit(read_text("R1=200k + @OUT + R2=56k"))
THREE = build_circuit(read_text("R1=120 || R2=220 || R3=330"))
STRING = build_circuit(read_text("R1=1k + R2=2k2"))
ONE_MEG = (Load(LOADED.node("OUT"), ohms=1e6),)

# By hand: each value is what the slip gives.
SLIPS: list[tuple[Circuit, float, tuple[Load, ...], str, Quantity, float, str]] = [
    (LOADED, 14.4, ONE_MEG, "R2", "v", 3.15, "without the load"),  # 14.4·56/256
    (LOADED, 14.4, ONE_MEG, "R1", "v", 3.018, "the other leg"),
    (LOADED, 14.4, (), "R2", "i", 14.4 / 56e3, "the whole supply over this part alone"),
    (LOADED, 14.4, (), "total_ohm", "r", 43750.0, "all in parallel"),
    (THREE, 6.0, (), "total_ohm", "r", 670.0, "all in series"),
    (THREE, 6.0, (), "total_ohm", "r", 1 / 62.857, "the reciprocal is not taken"),
    (THREE, 6.0, (), "total_ohm", "r", 120 * 220 * 330 / 670, "product over sum is for two"),
    (STRING, 5.0, (), "R1", "p", 1.5625**2 * 1e3, "V²·R in place of V²/R"),
    (STRING, 5.0, (), "R1", "i", 1.5625, "a power of ten"),
    (STRING, 5.0, (), "R2", "v", 1.5625, "the other leg"),
]  # fmt: skip


@pytest.mark.parametrize(("circuit", "supply", "loads", "ref", "quantity", "value", "slip"), SLIPS)
def test_a_slip_is_told_that_gives_the_figure(
    circuit: Circuit,
    supply: float,
    loads: tuple[Load, ...],
    ref: str,
    quantity: Quantity,
    value: float,
    slip: str,
) -> None:
    (found,) = check_working(circuit, [Typed(ref, quantity, value, 0.0)], supply, 0.0, loads)
    assert found.judged == "wrong"
    assert slip in found.slip


def test_what_follows_from_a_wrong_start_is_not_counted_twice() -> None:
    typed = [Typed("R1", "i", 2e-3, 0.0), Typed("R1", "v", 2.0, 0.0), Typed("R1", "p", 4e-3, 0.0)]
    found = check_working(STRING, typed, 5.0)
    assert [f.judged for f in found] == ["wrong", "follows", "follows"]
    assert found[0].slip == ""  # no slip gives 2 mA


def test_few_figures_are_near_and_those_of_its_own_places_right() -> None:
    typed = [Typed("R1", "i", 1.6e-3, 5e-5), Typed("R1", "i", 1.56e-3, 5e-6)]
    near, right = check_working(STRING, typed, 5.0)
    assert (near.judged, right.judged) == ("near", "right")
    assert "1.563 mA" in near.slip


@pytest.mark.parametrize("seed", seeds(40))
def test_right_figures_are_right_whatever_the_network(seed: int) -> None:
    text, supply, source, _, hung = drawn(seed)
    circuit = build_circuit(read_text(text))
    loads = [Load(circuit.node(at), ohms=ohms, amps=amps) for at, ohms, amps in hung]
    found = solve(circuit, supply, source, loads)
    rng = random.Random(seed)
    names: tuple[Quantity, ...] = ("v", "i", "p", "r")
    typed = [
        Typed(p.ref, q, float(f"{v * rng.choice([1, -1]):.4g}"), 0.0)
        for p in found.parts
        for q, v in zip(names, (p.volts, p.amps, p.watts, p.ohms), strict=True)
    ]
    judged = check_working(circuit, typed, supply, source, loads)
    assert [f.judged for f in judged] == ["right"] * len(typed)
    for wrong in check_working(
        circuit,
        [Typed(p.ref, "v", p.volts * 1.37, 0.0) for p in found.parts],
        supply,
        source,
        loads,
    ):
        assert wrong.judged in {"wrong", "near"}
        if "across" in wrong.slip:
            other = wrong.slip.split("across ")[1].split(":")[0]
            there = {p.ref: abs(p.volts) for p in found.parts}
            there |= {"L1": abs(found.voltages[loads[0].at])} if loads else {}
            if other in there:
                assert abs(wrong.value) == pytest.approx(there[other], rel=0.011)
