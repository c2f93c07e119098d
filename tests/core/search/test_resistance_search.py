"""The resistance search against plain enumeration, and the laws it has to keep."""

import itertools
from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import exact_resistance
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.combine import table
from lowfold.core.search.resistance_search import ResistanceNeed, search_resistance
from lowfold.core.values.preferred import series_values
from tests.effort import cases

E24 = Pool.plenty(series_values(["E24"]))
VALUES = [1.0, 2.2, 4.7, 10.0, 20.0, 33.0, 47.0, 50.0, 68.0, 100.0, 150.0, 470.0, 1000.0]


def exact(ohms: float) -> Fraction:
    return Fraction(repr(ohms))


def plain(pool: Pool, max_parts: int) -> list[tuple[Fraction, int, tuple[float, ...]]]:
    """Every combination of one or two parts by nested loops, in exact ratios."""
    every: list[tuple[Fraction, int, tuple[float, ...]]] = [(exact(v), 1, (v,)) for v in pool.ohms]
    if max_parts == 2:
        for (i, a), (j, b) in itertools.combinations_with_replacement(enumerate(pool.ohms), 2):
            if i == j and pool.counts[i] < 2:
                continue
            every.append((exact(a) + exact(b), 2, (a, b)))
            every.append((1 / (1 / exact(a) + 1 / exact(b)), 2, (a, b)))
    return every


pools = st.lists(st.sampled_from(VALUES), min_size=1, max_size=7, unique=True).flatmap(
    lambda values: st.one_of(
        st.just(Pool.plenty(sorted(values))),
        st.lists(st.integers(1, 3), min_size=len(values), max_size=len(values)).map(
            lambda counts: Pool.stock(dict(zip(values, counts, strict=True)))
        ),
    )
)


@given(pools, st.floats(0.3, 2000), st.integers(1, 2), st.sampled_from([1, 5, 40]))
@cases(150)
def test_candidates_are_the_nearest_there_are(
    pool: Pool, target: float, parts: int, limit: int
) -> None:
    found = search_resistance(
        ResistanceNeed(target_ohms=target, pool=pool, max_parts=parts, limit=limit)
    )
    every = sorted(abs(r / exact(target) - 1) for r, _, _ in plain(pool, parts))
    errors = [abs(c.error) for c in found.candidates]
    assert errors == [float(e) for e in every[:limit]]
    assert found.searched >= len(every)  # what a stock runs out of is counted too


@given(pools, st.floats(0.3, 2000))
@cases(60)
def test_no_combination_is_listed_twice_and_each_is_what_it_says(pool: Pool, target: float) -> None:
    found = search_resistance(ResistanceNeed(target_ohms=target, pool=pool, limit=500))
    texts = [c.expression for c in found.candidates]
    assert len(set(texts)) == len(texts)
    for c in found.candidates:
        network = read_text(c.expression)
        assert not isinstance(network, Netlist)
        assert c.ohms == float(exact_resistance(network))
        assert c.lowest_ohms == pytest.approx(c.ohms * 0.99, rel=1e-15)
        assert c.highest_ohms == pytest.approx(c.ohms * 1.01, rel=1e-15)


@given(pools, st.floats(0.3, 2000), st.sampled_from(VALUES))
@cases(60)
def test_more_parts_or_more_values_never_make_the_best_worse(
    pool: Pool, target: float, extra: float
) -> None:
    def best(p: Pool, parts: int) -> float:
        need = ResistanceNeed(target_ohms=target, pool=p, max_parts=parts, limit=1)
        return abs(search_resistance(need).candidates[0].error)

    counts = dict(zip(pool.ohms, pool.counts, strict=True))
    wider = Pool.stock(counts | {extra: PLENTY})
    assert best(pool, 2) <= best(pool, 1)
    assert best(wider, 2) <= best(pool, 2)


