"""POST /api/marks/read and /write: what is marked on a part, both ways."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Self

from fastapi import APIRouter
from pydantic import Field, model_validator

from lowfold.api.computing import ComputedRoute, quick
from lowfold.api.fields import Ask, Coefficient, SourceOhms, Tolerance
from lowfold.api.meters import Meter, meter_of
from lowfold.api.problems import responses
from lowfold.api.sessions import MetersDep
from lowfold.core.marks.bands import BANDS, write_bands
from lowfold.core.marks.codes import LONGEST_CODE, why_not, write_codes
from lowfold.views.marks import MarkReadings, WriteAnswer, seen_read, text_read

__all__ = ["router"]

router = APIRouter(prefix="/api/marks", tags=["marks"], route_class=ComputedRoute)

Colour = Annotated[str, Field(max_length=20)]


class MarkAsk(Ask):
    """What is seen on a part, and what it measures."""

    model_config = {
        "json_schema_extra": {
            "examples": [{"bands": ["orange", "blue", "red", "gold"], "measured_ohm": "3.58k"}]
        }
    }

    bands: list[Colour] | None = Field(
        None, max_length=12, description="Three to six colours, in the order seen"
    )
    code: str | None = Field(
        None, max_length=LONGEST_CODE, description="As marked: 3K6J, 362, 3601, 54B"
    )
    text: str | None = Field(
        None, max_length=120, description="Either of them as typed: colours, or a code"
    )
    measured_ohm: SourceOhms | None = Field(None, description="By the meter, out of circuit")
    meter: Meter | None = Field(None, description="Default the handheld")

    @model_validator(mode="after")
    def _one_of_them(self) -> Self:
        if [self.bands, self.code, self.text].count(None) != 2:
            msg = "give what is seen: bands or a code, one of the two"
            raise ValueError(msg)
        return self


@router.post("/read", openapi_extra=quick(20_000), responses=responses(422))
def read_marks(ask: MarkAsk, meters: MetersDep) -> MarkReadings:
    """Read bands or a code: every meaning, from both ends, and what one colour off would be."""
    meter = meter_of(ask.meter, meters)
    measured = None if ask.measured_ohm is None else meter.ohms_between(ask.measured_ohm)
    if ask.text is not None:
        return text_read(ask.text, measured)
    return seen_read(ask.bands, ask.code, measured)


class WriteAsk(Ask):
    """A part that is to be found in the bin."""

    model_config = {
        "json_schema_extra": {"examples": [{"ohm": "3k6", "tolerance": 0.01, "tcr_ppm": 50}]}
    }

    ohm: SourceOhms = Field(description="0 is a link")
    tolerance: Tolerance | None = None
    tcr_ppm: Coefficient | None = None


@router.post("/write", openapi_extra=quick(4000), responses=responses(422))
def write_marks(ask: WriteAsk) -> WriteAnswer:
    """Say how a part is marked: bands of 4, 5 and 6, and codes; with the reason where it is not."""
    # repr is the shortest text that reads back as the number: what the user meant
    ohms = Decimal(repr(ask.ohm))
    bands: dict[str, list[str] | None] = {}
    reasons: dict[str, str] = {}
    for count in (n for n in BANDS if n > 3):
        row = write_bands(ohms, ask.tolerance, ask.tcr_ppm, count)
        bands[str(count)] = None if isinstance(row, str) else list(row)
        if isinstance(row, str):
            reasons[f"bands.{count}"] = row
    codes = write_codes(ohms)
    for kind, code in codes.items():
        if code is None:
            reasons[f"codes.{kind}"] = why_not(kind, ohms)
    return WriteAnswer(bands=bands, codes=codes, reasons=reasons)
