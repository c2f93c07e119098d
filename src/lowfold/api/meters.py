"""GET /api/meters, and a meter wherever a request holds one: a model's name, or its ranges."""

from __future__ import annotations

from typing import Annotated, Any, Self

from fastapi import APIRouter, Body, Path, Request, Response
from fastapi.responses import JSONResponse
from pydantic import Field, ValidatorFunctionWrapHandler, WrapValidator, model_validator

from lowfold.api.drawer import CsvRoute, Taken, decoded
from lowfold.api.fields import Amps, Answer, Ask, Ohms, SourceOhms, Tolerance
from lowfold.api.problems import problem_response, responses
from lowfold.api.sessions import MetersDep, WritingDep, stock_changed
from lowfold.core.bench.data_sheet import MOST_RANGES, meter_in_words, read_meter
from lowfold.core.bench.inventory import meters_with_typical
from lowfold.core.bench.models import HANDHELD, MODELS, MeterModel, Range, model_named
from lowfold.core.errors import DomainError
from lowfold.formats.meters_csv import read_meters, write_meters
from lowfold.store.meters import NoSuchMeter, keep_meters, remove_meter

__all__ = ["Meter", "MeterAsk", "files", "install", "meter_of", "router"]

router = APIRouter(tags=["meters"])
files = APIRouter(prefix="/api/meters", tags=["meters"], route_class=CsvRoute)

MeterName = Annotated[str, Path(min_length=1, max_length=60)]


class RangeAsk(Ask):
    """One range, in the unit that it measures: ± (accuracy · reading + counts · resolution)."""

    full: Annotated[float, Field(gt=0, le=1e12)]
    accuracy: Tolerance = 0.0
    counts: Annotated[float, Field(ge=0, le=1e6)] = 0.0
    resolution: Annotated[float, Field(ge=0, le=1e12)] = 0.0
    burden_ohm: SourceOhms = Field(0.0, description="What an ammeter's range puts in series")
    jack: str = Field("", max_length=20)
    fuse_a: Amps | None = None

    def to_core(self) -> Range:
        return Range(
            full=self.full,
            accuracy=self.accuracy,
            counts=self.counts,
            resolution=self.resolution,
            burden_ohms=self.burden_ohm,
            jack=self.jack,
            fuse_amps=self.fuse_a,
        )


class MeterAsk(Ask):
    """A meter as its data sheet describes it."""

    name: str = Field("your own", max_length=60)
    input_ohm: Ohms | None = Field(None, description="Of its voltage input; null for none at all")
    ohm_per_v: Ohms | None = Field(None, description="A needle meter's, times the range's full")
    volts: list[RangeAsk] = Field([], max_length=MOST_RANGES)
    amps: list[RangeAsk] = Field([], max_length=MOST_RANGES)
    ohms: list[RangeAsk] = Field([], max_length=MOST_RANGES)
    lead_ohm: SourceOhms = Field(0.0, description="In series in a resistance reading")
    of_full: bool = Field(default=False, description="Accuracy counts of full scale")

    @model_validator(mode="after")
    def _one_input(self) -> Self:
        if self.input_ohm is not None and self.ohm_per_v is not None:
            msg = "a meter has either input_ohm or ohm_per_v, not both"
            raise ValueError(msg)
        return self

    def to_core(self) -> MeterModel:
        return MeterModel(
            name=self.name,
            input_ohms=self.input_ohm,
            ohms_per_volt=self.ohm_per_v,
            volts=tuple(r.to_core() for r in self.volts),
            amps=tuple(r.to_core() for r in self.amps),
            ohms=tuple(r.to_core() for r in self.ohms),
            lead_ohms=self.lead_ohm,
            of_full=self.of_full,
        )


class RangeAnswer(Answer):
    full: float
    accuracy: float
    counts: float
    resolution: float
    burden_ohm: float = Field(validation_alias="burden_ohms")
    jack: str
    fuse_a: float | None = Field(validation_alias="fuse_amps")


class MeterFields(Answer):
    """A model in full; it can be sent back, changed, wherever a meter stands."""

    name: str
    input_ohm: float | None = Field(validation_alias="input_ohms")
    ohm_per_v: float | None = Field(validation_alias="ohms_per_volt")
    volts: list[RangeAnswer]
    amps: list[RangeAnswer]
    ohms: list[RangeAnswer]
    lead_ohm: float = Field(validation_alias="lead_ohms")
    of_full: bool


