"""A choice on the wire: its figures as written, its gates, its table and its drawings."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import Field

from lowfold.api.fields import Answer
from lowfold.api.networks import CautionAnswer
from lowfold.core.checking.verdict import Verdict
from lowfold.core.drawing.schematic import Metrics, draw
from lowfold.core.needs.choice import Choice, Judged
from lowfold.core.needs.gates import Gate, margin_words
from lowfold.core.network.circuit import load_names
from lowfold.core.network.tree import Element
from lowfold.core.solving.balance import balances
from lowfold.core.values.quantities import (
    AMPERE,
    CELSIUS,
    FRACTION,
    OHM,
    PPM_PER_KELVIN,
    VOLT,
    WATT,
    Kind,
    write,
    write_pair,
    write_percent,
)
from lowfold.core.workbench.standing import governing_words

__all__ = [
    "DENSE",
    "FULL",
    "TINY",
    "ChoiceAnswer",
    "DrawingAnswer",
    "Figure",
    "GateAnswer",
    "choice_answer",
    "figure",
    "gate_answer",
]

#: Sizes in CSS pixels: beside a part stand two lines of writing; in a row of choices, none.
FULL = Metrics(part_width=142.0, part_height=96.0, symbol=44.0, lead=14.0, terminal=66.0)
#: The same for a network that would outgrow its place: shorter, and the writing stacked.
DENSE = Metrics(part_width=88.0, part_height=66.0, symbol=36.0, lead=12.0, terminal=86.0, lines=3)
#: For many parts: names and values alone.
TINY = Metrics(part_width=84.0, part_height=34.0, symbol=22.0, lead=8.0, terminal=80.0, lines=1)
#: What the page has room for at full size.
ROOM_WIDTH, ROOM_HEIGHT = 380.0, 250.0
EXACT = 15  #: figures at which a decimal that was typed is written back as it was
MOST_USED = 1e9  #: what is told where nothing is allowed: JSON knows no infinity
SMALL = Metrics(part_width=15.0, part_height=19.0, symbol=11.0, lead=3.0, terminal=0.0)


class Figure(Answer):
    """A number as written, its unit apart."""

    text: str
    unit: str


class GateAnswer(Answer):
    name: Literal["value", "spread", "load", "power"]
    verdict: Verdict | None
    figure: Figure | None
    of: str
    used: float | None = Field(
        description="Share of the allowance used; may exceed 1 (1e9 where nothing is allowed)"
    )
    margin: str = Field(description="What is left of the allowance, or by how much it is exceeded")
    notes: list[str]


class PlacedAnswer(Answer):
    name: str
    x: float
    y: float


class WireAnswer(Answer):
    x1: float
    y1: float
    x2: float
    y2: float


class DrawingAnswer(Answer):
    width: float
    height: float
    column: float = Field(description="Width of one part with its writing")
    symbol: float = Field(description="Length of a part's symbol")
    lines: int = Field(description="Of writing there is room for beside a part")
    wires: list[WireAnswer]
    parts: list[PlacedAnswer]
    loads: list[PlacedAnswer]
    dots: list[PlacedAnswer]
    supply: PlacedAnswer | None
    ends: list[PlacedAnswer]


class TableRow(Answer):
    """One line of the V-I-R-P table."""

    name: str
    role: Literal["part", "load", "supply"]
    resistance: Figure | None
    voltage: Figure | None
    current: Figure | None
    power: Figure | None


class BalanceSummary(Answer):
    name: str
    holds: bool


class MarkAnswer(Answer):
    """One figure of a choice on the shared scale, as deviations from its target."""

    name: str
    error: float
    lowest: float
    highest: float


class ChoiceAnswer(Answer):
    notation: str
    lines: list[str] = Field(description="Values as read in the list, one leg a line")
    output: Figure = Field(description="Of the figure that is furthest off")
    off: Figure = Field(description="Nominal error of that figure")
    marks: list[MarkAnswer]
    draws: Figure | None
    source: Figure | None
    parts: int = Field(description="How many parts")
    distinct: int = Field(description="How many different values")
    series: str = Field(description="Most widely stocked series that has every value")
    spread: float = Field(description="Largest deviation at the worst corner")
    amps: float | None
    verdict: Verdict | None
    words: str = Field(description="Which gate uses most of its allowance")
    gates: list[GateAnswer]
    table: list[TableRow]
    balances: list[BalanceSummary]
    taps: dict[str, Figure] = Field(description="Voltages at the taps")
    supply: str = Field(description="What is written in the supply's symbol")
    drawing: DrawingAnswer
    small: DrawingAnswer
    cautions: list[CautionAnswer]
    as_network: dict[str, str] = Field(
        description="The choice as the brief of a network of its own, to be folded"
    )
    pinned: bool
    listed: bool = Field(description="False for one that is not among the best")


def figure(
    value: float | None, kind: Kind, digits: int = 4, *, trim: bool = False
) -> Figure | None:
    """Write a value as number and unit, apart; None where there is none to write."""
    if value is None or not math.isfinite(value):
        return None
    text, unit = write_pair(value, kind, digits, trim=trim)
    return Figure(text=text, unit=unit)


def _must(value: float, kind: Kind, digits: int) -> Figure:
    text, unit = write_pair(value, kind, digits)
    return Figure(text=text, unit=unit)


def _signed(value: float) -> Figure:
    text, unit = write_pair(value, FRACTION, 3)
    return Figure(text=("+" if value > 0 else "") + text, unit=unit)


def gate_answer(gate: Gate) -> GateAnswer:
    """Return a gate as the page shows it."""
    shown: Figure | None
    if gate.figure is None:
        shown, of = None, ""
    elif gate.kind is FRACTION:
        shown = _signed(gate.figure)
        of = gate.of
        if gate.name in {"value", "spread"} and gate.allowed is not None:
            of = f"of ± {write(gate.allowed, FRACTION, 3, trim=True)}"
    else:
        shown = figure(gate.figure, gate.kind, 3)
        allowed = write(gate.allowed, gate.kind, 3, trim=True) if gate.allowed is not None else ""
        of = f"of {allowed}" if gate.kind is WATT else f"of {allowed} {gate.of}"
    return GateAnswer(
        name=gate.name,
        verdict=gate.verdict,
        figure=shown,
        of=of,
        used=None if gate.used is None else min(gate.used, MOST_USED),
        margin=margin_words(gate),
        notes=list(gate.notes),
    )


def choice_answer(choice: Choice, unit: Kind, *, pinned: bool, listed: bool) -> ChoiceAnswer:
    """Return a choice as the page shows it."""
    judged, governing = choice.judged, choice.governing
    names = {node: name for name, node in judged.circuit.names.items()}
    titles = load_names(judged.circuit, len(judged.loads))
    loads = [
        (title, names.get(stated.load.at, "in"))
        for title, stated in zip(titles, judged.loads, strict=True)
    ]
    marks = [
        MarkAnswer(
            name=m.name,
            error=m.error,
            lowest=m.lowest / m.target - 1,
            highest=m.highest / m.target - 1,
        )
        for m in choice.marks
    ]
    volts = judged.check.solution.voltages
    taps = {
        name: found
        for name, node in judged.circuit.names.items()
        if judged.supply is not None and (found := figure(volts[node], VOLT))
    }
    return ChoiceAnswer(
        notation=choice.notation,
        lines=list(choice.lines),
        output=_must(governing.nominal, unit, 4 if unit is VOLT else 5),
        off=Figure(text=write_percent(governing.error, 3), unit="%"),
        marks=marks,
        draws=figure(choice.amps, AMPERE, 3),
        source=figure(choice.output_ohms, OHM, 3),
        parts=len(choice.values),
        distinct=choice.distinct,
        series=choice.series,
        spread=max(max(abs(m.lowest), abs(m.highest)) for m in marks),
        amps=choice.amps,
        verdict=judged.verdict,
        words=governing_words(judged.gates),
        gates=[gate_answer(g) for g in judged.gates],
        table=_table(judged),
        balances=_balances(judged),
        taps=taps,
        supply=_supply_words(judged),
        drawing=_full_drawing(choice.network, loads, driven=judged.supply is not None),
        small=DrawingAnswer.model_validate(draw(choice.network, SMALL)),
        cautions=[CautionAnswer.model_validate(c) for c in judged.check.cautions],
        as_network=_as_network(choice, loads),
        pinned=pinned,
        listed=listed,
    )


def _as_network(choice: Choice, loads: list[tuple[str, str]]) -> dict[str, str]:
    """Return the brief that states a choice with all its conditions as a network of its own."""
    judged = choice.judged
    brief = {"network": choice.notation, **_as_parts(judged)}
    supply = judged.supply
    if supply is not None:
        current = math.isinf(supply.source_ohms)
        volts = judged.check.solution.terminal_volts if current else supply.volts
        brief["supply_v"] = write(volts, VOLT, EXACT, trim=True)
        if supply.tolerance:
            brief["supply_tolerance"] = write(supply.tolerance, FRACTION, EXACT, trim=True)
        if supply.source_ohms and not current:
            brief["source_ohm"] = write(supply.source_ohms, OHM, EXACT, trim=True)
    hung = []
    for (_, at), stated in zip(loads, judged.loads, strict=True):
        load = stated.load
        nominal = load.ohms if load.ohms is not None else load.amps or 0.0
        words = write(nominal, AMPERE if load.ohms is None else OHM, EXACT, trim=True)
        if stated.high > nominal:
            around = write(round(stated.high / nominal - 1, 12), FRACTION, EXACT, trim=True)
            words += f" ± {around}"
        hung.append(f"{at} {words}")
    if judged.stands is not None and judged.pair is None:
        brief["feeds_v"] = write(judged.stands, VOLT, EXACT, trim=True)
    wanted = [
        f"{m.name or 'total'} {write(m.target, m.kind, EXACT, trim=True)} "
        f"± {write(m.within, FRACTION, EXACT, trim=True)}"
        for m in judged.marks
        if judged.pair is None  # a regulator's output is no junction of its pair
    ]
    found = {"loads": ", ".join(hung), "wanted": ", ".join(wanted)}
    return brief | {name: text for name, text in found.items() if text}


def _as_parts(judged: Judged) -> dict[str, str]:
    """Return the tokens that state what a choice's parts are sold under and what surrounds them."""
    parts = judged.parts
    half = {b.ref: h for b, h in zip(judged.circuit.branches, judged.box.half_widths, strict=True)}
    measured = [ref for ref, h in half.items() if h == 0 < parts.half_width]
    own = [o.words for o in parts.own if o.ref.upper() not in {r.upper() for r in measured}]
    own += [f"{ref} 0 % 0 ppm/K" for ref in measured]
    found = {
        "tolerance": write(parts.tolerance, FRACTION, EXACT, trim=True),
        "tcr": write(parts.tcr_ppm, PPM_PER_KELVIN, EXACT, trim=True),
        "drift": write(parts.drift, FRACTION, EXACT, trim=True),
        "stress": write(parts.stress, FRACTION, EXACT, trim=True),
        "low_c": write(parts.environment.low_c, CELSIUS, EXACT, trim=True),
        "high_c": write(parts.environment.high_c, CELSIUS, EXACT, trim=True),
    }
    if judged.supply is not None and parts.rated:
        found["rating"] = parts.family.name
    if own:
        found["own"] = "; ".join(own)
    if parts.ratio is not None:
        found["tracking"] = write(parts.ratio, FRACTION, EXACT, trim=True)
    return found


