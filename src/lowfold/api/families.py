"""/api/families: what parts of one make are sold under, typical and the user's own."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Body, Path, Request, Response
from fastapi.responses import JSONResponse
from pydantic import Field

from lowfold.api.drawer import CsvRoute, Taken, decoded
from lowfold.api.fields import Answer, Ask, Coefficient, Degrees, Tolerance, Volts, Watts
from lowfold.api.problems import problem_response, responses
from lowfold.api.sessions import FamiliesDep, WritingDep, stock_changed
from lowfold.core.parts.families import Family, families_with_typical, family_named
from lowfold.core.parts.ratings import FULL_POWER_C, ZERO_POWER_C
from lowfold.core.values.names import plain_name
from lowfold.core.values.quantities import (
    CELSIUS,
    FRACTION,
    OHM,
    PPM_PER_KELVIN,
    VOLT,
    WATT,
    write,
)
from lowfold.formats.families_csv import read_families, write_families
from lowfold.store.families import NoSuchFamily, keep_families, keep_family, remove_family

__all__ = ["files", "install", "router"]

router = APIRouter(prefix="/api/families", tags=["families"])
files = APIRouter(prefix="/api/families", tags=["families"], route_class=CsvRoute)

FamilyName = Annotated[str, Path(min_length=1, max_length=80)]


class FamilyAsk(Ask):
    """What parts of one make are sold under."""

    tolerance: Tolerance = 0.01
    tcr_ppm: Coefficient = 100.0
    drift: Tolerance = 0.01
    rating_w: Watts
    limiting_v: Annotated[Volts, Field(gt=0)] | None = Field(
        None, description="Not given: only √(P·R) limits"
    )
    full_power_c: Degrees = FULL_POWER_C
    zero_power_c: Degrees = ZERO_POWER_C

    def family(self, name: str) -> Family:
        return Family(
            name=plain_name(name, "a family", field="name"),
            tolerance=self.tolerance,
            tcr_ppm=self.tcr_ppm,
            drift=self.drift,
            rated_watts=self.rating_w,
            limiting_volts=self.limiting_v,
            full_power_c=self.full_power_c,
            zero_power_c=self.zero_power_c,
        )


class FamilyAnswer(Answer):
    """A family with its figures, also as written."""

    name: str
    tolerance: float
    tcr_ppm: float
    drift: float
    rating_w: float
    limiting_v: float | None
    full_power_c: float
    zero_power_c: float
    critical_ohm: float | None = Field(description="Above it voltage limits, not power")
    shown: dict[str, str] = Field(description="The figures as written, by the same names")
    typical: bool = Field(description="As in the typical table, not the user's own")
    replaces: bool = Field(description="The user's own, in place of a typical one")

    @classmethod
    def from_core(cls, family: Family, *, own: bool) -> FamilyAnswer:
        volts, critical = family.limiting_volts, family.critical_ohms
        return cls(
            name=family.name,
            tolerance=family.tolerance,
            tcr_ppm=family.tcr_ppm,
            drift=family.drift,
            rating_w=family.rated_watts,
            limiting_v=volts,
            full_power_c=family.full_power_c,
            zero_power_c=family.zero_power_c,
            critical_ohm=critical,
            shown={
                "tolerance": write(family.tolerance, FRACTION, 4, trim=True),
                "tcr_ppm": write(family.tcr_ppm, PPM_PER_KELVIN, 4, trim=True),
                "drift": write(family.drift, FRACTION, 4, trim=True),
                "rating_w": write(family.rated_watts, WATT, 4, trim=True),
                "limiting_v": "√(P·R)" if volts is None else write(volts, VOLT, 4, trim=True),
                "full_power_c": write(family.full_power_c, CELSIUS, 4, trim=True),
                "zero_power_c": write(family.zero_power_c, CELSIUS, 4, trim=True),
                "critical_ohm": "" if critical is None else write(critical, OHM, 3, trim=True),
            },
            typical=not own,
            replaces=own and family_named(family.name) is not None,
        )


def install(app: Any) -> None:
    """Map what the families refuse to problems."""

    @app.exception_handler(NoSuchFamily)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchFamily) -> JSONResponse:
        kept = "it is a typical one, which stays" if family_named(exc.name) else "there is none"
        return problem_response(404, f"“{exc.name}” is no family of your own: {kept}")


@router.get("")
def families(own: FamiliesDep) -> list[FamilyAnswer]:
    """List the user's own families, then the typical ones; the data sheet rules."""
    mine = {f.name for f in own}
    return [FamilyAnswer.from_core(f, own=f.name in mine) for f in families_with_typical(own)]


@router.get("/csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def written(own: FamiliesDep) -> Response:
    """Write all families as CSV."""
    return Response(
        write_families(families_with_typical(own)),
        media_type="text/csv; charset=utf-8",
        headers={"content-disposition": 'attachment; filename="lowfold-families.csv"'},
    )


@files.post("/csv", responses=responses(415, 422))
def read_in(
    session: WritingDep,
    request: Request,
    text: Annotated[bytes, Body(media_type="text/csv")],
    *,
    only_try: bool = False,
) -> Taken:
    """Take families from a CSV file, whole or not at all; as typical ones need no keeping."""
    found = read_families(decoded(text))
    ours = [f for f in found if family_named(f.name) != f]
    if not only_try:
        keep_families(session, ours)
        stock_changed(request, session)
    return Taken(lines=len(found), kept=not only_try)


@router.put("/{name:path}", responses=responses(422))
def kept_family(
    name: FamilyName, ask: FamilyAsk, session: WritingDep, request: Request
) -> FamilyAnswer:
    """Keep a family under its name, in place of the typical or own one of that name."""
    family = ask.family(name)
    keep_family(session, family)
    stock_changed(request, session)
    return FamilyAnswer.from_core(family, own=True)


@router.delete("/{name:path}", status_code=204, responses=responses(404))
def gone_family(name: FamilyName, session: WritingDep, request: Request) -> None:
    """Forget a family of the user's own; a typical one of its name holds again."""
    remove_family(session, name)
    stock_changed(request, session)
