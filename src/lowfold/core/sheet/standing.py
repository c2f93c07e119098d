"""How a design stands, in one line."""

from __future__ import annotations

import math
from collections.abc import Mapping

from lowfold.core.checking.verdict import Standing, Verdict
from lowfold.core.errors import LowfoldError
from lowfold.core.needs.kinds import KINDS
from lowfold.core.needs.network import StatedNetwork, read_stated
from lowfold.core.needs.sensor import gates_of_leg, leg_chosen, read_sensor, verdict_of
from lowfold.core.parts.families import Family
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.search.sensor import search_sensor
from lowfold.core.sheet.sheet import Sheet
from lowfold.core.solving.solution import solve
from lowfold.core.tokens.reading import TokenReading
from lowfold.core.values.counting import counted
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, WATT, write
from lowfold.core.weighing.choice import Judged
from lowfold.core.weighing.gate import Gate
from lowfold.core.weighing.gate_words import OVER_IN_TIMES, times

__all__ = [
    "board_standing",
    "governing_words",
    "network_standing",
    "sensor_standing",
    "standing",
    "standing_of",
    "weighed_or_why",
]


def standing(sheet: Sheet) -> Standing:
    """Say how a design stands: by the choice made, else by the first one listed.

    Parameters
    ----------
    sheet : Sheet
        The sheet as built.
    """
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
    """Say which gate uses most of its allowance.

    Parameters
    ----------
    gates : tuple[Gate, ...]
        Gates of a choice.
    """
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


def network_standing(texts: Mapping[str, str], families: tuple[Family, ...] = ()) -> Standing:
    """Say in one line what a stated network is and folds to, and how it stands.

    Parameters
    ----------
    texts : Mapping[str, str]
        Token to text as typed; one that is not given has its default.
    families : tuple[Family, ...]
        The user's own, beside the typical ones.
    """
    readings, stated = read_stated(texts, families)
    return standing_of(readings, stated, *weighed_or_why(stated))


def sensor_standing(
    texts: Mapping[str, str], choice: str | None, drawer: tuple[DrawerLine, ...] = ()
) -> Standing:
    """Say in one line how a sensor's resistor stands: the one chosen, else the first found.

    Parameters
    ----------
    texts : Mapping[str, str]
        Token to text as typed; one that is not given has its default.
    choice : str or None
        As `R1=12k + @OUT + RS1=27k`.
    drawer : tuple of DrawerLine
        The user's own stock.
    """
    readings, brief = read_sensor(texts, drawer)
    if brief is None:
        wrong = next(r.label for r in readings.values() if not r.ok)
        return Standing(None, f"not understood: {wrong}", "", "")
    need = f"{counted(len(brief.points), 'point')}, {readings['aim'].shown}"
    try:
        found = search_sensor(brief.need(1)) if not choice else None
        legs = found.legs if found else (leg_chosen(brief, choice or ""),)
    except LowfoldError as error:
        return Standing(None, error.message, need, "")
    if not legs:
        return Standing(Verdict.FAIL, (found.reason if found else "") or "", need, "")
    gates = gates_of_leg(brief, legs[0])
    verdict = verdict_of(gates)
    worst = next((g for g in gates if g.verdict == verdict), gates[0])
    words = worst.note or f"{worst.name} {write(worst.figure, worst.kind, 3)} {worst.of}"
    figure = write(legs[0].ohms, OHM, 4, trim=True)
    return Standing(verdict, words, need, figure, {g.name: g.verdict for g in gates})


def board_standing(texts: Mapping[str, str]) -> Standing:
    """Say in one line what a board of needs is; each need stands for itself once it is a design.

    Parameters
    ----------
    texts : Mapping[str, str]
        `needs`: a need a line.
    """
    lines = [line.strip() for line in texts.get("needs", "").splitlines() if line.strip()]
    first = lines[0] if lines else ""
    return Standing(
        None,
        f"{counted(len(lines), 'need')}, chosen and judged on its page",
        f"{first[:60]}…" if len(first) > 61 else first,
        "",
    )


def weighed_or_why(stated: StatedNetwork | None) -> tuple[Judged | None, str]:
    """Weigh what is stated, or say why that cannot be done.

    Parameters
    ----------
    stated : StatedNetwork | None
        A network as understood.
    """
    if stated is None:
        return None, ""
    try:
        return stated.weighed(), ""
    except LowfoldError as error:
        return None, error.message


def standing_of(
    readings: Mapping[str, TokenReading],
    stated: StatedNetwork | None,
    judged: Judged | None,
    trouble: str,
) -> Standing:
    """Say how a network stands that is read and weighed already.

    Parameters
    ----------
    readings : Mapping[str, TokenReading]
        What was understood, by token.
    stated : StatedNetwork | None
        A network as understood.
    judged : Judged | None
        A network weighed against what is wanted.
    trouble : str
        Why it could not be weighed; empty where it was.
    """
    shown = readings["network"].shown or readings["network"].text
    need = f"{shown[:40]}…" if len(shown) > 41 else shown
    if stated is None:
        wrong = next((r.label for r in readings.values() if not r.ok), "network")
        return Standing(None, f"not understood: {wrong}", need, "")
    found = solve(
        stated.circuit, stated.supply_volts, stated.source_ohms, stated.hung, stated.low_volts
    )
    finite = found.total_ohms < 1e300
    figure = write(found.total_ohms, OHM, 4, trim=True) if finite else "open"
    if not stated.wanted and not stated.parts.rated:
        words = (
            f"draws {write(found.supply_amps, AMPERE, 4)} from "
            f"{write(stated.supply_volts, VOLT, 4, trim=True)}"
        )
        return Standing(None, words, need, figure)
    if judged is None:
        return Standing(None, trouble, need, figure)
    gates: dict[str, Verdict | None] = {g.name: g.verdict for g in judged.gates}
    return Standing(judged.verdict, governing_words(judged.gates), need, figure, gates)
