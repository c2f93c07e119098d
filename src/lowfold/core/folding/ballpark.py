"""The estimate a practised person makes in the head, before any exact figure.

Values are taken to one figure and a half (1, 1.5, 2, 3 … of a decade). In series a part a tenth of
the other or less does not count. Two parts whose ratio is about a : b give a/(a + b) of the smaller
in parallel; ten to one or more give the smaller (common practice).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.folding.fold import Folding

__all__ = ["Ballpark", "ballpark", "rounded"]

STEPS: Final = (1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0, 9.0, 10.0)
#: Ratios as one says them, and so what two parts make of the smaller.
RATIOS: Final = ((1, 1), (3, 2), (2, 1), (5, 2), *((n, 1) for n in range(3, 10)))
NEGLIGIBLE: Final = 10.0  #: times smaller in series, or larger in parallel, and it does not count


@dataclass(frozen=True, slots=True)
class Ballpark:
    """An estimate of one step beside its exact figure."""

    ref: str
    estimate: float  #: Ω
    exact: float  #: Ω
    how: str

    @property
    def off(self) -> float:
        return self.estimate / self.exact - 1


def rounded(value: float) -> float:
    """Return `value` as one says it in the head: one figure and a half.

    Parameters
    ----------
    value : float
        In the base unit of its kind.
    """
    decade = 10.0 ** math.floor(math.log10(value))
    return min(STEPS, key=lambda s: abs(math.log(s * decade / value))) * decade


def ballpark(folding: Folding) -> tuple[Ballpark, ...]:
    """Estimate every step of a folding, each from the estimates before it; stars are left out.

    Parameters
    ----------
    folding : Folding
        A network folded step by step.
    """
    known = {e.ref: rounded(e.ohms) for e in folding.start}
    found = []
    for step in folding.steps:
        values = [known[e.ref] for e in step.members]
        if step.kind == "star-delta":
            known |= {e.ref: rounded(e.ohms) for e in step.results}
            continue
        guess, how = _series(values) if step.kind == "series" else _parallel(values)
        result = step.results[0]
        known[result.ref] = guess
        found.append(Ballpark(result.ref, guess, result.ohms, how))
    return tuple(found)


def _series(values: Sequence[float]) -> tuple[float, str]:
    most = max(values)
    counted = [v for v in values if v > most / NEGLIGIBLE]
    how = "add" if len(counted) == len(values) else "add; a tenth or less does not count"
    return math.fsum(counted), how


def _share(count: int) -> str:
    words = {2: "half", 3: "a third", 4: "a quarter", 5: "a fifth", 6: "a sixth", 8: "an eighth"}
    return words.get(count, f"1/{count}")


def _parallel(values: Sequence[float]) -> tuple[float, str]:
    rising = sorted(values)
    if rising[-1] <= rising[0] * 1.2:
        return rising[0] / len(rising), f"{len(rising)} alike: {_share(len(rising))} of one"
    guess, words = rising[0], []
    for other in rising[1:]:
        n = other / guess
        if n >= NEGLIGIBLE:
            words.append("ten to one: the smaller")
            continue
        a, b = min(RATIOS, key=lambda r: abs(math.log(r[0] / r[1] / n)))
        guess = guess * a / (a + b)
        words.append(f"about {a} : {b}, so {a}/{a + b} of the smaller")
    return guess, "; ".join(words)
