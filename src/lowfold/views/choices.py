"""A choice as it stands in the list: its figures on the shared scale, its verdict, a sketch."""

from __future__ import annotations

from collections.abc import Sequence

from lowfold.core.checking.verdict import Verdict
from lowfold.core.drawing.schematic import Drawing
from lowfold.core.network.tree import Element, resistance, write_network
from lowfold.core.sheet.standing import governing_words
from lowfold.core.values.preferred import SERIES
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, Kind, write_percent
from lowfold.core.weighing.choice import Choice
from lowfold.views.drawings import small_drawing
from lowfold.views.figures import Figure, figure, must
from lowfold.views.view import view

__all__ = ["ChoiceRow", "MarkAnswer", "choice_row"]


@view
class MarkAnswer:
    """One figure of a choice on the shared scale, as deviations from its target."""

    name: str
    error: float
    lowest: float
    highest: float


@view
class ChoiceRow:
    notation: str
    lines: list[str]  #: Values as read in the list, one leg a line
    output: Figure  #: Of the figure that is furthest off
    off: Figure  #: Nominal error of that figure
    marks: list[MarkAnswer]
    draws: Figure | None
    source: Figure | None
    parts: int  #: How many parts
    distinct: int  #: How many different values
    series: str  #: Most widely stocked series that has every value
    stocked: int  #: How widely: 0 for the most widely stocked series
    spread: float  #: Largest deviation at the worst corner
    amps: float | None
    verdict: Verdict | None
    words: str  #: Which gate uses most of its allowance
    small: Drawing
    pinned: bool
    listed: bool  #: False for one that is not among the best
    #: The same ratio of values in other decades, rising; the row stands for them
    decades: list[str]
    before: str | None  #: Of these, the next lower one
    after: str | None  #: And the next higher one


def choice_row(
    choice: Choice,
    unit: Kind,
    *,
    pinned: str | None,
    listed: bool,
    decades: Sequence[Element] = (),
) -> ChoiceRow:
    """Return a choice as the page lists it; `pinned` is the notation of the one pinned."""
    governing = choice.governing
    own = resistance(choice.network)
    lower = [n for n in decades if resistance(n) < own]
    higher = [n for n in decades if resistance(n) > own]
    marks = [
        MarkAnswer(
            name=m.name,
            error=m.error,
            lowest=m.lowest / m.target - 1,
            highest=m.highest / m.target - 1,
        )
        for m in choice.marks
    ]
    return ChoiceRow(
        notation=choice.notation,
        lines=list(choice.lines),
        output=must(governing.nominal, unit, 4 if unit is VOLT else 5),
        off=Figure(text=write_percent(governing.error, 3), unit="%"),
        marks=marks,
        draws=figure(choice.amps, AMPERE, 3),
        source=figure(choice.output_ohms, OHM, 3),
        parts=len(choice.values),
        distinct=choice.distinct,
        series=choice.series,
        stocked=SERIES.index(choice.series) if choice.series else len(SERIES),
        spread=max(max(abs(m.lowest), abs(m.highest)) for m in marks),
        amps=choice.amps,
        verdict=choice.judged.verdict,
        words=governing_words(choice.judged.gates),
        small=small_drawing(choice.network),
        pinned=choice.notation == pinned,
        listed=listed,
        decades=[write_network(network) for network in decades],
        before=write_network(lower[-1]) if lower else None,
        after=write_network(higher[0]) if higher else None,
    )
