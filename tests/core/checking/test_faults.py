"""Single faults against the same network written with the part gone or replaced by wire."""

import math
import random
from collections.abc import Sequence

import pytest

from lowfold.core.checking.check import check_network
from lowfold.core.checking.faults import (
    MOST_FAULTED,
    Fault,
    faulted_ohms,
    faults_of,
)
from lowfold.core.needs.kinds import read_brief, weigh
from lowfold.core.network.circuit import Circuit, build_circuit
from lowfold.core.network.notation import read_network, read_text
from lowfold.core.network.tree import resistance_where
from lowfold.core.parts.limits import PartLimits
from lowfold.core.solving.nets import Load, nominal_nets
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Supply


def circuit_of(text: str) -> Circuit:
    return build_circuit(read_text(text))


def part_faults(
    circuit: Circuit,
    volts: float,
    source: float = 0.0,
    loads: Sequence[Load] = (),
    rated: Sequence[float | None] = (),
) -> tuple[Fault, ...]:
    faults, _ = faults_of([circuit], {}, nominal_nets(circuit, volts, source, loads))[0]
    refs = [b.ref for b in circuit.branches]
    return tuple(f.rated(refs, rated or [None] * len(refs)) for f in faults)


def one(faults: tuple[Fault, ...], ref: str, mode: str) -> Fault:
    return next(f for f in faults if (f.ref, f.mode) == (ref, mode))


def test_a_divider_whose_legs_fail() -> None:
    # Common practice: a lower leg that opens puts the whole supply on what it feeds
    circuit = circuit_of("R1=10k + @OUT + R2=4k7")
    out = circuit.node("OUT")
    faults = part_faults(circuit, 12.0)
    assert one(faults, "R2", "open").voltages[out] == pytest.approx(12.0)
    assert one(faults, "R2", "short").voltages[out] == pytest.approx(0.0)
    assert one(faults, "R1", "open").voltages[out] == pytest.approx(0.0)
    assert one(faults, "R1", "short").voltages[out] == pytest.approx(12.0)
    assert not any(f.supply_shorted for f in faults)


def test_what_is_left_may_burn() -> None:
    # By hand: 12 V over 10 kΩ alone is 14.4 mW, over 4.7 kΩ alone 30.6 mW
    circuit = circuit_of("R1=10k + @OUT + R2=4k7")
    faults = part_faults(circuit, 12.0, 0.0, (), [0.020, 0.020])
    assert one(faults, "R1", "short").overloaded == ("R2",)
    assert one(faults, "R2", "short").overloaded == ()
    assert one(faults, "R1", "open").overloaded == ()


def test_a_short_across_the_supply() -> None:
    circuit = circuit_of("R1=100 || (R2=1k + @A + R3=1k)")
    shorted = one(part_faults(circuit, 5.0), "R1", "short")
    assert shorted.supply_shorted
    assert shorted.voltages[circuit.node("A")] is None
    weak = one(part_faults(circuit, 5.0, 10.0), "R1", "short")
    assert (weak.supply_shorted, weak.voltages[circuit.node("A")]) == (True, 0.0)


def test_a_junction_left_hanging_on_a_current_load_is_held_at_0_v() -> None:
    circuit = circuit_of("R1=1k + @A + R2=1k")
    at = circuit.node("A")
    faults = part_faults(circuit_of("R1 in A 1000\nR2 in 0 1000"), 5.0, 0.0, [Load(2, amps=1e-3)])
    assert one(faults, "R1", "open").voltages[2] == 0.0
    opened = one(part_faults(circuit, 5.0, 0.0, [Load(at, amps=1e-3)]), "R2", "open")
    assert opened.voltages[at] == pytest.approx(4.0)  # by hand: 5 V − 1 mA · 1 kΩ
    floating = one(part_faults(circuit_of("R1 in A 5\nR2 A B 5\nR3 in 0 5"), 5.0), "R1", "open")
    assert floating.voltages[2] is None


@pytest.mark.parametrize("seed", range(15))
def test_faults_are_what_the_changed_network_solves_to(seed: int) -> None:
    rng = random.Random(seed)
    nodes = ["in", "0", "a", "b", "c"]
    pairs = [(nodes[i], nodes[rng.randrange(i)]) for i in range(1, 5)]
    pairs += [tuple(rng.sample(nodes, 2)) for _ in range(4)]  # type: ignore[misc]
    lines = [f"R{i} {a} {b} {rng.choice([10, 47, 330])}" for i, (a, b) in enumerate(pairs, 1)]
    circuit = circuit_of("\n".join(lines))
    loads = [Load(circuit.node("a"), ohms=100.0)]
    for fault in part_faults(circuit, 9.0, 3.0, loads):
        ref, a, b, _ = next(x.split() for x in lines if x.split()[0] == fault.ref)
        rest = [x for x in lines if x.split()[0] != ref]
        if fault.mode == "short":
            if {a, b} == {"in", "0"}:
                assert fault.supply_shorted
                continue
            rest.append(f"{ref} {a} {b} 0.000001")  # as near to wire as a part may be
        leaks = [f"Rx{n} {n} 0 1000000000" for n in ("in", "a", "b", "c")]  # so that each is there
        changed = circuit_of("\n".join([*rest, *leaks]))
        expected = solve(changed, 9.0, 3.0, [Load(changed.node("a"), ohms=100.0)])
        for name in "abc":
            found = fault.voltages[circuit.node(name)]
            if found is not None and name in changed.names:
                assert found == pytest.approx(expected.voltages[changed.node(name)], abs=1e-4)


