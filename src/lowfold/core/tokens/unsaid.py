"""What is taken where a brief does not say: fitted to what it does say, and told once beside it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, Final

from lowfold.core.parts.families import Family
from lowfold.core.tokens.loads import LoadToken
from lowfold.core.values.quantities import FRACTION, OHM, write
from lowfold.core.values.ranges import DEFAULT_RANGE, WIDEST_RANGE

__all__ = ["granted_words", "unsaid"]

USUAL_WITHIN: Final = 0.03
#: Of a part's tolerance: a window that single parts are bought for leaves as much again.
TWICE: Final = 2.0
DECADE: Final = 10.0
#: Tokens that name a resistance which the parts must be able to make.
WANTED_OHMS: Final = ("target_ohm", "in_place_ohm", "upper_ohm", "lower_ohm")
LOADS: Final = ("load", "tap1_load", "tap2_load", "tap3_load", "tap4_load")


def unsaid(values: Mapping[str, Any]) -> dict[str, str]:
    """Return the texts of tokens that follow from others where nobody says them.

    The window is 3 %, never less than twice the parts' tolerance, and as much wider as a reference
    wanders. The range of values opens to a decade on either side of what is wanted, within what can
    be asked for at all.

    Parameters
    ----------
    values : Mapping[str, Any]
        Values read, by token.
    """
    found = {}
    within = max(USUAL_WITHIN, TWICE * _tolerance(values)) + values.get("reference_tolerance", 0.0)
    if within < 1:
        found["within"] = write(within, FRACTION, 6, trim=True)
    wanted = [ohms for name in WANTED_OHMS if (ohms := values.get(name))]
    wanted += _string_ohms(values)
    least, most = DEFAULT_RANGE
    low = max(WIDEST_RANGE[0], min([least, *(r / DECADE for r in wanted)]))
    high = min(WIDEST_RANGE[1], max([most, *(r * DECADE for r in wanted)]))
    if (low, high) != DEFAULT_RANGE:
        found["min_ohm"], found["max_ohm"] = (write(x, OHM, 9, trim=True) for x in (low, high))
    return found


def _tolerance(values: Mapping[str, Any]) -> float:
    """Return the parts' tolerance, a fraction, the family's where that is meant."""
    stated, family = values.get("tolerance"), values.get("rating")
    if stated is None and isinstance(family, Family):
        return family.tolerance
    return stated or 0.0


def _string_ohms(values: Mapping[str, Any]) -> list[float]:
    """Return what a string across the supply has where a bound of its current is stated, Ω."""
    volts = values.get("supply_v") or values.get("reference_v")
    bounds = (values.get(name) for name in ("max_current_a", "min_current_a"))
    if not isinstance(volts, float):
        return []
    return [volts / amps / DECADE for amps in bounds if amps]


def granted_words(values: Mapping[str, Any], kind: str) -> str:
    """Say what a verdict takes for granted that the brief does not state, in one sentence.

    Empty where all of it is stated.

    Parameters
    ----------
    values : Mapping[str, Any]
        Values read, by token.
    kind : str
        Kind of need.
    """
    said = []
    if "supply_v" in values and not values.get("supply_tolerance"):
        said.append("supply exact")
    if kind == "resistance" and values.get("use") is not None:
        said.append("drive exact")
    loads = [load for name in LOADS if isinstance(load := values.get(name), LoadToken)]
    loads += [load for _, load in values.get("loads", ())]
    if any(_usual(load) for load in loads):
        said.append("load ± 10 %")
    if values.get("min_ohm") is not None or "loads" in values:
        said.append("25 °C as reference")
    return f"Taken for granted: {', '.join(said)}." if said else ""


def _usual(load: LoadToken) -> bool:
    """Whether a load has the usual tolerance about its figure."""
    nominal = load.ohms if load.ohms is not None else load.amps or 0.0
    return nominal > 0 and math.isclose(load.high, nominal * 1.1) and load.low < nominal
