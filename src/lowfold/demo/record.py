"""The demo's lived-in record: one board built and measured, one whose fault was found."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any, Final, cast

from PIL import Image, ImageDraw
from sqlalchemy.orm import Session

from lowfold.core.bench.models import HANDHELD
from lowfold.core.tokens.names import texts_of
from lowfold.formats.pictures import read_picture
from lowfold.store.evidence import add_evidence
from lowfold.store.models import DesignRow
from lowfold.store.record import add_entry
from lowfold.views.point import Named
from lowfold.views.round import Read, buildable, round_answer

__all__ = ["live_in"]

UNITS: Final = {"voltage": "V", "current": "A", "resistance": "Ω"}


@dataclass(frozen=True, slots=True)
class _Entry:
    days: int  #: ago
    time: str
    kind: str
    text: str
    point: dict[str, str] | None = None
    of: int = 0  #: number of the entry it belongs to, or corrects


def _volts(days: int, time: str, at: str, text: str) -> _Entry:
    return _Entry(days, time, "reading", text, {"kind": "voltage", "at": at, "against": "0"})


def _lifted(days: int, time: str, part: str, text: str) -> _Entry:
    return _Entry(days, time, "reading", text, {"kind": "resistance", "part": part})


BATTERY: Final = (
    _Entry(
        9, "09:12", "decision",
        "200k over 56k: both in the 0603 book, and 57 µA is nothing beside the logger.",
    ),
)  # fmt: skip
LOOP: Final = (
    _Entry(8, "16:20", "decision", "150 and 100 in series: the drawer has both, 1 % film."),
    _Entry(6, "14:03", "note", "Soldered across the receiver's screw terminals, leads kept short."),
    _Entry(6, "14:05", "photo", "receiver board, both parts in place"),
    _lifted(6, "14:20", "R1", "149.8"),
    _lifted(6, "14:22", "R2", "100.3"),
    _Entry(6, "14:26", "reading", "249.9", {"kind": "resistance", "at": "in", "against": "0"}),
    _Entry(6, "14:40", "note", "Measures right: 4.998 V at 20 mA, the gauge's full scale."),
)
PROBE: Final = (
    _Entry(13, "10:02", "note", "Off the last buoy: reads far too warm since the spring."),
    _volts(13, "10:15", "in", "12.02"),
    _volts(13, "10:16", "A", "9.13"),
    _Entry(13, "10:18", "photo", "old probe board as it came off the buoy", of=3),
    _volts(13, "10:24", "B", "0"),
    _Entry(13, "10:41", "finding", "R3 open: a cracked joint at its upper end; found and mended."),
    _Entry(13, "10:52", "correction", "taken back", of=3),
    _Entry(13, "10:52", "correction", "taken back", of=5),
    _volts(13, "10:55", "A", "5.94"),
    _volts(13, "10:56", "B", "3.51"),
)


STORIES: Final = {"Battery sense": BATTERY, "Loop receiver": LOOP, "Old probe board": PROBE}


def live_in(session: Session, design: DesignRow) -> None:
    """Write a demo design's record, as somebody kept it; committed by the caller."""
    story = {"Battery sense": BATTERY, "Loop receiver": LOOP, "Old probe board": PROBE}.get(
        design.name, ()
    )
    named: list[int] = []
    for entry in story:
        day = datetime.now(UTC) - timedelta(days=entry.days)
        at = f"{day:%Y-%m-%d}T{entry.time}:00.000+00:00"
        facts: dict[str, Any] = {}
        if entry.point is not None:
            facts = _reading(design, entry)
        elif entry.kind == "photo":
            row = add_evidence(session, design.id, read_picture(_photograph(design.name)), at)
            facts = {"evidence": row.id} | ({"of": named[entry.of - 1]} if entry.of else {})
        elif entry.kind == "correction":
            facts = {"corrects": named[entry.of - 1]}
        elif entry.kind == "decision":
            facts = {"choice": design.choice}
        named.append(add_entry(session, design.id, entry.kind, entry.text, facts, at).id)


def _reading(design: DesignRow, entry: _Entry) -> dict[str, Any]:
    """Return a reading's facts, judged as the bench does."""
    assert entry.point is not None  # it is a reading
    kind: Any = design.kind
    built = buildable(kind, texts_of(design.brief), design.choice, ())
    read = Read(cast("Named", entry.point), entry.text)
    found = round_answer(built, HANDHELD, [read], ())
    step = next(s for s in found.steps if s.reading)
    assert step.reading is not None  # it is the one asked for
    return {
        "point": entry.point,
        "value": step.reading.value,
        "unit": UNITS[entry.point["kind"]],
        "meter": HANDHELD.name,
        "board": found.board,
        "lowest": step.point.lowest,
        "highest": step.point.highest,
        "verdict": step.told,
    }


def _photograph(name: str) -> bytes:
    """Draw what a photograph of a board would show; an invented board has none."""
    picture = Image.new("RGB", (960, 600), (38, 84, 62))
    pen = ImageDraw.Draw(picture)
    for k in range(9):
        pen.line((60 + 100 * k, 60, 110 + 95 * k, 540), fill=(52, 106, 80), width=6)
    for x in (120, 840):
        pen.ellipse(
            (x - 26, 274, x + 26, 326), fill=(196, 168, 92), outline=(120, 100, 50), width=8
        )
    cracked = name == "Old probe board"
    marks = ("272", "392") if cracked else ("1500", "1000")
    for mark, y in zip(marks, (180, 420), strict=True):
        pen.rectangle((330, y - 42, 630, y + 42), fill=(30, 30, 32))
        for x in (330, 580):
            pen.rectangle((x, y - 42, x + 50, y + 42), fill=(206, 206, 200))
        pen.text((448, y - 16), mark, fill="white", font_size=30)
    if cracked:
        pen.arc((300, 120, 400, 240), 200, 330, fill=(20, 20, 20), width=5)
    found = io.BytesIO()
    picture.save(found, "JPEG", quality=85)
    return found.getvalue()
