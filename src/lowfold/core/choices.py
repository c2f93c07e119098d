"""From a brief to ranked choices, each already weighed against it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Final, Literal

from lowfold.core.brief import DividerBrief, ResistanceBrief
from lowfold.core.combine import Pool
from lowfold.core.divider import DividerNeed
from lowfold.core.divider_search import search_divider
from lowfold.core.gates import Judged, judge_divider, judge_resistance
from lowfold.core.network import Element, number_parts, write_network
from lowfold.core.preferred import series_values
from lowfold.core.quantities import FRACTION, OHM, write
from lowfold.core.resistance_search import Frontier, ResistanceNeed, search_resistance

__all__ = [
    "LISTED",
    "Choice",
    "Choices",
    "Preference",
    "choices_for",
    "default_preference",
    "weigh",
]

LISTED: Final = 10  #: choices shown for a brief

Brief = ResistanceBrief | DividerBrief
Preference = Literal["nearest", "fewest", "worst_case", "least_current"]


@dataclass(frozen=True, slots=True)
class Choice:
    """One network weighed against the brief; Ω for a resistance, V for a divider."""

    network: Element
    nominal: float
    lowest: float
    highest: float
    error: float
    amps: float | None  #: drawn from the supply; None where nothing drives it
    output_ohms: float | None
    judged: Judged

    @property
    def notation(self) -> str:
        return write_network(self.network)


@dataclass(frozen=True, slots=True)
class Choices:
    rows: tuple[Choice, ...]
    searched: int
    advice: str  #: when one more part is worth it
    reason: str | None  #: why there is nothing to choose
    scale: float  #: half width of the shared scale, a fraction of the target


def default_preference(brief: Brief, wanted: str) -> Preference:
    """Return `wanted` where this kind of brief knows it, else `nearest`."""
    known: dict[str, Preference] = {"nearest": "nearest"}
    if isinstance(brief, ResistanceBrief):
        known["fewest"] = "fewest"
    else:
        known |= {"worst_case": "worst_case", "least_current": "least_current"}
    return known.get(wanted, "nearest")


@lru_cache(maxsize=32)
def _pool(series: tuple[str, ...], low: float, high: float) -> Pool:
    return Pool.plenty(series_values(series, low, high))


@lru_cache(maxsize=512)
def weigh(brief: Brief, network: Element) -> Choice:
    """Weigh one network against a brief.

    Raises
    ------
    TopologyError, TooLargeError
        If the network does not fit the brief (a divider without a tap OUT) or has too many parts.
    """
    if isinstance(brief, DividerBrief):
        judged = judge_divider(brief, network)
        spread = judged.check.outputs[0].spread
        nominal, lowest, highest = spread.nominal, spread.lowest, spread.highest
        output = judged.output_ohms
        amps: float | None = judged.check.solution.supply_amps
        target = brief.target_volts
    else:
        judged = judge_resistance(brief, network)
        assert judged.check.resistance is not None  # judged with a demand on it
        between = judged.check.resistance.spread
        amps = judged.check.solution.supply_amps if brief.use else None
        output, target = None, brief.target_ohms
        nominal, lowest, highest = between.nominal, between.lowest, between.highest
    return Choice(network, nominal, lowest, highest, nominal / target - 1, amps, output, judged)


@lru_cache(maxsize=64)
def choices_for(brief: Brief, preference: Preference) -> Choices:
    """Search the best choices for a brief and weigh each.

    Parts of one brief deviate by the same half-width, so the search ranks worst corners by it.
    """
    parts = brief.parts
    pool = _pool(parts.series, parts.min_ohms, parts.max_ohms)
    networks: list[Element]
    if isinstance(brief, DividerBrief):
        load = brief.load
        found = search_divider(
            DividerNeed(
                supply_volts=brief.supply_volts,
                target_volts=brief.target_volts,
                pool=pool,
                supply_tolerance=brief.supply_tolerance,
                source_ohms=brief.source_ohms,
                load_ohms=load.ohms if load else None,
                load_amps=load.amps if load else None,
                tolerance=parts.half_width,
                max_amps=brief.max_amps,
                within=brief.within if preference == "least_current" else None,
                limit=LISTED,
                prefer="nearest" if preference == "fewest" else preference,
            )
        )
        networks = [d.network for d in found.candidates]
        searched, reason, advice = found.searched, found.reason, ""
    else:
        combined = search_resistance(
            ResistanceNeed(
                target_ohms=brief.target_ohms,
                pool=pool,
                max_parts=brief.max_parts,
                tolerance=parts.half_width,
                within=brief.within if preference == "fewest" else None,
                limit=LISTED,
                prefer="fewest" if preference == "fewest" else "nearest",
            )
        )
        networks = [number_parts(c.network) for c in combined.candidates]
        searched, reason = combined.searched, combined.reason
        advice = _advice(combined.frontier, parts.tolerance)
    rows = tuple(weigh(brief, network) for network in networks)
    return Choices(rows, searched, advice, reason, _scale(brief, rows))


def _advice(frontier: tuple[Frontier, ...], tolerance: float) -> str:
    """Say whether one more part is worth it."""
    if len(frontier) < 2:
        return ""
    before, last = frontier[-2], frontier[-1]
    gained = abs(before.best.error) - abs(last.best.error)
    at = write(tolerance, FRACTION, 3, trim=True)
    if gained <= 0:
        return f"{last.best.parts} parts come no nearer than {before.best.parts}"
    removed = write(gained, FRACTION, 2)
    alone = write(before.best.ohms, OHM, 6, trim=True)
    worth = "worth it" if last.worthwhile else "not worth it"
    which = {2: "a second", 3: "a third", 4: "a fourth"}[last.best.parts]
    against = f"{alone} alone" if before.best.parts == 1 else f"{before.best.parts} parts"
    return f"{which} part removes {removed} of error against {against}: {worth} at {at}"


def _scale(brief: Brief, rows: tuple[Choice, ...]) -> float:
    """Return a half width that shows the window and most spans, at most six windows wide."""
    target = brief.target_volts if isinstance(brief, DividerBrief) else brief.target_ohms
    reach = [max(abs(c.lowest / target - 1), abs(c.highest / target - 1)) for c in rows]
    typical = sorted(reach)[math.ceil(0.8 * len(reach)) - 1] if reach else 0.0
    return max(1.5 * brief.within, min(1.1 * typical, 6 * brief.within))
