"""Kirchhoff's laws as checks of a solution."""

from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.network.tree import Element
from lowfold.core.solving.balance import balances
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import Solution, solve
from tests.core.strategies import trees
from tests.effort import cases


def solved(
    text: str, volts: float, source: float = 0.0, loads: tuple[tuple[str, float], ...] = ()
) -> tuple[Circuit, Solution]:
    circuit = build_circuit(read_text(text))
    hung = [Load(circuit.node(at), ohms=ohms) for at, ohms in loads]
    return circuit, solve(circuit, volts, source, hung)


@given(trees(), st.floats(0.1, 100), st.sampled_from([0.0, 0.5, 50.0]))
@cases(60)
def test_kirchhoffs_laws_and_the_power_balance_hold(
    network: Element, volts: float, source: float
) -> None:
    circuit = build_circuit(network)
    found = solve(circuit, volts, source)
    checks = balances(circuit, found, volts)
    assert all(b.holds for b in checks), [b for b in checks if not b.holds]
    assert {b.name.split()[0] for b in checks} == {"junction", "loop", "power"}


def test_balances_notice_a_wrong_solution() -> None:
    circuit, found = solved("1k + @A + 2k", 9.0)
    wrong = Solution(
        found.total_ohms, found.supply_amps * 1.01, found.terminal_volts, found.supply_watts,
        found.parts, found.voltages, found.load_amps, found.held,
    )  # fmt: skip
    failing = {b.name for b in balances(circuit, wrong, 9.0) if not b.holds}
    assert failing == {"junction in", "junction 0"}
