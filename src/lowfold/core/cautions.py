"""The usual cautions, where they apply; local codes and licensed practice decide."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.faults import MOST_FAULTED

__all__ = ["HAZARDOUS_VOLTS_DC", "Caution", "cautions_for"]

#: Hazardous live above this in normal condition (IEC 61010-1, from memory).
HAZARDOUS_VOLTS_DC: Final = 60.0


@dataclass(frozen=True, slots=True)
class Caution:
    code: str
    message: str


def cautions_for(
    *,
    highest_volts: float,
    overloaded: Sequence[str] = (),
    starved: Sequence[str] = (),
    unsearched: int = 0,
) -> tuple[Caution, ...]:
    """Return the cautions that a circuit calls for.

    Parameters
    ----------
    highest_volts : float
        Highest voltage between any two points, V DC.
    overloaded : sequence of str
        Parts whose worst power is above their derated rating.
    starved : sequence of str
        Current loads that do not get their current.
    unsearched : int
        Parts of a network whose faults were asked for.
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
    if starved:
        found.append(
            Caution(
                "starved-load",
                f"{', '.join(starved)} wants more current than the network can give: it is taken "
                "to hold its junction at 0 V.",
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
