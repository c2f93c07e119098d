"""/api/practice: questions by drill, level and number; their answers; how one does over weeks."""

from __future__ import annotations

import secrets
import time
from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime, timedelta
from itertools import groupby
from typing import TYPE_CHECKING, Annotated, Any, Final, Literal, get_args

from anyio import to_thread
from fastapi import APIRouter, Path, Request
from fastapi.responses import JSONResponse
from pydantic import Field

from lowfold.api.fields import WHOLE, Answer, Ask, Volts
from lowfold.api.points import PointAsk
from lowfold.api.problems import problem_response, responses
from lowfold.api.sessions import SessionDep
from lowfold.api.wire import as_json, read_json
from lowfold.api.working import worked_out
from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.practice.coming_again import Answered, due_again, next_level, progress_of
from lowfold.core.practice.levels import MOST_SEED, Drill
from lowfold.store.database import Database
from lowfold.store.models import PracticeRow
from lowfold.store.practice import (
    AlreadyAnswered,
    NoSuchQuestion,
    answer_question,
    find_own,
    get_question,
    history_of,
    note_reading,
    posed_counts,
    put_question,
)
from lowfold.views.practice_question import (
    AnsweredQuestion,
    ClassLine,
    MeasuredAnswer,
    Measuring,
    PracticeAnswer,
    PracticeQuestion,
)
from lowfold.views.view import view

if TYPE_CHECKING:
    from lowfold.views.practice import Question
__all__ = ["install", "router"]

router = APIRouter(prefix="/api/practice", tags=["practice"])

MOST_READINGS: Final = 60  #: of one question
MOST_AT_ONCE: Final = 10  #: questions of a sheet
LAST_SHOWN: Final = 20  #: answers that are listed one by one
MOST_DRAWN: Final = 99_999  #: numbers that are drawn: short enough to be said
Facts = dict[str, Any]
QuestionId = Annotated[int, Path(ge=1, le=2**53), WHOLE]
Level = Annotated[int, Field(ge=1, le=5, strict=True)]
Seed = Annotated[int, Field(ge=0, le=MOST_SEED, strict=True)]
Estimated = Annotated[float, Field(ge=-1e30, le=1e30)]  # as far as the notation goes
OwnNetwork = Annotated[str, Field(min_length=1, max_length=4000)]


class PutAsk(Ask):
    """Which question: of a level, by its number, or what is due; drawn, or of one's own network."""

    model_config = {"json_schema_extra": {"examples": [{"level": 2, "seed": 417}]}}

    level: Level
    seed: Seed | None = Field(None, description="Not given: what is due again, else a new one")
    network: OwnNetwork | None = Field(None, description="One's own, in place of one drawn")
    supply_v: Volts = Field(12.0, description="Of one's own")


class GivenAsk(Ask):
    """An answer: of the kind that the question asks for."""

    model_config = {"json_schema_extra": {"examples": [{"value": "3V2"}]}}

    value: Estimated | Annotated[str, Field(max_length=60)] | None = Field(
        None, description="Of an estimate: in the base unit, or in the field's notation"
    )
    relation: Literal["series", "parallel", "neither"] | None = None
    kind: (
        Literal[
            "open", "short", "decade", "bridge", "misread", "swapped", "load", "neighbour",
            "supply", "series resistance", "value",
        ]
        | None
    ) = Field(None, description="Of a fault")  # fmt: skip
    refs: list[Annotated[str, Field(max_length=80)]] = Field(
        default_factory=list, max_length=4, description="The parts or junctions of a fault"
    )


class MeasureAsk(PointAsk):
    """Where the leads are, and how the meter is set."""

    jack: str | None = Field(None, max_length=40, description="Not given: the right one")
    new_fuse: bool = Field(default=False, description="Put in new fuses first, which costs effort")


class DrillLine(Answer):
    drill: Drill
    level: int
    asked: int
    answered: int
    right: int
    typical_off: float | None = Field(description="Of estimates: the median of how far off")
    streak: int = Field(description="Right ones in a row, up to the last")
    next_level: int = Field(description="Where to go on with this drill")


class WeekLine(Answer):
    drill: Drill
    week: str = Field(description="Its Monday, ISO 8601")
    answered: int
    right: int
    typical_off: float | None


class LastLine(Answer):
    drill: Drill
    level: int
    seed: int
    at: str
    right: bool
    off: float | None


class ProgressAnswer(Answer):
    drills: list[DrillLine] = Field(description="By drill and level asked; one at least of each")
    weeks: list[WeekLine] = Field(description="Oldest first")
    last: list[LastLine] = Field(description="The last answers of each drill, oldest first")
    due: dict[str, int] = Field(description="By drill: the level of a question due again")


