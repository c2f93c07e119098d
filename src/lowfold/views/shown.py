"""The choice that is shown: its gates, its table, its drawing."""

from __future__ import annotations

import math
from typing import Literal

from lowfold.core.checking.cautions import Caution
from lowfold.core.drawing.schematic import Drawing
from lowfold.core.network.circuit import load_names
from lowfold.core.network.editing import with_source
from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Element
from lowfold.core.solving.balance import balances
from lowfold.core.tokens.loads import LoadToken, load_text
from lowfold.core.tokens.reading import STIFF
from lowfold.core.values.quantities import (
    AMPERE,
    CELSIUS,
    FRACTION,
    OHM,
    PPM_PER_KELVIN,
    VOLT,
    WATT,
    write,
)
from lowfold.core.weighing.choice import Choice, Judged
from lowfold.views.drawings import full_drawing
from lowfold.views.figures import Figure, figure
from lowfold.views.gates import GateAnswer, gate_answer
from lowfold.views.part_look import PartLook, looks_of
from lowfold.views.view import view

__all__ = ["EXACT", "BalanceSummary", "ShownAnswer", "TableRow", "low_words", "shown_answer"]
EXACT = 15  #: figures at which a decimal that was typed is written back as it was


@view
class TableRow:
    """One line of the V-I-R-P table."""

    name: str
    role: Literal["part", "load", "source", "supply"]
    resistance: Figure | None
    voltage: Figure | None
    current: Figure | None
    power: Figure | None


@view
class BalanceSummary:
    name: str
    holds: bool


@view
class ShownAnswer:
    """What is shown of the one choice under the cursor."""

    notation: str
    gates: list[GateAnswer]
    table: list[TableRow]
    balances: list[BalanceSummary]
    taps: dict[str, Figure]  #: Voltages at the taps
    supply: str  #: What is written in the supply's symbol
    low: str  #: What the other end lies at; empty at 0 V
    drawing: Drawing
    cautions: list[Caution]
    parts: list[PartLook]  #: What is to be seen on each part in the bin
    as_network: dict[str, str]  #: The choice as the brief of a network of its own, to be folded


def shown_answer(choice: Choice) -> ShownAnswer:
    """Return a choice as the page shows it under the cursor."""
    judged = choice.judged
    names = {node: name for name, node in judged.circuit.names.items()}
    titles = load_names(judged.circuit, len(judged.loads))
    loads = [
        (title, names.get(stated.load.at, "in"))
        for title, stated in zip(titles, judged.loads, strict=True)
    ]
    inside = _inside(judged, choice.network)
    volts = judged.check.solution.voltages
    taps = {
        name: found
        for name, node in judged.circuit.names.items()
        if judged.supply is not None and (found := figure(volts[node], VOLT))
    }
    return ShownAnswer(
        notation=choice.notation,
        gates=[gate_answer(g) for g in judged.gates],
        table=_table(judged, inside[1] if inside else ""),
        balances=_balances(judged),
        taps=taps,
        supply=_supply_words(judged),
        low=low_words(judged),
        drawing=full_drawing(
            inside[0] if inside else choice.network,
            [(title, inside[2] if inside and at == "in" else at) for title, at in loads],
            driven=judged.supply is not None,
            two_ends=bool(low_words(judged)),
        ),
        cautions=list(judged.check.cautions),
        parts=looks_of(judged),
        as_network=_as_network(choice, loads),
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
        if supply.low_volts:
            brief["low_v"] = write(supply.low_volts, VOLT, EXACT, trim=True)
    hung = []
    for (_, at), stated in zip(loads, judged.loads, strict=True):
        token = LoadToken(stated.load.ohms, stated.load.amps, stated.low, stated.high)
        hung.append(f"{at} {load_text(token)}")
    if judged.stiff != STIFF:
        brief["stiff"] = "any" if judged.stiff is None else f"{judged.stiff:g}"
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


def low_words(judged: Judged) -> str:
    """Return what the network's other end lies at, where that is not 0 V."""
    low = judged.supply.low_volts if judged.supply else 0.0
    return write(low, VOLT, 4, trim=True) if low else ""


def _inside(judged: Judged, network: Element) -> tuple[Element, str, str] | None:
    """Return the network with the resistance inside its supply drawn as a part, where it has any.

    With the part's designator and the name of the supply's terminal behind it.
    """
    supply = judged.supply
    if supply is None or not supply.source_ohms or math.isinf(supply.source_ohms):
        return None
    found, ref, terminal = with_source(network, supply.source_ohms)
    assert not isinstance(found, Netlist)  # a choice is none
    return found, ref, terminal


def _table(judged: Judged, inside: str) -> list[TableRow]:
    """Return a row a part and load, one for what is inside the supply, and one for that."""
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
                resistance=figure(stated.load.ohms, OHM, 4, trim=True),
                voltage=figure(volts, VOLT),
                current=figure(amps, AMPERE),
                power=figure(None if volts is None or amps is None else volts * amps, WATT),
            )
        )
    supply = judged.supply
    if inside and supply is not None:
        drop = solution.supply_amps * supply.source_ohms
        rows.insert(
            0,
            TableRow(
                name=inside,
                role="source",
                resistance=figure(supply.source_ohms, OHM, 6, trim=True),
                voltage=figure(drop, VOLT),
                current=figure(solution.supply_amps, AMPERE),
                power=figure(drop * solution.supply_amps, WATT),
            ),
        )
    if supply is not None:
        current = math.isinf(supply.source_ohms)
        behind = 0.0 if current else supply.source_ohms
        rows.append(
            TableRow(
                name="supply",
                role="supply",
                resistance=figure(solution.total_ohms + behind, OHM, 5, trim=True),
                voltage=figure(solution.terminal_volts if current else supply.volts, VOLT),
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
    every = balances(judged.circuit, solution, emf, loads, judged.supply.low_volts)
    words = (("loop", "loops close"), ("junction", "junctions balance"), ("power", "powers add up"))
    return [
        BalanceSummary(name=name, holds=all(b.holds for b in every if b.name.startswith(start)))
        for start, name in words
    ]
