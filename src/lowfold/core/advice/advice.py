"""What would make a choice pass: tried, not guessed.

Every piece of advice is a change of the brief's tokens, another choice, or both. It is tried by
reading the changed brief and weighing the choice against it, just as the sheet does once it is
followed, so what it promises is what comes of it.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Final

from lowfold.core.advice.case import Advice, AdviceKind, Case, cost_of, holds
from lowfold.core.advice.joint import Joint, Progress, cheapest
from lowfold.core.advice.looking import dear, look_through, weighed_together
from lowfold.core.advice.parts import (
    cooler,
    grade_texts,
    grade_words,
    grades_of,
    larger_families,
    tighter,
)
from lowfold.core.checking.verdict import ROUNDING, Verdict
from lowfold.core.errors import LowfoldError, TooLargeError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.divider import DividerBrief, incurable
from lowfold.core.needs.feedback import FeedbackBrief
from lowfold.core.needs.heat import too_hot
from lowfold.core.needs.kinds import (
    KINDS,
    BriefKind,
    choices_for,
    read_brief,
    weigh,
)
from lowfold.core.needs.ladder import LadderBrief
from lowfold.core.needs.network import read_stated
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element, write_network
from lowfold.core.parts.pool import Pool
from lowfold.core.parts.stock import Stock
from lowfold.core.search.resistance_search import MOST_SERIES_PARTS
from lowfold.core.values.quantities import FRACTION, write
from lowfold.core.weighing.choice import Choice, Preference
from lowfold.core.weighing.gate import GateName

__all__ = ["Advised", "advise", "advise_stated", "lightest"]

MOST_JUDGED: Final = 2  #: parts of a resistance of which every combination is judged
LIGHTEST_LISTED: Final = 24  #: strings looked at for the lightest that passes
LISTED: Final = 12  #: candidates of each preference that are tried
#: Candidates among which those are found that are not too hot for certain, more if they are few.
SEARCHED: Final = (16, 64, 300)
#: A nominal error below this share of the window is not what makes a choice fail.
NOMINAL_SHARE: Final = 0.1


@dataclass(frozen=True, slots=True)
class Advised:
    """Ways to a choice that passes, and what no part can cure."""

    ways: tuple[Advice, ...] = ()
    limit: str = ""  #: why even perfect parts would fail; empty where they would not
    looked: str = ""  #: how far other choices were looked through, where none of them passes
    denied: str = ""  #: that nothing which can be bought passes, where that is proven

    @property
    def cheapest(self) -> Advice | None:
        """Return the cheapest way that passes; None where none does."""
        return next((way for way in self.ways if way.verdict is Verdict.PASS), None)


def advise(
    kind: BriefKind,
    texts: Mapping[str, str],
    network: Element,
    stock: Stock | None = None,
    progress: Progress | None = None,
) -> Advised:
    """Return ways to make a choice pass, those that pass first, then in the order of their cost.

    Another choice of the same parts costs nothing; larger parts cost less than tighter ones, and
    the tightest most (common practice). Nothing where the choice passes already, or where the brief
    is not understood. Every way stands better than the choice and does not fail. More parts and
    finer series are only looked into where the nominal value is what is wrong.

    Parameters
    ----------
    texts : Mapping[str, str]
        Token to text as typed; one that is not given has its default.
    progress : callable, optional
        Told how far it is: a share and words.
    """
    own = stock or Stock()
    need = read_brief(kind, texts, own.families).need
    if need is None:
        return Advised()
    case = Case(texts, weigh(need, network).judged, network, own, need, kind)
    return _advised(case, progress)


def advise_stated(texts: Mapping[str, str], stock: Stock | None = None) -> Advised:
    """Return ways to make a stated network pass: tighter or larger parts, arrays of them.

    Parameters
    ----------
    texts : Mapping[str, str]
        Token to text as typed; one that is not given has its default.
    """
    own = stock or Stock()
    stated = read_stated(texts, own.families)[1]
    if stated is None:
        return Advised()
    network = None if isinstance(stated.network, Netlist) else stated.network
    return _advised(Case(texts, stated.weighed(), network, own, None, None))


def _advised(case: Case, progress: Progress | None = None) -> Advised:
    if case.judged.verdict not in {Verdict.FAIL, Verdict.MARGINAL}:
        return Advised()
    limit = _limit(case)
    joint = cheapest(case, progress)
    other, looked = ([], "") if _known_whole(case, joint) else _other_choice(case)
    found = [*other, *([joint.way] if joint.way else [])]
    if case.need is None or not dear(case.need):
        found += [*cooler(case), *tighter(case)]
    passing = any(a.verdict is Verdict.PASS for a in found)
    if not passing and not joint.proven and not limit and _is_off(case):
        found += _one_part_more(case)
    if not found and not limit and case.need is None:
        found = list(_together(case))
    if joint.looked and not any(a.verdict is Verdict.PASS for a in found):
        looked = joint.looked
    order = list(Verdict)
    ranked = sorted(found, key=lambda a: (order.index(a.verdict or Verdict.FAIL), cost_of(a)))
    # Two ways may lead to one network: an array in place of a part, and the same as a choice.
    once: dict[tuple[object, ...], Advice] = {}
    for advice in ranked:
        made = tuple(b.ohms for b in advice.judged.circuit.branches)
        once.setdefault((made, advice.judged.circuit.nodes, *advice.changes.items()), advice)
    denied = joint.looked if joint.proven and not passing else ""
    # What no pair of the stated values can do another series may
    curable = any(a.verdict is Verdict.PASS for a in ranked)
    return Advised(tuple(once.values()), "" if curable else limit, looked, denied)


def _known_whole(case: Case, joint: Joint) -> bool:
    """Whether every choice of the stated values was judged when looking for the cheapest change."""
    need = case.need
    pairs = isinstance(need, ResistanceBrief) and need.max_parts <= MOST_JUDGED
    return pairs and (joint.proven or joint.way is not None)


def lightest(
    kind: BriefKind, texts: Mapping[str, str], stock: Stock | None = None
) -> tuple[str, float] | None:
    """Return the string of least current that passes every gate, in words, and what it draws, A.

    The other school of stiffness: compute the loaded output, and take the lightest string that
    meets it. None where the kind knows no such order, or none of the first listed passes.

    Parameters
    ----------
    texts : Mapping[str, str]
        Token to text as typed; one that is not given has its default.
    """
    own = stock or Stock()
    need = read_brief(kind, texts, own.families).need
    if need is None or "least_current" not in KINDS[kind].preferences:
        return None
    lines = () if need.parts.series else own.lines
    try:
        pool = need.parts.pool(lines)
        light = need.lightest(pool) if isinstance(need, DividerBrief) else None
        if light is not None:
            rows = tuple(need.weigh(light))
        else:
            rows = choices_for(need, "least_current", lines, LIGHTEST_LISTED).rows
    except LowfoldError:
        return None  # too much to search
    for row in rows:
        if row.judged.verdict is Verdict.PASS and row.amps is not None:
            return _choice_words(kind, row), row.amps
    return None


def _is_off(case: Case) -> bool:
    """Whether the nominal value uses a share of the window worth mending."""
    return any(g.name == "value" and (g.used or 0.0) > NOMINAL_SHARE for g in case.judged.gates)


def _limit(case: Case) -> str:
    """Say what fails with perfect parts too; empty where that is not proven.

    What is said holds for everything it names: every part there is, or every pair of the stated
    values, or perfect parts of the values that a network has.
    """
    if not case.fails("spread") or any(o.overdriven for o in case.judged.check.outputs):
        return ""
    need = case.need
    if need is None:
        return _limit_of_values(case)
    if isinstance(need, DividerBrief):
        try:
            return incurable(need, need.parts.pool(case.lines))
        except TooLargeError:
            return ""
    return _too_loose(need)


def _too_loose(need: Brief) -> str:
    """Say what a need cannot do without whatever its parts are, where that alone is too loose."""
    accepted = write(need.within, FRACTION, 4, trim=True)
    if isinstance(need, FeedbackBrief) and _reference_too_loose(need):
        wanders = write(need.reference_tolerance, FRACTION, 4, trim=True)
        cause = f"the reference's ± {wanders} alone is too much for the ± {accepted} accepted"
    elif isinstance(need, LadderBrief) and need.supply_tolerance > need.within * (1 + ROUNDING):
        wanders = write(need.supply_tolerance, FRACTION, 4, trim=True)
        cause = f"the supply's ± {wanders} alone is more than the ± {accepted} accepted"
    elif isinstance(need, ResistanceBrief) and _load_too_loose(need):
        cause = (
            "what lies beside it ranges so far that no resistance at all keeps the "
            f"± {accepted} accepted"
        )
    else:
        return ""
    return f"No part can cure the spread: {cause}. Steady it, or accept more."


def _reference_too_loose(need: FeedbackBrief) -> bool:
    """Whether no pair of perfect resistances keeps the window, whatever its values.

    The output is k·Vref + Ipin·RU with k ≥ 1, so the reference moves it by at least its tolerance
    of Vref, and by that of the whole output where no current into the pin adds to it.
    """
    moved = need.reference_volts if need.pin_amps > 0 else need.target_volts
    allowed = need.within * need.target_volts
    return need.reference_tolerance * moved > allowed * (1 + ROUNDING)


def _load_too_loose(need: ResistanceBrief) -> bool:
    """Whether no perfect resistance keeps the window beside its load.

    X beside L lies at X·L/(X + L): the X that just reaches the lower limit beside the least L is
    the smallest that can be wanted, and beside the greatest L it is the least too high.
    """
    load = need.load
    if load is None or load.ohms is None:
        return False
    low, high = (need.target_ohms * (1 + s * need.within) for s in (-1, 1))
    if load.low <= low:
        return True
    smallest = low * load.low / (load.low - low)
    return smallest / (1 + smallest / load.high) > high * (1 + ROUNDING)


def _limit_of_values(case: Case) -> str:
    """Say that perfect parts of a network's own values would not do."""
    perfect = {"tolerance": "0 %", "tcr": "0 ppm/K", "drift": "0 %", "own": "none"}
    judged = case.weighed(perfect, case.network)
    if judged is None or all(
        (m.highest - m.lowest) / 2 <= m.within * abs(m.target) * (1 + ROUNDING)
        for m in judged.marks
    ):
        return ""
    return (
        "Tighter parts of these values cannot cure the spread: with perfect ones the supply or the "
        "range of the load alone would take it out of the window. Steady them, choose other "
        "values, or accept more."
    )


