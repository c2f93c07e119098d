"""Advice about parts: tighter ones, larger ones, arrays in their place."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Final

from lowfold.core.advice.case import Advice, Case, first_of
from lowfold.core.checking.check import PartCheck
from lowfold.core.checking.verdict import Verdict
from lowfold.core.network.editing import put_in_place
from lowfold.core.parts.families import Family, families_with_typical
from lowfold.core.search.arrays import search_arrays
from lowfold.core.search.contexts import Drive
from lowfold.core.sheet.opened import contributions_of
from lowfold.core.tokens.parts import OwnLimits
from lowfold.core.values.quantities import FRACTION, OHM, PPM_PER_KELVIN, VOLT, WATT, write

__all__ = ["cooler", "grade_texts", "grade_words", "grades_of", "larger_families", "tighter"]

#: Tolerances that parts are sold in, loosest first (IEC 60062 letters; common practice).
TOLERANCES: Final = (0.2, 0.1, 0.05, 0.02, 0.01, 0.005, 0.0025, 0.001, 0.0005, 0.0002, 0.0001)
#: Temperature coefficients that come with tighter parts (common practice): at most this tolerance.
COEFFICIENTS: Final = ((0.005, 50.0), (0.001, 25.0), (0.0005, 10.0), (0.0001, 5.0))
#: Ratio tolerances that arrays are sold in (common practice).
RATIOS: Final = (0.005, 0.001, 0.0005)
ARRAY_PARTS: Final = 16  #: parts of an array that stands in for one
ARRAY_OFF: Final = 0.02  #: how far the array may be off the part it stands in for
PARTS_TRIED: Final = 6  #: single parts tried tighter, those that contribute most

#: A tolerance, and the coefficient that comes with it; None is the one stated.
_Grade = tuple[float, float | None]


def _loosest(
    case: Case, grades: Sequence[_Grade], option: Callable[[_Grade], tuple[str, dict[str, str]]]
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
        colder = first_of(case, "tolerance", map(option, grades[len(alone) :]))
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


def tighter(case: Case) -> list[Advice]:
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
            return f"Buy {ref} at {grade_words(*grade)}", {"own": _own_text(parts.own, ref, *grade)}

        found += _loosest(case, list(grades_of(now.tolerance, now.tcr_ppm)), one)
    if not any(a.verdict is Verdict.PASS for a in found):

        def every(grade: _Grade) -> tuple[str, dict[str, str]]:
            return f"Buy every part at {grade_words(*grade)}", grade_texts(*grade)

        found += _loosest(case, list(grades_of(parts.tolerance, parts.tcr_ppm)), every)
    if parts.ratio is None and any(m.kind is VOLT for m in case.judged.marks):
        held = (write(ratio, FRACTION, 4, trim=True) for ratio in RATIOS)
        words = "Take them from one array whose ratios hold to"
        found += first_of(case, "array", ((f"{words} {h}", {"tracking": h}) for h in held))
    return found


def grades_of(tolerance: float, tcr: float) -> Iterator[_Grade]:
    """Yield what can be bought tighter, loosest first: alone, then with a coefficient.

    Parameters
    ----------
    tolerance : float
        Half width, a fraction.
    tcr : float
        ppm/K.
    """
    tighter = [t for t in TOLERANCES if t < tolerance * (1 - 1e-9)]
    yield from ((t, None) for t in tighter)
    for least, coefficient in COEFFICIENTS:
        if coefficient < abs(tcr):
            yield from (
                (t, coefficient) for t in TOLERANCES if t == least and t <= tolerance * (1 + 1e-9)
            )


def grade_words(tolerance: float, tcr: float | None) -> str:
    """Say a grade: `0.1 % and 25 ppm/K`.

    Parameters
    ----------
    tolerance : float
        Half width, a fraction.
    tcr : float | None
        ppm/K.
    """
    words = write(tolerance, FRACTION, 4, trim=True)
    return words if tcr is None else f"{words} and {write(tcr, PPM_PER_KELVIN, 4, trim=True)}"


def grade_texts(tolerance: float, tcr: float | None) -> dict[str, str]:
    """Return the tokens that state a grade for every part.

    Parameters
    ----------
    tolerance : float
        Half width, a fraction.
    tcr : float | None
        ppm/K.
    """
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


def _hot(case: Case) -> list[PartCheck]:
    """Return the parts that take more than they may, or nearly, the hottest first."""
    judged = {Verdict.FAIL, Verdict.MARGINAL}
    hot = [p for p in case.judged.check.parts if p.verdict in judged]
    return sorted(hot, key=lambda p: -p.used)


def cooler(case: Case) -> list[Advice]:
    """Return larger parts, arrays of equal parts, and the other school of stress."""
    if not case.fails("power"):
        return []
    parts, hot = case.judged.parts, _hot(case)
    larger = larger_families(case)
    found: list[Advice] = []
    if len(hot) == 1 and len(case.judged.circuit.branches) > 1:
        ref = hot[0].ref
        found += first_of(
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
    found += first_of(case, "rating", every)
    found += _splits(case, hot)
    if parts.stress < 1:
        words = (
            "Use the derated rating in full, where the data sheet allows it: parts run hotter and "
            "drift more"
        )
        found += first_of(case, "stress", [(words, {"stress": "100 %"})])
    return found


def larger_families(case: Case) -> list[Family]:
    """Return the families of a larger rating than the one stated, smallest first."""
    now = case.judged.parts.family.rated_watts
    families = families_with_typical(case.stock.families)
    return sorted((f for f in families if f.rated_watts > now), key=lambda f: f.rated_watts)


def _family_words(family: Family) -> str:
    watts = write(family.rated_watts, WATT, 3, trim=True)
    return family.name if family.name.startswith(watts) else f"{family.name} ({watts})"


def _splits(case: Case, hot: Sequence[PartCheck]) -> Iterator[Advice]:
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