def _supply_words(judged: Judged) -> str:
    if judged.supply is None:
        return ""
    current = math.isinf(judged.supply.source_ohms)
    return write(judged.supply.volts, AMPERE if current else VOLT, 4, trim=True)


def _table(judged: Judged) -> list[TableRow]:
    solution, driven = judged.check.solution, judged.supply is not None
    rows = [
        TableRow(
            name=p.ref,
            role="part",
            resistance=figure(p.ohms, OHM, 6, trim=True),
            voltage=figure(p.volts, VOLT) if driven else None,
            current=figure(p.amps, AMPERE) if driven else None,
            power=figure(p.watts, WATT) if driven else None,
        )
        for p in solution.parts
    ]
    names = load_names(judged.circuit, len(judged.loads))
    for name, stated, drawn in zip(names, judged.loads, solution.load_amps, strict=True):
        volts = solution.voltages[stated.load.at] if driven else None
        amps = drawn if driven else None
        rows.append(
            TableRow(
                name=f"load {name}",
                role="load",
                resistance=figure(stated.load.ohms, OHM, 6, trim=True),
                voltage=figure(volts, VOLT),
                current=figure(amps, AMPERE),
                power=figure(None if volts is None or amps is None else volts * amps, WATT),
            )
        )
    if driven:
        rows.append(
            TableRow(
                name="supply",
                role="supply",
                resistance=figure(solution.total_ohms, OHM, 5),
                voltage=figure(solution.terminal_volts, VOLT),
                current=figure(solution.supply_amps, AMPERE),
                power=figure(solution.supply_watts, WATT),
            )
        )
    return rows


def _balances(judged: Judged) -> list[BalanceSummary]:
    if judged.supply is None:
        return []
    solution = judged.check.solution
    current = math.isinf(judged.supply.source_ohms)
    emf = solution.terminal_volts if current else judged.supply.volts
    loads = [r.load for r in judged.loads]
    every = balances(judged.circuit, solution, emf, loads)
    words = (("loop", "loops close"), ("junction", "junctions balance"), ("power", "powers add up"))
    return [
        BalanceSummary(name=name, holds=all(b.holds for b in every if b.name.startswith(start)))
        for start, name in words
    ]


def _full_drawing(network: Element, loads: list[tuple[str, str]], *, driven: bool) -> DrawingAnswer:
    drawing = draw(network, FULL, loads, driven=driven)
    if drawing.width > ROOM_WIDTH or drawing.height > ROOM_HEIGHT:
        drawing = draw(network, DENSE, loads, driven=driven)
    return DrawingAnswer.model_validate(drawing)
