"""A leg that is on the board already: its tokens, and what does not fit with them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from lowfold.core.network.tree import Element, Part
from lowfold.core.search.leg_options import Structure
from lowfold.core.tokens.parts import both
from lowfold.core.tokens.reading import Token, optional, quantity
from lowfold.core.values.quantities import OHM
from lowfold.core.values.ranges import WIDEST_RANGE

__all__ = ["LEGS_IN_PLACE", "free_structures", "legs_misfit", "stays"]

_LEG: Final = optional(quantity(OHM, *WIDEST_RANGE), "to be chosen")
LEGS_IN_PLACE: Final[dict[str, Token]] = {
    "upper_ohm": Token(_LEG, "none", "upper leg already in place", "none"),
    "lower_ohm": Token(_LEG, "none", "lower leg already in place", "none"),
}


def legs_misfit(v: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Tell where both legs are in place.

    Parameters
    ----------
    v : mapping
        Values read, by token.
    """
    if both(v, "upper_ohm", "lower_ohm"):
        told = "both legs are in place, so nothing is left to be chosen: state them as a network"
        return [("lower_ohm", told)]
    return []


def free_structures(
    every: list[tuple[Structure, Structure]], upper_ohms: float | None, lower_ohms: float | None
) -> list[tuple[Structure, Structure]]:
    """Return how legs can be made where one in place is one part.

    Parameters
    ----------
    every : list of pairs
        Of the upper and of the lower leg.
    upper_ohms, lower_ohms : float or None
        A leg in place, Ω.
    """
    return [
        (up, down)
        for up, down in every
        if (upper_ohms is None or up == "single") and (lower_ohms is None or down == "single")
    ]


def stays(
    legs: tuple[Element, Element], upper_ohms: float | None, lower_ohms: float | None
) -> bool:
    """Whether a leg that is in place is still there, one part of its value.

    Parameters
    ----------
    legs : pair of Element
        Upper and lower leg of what would be built.
    upper_ohms, lower_ohms : float or None
        A leg in place, Ω.

    Returns
    -------
    bool
        Whether so.
    """
    return all(
        ohms is None or (isinstance(leg, Part) and leg.ohms == ohms)
        for leg, ohms in zip(legs, (upper_ohms, lower_ohms), strict=True)
    )