def _other_choice(case: Case) -> tuple[list[Advice], str]:
    """Return another choice for the brief as it is, or how far was looked for one that passes."""
    need = case.need
    if need is None or case.kind is None:
        return [], ""
    through = look_through(need, need.parts.pool(case.lines))
    if through.best is None:
        return [], through.words
    words = f"Take {_choice_words(case.kind, through.best)} instead"
    advice = case.tried("choice", words, {}, through.best.network)
    passes = through.best.judged.verdict is Verdict.PASS
    return ([advice] if advice else []), ("" if passes else through.words)


def _one_part_more(case: Case) -> list[Advice]:
    """Return a combination of one part more than a resistance may be made of."""
    need = case.need
    if not isinstance(need, ResistanceBrief) or need.max_parts >= MOST_SERIES_PARTS:
        return []
    more = {"max_parts": str(need.max_parts + 1)}
    best = _best(case, more, "parts", "With one part more, take {}")
    return [best] if best is not None else []


def _rows(case: Case, need: Brief) -> Iterator[Choice]:
    """Yield the choices of a brief that are tried, the worst corner ranked first where known.

    One whose parts take too much already with nominal values fails for certain and is left out
    before it is weighed.
    """
    if case.kind is None:
        return
    known = KINDS[case.kind].preferences
    preferred = [p for p in known if p in {"worst_case", "cool"}]
    pool = need.parts.pool(case.lines_of(need))
    seen: set[str] = set()
    for preference in dict.fromkeys([*preferred, known[0]]):
        fresh = (
            network
            for network in _cool_enough(need, preference, pool)
            if (text := write_network(network)) not in seen and not seen.add(text)  # type: ignore[func-returns-value]
        )
        yield from weighed_together(need, list(itertools.islice(fresh, LISTED)))


