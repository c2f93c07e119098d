"""How often each kind of fault is met: common practice, and a user's own."""

import math

import pytest

from lowfold.core.bench.arguing import changed_words, method_words
from lowfold.core.bench.diagnosis import diagnose
from lowfold.core.bench.priors import START, each_of, priors_with
from lowfold.core.errors import DomainError
from tests.core.bench.test_diagnosis import A, B, box_of, reading


def test_the_start_values_are_those_of_the_trade() -> None:
    # Common practice: open 4, short or bridge 2, wrong supply 2, load 2, meter 2, the others 1
    assert START["open"] == 4
    assert START["short"] + START["bridge"] == 2
    assert START["supply"] + START["series resistance"] == 2
    assert START["load"] == START["meter"] == 2
    assert {START[k] for k in ("decade", "misread", "neighbour", "swapped")} == {1}


def test_all_faults_together_are_as_likely_as_none() -> None:
    assert math.fsum(each_of(priors_with({"open": 9})).values()) == pytest.approx(0.5)


@pytest.mark.parametrize(
    ("own", "words"),
    [
        ({"ghost": 1}, "“ghost” is no kind of fault; there are: open, short, "),
        ({"open": -1}, "open: how often is a number from 0 to 1000, not -1"),
        ({"open": math.nan}, "open: how often is a number from 0 to 1000, not nan"),
        (dict.fromkeys(START, 0), "every kind of fault is said never to happen; at least one"),
    ],
)
def test_weights_that_are_none_are_refused(own: dict[str, float], words: str) -> None:
    with pytest.raises(DomainError) as refused:
        priors_with(own)
    assert refused.value.message.startswith(words)


def test_who_never_meets_an_open_joint_suspects_another() -> None:
    readings = [reading(A, 8.557)]
    usual = diagnose(box_of(), readings).hypotheses[0].suspect.kind
    other = diagnose(box_of(), readings, priors_with({"open": 0})).hypotheses
    assert usual == "open"
    assert other[0].suspect.kind != "open"
    assert math.fsum(h.probability for h in other if h.suspect.kind == "open") < 1e-100
    assert math.fsum(h.probability for h in other) == pytest.approx(1)


def test_what_a_reading_changed_is_said_in_percent() -> None:
    found = diagnose(box_of(), [reading(A, 8.557), reading(B, 0.0)])
    top = found.hypotheses[0]
    then = 100 * top.course[-2]
    assert top.probability > 0.995
    assert changed_words(found).startswith(f"R3 open {then:.0f} % → over 99 %; R4 open ")
    assert not changed_words(diagnose(box_of(), [reading(A, 8.557)]))


def test_a_corrected_reading_says_what_it_changed() -> None:
    wrong = diagnose(box_of(), [reading(A, 8.557), reading(B, 0.0)])
    right = diagnose(box_of(), [reading(A, 8.557), reading(B, 8.557)])
    words = changed_words(right, wrong)
    assert words.split("; ")[0].startswith(("R4 open under 1 % → ", "R3 open "))
    assert {w.split(" open")[0] for w in words.split("; ")} == {"R3", "R4"}
    assert not changed_words(right, right)


def test_the_method_says_whose_weights_they_are() -> None:
    assert "Priors (common practice): as designed as much as" in method_words(START)
    assert "Priors (your own): " in method_words(priors_with({"open": 9}))
    assert "open 9, short 1.5" in method_words(priors_with({"open": 9}))
