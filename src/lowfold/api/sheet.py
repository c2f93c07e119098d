"""POST /api/sheet: a whole sheet from a brief, as the page shows it while one types."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute, quick, stands
from lowfold.api.fields import Ask
from lowfold.api.problems import responses
from lowfold.api.sessions import StockDep
from lowfold.api.standings import stamp
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.api.wire import as_json
from lowfold.core.needs.kinds import (
    LISTED,
    BriefKind,
    read_brief,
    trades_for,
)
from lowfold.core.sheet.sheet import build_sheet
from lowfold.core.sheet.standing import standing
from lowfold.views.sheet import SheetAnswer, TradesAnswer, sheet_answer, trades_answer

__all__ = ["router"]

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


@router.post(
    "/sheet",
    openapi_extra=quick(60_000, {"per_leg": 2, "max_parts": 2, "tap3_v": 0, "tap4_v": 0}),
    responses=responses(422, 503),
)
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
    found = standing(built)
    if ask.look is None and ask.listed == LISTED:  # as a save of this would have it
        stands(stamp(ask.kind, ask.brief, ask.prefer, ask.choice, stock), as_json(found))
    count = len(built.choices.rows) if built.choices else 0
    return sheet_answer(ask.kind, built, found, ask.cursor, more=count == ask.listed < MOST_LISTED)


class TradesAsk(Ask):
    """A divider's brief as typed."""

    kind: BriefKind
    brief: AskedBrief = Field(default_factory=dict)


@router.post("/sheet/trades", responses=responses(422, 503))
def trades(ask: TradesAsk, stock: StockDep) -> TradesAnswer:
    """Tell what a divider's accuracy costs in current: the choices that nothing beats in both."""
    need = read_brief(ask.kind, known_texts(ask.kind, ask.brief), stock.families).need
    return trades_answer(need, trades_for(need, stock.lines) if need is not None else None)
