"""Hidden faults: each can be found, none is read off the question; by node equations of our own."""

import itertools
import math
import statistics
from collections import Counter
from dataclasses import replace

import numpy as np
import numpy.typing as npt
import pytest

from lowfold.core.bench.next_point import told_apart
from lowfold.core.bench.points import Point
from lowfold.core.bench.predict import Model
from lowfold.core.bench.suspects import part_is
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.network.circuit import GROUND, SUPPLY, junctions
from lowfold.core.practice import fault_drill
from lowfold.core.practice.fault_drill import hiddenness
from lowfold.core.practice.hidden_fault import (
    DRAWN,
    KINDS,
    METER,
    TOLERANCE,
    WRONG_VALUE,
    FaultQuestion,
    NamedKind,
    board_of,
    box_of,
    points_of,
    truth_of,
)
from lowfold.core.practice.levels import LEVELS
from lowfold.core.practice.naming import Named, same_fault
from tests.core.practice.asked import fault_question

SEEDS = range(16)
Edges = list[tuple[str, int, int, float]]


def edges_of(
    question: FaultQuestion, kind: str, refs: tuple[str, ...], ohms: float | None
) -> Edges:
    """Return a board with a fault, parts nominal, loads among them."""
    box = box_of(question)
    names = {n.casefold(): k for n, k in junctions(box.circuit).items()}
    edges = {b.ref: (b.a, b.b, b.ohms) for b in box.circuit.branches}
    if kind == "swapped":
        one, two = refs
        edges[one], edges[two] = (
            (*edges[one][:2], edges[two][2]), (*edges[two][:2], edges[one][2]),
        )  # fmt: skip
    elif kind in ("open", "short", *WRONG_VALUE):
        value = {"open": 1e13, "short": 0.01}.get(kind, ohms or 0.0)
        edges[refs[0]] = (*edges[refs[0]][:2], value)
    found = [(ref, a, b, r) for ref, (a, b, r) in edges.items()]
    hung = question.load_at
    if hung and not (kind == "load" and ohms is None):
        found.append(("load", names[hung.casefold()], GROUND, question.load_ohms))
    if kind == "load" and ohms is not None:
        found.append(("too many", names[refs[0].casefold()], GROUND, ohms))
    if kind == "bridge":
        a, b = (names[r.casefold()] for r in refs)
        found.append(("bridge", a, b, 0.01))
    return found


def solved(edges: Edges, volts: float, inside: float) -> npt.NDArray[np.float64]:
    """Return the nodes' voltages, by node equations with the supply as a source behind `inside`."""
    count = 1 + max(n for _, a, b, _ in edges for n in (a, b))
    matrix: npt.NDArray[np.float64] = np.zeros((count, count))
    matrix[np.diag_indices(count)] = 1e-15
    right = np.zeros(count)
    for _, a, b, ohms in edges:
        for x, y in ((a, b), (b, a)):
            matrix[x, x] += 1 / ohms
            matrix[x, y] -= 1 / ohms
    matrix[SUPPLY, SUPPLY] += 1 / inside
    right[SUPPLY] += volts / inside
    matrix[GROUND] = np.eye(count)[GROUND]
    right[GROUND] = 0.0
    return np.linalg.solve(matrix, right).astype(np.float64)


def readings(question: FaultQuestion, kind: str, refs: tuple[str, ...]) -> list[float]:
    """Return every voltage and the current through each part, with an ideal meter."""
    ohms = question.ohms if (kind, refs) == (question.kind, question.refs) else None
    edges = edges_of(question, kind, refs, ohms)
    volts = question.volts if kind == "supply" else question.supply_volts
    inside = (question.ohms or 0.0) if kind == "series resistance" else 1e-4
    nodes = solved(edges, volts or 0.0, inside)
    ref_of = {b.ref for b in box_of(question).circuit.branches}
    amps = [(nodes[a] - nodes[b]) / r for ref, a, b, r in edges if ref in ref_of]
    return [*nodes.tolist(), *(1e3 * a for a in amps)]


@pytest.mark.parametrize("level", LEVELS)
def test_a_fault_shows_by_node_equations_of_our_own(level: int) -> None:
    for seed in SEEDS:
        question = fault_question(level, seed)
        sound = np.array(readings(question, "as designed", ()))
        wrong = np.array(readings(question, question.kind, question.refs))
        assert np.abs(wrong - sound).max() > 0.01 * question.supply_volts * level**-1
        assert question.kind in DRAWN[level]


@pytest.mark.parametrize("level", [1, 2, 3])
def test_one_answer_is_right_of_all_that_can_be_named(level: int) -> None:
    # By volts and currents of an ideal meter, whatever is accepted reads as the truth does
    for seed in range(12):
        question = fault_question(level, seed)
        circuit = box_of(question).circuit
        parts = [b.ref for b in circuit.branches]
        named: list[tuple[NamedKind, tuple[str, ...]]] = [
            *(("open", (p,)) for p in parts),
            *(("short", (p,)) for p in parts),
            *(("swapped", pair) for pair in itertools.combinations(parts, 2)),
        ]
        truth = np.array(readings(question, question.kind, question.refs))
        accepted = 0
        for kind, refs in named:
            right = same_fault(question, Named(kind, refs))
            accepted += right
            if (kind, refs) == (question.kind, question.refs):
                assert right
                continue
            away = np.abs(np.array(readings(question, kind, refs)) - truth).max()
            if away > 0.05 * question.supply_volts:
                assert not right, (question, kind, refs)
        assert accepted <= 1 + (question.kind not in ("open", "short", "swapped")) * 1


