"""Quantities in requests: a number in the base unit, or a string in the field's notation."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Annotated, Any, Final

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    GetCoreSchemaHandler,
    WithJsonSchema,
    model_validator,
)
from pydantic_core import PydanticCustomError, core_schema

from lowfold.api.texts import uncontrolled, unfit
from lowfold.core.errors import LowfoldError
from lowfold.core.network.tree import LEAST_OHMS, MOST_OHMS
from lowfold.core.values.quantities import (
    AMPERE,
    CELSIUS,
    FRACTION,
    OHM,
    PPM_PER_KELVIN,
    VOLT,
    WATT,
    Kind,
    read,
    write,
)

__all__ = [
    "WHOLE",
    "Allowance",
    "Amps",
    "Answer",
    "Ask",
    "Coefficient",
    "Degrees",
    "Ohms",
    "PositiveAmps",
    "PositiveVolts",
    "SignedAmps",
    "SourceOhms",
    "Stress",
    "Tolerance",
    "Volts",
    "Watts",
]


def _plain(value: float) -> float:
    if not math.isfinite(value):
        msg = f"an answer holds {value!r}, which JSON has no word for"
        raise ValueError(msg)
    return value + 0.0  # −0.0 + 0.0 is 0.0


def _unsigned_zero(schema: Any) -> Any:
    """Return a schema whose floats have no signed zero; answers inside have seen to theirs."""
    if isinstance(schema, list):
        return [_unsigned_zero(item) for item in schema]
    if not isinstance(schema, dict) or schema.get("type") in {"model", "definition-ref"}:
        return schema
    if schema.get("type") == "float":
        return core_schema.no_info_after_validator_function(_plain, schema)
    inner = {"schema", "fields", "items_schema", "keys_schema", "values_schema", "choices"}
    if schema.get("type") == "model-fields":
        fields = {k: _unsigned_zero(field) for k, field in schema["fields"].items()}
        return {**schema, "fields": fields}
    return {k: _unsigned_zero(v) if k in inner else v for k, v in schema.items()}


def _as_numbers(schema: Any) -> Any:
    """Return a schema whose numbers are numbers: no text, whose digits may hold underlines."""
    if isinstance(schema, list):
        return [_as_numbers(item) for item in schema]
    if isinstance(schema, tuple):
        return tuple(_as_numbers(item) for item in schema)
    if not isinstance(schema, dict) or schema.get("type") == "definition-ref":
        return schema
    if schema.get("type") in {"float", "int"}:
        return {**schema, "strict": True}
    return {
        k: v if k in {"metadata", "serialization"} else _as_numbers(v) for k, v in schema.items()
    }


def _digits(value: Any) -> Any:
    if isinstance(value, str) and not (value.isascii() and value.removeprefix("-").isdecimal()):
        msg = "a whole number is wanted, in digits"
        raise _refused(msg)
    return value


#: Of an address: a whole number in digits, and nothing else that could be read as one.
WHOLE: Final = BeforeValidator(_digits)


class Ask(BaseModel):
    """A request body: unknown fields, numbers that are not finite, and broken text are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    @classmethod
    def __get_pydantic_core_schema__(
        cls, source: Any, handler: GetCoreSchemaHandler
    ) -> core_schema.CoreSchema:
        found: core_schema.CoreSchema = _as_numbers(handler(source))
        return found

    @model_validator(mode="before")
    @classmethod
    def _whole_text(cls, data: Any) -> Any:
        wrong = unfit(data) or uncontrolled(data)
        if wrong:
            raise ValueError(wrong)
        return data


class Answer(BaseModel):
    """A response body, read from the core's values; a zero in it has no sign."""

    model_config = ConfigDict(from_attributes=True, validate_by_name=True)

    @classmethod
    def __get_pydantic_core_schema__(
        cls, source: Any, handler: GetCoreSchemaHandler
    ) -> core_schema.CoreSchema:
        """Let every number of this class lose the sign of a zero, which means nothing here."""
        schema = handler(source)
        if schema["type"] != "model":
            return schema
        return {**schema, "schema": _unsigned_zero(schema["schema"])}


