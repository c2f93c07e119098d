"""Ways to a fault: bits that add up, a short way that arrives, a way taken as it was."""

import math

import pytest

from lowfold.core.bench.points import Point
from lowfold.core.practice.hidden_fault import board_of, box_of, observed_at, points_of
from lowfold.core.practice.levels import LEVELS
from lowfold.core.practice.ways import FOUND, findable, short_way, way_taken
from tests.core.practice.asked import fault_question


@pytest.mark.parametrize("level", LEVELS)
def test_the_short_way_arrives_and_reads_the_board(level: int) -> None:
    for seed in range(4):
        question = fault_question(level, seed)
        board, way = board_of(question), short_way(question)
        assert way[-1].truth >= FOUND
        assert all(r.truth < FOUND for r in way[:-1])
        assert len({r.point for r in way}) == len(way)
        for reached in way[1:]:
            assert reached.point is not None
            assert reached.value == board.read(reached.point).value
        efforts = [r.effort for r in way]
        assert efforts == sorted(efforts)
        assert way[0].bits_left > 0.5
        assert way[-1].bits_left < way[0].bits_left


def test_what_is_not_known_is_the_entropy_of_what_may_be() -> None:
    # Two parts, open or shorted, 4 : 1.5 as often: the entropy of 4/11, 4/11, 1.5/11, 1.5/11
    question = next(
        q for s in range(60)
        if len(box_of(q := fault_question(1, s)).circuit.branches) == 2
    )  # fmt: skip
    shares = [4 / 11, 4 / 11, 1.5 / 11, 1.5 / 11]
    entropy = -sum(p * math.log2(p) for p in shares)
    (start,) = way_taken(question, [])
    assert start.bits_left == pytest.approx(entropy, rel=1e-6)
    assert start.truth == pytest.approx(shares[0 if question.kind == "open" else 2], rel=1e-6)


def test_the_same_reading_again_tells_next_to_nothing() -> None:
    question = fault_question(3, 4)
    board = board_of(question)
    point = next(
        one.probe.point for one in points_of(box_of(question)) if one.probe.point.kind == "voltage"
    )
    one = (point, observed_at(point, board.read(point)))
    way = way_taken(question, [one, one])
    assert way[1].bits_left - way[2].bits_left == pytest.approx(0.0, abs=0.3)


def test_lifting_every_part_finds_a_wrong_one() -> None:
    question = next(q for s in range(40) if (q := fault_question(3, s)).kind == "decade")
    board, circuit = board_of(question), box_of(question).circuit
    lifted = [Point("resistance", part=k) for k in range(len(circuit.branches))]
    way = way_taken(question, [(p, observed_at(p, board.read(p))) for p in lifted])
    assert way[-1].truth > FOUND
    assert question.refs[0] in way[-1].likeliest
    assert findable(question)
