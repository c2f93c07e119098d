"""Up to six parts against an enumeration that knows nothing of pairs, tables or contexts."""

import functools
import itertools
import random
from collections import Counter
from fractions import Fraction

import numpy as np
import pytest

from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import canonical, part_watts, resistance, write_network
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.assemblies import arrangements, nearest_assemblies
from lowfold.core.search.contexts import Drive
from lowfold.core.search.resistance_search import ResistanceNeed, search_resistance
from lowfold.core.values.preferred import series_values
from tests.effort import seeds

VALUES = [1.0, 2.2, 4.7, 10.0, 20.0, 33.0, 47.0, 50.0, 68.0, 100.0, 150.0, 470.0, 1000.0]

#: An arrangement: its resistance, and its shape as nested sorted tuples under "+" or "|".
Shape = tuple[Fraction, tuple[object, ...]]


def joined(kind: str, one: Shape, two: Shape) -> Shape:
    ohms = one[0] + two[0] if kind == "+" else 1 / (1 / one[0] + 1 / two[0])
    items: list[object] = []
    for _, shape in (one, two):
        items.extend(shape[1:] if shape[0] == kind else (shape,))
    return ohms, (kind, *sorted(items, key=repr))


@functools.cache
def shapes(values: tuple[float, ...]) -> set[Shape]:
    """Every series–parallel arrangement of exactly these parts, by splitting them in two."""
    if len(values) == 1:
        return {(Fraction(repr(values[0])), ("part", values[0]))}
    found = set()
    for mask in range(1, 2 ** (len(values) - 1)):
        left = tuple(v for i, v in enumerate(values) if mask >> i & 1)
        right = tuple(v for i, v in enumerate(values) if not mask >> i & 1)
        for one, two in itertools.product(shapes(left), shapes(right)):
            found |= {joined("+", one, two), joined("|", one, two)}
    return found


def every(pool: Pool, parts: int) -> list[Shape]:
    counts = dict(zip(pool.ohms, pool.counts, strict=True))
    return [
        shape
        for values in itertools.combinations_with_replacement(pool.ohms, parts)
        if all(counts[v] >= n for v, n in Counter(values).items())
        for shape in shapes(values)
    ]


@pytest.mark.parametrize("seed", range(14))
def test_candidates_are_the_nearest_of_all_arrangements(seed: int) -> None:
    rng = random.Random(seed)
    values = sorted(rng.sample(VALUES, rng.randint(1, 4)))
    counts = {v: rng.choice([1, 2, 3, PLENTY]) for v in values}
    pool, parts = Pool.stock(counts), rng.choice([3, 4])
    target = Fraction(repr(10 ** rng.uniform(-0.5, 3.3)))
    limit = rng.choice([1, 5, 60])
    found = search_resistance(
        ResistanceNeed(target_ohms=float(target), pool=pool, max_parts=parts, limit=limit)
    )
    by_size = [every(pool, size) for size in range(1, parts + 1)]
    errors = sorted(abs(ohms / target - 1) for size in by_size for ohms, _ in size)
    assert [abs(c.error) for c in found.candidates] == [float(e) for e in errors[:limit]]
    assert len({c.expression for c in found.candidates}) == len(found.candidates)
    for best in found.frontier:
        size = by_size[best.best.parts - 1]
        assert abs(best.best.error) == float(min(abs(ohms / target - 1) for ohms, _ in size))


@pytest.mark.parametrize("count", [1, 2, 3])
@pytest.mark.parametrize("parts", [1, 2, 3, 4])
def test_the_number_of_arrangements_is_counted_right(count: int, parts: int) -> None:
    pool = Pool.plenty(VALUES[:count])
    assert arrangements(count, parts) == len(every(pool, parts))


def ohms_of(shape: tuple[object, ...]) -> Fraction:
    kind, *items = shape
    if kind == "part":
        return Fraction(repr(items[0]))
    inner = [ohms_of(i) for i in items]  # type: ignore[arg-type]
    return sum(inner, Fraction(0)) if kind == "+" else 1 / sum((1 / r for r in inner), Fraction(0))


def hottest(shape: tuple[object, ...], volts: Fraction) -> Fraction:
    """What the hottest part takes with `volts` across the whole, by unfolding."""
    kind, *items = shape
    if kind == "part":
        return volts**2 / ohms_of(shape)
    if kind == "|":
        return max(hottest(i, volts) for i in items)  # type: ignore[arg-type]
    amps = volts / ohms_of(shape)
    return max(hottest(i, amps * ohms_of(i)) for i in items)  # type: ignore[arg-type]