def _cool_enough(need: Brief, preference: Preference, pool: Pool) -> Iterator[Element]:
    """Yield networks in an order of preference, without those too hot for certain.

    More are searched only where most of the first ones are.
    """
    done = 0
    for count in SEARCHED:
        try:
            networks = need.search(preference, pool, count).networks
        except LowfoldError:
            return  # too much to search, so nothing to try
        fresh = networks[done:]
        yield from (n for n, hot in zip(fresh, too_hot(need, fresh), strict=True) if not hot)
        if len(networks) < count:
            return
        done = len(networks)


def _best(case: Case, changes: dict[str, str], kind: AdviceKind, words: str) -> Advice | None:
    """Return the first candidate that passes, else the first that does not fail."""
    if case.kind is None:
        return None
    need = read_brief(case.kind, {**case.texts, **changes}, case.stock.families).need
    if need is None:
        return None
    good: list[Choice] = []
    for row in _rows(case, need):
        if row.judged.verdict is Verdict.PASS:
            good.insert(0, row)
            break
        if row.judged.verdict is not Verdict.FAIL:
            good.append(row)
    for row in good:
        shown = _choice_words(case.kind, row)
        advice = case.tried(kind, words.format(shown), changes, row.network)
        if advice is not None:
            return advice
    return None


def _choice_words(kind: BriefKind, row: Choice) -> str:
    """Say a choice as it is read in a list."""
    between = {"resistance": " ", "ladder": ", "}.get(kind, " over ")
    return between.join(line for line in row.lines if line)


def _together(case: Case) -> Iterator[Advice]:
    """Yield one change of several things, where no single one is enough.

    A larger family until no part is too hot, tighter parts until the spread fits, on the choice
    as it is and on the best ones of the brief.
    """
    parts = case.judged.parts
    rows = list(itertools.islice(_rows(case, case.need), 1)) if case.need is not None else []
    for network, row in ((case.network, None), *((r.network, r) for r in rows)):
        words: list[str] = []
        changes: dict[str, str] = {}
        if row is not None and case.kind is not None:
            words.append(f"take {_choice_words(case.kind, row)}")
        ratings = [
            ("", {}),
            *((f"every part as {f.name}", {"rating": f.name}) for f in larger_families(case)),
        ]
        grades = [
            ("", {}),
            *(
                (f"every part at {grade_words(*grade)}", grade_texts(*grade))
                for grade in grades_of(parts.tolerance, parts.tcr_ppm)
            ),
        ]
        gates: tuple[tuple[GateName, list[tuple[str, dict[str, str]]]], ...] = (
            ("power", ratings),
            ("spread", grades),
        )
        for gate, options in gates:
            held = next((o for o in options if holds(case, changes | o[1], network, gate)), None)
            if held is not None and held[0]:
                words.append(held[0])
                changes |= held[1]
        said = ", ".join(words)
        advice = case.tried("together", said[:1].upper() + said[1:], changes, network)
        if advice is not None:
            yield advice
            return
