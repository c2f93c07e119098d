"""Estimate: each question has one figure by an independent solution, and asks more from level to level."""

import itertools
import re
import statistics
from fractions import Fraction

import pytest

from lowfold.core.errors import DomainError
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import Chain, Element, Group, Part, Tap
from lowfold.core.practice.estimate import ALLOWED, EstimateQuestion, difficulty_of, way_of
from lowfold.core.practice.levels import LEVELS, MOST_SEED
from tests.core.practice.asked import estimate_question

SEEDS = range(100)


def ohms_of(item: Element | Tap) -> Fraction:
    """Return a resistance by hand: sums, and reciprocals of sums of reciprocals."""
    if isinstance(item, Part):
        return Fraction(str(item.ohms))
    if isinstance(item, Chain):
        return sum((ohms_of(i) for i in item.items if not isinstance(i, Tap)), Fraction(0))
    assert isinstance(item, Group)
    return 1 / sum((1 / ohms_of(b) for b in item.branches), Fraction(0))


def currents(item: Element, volts: Fraction) -> dict[str, Fraction]:
    """Return the current through each part by Ohm's law, going back from the whole."""
    if isinstance(item, Part):
        return {item.ref: volts / Fraction(str(item.ohms))}
    found: dict[str, Fraction] = {}
    if isinstance(item, Chain):
        through = volts / ohms_of(item)
        for inner in item.items:
            if not isinstance(inner, Tap):
                found |= currents(inner, through * ohms_of(inner))
        return found
    assert isinstance(item, Group)
    for branch in item.branches:
        found |= currents(branch, volts)
    return found


def expected(question: EstimateQuestion) -> Fraction:
    network, volts = read_network(question.network), Fraction(str(question.supply_volts))
    if question.what == "resistance":
        return ohms_of(network)
    if question.what == "current":
        return currents(network, volts)[question.through]
    assert isinstance(network, Chain)
    place = next(
        k for k, i in enumerate(network.items) if isinstance(i, Tap) and i.name == question.at
    )
    below = sum((ohms_of(i) for i in network.items[place:] if not isinstance(i, Tap)), Fraction(0))
    return volts * below / ohms_of(network)


@pytest.mark.parametrize("level", LEVELS)
def test_the_figure_is_that_of_hand_arithmetic(level: int) -> None:
    for seed in SEEDS:
        question = estimate_question(level, seed)
        assert question.exact == pytest.approx(float(expected(question)), rel=1e-9)
        assert question.exact > 0
        if question.what == "voltage":
            assert 0 < question.exact < question.supply_volts


@pytest.mark.parametrize("level", LEVELS)
def test_the_same_number_is_the_same_question(level: int) -> None:
    assert estimate_question(level, 5172) == estimate_question(level, 5172)
    some = {estimate_question(level, seed).network for seed in range(40)}
    assert len(some) > 15


def test_each_level_asks_more_than_the_one_before() -> None:
    mean = [statistics.mean(difficulty_of(estimate_question(n, s)) for s in SEEDS) for n in LEVELS]
    assert mean == sorted(mean)
    assert all(b - a > 0.5 for a, b in itertools.pairwise(mean))
    allowed = [ALLOWED[level] for level in LEVELS]
    assert allowed == sorted(allowed, reverse=True)


@pytest.mark.parametrize("level", LEVELS)
def test_the_way_ends_near_the_figure_and_names_what_it_is_about(level: int) -> None:
    off = []
    for seed in SEEDS:
        question = estimate_question(level, seed)
        steps = way_of(question)
        assert steps
        assert all(step.members and step.words for step in steps)
        shown = re.findall(r"([0-9.]+) (?:(m|µ|k|M)?)(V|A|Ω)$", steps[-1].words)
        assert shown, steps[-1].words
        figure, prefix, _ = shown[-1]
        scale = {"": 1.0, "m": 1e-3, "µ": 1e-6, "k": 1e3, "M": 1e6}[prefix]
        off.append(abs(float(figure) * scale / question.exact - 1))
    # A practised person is within 10 to 20 % of it, common practice
    assert statistics.median(off) < 0.15
    assert statistics.quantiles(off, n=10)[8] < 0.6


def test_a_level_or_a_number_there_is_none_of() -> None:
    for level, seed, words in (
        (0, 1, "levels go from 1 to 5"),
        (6, 1, "levels go"),
        (1, -1, "a question’s"),
        (1, MOST_SEED + 1, "a q"),
    ):
        with pytest.raises(DomainError) as refused:
            estimate_question(level, seed)
        assert str(refused.value).replace("'", "’").startswith(words)
