"""A whole sheet from a brief: what was understood, the choices, and how the design stands."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from lowfold.core.circuit import switch_refs
from lowfold.core.errors import LowfoldError, TopologyError
from lowfold.core.needs.choice import Choice, Preference
from lowfold.core.needs.gates import OVER_IN_TIMES, Gate, times
from lowfold.core.needs.kinds import (
    KINDS,
    LISTED,
    BriefKind,
    BriefReading,
    Choices,
    choices_for,
    known_preference,
    read_brief,
    weigh,
)
from lowfold.core.needs.parts import Stock
from lowfold.core.network import Element
from lowfold.core.notation import Netlist, read_text
from lowfold.core.quantities import OHM, VOLT, WATT, write
from lowfold.core.verdict import Verdict

__all__ = ["Sheet", "Standing", "build_sheet", "governing_words", "series_parallel", "standing"]


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


@dataclass(frozen=True, slots=True)
class Standing:
    """How a design stands, in one line."""

    verdict: Verdict | None
    words: str
    need: str  #: in short
    figure: str  #: what the choice gives
    gates: Mapping[str, Verdict | None] = field(default_factory=dict)  #: by name


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


def standing(sheet: Sheet) -> Standing:
    """Say how a design stands: by the choice made, else by the first one listed."""
    need = _need_words(sheet)
    wrong = [token.label for token in sheet.reading.tokens.values() if not token.ok]
    if wrong:
        return Standing(None, f"brief not understood: {wrong[0]}", need, "")
    rows = sheet.choices.rows if sheet.choices else ()
    if sheet.problem and sheet.pinned is None:
        return Standing(None, sheet.problem, need, "")
    chosen = sheet.pinned or (rows[0] if rows else None)
    if chosen is None:
        reason = sheet.choices.found.reason if sheet.choices else None
        return Standing(None, reason or "no choice", need, "")
    unit = KINDS[sheet.kind].unit
    words = governing_words(chosen.judged.gates)
    if sheet.pinned is None:
        words += "; nothing pinned yet"
    figures = [write(m.nominal, unit, trim=unit is OHM) for m in chosen.marks]
    gates: dict[str, Verdict | None] = {g.name: g.verdict for g in chosen.judged.gates}
    return Standing(chosen.judged.verdict, words, need, ", ".join(figures), gates)


def _need_words(sheet: Sheet) -> str:
    """Say the need in short, token by token as far as understood: `14.4 V to 3 V ± 3 %`."""
    tokens = sheet.reading.tokens
    names = list(KINDS[sheet.kind].said)
    names += [n for n in ("tap2_v", "tap3_v", "tap4_v") if n in tokens and not tokens[n].absent]
    shown = [tokens[name].shown or f"“{tokens[name].text}”" for name in names]
    wanted = ", ".join(shown[1:]) if len(shown) > 2 else shown[-1]
    start = f"{shown[0]} to " if len(shown) > 1 else ""
    return f"{start}{wanted} ± {tokens['within'].shown or tokens['within'].text}"


def governing_words(gates: tuple[Gate, ...]) -> str:
    """Say which gate uses most of its allowance."""
    judged = [g for g in gates if g.used is not None]
    if not judged:
        return "nothing judged"
    order = list(Verdict)
    tightest = max(judged, key=lambda g: (order.index(g.verdict or Verdict.PASS), g.used or 0.0))
    used = tightest.used or 0.0
    if math.isinf(used):
        return f"{tightest.name} is used where none is allowed"
    return f"{tightest.name} uses {_used_words(used)} of {_allowance_words(tightest)}"


def _used_words(used: float) -> str:
    if used >= OVER_IN_TIMES:
        return times(used)
    near = 0.95 < used < 1.05  # where rounding would put a near miss on the limit
    return f"{100 * used:.{1 if near else 0}f} %"


def _allowance_words(gate: Gate) -> str:
    if gate.name == "power":
        return "the allowed power" if gate.kind is WATT else "the limiting voltage"
    return "what its load stands" if gate.kind is VOLT else "the window"
