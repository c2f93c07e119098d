"""/api/drawer: the user's own stock, line by line or as a CSV file."""

from __future__ import annotations

from collections.abc import Callable, Coroutine
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Body, HTTPException, Path, Request, Response
from fastapi.responses import JSONResponse
from fastapi.routing import APIRoute
from pydantic import Field

from lowfold.api.fields import WHOLE, Answer, Ask, Ohms, Tolerance
from lowfold.api.problems import FieldError, problem_response, responses
from lowfold.api.sessions import SessionDep, WritingDep, stock_changed
from lowfold.core.errors import DomainError
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.values.quantities import FRACTION, OHM, write, write_pair
from lowfold.core.values.ranges import WIDEST_RANGE
from lowfold.formats.drawer_csv import MOST_LINES, read_drawer, read_family, write_drawer
from lowfold.formats.tables import BrokenFile
from lowfold.store.drawer import (
    NoSuchLine,
    TwiceInDrawer,
    add_line,
    change_line,
    drawer_lines,
    drawer_rows,
    merge_lines,
    remove_line,
    replace_lines,
)
from lowfold.store.models import DrawerRow

__all__ = ["CsvRoute", "Taken", "decoded", "files", "install", "router"]

router = APIRouter(prefix="/api/drawer", tags=["drawer"])

LineId = Annotated[int, Path(ge=1, le=2**62), WHOLE]


class LineAsk(Ask):
    """So many parts of one value."""

    ohm: Ohms
    count: Annotated[int, Field(ge=0, le=1_000_000, strict=True)] | None = Field(
        None, description="Not given is plenty"
    )
    tolerance: Tolerance = Field(0.01, le=0.5)
    family: str = Field("", max_length=80)

    def line(self) -> DrawerLine:
        family = read_family(self.family)
        if not WIDEST_RANGE[0] <= self.ohm <= WIDEST_RANGE[1]:
            low, high = (write(end, OHM, 2, trim=True) for end in WIDEST_RANGE)
            msg = f"{write(self.ohm, OHM)} is no part: values lie between {low} and {high}"
            raise DomainError(msg, field="ohm")
        return DrawerLine(self.ohm, self.count, self.tolerance, family)


class LineAnswer(Answer):
    """A line as kept, with its value as written."""

    id: int
    ohm: float
    value: str
    unit: str
    count: int | None
    tolerance: float
    tolerance_shown: str
    family: str

    @classmethod
    def from_row(cls, row: DrawerRow) -> LineAnswer:
        value, unit = write_pair(row.ohms, OHM, 9, trim=True)
        tolerance = row.tolerance_ppm / 1e6
        return cls(
            id=row.id,
            ohm=row.ohms,
            value=value,
            unit=unit,
            count=row.count,
            tolerance=tolerance,
            tolerance_shown=write(tolerance, FRACTION, 6, trim=True),
            family=row.family,
        )


class DrawerAnswer(Answer):
    lines: list[LineAnswer]
    values: int = Field(description="How many different values")
    parts: int | None = Field(description="How many parts; null where some are plenty")


def install(app: Any) -> None:
    """Map what the drawer refuses to problems."""

    @app.exception_handler(NoSuchLine)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchLine) -> JSONResponse:
        return problem_response(404, f"the drawer has no line {exc.id}")

    @app.exception_handler(TwiceInDrawer)  # type: ignore[untyped-decorator]
    def _twice(request: Request, exc: TwiceInDrawer) -> JSONResponse:
        message = "the drawer has this value, tolerance and family already: change its count"
        return problem_response(422, message, [FieldError(field="ohm", message=message)])

    @app.exception_handler(BrokenFile)  # type: ignore[untyped-decorator]
    def _broken(request: Request, exc: BrokenFile) -> JSONResponse:
        errors = [FieldError(field=f"line {b.line}", message=b.message) for b in exc.lines]
        first = errors[0]
        detail = f"nothing was taken over; {first.field}: {first.message}"
        return problem_response(422, detail, errors)


class CsvRoute(APIRoute):
    """A route whose body, where it takes one, has to say that it is CSV."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        handle = super().get_route_handler()
        takes = "POST" in (self.methods or set())

        async def checked(request: Request) -> Response:
            kind = request.headers.get("content-type", "").split(";")[0].strip().lower()
            if takes and kind != "text/csv":
                shown = f"“{kind[:60]}”" if kind else "no kind"
                raise HTTPException(
                    415, f"a file of {shown} is not taken here: send it as text/csv"
                )
            return await handle(request)

        return checked


def decoded(text: bytes) -> str:
    """Return a file's text.

    Raises
    ------
    DomainError
        If it is not UTF-8.
    """
    try:
        return text.decode("utf-8")
    except UnicodeDecodeError as error:
        message = f"the file is not UTF-8 text (byte {error.start + 1}): save it as UTF-8"
        raise DomainError(message, field="body") from error


@router.get("")
def drawer(session: SessionDep) -> DrawerAnswer:
    """List the drawer, by rising value."""
    lines = [LineAnswer.from_row(row) for row in drawer_rows(session)]
    counts = [line.count for line in lines]
    return DrawerAnswer(
        lines=lines,
        values=len({line.ohm for line in lines}),
        parts=None if None in counts else sum(c or 0 for c in counts),
    )


@router.post("/lines", status_code=201, responses=responses(422))
def new_line(ask: LineAsk, session: WritingDep, request: Request) -> LineAnswer:
    """Put a line in."""
    if len(drawer_rows(session)) >= MOST_LINES:
        msg = f"the drawer holds at most {MOST_LINES} lines"
        raise DomainError(msg, field="body")
    row = add_line(session, ask.line())
    stock_changed(request, session)
    return LineAnswer.from_row(row)


@router.put("/lines/{line_id}", responses=responses(404, 422))
def changed_line(
    line_id: LineId, ask: LineAsk, session: WritingDep, request: Request
) -> LineAnswer:
    """Replace a line."""
    row = change_line(session, line_id, ask.line())
    stock_changed(request, session)
    return LineAnswer.from_row(row)


@router.delete("/lines/{line_id}", status_code=204, responses=responses(404))
def gone_line(line_id: LineId, session: WritingDep, request: Request) -> None:
    """Take a line out."""
    remove_line(session, line_id)
    stock_changed(request, session)


@router.get("/csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def written(session: SessionDep) -> Response:
    """Write the drawer as CSV: value, count, tolerance, family."""
    return Response(
        write_drawer(drawer_lines(session)),
        media_type="text/csv; charset=utf-8",
        headers={"content-disposition": 'attachment; filename="lowfold-drawer.csv"'},
    )


files = APIRouter(prefix="/api/drawer", tags=["drawer"], route_class=CsvRoute)


class Taken(Answer):
    """What a file brought, or would bring."""

    lines: int
    kept: bool = Field(description="False where it was only tried")


@files.post("/csv", responses=responses(415, 422))
def read_in(
    session: WritingDep,
    request: Request,
    text: Annotated[bytes, Body(media_type="text/csv")],
    how: Literal["replace", "add"] = "replace",
    *,
    only_try: bool = False,
) -> Taken:
    """Take a CSV file over, whole or not at all: in place of the drawer, or added to it."""
    lines = read_drawer(decoded(text))
    if not only_try:
        (replace_lines if how == "replace" else merge_lines)(session, lines)
        stock_changed(request, session)
    return Taken(lines=len(lines), kept=not only_try)
