"""What comes again, and at which level one goes on: rules worked by hand."""

import pytest

from lowfold.core.practice.coming_again import Answered, due_again, next_level, progress_of

MINUTE, DAY = 60.0, 86400.0


def answered(*marks: str, level: int = 2, at: float = 0.0) -> list[Answered]:
    """Return answers a second apart: `7+` is question 7 answered rightly."""
    return [
        Answered(level, int(mark[:-1]), None, at + k, mark.endswith("+"))
        for k, mark in enumerate(marks)
    ]


def test_a_wrong_one_comes_again_after_three_others_or_ten_minutes() -> None:
    history = answered("1-", "2+", "3+")
    assert due_again(history, 2, 3.0) is None
    found = due_again([*history, *answered("4+", at=3.0)], 2, 4.0)
    assert found is not None
    assert found.seed == 1
    assert due_again(answered("1-"), 2, 9 * MINUTE) is None
    assert due_again(answered("1-"), 2, 10 * MINUTE) is not None
    assert due_again(answered("1-"), 3, DAY) is None  # of another level
    assert due_again(answered("1+"), 2, 99 * DAY) is None  # never wrong


def test_once_right_it_waits_a_day_then_four_then_it_is_known() -> None:
    history = answered("1-", "1+")
    assert due_again(history, 2, DAY - 5) is None
    assert due_again(history, 2, DAY + 5) is not None
    history += answered("1+", at=DAY + 5)
    assert due_again(history, 2, 4 * DAY) is None
    assert due_again(history, 2, 5 * DAY + 10) is not None
    history += answered("1+", at=6 * DAY)
    assert due_again(history, 2, 99 * DAY) is None
    history += answered("1-", at=100 * DAY)
    assert due_again(history, 2, 100 * DAY + 11 * MINUTE) is not None


def test_the_one_that_waits_longest_comes_first() -> None:
    history = answered("1-", "2-")
    found = due_again(history, 2, DAY)
    assert found is not None
    assert found.seed == 1


LEVELS = [  # answers at level 2, the level to go on at, why
    ([], 1, "nothing answered"),
    (["1+"], 2, "one is not enough"),
    (["1+", "2+", "3+", "4+"], 2, "four of four are not five"),
    (["1+", "2+", "3-", "4+", "5+"], 3, "four of the last five"),
    (["1-", "2-", "3+", "4-", "5+", "6+", "7+", "8+"], 3, "only the last five count"),
    (["1-", "2-"], 2, "two are not enough to go back"),
    (["1-", "2-", "3-"], 1, "none of three"),
    (["1-", "2-", "3-", "4+"], 2, "one of four stays"),
    (["1-", "2-", "3-", "4-", "5+"], 1, "one of five"),
    (["1-", "2+", "3-", "4-", "5+"], 2, "two of five stay"),
]


@pytest.mark.parametrize(
    ("marks", "level"), [pytest.param(m, level, id=why) for m, level, why in LEVELS]
)
def test_the_level_follows_what_is_right(marks: list[str], level: int) -> None:
    assert next_level(answered(*marks)) == level


def test_the_first_and_the_last_level_have_none_beyond() -> None:
    assert next_level(answered("1-", "2-", "3-", level=1)) == 1
    assert next_level(answered("1+", "2+", "3+", "4+", "5+", level=5)) == 5


def test_how_one_does() -> None:
    offs = [0.1, -0.3, 0.02]
    history = [Answered(1, k, None, k, abs(off) < 0.2, off) for k, off in enumerate(offs)]
    found = progress_of(history)
    assert (found.right, found.answered, found.typical_off, found.streak) == (2, 3, 0.1, 1)
    assert progress_of([]).typical_off is None


def test_what_was_answered_right_waits_its_time_whatever_else_was_asked() -> None:
    # Three others bring back a wrong one only; by rule the one due longest comes first
    history = [*answered("1-", "1+"), *answered("2+", "3+", "4+", at=10.0)]
    assert due_again(history, 2, DAY - 5) is None
    first = answered("7-", at=0.0)
    second = answered("8-", at=2 * MINUTE)
    found = due_again([*first, *second, *answered("7-", at=4 * MINUTE)], 2, 20 * MINUTE)
    assert found is not None
    assert found.seed == 8
