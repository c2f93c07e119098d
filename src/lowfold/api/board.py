"""POST /api/board: the needs of a whole board, chosen and judged as a job."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Request
from pydantic import Field

from lowfold.api.fields import Answer, Ask
from lowfold.api.jobs import JobAnswer
from lowfold.api.need import UnreadAnswer
from lowfold.api.problems import responses
from lowfold.api.sessions import StockDep
from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import DomainError
from lowfold.core.needs.kinds import KINDS, BriefKind
from lowfold.core.parts.stock import Stock
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, write, write_percent
from lowfold.core.workbench.board import MOST_LINES, BoardLine, Said, choose_all, share_board
from lowfold.formats.board_csv import read_needs, write_board
from lowfold.work.jobs import Jobs, Progress

__all__ = ["router"]

router = APIRouter(prefix="/api/board", tags=["board"])

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


class BoardRow(Answer):
    line: int = Field(description="Of the text, from 1")
    name: str
    text: str
    kind: BriefKind | None
    tokens: dict[str, str]
    unread: list[UnreadAnswer]
    choice: str = Field(description="In the notation; empty where there is none")
    values: list[str] = Field(description="As read in a list")
    gives: str
    off: str
    lowest: str
    highest: str
    draws: str
    series: str
    verdict: Verdict | None
    words: str = Field(description="How it stands, or what is wrong with the line")
    cost: str = Field(description="What it gives up where values are shared")


class BoardAnswer(Answer):
    """The result of the job."""

    rows: list[BoardRow] = Field(description="What is not understood or fails comes first")
    values: list[str] = Field(description="The different values to buy")
    fewest: bool | None = Field(
        description="Whether no fewer would do, of the nearest choices of each; null if not shared"
    )
    failing: int
    marginal: int
    passing: int
    csv: str = Field(description="The same as a table, to be kept")


class BoardJob(JobAnswer):
    """The choosing as a job."""

    result: BoardAnswer | None = None


def _row(line: BoardLine) -> BoardRow:
    breath, choice = line.breath, line.choice
    kind = breath.kind if breath else None
    mark = choice.governing if choice else None
    unit = KINDS[kind].unit if kind else VOLT
    digits = 4 if unit is VOLT else 5
    return BoardRow(
        line=line.said.line,
        name=line.said.name,
        text=line.said.text,
        kind=kind,
        tokens=breath.tokens if breath else {},
        unread=[
            UnreadAnswer(start=u.start, end=u.end, text=u.text, message=u.message)
            for u in (breath.unread if breath else ())
        ],
        choice=choice.notation if choice else "",
        values=list(choice.lines) if choice else [],
        gives=write(mark.nominal, unit, digits) if mark else "",
        off=f"{write_percent(mark.error, 3)} %" if mark else "",
        lowest=write(mark.lowest, unit, digits) if mark else "",
        highest=write(mark.highest, unit, digits) if mark else "",
        draws=write(choice.amps, AMPERE, 3) if choice and choice.amps is not None else "",
        series=choice.series if choice else "",
        verdict=line.verdict,
        words=line.words,
        cost=line.cost,
    )


def work(payload: tuple[BoardAsk, Stock], progress: Progress) -> dict[str, Any]:
    """Choose for every line; runs in a process of its own."""
    ask, stock = payload
    said = [Said(*each) for each in read_needs(ask.text)]
    most = 0.5 if ask.share else 1.0
    lines = choose_all(said, stock, lambda share, words: progress(most * share, words))
    fewest = None
    if ask.share:
        lines, fewest = share_board(
            lines, stock, lambda share, words: progress(0.5 + share / 2, words)
        )
    rows = [_row(line) for line in lines]
    values = sorted({v for line in lines if line.choice for v in line.choice.values})
    table = [
        [
            row.name, row.text, row.verdict.value if row.verdict else "no choice", row.words,
            row.choice, ", ".join(row.values), row.gives, row.off, row.lowest, row.highest,
            row.draws, row.series, row.cost,
        ]
        for row in rows
    ]  # fmt: skip
    ranks = [line.rank for line in lines]
    return BoardAnswer(
        rows=rows,
        values=[write(v, OHM, 6, trim=True) for v in values],
        fewest=fewest,
        failing=ranks.count(0),
        marginal=ranks.count(1),
        passing=ranks.count(2),
        csv=write_board(table),
    ).model_dump(mode="json", by_alias=True)


@router.post("", status_code=202, responses=responses(422))
def board(ask: BoardAsk, stock: StockDep, request: Request) -> BoardJob:
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
    jobs: Jobs = request.app.state.jobs
    return BoardJob.model_validate(jobs.start(work, (ask, stock)))
