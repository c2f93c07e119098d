"""A sensor's brief as typed, its choices, curve and gates."""

from __future__ import annotations

import math

from lowfold.core.checking.verdict import Verdict
from lowfold.core.drawing.schematic import Drawing
from lowfold.core.needs.sensor import SensorBrief, as_network, gates_of_leg, verdict_of
from lowfold.core.network.tree import write_network
from lowfold.core.search.sensor import SensorLeg
from lowfold.core.tokens.reading import TokenReading
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, WATT, write, write_pair
from lowfold.views.drawings import full_drawing
from lowfold.views.figures import Figure, must
from lowfold.views.view import view

__all__ = [
    "SensorChoice",
    "SensorCurvePoint",
    "SensorGateAnswer",
    "SensorSheetAnswer",
    "SensorShown",
    "WindowEnd",
]


@view
class SensorGateAnswer:
    name: str
    verdict: Verdict | None
    figure: Figure
    of: str
    used: float | None
    note: str


@view
class SensorCurvePoint:
    """The output at one of the sensor's points."""

    label: str
    resistance: Figure
    volts: float
    lowest: float
    highest: float
    at: float  #: Where it lies between first and last, 0 to 1
    straight: float  #: On the straight line through first and last
    shown: Figure


@view
class SensorChoice:
    network: str
    resistor: Figure
    position: str
    swing: Figure
    bend: Figure | None
    heat: Figure
    verdict: Verdict | None


@view
class WindowEnd:
    """One end of the window the output is wanted in."""

    volts: float
    shown: Figure


@view
class SensorShown:
    """The choice under the cursor in full."""

    network: str
    drawing: Drawing
    values: dict[str, Figure]  #: Of its parts, the sensor at its first point
    supply: str
    curve: list[SensorCurvePoint]
    gates: list[SensorGateAnswer]
    words: str  #: What the curve says, for who does not see it
    as_network: dict[str, str]  #: As the brief of a network of its own


@view
class SensorSheetAnswer:
    tokens: dict[str, TokenReading]
    choices: list[SensorChoice]
    shown: SensorShown | None
    window: list[WindowEnd]  #: Low and high end; none where none is stated
    searched: int
    rule: str  #: Where common practice looks first; empty where it says nothing
    reason: str | None


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
