"""A drawing on the wire: what its picture is made of, in CSS pixels."""

from __future__ import annotations

from pydantic import Field

from lowfold.api.fields import Answer
from lowfold.core.drawing.schematic import Side

__all__ = ["DrawingAnswer", "PlacedAnswer", "WireAnswer"]


class PlacedAnswer(Answer):
    name: str
    x: float
    y: float
    angle: float = Field(0.0, description="Degrees that a part is turned by, from upright")
    side: Side = Field("right", description="Where what is written of it stands")


class WireAnswer(Answer):
    x1: float
    y1: float
    x2: float
    y2: float
    net: int | None = Field(
        description="The junction it is at; null through the supply's symbol", default=None
    )


class DrawingAnswer(Answer):
    width: float
    height: float
    column: float = Field(description="Width of one part with its writing")
    symbol: float = Field(description="Length of a part's symbol")
    lines: int = Field(description="Of writing there is room for beside a part")
    stacked: bool = Field(description="Voltage and current have a line each there")
    wires: list[WireAnswer]
    parts: list[PlacedAnswer]
    loads: list[PlacedAnswer]
    dots: list[PlacedAnswer]
    supply: PlacedAnswer | None
    ends: list[PlacedAnswer]
    grounds: list[PlacedAnswer] = Field(description="Marks of 0 V where no end lies there")
