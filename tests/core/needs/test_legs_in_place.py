"""A leg that is on the board already: one part, chosen by nobody, changed by no advice."""

import random

import pytest

from lowfold.core.advice.advice import advise
from lowfold.core.needs.divider import DividerBrief, legs_of, trades_of
from lowfold.core.needs.kinds import BriefKind, choices_for, read_brief
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import Part, parts_of, resistance
from lowfold.core.parts.pool import Pool
from lowfold.core.values.preferred import series_values
from tests.effort import seeds


def brief_of(kind: BriefKind, texts: dict[str, str]) -> DividerBrief:
    need = read_brief(kind, texts, ()).need
    assert need is not None
    return need  # type: ignore[return-value]


@pytest.mark.parametrize("seed", seeds(12))
@pytest.mark.parametrize("leg", ["upper_ohm", "lower_ohm"])
def test_the_other_leg_is_the_best_of_all_values(seed: int, leg: str) -> None:
    """Against every value of E24 tried one by one: V·RL/(RU + RL), with the load beside RL."""
    rng = random.Random(seed)
    supply, share = rng.uniform(3, 48), rng.uniform(0.1, 0.9)
    there = rng.choice([3300.0, 10e3, 56e3, 91e3])
    load = rng.choice([None, 220e3, 1e6])
    texts = {
        "supply_v": f"{supply:.4g}", "target_v": f"{supply * share:.4g}", leg: f"{there:g}",
        "load": "none" if load is None else f"{load:g} ± 0 %",
        "min_ohm": "100", "max_ohm": "10M",
    }  # fmt: skip
    need = brief_of("divider", texts)
    found = choices_for(need, "nearest", (), 10).rows

    def output(value: float) -> float:
        up, down = (there, value) if leg == "upper_ohm" else (value, there)
        below = down if load is None else down * load / (down + load)
        return need.supply_volts * below / (up + below)

    values = series_values(["E24"], 100.0, 10e6).tolist()
    best = min(abs(output(v) / need.target_volts - 1) for v in values)
    for choice in found:
        legs = legs_of(choice.network)
        kept = legs[0] if leg == "upper_ohm" else legs[1]
        assert isinstance(kept, Part)
        assert kept.ohms == there
    first = found[0].network
    off = min(
        abs(output(resistance(legs_of(c.network)[leg == "upper_ohm"])) / need.target_volts - 1)
        for c in found
    )
    assert off == pytest.approx(best, abs=1e-9)
    assert [p.ref for p in parts_of(first) if isinstance(p, Part)] == ["R1", "R2"]


def test_two_parts_may_be_chosen_beside_one_that_is_there() -> None:
    texts = {"supply_v": "14.4", "target_v": "3.05", "lower_ohm": "56k", "per_leg": "2"}
    need = brief_of("divider", texts)
    found = choices_for(need, "nearest", (), 5).rows
    assert abs(found[0].judged.marks[0].error) < 1e-3
    for choice in found:
        upper, lower = legs_of(choice.network)
        assert (lower.ohms if isinstance(lower, Part) else None) == 56e3
        assert sum(isinstance(p, Part) for p in parts_of(upper)) <= 2
    trades, beaten, count = trades_of(need, need.parts.pool(()))
    assert count > 0
    assert all("=56k" in t.notation for t in (*trades, *beaten))


def test_a_part_in_place_is_taken_from_no_drawer() -> None:
    texts = {"supply_v": "12", "target_v": "6", "lower_ohm": "10k"}
    need = brief_of("divider", texts)
    found = need.search("nearest", Pool.stock({10e3: 1}), 5)
    assert [resistance(n) for n in found.networks] == [20e3]


def test_a_feedback_pair_keeps_its_leg() -> None:
    """By hand: 0.8 V · (1 + RU/10k) = 3.3 V at RU = 31.25k, so 30k or 33k of E24: 3.2 or 3.44 V."""
    texts = {"reference_v": "0.8", "target_v": "3.3", "lower_ohm": "10k"}
    found = choices_for(brief_of("feedback", texts), "nearest", (), 3).rows
    upper, lower = (found[0].network.items[k] for k in (0, 2))  # type: ignore[union-attr]
    assert (upper.ohms, lower.ohms) == (30e3, 10e3)  # type: ignore[union-attr]


def test_both_in_place_leave_nothing_to_choose() -> None:
    texts = {"supply_v": "12", "target_v": "3", "upper_ohm": "10k", "lower_ohm": "3k3"}
    read = read_brief("divider", texts, ())
    assert read.need is None
    assert "state them as a network" in read.tokens["lower_ohm"].message


NEEDS = [
    {"supply_v": "14.4 V", "target_v": "3 V", "lower_ohm": "47k", "within": "1 %"},
    {"supply_v": "24 V", "target_v": "5 V", "upper_ohm": "10k", "load": "47k", "within": "2 %"},
    {"supply_v": "48 V", "target_v": "5 V", "lower_ohm": "100", "within": "5 %"},
    {"supply_v": "9 V", "target_v": "4.4 V", "lower_ohm": "8k2", "load": "47k or open"},
]


@pytest.mark.parametrize("texts", NEEDS)
def test_no_advice_changes_what_is_in_place(texts: dict[str, str]) -> None:
    need = brief_of("divider", texts)
    choice = choices_for(need, "nearest", (), 1).rows[0]
    for advice in advise("divider", texts, choice.network).ways:
        assert not {"tolerance", "rating", "tracking", "own", "tcr"} & advice.changes.keys()
        assert need.leaves_in_place(read_network(advice.notation))