class ClassAsk(Ask):
    """Questions of a level, numbers in a row, for a class."""

    drill: Drill
    level: Level
    seed: Seed = Field(description="The first one's number")
    count: Annotated[int, Field(ge=1, le=MOST_AT_ONCE, strict=True)] = MOST_AT_ONCE


@view
class PracticeSheet:
    lines: list[ClassLine]


def install(app: Any) -> None:
    """Map what practice refuses to problems."""

    @app.exception_handler(NoSuchQuestion)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchQuestion) -> JSONResponse:
        return problem_response(404, f"there is no question {exc.id}")

    @app.exception_handler(AlreadyAnswered)  # type: ignore[untyped-decorator]
    def _again(request: Request, exc: AlreadyAnswered) -> JSONResponse:
        told = f"question {exc.id} is answered already; ask for it by its number to try it again"
        return problem_response(409, told)


# What computes is loaded in the workers: the server's own process computes nothing. What a question
# is made of, its readings and its answer are kept as plain facts.
def _drawn(drill: Drill, level: int, seed: int, network: str | None, volts: float) -> Facts:
    from lowfold.views.practice import drawn  # noqa: PLC0415

    return asdict(drawn(drill, level, seed, network, volts))


def _put(  # its arguments go by place, across processes
    facts: Facts,
    question_id: int,
    drill: Drill,
    again: str,
    own: bool,  # noqa: FBT001
) -> PracticeQuestion:
    from lowfold.views.practice import put  # noqa: PLC0415

    return put(_question_of(drill, facts), question_id, drill, again, own=own)


def _measured(facts: Facts, before: Sequence[Facts], ask: Measuring) -> MeasuredAnswer:
    from lowfold.views.practice import measured  # noqa: PLC0415

    return measured(_question_of("fault", facts), _read(before), ask)


def _judged(drill: Drill, facts: Facts, given: Facts, readings: Sequence[Facts]) -> PracticeAnswer:
    from lowfold.views.practice import judged  # noqa: PLC0415

    return judged(_question_of(drill, facts), given, _read(readings))


def _sheet(drill: Drill, level: int, seeds: Sequence[int]) -> PracticeSheet:
    from lowfold.views.practice import sheet_line  # noqa: PLC0415

    return PracticeSheet(lines=[sheet_line(drill, level, seed) for seed in seeds])


def _question_of(drill: Drill, facts: Facts) -> Question:
    from lowfold.views.practice import QUESTIONS  # noqa: PLC0415

    return read_json(QUESTIONS[drill], facts)


def _read(readings: Sequence[Facts]) -> list[MeasuredAnswer]:
    return [read_json(MeasuredAnswer, reading) for reading in readings]


def _database(request: Request) -> Database:
    found: Database = request.app.state.database
    return found


async def _question(request: Request, row: PracticeRow, again: str = "") -> PracticeQuestion:
    args = (row.facts, row.id, row.drill, again, row.network is not None)
    found: PracticeQuestion = await worked_out(request, _put, *args)
    return found


@router.get("/progress")
def progress(session: SessionDep) -> ProgressAnswer:
    """Tell how one does, by drill and level, and week by week."""
    posed = {(drill, level): count for drill, level, count in posed_counts(session)}
    drills: list[DrillLine] = []
    weeks: list[WeekLine] = []
    last: list[LastLine] = []
    due: dict[str, int] = {}
    for drill in get_args(Drill):
        dated = history_of(session, drill)
        history = [one for _, one in dated]
        on = next_level(history)
        levels = sorted({level for d, level in posed if d == drill} or {on})
        for level in levels:
            done = progress_of([one for one in history if one.level == level])
            drills.append(
                DrillLine(
                    drill=drill, level=level, asked=posed.get((drill, level), 0),
                    answered=done.answered, right=done.right, typical_off=done.typical_off,
                    streak=done.streak, next_level=on,
                )
            )  # fmt: skip
        for week, some in groupby(dated, key=lambda one: _monday(one[0])):
            done = progress_of([one for _, one in some])
            weeks.append(
                WeekLine(
                    drill=drill, week=week, answered=done.answered, right=done.right,
                    typical_off=done.typical_off,
                )
            )  # fmt: skip
        last += [
            LastLine(drill=drill, level=a.level, seed=a.seed, at=at, right=a.right, off=a.off)
            for at, a in dated[-LAST_SHOWN:]
        ]
        waiting = due_again(history, on, time.time())
        if waiting is not None:
            due[drill] = waiting.level
    return ProgressAnswer(drills=drills, weeks=weeks, last=last, due=due)


def _monday(at: str) -> str:
    day = datetime.fromisoformat(at).date()
    return (day - timedelta(days=day.weekday())).isoformat()