def test_one_part_cools_while_another_heats() -> None:
    # 1400 ∥ (3 × 160) takes 4.158 mW in each of the three at 6.75 mA, by hand; at both ends of a ring
    # some part of it is too hot
    drive = Drive(4.266e-3, amps=6.75e-3)
    ((_, found),) = nearest_assemblies(
        Pool.plenty([160.0, 190.0, 1400.0]), 4, 380.03, 1, drive=drive
    )
    assert write_network(found) == "(160 + 160 + 160) || 1k4"


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(40))
def test_power_limits_and_parts_in_place_leave_the_nearest_of_what_is_allowed(seed: int) -> None:
    rng = random.Random(seed)
    values = sorted(rng.sample(VALUES, rng.randint(1, 4)))
    pool, parts = Pool.plenty(values), rng.choice([1, 2, 3, 4])
    target = Fraction(repr(10 ** rng.uniform(-0.5, 3.3)))
    fixed = rng.choice([None, 12.0, 350.0])
    drive = rng.choice(["across_volts", "through_amps"])
    level = Fraction(repr(10 ** rng.uniform(-1, 1.5)))
    all_there_are = []
    for size in range(1, parts + 1):
        for ohms, shape in every(pool, size):
            for join in ("alone",) if fixed is None else ("+", "|"):
                beside = Fraction(repr(fixed)) if fixed else Fraction(0)
                whole = ohms + beside if join == "+" else ohms
                whole = 1 / (1 / ohms + 1 / beside) if join == "|" else whole
                volts = level if drive == "across_volts" else level * whole
                own = volts * ohms / whole if join == "+" else volts
                all_there_are.append((abs(whole / target - 1), hottest(shape, own)))
    # Just cool enough for one of those near the target, so that what is found is on the edge
    near = sorted(all_there_are)[: rng.choice([3, 30, 300])]
    allowed = Fraction(repr(float(rng.choice(near)[1]) * (1 + 1e-9)))
    wholes = [error for error, hot in all_there_are if hot <= allowed]
    need = ResistanceNeed(
        target_ohms=float(target), pool=pool, max_parts=parts, limit=25, fixed_ohms=fixed,
        part_watts=float(allowed) * 2, stress=0.5, **{drive: float(level)},  # type: ignore[arg-type]
    )  # fmt: skip
    found = search_resistance(need).candidates
    assert [abs(c.error) for c in found] == [float(e) for e in sorted(wholes)[:25]]


@pytest.mark.parametrize("seed", range(6))
def test_five_and_six_parts_of_a_small_stock(seed: int) -> None:
    rng = random.Random(100 + seed)
    values = rng.sample(VALUES, 2 if seed % 2 else 3)
    pool = Pool.stock({v: rng.choice([1, 2, 3, 4, PLENTY]) for v in values})
    parts = 5 if len(values) == 3 else 6
    target = Fraction(repr(10 ** rng.uniform(0, 3)))
    need = ResistanceNeed(target_ohms=float(target), pool=pool, max_parts=parts, limit=30)
    found = search_resistance(need)
    errors = sorted(
        abs(ohms / target - 1) for size in range(1, parts + 1) for ohms, _ in every(pool, size)
    )
    assert [abs(c.error) for c in found.candidates] == [float(e) for e in errors[:30]]


def test_a_dense_series_under_a_power_limit_keeps_every_part_cool() -> None:
    # The same search without the limit, what is too hot struck out afterwards.
    pool = Pool.plenty(series_values(["E12"], 1.0, 1e4))
    drive = Drive(0.3, volts=10.0)
    found = nearest_assemblies(pool, 3, 123.4, 3, drive=drive)
    free = nearest_assemblies(pool, 3, 123.4, 3000)
    cool = [
        abs(resistance(net) / 123.4 - 1)
        for _, net in free
        if max(w for _, w in part_watts(net, 10.0)) <= 0.3
    ]
    limited = sorted(abs(resistance(net) / 123.4 - 1) for _, net in found)
    assert limited[:3] == pytest.approx(sorted(cool)[:3], rel=1e-9)


def test_45_ohms_from_20_and_50_ohm_parts() -> None:
    # Common practice, worked by hand in the trade: (50 ‖ 50) + 20
    need = ResistanceNeed(target_ohms=45.0, pool=Pool.plenty([20.0, 50.0]), max_parts=3, limit=1)
    best = search_resistance(need).candidates[0]
    assert (best.expression, best.error) == ("(50 || 50) + 20", 0.0)


@pytest.mark.parametrize("target", [0.37, 1234.5, 98765.4])
def test_a_whole_series_against_numpy_grids(target: float) -> None:
    # numpy: every reading of four E12 parts over five decades, half a million pairs of pairs and more
    values = series_values(["E12"], 1.0, 1e5)
    i, j = np.triu_indices(len(values))
    pairs = np.concatenate((values[i] + values[j], values[i] * values[j] / (values[i] + values[j])))
    best = np.inf
    wholes = [pairs[:, None] + pairs, pairs[:, None] * pairs / (pairs[:, None] + pairs)]
    for v in values:
        group, chain = values[:, None] * pairs / (values[:, None] + pairs), values[:, None] + pairs
        wholes += [v + group, v * chain / (v + chain)]
    for whole in wholes:
        best = min(best, float(np.abs(whole / target - 1).min()))
    need = ResistanceNeed(target_ohms=target, pool=Pool.plenty(values), max_parts=4, limit=1)
    four = search_resistance(need).frontier[3].best
    assert abs(four.error) == pytest.approx(best, abs=1e-14)


def test_a_part_in_place_is_completed_by_three() -> None:
    pool = Pool.plenty([1.0, 10.0, 100.0])
    need = ResistanceNeed(target_ohms=4761.0, pool=pool, max_parts=3, fixed_ohms=4650.0, limit=1)
    best = search_resistance(need).candidates[0]
    assert (best.ohms, best.parts) == (4761.0, 3)  # by hand: 4650 + 100 + 10 + 1
    assert best.expression == "4k65 + 100 + 10 + 1"
    unreachable = ResistanceNeed(
        target_ohms=1.0, pool=pool, max_parts=3, fixed_ohms=4650.0, limit=1
    )
    # By hand: beside 4650 Ω, three of 1 Ω in parallel come lowest, but two of them are nearer: 0.5 …
    nearest = search_resistance(unreachable).candidates[0]
    assert nearest.expression == "4k65 || 1"


def test_one_writing_for_all_readings() -> None:
    texts = ["(1k || 2k) + 3k + 10", "10 + 3k + (2k || 1k)", "3k + ((2k || 1k) + 10)"]
    found = set()
    for text in texts:
        network = read_text(text)
        assert not isinstance(network, Netlist)
        found.add(canonical(network)[0])
        assert canonical(network)[0] == write_network(canonical(network)[1], refs=False)
    assert found == {"3k + (1k || 2k) + 10"}
