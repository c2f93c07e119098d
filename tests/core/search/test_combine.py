"""Tables of combinations: each once, its share of power right, its levels nested."""

import itertools
import random

import numpy as np
import pytest

from lowfold.core.network.tree import Part, canonical, part_watts, parts_of, resistance
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.assemblies import arrangements
from lowfold.core.search.combine import table

VALUES = [1.0, 2.2, 4.7, 10.0, 33.0]


@pytest.mark.parametrize("parts", [1, 2, 3, 4])
@pytest.mark.parametrize("count", [1, 2, 3])
def test_a_table_holds_every_arrangement_once(parts: int, count: int) -> None:
    found = table(Pool.plenty(VALUES[:count]), parts)
    texts = {canonical(found.network(row))[0] for row in range(len(found.ohms))}
    assert len(texts) == len(found.ohms) == arrangements(count, parts)
    assert (np.diff(found.ohms) >= 0).all()


@pytest.mark.parametrize("parts", [2, 3, 4])
def test_every_row_is_what_it_says(parts: int) -> None:
    pool = Pool.plenty(VALUES[:3])
    found = table(pool, parts)
    for row in range(len(found.ohms)):
        network = found.network(row)
        assert found.ohms[row] == pytest.approx(resistance(network), rel=1e-12)
        used = sorted(p.ohms for p in parts_of(network) if isinstance(p, Part))
        assert used == sorted(pool.ohms[k] for k in found.leaves[row])
        watts = [w for _, w in part_watts(network, 7.0)]
        assert found.share[row] == pytest.approx(max(watts) / sum(watts), rel=1e-12)


def test_levels_are_nested_and_hold_what_is_even_enough() -> None:
    found = table(Pool.plenty([float(v) for v in range(1, 40)]), 2)
    edges, levels = found.levels
    assert (np.diff(edges) >= 0).all()
    sizes = [len(rows) for rows, _ in levels]
    assert sizes[-1] == len(found.ohms)
    assert all(2 * small <= large <= 2 * small + 1 for small, large in itertools.pairwise(sizes))
    for edge, (rows, ohms) in zip(edges, levels, strict=True):
        assert (np.diff(rows) > 0).all()
        assert (ohms == found.ohms[rows]).all()
        assert found.share[rows].max() == edge
    for some, more in itertools.pairwise(rows for rows, _ in levels):
        assert set(some) <= set(more)


@pytest.mark.parametrize("seed", range(10))
def test_a_stock_makes_what_it_has_parts_for(seed: int) -> None:
    rng = random.Random(seed)
    counts = {v: rng.choice([0, 1, 2, 3, PLENTY]) for v in VALUES[: rng.randint(1, 4)]}
    pool = Pool.stock(counts)
    for parts in (2, 3, 4):
        found = table(pool, parts)
        free = table(Pool.plenty(pool.ohms), parts) if pool.ohms else found
        expected = {
            canonical(free.network(row))[0]
            for row in range(len(free.ohms))
            if all((free.leaves[row] == k).sum() <= pool.counts[k] for k in range(len(pool.ohms)))
        }
        texts = [canonical(found.network(row))[0] for row in range(len(found.ohms))]
        assert sorted(texts) == sorted(expected)


def test_some_rows_of_a_table_stay_themselves() -> None:
    found = table(Pool.plenty(VALUES), 2)
    some = found.some(slice(3, 9))
    for row in range(6):
        assert canonical(some.network(row)) == canonical(found.network(row + 3))
        assert (some.leaves[row] == found.leaves[row + 3]).all()
    singles = table(Pool.plenty(VALUES), 1).some(slice(2, 4))
    assert [singles.network(k) for k in range(2)] == [Part(4.7), Part(10.0)]


def test_tables_are_kept_for_pools_that_are_alike() -> None:
    assert table(Pool.plenty(VALUES), 3) is table(Pool.plenty(list(VALUES)), 3)
    assert Pool.stock({1.0: 2}) != Pool.stock({1.0: 3})
    assert not Pool.plenty(VALUES).counted
    assert Pool.stock({1.0: 2, 2.0: PLENTY}).counted


def test_arrangements_of_one_value_are_the_known_numbers() -> None:
    # P. A. MacMahon 1891, from memory: two-terminal series–parallel networks of n equal parts
    assert [arrangements(1, n) for n in range(1, 8)] == [1, 2, 4, 10, 24, 66, 180]
