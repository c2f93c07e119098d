"""A design read, weighed and drawn for a reader elsewhere: its dossier."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any, Final

from lowfold.core.bench.inventory import Inventory, meters_with_typical
from lowfold.core.bench.models import HANDHELD
from lowfold.core.board.bill import bill_of
from lowfold.core.errors import LowfoldError
from lowfold.core.record.changes import choice_in_short
from lowfold.core.record.last_readings import last_readings
from lowfold.core.record.parts_list import Need, parts_list
from lowfold.core.record.statement import Statement, read_statement
from lowfold.core.sheet.standing import governing_words
from lowfold.core.tokens.names import texts_of
from lowfold.core.values.counting import counted
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, write
from lowfold.core.weighing.choice import Judged
from lowfold.views.dossier import (
    Caption,
    Curve,
    Dossier,
    GateLine,
    Histogram,
    Kept,
    LoadPlot,
    Measured,
    Note,
    Photograph,
    PlacedText,
    Sketch,
    Strip,
    Wears,
)
from lowfold.views.gates import gate_answer
from lowfold.views.kept_reading import MOST_READINGS, read_of
from lowfold.views.opened import OpenedAnswer, opened_answer
from lowfold.views.part_look import looks_of
from lowfold.views.round import Read, RoundAnswer, buildable, round_answer

__all__ = ["UNITS", "VERDICTS", "dossier_of", "minute"]
VERDICTS: Final = {"pass": "Pass", "marginal": "Marginal", "fail": "Fail"}


UNITS: Final = {"V": VOLT, "A": AMPERE, "Ω": OHM}


def dossier_of(kept: Kept, stock: Inventory) -> Dossier:
    """Work a design out for a reader; what cannot be worked out is told in words."""
    fields = kept.fields
    texts = texts_of(fields["brief"])
    kind = fields["kind"]
    state = read_statement(kind, texts, fields.get("choice"), stock.families, stock.lines)
    judged = state.judged
    opened = opened_answer(judged, "uniform") if judged else None
    rounded, meter = _round(kept, texts, stock) if judged else (None, "")
    lines = parts_list([Need("", bill_of(judged))]) if judged else ()
    worn = {w.ref: w for w in looks_of(judged)} if judged else {}
    return Dossier(
        name=fields["name"] or "Untitled",
        kind=kind,
        revision=kept.revision,
        written=datetime.now(UTC).strftime("%Y-%m-%d %H:%M UTC"),
        digest=kept.digest,
        need=_need(state),
        tokens=tuple(
            Caption(t.label, t.shown or t.text) for t in state.tokens.values() if not t.absent
        ),
        tags=tuple(fields.get("tags") or ()),
        choice=state.notation,
        choice_in_short=choice_in_short(state) if kind != "network" else "",
        why=fields.get("why") or "",
        verdict=_verdict(judged),
        wrong=state.wrong,
        sketch=_sketch(rounded) if rounded else None,
        gates=_gates(judged) if judged else (),
        **_pictures(judged, opened),
        parts=lines,
        wears=tuple(
            Wears(w.look, tuple(w.bands), w.code, w.why) for w in (worn[p.refs[0]] for p in lines)
        ),
        meter=meter,
        measured=_measured(rounded) if rounded else (),
        standing=_standing(rounded) if rounded else "",
        record=tuple(_note(entry, kept.photographs) for entry in kept.record),
        revisions=tuple(
            Caption(f"{number}, {minute(at)}", words) for number, at, words in kept.revisions
        ),
    )


def minute(at: str) -> str:
    """Return a time as it is read, to the minute."""
    return f"{at[:10]} {at[11:16]}"


def _need(state: Statement) -> str:
    said = [state.tokens[name].shown or state.tokens[name].text for name in state.said]
    if "within" not in state.tokens:
        return said[0]
    within = state.tokens["within"].shown or state.tokens["within"].text
    taps = [
        t.shown for n, t in state.tokens.items()
        if n.startswith("tap") and n.endswith("_v") and n not in state.said and not t.absent
    ]  # fmt: skip
    start = f"{said[0]} to " if len(said) > 1 else ""
    return f"{start}{', '.join([*(said[1:] or said), *taps])} ± {within}"


def _verdict(judged: Judged | None) -> str:
    if judged is None:
        return ""
    words = governing_words(judged.gates)
    return f"{VERDICTS[judged.verdict]}: {words}" if judged.verdict else words


def _gates(judged: Judged) -> tuple[GateLine, ...]:
    found = []
    for gate in judged.gates:
        shown = gate_answer(gate)
        figure = f"{shown.figure.text} {shown.figure.unit}".strip() if shown.figure else ""
        found.append(
            GateLine(
                gate.name,
                VERDICTS.get(str(gate.verdict or ""), "not judged"),
                f"{figure} {shown.of}".strip(),
                shown.margin,
                tuple(shown.notes),
            )
        )
    return tuple(found)


def _pictures(judged: Judged | None, opened: OpenedAnswer | None) -> dict[str, Any]:
    if judged is None or opened is None:
        names = ("strips", "histograms", "loads", "curves", "faults", "cautions")
        return dict.fromkeys(names, ())
    power = opened.power
    return {
        "strips": tuple(
            Strip(
                m.name, m.error, *m.deviations, m.within,
                tuple(
                    f"{c.name.capitalize()}: {_figure(c.value)} ({c.off})"
                    + (f", {c.words}" if c.words else "")
                    for c in opened.corners if c.at == m.name
                ),
            )
            for m in judged.marks
        ),
        "histograms": tuple(
            Histogram(
                s.name, tuple(s.edges), tuple(s.counts), s.lowest, s.highest, s.within, s.words
            )
            for s in opened.scatters
        ),
        "loads": tuple(
            LoadPlot(
                name=line.name, x_name=f"{line.x_name}, {line.x_unit}", y_name=line.y_unit,
                x=tuple(line.x), nominal=tuple(line.nominal), lowest=tuple(line.lowest),
                highest=tuple(line.highest), window=(line.window_low, line.window_high),
                points=tuple((p.x, p.y, p.name) for p in line.points),
                logarithmic=line.logarithmic, words=tuple(line.words),
            )
            for line in opened.lines
        ),
        "curves": tuple(
            Curve(
                c.name, tuple((p.ambient_c, p.share) for p in c.points), power.ambient_c,
                power.allowed,
                tuple(
                    (p.ref, p.share) for p in power.parts
                    if p.share is not None and (not c.name or p.ref in c.name.split(", "))
                ),
                tuple(power.words),
            )
            for c in power.curves
        ) if power and any(p.share is not None for p in power.parts) else (),
        "faults": tuple(
            Caption(
                f.words,
                "the supply is shorted" if f.supply_shorted else "; ".join(
                    f"{at} {_figure(v) or 'runs away'}" for at, v in f.outputs.items()
                ) + (f"; too hot: {', '.join(f.hot)}" if f.hot else ""),
            )
            for f in opened.faults
            if f.outputs or f.supply_shorted or f.hot
        ),
        "cautions": tuple(c.message for c in opened.cautions),
    }  # fmt: skip


def _figure(value: Any) -> str:
    return f"{value.text} {value.unit}".strip() if value is not None else ""


def _round(
    kept: Kept, texts: Mapping[str, str], stock: Inventory
) -> tuple[RoundAnswer | None, str]:
    """Go round the board with the readings that stand; None where that is too much."""
    readings, name = _standing_readings(kept.record)
    called = {m.name: m for m in meters_with_typical(stock.meters)}
    meter = called.get(name, HANDHELD)
    try:
        choice = kept.fields.get("choice")
        design = buildable(kept.fields["kind"], texts, choice, stock.families)
        try:
            found = round_answer(design, meter, readings, stock.meters)
        except LowfoldError:  # readings of a board that is no more, or too many points
            found = round_answer(design, HANDHELD, [], stock.meters)
    except LowfoldError:
        return None, ""
    return found, found.meter


def _standing_readings(record: Sequence[Mapping[str, Any]]) -> tuple[list[Read], str]:
    """Return the readings that stand, newest last, and the meter of the last."""
    entries = {entry["number"]: entry for entry in record}
    found, meter = [], ""
    for entry in (entries[number] for number in last_readings(record)):
        found.append(read_of(entry))
        meter = entry.get("meter") or meter
    return found[-MOST_READINGS:], meter


def _sketch(found: RoundAnswer) -> Sketch:
    drawing = found.drawing
    values = {p.ref: p.shown for p in found.parts}
    measured = {p.ref: f"measured {p.shown}" for p in found.measured}

    def beside(name: str) -> tuple[str, ...]:
        lines = (f"{name} {values[name]}", measured.get(name, ""))
        return tuple(line for line in lines if line)

    at_end = {"in": found.supply, "0": found.low} if drawing.grounds else {}
    parts = [p for p in drawing.parts if p.name in values]
    switches = [p for p in drawing.parts if p.name not in values]
    return Sketch(
        width=drawing.width,
        height=drawing.height,
        symbol=drawing.symbol,
        wires=tuple((w.x1, w.y1, w.x2, w.y2) for w in drawing.wires),
        parts=tuple(PlacedText(p.x, p.y, beside(p.name)) for p in parts),
        switches=tuple(PlacedText(p.x, p.y, (p.name,)) for p in switches),
        loads=tuple(
            PlacedText(p.x, p.y, (f"{p.name} {found.hung.get(p.name, '')}".strip(),))
            for p in drawing.loads
        ),
        nodes=tuple(PlacedText(at.x, at.y, (name,)) for name, at in found.places.items()),
        supply=PlacedText(drawing.supply.x, drawing.supply.y, (found.supply,))
        if drawing.supply
        else None,
        ends=tuple(PlacedText(p.x, p.y, (at_end.get(p.name, p.name),)) for p in drawing.ends),
        grounds=tuple(PlacedText(p.x, p.y, (p.name,)) for p in drawing.grounds),
    )


def _standing(found: RoundAnswer) -> str:
    if not found.elsewhere:
        return found.build.words
    elsewhere = counted(found.elsewhere, "reading")
    return f"{found.build.words}; {elsewhere} of the record of another board"


def _measured(found: RoundAnswer) -> tuple[Measured, ...]:
    return tuple(
        Measured(
            step.point.words,
            step.expected,
            step.limits,
            (step.reading.shown or step.reading.text) if step.reading else "",
            step.told or "",
        )
        for step in found.steps
    )


def _note(entry: dict[str, Any], photographs: dict[int, Photograph]) -> Note:
    beside = []
    value, unit = entry.get("value"), entry.get("unit")
    if value is not None and unit in UNITS:
        beside.append(f"= {write(value, UNITS[unit], 5, trim=True)}")
    low, high = entry.get("lowest"), entry.get("highest")
    if low is not None and high is not None and unit in UNITS:
        ends = " to ".join(write(v, UNITS[unit], 5, trim=True) for v in (low, high))
        beside.append(f"expected {ends}")
    point = entry.get("point") or {}
    where = " ".join(str(v) for k, v in point.items() if k != "kind" and v is not None)
    if where:
        beside.insert(0, f"{point.get('kind', '')} {where}")
    names = (("verdict", "{}"), ("meter", "with the {}"), ("corrects", "corrects no. {}"))
    beside += [words.format(entry[n]) for n, words in (*names, ("of", "of no. {}")) if entry.get(n)]
    return Note(
        entry["number"],
        minute(entry["at"]),
        entry["kind"],
        entry["text"],
        ", ".join(beside),
        photographs.get(entry.get("evidence") or 0),
    )
