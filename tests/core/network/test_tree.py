"""Series–parallel trees."""

from fractions import Fraction

import pytest
from hypothesis import given

from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import (
    Element,
    canonical,
    exact_resistance,
    part_watts,
    parts_of,
    resistance,
    resistance_where,
    write_network,
)
from tests.core.strategies import trees


@given(trees())
def test_what_is_written_reads_back(network: Element) -> None:
    assert read_network(write_network(network)) == network
    assert float(exact_resistance(network)) == pytest.approx(resistance(network), rel=1e-12)


@given(trees())
def test_all_power_is_taken_by_some_part(network: Element) -> None:
    # V²/R of the whole; the parts' shares add up (conservation of energy)
    watts = part_watts(network, 10.0)
    assert sum(w for _, w in watts) == pytest.approx(100.0 / resistance(network), rel=1e-9)
    assert len(watts) == len(list(parts_of(network)))


@given(trees())
def test_the_canonical_form_has_the_same_resistance_and_is_its_own(network: Element) -> None:
    text, ordered = canonical(network)
    assert exact_resistance(ordered) == exact_resistance(network)
    assert canonical(ordered)[0] == text


def test_decimals_are_taken_as_written() -> None:
    # By hand: 0.1 Ω beside 0.2 Ω is 1/15 Ω, which no float is
    assert exact_resistance(read_network("0.1 || 0.2")) == Fraction(1, 15)


def test_a_part_may_be_something_else() -> None:
    network = read_network("R1=1k + (R2=2k || R3=2k)")
    assert resistance_where(network, {"R2": float("inf")}) == 3000.0
    assert resistance_where(network, {"R2": 0.0}) == 1000.0
