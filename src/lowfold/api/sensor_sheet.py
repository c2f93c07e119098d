"""POST /api/sensor/sheet: a sensor's brief as typed, its choices, curve and gates."""

from __future__ import annotations

import math
from typing import Final

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.drawing_answer import DrawingAnswer
from lowfold.api.drawings import full_drawing
from lowfold.api.fields import Answer, Ask
from lowfold.api.figures import Figure, must
from lowfold.api.problems import responses
from lowfold.api.sessions import StockDep
from lowfold.api.sheet import TokenAnswer
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.sensor import SensorBrief, as_network, gates_of_leg, read_sensor, verdict_of
from lowfold.core.network.tree import write_network
from lowfold.core.search.sensor import SensorLeg, rule_ohms, search_sensor
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, WATT, write, write_pair

__all__ = ["router"]

router = APIRouter(prefix="/api/sensor", tags=["sensor"], route_class=ComputedRoute)

LISTED: Final = 12


class SensorSheetAsk(Ask):
    """A sensor's brief as typed, and the choice that is looked at."""

    brief: AskedBrief = Field(default_factory=dict)
    cursor: str | None = Field(None, max_length=20_000, description="The choice looked at")


class SensorGateAnswer(Answer):
    name: str
    verdict: Verdict | None
    figure: Figure
    of: str
    used: float | None
    note: str


class SensorCurvePoint(Answer):
    """The output at one of the sensor's points."""

    label: str
    resistance: Figure
    volts: float
    lowest: float
    highest: float
    at: float = Field(description="Where it lies between first and last, 0 to 1")
    straight: float = Field(description="On the straight line through first and last")
    shown: Figure


class SensorChoice(Answer):
    network: str
    resistor: Figure
    position: str
    swing: Figure
    bend: Figure | None
    heat: Figure
    verdict: Verdict | None


class WindowEnd(Answer):
    """One end of the window the output is wanted in."""

    volts: float
    shown: Figure


class SensorShown(Answer):
    """The choice under the cursor in full."""

    network: str
    drawing: DrawingAnswer
    values: dict[str, Figure] = Field(description="Of its parts, the sensor at its first point")
    supply: str
    curve: list[SensorCurvePoint]
    gates: list[SensorGateAnswer]
    words: str = Field(description="What the curve says, for who does not see it")
    as_network: dict[str, str] = Field(description="As the brief of a network of its own")


class SensorSheetAnswer(Answer):
    tokens: dict[str, TokenAnswer]
    choices: list[SensorChoice]
    shown: SensorShown | None
    window: list[WindowEnd] = Field(description="Low and high end; none where none is stated")
    searched: int
    rule: str = Field(description="Where common practice looks first; empty where it says nothing")
    reason: str | None


@router.post("/sheet", responses=responses(422, 503))
def sensor_sheet(ask: SensorSheetAsk, stock: StockDep) -> SensorSheetAnswer:
    """Read a sensor's brief token by token, and choose the resistor beside it."""
    readings, brief = read_sensor(known_texts("sensor", ask.brief), stock.lines)
    tokens = {k: TokenAnswer.model_validate(t) for k, t in readings.items()}
    if brief is None:
        return SensorSheetAnswer(
            tokens=tokens, choices=[], shown=None, window=[], searched=0, rule="", reason=None
        )
    found = search_sensor(brief.need(LISTED))
    choices = [_choice(brief, leg) for leg in found.legs]
    at = next((k for k, c in enumerate(choices) if c.network == ask.cursor), 0)
    rule = rule_ohms(brief.aim, tuple(p.ohms for p in brief.points))
    return SensorSheetAnswer(
        tokens=tokens,
        choices=choices,
        shown=_shown(brief, found.legs[at]) if found.legs else None,
        window=[WindowEnd(volts=v, shown=must(v, VOLT, 4)) for v in brief.window or ()],
        searched=found.searched,
        rule=_rule_words(brief, rule),
        reason=found.reason,
    )


def _rule_words(brief: SensorBrief, ohms: float | None) -> str:
    if ohms is None:
        return ""
    where = {
        "swing": "the geometric mean of the sensor's ends",
        "linear": "the straight line through three points",
    }.get(brief.aim, "")
    return f"common practice looks near {write(ohms, OHM, 3)}, {where}" if where else ""


def _choice(brief: SensorBrief, leg: SensorLeg) -> SensorChoice:
    bent = math.isfinite(leg.nonlinearity)
    return SensorChoice(
        network=write_network(leg.network),
        resistor=_ohms(leg.ohms),
        position=f"sensor {'below' if leg.position == 'lower' else 'above'}",
        swing=must(leg.swing, VOLT, 4),
        bend=must(leg.nonlinearity, FRACTION, 3) if bent else None,
        heat=must(leg.sensor_watts, WATT, 3),
        verdict=verdict_of(gates_of_leg(brief, leg)),
    )


def _ohms(value: float) -> Figure:
    text, unit = write_pair(value, OHM, 4, trim=True)
    return Figure(text=text, unit=unit)


def _shown(brief: SensorBrief, leg: SensorLeg) -> SensorShown:
    first, last = leg.outputs[0], leg.outputs[-1]
    shares = brief.need(1).shares.tolist()
    load = brief.load.ohms if brief.load else None
    hung = [("L1", "OUT")] if load is not None else []
    values = {
        "R1": _ohms(leg.ohms),
        "RS1": _ohms(brief.points[0].ohms),
        **({"L1": _ohms(load)} if load is not None else {}),
    }
    rising = "rises" if last > first else "falls"
    network = write_network(leg.network)
    return SensorShown(
        network=network,
        drawing=full_drawing(leg.network, hung, driven=True),
        values=values,
        supply=write(brief.supply_volts, VOLT, 4, trim=True),
        curve=[
            SensorCurvePoint(
                label=point.label or write(point.ohms, OHM, 3, trim=True),
                resistance=_ohms(point.ohms),
                volts=volts,
                lowest=low,
                highest=high,
                straight=first + (last - first) * shares[k],
                at=shares[k],
                shown=must(volts, VOLT, 4),
            )
            for k, (point, volts, low, high) in enumerate(
                zip(brief.points, leg.outputs, leg.lowest, leg.highest, strict=True)
            )
        ],
        gates=[
            SensorGateAnswer(
                name=g.name,
                verdict=g.verdict,
                figure=must(g.figure, g.kind, 3),
                of=g.of,
                used=g.used,
                note=g.note,
            )
            for g in gates_of_leg(brief, leg)
        ],
        words=(
            f"The output {rising} from {write(first, VOLT, 4)} to {write(last, VOLT, 4)} over "
            f"the sensor's {len(leg.outputs)} points."
        ),
        as_network=as_network(brief, leg),
    )
