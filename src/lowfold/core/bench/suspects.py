"""What may be wrong with a board, each with its share of how often it is met."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from functools import lru_cache
from typing import Final, Literal

from lowfold.core.bench.predict import Board, Change
from lowfold.core.bench.priors import START, PriorKind, Priors, each_of
from lowfold.core.errors import LowfoldError
from lowfold.core.marks.appearance import appearance_of
from lowfold.core.marks.bands import exchanged, read_bands
from lowfold.core.network.circuit import GROUND, Circuit, junctions
from lowfold.core.tolerance.box import Box
from lowfold.core.values.neighbours import beside
from lowfold.core.values.quantities import OHM, VOLT, write

__all__ = [
    "OPEN_OHMS",
    "SHORT_OHMS",
    "FaultKind",
    "Suspect",
    "Suspects",
    "as_designed",
    "hides",
    "loaded",
    "on_the_board",
    "pairs_of",
    "part_is",
    "supply_is",
    "suspects",
]  # fmt: skip

FaultKind = Literal[
    "as designed", "open", "short", "decade", "misread", "neighbour", "value", "swapped", "bridge",
    "supply", "series resistance", "load", "meter", "two", "something else",
]  # fmt: skip

_OF_PARTS: Final[tuple[PriorKind, ...]] = ("open", "short", "decade", "misread", "neighbour")
OPEN_OHMS: Final = math.inf
SHORT_OHMS: Final = 0.01  #: a solder bridge
SOLD: Final = (0.1, 22e6)  #: Ω, what a bin may hold


@dataclass(frozen=True, slots=True)
class Suspect:
    """One thing that may be wrong."""

    kind: FaultKind
    refs: tuple[str, ...]
    words: str
    board: Board
    prior: float
    ohms: float | None = None  #: what a part is, what hides, what loads
    volts: float | None = None  #: what a supply is
    faults: tuple[Suspect, ...] = ()  #: of two at once
    places: tuple[int, ...] = ()  #: positions of the parts concerned


@dataclass(frozen=True, slots=True)
class Suspects:
    """What is tried, and along which curves a value is fitted."""

    single: tuple[Suspect, ...]
    parts: tuple[int, ...]  #: whose value may be any
    nodes: tuple[int, ...]  #: at which a load may hang


def as_designed() -> Suspect:
    """Return the board as it was meant: nothing is wrong."""
    return Suspect("as designed", (), "As designed: nothing is wrong", Board(), 0.5)


def part_is(
    circuit: Circuit, place: int, ohms: float, kind: FaultKind, words: str, prior: float
) -> Suspect:
    """Return one part being another value.

    Parameters
    ----------
    place : int
        Position of the part.
    ohms : float
        Ω; inf is open.
    words : str
        What it is said to be.
    prior : float
    """
    branch = circuit.branches[place]
    new = 0.0 if math.isinf(ohms) else 1 / ohms
    change = Change(branch.a, branch.b, new - 1 / branch.ohms, place, ohms)
    shown = None if math.isinf(ohms) or kind == "short" else ohms
    return Suspect(kind, (branch.ref,), words, Board((change,)), prior, ohms=shown, places=(place,))


def on_the_board(suspect: Suspect, circuit: Circuit) -> Suspect:
    """Return the same fault in a joint, a wire or a bridge of solder: lifted, the part is sound.

    Parameters
    ----------
    suspect : Suspect
        A part open or shorted.
    """
    (change,) = suspect.board.changes
    lifted = circuit.branches[change.part or 0].ohms
    changes = (replace(change, lifted=lifted),)
    return replace(suspect, board=replace(suspect.board, changes=changes))


def suspects(box: Box, priors: Priors = START, *, supply: bool = True) -> Suspects:
    """Return every single fault of a board that has no free value.

    Parameters
    ----------
    priors : Priors
        How often each kind is met.
    supply : bool
        Whether anything drives it.
    """
    circuit, each = box.circuit, each_of(priors)
    live = [k for k, b in enumerate(circuit.branches) if b.a != b.b]
    every: list[Suspect] = []
    for kind in _OF_PARTS:
        found = [s for k in live for s in _of_part(box, k, kind)]
        every += _shared(found, each[kind])
    swaps = [_swapped(circuit, a, b) for a, b in itertools.combinations(live, 2)]
    every += _shared([s for s in swaps if s is not None], each["swapped"])
    every += _shared(list(_bridges(circuit)), each["bridge"])
    hung = [k for k, r in enumerate(box.loads) if r.load.siemens or r.load.amps]
    if supply and hung:
        every += _shared([_missing(box, k) for k in hung], each["load"] / 2)
    nodes = tuple(n for n in range(circuit.nodes) if n not in circuit.ends) if supply else ()
    return Suspects(tuple(every), tuple(live), nodes)


def _shared(found: Sequence[Suspect], whole: float) -> list[Suspect]:
    """Return them with a kind's probability shared evenly."""
    return [replace(s, prior=whole / len(found)) for s in found]


