"""Derivations: every line's own arithmetic, and the figure at its end against a plain solver."""

import random
import re
from decimal import Decimal

import pytest

from lowfold.core.errors import LowfoldError
from lowfold.core.folding.derivation import Asked, derivation, written_sum
from lowfold.core.network.circuit import build_circuit, junctions, lifted
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, WATT, Kind, read
from tests.effort import seeds

FIGURE = r"[−0-9.]+ [pnµmkMG]?(?:V|A|Ω|W)"


def figure(text: str) -> float:
    kinds: dict[str, Kind] = {"V": VOLT, "A": AMPERE, "Ω": OHM, "W": WATT}
    return read(text, kinds[text[-1]])


def drawn(
    seed: int,
) -> tuple[str, float, float, float, list[tuple[str, float | None, float | None]]]:
    rng = random.Random(seed)

    def element(depth: int) -> str:
        if depth == 0 or rng.random() < 0.35:
            return rng.choice(["1k", "2k2", "4k7", "330", "10k", "680", "15k"])
        some = [element(depth - 1) for _ in range(rng.randint(2, 3))]
        return f"({(' + ' if rng.random() < 0.5 else ' || ').join(some)})"

    text = f"{element(2)} + @A + {element(2)} + @B + {element(1)}"
    loads: list[tuple[str, float | None, float | None]] = []
    if rng.random() < 0.6:
        loads.append((rng.choice("AB"), rng.choice([None, 22e3]), None))
        at, ohms, _ = loads[0]
        loads[0] = (at, ohms, None if ohms else 1e-5)
    low = rng.choice([0.0, 0.0, -5.0])
    return text, rng.choice([5.0, 12.0, 14.4]), rng.choice([0.0, 0.0, 50.0]), low, loads


@pytest.mark.parametrize("seed", seeds(40))
def test_every_way_ends_at_what_a_solver_finds_and_each_line_is_right(seed: int) -> None:
    text, supply, source, low, hung = drawn(seed)
    circuit = lifted(build_circuit(read_text(text)), low)
    loads = [Load(circuit.node(at), ohms=ohms, amps=amps) for at, ohms, amps in hung]
    found = solve(circuit, supply, source, loads, low)
    rng = random.Random(seed)
    part = rng.choice(found.parts)
    name = rng.choice("AB")
    node = {n.casefold(): k for n, k in junctions(circuit).items()}[name.casefold()]
    wanted = {
        Asked("at", name): found.voltages[node], Asked("through", part.ref): abs(part.amps),
        Asked("across", part.ref): abs(part.volts), Asked("power", part.ref): part.watts,
        Asked("current"): abs(found.supply_amps),
    }  # fmt: skip
    for asked, value in wanted.items():
        lines = derivation(circuit, asked, supply, source, loads, low, digits=6)
        last = re.findall(FIGURE, lines[-1].result)[-1]
        assert abs(figure(last)) == pytest.approx(abs(value), rel=2e-5), asked
        for line in lines:
            told = re.fullmatch(rf"({FIGURE}) ([·/]) ({FIGURE}) = ({FIGURE})", line.substituted)
            if told:
                one, other, gives = (figure(told[k]) for k in (1, 3, 4))
                worked = one * other if told[2] == "·" else one / other
                assert worked == pytest.approx(gives, rel=3e-5), line


@pytest.mark.parametrize("seed", seeds(200))
def test_a_written_sum_adds_up_as_it_stands(seed: int) -> None:
    rng = random.Random(seed)
    scale = 10 ** rng.uniform(-5, 4)
    terms = [rng.uniform(-0.2, 1) * scale for _ in range(rng.randint(2, 5))]
    text = written_sum(terms, VOLT)
    left, right = text.split(" = ")
    added = sum(Decimal(t.replace(" ", "")) for t in re.findall(r"[+-]? ?[0-9.]+",
                left.replace("−", "-")))  # fmt: skip
    assert added == Decimal(right.split()[0].replace("−", "-"))
    assert figure(right) == pytest.approx(sum(terms), rel=2e-3, abs=1e-3 * scale)


def test_a_loaded_divider_by_hand() -> None:
    """56k ‖ 1M = 53.03k, and 200k with it 253.03k; 14.4 V / 253.03k = 56.91 µA, times 53.03k."""
    circuit = build_circuit(read_text("R1=200k + @OUT + R2=56k"))
    loads = [Load(circuit.node("OUT"), ohms=1e6)]
    lines = derivation(circuit, Asked("at", "OUT"), 14.4, 0.0, loads)
    assert [line.substituted for line in lines[:4]] == [
        "56 kΩ ∥ 1 MΩ = 1 ÷ (1/56 kΩ + 1/1 MΩ) = 53.03 kΩ",
        "200 kΩ + 53.03 kΩ = 253 kΩ",
        "14.4 V / 253 kΩ = 56.91 µA",
        "56.91 µA · 53.03 kΩ = 3.018 V",
    ]
    assert lines[-1].result == "V(OUT) = 3.018 V"
    sums = derivation(circuit, Asked("sums"), 14.4, 0.0, loads)
    assert [(s.symbolic, s.substituted) for s in sums] == [
        ("I(R2) + I(L1) = I(R1)", "53.89 + 3.02 = 56.91 µA"),
        ("V(R1) + V(R2) = E", "11.38 + 3.02 = 14.4 V"),
    ]


@pytest.mark.parametrize(
    ("network", "asked", "words"),
    [
        ("R1=1k + @A + R2=2k", Asked("at", "B"), "there is no junction “B”; there are A"),
        ("R1=1k + @A + R2=2k", Asked("through", "R9"), "there is no part “R9”; there are R1, R2"),
        ("R1=1k + S1", Asked("total"), "nothing conducts"),
        ("R1 in a 1k\nR2 a 0 2k\nR3 a b 3k", Asked("through", "R3"), "carries no current"),
    ],
)
def test_what_there_is_no_way_to_is_told(network: str, asked: Asked, words: str) -> None:
    with pytest.raises(LowfoldError) as told:
        derivation(build_circuit(read_text(network)), asked, 12.0)
    assert words in told.value.message
