"""What would make a choice pass: tried, not guessed.

Every piece of advice is a change of the brief's tokens, another choice, or both. It is tried by
reading the changed brief and weighing the choice against it, just as the sheet does once it is
followed, so what it promises is what comes of it.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Final, Literal

from lowfold.core.arrays import search_arrays
from lowfold.core.check import PartCheck
from lowfold.core.contexts import Drive
from lowfold.core.editing import put_in_place
from lowfold.core.errors import LowfoldError
from lowfold.core.families import Family, families_with_typical
from lowfold.core.needs.choice import Choice, Judged
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.feedback import FeedbackBrief
from lowfold.core.needs.gates import GateName
from lowfold.core.needs.kinds import (
    KINDS,
    Brief,
    BriefKind,
    choices_for,
    read_brief,
    weigh,
)
from lowfold.core.needs.network import judge_stated, read_stated
from lowfold.core.needs.opened import contributions_of
from lowfold.core.needs.parts import DrawerLine, OwnLimits, Stock
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network import Element, write_network
from lowfold.core.notation import Netlist
from lowfold.core.quantities import FRACTION, OHM, PPM_PER_KELVIN, VOLT, WATT, write
from lowfold.core.resistance_search import MOST_SERIES_PARTS
from lowfold.core.verdict import Verdict

__all__ = ["Advice", "AdviceKind", "Advised", "advise", "advise_stated", "lightest"]

#: Tolerances that parts are sold in, loosest first (IEC 60062 letters; common practice).
TOLERANCES: Final = (0.2, 0.1, 0.05, 0.02, 0.01, 0.005, 0.0025, 0.001, 0.0005, 0.0002, 0.0001)
#: Temperature coefficients that come with tighter parts (common practice): at most this tolerance.
COEFFICIENTS: Final = ((0.005, 50.0), (0.001, 25.0), (0.0005, 10.0), (0.0001, 5.0))
#: Ratio tolerances that arrays are sold in (common practice).
RATIOS: Final = (0.005, 0.001, 0.0005)
#: Series looked into after the one the brief names.
FINER: Final = ("E24", "E96", "E192")
LIGHTEST_LISTED: Final = 24  #: strings looked at for the lightest that passes
LISTED: Final = 12  #: candidates of each preference that are tried
ARRAY_PARTS: Final = 16  #: parts of an array that stands in for one
#: A nominal error below this share of the window is not what makes a choice fail.
NOMINAL_SHARE: Final = 0.1
ARRAY_OFF: Final = 0.02  #: how far the array may be off the part it stands in for

PARTS_TRIED: Final = 6  #: single parts tried tighter, those that contribute most

#: A tolerance, and the coefficient that comes with it; None is the one stated.
_Grade = tuple[float, float | None]
AdviceKind = Literal[
    "tolerance", "array", "choice", "parts", "series", "rating", "split", "stress", "together"
]


@dataclass(frozen=True, slots=True)
class Advice:
    """One way to a network that passes, with what it brings when followed."""

    kind: AdviceKind
    words: str
    judged: Judged  #: what it brings, weighed against the changed brief
    notation: str  #: of the choice to be made; empty where the brief itself states the network
    changes: Mapping[str, str] = field(default_factory=dict)  #: tokens to their new text

    @property
    def verdict(self) -> Verdict | None:
        return self.judged.verdict


@dataclass(frozen=True, slots=True)
class _Case:
    """What advice is about: a brief as typed and a network that does not pass."""

    texts: Mapping[str, str]
    judged: Judged
    network: Element | None  #: None for a netlist, which no part is replaced in
    stock: Stock
    need: Brief | None  #: None where the brief states a network of its own
    kind: BriefKind | None

    def weighed(self, changes: Mapping[str, str], network: Element | None) -> Judged | None:
        """Weigh a network against the changed brief; None where that says nothing."""
        texts = {**self.texts, **changes}
        try:
            if self.kind is None:
                if network is not None and network is not self.network:
                    texts["network"] = write_network(network)
                stated = read_stated(texts, self.stock.families)[1]
                return judge_stated(stated) if stated is not None else None
            need = read_brief(self.kind, texts, self.stock.families).need
            chosen = network or self.network
            return weigh(need, chosen).judged if need is not None and chosen is not None else None
        except LowfoldError:
            return None  # what cannot be weighed is no advice

    def tried(
        self,
        kind: AdviceKind,
        words: str,
        changes: Mapping[str, str] | None = None,
        network: Element | None = None,
    ) -> Advice | None:
        """Return the advice if it makes the network stand better than it does and not fail."""
        judged = self.weighed(changes or {}, network)
        before, now = self.judged.verdict, judged.verdict if judged is not None else None
        order = list(Verdict)
        if judged is None or now is None or before is None:
            return None
        if order.index(now) >= order.index(before):
            return None
        made, notation = dict(changes or {}), ""
        chosen = network or self.network
        if self.kind is not None and chosen is not None:
            notation = write_network(chosen)
        elif network is not None:
            made["network"] = write_network(network)
        return Advice(kind, words, judged, notation, made)

    @property
    def lines(self) -> tuple[DrawerLine, ...]:
        """Return the drawer where the brief chooses from it."""
        return () if self.judged.parts.series else self.stock.lines

    def fails(self, name: GateName) -> bool:
        return any(
            g.name == name and g.verdict in {Verdict.FAIL, Verdict.MARGINAL}
            for g in self.judged.gates
        )


@dataclass(frozen=True, slots=True)
class Advised:
    """Ways to a choice that passes, and what no part can cure."""

    ways: tuple[Advice, ...] = ()
    limit: str = ""  #: why even perfect parts would fail; empty where they would not


def advise(
    kind: BriefKind, texts: Mapping[str, str], network: Element, stock: Stock | None = None
) -> Advised:
    """Return ways to make a choice pass, those that pass first, then the least change.

    Nothing where the choice passes already, or where the brief is not understood. Every way stands
    better than the choice and does not fail. More parts and finer series are only looked into
    where the nominal value is what is wrong.
    """
    own = stock or Stock()
    need = read_brief(kind, texts, own.families).need
    if need is None:
        return Advised()
    return _advised(_Case(texts, weigh(need, network).judged, network, own, need, kind))


def advise_stated(texts: Mapping[str, str], stock: Stock | None = None) -> Advised:
    """Return ways to make a stated network pass: tighter or larger parts, arrays of them."""
    own = stock or Stock()
    stated = read_stated(texts, own.families)[1]
    if stated is None:
        return Advised()
    network = None if isinstance(stated.network, Netlist) else stated.network
    return _advised(_Case(texts, judge_stated(stated), network, own, None, None))


def _advised(case: _Case) -> Advised:
    if case.judged.verdict not in {Verdict.FAIL, Verdict.MARGINAL}:
        return Advised()
    limit = _limit(case)
    found = [*_tighter(case), *_cooler(case), *_other_choice(case)]
    passing = any(a.verdict is Verdict.PASS for a in found)
    if not passing and not limit and _is_off(case):
        found += _more_values(case)
    if not found and not limit:
        found = list(_together(case))
    order = list(Verdict)
    ranked = sorted(found, key=lambda a: order.index(a.verdict or Verdict.FAIL))
    # Two ways may lead to one network: an array in place of a part, and the same as a choice.
    once: dict[tuple[object, ...], Advice] = {}
    for advice in ranked:
        made = tuple(b.ohms for b in advice.judged.circuit.branches)
        once.setdefault((made, advice.judged.circuit.nodes, *advice.changes.items()), advice)
    return Advised(tuple(once.values()), limit)


def lightest(
    kind: BriefKind, texts: Mapping[str, str], stock: Stock | None = None
) -> tuple[str, float] | None:
    """Return the string of least current that passes every gate, in words, and what it draws, A.

    The other school of stiffness: compute the loaded output, and take the lightest string that
    meets it. None where the kind knows no such order, or none of the first listed passes.
    """
    own = stock or Stock()
    need = read_brief(kind, texts, own.families).need
    if need is None or "least_current" not in KINDS[kind].preferences:
        return None
    lines = () if need.parts.series else own.lines
    try:
        rows = choices_for(need, "least_current", lines, LIGHTEST_LISTED).rows
    except LowfoldError:
        return None  # too much to search
    for row in rows:
        if row.judged.verdict is Verdict.PASS and row.amps is not None:
            return _choice_words(kind, row), row.amps
    return None


def _is_off(case: _Case) -> bool:
    """Whether the nominal value uses a share of the window worth mending."""
    return any(g.name == "value" and (g.used or 0.0) > NOMINAL_SHARE for g in case.judged.gates)


def _limit(case: _Case) -> str:
    """Say what fails with perfect parts too: the supply, the reference, the load.

    Whatever the nominal value, a span wider than the window does not fit into it.
    """
    perfect = {"tolerance": "0 %", "tcr": "0 ppm/K", "drift": "0 %", "own": "none"}
    if not case.fails("spread"):
        return ""
    networks = [case.network]
    if case.need is not None:
        networks += [row.network for row in _rows(case, case.need)[:1]]
    for network in networks:
        judged = case.weighed(perfect, network)
        if judged is None or all(
            (m.highest - m.lowest) / 2 <= m.within * abs(m.target) for m in judged.marks
        ):
            return ""
    return (
        "No part can cure the spread: with perfect ones the supply, the reference or the range of "
        "the load alone would take it out of the window. Steady them, or accept more."
    )


def _first(
    case: _Case, kind: AdviceKind, options: Iterable[tuple[str, dict[str, str]]]
) -> list[Advice]:
    """Return the first of some changes that passes, else the first that helps, in a list."""
    helps: list[Advice] = []
    for words, changes in options:
        advice = case.tried(kind, words, changes)
        if advice is not None and advice.verdict is Verdict.PASS:
            return [advice]
        if advice is not None and not helps:
            helps = [advice]
    return helps


def _loosest(
    case: _Case, grades: Sequence[_Grade], option: Callable[[_Grade], tuple[str, dict[str, str]]]
) -> list[Advice]:
    """Return the loosest grade that passes, else the loosest that helps, in a list.

    A tighter part never widens a span, so grades of one coefficient are halved; those that come
    with a lower one are tried in turn.
    """
    alone = [g for g in grades if g[1] is None]

    def tried(place: int) -> Advice | None:
        words, changes = option(alone[place])
        return case.tried("tolerance", words, changes)

    best = tried(len(alone) - 1) if alone else None
    if best is None or best.verdict is not Verdict.PASS:
        colder = _first(case, "tolerance", map(option, grades[len(alone) :]))
        if best is None or any(a.verdict is Verdict.PASS for a in colder):
            return colder
    low, high = 0, len(alone) - 1
    while low < high:
        middle = (low + high) // 2
        found = tried(middle)
        if found is None or found.verdict is not best.verdict:
            low = middle + 1
        else:
            high, best = middle, found
    return [best]


def _tighter(case: _Case) -> list[Advice]:
    """Return single parts bought tighter, or else all of them, and one array."""
    if not case.fails("spread"):
        return []
    parts, circuit = case.judged.parts, case.judged.circuit
    limits = parts.limits_of(circuit)
    refs = {b.ref for b in circuit.branches}
    shares: dict[str, float] = {}
    for c in contributions_of(case.judged):
        if c.name in refs:
            shares[c.name] = max(shares.get(c.name, 0.0), abs(c.share))
    found: list[Advice] = []
    for ref in sorted(shares, key=lambda r: -shares[r])[:PARTS_TRIED]:
        now = limits.get(ref, parts.limits)

        def one(grade: _Grade, ref: str = ref) -> tuple[str, dict[str, str]]:
            return f"Buy {ref} at {_grade_words(*grade)}", {
                "own": _own_text(parts.own, ref, *grade)
            }

        found += _loosest(case, list(_grades(now.tolerance, now.tcr_ppm)), one)
    if not any(a.verdict is Verdict.PASS for a in found):

        def every(grade: _Grade) -> tuple[str, dict[str, str]]:
            return f"Buy every part at {_grade_words(*grade)}", _grade_texts(*grade)

        found += _loosest(case, list(_grades(parts.tolerance, parts.tcr_ppm)), every)
    if parts.ratio is None and any(m.kind is VOLT for m in case.judged.marks):
        held = (write(ratio, FRACTION, 4, trim=True) for ratio in RATIOS)
        words = "Take them from one array whose ratios hold to"
        found += _first(case, "array", ((f"{words} {h}", {"tracking": h}) for h in held))
    return found


def _grades(tolerance: float, tcr: float) -> Iterator[_Grade]:
    """Yield what can be bought tighter, loosest first: alone, then with a coefficient."""
    tighter = [t for t in TOLERANCES if t < tolerance * (1 - 1e-9)]
    yield from ((t, None) for t in tighter)
    for least, coefficient in COEFFICIENTS:
        if coefficient < abs(tcr):
            yield from (
                (t, coefficient) for t in TOLERANCES if t == least and t <= tolerance * (1 + 1e-9)
            )


def _grade_words(tolerance: float, tcr: float | None) -> str:
    words = write(tolerance, FRACTION, 4, trim=True)
    return words if tcr is None else f"{words} and {write(tcr, PPM_PER_KELVIN, 4, trim=True)}"


def _grade_texts(tolerance: float, tcr: float | None) -> dict[str, str]:
    """Return the tokens that state a grade for every part."""
    texts = {"tolerance": write(tolerance, FRACTION, 4, trim=True)}
    if tcr is not None:
        texts["tcr"] = write(tcr, PPM_PER_KELVIN, 4, trim=True)
    return texts


def _own_text(
    own: Sequence[OwnLimits],
    ref: str,
    tolerance: float | None = None,
    tcr: float | None = None,
    family: str | None = None,
) -> str:
    """Return the token for parts of their own with one part changed."""
    mine = next((o for o in own if o.ref.casefold() == ref.casefold()), None)
    mine = mine or OwnLimits(ref.upper(), None, None, None)
    mine = replace(
        mine,
        tolerance=mine.tolerance if tolerance is None else tolerance,
        tcr_ppm=mine.tcr_ppm if tcr is None else tcr,
        family=None if family else mine.family,
    )
    words = [o.words for o in own if o.ref.casefold() != ref.casefold()]
    return "; ".join([*words, f"{mine.words} {family}" if family else mine.words])


def _hot(case: _Case) -> list[PartCheck]:
    """Return the parts that take more than they may, or nearly, the hottest first."""
    judged = {Verdict.FAIL, Verdict.MARGINAL}
    hot = [p for p in case.judged.check.parts if p.verdict in judged]
    return sorted(hot, key=lambda p: -p.used)


def _cooler(case: _Case) -> list[Advice]:
    """Return larger parts, arrays of equal parts, and the other school of stress."""
    if not case.fails("power"):
        return []
    parts, hot = case.judged.parts, _hot(case)
    larger = _larger(case)
    found: list[Advice] = []
    if len(hot) == 1 and len(case.judged.circuit.branches) > 1:
        ref = hot[0].ref
        found += _first(
            case,
            "rating",
            (
                (
                    f"Take {ref} as {_family_words(f)}",
                    {"own": _own_text(parts.own, ref, family=f.name)},
                )
                for f in larger
            ),
        )
    every = ((f"Take every part as {_family_words(f)}", {"rating": f.name}) for f in larger)
    found += _first(case, "rating", every)
    found += _splits(case, hot)
    if parts.stress < 1:
        words = (
            "Use the derated rating in full, where the data sheet allows it: parts run hotter and "
            "drift more"
        )
        found += _first(case, "stress", [(words, {"stress": "100 %"})])
    return found


def _larger(case: _Case) -> list[Family]:
    """Return the families of a larger rating than the one stated, smallest first."""
    now = case.judged.parts.family.rated_watts
    families = families_with_typical(case.stock.families)
    return sorted((f for f in families if f.rated_watts > now), key=lambda f: f.rated_watts)


def _family_words(family: Family) -> str:
    watts = write(family.rated_watts, WATT, 3, trim=True)
    return family.name if family.name.startswith(watts) else f"{family.name} ({watts})"


def _splits(case: _Case, hot: Sequence[PartCheck]) -> Iterator[Advice]:
    """Yield arrays of equal parts, in series and in parallel, in place of every part too hot."""
    if case.network is None:
        return
    pool = case.judged.parts.pool(case.stock.lines)
    ohms = {b.ref: b.ohms for b in case.judged.circuit.branches}
    arrays = []
    for part in hot:
        if not part.allowed_watts:
            return
        drive = Drive(part.allowed_watts, amps=math.sqrt(part.worst_watts / ohms[part.ref]))
        found = search_arrays(
            pool,
            ohms[part.ref],
            drive,
            more_than=1,
            within=ARRAY_OFF,
            limit=6,
            most=ARRAY_PARTS,
        )
        arrays.append([(part.ref, a) for a in found])
    seen: set[int] = set()
    for chosen in itertools.islice(itertools.product(*arrays), 36):
        network = case.network
        words = []
        for ref, array in chosen:
            network = put_in_place(network, ref, array.network)
            each = write(array.ohms, OHM, 4, trim=True)
            shape = (
                f"{array.in_parallel} strings of {array.in_series}"
                if min(array.in_series, array.in_parallel) > 1
                else "in series"
                if array.in_series > 1
                else "in parallel"
            )
            words.append(f"{ref} as {array.parts} × {each}, {shape}")
        count = sum(a.parts for _, a in chosen)
        advice = case.tried("split", f"Build {'; '.join(words)}", network=network)
        if advice is not None and count not in seen:
            seen.add(count)
            yield advice
            if len(seen) == 2:
                return


def _other_choice(case: _Case) -> list[Advice]:
    """Return another choice for the brief as it is."""
    found = _best(case, {}, "choice", "Take {} instead")
    return [found] if found else []


def _more_values(case: _Case) -> list[Advice]:
    """Return choices of one part more, or of a finer series."""
    parts = case.judged.parts
    found: list[Advice | None] = []
    more: dict[str, str] = {}
    if isinstance(case.need, DividerBrief | FeedbackBrief) and case.need.per_leg == 1:
        more = {"per_leg": "2"}
    elif isinstance(case.need, ResistanceBrief) and case.need.max_parts < MOST_SERIES_PARTS:
        more = {"max_parts": str(case.need.max_parts + 1)}
    if more:
        found.append(_best(case, more, "parts", "With one part more, take {}"))
    for name in [s for s in FINER if parts.series and s not in parts.series][-2:]:
        changes = {"values": f"{' + '.join(parts.series)} + {name}"}
        found.append(_best(case, changes, "series", f"From {name}, take {{}}"))
        if found[-1] is not None:
            break
    return [advice for advice in found if advice is not None]


def _rows(case: _Case, need: Brief) -> list[Choice]:
    """Return the choices of a brief that are tried, the worst corner ranked first where known."""
    if case.kind is None:
        return []
    known = KINDS[case.kind].preferences
    preferred = [p for p in known if p in {"worst_case", "cool"}]
    lines = () if need.parts.series else case.stock.lines
    found: list[Choice] = []
    for preference in dict.fromkeys([*preferred, known[0]]):
        try:
            found += choices_for(need, preference, lines, LISTED).rows
        except LowfoldError:
            continue  # too much to search, so nothing to try
    return found


def _best(case: _Case, changes: dict[str, str], kind: AdviceKind, words: str) -> Advice | None:
    """Return the first candidate that passes, else the first that does not fail."""
    if case.kind is None:
        return None
    need = read_brief(case.kind, {**case.texts, **changes}, case.stock.families).need
    if need is None:
        return None
    good = [r for r in _rows(case, need) if r.judged.verdict is not Verdict.FAIL]
    good.sort(key=lambda r: r.judged.verdict is not Verdict.PASS)
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


def _together(case: _Case) -> Iterator[Advice]:
    """Yield one change of several things, where no single one is enough.

    A larger family until no part is too hot, tighter parts until the spread fits, on the choice
    as it is and on the best ones of the brief.
    """
    parts = case.judged.parts
    rows = _rows(case, case.need)[:1] if case.need is not None else []
    for network, row in ((case.network, None), *((r.network, r) for r in rows)):
        words: list[str] = []
        changes: dict[str, str] = {}
        if row is not None and case.kind is not None:
            words.append(f"take {_choice_words(case.kind, row)}")
        ratings = [
            ("", {}),
            *((f"every part as {f.name}", {"rating": f.name}) for f in _larger(case)),
        ]
        grades = [
            ("", {}),
            *(
                (f"every part at {_grade_words(*grade)}", _grade_texts(*grade))
                for grade in _grades(parts.tolerance, parts.tcr_ppm)
            ),
        ]
        gates: tuple[tuple[GateName, list[tuple[str, dict[str, str]]]], ...] = (
            ("power", ratings),
            ("spread", grades),
        )
        for gate, options in gates:
            held = next((o for o in options if _holds(case, changes | o[1], network, gate)), None)
            if held is not None and held[0]:
                words.append(held[0])
                changes |= held[1]
        said = ", ".join(words)
        advice = case.tried("together", said[:1].upper() + said[1:], changes, network)
        if advice is not None:
            yield advice
            return


def _holds(
    case: _Case, changes: Mapping[str, str], network: Element | None, gate: GateName
) -> bool:
    """Whether one gate does not fail once the brief is changed."""
    judged = case.weighed(changes, network)
    gates = judged.gates if judged is not None else ()
    return any(g.name == gate and g.verdict is not Verdict.FAIL for g in gates)