@lru_cache(maxsize=4096)
def _shown(ohms: float) -> str:
    return write(ohms, OHM, 4, trim=True)


def _of_part(box: Box, place: int, kind: str) -> Iterator[Suspect]:
    circuit, branch = box.circuit, box.circuit.branches[place]
    ref, ohms = branch.ref, branch.ohms
    if kind == "open":
        yield part_is(circuit, place, OPEN_OHMS, "open", f"{ref} open", 0.0)
    elif kind == "short":
        if ohms / 10 > SHORT_OHMS:
            found = part_is(circuit, place, SHORT_OHMS, "short", f"{ref} shorted", 0.0)
            if {branch.a, branch.b} <= circuit.ends | {GROUND} and not box.supply.source_ohms:
                # No supply is ideal: into a short it gives up, or a fuse does
                down = replace(found.board, supply_volts=box.supply.low_volts)
                found = replace(found, board=down)
            yield found
    elif kind == "decade":
        for factor, way in ((10.0, "ten times"), (0.1, "a tenth of")):
            is_now = float(Decimal(repr(ohms)) * Decimal(repr(factor)))
            words = f"{ref} {way} its value: {_shown(is_now)} in place of {_shown(ohms)}"
            yield part_is(circuit, place, is_now, "decade", words, 0.0)
    elif kind == "misread":
        for value in _misread(ohms, box.half_widths[place]):
            words = f"{ref} misread: {_shown(value)} in place of {_shown(ohms)}"
            yield part_is(circuit, place, value, "misread", words, 0.0)
    else:
        for value in _neighbours(ohms):
            words = f"{ref} from the next bin: {_shown(value)} in place of {_shown(ohms)}"
            yield part_is(circuit, place, value, "neighbour", words, 0.0)


@lru_cache(maxsize=1024)
def _misread(ohms: float, tolerance: float) -> tuple[float, ...]:
    """Return what a part is if one of its bands was taken for another, or two were exchanged."""
    marked = appearance_of(ohms, tolerance or 0.01, "").bands or appearance_of(ohms, 0.01, "").bands
    if not marked:
        return ()
    digits = len(marked) - 2
    values = {float(other.read.ohms) for other in exchanged(marked) if other.band <= digits + 1}
    for place in range(digits):
        row = list(marked)
        row[place], row[place + 1] = row[place + 1], row[place]
        try:
            values |= {float(r.ohms) for r in read_bands(row) if r.end == "left"}
        except LowfoldError:  # a colour that cannot stand there is not misread so
            continue
    far = (ohms, ohms * 10, ohms / 10)
    others = (v for v in values if all(abs(v / w - 1) > 1e-9 for w in far))
    return tuple(sorted(v for v in others if SOLD[0] <= v <= SOLD[1]))


@lru_cache(maxsize=1024)
def _neighbours(ohms: float) -> tuple[float, ...]:
    """Return the next values up and down in E24, and in E12 where it has the value."""
    found = set(beside(ohms, "E24"))
    below, above = beside(ohms, "E12")
    if ohms in {beside(below, "E12")[1], beside(above, "E12")[0]}:
        found |= {below, above}
    return tuple(sorted(found))


