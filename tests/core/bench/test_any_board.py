"""Laws of random boards: two supplies, resistance inside, loads that starve or idle, no tolerance.

What is expected, what a fault makes of it, and what readings tell: against the exact solver of one
network, which shares no code with the updates that many boards are weighed by.
"""

import itertools
import math
import random
from dataclasses import replace

import numpy as np
import pytest

from lowfold.core.bench.ahead import probe_of
from lowfold.core.bench.diagnosis import Observed, diagnose
from lowfold.core.bench.expect import expect
from lowfold.core.bench.models import BENCH, HANDHELD, NEEDLE
from lowfold.core.bench.points import Point, nominal_gaps
from lowfold.core.bench.predict import Board, Model, Probe
from lowfold.core.bench.suspects import suspects
from lowfold.core.network.circuit import GROUND, build_circuit, lifted
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from tests.effort import seeds

SHAPES = (
    "R1 in a {}\nR2 a 0 {}",
    "R1 in a {}\nR2 a b {}\nR3 b 0 {}",
    "R1 in a {}\nR2 a 0 {}\nR3 a b {}\nR4 b 0 {}",
    "R1 in a {}\nR2 in b {}\nR3 a b {}\nR4 a 0 {}\nR5 b 0 {}",
)


def random_box(chance: random.Random) -> Box:
    shape = chance.choice(SHAPES)
    values = [f"{10 ** chance.uniform(1.5, 5):.1f}" for _ in range(shape.count("{}"))]
    volts, low = chance.choice([3.3, 5.0, 12.0]), chance.choice([0.0, 0.0, 0.0, -5.0, -12.0])
    circuit = lifted(build_circuit(read_text(shape.format(*values))), low)
    loads = []
    for _ in range(chance.choice([0, 1, 1, 2])):
        at = circuit.node(chance.choice(["a", *(["b"] if " b " in shape else [])]))
        if chance.random() < 0.4:
            ohms = 10 ** chance.uniform(2, 6)
            loads.append(LoadRange(Load(at, ohms=ohms), ohms / 1.5, ohms * 1.5))
        else:
            amps = volts / sum(map(float, values)) * 10 ** chance.uniform(-2, 0.7)
            loads.append(LoadRange(Load(at, amps=amps), amps / 2, amps * 1.5))
    supply = Supply(volts, chance.choice([0.0, 0.05]), chance.choice([0.0, 47.0]), low)
    half = chance.choice([0.0, 0.01, 0.05])
    return Box(circuit, supply, tuple(loads), (half,) * len(circuit.branches))


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(40))
def test_every_fault_reads_as_the_board_with_it_solved_alone(seed: int) -> None:
    box = random_box(random.Random(seed))
    inner = [n for n in range(box.circuit.nodes) if n != GROUND]
    probes = [Probe(Point("voltage", at=n), None, math.inf) for n in inner]
    scale = abs(box.supply.volts) + abs(box.supply.low_volts)
    faults = [s for s in suspects(box).single if s.kind != "bridge"]
    read = Model(box).predict([Board(), *(s.board for s in faults)], probes).mean
    for mean, suspect in zip(read, [None, *faults], strict=True):
        branches, kept = [*box.circuit.branches], [*box.loads]
        supply = box.supply
        if suspect is not None:
            for change in suspect.board.changes:
                if change.part is not None:
                    ohms = change.ohms if math.isfinite(change.ohms) else 1e13
                    branches[change.part] = replace(branches[change.part], ohms=ohms)
            kept = [r for k, r in enumerate(kept) if k not in suspect.board.missing]
            if suspect.board.supply_volts is not None:
                supply = replace(supply, volts=suspect.board.supply_volts)
        circuit = replace(box.circuit, branches=tuple(branches))
        other = replace(box, circuit=circuit, loads=tuple(kept), supply=supply)
        gaps = np.nan_to_num(nominal_gaps(other)[inner, GROUND])
        assert mean == pytest.approx(gaps, abs=3e-5 * scale), suspect


