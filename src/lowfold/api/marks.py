"""POST /api/marks/read and /write: what is marked on a part, both ways."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal, Self

from fastapi import APIRouter
from pydantic import Field, model_validator

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Answer, Ask, Coefficient, SourceOhms, Tolerance
from lowfold.api.meters import Meter, meter_of
from lowfold.api.problems import responses
from lowfold.core.marks.bands import BANDS, exchanged, read_bands, write_bands
from lowfold.core.marks.codes import LONGEST_CODE, read_code, why_not, write_codes
from lowfold.core.marks.colours import colours_in
from lowfold.core.marks.mark import MarkRead, likeliest_first, words_of
from lowfold.core.values.neighbours import beside
from lowfold.core.values.quantities import OHM, write

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


class Reading(Answer):
    """One meaning of a mark."""

    ohm: float
    tolerance: float | None = Field(description="A fraction; null where it is not marked")
    tcr_ppm: float | None
    lowest_ohm: float
    highest_ohm: float
    end: Literal["left", "right"] = Field(serialization_alias="from")
    series: list[str] = Field(description="Every standard series that has the value")
    holds: bool | None = Field(description="Whether what is measured may be such a part")
    words: str
    shown: str
    below_ohm: float | None = Field(
        description="The next value below in E24, or E96 where it is none of E24"
    )
    above_ohm: float | None
    bin: str = Field(description="The same in words: what lies next to it in the bin")


class OtherReading(Reading):
    """What it would be, were one colour another that is easily taken for it."""

    band: int = Field(description="From 1, as seen from the left")
    seen: str
    instead: str


class MarkReadings(Answer):
    bands: list[str] = Field(description="The colours understood, in the order seen")
    readings: list[Reading] = Field(description="The likeliest first")
    also: list[OtherReading]


def _facts(read: MarkRead, measured: tuple[float, float] | None) -> dict[str, object]:
    ohms = float(read.ohms)
    # What bins are sorted by (common practice): E24, and E96 for what it has not
    bins = [name for name in ("E24", "E96", "E192") if name in read.series]
    near = beside(ohms, bins[0]) if bins and 1e-3 <= ohms <= 1e12 else None
    shown = [write(v, OHM, 6, trim=True) for v in near or ()]
    return {
        "shown": write(ohms, OHM, 6, trim=True),
        "below_ohm": near[0] if near else None,
        "above_ohm": near[1] if near else None,
        "bin": f"{shown[0]} and {shown[1]} lie next to it in {bins[0]}" if near else "",
        "ohm": float(read.ohms),
        "tolerance": read.tolerance,
        "tcr_ppm": read.tcr_ppm,
        "lowest_ohm": read.lowest,
        "highest_ohm": read.highest,
        "end": read.end,
        "series": list(read.series),
        "holds": None if measured is None else read.holds(*measured),
        "words": words_of(read, measured),
    }


@router.post("/read", responses=responses(422))
def read_marks(ask: MarkAsk) -> MarkReadings:
    """Read bands or a code: every meaning, from both ends, and what one colour off would be."""
    meter = meter_of(ask.meter)
    measured = None if ask.measured_ohm is None else meter.ohms_between(ask.measured_ohm)
    bands = ask.bands if ask.text is None else colours_in(ask.text)
    code = ask.code if ask.text is None or bands else ask.text.strip()
    if code is not None:
        found, others = read_code(code[:LONGEST_CODE]), []
    else:
        found, others = read_bands(bands or []), exchanged(bands or [])
    return MarkReadings(
        bands=[name.strip().casefold() for name in bands or []],
        readings=[
            Reading.model_validate(_facts(read, measured))
            for read in likeliest_first(found, measured)
        ],
        also=[
            OtherReading.model_validate(
                {
                    **_facts(other.read, measured),
                    "band": other.band,
                    "seen": other.seen,
                    "instead": other.instead,
                }
            )
            for other in others
        ],
    )


class WriteAsk(Ask):
    """A part that is to be found in the bin."""

    model_config = {
        "json_schema_extra": {"examples": [{"ohm": "3k6", "tolerance": 0.01, "tcr_ppm": 50}]}
    }

    ohm: SourceOhms = Field(description="0 is a link")
    tolerance: Tolerance | None = None
    tcr_ppm: Coefficient | None = None


class WriteAnswer(Answer):
    bands: dict[str, list[str] | None] = Field(description="By how many bands there are")
    codes: dict[str, str | None] = Field(description="letter, three, four, e96")
    reasons: dict[str, str] = Field(description="Why there is none, for each that is null")


@router.post("/write", responses=responses(422))
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
