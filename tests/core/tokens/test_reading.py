"""Tokens as typed."""

import pytest

from lowfold.core.needs.kinds import (
    BriefKind,
    read_brief,
)


def test_optional_tokens_say_when_the_sentence_can_do_without_them() -> None:
    tokens = read_brief("divider", {"load": "none", "source_ohm": "0"}).tokens
    assert all(tokens[n].absent for n in ("load", "source_ohm", "per_leg", "min_ohm"))
    stated = read_brief("divider", {"load": "1M", "source_ohm": "50", "per_leg": "two"}).tokens
    assert not any(stated[n].absent for n in ("load", "source_ohm", "per_leg"))
    assert not tokens["target_v"].absent


MISFITS: list[tuple[BriefKind, dict[str, str], str, str]] = [
    ("ladder", {"tap2_v": "4 V"}, "tap2_v", "taps go down: write less than the 3.3 V of the tap above"),
    ("ladder", {"tap1_v": "6 V"}, "tap1_v", "taps go down: write less than the 5 V of the supply"),
    ("feedback", {"target_v": "0.5 V"}, "target_v", "a pair sets an output above the reference: write more than 800 mV"),
    ("divider", {"min_current_a": "2 mA", "max_current_a": "1 mA"}, "min_current_a", "this is above the largest: write 1 mA or less"),
    ("resistance", {"max_parts": "5"}, "max_parts", "a series is searched for up to 4 parts, a drawer of at most 20 values for up to 6"),
]  # fmt: skip


@pytest.mark.parametrize(("kind", "texts", "token", "message"), MISFITS)
def test_tokens_that_do_not_fit_each_other_say_so(
    kind: BriefKind, texts: dict[str, str], token: str, message: str
) -> None:
    reading = read_brief(kind, texts)
    assert reading.need is None
    assert reading.tokens[token].message == message
