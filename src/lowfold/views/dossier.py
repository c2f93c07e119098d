"""A design as it is handed to a reader: in words and geometry, nothing left to work out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Final, Literal

if TYPE_CHECKING:  # the server's own process hands dossiers on, and computes nothing
    from lowfold.core.record.parts_list import PartsLine

__all__ = [
    "GROUND_BARS",
    "Caption",
    "Curve",
    "Dossier",
    "GateLine",
    "Histogram",
    "Kept",
    "LoadPlot",
    "Measured",
    "Note",
    "Photograph",
    "PlacedText",
    "Sketch",
    "Strip",
    "Wears",
    "What",
]


#: Half the widths of the bars of a mark of 0 V, from the wire down.
GROUND_BARS: Final = (9, 5.5, 2)


@dataclass(frozen=True, slots=True)
class PlacedText:
    """Something at a point of a drawing, with what is written beside it."""

    x: float
    y: float
    lines: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Sketch:
    """A schematic, in CSS pixels, y downwards."""

    width: float
    height: float
    symbol: float  #: length of a part's symbol
    wires: tuple[tuple[float, float, float, float], ...]
    parts: tuple[PlacedText, ...]
    switches: tuple[PlacedText, ...]
    loads: tuple[PlacedText, ...]
    nodes: tuple[PlacedText, ...]
    supply: PlacedText | None
    ends: tuple[PlacedText, ...]
    grounds: tuple[PlacedText, ...] = ()  #: marks of 0 V, where no end lies there


@dataclass(frozen=True, slots=True)
class GateLine:
    name: str
    verdict: str
    figure: str
    margin: str
    notes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Strip:
    """A figure's span against its window, all as fractions of the target."""

    name: str
    nominal: float
    lowest: float
    highest: float
    within: float
    words: tuple[str, ...]  #: nominal, lowest, highest with their corners


@dataclass(frozen=True, slots=True)
class Histogram:
    name: str
    edges: tuple[float, ...]  #: fractions of the target
    counts: tuple[int, ...]
    lowest: float
    highest: float
    within: float
    words: str


@dataclass(frozen=True, slots=True)
class LoadPlot:
    """A figure against what loads it."""

    name: str
    x_name: str
    y_name: str
    x: tuple[float, ...]
    nominal: tuple[float, ...]
    lowest: tuple[float, ...]
    highest: tuple[float, ...]
    window: tuple[float, float]
    points: tuple[tuple[float, float, str], ...]
    logarithmic: bool
    words: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Curve:
    """A derating curve with the parts on it, shares of the rating over °C."""

    name: str
    points: tuple[tuple[float, float], ...]
    ambient_c: float
    allowed: float
    parts: tuple[tuple[str, float], ...]
    words: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Wears:
    """What is to be seen on a part to be fetched."""

    look: str  #: bands, chip or printed
    bands: tuple[str, ...]
    code: str
    why: str


@dataclass(frozen=True, slots=True)
class Measured:
    """A point of the round: expected, and what was read there."""

    where: str
    expected: str
    limits: str
    read: str
    verdict: str


@dataclass(frozen=True, slots=True)
class Photograph:
    width: int
    height: int
    media: str
    sha256: str
    image: bytes = field(repr=False)


@dataclass(frozen=True, slots=True)
class Note:
    """An entry of the record."""

    number: int
    at: str
    kind: str
    text: str
    beside: str  #: what else is known of it
    photograph: Photograph | None = None


@dataclass(frozen=True, slots=True)
class Caption:
    """A line of a table of two columns."""

    name: str
    text: str


@dataclass(frozen=True, slots=True)
class Dossier:
    name: str
    kind: str
    revision: int
    written: str  #: when, to the minute
    digest: str
    need: str
    tokens: tuple[Caption, ...]
    tags: tuple[str, ...]
    choice: str
    choice_in_short: str
    why: str
    verdict: str
    wrong: str  #: why it is not weighed
    sketch: Sketch | None
    gates: tuple[GateLine, ...]
    strips: tuple[Strip, ...]
    histograms: tuple[Histogram, ...]
    loads: tuple[LoadPlot, ...]
    curves: tuple[Curve, ...]
    faults: tuple[Caption, ...]
    cautions: tuple[str, ...]
    parts: tuple[PartsLine, ...]
    wears: tuple[Wears, ...]  #: of each line of parts
    meter: str
    measured: tuple[Measured, ...]
    standing: str  #: how far it is measured
    record: tuple[Note, ...]
    revisions: tuple[Caption, ...]


What = Literal["paper", "text", "parts", "drawing"]


@dataclass(frozen=True, slots=True)
class Kept:
    """A design as the store has it, to be handed to a worker."""

    fields: dict[str, Any]
    revision: int
    digest: str
    record: Sequence[dict[str, Any]]  #: with `number` and `at`
    photographs: dict[int, Photograph]  #: by their number in the record's `evidence`
    revisions: Sequence[tuple[int, str, str]]  #: number, when, what changed
