"""The order in which choices are listed, what is one row, and which one a careful designer takes.

What passes comes before what fails, and what is as preferred comes first of each. The same ratio in
another decade of values is not another choice: of those that stand best, the one whose source is
neither too soft for what it feeds nor heavier than need be stands for all of them.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.choice import Choice, Preference
from lowfold.core.needs.gates import stiffness
from lowfold.core.network.tree import Element, Part, parts_of, resistance, write_network
from lowfold.core.search.pairing import discomfort
from lowfold.core.values.preferred import SERIES
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, write

__all__ = ["Careful", "Row", "careful", "in_order", "ratio_of"]

#: How far a choice is from passing; what nothing is demanded of passes.
RANK: Final = {Verdict.PASS: 0, None: 0, Verdict.MARGINAL: 1, Verdict.FAIL: 2}
#: Ratios weighed together, and looked at for what passes where a shorter list is asked for.
TOGETHER: Final = 12
LOOKED_AT: Final = 24
STIFF: Final = 10.0  #: times the load's current in the string (common practice)
SOFT_OHMS: Final = 100e3  #: from here on leakage and noise count at a tap (common practice)
DIGITS: Final = 9  #: in which two ratios must agree to be one


@dataclass(frozen=True, slots=True)
class Row:
    """One choice as it is listed."""

    choice: Choice
    decades: tuple[Element, ...] = ()  #: the same ratio of values a power of ten away, rising


@dataclass(frozen=True, slots=True)
class Careful:
    """The choice that a careful designer would take of a list, and why."""

    choice: Choice
    words: str


def ratio_of(network: Element) -> Hashable:
    """Return what networks have in common whose values differ by one power of ten.

    Parameters
    ----------
    network : Element
        The network as a tree.
    """
    values = [p.ohms for p in parts_of(network) if isinstance(p, Part)]
    decade = math.floor(math.log10(max(values)) + 1e-12)
    shape = re.sub(r"=[^ )]+", "", write_network(network))
    return shape, tuple(f"{v / 10.0**decade:.{DIGITS}g}" for v in values)


def in_order(
    weigh: Callable[[Sequence[Element]], list[Choice]],
    networks: Sequence[Element],
    preference: Preference,
    *,
    by_ratio: bool,
    most: int,
) -> tuple[tuple[Row, ...], int]:
    """Return rows in the order they are listed, and how many ratios were looked at for them.

    Ratios are weighed in the preferred order until as many pass as are listed, or `LOOKED_AT` are;
    of one that does not pass in its comfortable decade the others are weighed too, where they may.

    Parameters
    ----------
    weigh : callable
        Weighs networks together.
    networks : sequence of Element
        In the preferred order.
    preference : str
        By `nearest`, decades are tried from the most comfortable on; by any other, in its order.
    by_ratio : bool
        Whether the values' ratios alone are wanted, so that decades are one row.
    most : int
        Rows at most.
    """
    groups = _grouped(networks, comfortable=preference == "nearest", by_ratio=by_ratio)
    faces: list[Choice] = []
    while len(faces) < min(len(groups), max(most, LOOKED_AT)):
        chunk = groups[len(faces) : len(faces) + TOGETHER]
        first = weigh([group[0] for group in chunk])
        faces += _better(weigh, chunk, first)
        if sum(_rank(c) == 0 for c in faces) >= most:
            break
    order = sorted(range(len(faces)), key=lambda k: (_rank(faces[k]), k))[:most]
    rows = tuple(
        Row(faces[k], tuple(sorted((n for n in groups[k] if n != faces[k].network), key=_total)))
        for k in order
    )
    return rows, len(faces)


def _grouped(
    networks: Sequence[Element], *, comfortable: bool, by_ratio: bool
) -> list[list[Element]]:
    """Return networks of one ratio together, in the order in which the first of each comes."""
    groups: dict[Hashable, list[Element]] = {}
    for place, network in enumerate(networks):
        groups.setdefault(ratio_of(network) if by_ratio else place, []).append(network)
    if not comfortable:
        return [*groups.values()]
    return [
        sorted(group, key=lambda n: float(discomfort(_total(n) / 4))) if len(group) > 1 else group
        for group in groups.values()
    ]


def _better(
    weigh: Callable[[Sequence[Element]], list[Choice]],
    groups: Sequence[Sequence[Element]],
    first: Sequence[Choice],
) -> list[Choice]:
    """Return of each ratio the first decade that stands best, weighing others where need be."""
    others = [
        (k, network)
        for k, (group, choice) in enumerate(zip(groups, first, strict=True))
        if _rank(choice) and _scale_matters(choice)
        for network in group[1:]
    ]
    found = list(first)
    weighed = weigh([network for _, network in others]) if others else []
    for (k, _), choice in zip(others, weighed, strict=True):
        if _rank(choice) < _rank(found[k]):
            found[k] = choice
    return found


def _scale_matters(choice: Choice) -> bool:
    """Whether the same ratio of other values may stand better.

    Without a load, a source resistance or a current into a pin, voltages and their extremes follow
    from ratios alone: only a part's own power and voltage change.
    """
    judged = choice.judged
    supply = judged.supply
    if judged.loads or (supply and supply.source_ohms) or (judged.pair and judged.pair.pin_amps):
        return True
    hot = {Verdict.MARGINAL, Verdict.FAIL}
    return any(g.name == "power" and g.verdict in hot for g in judged.gates)


def _rank(choice: Choice) -> int:
    return RANK[choice.judged.verdict]


def _total(network: Element) -> float:
    """Return a string's whole resistance, Ω; a quarter of it is what an even one is seen as."""
    return resistance(network)


