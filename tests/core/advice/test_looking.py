"""Looking through what can be bought, against weighing every pair there is."""

import dataclasses
import itertools

import pytest

from lowfold.core.advice import looking
from lowfold.core.advice.advice import advise
from lowfold.core.advice.case import cost_of
from lowfold.core.advice.looking import look_through
from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.kinds import BriefKind, read_brief
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import Element
from lowfold.core.values.quantities import write_code


def need_of(kind: BriefKind, **texts: str) -> Brief:
    need = read_brief(kind, texts).need
    assert need is not None
    return need


def every_pair(need: Brief) -> list[Verdict | None]:
    """How every pair of the stated values stands, weighed one and all."""
    values = need.parts.pool(()).ohms
    pairs: list[Element] = [
        read_network(f"R1={write_code(a)} + @OUT + R2={write_code(b)}")
        for a, b in itertools.product(values, repeat=2)
    ]
    return [choice.judged.verdict for choice in need.weigh(pairs)]


SMALL = {"values": "E6", "min_ohm": "100", "max_ohm": "100k", "supply_v": "12 V"}


@pytest.mark.parametrize(
    "texts",
    [
        {"target_v": "3.3 V", "within": "6 %"},
        {"target_v": "3.3 V", "within": "2 %"},
        {"target_v": "3.1 V", "within": "1 %"},
        {"target_v": "5 V", "within": "5 %", "load": "10k ± 30 %"},
        {"target_v": "5 V", "within": "12 %", "load": "100 ± 10 %"},
        {"target_v": "6 V", "within": "4 %", "supply_v": "60 V", "rating": "0402"},
        {"target_v": "2 V", "within": "8 %", "low_v": "-5 V"},
    ],
)
def test_nothing_passes_where_looking_says_so_and_something_where_it_finds_it(
    texts: dict[str, str],
) -> None:
    need = need_of("divider", **{**SMALL, **texts})
    looked = look_through(need, need.parts.pool(()))
    passing = Verdict.PASS in every_pair(need)
    if looked.best is not None and looked.best.judged.verdict is Verdict.PASS:
        assert passing
        assert looked.words == ""
    else:
        assert looked.all_of_them
        assert not passing
        assert looked.words == (
            f"All {len(need.parts.pool(()).ohms) ** 2} pairs of these values looked through: "
            "none passes."
        )


def test_a_denial_that_is_not_proven_counts_what_was_looked_at() -> None:
    # Ladders know no order of their worst corner, and there are more than are looked at.
    need = need_of("ladder", supply_v="5 V", tap1_v="3.3 V", tap2_v="1.8 V", within="0.5 %")
    looked = look_through(need, need.parts.pool(()))
    assert not looked.all_of_them
    assert looked.words.startswith("Of ")
    assert looked.words.endswith(" were weighed: none passes.")


def test_a_short_list_of_a_search_that_is_not_exact_settles_nothing(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    # Nothing of E6 passes here: its whole list is weighed, and settles it.
    texts = {
        "values": "E6",
        "min_ohm": "1k",
        "max_ohm": "4k7",
        "target_v": "3.1 V",
        "within": "1 %",
    }
    need = need_of("feedback", reference_tolerance="0 %", **texts)
    pool = need.parts.pool(())
    whole = look_through(need, pool)
    assert whole.all_of_them
    assert whole.words.startswith("All ")
    # The same list of a search that could not look at everything.
    search = type(need).search
    monkeypatch.setattr(
        type(need), "search", lambda *asked: dataclasses.replace(search(*asked), exact=False)
    )
    monkeypatch.setattr(looking, "_fails", lambda *_: False)
    cut = look_through(need, pool)
    assert not cut.all_of_them
    assert cut.words.startswith("Of ")


def test_what_costs_less_is_told_first() -> None:
    texts = {"supply_v": "60 V", "target_v": "30 V", "within": "4 %", "rating": "0402"}
    found = advise("divider", texts, read_network("R1=1k + @OUT + R2=1k"))
    passing = [w for w in found.ways if w.verdict is Verdict.PASS]
    assert passing[0].kind == "choice"
    costs = [cost_of(w) for w in passing]
    assert costs == sorted(costs)


def test_precision_parts_come_last() -> None:
    texts = {"supply_v": "5 V", "target_v": "2.5 V", "within": "0.2 %", "values": "E6"}
    found = advise("divider", texts, read_network("R1=10k + @OUT + R2=10k"))
    costs = [cost_of(w) for w in found.ways if w.verdict is Verdict.PASS]
    assert costs == sorted(costs)
    # All pairs looked through before anything dear is named
    assert found.looked.startswith("All ")
