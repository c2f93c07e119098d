"""What one says in the head."""

import math
import random

import pytest

from lowfold.core.folding.ballpark import ballpark, rounded
from lowfold.core.folding.fold import Folding, fold
from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_text


def circuit_of(text: str, closed: tuple[str, ...] = ()) -> Circuit:
    return build_circuit(read_text(text), closed)


def estimates(folding: Folding) -> list[float]:
    return [b.estimate for b in ballpark(folding)]


def test_the_ballpark_is_what_one_says_in_the_head() -> None:
    # Common practice: two parts whose ratio is n : 1 in parallel give n/(n+1) of the smaller
    assert estimates(fold(circuit_of("1k || 3k"))) == [750.0]
    assert estimates(fold(circuit_of("1k || 10k"))) == [1000.0]
    assert estimates(fold(circuit_of("1k + 47"))) == [1000.0]
    assert estimates(fold(circuit_of("100 || 100 || 100"))) == [pytest.approx(33.3, rel=0.01)]
    assert rounded(6800) == 7000
    assert rounded(0.0218) == pytest.approx(0.02)
    rng = random.Random(7)
    for _ in range(40):
        circuit = circuit_of(
            f"({rng.randint(10, 999)} || {rng.randint(10, 999)}) + {rng.randint(10, 999)}"
        )
        for b in ballpark(fold(circuit)):
            assert abs(b.off) < 0.35
            assert math.isfinite(b.estimate)


def test_exactly_a_tenth_does_not_count_and_a_little_more_does() -> None:
    # Common practice: in series a tenth or less is left out, in parallel ten times or more
    series = ballpark(fold(circuit_of("10k + 1k")))[0]
    assert (series.estimate, series.how) == (10e3, "add; a tenth or less does not count")
    assert estimates(fold(circuit_of("10k + 1k5"))) == [pytest.approx(11.5e3)]
    assert estimates(fold(circuit_of("10k || 1k"))) == [1e3]
    assert estimates(fold(circuit_of("9k || 1k"))) == [pytest.approx(900.0)]
