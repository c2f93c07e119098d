"""Networks whose low end lies at another voltage than 0 V, against node equations of our own.

The expected values come from a nodal solution written here (Kirchhoff's current law, solved by
numpy), with every current load tried in each of its three states, at every corner of the box and
at points inside it.
"""

import itertools
import random
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt
import pytest

from lowfold.core.bench.expect import expect
from lowfold.core.bench.models import MeterModel, Range
from lowfold.core.bench.points import point_named
from lowfold.core.bench.predict import Board, Model, Probe
from lowfold.core.checking import survey as surveying
from lowfold.core.checking.check import check_network
from lowfold.core.checking.survey import Asked, survey
from lowfold.core.network.circuit import Circuit, build_circuit, junctions, lifted, lowered
from lowfold.core.network.notation import read_text
from lowfold.core.parts.limits import PartLimits
from lowfold.core.solving.balance import balances
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance import corners as cornering
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.extremes import extremes
from lowfold.core.tolerance.sampling import sampled
from lowfold.core.tolerance.spread import sensitivities

FloatArray = npt.NDArray[np.float64]
VALUES = (100.0, 330.0, 1e3, 4.7e3, 22e3)


def _fits(
    states: Sequence[str], loads: Sequence[Load], volts: FloatArray, inflow: FloatArray
) -> bool:
    """Return whether each current load is in the state that was taken."""
    return all(
        (state == "fed" and volts[x.at] > -1e-12)
        or (state == "idle" and volts[x.at] < 1e-12)
        or (state == "held" and -1e-15 <= inflow[x.at] <= (x.amps or 0.0) + 1e-15)
        for state, x in zip(states, loads, strict=True)
    )


def _conductances(circuit: Circuit, ohms: Sequence[float], loads: Sequence[Load]) -> FloatArray:
    matrix = np.zeros((circuit.nodes,) * 2)
    for b, r in zip(circuit.branches, ohms, strict=True):
        for one, two in ((b.a, b.b), (b.b, b.a)):
            matrix[one, one] += 1 / r
            matrix[one, two] -= 1 / r
    for x in loads:
        if x.ohms is not None:
            matrix[x.at, x.at] += 1 / x.ohms
    return matrix


def nodal(
    circuit: Circuit,
    ohms: Sequence[float],
    supply: Supply,
    loads: Sequence[Load],
    emf: float | None = None,
) -> FloatArray:
    """Solve by trying every load fed, held at 0 V and idle below it; (nodes,) V."""
    drawn = [k for k, x in enumerate(loads) if x.amps is not None]
    volts = supply.volts if emf is None else emf
    matrix, entering = _conductances(circuit, ohms, loads), np.zeros(circuit.nodes)
    given = {0: 0.0, circuit.low: supply.low_volts}
    if supply.source_ohms:
        matrix[1, 1] += 1 / supply.source_ohms
        entering[1] += volts / supply.source_ohms
    else:
        given[1] = volts
    for states in itertools.product(("fed", "held", "idle"), repeat=len(drawn)):
        right, held = entering.copy(), dict(given)
        for state, k in zip(states, drawn, strict=True):
            if state == "fed":
                right[loads[k].at] -= loads[k].amps or 0.0
            elif state == "held":
                held.setdefault(loads[k].at, 0.0)
        left, known = matrix.copy(), right.copy()
        for node, v in held.items():
            left[node], known[node] = np.eye(circuit.nodes)[node], v
        found: FloatArray = np.asarray(np.linalg.solve(left, known), dtype=np.float64)
        if _fits(states, [loads[k] for k in drawn], found, right - matrix @ found):
            return found
    pytest.fail("no state of the loads fits")


def random_box(seed: int, most_loads: int = 2) -> tuple[Box, list[str]]:
    chance = random.Random(seed)
    inner = [f"N{k}" for k in range(chance.randint(2, 3))]
    way = ["in", *inner, "0"]
    ends = [*itertools.pairwise(way)]
    ends += [tuple(chance.sample(way, 2)) for _ in range(chance.randint(0, 2))]  # type: ignore[misc]
    text = "\n".join(f"R{k} {a} {b} {chance.choice(VALUES)}" for k, (a, b) in enumerate(ends, 1))
    supply = Supply(
        chance.choice([3.3, 5.0, 12.0]),
        chance.choice([0.0, 0.05]),
        chance.choice([0.0, 0.0, 50.0]),
        chance.choice([-12.0, -5.0, -0.3, 1.2, 2.5]),
    )
    circuit = lifted(build_circuit(read_text(text)), supply.low_volts)
    loads = []
    for name in chance.sample(inner, chance.randint(0, most_loads)):
        at = circuit.node(name)
        if chance.random() < 0.4:
            r = chance.choice([470.0, 10e3])
            loads.append(LoadRange(Load(at, ohms=r), 0.8 * r, 1.3 * r))
        else:
            i = chance.choice([1e-4, 1e-3, 2e-2])
            loads.append(LoadRange(Load(at, amps=i), chance.choice([0.0, i / 2, i]), 1.2 * i))
    halves = tuple(chance.choice([0.01, 0.1]) for _ in circuit.branches)
    return Box(circuit, supply, tuple(loads), halves), inner


