"""What else could be bought: kinds of parts beside those stated, in the order of what they cost.

Another value of the same series; one more part; a finer series; 0.5 %; a larger size; several equal
parts in place of one; 0.1 %; leaded power parts; an array for ratios (common practice).
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final

from lowfold.core.parts.families import Family, families_with_typical
from lowfold.core.parts.ratings import derated_watts
from lowfold.core.search.leg_options import Structure
from lowfold.core.tokens.parts import Parts
from lowfold.core.values.quantities import FRACTION, PPM_PER_KELVIN, WATT, write

__all__ = [
    "ARRAY",
    "MORE_PARTS",
    "STRUCTURES",
    "Bought",
    "Sold",
    "families_sold",
    "grades_sold",
    "series_sold",
]

#: What each step costs against the others, least first.
MORE_PARTS, FINER, HALF_PER_CENT, LARGER, SEVERAL, TENTH, LEADED, ARRAY = range(1, 9)
#: From here on a leaded part is a power part, W.
POWER_WATTS: Final = 1.0
#: Tolerances that are bought next, with the coefficient that comes with them (common practice).
GRADES: Final = ((0.01, 100.0, 2.5), (0.005, 50.0, HALF_PER_CENT), (0.001, 25.0, TENTH))
#: Of a divider's legs, upper and lower, and what they cost.
STRUCTURES: Final[tuple[tuple[Structure, Structure, float], ...]] = (
    ("single", "single", 0),
    ("single", "pair", MORE_PARTS),
    ("pair", "single", MORE_PARTS),
    ("pair", "pair", MORE_PARTS + 0.5),
    ("array", "single", SEVERAL),
    ("single", "array", SEVERAL),
    ("array", "array", SEVERAL + 0.5),
    ("array", "pair", SEVERAL + MORE_PARTS),
    ("pair", "array", SEVERAL + MORE_PARTS),
)


@dataclass(frozen=True, slots=True)
class Bought:
    """One change of what is bought."""

    cost: float
    words: str  #: empty for what is stated
    changes: Mapping[str, str] = field(default_factory=dict)


def series_sold(parts: Parts) -> list[Bought]:
    """Return the stated values, then finer ones."""
    found = [Bought(0, "")]
    if not parts.series:
        return [*found, Bought(FINER, "bought from E24", {"values": "E24"})]
    named = list(parts.series)
    for name, cost in (("E24", FINER - 0.5), ("E96", FINER)):
        if not {name, "E96", "E192"} & set(named):
            named = [*named, name]
            found.append(Bought(cost, f"from {name}", {"values": " + ".join(named)}))
    return found


def grades_sold(parts: Parts) -> list[Bought]:
    """Return the stated tolerance, then tighter ones, each with its coefficient."""
    found = [Bought(0, "")]
    for tolerance, ppm, cost in GRADES:
        changes = {}
        if tolerance < parts.tolerance * (1 - 1e-9):
            changes["tolerance"] = write(tolerance, FRACTION, 4, trim=True)
        elif tolerance > parts.tolerance * (1 + 1e-9):
            continue
        if ppm < abs(parts.tcr_ppm):
            changes["tcr"] = write(ppm, PPM_PER_KELVIN, 4, trim=True)
        if changes:
            found.append(Bought(cost, f"at {' and '.join(changes.values())}", changes))
    return found


@dataclass(frozen=True, slots=True)
class Sold:
    """A family that parts could be bought of: what each of them may take."""

    bought: Bought
    most_watts: float | None  #: None where no rating is stated
    most_volts: float | None


def families_sold(parts: Parts, own: Sequence[Family]) -> list[Sold]:
    """Return the stated family, then larger ones by their cost.

    Parameters
    ----------
    own : sequence of Family
        The user's own families.
    """
    if not parts.rated:
        return [Sold(Bought(0, ""), None, None)]
    return [_sold(parts, parts.family, 0), *sorted(_larger(parts, own), key=_cost)]


def _cost(sold: Sold) -> float:
    return sold.bought.cost


def _larger(parts: Parts, own: Sequence[Family]) -> Iterator[Sold]:
    now = parts.family
    families = sorted(families_with_typical(own), key=lambda f: f.rated_watts)
    for place, family in enumerate(families):
        more_volts = (family.limiting_volts or float("inf")) > (now.limiting_volts or float("inf"))
        if family.name == now.name or not (family.rated_watts > now.rated_watts or more_volts):
            continue
        leaded = not family.name[:4].isdigit()
        base = LEADED if leaded and family.rated_watts >= POWER_WATTS else LARGER
        yield _sold(parts, family, base + 0.4 * leaded + place / 100)


def _sold(parts: Parts, family: Family, cost: float) -> Sold:
    rated = derated_watts(
        family.rated_watts, parts.environment.high_c, family.full_power_c, family.zero_power_c
    )
    words, changes = "", {}
    if cost:
        watts = write(family.rated_watts, WATT, 3, trim=True)
        named = family.name if family.name.startswith(watts) else f"{family.name} ({watts})"
        words, changes = f"as {named}", {"rating": family.name}
    return Sold(Bought(cost, words, changes), parts.stress * rated, family.limiting_volts)
