"""A whole sheet from a brief: what was understood, the choices, and how the design stands."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from lowfold.core.errors import LowfoldError, TopologyError
from lowfold.core.needs.kinds import (
    LISTED,
    BriefKind,
    BriefReading,
    Choices,
    choices_for,
    known_preference,
    read_brief,
    weigh,
)
from lowfold.core.network.circuit import switch_refs
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.parts.stock import Stock
from lowfold.core.weighing.choice import Choice, Preference

__all__ = ["Sheet", "build_sheet", "series_parallel"]


@dataclass(frozen=True, slots=True)
class Sheet:
    """Everything a sheet shows; choices are missing while a token is not understood."""

    kind: BriefKind
    reading: BriefReading
    preference: Preference
    choices: Choices | None
    pinned: Choice | None  #: the choice made, weighed against the brief as it is now
    looked_at: Choice | None  #: one that is neither listed nor pinned, but is looked at
    problem: str  #: why there is no choice, or why the one made does not fit the brief any more


def build_sheet(
    kind: BriefKind,
    texts: Mapping[str, str],
    prefer: str = "nearest",
    choice: str | None = None,
    *,
    stock: Stock | None = None,
    look: str | None = None,
    listed: int = LISTED,
) -> Sheet:
    """Read a brief and, if it is understood, search and weigh its choices.

    Parameters
    ----------
    texts : mapping of token to text
        Tokens not given have their defaults; names that are no token are ignored.
    prefer : str
        A preference this kind does not know counts as its first.
    choice : str, optional
        The network chosen before, in the notation.
    stock : Stock, optional
        The user's own drawer, for briefs that choose from it, and families.
    look : str, optional
        A network to be weighed beside the listed ones.
    listed : int
        How many are listed at most.
    """
    own = stock or Stock()
    reading = read_brief(kind, texts, own.families)
    preference = known_preference(kind, prefer)
    if reading.need is None:
        return Sheet(kind, reading, preference, None, None, None, "")
    choices, pinned, looked_at, problem = None, None, None, ""
    lines = own.lines if not reading.need.parts.series else ()
    try:
        choices = choices_for(reading.need, preference, lines, listed)
    except LowfoldError as error:
        problem = error.message
    if choice:
        try:
            pinned = weigh(reading.need, series_parallel(choice))
        except LowfoldError as error:
            problem = f"the pinned choice does not fit: {error.message}"
    if look and look != choice:
        try:
            looked_at = weigh(reading.need, series_parallel(look))
        except LowfoldError as error:
            problem = error.message
    shown = [*(choices.rows if choices else ()), *(c for c in (pinned, looked_at) if c)]
    return Sheet(kind, _owned(reading, shown), preference, choices, pinned, looked_at, problem)


def _owned(reading: BriefReading, shown: Sequence[Choice]) -> BriefReading:
    """Return the reading with parts of their own refused that no choice has."""
    parts = reading.need.parts if reading.need is not None else None
    there = {b.ref.casefold(): b.ref for c in shown for b in c.judged.circuit.branches}
    missing = [o.ref for o in parts.own if o.ref.casefold() not in there] if parts else []
    if not missing or not there:
        return reading
    names = ", ".join(sorted(there.values()))
    message = f"no choice has a part called {missing[0]}; there are {names}"
    own = replace(reading.tokens["own"], ok=False, shown="", message=message)
    return replace(reading, tokens={**reading.tokens, "own": own})


def series_parallel(text: str) -> Element:
    """Read a choice, which is a series–parallel network.

    Parameters
    ----------
    text : str
        As typed.

    Raises
    ------
    NotationError, TopologyError
        Saying what it is instead.
    """
    network = read_text(text)
    if isinstance(network, Netlist):
        msg = "a choice is a series–parallel network, not a netlist"
        raise TopologyError(msg, field="choice")
    switches = switch_refs(network)
    if switches:
        msg = f"a choice is made of parts alone: {switches[0]} is a switch, leave it out"
        raise TopologyError(msg, field="choice")
    return network
