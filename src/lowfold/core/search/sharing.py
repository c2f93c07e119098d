"""One choice for each of several needs, out of as few different values as possible.

A set cover: choose one option a need, pay for every value that any chosen option uses. Solved
exactly as an integer program (SciPy's HiGHS), first for the fewest values, then, with that many,
for the smallest sum of errors as shares of what is accepted.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError, TooLargeError

__all__ = ["Option", "Sharing", "share_values"]

FloatArray = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Option:
    """One way to meet a need."""

    notation: str
    values: frozenset[float]  #: the different values it is made of, Ω
    share: float  #: |error| as a share of the accepted one, 0 to 1


@dataclass(frozen=True, slots=True)
class Sharing:
    chosen: tuple[Option, ...]  #: one for each need, in order
    proven: bool = True  #: False where time ran out before no better one was left

    @property
    def values(self) -> tuple[float, ...]:
        """Return the different values of all chosen options, rising, Ω."""
        return tuple(sorted(frozenset().union(*(o.values for o in self.chosen))))


def share_values(needs: Sequence[Sequence[Option]], seconds: float | None = None) -> Sharing:
    """Choose one option for each need with as few different values as possible, exactly.

    Parameters
    ----------
    seconds : float, optional
        For each of the two programs; where it runs out, the best met so far is returned.
    needs : Sequence[Sequence[Option]]
        Options of each need.

    Raises
    ------
    DomainError
        Naming the first need without an option.
    """
    for place, options in enumerate(needs):
        if not options:
            msg = f"need {place + 1} has no choice within its accepted error"
            raise DomainError(msg, field=f"needs.{place}")
    flat = [(need, o) for need, options in enumerate(needs) for o in _undominated(options)]
    values = sorted({v for _, option in flat for v in option.values})
    program = _Program(len(values) + len(flat), seconds)
    users: dict[tuple[int, int], list[int]] = {}  # by need and value: the columns of its options
    for column, (need, option) in enumerate(flat, start=len(values)):
        for value in option.values:
            users.setdefault((need, values.index(value)), []).append(column)
    for need in range(len(needs)):
        own = [k for k, (of, _) in enumerate(flat, start=len(values)) if of == need]
        program.constrain([(k, 1.0) for k in own], 1.0, 1.0)
    # Of one need one option is chosen, so one row a need and value makes it pay for the value.
    for (_, value), columns in users.items():
        program.constrain([*((k, 1.0) for k in columns), (value, -1.0)], -np.inf, 0.0)
    every = np.arange(len(values))
    few = np.where(np.arange(program.size) < len(values), 1.0, 0.0)
    least = round(float(few @ program.solved(few)))
    program.constrain([(int(k), 1.0) for k in every], -np.inf, least + 0.5)
    near = np.array([0.0] * len(values) + [option.share for _, option in flat])
    picked = program.solved(near)[len(values) :] > 0.5
    chosen = {need: option for (need, option), on in zip(flat, picked, strict=True) if on}
    return Sharing(tuple(chosen[need] for need in range(len(needs))), program.proven)


class _Program:
    """Variables of 0 or 1 and the sums of them that are bounded."""

    def __init__(self, size: int, seconds: float | None = None) -> None:
        self.size, self.seconds = size, seconds
        self.proven = True
        self._rows: list[int] = []
        self._columns: list[int] = []
        self._weights: list[float] = []
        self._low: list[float] = []
        self._high: list[float] = []

    def constrain(self, terms: Sequence[tuple[int, float]], low: float, high: float) -> None:
        self._rows += [len(self._low)] * len(terms)
        self._columns += [column for column, _ in terms]
        self._weights += [weight for _, weight in terms]
        self._low.append(low)
        self._high.append(high)

    def solved(self, cost: FloatArray) -> FloatArray:
        """Return the variables that make `cost` least."""
        # Imported here: half a second of every start that only a search for shared values needs.
        from scipy.optimize import Bounds, LinearConstraint, milp  # noqa: PLC0415
        from scipy.sparse import csr_array  # noqa: PLC0415

        shape = (len(self._low), self.size)
        matrix = csr_array((self._weights, (self._rows, self._columns)), shape=shape)
        found = milp(
            cost,
            constraints=LinearConstraint(matrix, np.array(self._low), np.array(self._high)),
            integrality=np.ones(self.size),
            bounds=Bounds(0, 1),
            options={} if self.seconds is None else {"time_limit": self.seconds},
        )
        self.proven &= bool(found.success)
        if found.x is None:  # one option a need always meets every row, if there is time
            msg = f"no way to share values was met within {self.seconds:g} s: share fewer needs"
            raise TooLargeError(msg, field="share")
        variables: FloatArray = found.x
        return variables


def _undominated(options: Sequence[Option]) -> list[Option]:
    """Return the options for which no other has the same or fewer of their values and is nearer."""
    best: dict[frozenset[float], Option] = {}
    for option in options:
        known = best.get(option.values)
        if known is None or option.share < known.share:
            best[option.values] = option
    found: list[Option] = []
    for option in sorted(best.values(), key=lambda o: (len(o.values), o.share, o.notation)):
        if not any(f.values <= option.values and f.share <= option.share for f in found):
            found.append(option)
    return found
