"""POST /api/board: the needs of a whole board, chosen and judged as a job."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute, begin, quick
from lowfold.api.fields import Ask
from lowfold.api.jobs import JobAnswer
from lowfold.api.problems import responses
from lowfold.api.sessions import StockDep
from lowfold.api.wire import as_json
from lowfold.core.board.board import MOST_LINES, Said
from lowfold.core.errors import DomainError
from lowfold.core.parts.stock import Stock
from lowfold.formats.board_csv import read_needs, write_board
from lowfold.views.board import BoardAnswer, board_chosen
from lowfold.work.jobs import Progress

__all__ = ["router"]

router = APIRouter(prefix="/api/board", tags=["board"], route_class=ComputedRoute)

LONGEST = 200_000


class BoardAsk(Ask):
    """Needs as lines, or as a table with a column “need”."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {"text": "Battery sense: 14.4 V to 3 V within 4 %\nLoop: 250 Ω within 2 %"}
            ]
        }
    }

    text: Annotated[str, Field(min_length=1, max_length=LONGEST)]
    share: Annotated[bool, Field(description="Out of as few different values as possible")] = False


class BoardJob(JobAnswer):
    """The choosing as a job."""

    result: BoardAnswer | None = None


def _work(payload: tuple[BoardAsk, Stock], progress: Progress) -> Any:
    ask, stock = payload
    said = [Said(*each) for each in read_needs(ask.text)]
    found = board_chosen(said, stock, progress, share=ask.share)
    return as_json(replace(found, csv=write_board([row.cells for row in found.rows])))


@router.post("", status_code=202, openapi_extra=quick(20_000), responses=responses(422))
def board(ask: BoardAsk, stock: StockDep) -> BoardJob:
    """Start choosing for every need of a board; follow it at `/api/jobs/{id}`, cancel it there.

    Its `result` is a `BoardAnswer`. Nothing is kept.
    """
    needs = read_needs(ask.text)
    if not needs:
        msg = "no line says a need: write one a line, such as Battery sense: 14.4 V to 3 V"
        raise DomainError(msg, field="text")
    if len(needs) > MOST_LINES:
        msg = f"{len(needs)} needs are more than the {MOST_LINES} of one board: split it"
        raise DomainError(msg, field="text")
    job: BoardJob = begin(_work, (ask, stock))
    return job