@router.post("/sheet", responses=responses(422, 503))
async def sheet(ask: ClassAsk, request: Request) -> PracticeSheet:
    """Return questions in a row with their answers, to be printed; none of them counts as asked."""
    seeds = list(range(ask.seed, ask.seed + ask.count))
    if seeds[-1] > MOST_SEED:
        msg = f"numbers go up to {MOST_SEED}; {ask.count} from {ask.seed} on go beyond"
        raise DomainError(msg, field="seed")
    found: PracticeSheet = await worked_out(request, _sheet, ask.drill, ask.level, seeds)
    return found


@router.post("/{drill}", responses=responses(422, 503))
async def put(drill: Drill, ask: PutAsk, request: Request) -> PracticeQuestion:
    """Put a question: the same drill, level and number, the same question."""
    seed, network, volts, again = ask.seed, ask.network, ask.supply_v, ""
    if seed is None and network is None:
        due = await to_thread.run_sync(_due, request, drill, ask.level)
        if due is not None:
            seed, again = due.seed, _again_words(due)
            network, volts = await to_thread.run_sync(_own_again, request, drill, due, volts)
    if seed is None:
        seed = secrets.randbelow(MOST_DRAWN + 1)
    facts = await worked_out(request, _drawn, drill, ask.level, seed, network, volts)
    row = await to_thread.run_sync(_noted, request, drill, ask.level, seed, network, facts)
    return await _question(request, row, again)


def _due(request: Request, drill: Drill, level: int) -> Answered | None:
    with _database(request).sessions() as session:
        history = [one for _, one in history_of(session, drill)]
    return due_again(history, level, time.time())


def _noted(
    request: Request, drill: Drill, level: int, seed: int, network: str | None, facts: Any
) -> PracticeRow:
    with _database(request).writing() as session:
        row = put_question(session, drill, level, seed, network, facts)
        session.commit()
    return row


def _again_words(due: Answered) -> str:
    return "It comes again: it was answered wrong" if not due.right else "It comes again"


def _own_again(
    request: Request, drill: Drill, due: Answered, volts: float
) -> tuple[str | None, float]:
    """Return the own network that a question due again was about, and its supply."""
    if due.network is None:
        return None, volts
    with _database(request).sessions() as session:
        row = find_own(session, drill, due)
    return due.network, float(row.facts["supply_volts"]) if row else volts


@router.get("/{question_id}", responses=responses(404, 503))
async def one(question_id: QuestionId, request: Request) -> AnsweredQuestion:
    """Return a question as it stands: what was measured, and what was answered."""
    row = await to_thread.run_sync(_found, request, question_id)
    answer = None
    if row.answered is not None:
        args = (row.drill, row.facts, row.given, row.readings)
        answer = await worked_out(request, _judged, *args)
    return AnsweredQuestion(
        question=await _question(request, row),
        readings=_read(row.readings),
        given={k: v for k, v in row.given.items() if v is not None} if row.given else None,
        answer=answer,
    )


def _found(request: Request, question_id: int) -> PracticeRow:
    with _database(request).sessions() as session:
        return get_question(session, question_id)


def _open(request: Request, question_id: int) -> PracticeRow:
    with _database(request).sessions() as session:
        return get_question(session, question_id, still_open=True)


@router.post("/{question_id}/measure", responses=responses(404, 409, 422, 503))
async def measure(question_id: QuestionId, ask: MeasureAsk, request: Request) -> MeasuredAnswer:
    """Read the hidden board with the meter as it is set: as it would, wrongly set too."""
    row = await to_thread.run_sync(_open, request, question_id)
    if row.drill != "fault":
        msg = f"question {question_id} is about an {row.drill}: there is no board to measure"
        raise DomainError(msg.replace("an series", "what is in series"), field="kind")
    if len(row.readings) >= MOST_READINGS:
        msg = f"{MOST_READINGS} readings are taken: name the fault"
        raise TooLargeError(msg, field="kind")
    asked = Measuring(
        point=ask.named, range_full=ask.range_full, jack=ask.jack, new_fuse=ask.new_fuse
    )
    reading: MeasuredAnswer = await worked_out(request, _measured, row.facts, row.readings, asked)

    def kept() -> None:
        with _database(request).writing() as session:
            note_reading(session, question_id, as_json(reading))
            session.commit()

    await to_thread.run_sync(kept)
    return reading


@router.post("/{question_id}/answer", responses=responses(404, 409, 422, 503))
async def answer(question_id: QuestionId, ask: GivenAsk, request: Request) -> PracticeAnswer:
    """Answer a question, once; be told whether that is right, and why."""
    row = await to_thread.run_sync(_open, request, question_id)
    given = ask.model_dump()
    args = (row.drill, row.facts, given, row.readings)
    told: PracticeAnswer = await worked_out(request, _judged, *args)

    def kept() -> None:
        with _database(request).writing() as session:
            answer_question(session, question_id, given, told.off, right=told.right)
            session.commit()

    await to_thread.run_sync(kept)
    return told
