"""/api/instruments: meters that are read over a wire, by their VISA resource names."""

from __future__ import annotations

from datetime import UTC, datetime
from functools import partial
from typing import TYPE_CHECKING, Annotated, Any

import anyio
import anyio.to_thread
from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse
from pydantic import Field

from lowfold.api.fields import Answer, Ask
from lowfold.api.points import PointAsk
from lowfold.api.problems import FieldError, problem_response, responses
from lowfold.api.sessions import MetersDep, SessionDep, WritingDep
from lowfold.core.bench.models import model_named
from lowfold.core.errors import DomainError
from lowfold.core.values.names import plain_name
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, write
from lowfold.store.database import Database
from lowfold.store.meters import (
    NoSuchInstrument,
    instruments,
    keep_instrument,
    remove_instrument,
)

if TYPE_CHECKING:
    from lowfold.instruments.visa import Probe

__all__ = ["install", "router"]

router = APIRouter(prefix="/api/instruments", tags=["instruments"])

#: s; the reading itself is bounded below it, this is the last resort.
LONGEST_S = 2.9
UNITS = {"voltage": VOLT, "current": AMPERE, "resistance": OHM}
DIGITS = 7  #: as many figures as a bench meter has


class InstrumentAsk(Ask):
    """Where a meter is, and which of the meters it is."""

    resource: str = Field(min_length=1, max_length=200, description="A VISA resource name")
    name: str = Field("", max_length=60)
    meter: str = Field("bench", max_length=60, description="A name of GET /api/meters")


class InstrumentAnswer(Answer):
    resource: str
    name: str
    meter: str


class InstrumentsAnswer(Answer):
    instruments: list[InstrumentAnswer]


class ReadAsk(PointAsk):
    """Where a reading is to be taken, and by which meter."""

    resource: str = Field(min_length=1, max_length=200)


class ReadAnswer(Answer):
    value: float | None = Field(description="null over range")
    unit: str
    range_full: float | None = Field(description="null where the meter does not tell")
    overload: bool
    read_at: str = Field(description="ISO 8601, UTC")
    simulated: bool = Field(description="Read from the stand-in")
    text: str = Field(description="As it is written at the bench")


def install(app: Any) -> None:
    """Map what instruments refuse to problems."""

    @app.exception_handler(NoSuchInstrument)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchInstrument) -> JSONResponse:
        return problem_response(404, f"no meter is kept at “{exc.resource}”")


@router.get("")
def listed(session: SessionDep) -> InstrumentsAnswer:
    """List the meters that are read over a wire; none of them is asked anything."""
    every = [InstrumentAnswer.model_validate(row) for row in instruments(session)]
    return InstrumentsAnswer(instruments=every)


@router.put("", responses=responses(422))
def kept(ask: InstrumentAsk, session: WritingDep, own: MetersDep) -> InstrumentAnswer:
    """Keep where a meter is, over what was kept of that resource name."""
    # Loaded when needed: the library takes a part of a second.
    from lowfold.instruments.visa import BadResource, checked_resource  # noqa: PLC0415

    try:
        resource = checked_resource(ask.resource)
    except BadResource as error:
        raise DomainError(str(error), field="resource") from error
    meter = model_named(ask.meter, own).name
    name = plain_name(ask.name, "a meter", field="name") if ask.name.strip() else resource
    keep_instrument(session, resource, name, meter)
    return InstrumentAnswer(resource=resource, name=name, meter=meter)


@router.delete("", status_code=204, responses=responses(404))
def gone(resource: Annotated[str, Query(max_length=200)], session: WritingDep) -> None:
    """Forget where a meter is."""
    remove_instrument(session, resource)


def _listed(database: Database, asked: str) -> str:
    """Return a resource name as it is on the list.

    Raises
    ------
    DomainError
        Where it is not there, or none.
    """
    from lowfold.instruments.visa import BadResource, checked_resource  # noqa: PLC0415 as above

    try:
        resource = checked_resource(asked)
    except BadResource as error:
        raise DomainError(str(error), field="resource") from error
    with database.sessions() as session:
        if any(row.resource == resource for row in instruments(session)):
            return resource
    msg = f"“{resource}” is not on your list of meters: put it there under Drawer, Meters"
    raise DomainError(msg, field="resource")


def _probe(ask: ReadAsk) -> Probe:
    """Return where the probes are put.

    Raises
    ------
    DomainError
        For a name that is none.
    """
    from lowfold.instruments.visa import BadResource, Probe, probe_name  # noqa: PLC0415 as above

    names = []
    for field in ("at", "against", "across", "through", "part"):
        name = getattr(ask, field)
        if name is None:
            continue
        try:
            names.append(probe_name(name))
        except BadResource as error:
            raise DomainError(str(error), field=field) from error
    if ask.at is not None and ask.against is None:
        names.append("0")
    return Probe(ask.kind, tuple(names), ask.range_full)


def _refused(status: int, message: str, field: str) -> JSONResponse:
    return problem_response(status, message, [FieldError(field=field, message=message)])


@router.post("/read", response_model=ReadAnswer, responses=responses(422, 502, 504))
async def read(ask: ReadAsk, request: Request) -> ReadAnswer | JSONResponse:
    """Take one reading; the stand-in is told where its probes are, any other meter only asked.

    Only of a meter that is on the list: what somebody else writes here opens no connection.
    """
    from lowfold.instruments import visa  # noqa: PLC0415 as above

    probe = _probe(ask)
    resource = await anyio.to_thread.run_sync(_listed, request.app.state.database, ask.resource)
    try:
        with anyio.fail_after(LONGEST_S):
            taken = await anyio.to_thread.run_sync(
                partial(visa.take_reading, resource, probe), abandon_on_cancel=True
            )
    except visa.BadResource as error:
        return _refused(422, str(error), "resource")
    except (visa.Silent, TimeoutError):
        return _refused(504, "the meter did not answer in time: is it on, and on this line?", "")
    except visa.InstrumentFault as error:
        return _refused(502, str(error), "resource")
    unit = UNITS[ask.kind]
    shown = "OL" if taken.value is None else write(taken.value, unit, DIGITS, trim=True)
    return ReadAnswer(
        value=taken.value,
        unit=UNITS[ask.kind].unit,
        range_full=taken.range_full,
        overload=taken.value is None,
        read_at=datetime.now(UTC).isoformat(timespec="milliseconds"),
        simulated=taken.simulated,
        text=shown,
    )
