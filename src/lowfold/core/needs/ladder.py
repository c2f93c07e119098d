"""Several voltages from one string: a ladder of one to four taps, each under its own load."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Final

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.brief import Brief, NeedKind
from lowfold.core.network.tree import Element, Part, parts_of
from lowfold.core.parts.pool import Pool
from lowfold.core.search.ladder import MOST_TAPS, LadderNeed, TapNeed
from lowfold.core.search.ladder_search import search_ladder
from lowfold.core.tokens.loads import LoadToken, load
from lowfold.core.tokens.parts import PARTS, Parts, part_misfits, parts_of_values
from lowfold.core.tokens.reading import (
    LOW_END,
    STANDS,
    STIFF,
    STIFF_TOKEN,
    Token,
    optional,
    quantity,
)
from lowfold.core.tokens.windows import spread
from lowfold.core.tolerance.box import Supply
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, write
from lowfold.core.weighing.choice import Choice, Found, Preference
from lowfold.core.weighing.conditions import Conditions, Wanted

__all__ = ["LADDER", "LadderBrief"]


@dataclass(frozen=True, slots=True)
class TapBrief:
    target_volts: float
    load: LoadToken | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderBrief(Brief):
    """Make several voltages from one string."""

    supply_volts: float
    supply_tolerance: float
    source_ohms: float
    low_volts: float  #: what the other end lies at
    taps: tuple[TapBrief, ...]  #: highest first
    within: float
    stiff: float | None  #: times a load's current; None where loads are always there
    feeds_volts: float | None  #: what the taps feed stands
    min_amps: float | None
    max_amps: float | None
    parts: Parts

    @property
    def conditions(self) -> Conditions:
        named = [(f"T{n}", tap) for n, tap in enumerate(self.taps, start=1)]
        return Conditions(
            supply=Supply(
                self.supply_volts, self.supply_tolerance, self.source_ohms, self.low_volts
            ),
            wanted=tuple(Wanted(at, tap.target_volts, self.within) for at, tap in named),
            parts=self.parts,
            loads=tuple((at, tap.load) for at, tap in named if tap.load is not None),
            stands=self.feeds_volts,
            stiff=self.stiff,
        )

    def search(self, preference: Preference, pool: Pool, limit: int) -> Found:  # noqa: ARG002
        """Search ladders; there is one order of preference."""
        return self._found(pool, limit, (self.min_amps, self.max_amps), math.inf)

    def _found(
        self,
        pool: Pool,
        limit: int,
        bounds: tuple[float | None, float | None],
        most_error: float,
    ) -> Found:
        found = _searched(
            LadderNeed(
                supply_volts=self.supply_volts,
                supply_tolerance=self.supply_tolerance,
                source_ohms=self.source_ohms,
                low_volts=self.low_volts,
                taps=tuple(
                    TapNeed(
                        target_volts=t.target_volts,
                        load_ohms=t.load.ohms if t.load else None,
                        load_amps=t.load.amps if t.load else None,
                    )
                    for t in self.taps
                ),
                pool=pool,
                tolerance=self.parts.half_width,
                min_amps=bounds[0],
                max_amps=bounds[1],
                limit=limit,
                most_error=most_error,
            )
        )
        return Found(
            networks=tuple(c.network for c in found.candidates),
            errors=tuple(c.worst_error for c in found.candidates),
            searched=found.searched,
            what="ladders",
            advice="" if found.exact else found.method,
            reason=found.reason,
            exact=found.exact,
        )

    def worth_weighing(self, pool: Pool, weighed: Sequence[Choice]) -> list[Element]:
        """Return strings that are light and likely to be sound, the lightest that may be first.

        The nearest strings into a load are the heaviest, so that lighter ones are searched by their
        current: from the least at which the taps can keep their window whatever is taken off, band
        by band, until one of a band passes. None where all that was weighed spreads too far: the
        nearest carry most, and lighter ones spread further.
        """
        drawn = self.conditions.drawn_amps
        if not drawn or self.min_amps is not None or all(map(_spreads, weighed)):
            return []
        low = drawn * (1 + self._least_carried)  # the loads, and what goes on past them
        while low < BEYOND * drawn:
            high = low * BAND
            if self.max_amps is not None and low > self.max_amps:
                return []
            bounds = (low, min(high, self.max_amps or math.inf))
            # No further off than the window: what lies beyond it cannot pass
            networks = self._found(pool, WEIGHED, bounds, self.within).networks
            passing = [c for c in self.weigh(networks) if c.judged.verdict is Verdict.PASS]
            if passing:
                return [c.network for c in passing]
            low = high
        return []

    @property
    def _least_carried(self) -> float:
        """Return the least times its loads' current at which a string can be sound.

        A load that comes and goes moves its tap by about the drop above it over that ratio.
        """
        top = self.supply_volts - self.low_volts
        drop = 1 - (self.taps[0].target_volts - self.low_volts) / top
        least = max(drop / (2 * self.within), 1 / BAND)
        return least / STIFF if self.stiff is None else min(least, self.stiff)

    def lines(self, network: Element) -> tuple[str, ...]:
        """Write its values from the top down, in two lines."""
        values = [p.ohms for p in parts_of(network) if isinstance(p, Part)]
        lines = [write(r, OHM, 6, trim=True) for r in values]
        half = (len(lines) + 1) // 2
        return ", ".join(lines[:half]), ", ".join(lines[half:])


WEIGHED: Final = 16  #: strings of a band of current weighed
BAND: Final = 2.5  #: from a band of current to the next
BEYOND: Final = 2000.0  #: times the loads' current, where looking for lighter strings ends
_searched = lru_cache(maxsize=32)(search_ladder)


def _spreads(choice: Choice) -> bool:
    return any(g.name == "spread" and g.verdict is Verdict.FAIL for g in choice.judged.gates)


_AMPS = optional(quantity(AMPERE, 0.0, 1e3, open_low=True), "any current")
_VOLTS = quantity(VOLT, 0.0, 1e5, open_low=True)
_PLACES: Final = ("first", "second", "third", "fourth")
_DEFAULTS: Final = ("3.3 V", "1.8 V", "none", "none")


def _tap_tokens() -> dict[str, Token]:
    found = {}
    for number, (place, default) in enumerate(zip(_PLACES, _DEFAULTS, strict=True), start=1):
        reader = _VOLTS if number == 1 else optional(_VOLTS, "no tap")
        absent = None if number == 1 else "none"
        found[f"tap{number}_v"] = Token(reader, default, f"{place} tap's voltage", absent)
        found[f"tap{number}_load"] = Token(
            optional(load, "nothing"), "none", f"load at the {place} tap", "none"
        )
    return found


TOKENS: Final[dict[str, Token]] = {
    "supply_v": Token(
        spread(VOLT, 0.0, 1e5, "supply_tolerance", open_low=True), "5 V", "supply voltage"
    ),
    "supply_tolerance": Token(
        quantity(FRACTION, 0.0, 0.9), "0 %", "tolerance of the supply", "0 %"
    ),
    "source_ohm": Token(quantity(OHM, 0.0, 1e9), "0 Ω", "source resistance", "0 Ω"),
    "low_v": LOW_END,
    **_tap_tokens(),
    "within": Token(quantity(FRACTION, 0.0, 1.0, open_low=True), "3 %", "accepted deviation"),
    "stiff": STIFF_TOKEN,
    "feeds_v": STANDS,
    "max_current_a": Token(_AMPS, "none", "largest supply current", "none"),
    "min_current_a": Token(_AMPS, "none", "smallest supply current", "none"),
    **PARTS,
}


def _read(v: Mapping[str, Any]) -> LadderBrief:
    taps = [
        TapBrief(v[f"tap{n}_v"], v[f"tap{n}_load"])
        for n in range(1, MOST_TAPS + 1)
        if v[f"tap{n}_v"] is not None
    ]
    return LadderBrief(
        supply_volts=v["supply_v"],
        supply_tolerance=v["supply_tolerance"],
        source_ohms=v["source_ohm"],
        low_volts=v["low_v"],
        taps=tuple(taps),
        within=v["within"],
        stiff=v["stiff"],
        feeds_volts=v["feeds_v"],
        min_amps=v["min_current_a"],
        max_amps=v["max_current_a"],
        parts=parts_of_values(v),
    )


def _misfits(v: Mapping[str, Any]) -> list[tuple[str, str]]:
    found = part_misfits(v)
    above, over = v.get("supply_v"), "the supply"
    for number in range(1, MOST_TAPS + 1):
        volts = v.get(f"tap{number}_v")
        if not isinstance(volts, float):
            continue
        if isinstance(above, float) and volts >= above:
            shown = write(above, VOLT, 4, trim=True)
            found.append((f"tap{number}_v", f"taps go down: write less than the {shown} of {over}"))
        above, over = volts, "the tap above"
    low = v.get("low_v")
    if isinstance(low, float) and isinstance(above, float) and low >= above:
        lowest, shown = (write(x, VOLT, 4, trim=True) for x in (above, low))
        found.append(("low_v", f"{shown} is not below the lowest tap's {lowest}: write less"))
    return found


LADDER: Final = NeedKind(
    tokens=TOKENS,
    preferences=("nearest",),
    unit=VOLT,
    said=("supply_v", "tap1_v"),
    read=_read,
    misfits=_misfits,
)
