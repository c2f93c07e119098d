"""Refusals cross from worker processes whole, and are told apart by meaning."""

import pickle

import pytest

from lowfold.core import errors
from lowfold.core.errors import DomainError, LowfoldError, NotationError, QuantityError


@pytest.mark.parametrize("name", [n for n in errors.__all__ if n != "NotationError"])
def test_a_refusal_keeps_its_words_and_its_field(name: str) -> None:
    kind = getattr(errors, name)
    error = kind("a part of 0 Ω", field="network")
    assert (str(error), error.message, error.field) == ("a part of 0 Ω", "a part of 0 Ω", "network")
    assert isinstance(error, LowfoldError)
    again = pickle.loads(pickle.dumps(error))
    assert (type(again), again.message, again.field) == (kind, "a part of 0 Ω", "network")


def test_text_that_is_no_network_says_where() -> None:
    error = NotationError("expected a value", position=7, field="network")
    assert (error.position, error.field) == (7, "network")
    again = pickle.loads(pickle.dumps(error))
    assert (type(again), str(again)) == (NotationError, "expected a value")
    assert (again.position, again.field) == (7, "network")
    assert issubclass(QuantityError, DomainError)
