"""POST /api/sheet: a whole sheet from a brief, as the page shows it while one types."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.choice_row import ChoiceRow, choice_row
from lowfold.api.computing import ComputedRoute, stands
from lowfold.api.fields import Answer, Ask
from lowfold.api.figures import Figure
from lowfold.api.problems import responses
from lowfold.api.sessions import StockDep
from lowfold.api.shown import ShownAnswer, shown_answer
from lowfold.api.standings import StandingAnswer, stamp
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.core.needs.choice import Choice, Trade
from lowfold.core.needs.kinds import (
    KINDS,
    LISTED,
    Brief,
    BriefKind,
    Choices,
    read_brief,
    trades_for,
)
from lowfold.core.needs.listing import Row
from lowfold.core.network.tree import Element, resistance
from lowfold.core.values.quantities import AMPERE, FRACTION, Kind, write, write_pair, write_percent
from lowfold.core.workbench.sheet import Sheet, build_sheet
from lowfold.core.workbench.standing import standing

__all__ = [
    "TokenAnswer",
    "router",
]

router = APIRouter(prefix="/api", tags=["sheet"], route_class=ComputedRoute)

MOST_LISTED = 60


class SheetAsk(Ask):
    """A brief as typed."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "kind": "divider",
                    "brief": {"supply_v": "14.4 V", "target_v": "3V0", "load": "200k"},
                }
            ]
        }
    }

    kind: BriefKind
    brief: AskedBrief = Field(
        default_factory=dict, description="Token to text; defaults where not given"
    )
    prefer: str = Field("nearest", max_length=40)
    choice: str | None = Field(None, max_length=20_000, description="The network chosen before")
    look: str | None = Field(
        None, max_length=20_000, description="A network to be weighed beside the listed ones"
    )
    cursor: str | None = Field(
        None, max_length=20_000, description="The choice to be shown in full; else the one chosen"
    )
    listed: Annotated[int, Field(ge=1, le=MOST_LISTED, strict=True)] = LISTED


class TokenAnswer(Answer):
    text: str
    label: str = Field(description="What the token is called")
    ok: bool
    shown: str
    message: str
    absent: bool = Field(description="States nothing: the sentence can do without it")
    position: int | None = Field(description="Of the first character that does not fit")


class ScaleAnswer(Answer):
    """The scale all choices share."""

    reach: float = Field(description="Deviation at either end, a fraction of the target")
    within: float = Field(description="Accepted deviation")
    low_shown: str
    high_shown: str
    window_shown: str


class CarefulAnswer(Answer):
    notation: str
    words: str


class SheetAnswer(Answer):
    tokens: dict[str, TokenAnswer]
    prefer: str
    preferences: list[str] = Field(description="Those this kind of need knows")
    scale: ScaleAnswer | None
    choices: list[ChoiceRow]
    shown: ShownAnswer | None = Field(
        description="In full: the choice under the cursor, else the one chosen, else the first"
    )
    careful: CarefulAnswer | None = Field(
        description="What a careful designer takes, and why; null where nothing passes: what "
        "/api/sheet/advice then tells as `cheapest` stands in its place"
    )
    searched: int
    looked_at: int = Field(description="How many of the best were looked at for what passes")
    what: str = Field(description="What was searched: pairs, combinations, ladders")
    exact: bool
    advice: str
    reason: str | None
    problem: str
    granted: str = Field(description="What the verdicts take for granted, in one sentence")
    more: bool = Field(description="Whether a longer list can be asked for")
    trades: bool = Field(description="Whether this kind of need trades accuracy for current")
    standing: StandingAnswer


@router.post("/sheet", responses=responses(422, 503))
def sheet(ask: SheetAsk, stock: StockDep) -> SheetAnswer:
    """Read a brief token by token and answer with its choices, each weighed and drawn."""
    built = build_sheet(
        ask.kind,
        known_texts(ask.kind, ask.brief),
        ask.prefer,
        ask.choice,
        stock=stock,
        look=ask.look,
        listed=ask.listed,
    )
    need, choices, unit = built.reading.need, built.choices, KINDS[ask.kind].unit
    found = StandingAnswer.model_validate(standing(built))
    if ask.look is None and ask.listed == LISTED:  # as a save of this would have it
        mark = stamp(ask.kind, ask.brief, ask.prefer, ask.choice, stock)
        stands(mark, found.model_dump(mode="json"))
    return SheetAnswer(
        tokens={k: TokenAnswer.model_validate(t) for k, t in built.reading.tokens.items()},
        prefer=built.preference,
        preferences=list(KINDS[ask.kind].preferences),
        scale=_scale(need, choices, unit) if need and choices else None,
        choices=_rows(built, unit),
        shown=_shown(built, ask.cursor),
        careful=_careful(choices) if choices else None,
        searched=choices.found.searched if choices else 0,
        looked_at=choices.looked_at if choices else 0,
        what=choices.found.what if choices else "",
        exact=choices.found.exact if choices else True,
        advice=choices.found.advice if choices else "",
        reason=choices.found.reason if choices else None,
        problem=built.problem,
        granted=built.reading.granted,
        more=bool(choices) and len(choices.rows) == ask.listed < MOST_LISTED if choices else False,
        trades=ask.kind == "divider",
        standing=found,
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
        window = " … ".join(write(target * (1 + s * within), unit, 5, trim=True) for s in (-1, 1))
    else:
        low, high = (f"{write_percent(s * reach, 1)} %" for s in (-1, 1))
        window = f"± {write(within, FRACTION, 3, trim=True)} of each target"
    return ScaleAnswer(
        reach=reach, within=within, low_shown=low, high_shown=high, window_shown=window
    )


class TradesAsk(Ask):
    """A divider's brief as typed."""

    kind: BriefKind
    brief: AskedBrief = Field(default_factory=dict)


class TradeAnswer(Answer):
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


class TradesAnswer(Answer):
    trades: list[TradeAnswer] = Field(description="Least current first")
    beaten: list[TradeAnswer] = Field(description="Some of the others, to see them against")
    count: int = Field(
        description="How many there are; the ones listed are spread evenly over them"
    )
    within: float


@router.post("/sheet/trades", responses=responses(422, 503))
def trades(ask: TradesAsk, stock: StockDep) -> TradesAnswer:
    """Tell what a divider's accuracy costs in current: the choices that nothing beats in both."""
    need = read_brief(ask.kind, known_texts(ask.kind, ask.brief), stock.families).need
    found = trades_for(need, stock.lines) if need is not None else None
    best, beaten, count = found or ((), (), 0)
    return TradesAnswer(
        trades=[TradeAnswer.from_core(t) for t in best],
        beaten=[TradeAnswer.from_core(t) for t in beaten],
        count=count,
        within=need.within if need is not None else 0.0,
    )