def test_ties_go_to_fewer_parts_then_fewer_values() -> None:
    pool = Pool.plenty([10.0, 20.0, 30.0, 60.0])
    found = search_resistance(ResistanceNeed(target_ohms=20.0, pool=pool, limit=4))
    # By hand: 20 alone, 10+10 of one value, 30‖60 of two; all exactly 20 Ω
    assert [c.expression for c in found.candidates[:3]] == ["20", "10 + 10", "30 || 60"]
    assert [c.error for c in found.candidates[:3]] == [0.0, 0.0, 0.0]


def test_frontier_says_whether_one_more_part_is_worth_it() -> None:
    # By hand: 4k3 is 0.463 % low, 4k3 + 20 is 0.0231 % low of 4321 Ω
    need = ResistanceNeed(target_ohms=4321.0, pool=E24, tolerance=0.01)
    one, two = search_resistance(need).frontier
    assert (one.best.expression, two.best.expression) == ("4k3", "4k3 + 20")
    assert one.worthwhile
    assert two.worthwhile  # removes 0.463 − 0.023 %, more than a tenth of 1 %
    loose = ResistanceNeed(target_ohms=4321.0, pool=E24, tolerance=0.05)
    assert not search_resistance(loose).frontier[1].worthwhile
    hit = search_resistance(ResistanceNeed(target_ohms=4300.0, pool=E24)).frontier
    assert not hit[1].worthwhile


def test_fewest_parts_within_an_accepted_error() -> None:
    need = ResistanceNeed(target_ohms=4321.0, pool=E24, within=0.006, prefer="fewest", limit=3)
    found = search_resistance(need).candidates
    assert [c.parts for c in found] == [1, 2, 2]
    assert found[0].expression == "4k3"
    assert abs(found[1].error) <= abs(found[2].error)


def test_nothing_within_is_an_empty_list_with_the_reason() -> None:
    pool = Pool.stock({100.0: 1})
    found = search_resistance(ResistanceNeed(target_ohms=45.0, pool=pool, within=0.01))
    assert found.candidates == ()
    assert found.reason == (
        "nothing lies within 1.0000% of the target; the nearest is 100 at +122.2222%"
    )
    empty = search_resistance(ResistanceNeed(target_ohms=45.0, pool=Pool.stock({})))
    assert empty.reason == "there is no value to choose from: widen the range or fill the stock"


@pytest.mark.parametrize(("across", "through"), [(10.0, None), (None, 0.1)])
def test_every_part_stays_within_its_stressed_rating(
    across: float | None, through: float | None
) -> None:
    pool = Pool.plenty([47.0, 68.0, 100.0, 150.0, 220.0])
    need = ResistanceNeed(
        target_ohms=100.0, pool=pool, limit=500, across_volts=across, through_amps=through,
        part_watts=1.0, stress=0.6,
    )  # fmt: skip
    kept = {c.expression for c in search_resistance(need).candidates}
    every = search_resistance(ResistanceNeed(target_ohms=100.0, pool=pool, limit=500)).candidates
    for c in every:
        network = read_text(c.expression)
        volts = across if across is not None else (through or 0) * c.ohms
        ohms = [float(x.replace("R", "")) for x in c.expression.replace("||", "+").split("+")]
        if len(ohms) == 1:
            hottest = volts**2 / ohms[0]
        elif "||" in c.expression:
            hottest = max(volts**2 / r for r in ohms)
        else:
            hottest = max((volts / sum(ohms)) ** 2 * r for r in ohms)
        assert (c.expression in kept) == (hottest <= 0.6), (c.expression, hottest, network)


def test_no_part_cool_enough_says_so() -> None:
    need = ResistanceNeed(
        target_ohms=10.0, pool=Pool.plenty([10.0]), across_volts=100.0, part_watts=0.25
    )
    assert search_resistance(need).reason == (
        "no combination of up to 2 parts keeps every part within 0.5 of 0.25 W: "
        "allow a higher rating or more parts"
    )


