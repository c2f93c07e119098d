"""A whole sheet from a brief: what was understood, the choices, and how the design stands."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from lowfold.core.brief import BriefKind, BriefReading, DividerBrief, read_brief
from lowfold.core.choices import Choice, Choices, Preference, choices_for, default_preference, weigh
from lowfold.core.errors import LowfoldError, TopologyError
from lowfold.core.gates import Gate
from lowfold.core.network import Element
from lowfold.core.notation import Netlist, read_text
from lowfold.core.quantities import OHM, VOLT, write
from lowfold.core.verdict import Verdict

__all__ = ["Sheet", "Standing", "build_sheet", "governing_words", "standing"]


@dataclass(frozen=True, slots=True)
class Sheet:
    """Everything a sheet shows; choices are missing while a token is not understood."""

    kind: BriefKind
    reading: BriefReading
    preference: Preference
    choices: Choices | None
    pinned: Choice | None  #: the choice made, weighed against the brief as it is now
    choice_problem: str  #: why the choice made does not fit the brief any more


@dataclass(frozen=True, slots=True)
class Standing:
    """How a design stands, in one line."""

    verdict: Verdict | None
    words: str
    need: str  #: in short
    figure: str  #: what the choice gives


def build_sheet(
    kind: BriefKind, texts: Mapping[str, str], prefer: str = "nearest", choice: str | None = None
) -> Sheet:
    """Read a brief and, if it is understood, search and weigh its choices.

    Parameters
    ----------
    texts : mapping of token to text
        Tokens not given have their defaults; names that are no token are ignored.
    prefer : str
        A preference this kind does not know counts as `nearest`.
    choice : str, optional
        The network chosen before, in the notation.
    """
    reading = read_brief(kind, texts)
    if reading.need is None:
        return Sheet(kind, reading, "nearest", None, None, "")
    preference = default_preference(reading.need, prefer)
    choices = choices_for(reading.need, preference)
    pinned, problem = None, ""
    if choice:
        try:
            pinned = weigh(reading.need, _series_parallel(choice))
        except LowfoldError as error:
            problem = error.message
    return Sheet(kind, reading, preference, choices, pinned, problem)


def _series_parallel(text: str) -> Element:
    network = read_text(text)
    if isinstance(network, Netlist):
        msg = "a choice is a series–parallel network, not a netlist"
        raise TopologyError(msg, field="choice")
    return network


def standing(sheet: Sheet) -> Standing:
    """Say how a design stands: by the choice made, else by the first one listed."""
    need = _need_words(sheet)
    wrong = [token.label for token in sheet.reading.tokens.values() if not token.ok]
    if wrong:
        return Standing(None, f"brief not understood: {wrong[0]}", need, "")
    assert sheet.choices is not None  # every token was understood
    if sheet.choice_problem:
        return Standing(None, f"choice does not fit: {sheet.choice_problem}", need, "")
    rows = sheet.choices.rows
    chosen = sheet.pinned or (rows[0] if rows else None)
    if chosen is None:
        return Standing(None, sheet.choices.reason or "no choice", need, "")
    kind = VOLT if isinstance(sheet.reading.need, DividerBrief) else OHM
    words = governing_words(chosen.judged.gates)
    if sheet.pinned is None:
        words += "; nothing pinned yet"
    return Standing(
        chosen.judged.verdict, words, need, write(chosen.nominal, kind, trim=kind is OHM)
    )


def _need_words(sheet: Sheet) -> str:
    """Say the need in short, token by token as far as understood: `14.4 V to 3 V ± 3 %`."""
    names = {"resistance": ("target_ohm",), "divider": ("supply_v", "target_v")}[sheet.kind]
    tokens = sheet.reading.tokens
    shown = [tokens[name].shown or f"“{tokens[name].text}”" for name in names]
    return f"{' to '.join(shown)} ± {tokens['within'].shown or tokens['within'].text}"


def governing_words(gates: tuple[Gate, ...]) -> str:
    """Say which gate uses most of its allowance."""
    judged = [g for g in gates if g.used is not None]
    if not judged:
        return "nothing judged"
    order = list(Verdict)
    tightest = max(judged, key=lambda g: (order.index(g.verdict or Verdict.PASS), g.used or 0.0))
    of = "the allowed power" if tightest.name == "power" else "the window"
    share = min(tightest.used or 0.0, 99.0)
    near = 0.95 < share < 1.05  # where rounding would put a near miss on the limit
    figure = f"{share:.3g} ×" if share >= 10 else f"{100 * share:.{1 if near else 0}f} %"
    return f"{tightest.name} uses {figure} of {of}"