#: Far below anything measurable, yet far above where reciprocals overflow.
LEAST_MAGNITUDE: Final = 1e-18


def _reader(kind: Kind, low: float, high: float, *, above: bool) -> Callable[[Any], float]:
    def reader(value: Any) -> float:
        if isinstance(value, bool) or not isinstance(value, int | float | str):
            message = f"{kind.name} is wanted: a number in {kind.unit} or text like {kind.example}"
            raise _refused(message)
        if isinstance(value, str):
            try:
                number = read(value, kind)
            except LowfoldError as error:
                message = error.message
                raise _refused(message) from error
        elif abs(value) > 1e300 or not math.isfinite(value):
            message = f"this is no usable number for {kind.name}"
            raise _refused(message)
        else:
            number = float(value)
        if 0 < abs(number) < LEAST_MAGNITUDE:
            message = f"{number:g} is too small to mean anything here: write like {kind.example}"
            raise _refused(message)
        if number > high or number < low or (above and number == low):
            least = "more than" if above else "at least"
            bottom, top = (write(end, kind, 3, trim=True) for end in (low, high))
            shown = write(number, kind, 4, trim=True)
            message = f"{shown} is out of range: it must be {least} {bottom} and at most {top}"
            raise _refused(message)
        return number

    return reader


def _refused(message: str) -> PydanticCustomError:
    return PydanticCustomError("quantity", "{message}", {"message": message})


def _quantity(kind: Kind, low: float, high: float, *, above: bool = False) -> Any:
    unit = "fraction (0.01 is 1 %)" if kind is FRACTION else kind.unit
    schema = {
        "anyOf": [{"type": "number"}, {"type": "string"}],
        "description": f"{kind.name}: a number in {unit}, or text such as “{kind.example}”",
    }
    return BeforeValidator(_reader(kind, low, high, above=above)), WithJsonSchema(schema)


_OHMS = _quantity(OHM, LEAST_OHMS, MOST_OHMS)
_SOURCE = _quantity(OHM, 0.0, MOST_OHMS)
_VOLTS = _quantity(VOLT, -1e6, 1e6)
_POSITIVE_VOLTS = _quantity(VOLT, 0.0, 1e6, above=True)
_AMPS = _quantity(AMPERE, 0.0, 1e6)
_SIGNED_AMPS = _quantity(AMPERE, -1e6, 1e6)
_POSITIVE_AMPS = _quantity(AMPERE, 0.0, 1e6, above=True)
_WATTS = _quantity(WATT, 0.0, 1e6, above=True)
_DEGREES = _quantity(CELSIUS, -273.15, 1000.0)
_COEFFICIENT = _quantity(PPM_PER_KELVIN, -1e5, 1e5)
_TOLERANCE = _quantity(FRACTION, 0.0, 0.999999)
_ALLOWANCE = _quantity(FRACTION, 0.0, 10.0)
_STRESS = _quantity(FRACTION, 0.0, 1.0, above=True)

Ohms = Annotated[float, *_OHMS]
SourceOhms = Annotated[float, *_SOURCE]
Volts = Annotated[float, *_VOLTS]
PositiveVolts = Annotated[float, *_POSITIVE_VOLTS]
Amps = Annotated[float, *_AMPS]
SignedAmps = Annotated[float, *_SIGNED_AMPS]
PositiveAmps = Annotated[float, *_POSITIVE_AMPS]
Watts = Annotated[float, *_WATTS]
Degrees = Annotated[float, *_DEGREES]
Coefficient = Annotated[float, *_COEFFICIENT]
Tolerance = Annotated[float, *_TOLERANCE]
Allowance = Annotated[float, *_ALLOWANCE]
Stress = Annotated[float, *_STRESS]
