"""Series–parallel networks: an immutable tree of parts, chains and groups.

A chain is in series from its first item to its last and may carry taps; a group is its branches in
parallel. The first end of the whole is the supply's positive side, the last its return.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Final

from lowfold.core.errors import DomainError
from lowfold.core.values.decimals import decimal
from lowfold.core.values.quantities import write_code

__all__ = [
    "LEAST_OHMS",
    "MOST_OHMS",
    "OPEN_OHMS",
    "Chain",
    "Element",
    "Group",
    "OpenPart",
    "Part",
    "Switch",
    "Tap",
    "canonical",
    "chain",
    "exact_resistance",
    "group",
    "number_parts",
    "part_as_written",
    "part_watts",
    "parts_of",
    "resistance",
    "resistance_where",
    "write_network",
]


LEAST_OHMS: Final = 1e-6  #: below it, wires and contacts decide
MOST_OHMS: Final = 1e12  #: above it, the board's own leakage does


@dataclass(frozen=True, slots=True)
class Part:
    """A resistor; `ref` is empty until it is numbered."""

    ohms: float  #: nominal, Ω
    ref: str = ""

    def __post_init__(self) -> None:
        if not 0 < self.ohms < math.inf:
            msg = f"{self.ref or 'a part'} has {self.ohms:g} Ω; it must be above 0 Ω and finite"
            raise DomainError(msg, field="network")


#: What an open part has until its value is found: less than any part that is written.
OPEN_OHMS: Final = LEAST_OHMS / 2


@dataclass(frozen=True, slots=True)
class OpenPart(Part):
    """A part whose value is to be found; it stands at `OPEN_OHMS` until it is."""

    ohms: float = OPEN_OHMS


def part_as_written(ohms: float, ref: str = "") -> Part:
    """Return a part that somebody wrote, of a value that a part can have.

    Steps of a folding may lie beyond it.

    Parameters
    ----------
    ohms : float
        Ω.
    ref : str
        Designator of the part.

    Raises
    ------
    DomainError
        For less than `LEAST_OHMS` or more than `MOST_OHMS`.
    """
    if not LEAST_OHMS <= ohms <= MOST_OHMS:
        msg = (
            f"{ref or 'a part'} has {ohms:g} Ω; a part lies between 1 µΩ and 1000 GΩ (leave a 0 Ω "
            "part out, or draw a closed switch)"
        )
        raise DomainError(msg, field="network")
    return Part(ohms, ref)


@dataclass(frozen=True, slots=True)
class Switch:
    """A switch, open unless a question says otherwise."""

    ref: str


@dataclass(frozen=True, slots=True)
class Tap:
    """A named junction in a chain."""

    name: str


@dataclass(frozen=True, slots=True)
class Chain:
    """Items in series, at least two, no item itself a chain."""

    items: tuple[Part | Switch | Group | Tap, ...]


@dataclass(frozen=True, slots=True)
class Group:
    """Branches in parallel, at least two, no branch itself a group."""

    branches: tuple[Part | Switch | Chain, ...]


Element = Part | Switch | Chain | Group


def chain(items: Sequence[Element | Tap]) -> Element:
    """Put `items` in series, flattening chains inside; one part alone stays itself.

    Parameters
    ----------
    items : Sequence[Element | Tap]
        From the supply towards 0 V.

    Returns
    -------
    Element
        Items in series; chains inside are made part of it.

    Raises
    ------
    DomainError
        If there is no part among the items.
    """
    flat: list[Part | Switch | Group | Tap] = []
    for item in items:
        flat.extend(item.items if isinstance(item, Chain) else (item,))
    if all(isinstance(item, Tap) for item in flat):
        msg = "a chain needs at least one part beside its taps"
        raise DomainError(msg, field="network")
    only = flat[0]
    if len(flat) == 1 and not isinstance(only, Tap):
        return only
    return Chain(tuple(flat))


def group(branches: Sequence[Element]) -> Element:
    """Put `branches` in parallel, flattening groups inside; one branch alone stays itself.

    Parameters
    ----------
    branches : Sequence[Element]
        Side by side.

    Returns
    -------
    Element
        Branches in parallel; groups inside are made part of it.
    """
    flat: list[Part | Switch | Chain] = []
    for branch in branches:
        flat.extend(branch.branches if isinstance(branch, Group) else (branch,))
    return flat[0] if len(flat) == 1 else Group(tuple(flat))


def parts_of(network: Element) -> Iterator[Part | Switch | Tap]:
    """Yield every part, switch and tap, left to right as written."""
    stack: list[Element | Tap] = [network]
    while stack:
        item = stack.pop()
        if isinstance(item, Chain):
            stack.extend(reversed(item.items))
        elif isinstance(item, Group):
            stack.extend(reversed(item.branches))
        else:
            yield item


def resistance(network: Element) -> float:
    """Return the resistance between the two ends in Ω, switches open (Ohm; series and parallel).

    Infinite where an open switch leaves no path.
    """
    if isinstance(network, Part):
        return network.ohms
    if isinstance(network, Switch):
        return math.inf
    if isinstance(network, Chain):
        return math.fsum(resistance(i) for i in network.items if not isinstance(i, Tap))
    siemens = math.fsum(1 / resistance(b) for b in network.branches)
    return 1 / siemens if siemens else math.inf


def resistance_where(network: Element, ohms: Mapping[str, float]) -> float:
    """Return the resistance with some parts at other values, Ω; 0 is a short, inf is open.

    Parameters
    ----------
    ohms : Mapping[str, float]
        Designator to what it is instead, Ω.
    """
    if isinstance(network, Part):
        return ohms.get(network.ref, network.ohms)
    if isinstance(network, Switch):
        return math.inf
    if isinstance(network, Chain):
        inner = (i for i in network.items if not isinstance(i, Tap))
        return math.fsum(resistance_where(i, ohms) for i in inner)
    branches = [resistance_where(b, ohms) for b in network.branches]
    if 0.0 in branches:
        return 0.0
    siemens = math.fsum(1 / b for b in branches)
    return 1 / siemens if siemens else math.inf


def canonical(network: Element) -> tuple[str, Element]:
    """Return one writing for all that are the same arrangement, with its text.

    Chains run from the largest item to the smallest, groups from the smallest branch to the
    largest; equal ones by their text. For unnamed parts without taps.
    """
    text, ordered, _ = _ordered(network)
    return text, ordered


def _ordered(network: Element) -> tuple[str, Element, float]:
    """Return the canonical text, what it says, and its resistance, Ω."""
    if isinstance(network, Part | Switch):
        return write_network(network, refs=False), network, resistance(network)
    if isinstance(network, Group):
        inner = sorted(map(_ordered, network.branches), key=lambda b: (b[2], b[0]))
        siemens = math.fsum(1 / ohms for _, _, ohms in inner)
        ohms, whole = 1 / siemens if siemens else math.inf, group([b for _, b, _ in inner])
        sign = " || "
    else:
        items = (_ordered(i) for i in network.items if not isinstance(i, Tap))
        inner = sorted(items, key=lambda i: (-i[2], i[0]))
        ohms, whole = math.fsum(ohms for _, _, ohms in inner), chain([i for _, i, _ in inner])
        sign = " + "
    text = sign.join(f"({t})" if isinstance(e, Chain | Group) else t for t, e, _ in inner)
    return text, whole, ohms


def exact_resistance(network: Element) -> Fraction:
    """Return the resistance in Ω as a ratio of integers, each part being its decimal value.

    For networks without switches. Two arrangements tie exactly or not at all; in floats,
    rounding would decide.

    Raises
    ------
    DomainError
        For a network with switches.
    """
    if isinstance(network, Part):
        return decimal(network.ohms)
    if isinstance(network, Switch):
        msg = f"{network.ref} is a switch: it has no resistance to count with"
        raise DomainError(msg, field="network")
    if isinstance(network, Chain):
        return sum(
            (exact_resistance(i) for i in network.items if not isinstance(i, Tap)), Fraction(0)
        )
    return 1 / sum((1 / exact_resistance(b) for b in network.branches), Fraction(0))


def part_watts(network: Element, volts: float) -> list[tuple[Part, float]]:
    """Return what each part takes in W with `volts` across the whole, left to right.

    Unfolds: parts in series share the current, branches in parallel the voltage.

    Parameters
    ----------
    volts : float
        Across the whole, V.
    """
    if isinstance(network, Part):
        return [(network, volts * volts / network.ohms)]
    if isinstance(network, Switch):
        return []
    if isinstance(network, Group):
        return [pair for b in network.branches for pair in part_watts(b, volts)]
    amps = volts / resistance(network)
    return [
        pair
        for i in network.items
        if not isinstance(i, Tap)
        for pair in part_watts(i, amps * resistance(i))
    ]


def number_parts(network: Element) -> Element:
    """Name unnamed parts R1, R2 … left to right, skipping names in use (any case).

    Returns
    -------
    Element
        The same network with designators.
    """
    used = {p.ref.casefold() for p in parts_of(network) if not isinstance(p, Tap)}
    count = 0

    def fresh() -> str:
        nonlocal count
        count += 1
        while f"r{count}" in used:
            count += 1
        return f"R{count}"

    def walk(item: Element) -> Element:
        if isinstance(item, Part):
            return item if item.ref else type(item)(item.ohms, fresh())
        if isinstance(item, Switch):
            return item
        if isinstance(item, Chain):
            return chain([i if isinstance(i, Tap) else walk(i) for i in item.items])
        return group([walk(b) for b in item.branches])

    return walk(network)


def write_network(network: Element, *, refs: bool = True) -> str:
    """Write `network` in the notation, canonically: spaces round operators, exact values.

    Parameters
    ----------
    refs : bool
        Whether designators are written.
    """
    if isinstance(network, Part):
        code = write_code(network.ohms)
        return f"{network.ref}={code}" if refs and network.ref else code
    if isinstance(network, Switch):
        return network.ref
    if isinstance(network, Chain):
        return " + ".join(
            f"@{i.name}"
            if isinstance(i, Tap)
            else f"({write_network(i, refs=refs)})"
            if isinstance(i, Group)
            else write_network(i, refs=refs)
            for i in network.items
        )
    return " || ".join(
        f"({write_network(b, refs=refs)})" if isinstance(b, Chain) else write_network(b, refs=refs)
        for b in network.branches
    )
