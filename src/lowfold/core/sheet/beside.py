"""Two choices side by side: what differs between them, and which is the better in what."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final, Literal

from lowfold.core.checking.verdict import Verdict
from lowfold.core.values.preferred import SERIES
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, Kind, write, write_percent
from lowfold.core.weighing.choice import Choice
from lowfold.core.weighing.mark import Mark

__all__ = ["Beside", "Difference", "Side", "set_beside"]

Side = Literal["one", "two"]
#: Two figures nearer than this share of the larger are alike: nobody chooses by it.
ALIKE: Final = 1e-6


@dataclass(frozen=True, slots=True)
class Difference:
    """One thing said of both."""

    what: str
    one: str
    two: str
    better: Side | None  #: None where they are alike, or neither is the better for it
    by: str = ""  #: how much, in words


@dataclass(frozen=True, slots=True)
class Beside:
    lines: tuple[Difference, ...]
    words: str  #: in one sentence


def set_beside(one: Choice, two: Choice, unit: Kind) -> Beside:
    """Return two choices set side by side, line by line.

    Parameters
    ----------
    one, two : Choice
        Weighed against the same need.
    unit : Kind
        Of what is wanted.
    """
    lines = [_verdicts(one, two)]
    for mark, other in zip(one.marks, two.marks, strict=True):
        at = f"{mark.name} " if len(one.marks) > 1 else ""
        lines += [
            _line(f"{at}nominal", mark.nominal, other.nominal, lambda v: write(v, unit, 5)),
            _line(
                f"{at}off by", mark.error, other.error, _percent, less="nearer", size=abs
            ),
            _line(
                f"{at}worst corner off by", _furthest(mark), _furthest(other), _percent,
                less="tighter",
            ),
        ]  # fmt: skip
    if one.amps is not None and two.amps is not None:
        amps = (abs(one.amps), abs(two.amps))
        lines.append(
            _line("draws", amps[0], amps[1], lambda v: write(v, AMPERE, 3), less="less drawn")
        )
    if one.output_ohms is not None and two.output_ohms is not None:
        seen = (one.output_ohms, two.output_ohms)
        lines.append(_line("output resistance", *seen, lambda v: write(v, OHM, 3), less="stiffer"))
    lines += _gates(one, two)
    lines += [
        _line("parts", len(one.values), len(two.values), str, less="fewer parts"),
        _line("different values", one.distinct, two.distinct, str, less="fewer values"),
        _line("series", _stocked(one), _stocked(two), _series, less="more widely stocked"),
    ]
    return Beside(tuple(lines), _words(lines))


def _line(
    what: str,
    one: float,
    two: float,
    show: Callable[..., str],
    *,
    less: str = "",
    size: Callable[[float], float] = float,
) -> Difference:
    """Return one line; with `less`, what the smaller is for being so."""
    a, b = size(one), size(two)
    # What reads alike is alike: nobody chooses by what is not shown
    alike = show(one) == show(two) or math.isclose(a, b, rel_tol=ALIKE, abs_tol=1e-12)
    better: Side | None = None if alike or not less else "one" if a < b else "two"
    return Difference(what, show(one), show(two), better, less if better else "")


def _verdicts(one: Choice, two: Choice) -> Difference:
    order = [Verdict.PASS, None, Verdict.MARGINAL, Verdict.FAIL]
    a, b = (order.index(c.judged.verdict) for c in (one, two))
    shown = [c.judged.verdict.value if c.judged.verdict else "not judged" for c in (one, two)]
    better: Side | None = None if a == b else "one" if a < b else "two"
    return Difference("stands", shown[0], shown[1], better, "it stands better" if better else "")


def _gates(one: Choice, two: Choice) -> list[Difference]:
    """Return how much each gate uses of its allowance."""
    others = {g.name: g for g in two.judged.gates}
    return [
        _line(f"{g.name} uses", g.used, other, _share, less=f"more {g.name} left")
        for g in one.judged.gates
        if g.used is not None and (other := others[g.name].used) is not None
    ]


def _furthest(mark: Mark) -> float:
    return max(abs(mark.lowest / mark.target - 1), abs(mark.highest / mark.target - 1))


def _percent(value: float) -> str:
    return f"{write_percent(value, 3)} %"


def _share(value: float) -> str:
    return "more than there is" if math.isinf(value) else write(value, FRACTION, 3)


def _stocked(choice: Choice) -> int:
    return SERIES.index(choice.series) if choice.series else len(SERIES)


def _series(place: float) -> str:
    return SERIES[int(place)] if place < len(SERIES) else "no series"


def _words(lines: Sequence[Difference]) -> str:
    """Say in one sentence what each is better in."""
    said = []
    for side, name in (("one", "for the first"), ("two", "for the second")):
        by = list(dict.fromkeys(line.by for line in lines if line.better == side))
        if by:
            said.append(f"{name}: {_joined(by)}")
    if not said:
        return "They are alike in all of this."
    text = "; ".join(said)
    return f"{text[0].upper()}{text[1:]}."


def _joined(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"