def test_a_wrong_value_is_one_thing_whatever_it_came_from() -> None:
    question = next(q for s in range(60) if (q := fault_question(3, s)).kind in WRONG_VALUE)
    for kind in ("decade", "misread", "neighbour", "value"):
        assert same_fault(question, Named(kind, question.refs))
    others = [b.ref for b in box_of(question).circuit.branches if b.ref not in question.refs]
    assert not any(same_fault(question, Named("value", (ref,))) for ref in others)


def test_a_lower_supply_and_what_hides_in_series_are_told_by_no_reading() -> None:
    # By hand: a network of resistances behind 20 % of itself has 1/1.2 of the supply
    question = next(q for s in range(80) if (q := fault_question(5, s)).kind == "series resistance")
    assert same_fault(question, Named("supply", ()))
    higher = replace(question, kind="supply", ohms=None, volts=question.supply_volts * 1.2)
    assert not same_fault(higher, Named("series resistance", ()))  # nothing hidden raises it
    lower = replace(question, kind="supply", ohms=None, volts=question.supply_volts * 0.8)
    assert same_fault(lower, Named("series resistance", ()))


def test_each_level_hides_more_than_the_one_before() -> None:
    mean = [statistics.mean(hiddenness(fault_question(n, s)) for s in SEEDS) for n in LEVELS]
    assert mean == sorted(mean)
    assert all(b - a > 0.3 for a, b in itertools.pairwise(mean))
    for level in LEVELS:
        kinds = Counter(fault_question(level, s).kind for s in SEEDS)
        assert set(kinds) <= set(KINDS[level])
        assert len(kinds) >= 2


@pytest.mark.parametrize("level", LEVELS)
def test_the_board_is_the_same_each_time_and_within_its_tolerance(level: int) -> None:
    for seed in range(8):
        question = fault_question(level, seed)
        board, again = board_of(question), board_of(fault_drill.fault_question(level, seed))
        assert [b.ohms for b in board.box.circuit.branches] == [
            b.ohms for b in again.box.circuit.branches
        ]
        box = box_of(question)
        for one in points_of(box):
            point = one.probe.point
            first = board.read(point).value
            assert first == board.read(point).value
            if point.kind != "resistance" or point.part is None:
                continue
            branch = box.circuit.branches[point.part]
            sound = branch.ref not in question.refs or question.lifted_sound
            if sound and question.kind not in ("bridge", "load"):
                limit = METER.lead_ohms + (TOLERANCE + 0.02) * branch.ohms
                assert first == pytest.approx(branch.ohms, abs=limit)


def test_what_a_board_reads_agrees_with_node_equations() -> None:
    # Parts drawn as the board has them; the meter's 10 MΩ and its error stay within 1.5 %
    for level, seed in itertools.product(LEVELS, range(6)):
        question = fault_question(level, seed)
        board = board_of(question)
        edges = [(b.ref, b.a, b.b, b.ohms) for b in board.box.circuit.branches]
        edges += [("load", r.load.at, GROUND, r.load.ohms or math.inf) for r in board.box.loads]
        nodes = solved(edges, board.box.supply.volts, board.box.supply.source_ohms or 1e-4)
        for name, node in junctions(board.box.circuit).items():
            if name == "0":
                continue
            value = board.read(Point("voltage", at=node)).value
            room = 0.02 * question.supply_volts
            assert value == pytest.approx(nodes[node], rel=0.03, abs=room), (question, name)


def test_ones_own_network_gets_a_fault_or_is_refused_in_words() -> None:
    question = fault_question(2, 7, "R1=10k + @A + (R2=22k || R3=33k)", 9.0)
    assert (question.network, question.supply_volts) == ("R1=10k + @A + (R2=22k || R3=33k)", 9.0)
    for network, volts, words in (
        ("R1=1k", 9.0, "1 parts; a fault is practised on 2 to 12"),
        ("R1=1k + R2=1k", 0.0, "nothing drives it"),
        ("R1=1k +", 9.0, "unfinished|expected|ends"),
        ("S1 + R1=1k + R2=2k", 9.0, "nothing joins the supply’s ends"),
        ("R1 in a 1k\nR2 b 0 2k", 9.0, "nothing joins the supply’s ends"),
        ("R1=1k + @in + R2=2k", 9.0, "“in” is an end of the supply"),
    ):
        with pytest.raises(LowfoldError, match=words):
            fault_question(1, 1, network, volts)
    with pytest.raises(DomainError, match="levels go from 1 to 5"):
        fault_question(9, 1)


def test_a_value_that_is_denied_is_denied_by_a_dense_row_of_values_too() -> None:
    # Every two hundredth of a decade over seven to either side: none reads as the truth does
    for level, seed in itertools.product((3, 5), range(3)):
        question = fault_question(level, seed)
        box = box_of(question)
        ahead = [one for one in points_of(box) if one.probe.point.kind != "resistance"]
        truth = truth_of(question, box).board
        for place, branch in enumerate(box.circuit.branches):
            if same_fault(question, Named("value", (branch.ref,))):
                continue
            row = branch.ohms * np.logspace(-7, 7, 2801)
            boards = [part_is(box.circuit, place, float(v), "value", "", 1.0).board for v in row]
            apart = told_apart(Model(box), [truth, *boards], ahead, 1)[0, 1:]
            assert apart.min() > 1, (question, branch.ref)
