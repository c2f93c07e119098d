"""POST /api/sheet: a whole sheet from a brief, as the page shows it while one types."""

from __future__ import annotations

import math
from typing import Literal

from fastapi import APIRouter
from pydantic import Field, JsonValue

from lowfold.api.fields import Answer, Ask
from lowfold.api.networks import CautionAnswer
from lowfold.api.problems import responses
from lowfold.core.balance import balances
from lowfold.core.brief import BriefKind, DividerBrief, ResistanceBrief
from lowfold.core.choices import Choice, Choices
from lowfold.core.gates import Gate, Judged
from lowfold.core.network import Chain, Element, Tap, chain, resistance, write_network
from lowfold.core.quantities import (
    AMPERE,
    FRACTION,
    OHM,
    VOLT,
    WATT,
    Kind,
    write,
    write_pair,
    write_percent,
)
from lowfold.core.schematic import Metrics, draw
from lowfold.core.sheet import Sheet, build_sheet, governing_words, standing
from lowfold.core.verdict import Verdict

__all__ = ["BriefTexts", "router", "texts_of"]

router = APIRouter(prefix="/api", tags=["sheet"])

BriefTexts = dict[str, JsonValue]

#: Sizes in CSS pixels: beside a part stand two lines of writing; in a row of choices, none.
FULL = Metrics(part_width=142.0, part_height=96.0, symbol=44.0, lead=14.0, terminal=66.0)
#: The same for a network that would outgrow its place: shorter, and the writing stacked.
DENSE = Metrics(part_width=86.0, part_height=70.0, symbol=36.0, lead=12.0, terminal=52.0)
#: What the page has room for at full size.
ROOM_WIDTH, ROOM_HEIGHT = 380.0, 250.0
SMALL = Metrics(part_width=15.0, part_height=19.0, symbol=11.0, lead=3.0, terminal=0.0)