def _named_or_in_full(value: Any, in_full: ValidatorFunctionWrapHandler) -> Any:
    """Leave a name as it is: whose it is, is known where the question is answered."""
    if isinstance(value, str):
        return value
    if isinstance(value, dict):  # as it was listed
        value = {k: v for k, v in value.items() if k not in {"words", "typical", "replaces"}}
    return in_full(value)


Meter = Annotated[MeterAsk, WrapValidator(_named_or_in_full, json_schema_input_type=str | MeterAsk)]


def meter_of(asked: MeterAsk | str | None, own: tuple[MeterModel, ...]) -> MeterModel:
    """Return the meter that a request holds; the handheld where it holds none.

    Raises
    ------
    DomainError
        For a name that no meter has, the user's own included.
    """
    if asked is None:
        return HANDHELD
    if isinstance(asked, MeterAsk):
        return asked.to_core()
    try:
        return model_named(asked, own)
    except DomainError as error:
        raise DomainError(error.message, field="meter") from error


class MeterWords(Ask):
    """A meter in the words of its data sheet; ranges one a line."""

    input: str = Field("none", max_length=60, description="10 MΩ, 20 kΩ/V, or none")
    leads: str = Field("0 Ω", max_length=60)
    of_full: bool = Field(default=False, description="Accuracy counts of full scale")
    volts: str = Field("", max_length=4000, description="6 V ± (0.5 % + 2), resolution 1 mV")
    amps: str = Field(
        "", max_length=4000, description="… burden 2 Ω, jack mA, fuse 630 mA behind it"
    )
    ohms: str = Field("", max_length=4000)


class ListedMeter(MeterFields):
    words: MeterWords = Field(description="The same in the words of a data sheet")
    typical: bool = Field(description="One that ships, not the user's own")
    replaces: bool = Field(description="The user's own, in place of one that ships")

    @classmethod
    def from_core(cls, model: MeterModel, *, own: bool) -> ListedMeter:
        shipped = {m.name.casefold() for m in MODELS}
        return cls(
            **MeterFields.model_validate(model).model_dump(by_alias=False),
            words=MeterWords(**meter_in_words(model), of_full=model.of_full),
            typical=not own,
            replaces=own and model.name.casefold() in shipped,
        )


class MetersAnswer(Answer):
    meters: list[ListedMeter]


def install(app: Any) -> None:
    """Map what the meters refuse to problems."""

    @app.exception_handler(NoSuchMeter)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchMeter) -> JSONResponse:
        shipped = exc.name.casefold() in {m.name.casefold() for m in MODELS}
        kept = "it is one that ships, which stays" if shipped else "there is none"
        return problem_response(404, f"“{exc.name}” is no meter of your own: {kept}")


@router.get("/api/meters")
def meters(own: MetersDep) -> MetersAnswer:
    """List the user's own meters, then those that ship: typical ones (common practice), in full."""
    mine = {m.name for m in own}
    every = meters_with_typical(own)
    return MetersAnswer(meters=[ListedMeter.from_core(m, own=m.name in mine) for m in every])


@router.get(
    "/api/meters/csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}}
)
def written(own: MetersDep) -> Response:
    """Write all meters as CSV, a range a line."""
    return Response(
        write_meters(meters_with_typical(own)),
        media_type="text/csv; charset=utf-8",
        headers={"content-disposition": 'attachment; filename="lowfold-meters.csv"'},
    )


@files.post("/csv", responses=responses(415, 422))
def read_in(
    session: WritingDep,
    request: Request,
    text: Annotated[bytes, Body(media_type="text/csv")],
    *,
    only_try: bool = False,
) -> Taken:
    """Take meters from a CSV file, whole or not at all; those that ship need no keeping."""
    found = read_meters(decoded(text))
    ours = [m for m in found if m not in MODELS]
    if not only_try:
        keep_meters(session, ours)
        stock_changed(request, session)
    return Taken(lines=len(found), kept=not only_try)


@router.put("/api/meters/{name:path}", responses=responses(422))
def kept_meter(
    name: MeterName, ask: MeterWords, session: WritingDep, request: Request
) -> ListedMeter:
    """Keep a meter under its name, in place of the typical or own one of that name."""
    model = read_meter(name, ask.model_dump(exclude={"of_full"}), of_full=ask.of_full)
    keep_meters(session, [model])
    stock_changed(request, session)
    return ListedMeter.from_core(model, own=True)


@router.delete("/api/meters/{name:path}", status_code=204, responses=responses(404))
def gone_meter(name: MeterName, session: WritingDep, request: Request) -> None:
    """Forget a meter of the user's own; a typical one of its name holds again."""
    remove_meter(session, name)
    stock_changed(request, session)