def _stiff(choice: Choice) -> bool:
    """Whether the string carries ten times what is drawn from it (common practice)."""
    carries = stiffness(choice.judged.check, choice.judged.loads)
    return carries is None or carries >= STIFF


def _hard(choice: Choice) -> bool:
    """Whether a tap is so low in resistance that leakage and noise do not move it much."""
    return choice.output_ohms is None or choice.output_ohms <= SOFT_OHMS


#: What makes a choice sound beside passing, in words; asked only where some choice is so.
SOUND: Final = (
    ("with ten times the load's current in its string", _stiff),
    ("with a tap below 100 kΩ", _hard),
)


def careful(rows: Sequence[Row]) -> Careful | None:
    """Return the choice that a careful designer takes of a list, with the reason in facts.

    Of what passes: what is stiff against its load and no softer than 100 kΩ where there is such a
    one, fewest parts, then the most widely stocked series, then fewest values, then what leaves
    most of its tightest allowance (common practice). None where nothing passes.

    Parameters
    ----------
    rows : sequence of Row
        As listed.
    """
    passing = [row.choice for row in rows if row.choice.judged.verdict is Verdict.PASS]
    if not passing:
        return None
    reasons: list[str] = []
    left = passing
    for words, sound in SOUND:
        keeps = [sound(c) for c in left]
        if any(keeps):
            left = _cut(left, keeps, reasons, words)
    fewest = min(len(c.values) for c in left)
    left = _cut(left, [len(c.values) == fewest for c in left], reasons, _parts_words(fewest))
    common = min(_stocked(c) for c in left)
    name = SERIES[common] if common < len(SERIES) else ""
    words = f"of {name} values" if name else ""
    left = _cut(left, [_stocked(c) == common for c in left], reasons, words)
    distinct = min(c.distinct for c in left)
    words = "of one value" if distinct == 1 else f"of {distinct} different values"
    left = _cut(left, [c.distinct == distinct for c in left], reasons, words)
    taken = max(left, key=_left_over)
    return Careful(taken, _words(taken, len(rows), len(passing), reasons, len(left)))


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
        why = "the only choice here, and it passes"
    elif passing == 1:
        why = f"the only one of these {count} that passes"
    else:
        why = (
            f"of these {count}, all of which pass,"
            if passing == count
            else f"of the {passing} of these {count} that pass,"
        )
        if reasons:
            one = "the only one" if left == 1 else f"one of {left}"
            why += f" {one} {' and '.join(reasons)}"
        if left > 1:
            why += ", and of these" if reasons else " the one"
            why += " it leaves most in hand" if reasons else " that leaves most in hand"
    gates = [g for g in taken.judged.gates if g.used is not None]
    facts = []
    if gates:
        tightest = max(gates, key=lambda g: g.used or 0.0)
        facts.append(f"{write(_left_over(taken), FRACTION, 2)} of its {tightest.name} is left")
    if taken.amps:
        facts.append(f"it draws {write(taken.amps, AMPERE, 3)}")
    if taken.output_ohms:
        facts.append(f"its tap is seen as {write(taken.output_ohms, OHM, 3)}")
    return f"{shown}: {why}; {', '.join(facts)}." if facts else f"{shown}: {why}."
