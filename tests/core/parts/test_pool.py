"""Values to choose from, and how many there are."""

import numpy as np
import pytest

from lowfold.core.errors import DomainError
from lowfold.core.parts.pool import Pool


def test_a_drawer_runs_out() -> None:
    pool = Pool.stock({100.0: 2, 47.0: 1, 10.0: 0})
    assert pool.ohms == (47.0, 100.0)
    assert pool.counted
    leaves = np.array([[0, 1], [1, 1], [0, 0]])  # 47 + 100, 100 + 100, 47 + 47
    assert pool.in_stock(leaves).tolist() == [True, True, False]


def test_a_series_never_runs_out() -> None:
    pool = Pool.plenty([10.0, 22.0])
    assert not pool.counted
    assert pool.in_stock(np.zeros((1, 6), dtype=np.intp)).tolist() == [True]


@pytest.mark.parametrize("line", [{0.0: 1}, {-5.0: 1}, {10.0: -1}])
def test_a_line_that_cannot_be_is_refused(line: dict[float, int]) -> None:
    with pytest.raises(DomainError, match="values are above 0 Ω, counts 0 or more"):
        Pool.stock(line)
