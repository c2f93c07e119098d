"""Floats rank, and exact ratios where floats cannot tell."""

from dataclasses import dataclass

from lowfold.core.search.ranking import best_first


@dataclass(frozen=True)
class Stub:
    exact: int
    written: str = ""

    def key(self) -> tuple[int]:
        return (self.exact,)


def test_floats_decide_where_they_can_tell_and_exact_ratios_where_not() -> None:
    # Four times the rounding, and a slack of 1e-12 of the cost itself, is what floats cannot tell
    near = [(1.0, Stub(2)), (1.0 + 3e-12, Stub(1))]
    assert [one.exact for one in best_first(near, 2, 0.0)] == [1, 2]
    apart = [(1.0, Stub(2)), (1.0 + 5e-12, Stub(1))]
    assert [one.exact for one in best_first(apart, 2, 0.0)] == [2, 1]
    coarse = [(1.0, Stub(2)), (1.0 + 3e-9, Stub(1))]
    assert [one.exact for one in best_first(coarse, 2, 0.0)] == [2, 1]
    assert [one.exact for one in best_first(coarse, 2, 1e-9)] == [1, 2]
    # A chain of neighbours is one band, though its ends are further apart
    chain = [(1.0 + k * 3e-12, Stub(9 - k)) for k in range(4)]
    assert [one.exact for one in best_first(chain, 3, 0.0)] == [6, 7, 8]


def test_what_is_written_decides_where_nothing_else_does() -> None:
    tied = [(1.0, Stub(1, "b")), (1.0, Stub(1, "a")), (1.0, Stub(0, "c"))]
    assert [one.written for one in best_first(tied, 3, 0.0)] == ["c", "a", "b"]
