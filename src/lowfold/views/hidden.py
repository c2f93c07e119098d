"""What hides in series where a current is too low."""

from __future__ import annotations

from lowfold.views.view import view

__all__ = ["HiddenAnswer"]


@view
class HiddenAnswer:
    series_ohm: float  #: Below 0 where more current flows than the network takes
    lowest_ohm: float
    highest_ohm: float | None  #: null where the current may be none at all
    burden_ohm: float  #: Of it the ammeter's, on the range that it reads on
    rest_ohm: float  #: Left for cell, leads and joints
    range_full: float | None  #: The ammeter's range, A
    words: str
