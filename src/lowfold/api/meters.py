"""GET /api/meters, and a meter wherever a request holds one: a model's name, or its ranges."""

from __future__ import annotations

from typing import Annotated, Any, Self

from fastapi import APIRouter
from pydantic import BeforeValidator, Field, model_validator

from lowfold.api.fields import Amps, Answer, Ask, Ohms, SourceOhms, Tolerance
from lowfold.core.bench.models import HANDHELD, MODELS, MeterModel, Range, model_named
from lowfold.core.errors import DomainError

__all__ = ["Meter", "meter_of", "router"]

router = APIRouter(tags=["meters"])

MOST_RANGES = 20  #: of one kind; no meter has more


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


class MeterAnswer(Answer):
    """A model in full; it can be sent back, changed, wherever a meter stands."""

    name: str
    input_ohm: float | None = Field(validation_alias="input_ohms")
    ohm_per_v: float | None = Field(validation_alias="ohms_per_volt")
    volts: list[RangeAnswer]
    amps: list[RangeAnswer]
    ohms: list[RangeAnswer]
    lead_ohm: float = Field(validation_alias="lead_ohms")
    of_full: bool


def _in_full(value: Any) -> Any:
    """Put a model's ranges in place of its name."""
    if not isinstance(value, str):
        return value
    try:
        model = model_named(value)
    except DomainError as error:
        raise ValueError(error.message) from error
    return MeterAnswer.model_validate(model).model_dump()


Meter = Annotated[MeterAsk, BeforeValidator(_in_full, json_schema_input_type=str | MeterAsk)]


def meter_of(asked: MeterAsk | None) -> MeterModel:
    """Return the meter that a request holds; the handheld where it holds none."""
    return HANDHELD if asked is None else asked.to_core()


class MetersAnswer(Answer):
    meters: list[MeterAnswer]


@router.get("/api/meters")
async def meters() -> MetersAnswer:
    """List the meters that ship: typical ones (common practice), each in full."""
    return MetersAnswer(meters=[MeterAnswer.model_validate(model) for model in MODELS])