def _swapped(circuit: Circuit, a: int, b: int) -> Suspect | None:
    one, other = circuit.branches[a], circuit.branches[b]
    if abs(one.ohms / other.ohms - 1) < 1e-9:
        return None
    changes = (
        Change(one.a, one.b, 1 / other.ohms - 1 / one.ohms, a, other.ohms),
        Change(other.a, other.b, 1 / one.ohms - 1 / other.ohms, b, one.ohms),
    )
    words = f"{one.ref} and {other.ref} swapped"
    return Suspect("swapped", (one.ref, other.ref), words, Board(changes), 0.0, places=(a, b))


def _bridges(circuit: Circuit) -> Iterator[Suspect]:
    names = {node: name for name, node in junctions(circuit).items()}
    joined = {frozenset((b.a, b.b)) for b in circuit.branches}
    for a, b in itertools.combinations(sorted(names), 2):
        if {a, b} <= circuit.ends or frozenset((a, b)) in joined:
            continue  # the first blows the fuse; the others are a short of the part between
        words = f"{names[a]} and {names[b]} bridged"
        change = Change(a, b, 1 / SHORT_OHMS)
        yield Suspect("bridge", (names[a], names[b]), words, Board((change,)), 0.0)


def _missing(box: Box, place: int) -> Suspect:
    hung = box.loads[place]
    name = box.load_name(place)
    at = next(n for n, node in junctions(box.circuit).items() if node == hung.load.at)
    words = f"load {name} at {at} missing"
    change = Change(hung.load.at, GROUND, -hung.load.siemens)
    changes = (change,) if hung.load.siemens else ()
    return Suspect("load", (at,), words, Board(changes, missing=(place,)), 0.0)


def supply_is(volts: float, prior: float) -> Suspect:
    """Return another supply.

    Parameters
    ----------
    volts : float
        V.
    prior : float
    """
    words = f"Another supply: {write(volts, VOLT, 4, trim=True)}"
    return Suspect("supply", (), words, Board(supply_volts=volts), prior, volts=volts)


def hides(ohms: float, prior: float) -> Suspect:
    """Return a resistance hidden in source and leads.

    Parameters
    ----------
    ohms : float
        Ω.
    prior : float
    """
    words = f"{write(ohms, OHM, 3, trim=True)} hides in source and leads"
    board = Board(series_ohms=ohms)
    return Suspect("series resistance", (), words, board, prior, ohms=ohms)


def loaded(circuit: Circuit, node: int, ohms: float, prior: float) -> Suspect:
    """Return a load where none should be.

    Parameters
    ----------
    node : int
        Where it hangs.
    ohms : float
        Ω.
    prior : float
    """
    at = next(n for n, where in junctions(circuit).items() if where == node)
    words = f"A load of {write(ohms, OHM, 3, trim=True)} at {at}, where none should be"
    board = Board((Change(node, GROUND, 1 / ohms),))
    return Suspect("load", (at,), words, board, prior, ohms=ohms)


def pairs_of(single: Sequence[Suspect]) -> list[Suspect]:
    """Return two of some faults at once, each pair of different things; rarer by as much.

    Parameters
    ----------
    single : sequence of Suspect
    """
    found = []
    for one, other in itertools.combinations(single, 2):
        if set(one.refs) & set(other.refs) or (one.volts and other.volts):
            continue
        board = Board(
            (*one.board.changes, *other.board.changes),
            one.board.supply_volts
            if one.board.supply_volts is not None
            else other.board.supply_volts,
            one.board.series_ohms + other.board.series_ohms,
            (*one.board.missing, *other.board.missing),
        )
        found.append(
            Suspect(
                "two", (*one.refs, *other.refs), f"{one.words}, and {other.words}", board,
                one.prior * other.prior, faults=(one, other), places=(*one.places, *other.places),
            )
        )  # fmt: skip
    return found
