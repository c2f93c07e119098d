"""Shared values against every combination of options."""

import itertools
import random

import pytest

from lowfold.core.board.sharing import cost_words, options_of, share_passing
from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import DomainError
from lowfold.core.needs.kinds import read_brief, weigh
from lowfold.core.network.notation import read_network
from lowfold.core.search.sharing import Option, share_values
from lowfold.core.values.quantities import VOLT


@pytest.mark.parametrize("seed", range(20))
def test_no_combination_needs_fewer_values_or_lies_nearer_with_as_few(seed: int) -> None:
    rng = random.Random(seed)
    pool = [10.0, 15.0, 22.0, 33.0, 47.0, 68.0, 100.0]
    needs = [
        [
            Option(
                f"{n}.{k}", frozenset(rng.sample(pool, rng.randint(1, 3))), round(rng.random(), 3)
            )
            for k in range(rng.randint(1, 6))
        ]
        for n in range(rng.randint(2, 5))
    ]
    best = min(
        (len(frozenset().union(*(o.values for o in chosen))), sum(o.share for o in chosen))
        for chosen in itertools.product(*needs)
    )
    found = share_values(needs)
    assert len(found.values) == best[0]
    assert sum(o.share for o in found.chosen) == pytest.approx(best[1])
    assert all(o in options for o, options in zip(found.chosen, needs, strict=True))


def test_two_dividers_share_what_a_common_ratio_allows() -> None:
    # By hand: 10 V → 5 V is any value twice; 9 V → 3 V is R over R/2, of E24 only 20k over 10k,
    # 2k over 1k and the like, so both can be made of two values.
    briefs = [
        read_brief(
            "divider", {"supply_v": v, "target_v": t, "within": "0.1 %", "values": "E24"}
        ).need
        for v, t in (("10 V", "5 V"), ("9 V", "3 V"))
    ]
    every = [options_of(b, ())[0] for b in briefs if b is not None]
    found = share_values(every)
    assert len(found.values) == 2
    assert found.values[1] == 2 * found.values[0]


def test_a_need_without_a_choice_is_named() -> None:
    with pytest.raises(DomainError, match="need 2 has no choice within its accepted error"):
        share_values([[Option("a", frozenset({1.0}), 0.0)], []])


def test_what_is_shared_passes_the_gates_of_each_need() -> None:
    # By hand: of 12 V on 470 to 500 Ω even the coolest is too much for one 0603; two of a few kΩ
    # each in a divider are not
    cool = {
        "supply_v": "12 V",
        "target_v": "6 V",
        "within": "5 %",
        "values": "E12",
        "rating": "0603",
    }
    briefs = [
        read_brief("divider", cool).need,
        read_brief("divider", cool | {"target_v": "4 V", "supply_v": "8 V"}).need,
    ]
    needs = [b for b in briefs if b is not None]
    every = [options_of(b, ())[0] for b in needs]
    shared = share_passing(needs, every)
    taken = [each for each in shared.chosen if each is not None]
    assert [c.judged.verdict is Verdict.FAIL for _, c in taken] == [False, False]
    assert [c.notation for _, c in taken] == [o.notation for o, _ in taken]
    hot = {"target_ohm": "470", "within": "5 %", "use": "12 V", "rating": "0603", "max_parts": "1"}
    pull_down = read_brief("resistance", hot).need
    assert pull_down is not None
    # A need of which nothing passes takes no part, and the others share without it
    told = share_passing([pull_down, needs[0]], [options_of(pull_down, ())[0], every[0]])
    assert told.chosen[0] is None
    assert told.chosen[1] is not None
    assert told.chosen[1][1].judged.verdict is not Verdict.FAIL
    assert told.values == tuple(sorted(told.chosen[1][0].values))


def test_what_sharing_costs_is_told_in_both_figures() -> None:
    need = read_brief("divider", {"supply_v": "12 V", "target_v": "3.3 V"}).need
    assert need is not None
    own, shared = (
        weigh(need, read_network(text))
        for text in ("R1=24k + @OUT + R2=9k1", "R1=18k + @OUT + R2=6k8")
    )
    # By hand: 12·9.1/33.1 V is 0.027 % low, 12·6.8/24.8 V 0.293 %; 12 V over 24.8 kΩ is 484 µA
    words = cost_words(own, shared, VOLT)
    assert words.startswith("off by −0.293 % instead of −0.027 %; worst corner off by ")
    assert words.endswith("; draws 484 µA instead of 363 µA")
    assert cost_words(own, own, VOLT) == "its own choice"
    # Ten times the values: stiffer is given up, and nothing else
    heavy = weigh(need, read_network("R1=2k4 + @OUT + R2=910"))
    assert cost_words(heavy, own, VOLT) == "output resistance 6.60 kΩ instead of 660 Ω"
