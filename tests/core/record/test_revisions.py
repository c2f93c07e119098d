"""Which states are worth having: steps of typing one text are not."""

import pytest

from lowfold.core.record.revisions import goes_on_typing, places_changed

BASE = {"name": "Battery sense", "brief": {"target_v": "3 V"}, "choice": None, "why": ""}


def wanting(text: str, **more: object) -> dict[str, object]:
    return {**BASE, "brief": {"target_v": text}, **more}


def test_places_are_fields_and_tokens() -> None:
    assert places_changed(BASE, BASE) == frozenset()
    assert places_changed(BASE, wanting("3.1 V", why="low")) == {"brief.target_v", "why"}
    more = {**BASE, "brief": {"target_v": "3 V", "load": "1 MΩ"}}
    assert places_changed(BASE, more) == {"brief.load"}


FOLDS = [  # between, after, seconds, whether it folds, why (common practice)
    (wanting("3."), wanting("3.1 V"), 0.4, True, "typing one figure"),
    (wanting("3.1 V"), wanting("3.2 V"), 3600, False, "an hour later it is another change"),
    (wanting("3.1 V"), wanting("3.1 V", why="low"), 0.4, False, "another place"),
    (wanting("3 V", choice="a"), wanting("3 V", choice="b"), 0.4, False, "a choice is no typing"),
    (wanting("3 V", why="l"), wanting("3 V", why="low"), 5, True, "typing the reason"),
    (wanting("3.1 V", why="l"), wanting("3.1 V", why="low"), 5, False, "two places before"),
]


@pytest.mark.parametrize(
    ("between", "after", "seconds", "folds"), [pytest.param(*f[:4], id=f[4]) for f in FOLDS]
)
def test_steps_of_typing_fold(
    between: dict[str, object], after: dict[str, object], seconds: float, folds: object
) -> None:
    assert goes_on_typing(BASE, between, after, seconds) is folds


@pytest.mark.parametrize(("seconds", "folds"), [(90.0, True), (90.1, False)])
def test_a_minute_and_a_half_is_still_typing(seconds: float, folds: object) -> None:
    assert goes_on_typing(BASE, wanting("3."), wanting("3.1 V"), seconds) is folds


def test_the_same_text_twice_and_a_list_set_at_once_are_no_typing() -> None:
    assert not goes_on_typing(BASE, wanting("3.1 V"), wanting("3.1 V"), 1)
    one, two = ({**BASE, "tags": some} for some in (["a"], ["a", "b"]))
    assert not goes_on_typing(BASE, one, two, 1)
    short, long = ({**BASE, "name": text} for text in ("Batt", "Battery"))
    assert goes_on_typing({**BASE, "name": "B"}, short, long, 1)
    both: list[dict[str, object]] = [{**BASE, "name": t, "why": t} for t in ("Batt", "Battery")]
    assert not goes_on_typing({**BASE, "name": "B"}, both[0], both[1], 1)