def test_completing_a_part_in_place() -> None:
    # By hand: 4k7 measured at 4650 Ω; 4700 needs 50 in series, which E24 lacks: 51, or 33 + 18 …
    need = ResistanceNeed(target_ohms=4700.0, pool=E24, fixed_ohms=4650.0, limit=2000 // 4)
    found = search_resistance(need)
    best = found.candidates[0]
    assert best.ohms == 4700.0
    assert best.expression.startswith("4k65 + ")
    # The part in place has no tolerance: only the 50 Ω moves
    assert best.highest_ohms == pytest.approx(4650 + 50 * 1.01)
    beside = search_resistance(
        ResistanceNeed(target_ohms=4000.0, pool=E24, fixed_ohms=4650.0, max_parts=1)
    )
    # 4650 ‖ x = 4000 → x = 28615 Ω; E24 has 27k and 30k: 27k → 3966.9, 30k → 4026.0 Ω
    assert beside.candidates[0].expression == "4k65 || 30k"
    assert beside.candidates[0].ohms == pytest.approx(4650 * 30e3 / 34650)


CONTRADICTIONS = [
    ({"max_parts": 7}, TooLargeError, "7 parts are asked for; combinations of up to 4 are searched (6 from at most 20 values)"),
    ({"max_parts": 5}, TooLargeError, "5 parts are asked for; combinations of up to 4 are searched (6 from at most 20 values)"),
    ({"limit": 501}, TooLargeError, "501 candidates are asked for; at most 500 are listed"),
    ({"prefer": "fewest"}, DomainError, "prefer “fewest” needs within, the accepted error, for instance 1 %"),
    ({"across_volts": 1.0}, DomainError, "a power limit needs part_rating_w, each part's rating, for instance 1/4 W"),
    ({"part_watts": 1.0}, DomainError, "a rating tells nothing alone: state the voltage across the whole, or the current"),
    ({"across_volts": 1.0, "through_amps": 1.0, "part_watts": 1.0}, DomainError, "give the voltage across or the current through the whole, not both"),
]  # fmt: skip


@pytest.mark.parametrize(("more", "kind", "message"), CONTRADICTIONS)
def test_needs_that_contradict_themselves(
    more: dict[str, object], kind: type[DomainError], message: str
) -> None:
    with pytest.raises(kind) as refused:
        ResistanceNeed(target_ohms=1.0, pool=E24, **more)  # type: ignore[arg-type]
    assert refused.value.message == message


def test_tables_hold_every_pair_once_and_are_shared() -> None:
    found = table(Pool.plenty([1.0, 2.0, 3.0]), 2)
    assert len(found.ohms) == 2 * 6
    assert (found.ohms[1:] >= found.ohms[:-1]).all()
    assert table(Pool.plenty([1.0, 2.0, 3.0]), 2) is found
    assert len(table(Pool.stock({1.0: 1, 2.0: 2}), 2).ohms) == 2 * 2  # 1‖1 needs two of 1 Ω


@given(pools, st.floats(0.3, 400), st.sampled_from([33.0, 470.0]), st.integers(1, 4))
@cases(40)
def test_the_nearest_with_a_load_beside_them_are_found_however_few_are_listed(
    pool: Pool, target: float, load: float, limit: int
) -> None:
    # Which parts are nearest alone says nothing of which are with the load counted in
    wanted = ResistanceNeed(
        target_ohms=target, pool=pool, max_parts=2, limit=limit, beside_ohms=load
    )
    found = [abs(c.error) for c in search_resistance(wanted).candidates]
    every = search_resistance(replace(wanted, limit=400, beside_ohms=None)).candidates
    beside = Fraction(repr(load))
    errors = sorted(
        abs(float(exact * beside / (exact + beside) / Fraction(repr(target)) - 1))
        for exact in (exact_resistance(c.network) for c in every)
    )
    assert found == pytest.approx(errors[:limit], rel=1e-9, abs=1e-12)