def test_a_check_tells_the_faults_or_says_that_it_does_not() -> None:
    circuit = circuit_of("R1=1k + R2=1k")
    limits = PartLimits(rated_watts=0.02)
    found = check_network(circuit, Supply(5.0), default=limits, with_faults=True)
    assert {(f.ref, f.mode) for f in found.faults} == {
        ("R1", "open"), ("R1", "short"), ("R2", "open"), ("R2", "short"),
    }  # fmt: skip
    assert one(found.faults, "R1", "short").overloaded == ("R2",)  # by hand: 25 mW of 20 mW
    assert check_network(circuit, Supply(5.0)).faults == ()
    many = circuit_of(" + ".join(["1k"] * (MOST_FAULTED + 1)))
    long = check_network(many, Supply(5.0), with_faults=True)
    assert long.faults == ()
    assert [c.code for c in long.cautions] == ["faults-not-searched"]


def test_an_output_shorted_leaves_the_upper_leg_with_the_whole_supply() -> None:
    circuit = circuit_of("R1=1k + @OUT + (R2=1k || (R3=1k + @B + R4=1k))")
    # By hand: 12 V over 1 kΩ is 144 mW
    nets = nominal_nets(circuit, 12.0, 0.0, [Load(2, ohms=1e3)])
    _, (found, whole) = faults_of([circuit], {"OUT": 2, "in": 1}, nets)[0]
    found = found.rated(["R1", "R2", "R3", "R4"], [0.125] * 4)
    assert (found.voltages[2], found.voltages[circuit.node("B")]) == (0.0, 0.0)
    assert found.overloaded == ("R1",)
    assert whole.supply_shorted


def test_what_it_feeds_stands_so_much_and_no_more() -> None:
    circuit = circuit_of("R1=10k + @OUT + R2=4k7")
    faults = part_faults(circuit, 12.0)
    assert one(faults, "R2", "open").above({2: 3.6}) == (2,)
    assert one(faults, "R2", "open").above({2: 12.0}) == ()
    assert one(faults, "R1", "open").above({2: 3.6}) == ()


def test_resistance_with_one_part_failed() -> None:
    network = read_network("R1=1k + (R2=2k || R3=2k)")
    # By hand
    assert resistance_where(network, {"R2": math.inf}) == pytest.approx(3000)
    assert resistance_where(network, {"R2": 0.0}) == pytest.approx(1000)
    assert resistance_where(network, {"R1": math.inf}) == math.inf
    assert resistance_where(network, {"R2": math.inf, "R3": math.inf}) == math.inf
    assert resistance_where(read_network("R1=1k || R2=2k"), {"R1": 0.0}) == 0.0
    assert resistance_where(network, {}) == pytest.approx(2000)


@pytest.mark.parametrize(
    "network", ["R1=1k + (R2=2k || R3=2k)", "R1=1k || R2=3k || (R3=1k + R4=5k)"]
)
def test_both_ways_to_a_failed_resistance_agree(network: str) -> None:
    circuit, element = circuit_of(network), read_network(network)
    for place, branch in enumerate(circuit.branches):
        for mode, ohms in (("open", math.inf), ("short", 0.0)):
            by_circuit = faulted_ohms(circuit, place, mode)  # type: ignore[arg-type]
            assert by_circuit == pytest.approx(resistance_where(element, {branch.ref: ohms}))


@pytest.mark.parametrize(
    ("stands", "said"),
    [
        (None, "If R2 opens, OUT goes to 12 V: the whole supply is on what it feeds."),
        (5.0, "If R2 opens, OUT goes to 12 V, above the 5 V that what it feeds stands."),
        (3.6, ""),  # 3.84 V without any fault is too much already: that is said instead
        (15.0, ""),
    ],
)
def test_a_leg_that_fails_is_a_caution(stands: float | None, said: str) -> None:
    found = check_network(
        circuit_of("R1=10k + @OUT + R2=4k7"),
        Supply(12.0),
        outputs=[("OUT", None)],
        with_faults=True,
        stands={"OUT": stands} if stands else None,
    )
    words = [c.message for c in found.cautions if c.code == "leg-fails"]
    assert [w[: len(said)] for w in words] == ([said] if said else [])


def test_a_regulator_without_its_feedback_runs_away() -> None:
    need = read_brief("feedback", {"target_v": "3.6 V", "feeds_v": "3.9 V"}).need
    assert need is not None
    check = weigh(need, read_network("R1=35k + @FB + R2=10k")).judged.check
    output = {(f.ref, f.mode): f.voltages[1] for f in check.faults}
    # By hand: no upper leg, or no lower one but a short, and the pin never sees its reference
    assert output == {
        ("R1", "open"): None,
        ("R1", "short"): pytest.approx(0.8),
        ("R2", "open"): pytest.approx(0.8),
        ("R2", "short"): None,
    }
    said = "If R1 opens, the output rises as high as the regulator can drive it"
    assert [c.message[: len(said)] for c in check.cautions] == [said]
