"""The names of every token of a brief, by kind of need: light to load, for refusing others."""

from __future__ import annotations

import difflib
from collections.abc import Iterable, Mapping
from typing import Any, Final

__all__ = ["TOKEN_NAMES", "not_known", "texts_of", "unknown_tokens"]

_PARTS: Final = (
    "values",
    "min_ohm",
    "max_ohm",
    "tolerance",
    "tcr",
    "drift",
    "tracking",
    "stress",
    "low_c",
    "high_c",
    "rating",
    "own",
)
#: Names by kind of need, a stated network and a sensor among them.
TOKEN_NAMES: Final[dict[str, frozenset[str]]] = {
    "resistance": frozenset((
        "target_ohm", "within", "max_parts", "use", "load", "in_place_ohm", *_PARTS,
    )),
    "divider": frozenset((
        "supply_v", "supply_tolerance", "source_ohm", "low_v", "target_v", "ratio", "within",
        "feeds_v", "load", "stiff", "max_current_a", "min_current_a", "max_output_ohm",
        "per_leg", "upper_ohm", "lower_ohm", *_PARTS,
    )),
    "feedback": frozenset((
        "target_v", "within", "feeds_v", "reference_v", "reference_tolerance", "pin_a",
        "max_current_a", "min_current_a", "max_output_ohm", "per_leg", "upper_ohm",
        "lower_ohm", *_PARTS,
    )),
    "ladder": frozenset((
        "supply_v", "supply_tolerance", "source_ohm", "low_v", "tap1_v", "tap1_load",
        "tap2_v", "tap2_load", "tap3_v", "tap3_load", "tap4_v", "tap4_load", "within",
        "stiff", "feeds_v", "max_current_a", "min_current_a", *_PARTS,
    )),
    "network": frozenset((
        "network", "supply_v", "supply_tolerance", "source_ohm", "low_v", "loads", "closed",
        "wanted", "stiff", "feeds_v", "tolerance", "tcr", "drift", "rating", "stress",
        "tracking", "own", "low_c", "high_c",
    )),
    "board": frozenset(("needs",)),
    "sensor": frozenset((
        "supply_v", "sensor", "position", "aim", "window", "bend", "load", "sensor_w",
        "values", "min_ohm", "max_ohm", "tolerance", "rating", "stress",
    )),
}  # fmt: skip


def unknown_tokens(kind: str, names: Iterable[str]) -> list[str]:
    """Return the names that are no token of a kind of need, in their order.

    Parameters
    ----------
    kind : str
        Kind of need; of one that is not known every name is let pass.
    names : iterable of str
        Names of tokens, as a brief has them.
    """
    known = TOKEN_NAMES.get(kind)
    return [] if known is None else [name for name in names if name not in known]


def not_known(kind: str, name: str) -> str:
    """Say that a name is no token of a kind of need, and which it may have been.

    Parameters
    ----------
    kind : str
        Kind of need.
    name : str
        As a brief has it.
    """
    known = sorted(TOKEN_NAMES[kind])
    near = difflib.get_close_matches(name, known, 1, 0.7)
    meant = f"did you mean {near[0]}" if near else f"there are {', '.join(known)}"
    return f"“{name[:40]}” is no token of a {kind} brief: {meant}"


def texts_of(brief: Mapping[str, Any]) -> dict[str, str]:
    """Return the tokens that are text or numbers, as text.

    Parameters
    ----------
    brief : mapping
        Token to whatever was written there.
    """
    return {
        name: str(value)
        for name, value in brief.items()
        if isinstance(value, str | int | float) and not isinstance(value, bool)
    }
