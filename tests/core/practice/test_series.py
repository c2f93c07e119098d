"""Is it in series: each answer holds by the currents and voltages themselves, whatever the values."""

import statistics
from collections import Counter

import networkx as nx
import numpy as np
import pytest

from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import GROUND, SUPPLY, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.practice import series
from lowfold.core.practice.levels import LEVELS
from lowfold.core.practice.series import LOAD_OHMS, SeriesQuestion, misleads, reasons
from tests.core.practice.asked import series_question

SEEDS = range(100)


def solved(question: SeriesQuestion, seed: int) -> dict[str, tuple[float, float]]:
    """Return voltage and current of each part with values of any size, by node equations of our own."""
    circuit = build_circuit(read_text(question.network), question.closed)
    chance = np.random.default_rng(seed)
    branches = [(b.ref, b.a, b.b, float(np.exp(chance.uniform(4, 9)))) for b in circuit.branches]
    if question.load_at:
        branches.append(("load", circuit.names[question.load_at], GROUND, LOAD_OHMS))
    matrix = np.eye(circuit.nodes) * 1e-15
    for _, a, b, ohms in branches:
        for x, y in ((a, b), (b, a)):
            matrix[x, x] += 1 / ohms
            matrix[x, y] -= 1 / ohms
    known = {GROUND: 0.0, SUPPLY: 7.0}
    free = [n for n in range(circuit.nodes) if n not in known]
    volts = np.zeros(circuit.nodes)
    volts[SUPPLY] = 7.0
    if free:
        right = -matrix[np.ix_(free, list(known))] @ np.array(list(known.values()))
        volts[free] = np.linalg.solve(matrix[np.ix_(free, free)], right)
    return {
        ref: (abs(volts[a] - volts[b]), abs(volts[a] - volts[b]) / ohms)
        for ref, a, b, ohms in branches
    }


def in_one_string(question: SeriesQuestion) -> bool:
    """Whether two parts hang together through junctions of two wires, by a graph of our own."""
    circuit = build_circuit(read_text(question.network), question.closed)
    edges = [(b.ref, b.a, b.b) for b in circuit.branches if b.ref not in question.carries_nothing]
    if question.load_at:
        edges.append(("load", circuit.names[question.load_at], GROUND))
    edges.append(("supply", SUPPLY, GROUND))
    strings = nx.Graph()
    strings.add_nodes_from(ref for ref, _, _ in edges)
    for node in range(circuit.nodes):
        here = [ref for ref, a, b in edges if node in (a, b)]
        if len(here) == 2 and "supply" not in here:
            strings.add_edge(*here)
    return bool(nx.has_path(strings, *question.refs))


def test_parts_of_one_current_that_are_no_string_are_asked_about() -> None:
    asked = [series_question(level, seed) for level in (2, 3, 4, 5) for seed in range(60)]
    neither = [q for q in asked if q.relation.kind == "neither"]
    same = [
        q for q in neither
        if all(np.isclose(b[q.refs[0]][1], b[q.refs[1]][1]) for b in (solved(q, 1), solved(q, 2)))
    ]  # fmt: skip
    assert len(neither) / 20 < len(same) < len(neither)


def test_what_misleads_is_told() -> None:
    stub = next(q for s in range(50) if not (q := series_question(5, s)).closed)
    assert any("Leading nowhere" in why for why in reasons(stub))
    shut = next(q for s in range(50) if (q := series_question(5, s)).closed)
    assert any("S1 is closed, and beside it" in why for why in reasons(shut))


def test_ones_own_network_is_asked_about() -> None:
    asked = [series_question(2, seed, "R1=1k + (R2=2k || R3=3k)", 5.0) for seed in range(30)]
    assert {q.relation.kind for q in asked} == {"parallel", "neither"}  # nothing is in series
    with pytest.raises(DomainError, match="1 parts; two of 2 to 20 are asked about"):
        series_question(2, 1, "R1=1k")


@pytest.mark.parametrize("level", LEVELS)
def test_the_answer_holds_whatever_the_values(level: int) -> None:
    # In series the currents are one for all values; in parallel the voltages; neither: not both
    for seed in SEEDS:
        question = series_question(level, seed)
        one, other = question.refs
        boards = [solved(question, k) for k in range(4)]
        same_current = all(np.isclose(b[one][1], b[other][1], rtol=1e-6) for b in boards)
        same_voltage = all(np.isclose(b[one][0], b[other][0], rtol=1e-6) for b in boards)
        if question.relation.kind == "series":
            assert same_current
            assert not same_voltage
        elif question.relation.kind == "parallel":
            assert same_voltage
            assert not same_current
        else:
            assert not same_voltage
            assert not same_current or not in_one_string(question)
        assert all(b[ref][1] > 0 for b in boards for ref in question.refs)


def test_each_answer_is_as_common_as_the_others() -> None:
    for level in LEVELS:
        kinds = Counter(series_question(level, seed).relation.kind for seed in range(300))
        assert all(70 < count < 130 for count in kinds.values()), kinds


def test_each_level_misleads_more_than_the_one_before() -> None:
    mean = [statistics.mean(misleads(series_question(n, s)) for s in SEEDS) for n in LEVELS]
    assert mean == sorted(mean)
    assert series_question(3, 4) == series.series_question(3, 4)
