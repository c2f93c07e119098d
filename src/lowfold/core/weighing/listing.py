"""The order in which choices are listed, and what is one row.

What passes comes before what fails, and what is as preferred comes first of each. The same ratio in
another decade of values is not another choice: of those that stand best, the one whose source is
neither too soft for what it feeds nor heavier than need be stands for all of them.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from lowfold.core.checking.verdict import Verdict
from lowfold.core.network.tree import Chain, Element, Group, Part, Tap, parts_of, resistance
from lowfold.core.search.pairing import from_comfortable
from lowfold.core.weighing.choice import Choice, Preference

__all__ = ["Looked", "Row", "looked_at", "ratio_of", "rows_of", "with_row"]

#: How far a choice is from passing; what nothing is demanded of passes.
RANK: Final = {Verdict.PASS: 0, None: 0, Verdict.MARGINAL: 1, Verdict.FAIL: 2}
#: Ratios weighed together, and looked at for what passes where a shorter list is asked for.
TOGETHER: Final = 12
LOOKED_AT: Final = 24
#: Excesses within a tenth of each other are alike.
ALIKE: Final = 1.1
MOST_STEPS: Final = 10_000
DIGITS: Final = 9  #: in which two ratios must agree to be one


@dataclass(frozen=True, slots=True)
class Row:
    """One choice as it is listed."""

    choice: Choice
    decades: tuple[Element, ...] = ()  #: the same ratio of values a power of ten away, rising


@lru_cache(maxsize=8192)
def ratio_of(network: Element) -> Hashable:
    """Return what networks have in common whose values differ by one power of ten.

    Parameters
    ----------
    network : Element
        The network as a tree.
    """
    values = [p.ohms for p in parts_of(network) if isinstance(p, Part)]
    decade = math.floor(math.log10(max(values)) + 1e-12)
    return _shape(network), tuple(f"{v / 10.0**decade:.{DIGITS}g}" for v in values)


def _shape(item: Element | Tap) -> Hashable:
    """Return what is left of a network without its values."""
    if isinstance(item, Chain):
        return "in series", *(_shape(i) for i in item.items)
    if isinstance(item, Group):
        return "in parallel", *(_shape(b) for b in item.branches)
    return "" if isinstance(item, Part) else item


@dataclass(frozen=True, slots=True)
class Looked:
    """What was looked at of a search, one of each ratio, in the preferred order."""

    faces: tuple[Choice, ...]
    groups: tuple[tuple[Element, ...], ...]  #: the same ratio in every decade, by face


def looked_at(
    weigh: Callable[[Sequence[Element]], list[Choice]],
    networks: Sequence[Element],
    preference: Preference,
    *,
    by_ratio: bool,
    most: int,
    stiff_ohms: float | None = None,
    presumed: Sequence[bool] | None = None,
) -> Looked:
    """Return what is looked at for a list: for each ratio the decade that stands for it, weighed.

    Ratios are weighed in the preferred order until as many pass as are listed, or `LOOKED_AT` are;
    of one that does not pass in its comfortable decade the others are weighed too, where they may.
    Where it is known beforehand which networks pass, those come first.

    Parameters
    ----------
    weigh : callable
        Weighs networks together.
    networks : sequence of Element
        In the preferred order.
    preference : str
        By `nearest`, decades are tried from the most comfortable on; by any other, in its order.
    stiff_ohms : float, optional
        The most that a whole string may have to be stiff against its loads, Ω.
    by_ratio : bool
        Whether the values' ratios alone are wanted, so that decades are one row.
    most : int
        Rows at most.
    presumed : sequence of bool, optional
        Which networks pass.
    """
    comfort = _Comfort(stiff_ohms) if preference == "nearest" else None
    groups = _grouped(networks, comfort, by_ratio=by_ratio)
    passing: set[Element] = set()
    if presumed is not None:
        passing = {n for n, passes in zip(networks, presumed, strict=True) if passes}
        groups = [sorted(group, key=lambda n: n not in passing) for group in groups]
    # By what stands for the ratio, not by the decade that is nearest and cannot be built
    place = {network: k for k, network in enumerate(networks)}
    groups.sort(key=lambda group: (group[0] not in passing, place[group[0]]))
    faces: list[Choice] = []
    while len(faces) < min(len(groups), max(most, LOOKED_AT)):
        chunk = groups[len(faces) : len(faces) + TOGETHER]
        first = weigh([group[0] for group in chunk])
        faces += _better(weigh, chunk, first)
        if sum(_rank(c) == 0 for c in faces) >= most:
            break
    return Looked(tuple(faces), tuple(map(tuple, groups[: len(faces)])))


def rows_of(
    looked: Looked, beside: Sequence[Choice], most: int, *, by_ratio: bool
) -> tuple[Row, ...]:
    """Return rows in the order they are listed: what passes first, then what comes nearest to it.

    A longer list begins with the shorter one: of what fails those first looked at come first.

    Parameters
    ----------
    looked : Looked
        What was looked at.
    beside : sequence of Choice
        Others that may stand better than those looked at.
    most : int
        Rows at most.
    by_ratio : bool
        Whether the same ratio in another decade is the same row.
    """

    def key(network: Element) -> Hashable:
        return ratio_of(network) if by_ratio else network

    entries: list[tuple[tuple[int, ...], Row]] = []
    for place, (face, group) in enumerate(zip(looked.faces, looked.groups, strict=True)):
        others = tuple(sorted((n for n in group if n != face.network), key=resistance))
        rank, *far = _standing(face)
        block = place // LOOKED_AT if rank == RANK[Verdict.FAIL] else 0
        entries.append(((rank, block, *far, place), Row(face, others)))
    for place, choice in enumerate(beside, start=len(entries)):
        rank, *far = _standing(choice)
        entries.append(((rank, 0, *far, place), Row(choice)))
    found: dict[Hashable, Row] = {}
    for _, row in sorted(entries, key=lambda entry: entry[0]):
        found.setdefault(key(row.choice.network), row)
    return tuple(found.values())[:most]


@dataclass(frozen=True, slots=True)
class _Comfort:
    """Which decade of one ratio is comfortable (common practice)."""

    stiff_ohms: float | None

    def __call__(self, network: Element) -> tuple[bool, float]:
        """Order the lightest that is stiff first, or the source nearest to a comfortable one.

        A quarter of a string is what an even one is seen as.
        """
        ohms = resistance(network)
        away = float(from_comfortable(ohms / 4))
        if self.stiff_ohms is None:
            return False, away
        soft = ohms > self.stiff_ohms
        return soft, ohms if soft else -ohms


def with_row(
    rows: tuple[Row, ...], choice: Choice, networks: Sequence[Element], most: int
) -> tuple[Row, ...]:
    """Return rows with one more behind those that stand as well, in place of the last if need be.

    Parameters
    ----------
    rows : tuple of Row
        As listed.
    choice : Choice
        Of no ratio listed.
    networks : sequence of Element
        All there are, of which some are the same ratio in other decades.
    most : int
        Rows at most.
    """
    if len(rows) >= most:
        rows = rows[: most - 1]
    ratio = ratio_of(choice.network)
    others = [n for n in networks if n != choice.network and ratio_of(n) == ratio]
    row = Row(choice, tuple(sorted(others, key=resistance)))
    place = sum(_rank(r.choice) <= _rank(choice) for r in rows)
    return (*rows[:place], row, *rows[place:])


def _grouped(
    networks: Sequence[Element], comfort: _Comfort | None, *, by_ratio: bool
) -> list[list[Element]]:
    """Return networks of one ratio together, in the order in which the first of each comes."""
    groups: dict[Hashable, list[Element]] = {}
    for place, network in enumerate(networks):
        groups.setdefault(ratio_of(network) if by_ratio else place, []).append(network)
    if comfort is None:
        return [*groups.values()]
    return [sorted(group, key=comfort) if len(group) > 1 else group for group in groups.values()]


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
        if _standing(choice) < _standing(found[k]):
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


def _standing(choice: Choice) -> tuple[int, int, int]:
    """Order what passes first, and of what fails what is least far from passing.

    By how many gates fail, then by the most that one is exceeded by; a tenth more is no more.
    """
    rank = _rank(choice)
    if rank != RANK[Verdict.FAIL]:
        return rank, 0, 0
    failing = [g.used or 0.0 for g in choice.judged.gates if g.verdict is Verdict.FAIL]
    most = max(failing, default=1.0)
    steps = round(math.log(most) / math.log(ALIKE)) if 0 < most < math.inf else MOST_STEPS
    return rank, len(failing), steps
