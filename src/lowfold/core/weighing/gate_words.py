"""What is said of a gate: one place for its sentences, made of facts when somebody reads them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from lowfold.core.checking.check import PartCheck
from lowfold.core.checking.verdict import Verdict
from lowfold.core.tolerance.loadline import LoadLine, Passing
from lowfold.core.tolerance.spread import ResistanceSpread
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, WATT, Kind, write
from lowfold.core.weighing.mark import Mark

__all__ = [
    "OVER_IN_TIMES",
    "above_words",
    "beside_words",
    "corner_words",
    "holding_words",
    "load_words",
    "margin_words",
    "overdriven_words",
    "passing_words",
    "percent",
    "power_words",
    "sentence",
    "span_words",
    "spread_words",
    "stiffness_words",
    "times",
    "unloaded_words",
    "value_words",
]

#: Outputs that need no name where there is one: a divider's, a whole resistance.
UNNAMED: Final = ("", "OUT")

#: Share of a limiting voltage that is left something to.
COMFORTABLY: Final = 0.9
OVER_IN_TIMES: Final = 10.0  #: beyond so many allowances, how many are told


def passing_words(passing: Passing | None, *, amps: bool) -> str:
    """Say which loads keep an output inside its window, as currents or as resistances.

    For the middle of a sentence, without a stop. What is told is rounded to the safe side.

    Parameters
    ----------
    passing : Passing | None
        Loads that keep an output inside its window; None for none.
    amps : bool
        Whether loads are stated as currents.
    """
    if passing is None or not (passing.currents if amps else passing.resistances):
        return "no load brings it into the window"
    if amps:
        if math.isinf(passing.most_amps):
            most = "any current"
        else:
            most = write(passing.most_amps, AMPERE, 3, rounding="down")
        if not passing.least_amps:
            bounded = math.isfinite(passing.most_amps)
            return f"passes up to {most}" if bounded else "passes with any load"
        return f"passes from {write(passing.least_amps, AMPERE, 3, rounding='up')} to {most}"
    if math.isinf(passing.heaviest_ohms):
        return "passes with no load only"
    if passing.heaviest_ohms <= 0:
        heaviest = "0 Ω"
    else:
        heaviest = write(passing.heaviest_ohms, OHM, 3, rounding="up")
    if math.isinf(passing.lightest_ohms):
        return f"passes from {heaviest} up"
    return f"passes from {heaviest} up to {write(passing.lightest_ohms, OHM, 3, rounding='down')}"


def sentence(words: str) -> str:
    """Make a sentence of words.

    Parameters
    ----------
    words : str
        For the middle of a sentence, without a stop.
    """
    return f"{words[:1].upper()}{words[1:]}."


def load_words(line: LoadLine, window: tuple[float, float], *, amps: bool) -> str:
    """Say which loads pass at a junction: at every corner of all else, or at least nominally.

    Parameters
    ----------
    line : LoadLine
        The output against its load.
    window : tuple[float, float]
        Least and greatest accepted, V.
    amps : bool
        Whether loads are stated as currents.
    """
    at_worst = line.passing_at_worst(*window)
    if line.over_box and _passes(at_worst, amps=amps):
        return sentence(f"at every corner it {passing_words(at_worst, amps=amps)}")
    nominal = line.passing(*window)
    if not _passes(nominal, amps=amps):
        return "No load brings it into the window."
    words = f"with nominal parts it {passing_words(nominal, amps=amps)}"
    return f"At the worst corner no load passes; {words}." if line.over_box else sentence(words)


def _passes(passing: Passing | None, *, amps: bool) -> bool:
    """Whether any load stated in one way passes."""
    return passing is not None and (passing.currents if amps else passing.resistances)


def holding_words(line: LoadLine, window: tuple[float, float], *, amps: bool) -> str:
    """Say while which loads are connected an output holds, and what it is without any.

    Parameters
    ----------
    line : LoadLine
        The output against its load.
    window : tuple[float, float]
        Least and greatest accepted, V.
    amps : bool
        Whether loads are stated as currents.
    """
    found = line.passing_at_worst(*window)
    without = write(line.open_volts, VOLT, 3)
    if found is None or not _passes(found, amps=amps):
        return f"Holds only while its load is connected; without it {without}."
    if amps:
        ends = [(found.least_amps, AMPERE, "up"), (found.most_amps, AMPERE, "down")]
    else:
        ends = [(found.heaviest_ohms, OHM, "up"), (found.lightest_ohms, OHM, "down")]
    low, high = (
        write(end, kind, 3, rounding=way) if math.isfinite(end) else "∞"  # type: ignore[arg-type]
        for end, kind, way in ends
    )
    verb = "drawn" if amps else "connected"
    return f"Holds only while {low} … {high} is {verb}; without it {without}."


def unloaded_words(volts: float) -> str:
    """Say what an output is with nothing connected, V.

    Parameters
    ----------
    volts : float
        Nominal, V.
    """
    return f"Unloaded: {write(volts, VOLT)}."


def above_words(at: str, volts: float, stands: float) -> str:
    """Say how far an output comes above what it feeds stands once its load is gone, V.

    Parameters
    ----------
    at : str
        Name of the output.
    volts : float
        How far from 0 V it comes without the load, V.
    stands : float
        What is connected stands, V.
    """
    reached, most = (write(v, VOLT, 4, trim=True) for v in (volts, stands))
    named = at if at not in UNNAMED else "the output"
    return sentence(f"without its load {named} comes to {reached}; what it feeds stands {most}")


def times(ratio: float) -> str:
    """Write how many times one figure is another: `17.9 ×`, `5 760 ×`.

    Parameters
    ----------
    ratio : float
        One figure over another; None where there is none.
    """
    text = (
        f"{ratio:.3g}" if ratio < 999.5 else f"{float(f'{ratio:.3g}'):,.0f}".replace(",", "\u202f")
    )
    return f"{text} ×"


def margin_words(used: float | None, verdict: Verdict | None) -> str:
    """Say what is left of a gate's allowance, or by how much it is exceeded.

    Parameters
    ----------
    used : float | None
        Share of the allowance; inf where nothing is allowed.
    verdict : Verdict | None
        None where nothing is judged.
    """
    if used is None:
        return ""
    if math.isinf(used):
        return "nothing is allowed"
    if used >= OVER_IN_TIMES:
        return f"{times(used)} what is allowed"
    return f"{percent(abs(1 - used), 2)} {'over' if verdict is Verdict.FAIL else 'left'}"


def percent(value: float, digits: int = 3) -> str:
    """Write a fraction as per cent, kept on one line.

    Parameters
    ----------
    value : float
        A fraction: 1 is 100 %.
    digits : int
        Figures that are written.
    """
    return write(value, FRACTION, digits).replace(" ", "\u00a0")


def span_words(low: float, high: float, rss: float, nominal: float, kind: Kind) -> str:
    """Say the extremes, and the root-sum-square half width as a fraction of nominal.

    Parameters
    ----------
    low : float
        Lowest, in the unit of `kind`.
    high : float
        Highest, in the unit of `kind`.
    rss : float
        Root-sum-square half width, in the unit of `kind`.
    nominal : float
        With nothing deviating, in the unit of `kind`.
    """
    share = rss / abs(nominal) if nominal else 0.0  # a starved output is 0 V whatever the parts
    return f"{write(low, kind)} … {write(high, kind)}; root-sum-square ±\u00a0{percent(share)}."


def corner_words(ends: Mapping[str, str], supply: float = 1.0) -> str:
    """Say a corner in words: `R1 low, R2 and supply high`.

    Parameters
    ----------
    ends : Mapping[str, str]
        Where each value stands: low or high; of a negative supply that is its magnitude.
    supply : float
        V; only its sign counts.
    """
    by_end: dict[str, list[str]] = {}
    for name, end in ends.items():
        at = f"{'furthest from' if end == 'high' else 'nearest to'} 0 V"
        by_end.setdefault(at if name == "supply" and supply < 0 else end, []).append(name)
    ordered = sorted(by_end.items(), key=lambda e: ("0 V" not in e[0], e[0]), reverse=True)
    return ", ".join(
        " and ".join(sorted(names, key=lambda n: (n == "supply", n))) + f" {end}"
        for end, names in ordered
    )


def beside_words(alone: ResistanceSpread, least: float, most: float) -> str:
    """Say beside what it stays within `least` to `most` Ω at every corner of its own parts.

    Parameters
    ----------
    alone : ResistanceSpread
        The resistance with nothing beside it, Ω.
    least : float
        Least accepted, Ω.
    most : float
        Greatest accepted, Ω.
    """
    if alone.lowest < least:
        return "At its lowest it is too small whatever lies beside it."
    low = alone.lowest * least / (alone.lowest - least) if alone.lowest > least else math.inf
    high = alone.highest * most / (alone.highest - most) if alone.highest > most else math.inf
    if math.isinf(low):
        return "At every corner it passes with nothing beside it only."
    if low > high:
        return "Nothing beside it brings every corner into the window."
    from_ = write(low, OHM, 3, rounding="up")
    if math.isinf(high):
        return f"At every corner it passes beside {from_} or more."
    return f"At every corner it passes beside {from_} to {write(high, OHM, 3, rounding='down')}."


def _name(mark: Mark) -> str:
    return mark.name or "the whole"


def value_words(
    mark: Mark, beside: str, *, among: bool, ends: tuple[float, float] | None = None
) -> tuple[str, ...]:
    """Say the nominal figure: with others, which one it is of.

    Parameters
    ----------
    mark : Mark
        A figure against its target.
    beside : str
        Words for what lies beside it; empty for nothing.
    among : bool
        Whether it is one of several.
    ends : tuple[float, float] | None
        Least and greatest over the range of its load, the parts nominal.
    """
    digits = {"digits": 6, "trim": True} if mark.kind is OHM else {}
    shown = write(mark.nominal, mark.kind, **digits)  # type: ignore[arg-type]
    over = ""
    if ends is not None:
        low, high = (write(end, mark.kind) for end in ends)
        over = f", {low} … {high} over its load" if low != high else ""
    if among:
        return (f"{_name(mark)} at {shown}{over}, the worst one.",)
    named = f"{mark.name} at " if mark.name not in UNNAMED else ""
    return (f"{named}{shown} with nominal parts{beside}{over}.",)


def spread_words(mark: Mark, corner: str, rss: float, *, among: bool) -> tuple[str, ...]:
    """Say at which corner a figure is worst, and its span.

    Parameters
    ----------
    mark : Mark
        A figure against its target.
    corner : str
        The corner in words.
    rss : float
        Root-sum-square half width, in the unit of `kind`.
    among : bool
        Whether it is one of several.
    """
    which = _name(mark) if among or mark.name not in UNNAMED else "Worst"
    moves = f"{which}: {corner}." if corner else "Nothing may deviate."
    return moves, span_words(mark.lowest, mark.highest, rss, mark.nominal, mark.kind)


def overdriven_words(at: str, volts: float, stands: float) -> str:
    """Say how far an output comes above what it feeds stands, V.

    Parameters
    ----------
    at : str
        Name of the output.
    volts : float
        How far from 0 V it comes, V.
    stands : float
        What is connected stands, V.
    """
    reached, most = (write(v, VOLT, 4, trim=True) for v in (volts, stands))
    return (
        f"{at or 'The output'} comes to {reached} with nothing failed; what it feeds stands {most}."
    )


def stiffness_words(ratio: float | None, asked: str, *, stiff: bool, at: str = "") -> str:
    """Say how many times a load's current a string carries where the load is heaviest.

    Parameters
    ----------
    ratio : float | None
        One figure over another; None where there is none.
    asked : str
        What is asked for, in words.
    stiff : bool
        Whether it carries that.
    at : str
        The junction, where there are several.
    """
    if ratio is None:
        return "The load draws nothing."
    word = "stiff" if stiff else "not stiff"
    where = f" at {at}" if at else ""
    return f"The string carries {times(ratio)} the load{where} at its heaviest ({word}: {asked})."


def power_words(
    hottest: PartCheck, rating: str, verdict: Verdict | None, *, by_volts: bool
) -> tuple[str, ...]:
    """Say what the part takes that uses most of what it may, and what would do.

    Parameters
    ----------
    hottest : PartCheck
        The part that uses most of what it may.
    rating : str
        Name of the family.
    verdict : Verdict | None
        None where nothing is judged.
    by_volts : bool
        Whether its voltage governs.
    """
    worst_watts, rated = (
        write(w or 0.0, WATT, 3) for w in (hottest.worst_watts, hottest.rated_watts)
    )
    notes = [f"{hottest.ref} at {worst_watts} of {rated} it stands when hottest."]
    if hottest.allowed_volts is not None:
        limit = f"{write(hottest.worst_volts, VOLT, 3)} of {write(hottest.allowed_volts, VOLT, 3)}"
        notes.append(f"{'Its voltage governs' if by_volts else 'Across it'}: {limit}.")
    if verdict is Verdict.FAIL:
        most = hottest.allowed_volts
        if by_volts and most and hottest.worst_volts > most:
            count = math.ceil(hottest.worst_volts / most / COMFORTABLY)
            each = write(hottest.worst_volts / count, VOLT, 3)
            notes.append(f"{count} equal parts in series would have {each} each.")
        elif hottest.suggested_watts is None:
            notes.append("No single standard part would do: share it among several.")
        elif hottest.worst_watts > (hottest.allowed_watts or 0.0):
            would = write(hottest.suggested_watts, WATT, 3, trim=True)
            notes.append(f"A {would} part would do; {rating} does not.")
    return tuple(notes)
