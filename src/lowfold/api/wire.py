"""Views on the wire: as JSON, and back from it where they were kept; and what is said of them.

A view (`lowfold.views`) is a frozen dataclass, and so is much of the core that is shown as it is.
Its document is made from it: what each field means is written once, after `#:` beside the field.
"""

from __future__ import annotations

import inspect
import math
from collections.abc import Iterable, Mapping
from dataclasses import fields, is_dataclass
from functools import lru_cache
from typing import Any, Final, TypeVar, get_type_hints

from pydantic import BaseModel, TypeAdapter
from pydantic_core import SchemaSerializer, core_schema, from_json

__all__ = ["as_json", "read_json", "to_json", "with_fields_described"]

T = TypeVar("T")


def _plain(value: float) -> float:
    if not math.isfinite(value):
        msg = f"an answer holds {value!r}, which JSON has no word for"
        raise ValueError(msg)
    return value + 0.0  # −0.0 + 0.0 is 0.0


#: A number as it is written: a zero has no sign, which means nothing here.
_NUMBER: Final = core_schema.float_schema(
    serialization=core_schema.plain_serializer_function_ser_schema(
        _plain, return_schema=core_schema.float_schema()
    )
)


def _with_plain_numbers(schema: Any) -> Any:
    if isinstance(schema, list):
        return [_with_plain_numbers(item) for item in schema]
    if isinstance(schema, tuple):
        return tuple(_with_plain_numbers(item) for item in schema)
    if not isinstance(schema, dict):
        return schema
    if schema.get("type") == "float":
        return _NUMBER
    return {
        k: v if k in {"cls", "default", "metadata"} else _with_plain_numbers(v)
        for k, v in schema.items()
    }


@lru_cache(maxsize=256)
def _adapter(kind: type[Any]) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


@lru_cache(maxsize=256)
def _serializer(kind: type[Any]) -> SchemaSerializer:
    schema = _adapter(kind).core_schema  # type: ignore[arg-type]  # a type is hashable
    return SchemaSerializer(_with_plain_numbers(schema))


def to_json(view: object) -> bytes:
    """Return a view as it is sent.

    Raises
    ------
    ValueError
        Where a number in it is not finite: a mistake of ours.
    """
    found = _serializer(type(view))  # type: ignore[arg-type]
    return found.to_json(view, by_alias=True)


def as_json(view: object) -> Any:
    """Return a view as it is kept: in what JSON knows."""
    return from_json(to_json(view))


def read_json(kind: type[T], kept: Any) -> T:
    """Return a view from what was kept of it."""
    found: T = _adapter(kind).validate_python(kept)  # type: ignore[arg-type]
    return found


def _described_fields(kind: type[Any]) -> Mapping[str, str]:
    """Return what is said of each field of a dataclass in its source, after `#:`."""
    found: dict[str, str] = {}
    for base in reversed(kind.__mro__):
        if is_dataclass(base):
            found |= _said(base)
    return found


def _said(kind: type[Any]) -> dict[str, str]:
    names = {field.name for field in fields(kind)}
    found, above = {}, []
    for line in inspect.getsource(kind).splitlines():
        code, _, words = line.partition("#:")
        name = code.split(":")[0].strip()
        if not code.strip() and words:
            above.append(words.strip())
        elif name in names and (words or above):
            found[name] = words.strip() or " ".join(above)
            above = []
        elif code.strip():
            above = []
    return found


def _shown_in(kind: Any, seen: dict[str, type[Any]]) -> None:
    """Gather every class that an answer of this kind may hold, by its name."""
    for inner in getattr(kind, "__args__", ()):
        _shown_in(inner, seen)
    if not isinstance(kind, type) or seen.get(kind.__name__) is kind:
        return
    if is_dataclass(kind) or issubclass(kind, BaseModel):
        seen[kind.__name__] = kind
        for hint in get_type_hints(kind).values():
            _shown_in(hint, seen)


def with_fields_described(document: dict[str, Any], routes: Iterable[Any]) -> dict[str, Any]:
    """Return the OpenAPI document with what the sources say of the fields of each view."""
    seen: dict[str, type[Any]] = {}
    for route in routes:
        _shown_in(getattr(route, "response_model", None), seen)
    for name, schema in document["components"]["schemas"].items():
        kind = seen.get(name)
        if kind is None or not is_dataclass(kind):
            continue
        schema["required"] = list(schema["properties"])  # all of it is always sent
        under = {f.name: f.metadata.get("serialization_alias", f.name) for f in fields(kind)}
        for field, words in _described_fields(kind).items():
            inner = schema["properties"][under[field]]
            schema["properties"][under[field]] = (
                {"allOf": [inner], "description": words} if "$ref" in inner else
                {**inner, "description": words}
            )  # fmt: skip
    return document
