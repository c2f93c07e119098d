"""A whole sheet as it is seen while one types, and what accuracy costs in current."""

from __future__ import annotations

from collections.abc import Sequence

from lowfold.core.checking.verdict import Standing
from lowfold.core.needs.kinds import (
    KINDS,
    Brief,
    BriefKind,
    Choices,
)
from lowfold.core.network.tree import Element, resistance
from lowfold.core.sheet.sheet import Sheet
from lowfold.core.tokens.reading import TokenReading
from lowfold.core.values.quantities import AMPERE, FRACTION, Kind, write, write_pair, write_percent
from lowfold.core.weighing.choice import Choice, Trade
from lowfold.core.weighing.listing import Row
from lowfold.views.choices import ChoiceRow, choice_row
from lowfold.views.figures import Figure
from lowfold.views.shown import ShownAnswer, shown_answer
from lowfold.views.view import view

__all__ = ["SheetAnswer", "TradesAnswer", "sheet_answer", "trades_answer"]


@view
class ScaleAnswer:
    """The scale all choices share."""

    reach: float  #: Deviation at either end, a fraction of the target
    within: float  #: Accepted deviation
    low_shown: str
    high_shown: str
    window_shown: str


@view
class CarefulAnswer:
    notation: str
    words: str


@view
class SheetAnswer:
    tokens: dict[str, TokenReading]
    prefer: str
    preferences: list[str]  #: Those this kind of need knows
    scale: ScaleAnswer | None
    choices: list[ChoiceRow]
    #: In full: the choice under the cursor, else the one chosen, else the first
    shown: ShownAnswer | None
    #: What a careful designer takes, and why; null where nothing passes: what /api/sheet/advice
    #: then tells as `cheapest` stands in its place
    careful: CarefulAnswer | None
    searched: int
    looked_at: int  #: How many of the best were looked at for what passes
    what: str  #: What was searched: pairs, combinations, ladders
    exact: bool
    advice: str
    reason: str | None
    problem: str
    granted: str  #: What the verdicts take for granted, in one sentence
    more: bool  #: Whether a longer list can be asked for
    trades: bool  #: Whether this kind of need trades accuracy for current
    standing: Standing


def sheet_answer(
    kind: BriefKind, built: Sheet, stands: Standing, cursor: str | None, *, more: bool
) -> SheetAnswer:
    """Return a sheet as it is seen.

    Parameters
    ----------
    kind : str
    stands : Standing
        How the design stands.
    cursor : str, optional
        The choice to be shown in full; else the one chosen, else the first.
    more : bool
        Whether a longer list can be asked for.
    """
    need, choices, of_kind = built.reading.need, built.choices, KINDS[kind]
    return SheetAnswer(
        tokens=dict(built.reading.tokens),
        prefer=built.preference,
        preferences=list(of_kind.preferences),
        scale=_scale(need, choices, of_kind.unit) if need and choices else None,
        choices=_rows(built, of_kind.unit),
        shown=_shown(built, cursor),
        careful=_careful(choices) if choices else None,
        searched=choices.found.searched if choices else 0,
        looked_at=choices.looked_at if choices else 0,
        what=choices.found.what if choices else "",
        exact=choices.found.exact if choices else True,
        advice=choices.found.advice if choices else "",
        reason=choices.found.reason if choices else None,
        problem=built.problem,
        granted=built.reading.granted,
        more=more,
        trades=kind == "divider",
        standing=stands,
    )


def _rows(built: Sheet, unit: Kind) -> list[ChoiceRow]:
    """Return the listed choices, the pinned and the looked-at one first where not among them."""
    if built.choices is None:
        return []
    wanted = [c for c in (built.pinned, built.looked_at) if c is not None]
    faces = [_faced(row, wanted) for row in built.choices.listed]
    there = {face.notation for face, _ in faces}
    pinned = built.pinned.notation if built.pinned else None
    aside = [c for c in wanted if c.notation not in there]
    return [
        *(choice_row(c, unit, pinned=pinned, listed=False) for c in aside),
        *(
            choice_row(face, unit, pinned=pinned, listed=True, decades=others)
            for face, others in faces
        ),
    ]


def _faced(row: Row, wanted: Sequence[Choice]) -> tuple[Choice, tuple[Element, ...]]:
    """Return what stands for a row: the decade that is pinned or looked at, where one is."""
    face = next((c for c in wanted if c.network in row.decades), row.choice)
    every = sorted((row.choice.network, *row.decades), key=resistance)
    return face, tuple(n for n in every if n != face.network)


def _careful(choices: Choices) -> CarefulAnswer | None:
    found = choices.careful
    return CarefulAnswer(notation=found.choice.notation, words=found.words) if found else None


def _shown(built: Sheet, cursor: str | None) -> ShownAnswer | None:
    """Return the choice under the cursor in full, else the one chosen, else the first."""
    if built.choices is None:
        return None
    aside = [c for c in (built.pinned, built.looked_at) if c is not None]
    every = [*aside, *built.choices.rows]
    choice = next((c for c in every if c.notation == cursor), every[0] if every else None)
    return None if choice is None else shown_answer(choice)


def _scale(need: Brief, choices: Choices, unit: Kind) -> ScaleAnswer:
    """Return the scale in the unit of the target, or in per cent where there are several."""
    targets = {m.target for c in choices.rows for m in c.marks}
    reach, within = choices.scale, need.within
    if len(targets) == 1:
        target = targets.pop()
        low, high = (write(target * (1 + s * reach), unit, 4) for s in (-1, 1))
        ends = sorted(target * (1 + s * within) for s in (-1, 1))
        window = " … ".join(write(end, unit, 5, trim=True) for end in ends)
    else:
        low, high = (f"{write_percent(s * reach, 1)} %" for s in (-1, 1))
        window = f"± {write(within, FRACTION, 3, trim=True)} of each target"
    return ScaleAnswer(
        reach=reach, within=within, low_shown=low, high_shown=high, window_shown=window
    )


@view
class TradeAnswer:
    """A choice that nothing beats in both error and current."""

    notation: str
    error: float
    amps: float
    off: str
    draws: Figure

    @classmethod
    def from_core(cls, trade: Trade) -> TradeAnswer:
        text, unit = write_pair(trade.amps, AMPERE, 3)
        return cls(
            notation=trade.notation,
            error=trade.error,
            amps=trade.amps,
            off=f"{write_percent(trade.error, 3)} %",
            draws=Figure(text=text, unit=unit),
        )


@view
class TradesAnswer:
    trades: list[TradeAnswer]  #: Least current first
    beaten: list[TradeAnswer]  #: Some of the others, to see them against
    count: int  #: How many there are; the ones listed are spread evenly over them
    within: float


def trades_answer(
    need: Brief | None, found: tuple[Sequence[Trade], Sequence[Trade], int] | None
) -> TradesAnswer:
    """Return what accuracy costs in current: the choices that nothing beats, and some others."""
    best, beaten, count = found or ((), (), 0)
    return TradesAnswer(
        trades=[TradeAnswer.from_core(t) for t in best],
        beaten=[TradeAnswer.from_core(t) for t in beaten],
        count=count,
        within=need.within if need is not None else 0.0,
    )