def at_point(box: Box, place: Sequence[float]) -> tuple[FloatArray, list[float]]:
    """Solve a box at a point, every value from 0 (low) to 1 (high); V, and each part's Ω."""
    parts = len(box.half_widths)
    ohms = [
        b.ohms * (1 + h * (2 * x - 1))
        for b, h, x in zip(box.circuit.branches, box.half_widths, place[:parts], strict=True)
    ]
    loads = []
    for r, x in zip(box.loads, place[parts:-1], strict=True):
        value = r.low + x * (r.high - r.low)
        ohmic = r.load.ohms is not None
        loads.append(Load(r.load.at, ohms=value) if ohmic else Load(r.load.at, amps=value))
    emf = box.supply.volts * (1 + box.supply.tolerance * (2 * place[-1] - 1))
    return nodal(box.circuit, ohms, box.supply, loads, emf), ohms


@pytest.mark.parametrize("seed", range(30))
def test_a_network_between_two_supplies_is_solved_as_its_node_equations_say(seed: int) -> None:
    box, _ = random_box(seed)
    supply, loads = box.supply, box.nominal_loads
    found = solve(box.circuit, supply.volts, supply.source_ohms, loads, supply.low_volts)
    expected = nodal(box.circuit, [b.ohms for b in box.circuit.branches], supply, loads)
    assert found.voltages == pytest.approx(expected, rel=1e-9, abs=1e-9)
    every = balances(box.circuit, found, supply.volts, loads, supply.low_volts)
    assert all(b.holds for b in every), [b for b in every if not b.holds]


