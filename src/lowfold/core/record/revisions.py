"""Which of the states a design has been through are worth having."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

__all__ = ["TYPING_S", "goes_on_typing", "places_changed"]

#: Within so long of each other, changes of one text are one change.
TYPING_S: Final = 90.0
#: What is typed letter by letter; a choice, an order or a tag is set at once.
TYPED: Final = frozenset({"name", "why"})


def places_changed(before: Mapping[str, Any], after: Mapping[str, Any]) -> frozenset[str]:
    """Return where two states of a design differ: a field's name, or `brief.` and a token's.

    Parameters
    ----------
    before, after : mapping
        Fields of a design; `brief` by token.
    """
    found = {name for name in {*before, *after} - {"brief"} if before.get(name) != after.get(name)}
    one, other = before.get("brief") or {}, after.get("brief") or {}
    found |= {f"brief.{t}" for t in {*one, *other} if one.get(t) != other.get(t)}
    return frozenset(found)


def goes_on_typing(
    base: Mapping[str, Any], between: Mapping[str, Any], after: Mapping[str, Any], seconds: float
) -> bool:
    """Return whether a state is no more than a step of typing one text.

    Parameters
    ----------
    base : mapping
        The state worth having before it.
    between : mapping
        The state in question.
    after : mapping
        The one that took its place.
    seconds : float
        Between those two.
    """
    if seconds > TYPING_S:
        return False
    first, second = places_changed(base, between), places_changed(between, after)
    if first != second or len(first) != 1:
        return False
    (place,) = first
    return place in TYPED or place.startswith("brief.")