def shares(box: Box, observed: list[Observed]) -> dict[tuple[str, ...], float]:
    """How probable each kind of fault of each part is; fitted values aside."""
    found: dict[tuple[str, ...], float] = {}
    for h in diagnose(box, observed).hypotheses:
        key = (h.suspect.kind, *h.suspect.refs)
        found[key] = found.get(key, 0.0) + h.probability
    return found


@pytest.mark.law
@pytest.mark.parametrize("seed", [*seeds(12), 271912])  # one reading far out: rounding
def test_what_is_expected_lies_inside_and_readings_have_no_order(seed: int) -> None:
    chance = random.Random(seed)
    box, meter = random_box(chance), chance.choice([HANDHELD, BENCH, NEEDLE])
    points = [Point("voltage", at=n) for n in range(1, box.circuit.nodes)]
    observed = []
    for point in [*points, Point("current", supply=True)]:
        ahead = expect(box, point, meter)
        if ahead.span is None or ahead.range is None:
            continue
        assert ahead.low is not None
        assert ahead.high is not None
        assert ahead.low <= ahead.span.nominal <= ahead.high
        value = chance.choice([1.0, 1.0, -1.0, 0.9]) * ahead.span.nominal
        probe = probe_of(point, meter, ahead.range.full)
        observed.append(Observed(probe, value, ahead.range.limit(value)))
    one = shares(box, observed)
    chance.shuffle(observed)
    assert math.fsum(one.values()) == pytest.approx(1.0)
    assert shares(box, observed) == pytest.approx(one, abs=1e-5)


def test_enough_of_the_random_boards_starve_or_idle() -> None:
    held = 0
    for seed in range(40):
        box = random_box(random.Random(seed))
        drawing = [r.load.at for r in box.loads if r.load.amps]
        held += any(nominal_gaps(box)[at, GROUND] <= 1e-12 for at in drawing)
    assert held >= 4


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(30))
def test_many_starving_loads_draw_as_their_voltages_say(seed: int) -> None:
    """Kirchhoff's current law at each tap: fed above 0 V, less at it, nothing below it."""
    chance = random.Random(seed)
    taps = chance.randint(5, 14)
    names = ["in", *(f"n{k}" for k in range(taps)), "0"]
    text = "\n".join(
        f"R{k} {a} {b} {10 ** chance.uniform(2, 4):.1f}"
        for k, (a, b) in enumerate(itertools.pairwise(names), 1)
    )
    low = chance.choice([0.0, -5.0, -12.0])
    circuit = lifted(build_circuit(read_text(text)), low)
    mean = 20 / sum(b.ohms for b in circuit.branches)
    wanted = {circuit.node(n): mean * 10 ** chance.uniform(-2, 1) for n in names[1:-1]}
    loads = tuple(LoadRange(Load(at, amps=a), a, a) for at, a in wanted.items())
    box = Box(circuit, Supply(8.0, 0.0, 0.0, low), loads, (0.0,) * len(circuit.branches))
    every = [Point("voltage", at=n) for n in range(1, circuit.nodes)]
    volts = Model(box).predict([Board()], [Probe(p, None, math.inf) for p in every]).mean[0]
    volts = np.concatenate([[0.0], volts])
    assert volts == pytest.approx(np.nan_to_num(nominal_gaps(box)[:, GROUND]), abs=3e-4)
    for at, most in wanted.items():
        flows = [(volts[b.a] - volts[b.b]) / b.ohms for b in circuit.branches if b.b == at]
        leaves = [(volts[b.a] - volts[b.b]) / b.ohms for b in circuit.branches if b.a == at]
        drawn, near = math.fsum(flows) - math.fsum(leaves), 1e-4 * mean
        if volts[at] > 1e-3:
            assert drawn == pytest.approx(most, abs=near)
        elif volts[at] < -1e-3:
            assert drawn == pytest.approx(0.0, abs=near)
        else:
            assert -near <= drawn <= most + near
