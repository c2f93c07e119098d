"""Which choice a careful designer takes of those that pass, and why, in computed facts."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.checking.verdict import MARGIN, Verdict
from lowfold.core.needs.choice import Choice, Found
from lowfold.core.needs.conditions import STIFF
from lowfold.core.needs.gates import stiffness
from lowfold.core.needs.listing import ratio_of
from lowfold.core.network.tree import Element, resistance
from lowfold.core.values.preferred import SERIES
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, write

__all__ = ["Careful", "careful", "lighter_ones"]

SOFT_OHMS: Final = 100e3  #: from here on leakage and noise count at a tap (common practice)
HEAVY: Final = 3.0  #: times the current of the lightest that is stiff is heavier than need be
WORSE: Final = 2.0  #: what is this much worse than the best there is is left out
WEIGHED: Final = 12  #: lighter ones weighed at most
SHARE: Final = 1.1  #: a stiff string's resistance over that of one that is not loaded
ROUNDING: Final = 1e-9


@dataclass(frozen=True, slots=True)
class Careful:
    """The choice that a careful designer would take, and why."""

    choice: Choice
    words: str


def careful(weighed: Sequence[Choice]) -> Careful | None:
    """Return the choice that a careful designer takes of some, with the reason in facts.

    Of what passes: what is stiff against its load and no softer than 100 kΩ, or nearest to that; of
    what feeds a load the lighter; fewest parts, then the most widely stocked series, then fewest
    values, then what leaves most of its tightest allowance (common practice). None where nothing
    passes.

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
    for respect in RESPECTS:
        left = respect.cut(left, reasons)
    if any(_carries(c) < math.inf for c in left):
        lightest = min(c.amps or 0.0 for c in left)
        keeps = [(c.amps or 0.0) <= HEAVY * lightest for c in left]
        left = _cut(left, keeps, reasons, "among the lightest")
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


def lighter_ones(found: Found, weighed: Sequence[Choice]) -> list[Element]:
    """Return strings worth weighing beside those weighed: likely to pass, stiff and light.

    Where none is stiff, the stiffest.

    The nearest strings into a load are the heaviest: what they lose to it is least. None where the
    load is small enough for one weighed that passes, or nothing is loaded. What is likely is
    reckoned from the stiffest weighed: how far its corners reach, and its current and heat by
    resistance.

    Parameters
    ----------
    found : Found
        What a search brought, with the error of each.
    weighed : sequence of Choice
        One of each ratio that was looked at.
    """
    loaded = [c for c in weighed if _carries(c) < math.inf]
    passing = [_carries(c) for c in loaded if c.judged.verdict is Verdict.PASS]
    if not loaded or any(STIFF <= carried <= HEAVY * STIFF for carried in passing):
        return []
    known = max(loaded, key=_carries)
    used = {g.name: g.used or 0.0 for g in known.judged.gates}
    spread, heat = used.get("spread"), used.get("power", 0.0) * resistance(known.network)
    mark = known.governing
    reach = max(mark.highest / mark.target - 1, 1 - mark.lowest / mark.target)
    if not spread or reach <= 0:
        return []
    corners = reach - abs(mark.error)
    # What the supply gives, for the string and for the loads, goes with 1/R but for the lower leg's
    # share, which a load changes: that much more is let in, and weighed like the others
    stiff_ohms = SHARE * resistance(known.network) * (_carries(known) + 1) / (STIFF + 1)
    ratios = {ratio_of(c.network) for c in weighed}
    likely = [
        network
        for network, error in zip(found.networks, found.errors, strict=True)
        if spread * (abs(error) + corners) / reach <= 1 - MARGIN
        and heat / resistance(network) <= 1 - MARGIN
        and ratio_of(network) not in ratios
    ]
    likely.sort(key=resistance)
    stiff = [network for network in likely if resistance(network) <= stiff_ohms]
    return stiff[-WEIGHED:] or likely[:WEIGHED]


def _carries(choice: Choice) -> float:
    """Return the string's current over that of its loads; infinite where they draw nothing."""
    found = stiffness(choice.judged.check, choice.judged.loads)
    return math.inf if found is None else found


def _hardness(choice: Choice) -> float:
    return 1 / choice.output_ohms if choice.output_ohms else math.inf


@dataclass(frozen=True, slots=True)
class _Respect:
    """What makes a choice sound beside passing, to be had enough of."""

    measure: Callable[[Choice], float]
    enough: float
    words: str
    nearest: str  #: in place of them where none has enough

    def cut(self, choices: list[Choice], reasons: list[str]) -> list[Choice]:
        """Keep those with enough of it, or those not much worse than the best."""
        has = [self.measure(c) for c in choices]
        best = max(has)
        bar = min(self.enough, best / WORSE) * (1 - ROUNDING)
        words = self.words if best >= self.enough * (1 - ROUNDING) else self.nearest
        return _cut(choices, [h >= bar for h in has], reasons, words)


RESPECTS: Final = (
    _Respect(_carries, STIFF, "carrying ten times its load", "among the stiffest"),
    _Respect(_hardness, 1 / SOFT_OHMS, "with a tap below 100 kΩ", "among the lowest at the tap"),
)


def _cut(choices: list[Choice], keeps: list[bool], reasons: list[str], words: str) -> list[Choice]:
    """Keep some choices, and say why where that leaves any out."""
    if not all(keeps):
        reasons.append(words)
    return [c for c, kept in zip(choices, keeps, strict=True) if kept]


def _parts_words(count: int) -> str:
    return "of one part" if count == 1 else f"of {count} parts"


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
        facts.append(f"seen as {write(taken.output_ohms, OHM, 3)}")
    return f"{shown}: {why}; {', '.join(facts)}." if facts else f"{shown}: {why}."


def _joined(reasons: Sequence[str]) -> str:
    *first, last = reasons
    return f"{', '.join(first)} and {last}" if first else last