class SheetAsk(Ask):
    """A brief as typed."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "kind": "divider",
                    "brief": {"supply_v": "14.4 V", "target_v": "3V0", "load": "200k"},
                }
            ]
        }
    }

    kind: BriefKind
    brief: BriefTexts = Field(
        default_factory=dict, max_length=60, description="Token to text; defaults where not given"
    )
    prefer: str = Field("nearest", max_length=40)
    choice: str | None = Field(None, max_length=20_000, description="The network chosen before")


class TokenAnswer(Answer):
    text: str
    label: str = Field(description="What the token is called")
    ok: bool
    shown: str
    message: str


class Figure(Answer):
    """A number as written, its unit apart."""

    text: str
    unit: str


class GateAnswer(Answer):
    name: Literal["value", "spread", "load", "power"]
    verdict: Verdict | None
    figure: Figure | None
    of: str
    used: float | None = Field(description="Share of the allowance used; may exceed 1")
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


class ChoiceAnswer(Answer):
    notation: str
    lines: list[str] = Field(description="Values as read in the list, one leg a line")
    output: Figure
    off: Figure = Field(description="Nominal error")
    nominal: float
    lowest: float
    highest: float
    draws: Figure | None
    source: Figure | None
    verdict: Verdict | None
    words: str = Field(description="Which gate uses most of its allowance")
    gates: list[GateAnswer]
    table: list[TableRow]
    balances: list[BalanceSummary]
    tap: Figure | None = Field(description="Voltage at the tap")
    supply: str = Field(description="What is written in the supply's symbol")
    drawing: DrawingAnswer
    small: DrawingAnswer
    cautions: list[CautionAnswer]
    pinned: bool
    listed: bool = Field(description="False for a pinned choice that is no longer among the best")


class ScaleAnswer(Answer):
    """The scale all choices share."""

    low: float
    high: float
    window_low: float
    window_high: float
    target: float
    low_shown: str
    high_shown: str
    window_shown: str


class StandingAnswer(Answer):
    verdict: Verdict | None
    words: str
    need: str = Field(description="The need in short")
    figure: str = Field(description="What the choice gives")


class SheetAnswer(Answer):
    tokens: dict[str, TokenAnswer]
    prefer: str
    scale: ScaleAnswer | None
    choices: list[ChoiceAnswer]
    searched: int
    advice: str
    reason: str | None
    choice_problem: str
    standing: StandingAnswer


def texts_of(brief: BriefTexts) -> dict[str, str]:
    """Return the tokens that are text or numbers, as text."""
    return {
        name: str(value)
        for name, value in brief.items()
        if isinstance(value, str | int | float) and not isinstance(value, bool)
    }


@router.post("/sheet", responses=responses(422))
def sheet(ask: SheetAsk) -> SheetAnswer:
    """Read a brief token by token and answer with its choices, each weighed and drawn."""
    built = build_sheet(ask.kind, texts_of(ask.brief), ask.prefer, ask.choice)
    need, choices = built.reading.need, built.choices
    rows: list[ChoiceAnswer] = []
    if need is not None and choices is not None:
        pinned = built.pinned
        listed = {c.notation for c in choices.rows}
        if pinned is not None and pinned.notation not in listed:
            rows.append(_choice(need, pinned, pinned=True, listed=False))
        rows += [
            _choice(
                need, c, pinned=pinned is not None and c.notation == pinned.notation, listed=True
            )
            for c in choices.rows
        ]
    return SheetAnswer(
        tokens={k: TokenAnswer.model_validate(t) for k, t in built.reading.tokens.items()},
        prefer=built.preference,
        scale=_scale(need, choices) if need and choices else None,
        choices=rows,
        searched=choices.searched if choices else 0,
        advice=choices.advice if choices else "",
        reason=choices.reason if choices else None,
        choice_problem=built.choice_problem,
        standing=standing_answer(built),
    )


def standing_answer(built: Sheet) -> StandingAnswer:
    """Return how a sheet stands, as the page and the list show it."""
    return StandingAnswer.model_validate(standing(built))


def _figure(
    value: float | None, kind: Kind, digits: int = 4, *, trim: bool = False
) -> Figure | None:
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


def _scale(need: ResistanceBrief | DividerBrief, choices: Choices) -> ScaleAnswer:
    divider = isinstance(need, DividerBrief)
    kind = VOLT if divider else OHM
    target = need.target_volts if isinstance(need, DividerBrief) else need.target_ohms
    low, high = target * (1 - choices.scale), target * (1 + choices.scale)
    window = (target * (1 - need.within), target * (1 + need.within))
    return ScaleAnswer(
        low=low,
        high=high,
        window_low=window[0],
        window_high=window[1],
        target=target,
        low_shown=write(low, kind, 4),
        high_shown=write(high, kind, 4),
        window_shown=" … ".join(write(end, kind, 5, trim=True) for end in window),
    )


def _gate(gate: Gate) -> GateAnswer:
    figure: Figure | None
    if gate.figure is None:
        figure, of = None, ""
    elif gate.kind is FRACTION:
        figure = _signed(gate.figure)
        of = gate.of
        if gate.name in {"value", "spread"} and gate.allowed is not None:
            of = f"of ± {write(gate.allowed, FRACTION, 3, trim=True)}"
    else:
        figure = _figure(gate.figure, gate.kind, 3)
        allowed = write(gate.allowed, gate.kind, 3, trim=True) if gate.allowed is not None else ""
        of = f"of {allowed} {'allowed' if gate.kind is WATT else 'limiting'}"
    return GateAnswer(
        name=gate.name,
        verdict=gate.verdict,
        figure=figure,
        of=of,
        used=gate.used,
        notes=list(gate.notes),
    )


def _lines(network: Element) -> list[str]:
    """Write a divider leg by leg, a combination as it is read."""
    if isinstance(network, Chain):
        for place, item in enumerate(network.items):
            if isinstance(item, Tap):
                legs = (chain(network.items[:place]), chain(network.items[place + 1 :]))
                return [write(resistance(leg), OHM, 6, trim=True) for leg in legs]
    return [write_network(network, refs=False)]


def _choice(
    need: ResistanceBrief | DividerBrief, choice: Choice, *, pinned: bool, listed: bool
) -> ChoiceAnswer:
    divider = isinstance(need, DividerBrief)
    kind = VOLT if divider else OHM
    judged = choice.judged
    at = "OUT" if divider else "in"
    loads = [(f"L{i}", at) for i in range(1, len(judged.loads) + 1)]
    return ChoiceAnswer(
        notation=choice.notation,
        lines=_lines(choice.network),
        output=_must(choice.nominal, kind, 4 if divider else 5),
        off=Figure(text=write_percent(choice.error, 3), unit="%"),
        nominal=choice.nominal,
        lowest=choice.lowest,
        highest=choice.highest,
        draws=_figure(choice.amps, AMPERE, 3),
        source=_figure(choice.output_ohms, OHM, 3),
        verdict=judged.verdict,
        words=governing_words(judged.gates),
        gates=[_gate(g) for g in judged.gates],
        table=_table(judged),
        balances=_balances(judged),
        tap=_figure(choice.nominal, VOLT) if divider else None,
        supply=_supply_words(judged),
        drawing=_full_drawing(choice.network, loads, driven=judged.supply is not None),
        small=DrawingAnswer.model_validate(draw(choice.network, SMALL)),
        cautions=[CautionAnswer.model_validate(c) for c in judged.check.cautions],
        pinned=pinned,
        listed=listed,
    )


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
            resistance=_figure(p.ohms, OHM, 6, trim=True),
            voltage=_figure(p.volts, VOLT) if driven else None,
            current=_figure(p.amps, AMPERE) if driven else None,
            power=_figure(p.watts, WATT) if driven else None,
        )
        for p in solution.parts
    ]
    for number, stated in enumerate(judged.loads):
        counted = number < len(solution.load_amps)  # beside a resistance it is only compared
        volts = solution.voltages[stated.load.at] if counted else None
        amps = solution.load_amps[number] if counted else None
        rows.append(
            TableRow(
                name=f"load L{number + 1}",
                role="load",
                resistance=_figure(stated.load.ohms, OHM, 6, trim=True),
                voltage=_figure(volts, VOLT),
                current=_figure(amps, AMPERE),
                power=_figure(None if volts is None or amps is None else volts * amps, WATT),
            )
        )
    if driven:
        rows.append(
            TableRow(
                name="supply",
                role="supply",
                resistance=_figure(solution.total_ohms, OHM, 5),
                voltage=_figure(solution.terminal_volts, VOLT),
                current=_figure(solution.supply_amps, AMPERE),
                power=_figure(solution.supply_watts, WATT),
            )
        )
    return rows


def _balances(judged: Judged) -> list[BalanceSummary]:
    if judged.supply is None:
        return []
    solution = judged.check.solution
    current = math.isinf(judged.supply.source_ohms)
    emf = solution.terminal_volts if current else judged.supply.volts
    loads = [r.load for r in judged.loads] if solution.load_amps else []
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
