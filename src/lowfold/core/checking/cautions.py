"""The usual cautions, where they apply; local codes and licensed practice decide."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.checking.faults import MOST_FAULTED
from lowfold.core.values.quantities import AMPERE, FRACTION, VOLT, WATT, write

__all__ = [
    "HAZARDOUS_VOLTS_DC",
    "HEAVY_AMPS",
    "HOT_WATTS",
    "SOFT",
    "Caution",
    "FailingLeg",
    "Taken",
    "cautions_for",
    "highest_between",
]

#: Hazardous live above this in normal condition (IEC 61010-1, from memory).
HAZARDOUS_VOLTS_DC: Final = 60.0
#: From here on a battery and its leads want a thought, and a fuse (common practice).
HEAVY_AMPS: Final = 1.0
#: From here on a part burns fingers whatever its rating says (common practice).
HOT_WATTS: Final = 1.0
#: Below and above these, what is not the part counts (common practice).
FEW_OHMS, MANY_OHMS = 1.0, 10e6
#: An output that its load moves by more than this is used as a supply (common practice).
SOFT: Final = 0.1


@dataclass(frozen=True, slots=True)
class FailingLeg:
    """What an output rises to when one part fails."""

    fault: str  #: “R2 opens”
    at: str
    volts: float  #: inf where only the regulator's own supply limits it
    stands: float | None  #: what it feeds stands, V; None where that is not stated


@dataclass(frozen=True, slots=True)
class Taken:
    """What one part is and takes at its worst."""

    ref: str
    ohms: float
    watts: float
    volts: float


@dataclass(frozen=True, slots=True)
class Caution:
    code: str
    message: str


def highest_between(volts: Iterable[float]) -> float:
    """Return the highest voltage between any two points, 0 V being one of them, V.

    Parameters
    ----------
    volts : iterable of float
        Of the junctions, V; NaN where one has none.
    """
    known = [v for v in volts if not math.isnan(v)]
    return max(0.0, *known) - min(0.0, *known) if known else 0.0


def cautions_for(
    *,
    highest_volts: float,
    overloaded: Sequence[str] = (),
    starved: Sequence[str] = (),
    may_starve: Sequence[str] = (),
    overdriven: Sequence[tuple[str, float, float | None]] = (),
    unsearched: int = 0,
    supply_amps: float = 0.0,
    soft: Sequence[tuple[str, float]] = (),
    failing: Sequence[FailingLeg] = (),
    parts: Sequence[Taken] = (),
) -> tuple[Caution, ...]:
    """Return the cautions that a circuit calls for.

    Parameters
    ----------
    highest_volts : float
        Highest voltage between any two points, V DC.
    overloaded : sequence of str
        Parts whose worst power is above their derated rating.
    starved : sequence of str
        Current loads that do not get their current, everything nominal.
    may_starve : sequence of str
        Those that do not get it somewhere in the box.
    overdriven : sequence of (output, V, V)
        How far from 0 V an output may come without any fault, above what it feeds stands.
    unsearched : int
        Parts of a network whose faults were asked for.
    supply_amps : float
        What is drawn from the supply, nominal, A.
    soft : sequence of (output, fraction)
        By how much its load pulls each output down.
    failing : sequence of FailingLeg
        Outputs that a single failed part lifts too far.
    parts : sequence of Taken
        Every part, with what it takes at its worst.
    """
    found = []
    if highest_volts > HAZARDOUS_VOLTS_DC:
        found.append(
            Caution(
                "hazardous-voltage",
                f"{highest_volts:.4g} V is above {HAZARDOUS_VOLTS_DC:g} V DC: contact can injure "
                "or kill. Isolation, creepage, each part's voltage rating and legs that fail open "
                "decide safety, not this arithmetic; follow the local code and have licensed "
                "practice do it.",
            )
        )
    if overloaded:
        found.append(
            Caution(
                "hot-part",
                f"{', '.join(overloaded)} would run above the derated rating: it burns fingers, "
                "boards and nearby things. Choose a larger rating or share the power.",
            )
        )
    found += _of_parts([p for p in parts if p.ref not in overloaded])
    if starved:
        found.append(
            Caution(
                "starved-load",
                f"{', '.join(starved)} wants more current than the network can give: it is taken "
                "to hold its junction at 0 V.",
            )
        )
    if may_starve:
        found.append(
            Caution(
                "starved-load",
                f"{', '.join(may_starve)} may want more current than the network can give, within "
                "the ranges stated: there it is taken to hold its junction at 0 V.",
            )
        )
    for at, volts, stands in overdriven:
        reached, most = (write(v or 0.0, VOLT, 4, trim=True) for v in (volts, stands))
        found.append(
            Caution(
                "overdriven",
                f"{at} may come to {reached} with nothing failed, above the {most} that what it "
                "feeds stands.",
            )
        )
    sagging = {at: sag for at, sag in soft if sag > SOFT}
    if sagging:
        outputs, most = " and ".join(sagging), write(max(sagging.values()), FRACTION, 2)
        sags = f"sags by {most}" if len(sagging) == 1 else f"sag by up to {most}"
        found.append(
            Caution(
                "no-power-supply",
                f"{outputs} {sags} under load: a divider is no power supply, its output moves "
                "with the load. Use a regulator for anything that draws a changing current.",
            )
        )
    found += [Caution("leg-fails", _leg_words(leg)) for leg in failing]
    if supply_amps >= HEAVY_AMPS:
        found.append(
            Caution(
                "heavy-current",
                f"{write(supply_amps, AMPERE, 3)} flows. A battery across so small a resistance "
                "can overheat or vent: fuse it, and do not leave it alone.",
            )
        )
    if unsearched > MOST_FAULTED:
        found.append(
            Caution(
                "faults-not-searched",
                f"{unsearched} parts are more than the {MOST_FAULTED} whose single faults are "
                "looked at: what an open or shorted part does is not told here.",
            )
        )
    return tuple(found)


def _of_parts(parts: Sequence[Taken]) -> list[Caution]:
    """Return what single parts call for: heat that burns, leads that count, leakage that counts."""
    found = []
    hot = [p for p in parts if p.watts >= HOT_WATTS]
    if hot:
        hottest = max(hot, key=lambda p: p.watts)
        refs, most = ", ".join(p.ref for p in hot), write(hottest.watts, WATT, 2)
        found.append(
            Caution(
                "burns-fingers",
                f"{refs} {'takes' if len(hot) == 1 else 'take'} up to {most}: above some 1 W a "
                "part burns fingers whatever its rating says. Keep it clear of the board, of other "
                "parts and of hands.",
            )
        )
    if small := [p.ref for p in parts if p.ohms < FEW_OHMS]:
        found.append(
            Caution(
                "leads-count",
                f"{', '.join(small)} below 1 Ω: leads, joints and copper count; measure it with "
                "four wires.",
            )
        )
    if large := [p.ref for p in parts if p.ohms > MANY_OHMS]:
        found.append(
            Caution(
                "leakage-counts",
                f"{', '.join(large)} above 10 MΩ: leakage, moisture and the meter decide; keep it "
                "clean and dry.",
            )
        )
    return found


def _leg_words(leg: FailingLeg) -> str:
    if math.isinf(leg.volts):
        return (
            f"If {leg.fault}, {leg.at} rises as high as the regulator can drive it: see what that "
            "does to what it feeds."
        )
    rises = f"If {leg.fault}, {leg.at} goes to {write(leg.volts, VOLT, 4, trim=True)}"
    if leg.stands is None:
        return f"{rises}: the whole supply is on what it feeds. Say what that stands, or clamp it."
    stands = write(leg.stands, VOLT, 4, trim=True)
    return f"{rises}, above the {stands} that what it feeds stands. Clamp it, or limit the current."
