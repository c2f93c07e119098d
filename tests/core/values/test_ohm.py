"""Any two of V, I, R and P."""

import itertools

import pytest

from lowfold.core.errors import DomainError
from lowfold.core.values.ohm import any_two

#: By hand: 12 V over 470 Ω, to ten figures.
TRUTH = {"volts": 12.0, "amps": 12 / 470, "ohms": 470.0, "watts": 144 / 470}
RULES = {
    ("volts", "amps"): ("R = V / I", "P = V · I"),
    ("volts", "ohms"): ("I = V / R", "P = V² / R"),
    ("volts", "watts"): ("I = P / V", "R = V² / P"),
    ("amps", "ohms"): ("V = I · R", "P = I² · R"),
    ("amps", "watts"): ("V = P / I", "R = P / I²"),
    ("ohms", "watts"): ("V = √(P · R)", "I = √(P / R)"),
}


@pytest.mark.parametrize("given", list(itertools.combinations(TRUTH, 2)))
def test_any_two_give_the_other_two(given: tuple[str, str]) -> None:
    found = any_two(**{name: TRUTH[name] for name in given})
    assert {name: getattr(found, name) for name in TRUTH} == pytest.approx(TRUTH, rel=1e-12)
    assert found.rules == RULES[given]


@pytest.mark.parametrize(
    ("given", "message"),
    [
        ({"volts": 5.0}, "two of V, I, R and P give the others; 1 are given"),
        ({"volts": 5.0, "ohms": 1.0, "amps": 5.0}, "two of V, I, R and P give the others; 3 are"),
        ({"volts": 0.0, "ohms": 1.0}, "volts must be above 0, got 0"),
        ({"volts": -5.0, "ohms": 1.0}, "volts must be above 0, got -5"),
        ({"volts": 5.0, "ohms": float("inf")}, "ohms must be above 0, got inf"),
    ],
)
def test_what_gives_nothing_is_refused(given: dict[str, float], message: str) -> None:
    with pytest.raises(DomainError, match=message):
        any_two(**given)
