"""Why two parts are in series, in parallel or neither."""

from lowfold.core.folding.fold import fold
from lowfold.core.folding.relation import relation
from lowfold.core.folding.words import same_of
from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load


def circuit_of(text: str, closed: tuple[str, ...] = ()) -> Circuit:
    return build_circuit(read_text(text), closed)


BRIDGE = "R1 in a 100\nR2 in b 220\nR3 a 0 330\nR4 b 0 150\nR5 a b 47"


def why(text: str, one: str, two: str, loads: tuple[str, ...] = ()) -> tuple[str, str]:
    circuit = circuit_of(text)
    folding = fold(circuit, [Load(circuit.node(at), ohms=1e3) for at in loads])
    found = relation(folding.start, folding.titles, one, two)
    return found.kind, found.reason


def test_a_current_load_between_two_parts_is_a_wire_that_leaves() -> None:
    circuit = circuit_of("R1=1k + @A + R2=2k")
    folding = fold(circuit, [Load(circuit.node("A"), amps=2e-3)])
    found = relation(folding.start, folding.titles, "R1", "R2", folding.drawn)
    assert found.kind == "neither"
    assert found.reason.startswith("They meet at A, but L1 also leaves there")
    assert same_of(folding.steps[0]) == (
        "With L1 set aside, which draws its current between R1 and R2 and is no resistance, they "
        "add; under load their currents differ."
    )


def test_why_two_parts_are_in_series_in_parallel_or_neither() -> None:
    text = "R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))"
    assert why(text, "R2", "R3")[0] == "series"
    kind, reason = why(text, "R1", "R2")
    assert kind == "neither"
    assert reason.startswith("They meet at A, but R4 also leaves there")
    assert why("1k || 2k", "R1", "R2") == (
        "parallel", "R1 and R2 both lie between 0 and in: they share their voltage.",
    )  # fmt: skip
    # The commonest mistake: a branch leaves between them
    assert why("R1=1k + @OUT + R2=2k", "R1", "R2")[0] == "series"
    assert why("R1=1k + @OUT + R2=2k", "R1", "R2", ("OUT",))[0] == "neither"
    assert why("R1=1k + R2=1k + R3=1k", "R1", "R3")[1].startswith(
        "No third wire leaves between R1 and R3 through R2"
    )
    assert why(BRIDGE, "R1", "R4") == ("neither", "They share no junction: R1 from in to a; R4 from b to 0.")  # fmt: skip