@pytest.mark.parametrize("seed", range(100, 114))
@pytest.mark.parametrize("way", ["all corners", "by signs"])
def test_extremes_between_two_supplies_are_those_of_all_corners(
    seed: int, way: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    if way == "by signs":  # as with many values, where the corners are chosen by signs
        monkeypatch.setattr(cornering, "FEW_STEPS", 0)
        monkeypatch.setattr(surveying, "small", lambda _: False)
    box, inner = random_box(seed)
    count = len(box.half_widths) + len(box.loads) + 1
    chance = random.Random(seed)
    corners = list(itertools.product((0.0, 1.0), repeat=count))
    corners = corners if len(corners) <= 128 else chance.sample(corners, 128)
    inside = [tuple(chance.random() for _ in range(count)) for _ in range(30)]
    solved = [at_point(box, place) for place in (*corners, *inside)]
    found = survey([box], Asked(tuple(inner)))[0]
    scale = abs(box.supply.volts) + abs(box.supply.low_volts)
    volts = np.array([v for v, _ in solved])
    whole = len(corners) == 2**count and not found.starving
    for name, spread in zip(inner, found.outputs, strict=True):
        met = volts[:, box.circuit.node(name)]
        assert met.min() >= spread.lowest - 1e-7 * scale
        assert met.max() <= spread.highest + 1e-7 * scale
        if whole:
            assert met.min() == pytest.approx(spread.lowest, abs=1e-9 * scale)
            assert met.max() == pytest.approx(spread.highest, abs=1e-9 * scale)
    for place, worst in enumerate(found.powers):
        branch = box.circuit.branches[place]
        met_watts = max((v[branch.a] - v[branch.b]) ** 2 / ohms[place] for v, ohms in solved)
        assert met_watts <= worst.watts * (1 + 1e-7) + 1e-12


@pytest.mark.parametrize("seed", range(200, 208))
def test_how_an_output_follows_each_value_is_the_derivative(seed: int) -> None:
    box, inner = random_box(seed, most_loads=1)
    node = box.circuit.node(inner[0])
    nominal = [b.ohms for b in box.circuit.branches]
    loads, supply = box.nominal_loads, box.supply
    volts = nodal(box.circuit, nominal, supply, loads)[node]
    if abs(volts) < 1e-6:
        pytest.skip("no relative derivative at 0 V")
    step = 1e-6
    for place, found in enumerate(sensitivities(box, node)[: len(nominal)]):
        ends = []
        for sign in (1, -1):
            moved = [r * (1 + sign * step) if k == place else r for k, r in enumerate(nominal)]
            ends.append(nodal(box.circuit, moved, supply, loads)[node])
        assert found.relative == pytest.approx((ends[0] - ends[1]) / (2 * step) / volts, abs=1e-5)
    risen, fallen = (
        nodal(box.circuit, nominal, supply, loads, supply.volts * (1 + s * step))[node]
        for s in (1, -1)
    )
    of_supply = sensitivities(box, node)[-1]
    assert of_supply.relative == pytest.approx((risen - fallen) / (2 * step) / volts, abs=1e-5)


def test_a_loaded_divider_between_two_supplies_by_hand() -> None:
    # 10 kΩ from 5 V, 20 kΩ to −5 V, 30 kΩ to 0 V: (5/10 − 5/20) / (1/10 + 1/20 + 1/30) = 15/11 V.
    circuit = lifted(build_circuit(read_text("R1=10k + @OUT + R2=20k")), -5.0)
    out = circuit.node("OUT")
    found = solve(circuit, 5.0, 0.0, [Load(out, ohms=30e3)], -5.0)
    assert found.voltages[out] == pytest.approx(15 / 11, rel=1e-12)
    assert found.voltages[circuit.node("0")] == -5.0
    assert found.parts[0].amps == pytest.approx((5 - 15 / 11) / 10e3, rel=1e-12)


def test_samples_lie_within_the_extremes_and_about_the_nominal() -> None:
    for seed in range(300, 303):
        box, inner = random_box(seed)
        node = box.circuit.node(inner[-1])
        low, high = extremes(box, (node, 0))
        (drawn,) = sampled(box, [node], 4000, "uniform", 7)
        scale = 1e-9 * (abs(box.supply.volts) + abs(box.supply.low_volts))
        assert drawn.min() >= low.volts - scale
        assert drawn.max() <= high.volts + scale
        place = [0.5] * (len(box.half_widths) + len(box.loads) + 1)
        assert low.volts - scale <= at_point(box, place)[0][node] <= high.volts + scale


def test_a_part_that_fails_leaves_what_its_node_equations_say() -> None:
    # Check by hand: 10 kΩ + OUT + 20 kΩ from 5 V to −5 V; open above, OUT lies at −5 V.
    circuit = lifted(build_circuit(read_text("R1=10k + @OUT + R2=20k")), -5.0)
    out, low = circuit.node("OUT"), circuit.low
    faults = check_network(
        circuit,
        Supply(5.0, low_volts=-5.0),
        default=PartLimits(),
        outputs=[("OUT", None)],
        with_faults=True,
    ).faults
    told = {(f.ref, f.mode): f.voltages[out] for f in faults}
    assert told == {
        ("R1", "open"): pytest.approx(-5.0),
        ("R1", "short"): pytest.approx(5.0),
        ("R2", "open"): pytest.approx(5.0),
        ("R2", "short"): pytest.approx(-5.0),
    }
    assert all(f.voltages[low] == -5.0 for f in faults)


METER = MeterModel(
    name="simulated", input_ohms=1e7, volts=(Range(full=60.0),), ohms=(Range(full=1e6),)
)


def test_a_meter_between_two_supplies_reads_against_0_v_and_ohms_between_the_ends() -> None:
    circuit = lifted(build_circuit(read_text("R1=10k + @OUT + R2=20k")), -5.0)
    box = Box(circuit, Supply(5.0, low_volts=-5.0), (), (0.0, 0.0))
    at_out = expect(box, point_named(circuit, "voltage", at="OUT"), METER)
    # (5/10 − 5/20) / (1/10 + 1/20 + 1/10 000), in kΩ: the meter is a load to 0 V.
    assert at_out.span is not None
    assert at_out.span.nominal == pytest.approx(0.25 / 0.1501, rel=1e-12)
    low = expect(box, point_named(circuit, "voltage", at="0"), METER)
    assert low.span is not None
    assert (low.span.low, low.span.high) == (-5.0, -5.0)
    whole = expect(box, point_named(circuit, "resistance", at="in"), METER)
    assert whole.span is not None
    assert whole.span.nominal == pytest.approx(30e3)


@pytest.mark.parametrize("seed", range(400, 405))
def test_what_a_diagnosis_predicts_is_what_the_node_equations_say(seed: int) -> None:
    box, inner = random_box(seed, most_loads=0)
    circuit = box.circuit
    points = [point_named(circuit, "voltage", at=name) for name in inner]
    probes = [Probe(point, None, 1e12) for point in points]
    found = Model(box).predict([Board()], probes).mean[0]
    expected = nodal(circuit, [b.ohms for b in circuit.branches], box.supply, ())
    wanted = [expected[circuit.node(name)] for name in inner]
    assert found == pytest.approx(
        wanted, rel=1e-4, abs=1e-4
    )  # an ideal source is a stiff one there


def test_lifting_and_lowering_undo_each_other() -> None:
    plain = build_circuit(read_text("R1=10k + @OUT + (R2=20k || R3=1k)"))
    up = lifted(plain, 2.5)
    assert lowered(up) == plain
    assert lifted(plain, 0.0) is plain
    assert junctions(up)["0 V"] == 0
    assert junctions(up)["0"] == up.low
