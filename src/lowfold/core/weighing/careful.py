"""Which choice a careful designer takes of those that pass, and why, in computed facts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.checking.verdict import Verdict
from lowfold.core.network.tree import Chain, Tap
from lowfold.core.search.sound_dividers import HEAVY
from lowfold.core.values.counting import counted
from lowfold.core.values.preferred import SERIES
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, write
from lowfold.core.weighing.choice import Choice

__all__ = ["Careful", "careful"]

SOFT_OHMS: Final = 100e3  #: from here on leakage and noise count at a tap (common practice)
WORSE: Final = 2.0  #: what is this much worse than the best there is is left out
#: From here on one short of the upper leg is not to bring all of it down (common practice).
HIGH_VOLTS: Final = 100.0
TWO_ABOVE: Final = 2
ROUNDING: Final = 1e-9


@dataclass(frozen=True, slots=True)
class Careful:
    """The choice that a careful designer would take, and why."""

    choice: Choice
    words: str


def careful(weighed: Sequence[Choice]) -> Careful | None:
    """Return the choice that a careful designer takes of some, with the reason in facts.

    Of what passes, and so is sound with and without its load: of what feeds a load the lighter;
    what is no softer than 100 kΩ, or nearest to that; from some 100 V two parts in the upper leg;
    fewest parts, then the most widely stocked series, then fewest values, then what leaves most of
    its tightest allowance (common practice). None where nothing passes.

    Parameters
    ----------
    weighed : sequence of Choice
        What was looked at.
    """
    passing = [c for c in weighed if c.judged.verdict is Verdict.PASS]
    if not passing:
        return None
    reasons: list[str] = []
    left = passing
    if any(c.judged.carries is not None for c in left):
        lightest = min(c.amps or 0.0 for c in left)
        keeps = [(c.amps or 0.0) <= HEAVY * lightest * (1 + ROUNDING) for c in left]
        left = _cut(left, keeps, reasons, "among the lightest")
    left = _hard_enough(left, reasons)
    if any(map(_stands_apart, left)):
        left = _cut(left, [*map(_stands_apart, left)], reasons, "with two parts in its upper leg")
    fewest = min(len(c.values) for c in left)
    left = _cut(left, [len(c.values) == fewest for c in left], reasons, _parts_words(fewest))
    common = min(_stocked(c) for c in left)
    words = f"of {SERIES[common]} values" if common < len(SERIES) else ""
    left = _cut(left, [_stocked(c) == common for c in left], reasons, words)
    distinct = min(c.distinct for c in left)
    words = "of one value" if distinct == 1 else f"of {distinct} different values"
    left = _cut(left, [c.distinct == distinct for c in left], reasons, words)
    taken = max(left, key=_left_over)
    return Careful(taken, _words(taken, len(weighed), len(passing), reasons, len(left)))


def _hard_enough(choices: list[Choice], reasons: list[str]) -> list[Choice]:
    """Keep those with a tap below 100 kΩ, or those not much softer than the hardest."""
    softest = [c.output_ohms or 0.0 for c in choices]
    hardest = min(softest)
    bar = max(SOFT_OHMS, WORSE * hardest) * (1 + ROUNDING)
    words = "with a tap below 100 kΩ" if hardest <= SOFT_OHMS else "among the lowest at the tap"
    return _cut(choices, [ohms <= bar for ohms in softest], reasons, words)


def _stands_apart(choice: Choice) -> bool:
    """Whether one short leaves not all of a high voltage on what is fed (from some 100 V)."""
    lines = choice.network.items if isinstance(choice.network, Chain) else ()
    taps = [place for place, item in enumerate(lines) if isinstance(item, Tap)]
    supply = choice.judged.supply
    if not taps or supply is None or choice.judged.pair is not None:
        return False
    over = supply.volts - choice.marks[0].target
    return over >= HIGH_VOLTS and taps[0] >= TWO_ABOVE


def _cut(choices: list[Choice], keeps: list[bool], reasons: list[str], words: str) -> list[Choice]:
    """Keep some choices, and say why where that leaves any out."""
    if not all(keeps):
        reasons.append(words)
    return [c for c, kept in zip(choices, keeps, strict=True) if kept]


def _parts_words(count: int) -> str:
    return "of one part" if count == 1 else f"of {counted(count, 'part')}"


def _stocked(choice: Choice) -> int:
    return SERIES.index(choice.series) if choice.series else len(SERIES)


def _left_over(choice: Choice) -> float:
    """Return what is left of the allowance that is used most, a fraction."""
    return 1 - max((g.used for g in choice.judged.gates if g.used is not None), default=0.0)


def _words(taken: Choice, count: int, passing: int, reasons: Sequence[str], left: int) -> str:
    """Say which one and why, in one sentence of computed facts."""
    legs = len(taken.lines) == 2 and taken.output_ohms is not None
    shown = (" over " if legs else ", ").join(line for line in taken.lines if line)
    if count == 1:
        why = "the only choice there is, and it passes"
    elif passing == 1:
        why = f"the only one that passes of {count} weighed"
    else:
        why = (
            f"of {count} weighed, all of which pass,"
            if passing == count
            else f"of the {passing} that pass of {count} weighed,"
        )
        if reasons:
            one = "the only one" if left == 1 else f"one of {left}"
            why += f" {one} {_joined(reasons)}"
        if left > 1:
            why += ", leaving most in hand" if reasons else " the one that leaves most in hand"
    gates = [g for g in taken.judged.gates if g.used is not None]
    facts = []
    if gates:
        tightest = max(gates, key=lambda g: g.used or 0.0)
        facts.append(f"{write(_left_over(taken), FRACTION, 2)} of its {tightest.name} is left")
    if taken.amps:
        facts.append(f"it draws {write(taken.amps, AMPERE, 3)}")
    if taken.output_ohms:
        facts.append(f"output resistance {write(taken.output_ohms, OHM, 3)}")
    return f"{shown}: {why}; {', '.join(facts)}." if facts else f"{shown}: {why}."


def _joined(reasons: Sequence[str]) -> str:
    *first, last = reasons
    return f"{', '.join(first)} and {last}" if first else last
