"""POST /api/sensor/search: a sensor in one leg, and the resistor for the other."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Answer, Ask, Ohms, PositiveVolts, Tolerance, Volts, Watts
from lowfold.api.problems import responses
from lowfold.api.sessions import DrawerDep
from lowfold.api.values import Values
from lowfold.core.network.tree import write_network
from lowfold.core.search.sensor import (
    FEWEST,
    MOST,
    Position,
    SensorLeg,
    SensorNeed,
    rule_ohms,
    search_sensor,
)

__all__ = ["router"]

router = APIRouter(prefix="/api/sensor", tags=["sensor"], route_class=ComputedRoute)


class SensorPoint(Ask):
    """What the sensor is at one of its points."""

    ohm: Ohms
    label: str | None = Field(None, max_length=60, description="What it stands for: −10 °C")


class SensorAsk(Ask):
    """A sensor on a supply."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "supply_v": "3V3",
                    "sensor": [
                        {"ohm": "27k", "label": "0 °C"},
                        {"ohm": "11k2", "label": "20 °C"},
                        {"ohm": "5k1", "label": "40 °C"},
                    ],
                    "aim": "linear",
                }
            ]
        }
    }

    supply_v: PositiveVolts
    sensor: list[SensorPoint] = Field(min_length=FEWEST, max_length=MOST, description="In order")
    position: Literal["lower", "upper", "either"] = Field(
        "lower", description="The leg that the sensor is in"
    )
    values: Values = Field(default_factory=lambda: Values(series=["E24"]))
    aim: Literal["swing", "linear", "window"] = "swing"
    window_v: tuple[Volts, Volts] | None = Field(None, description="Lowest and highest output")
    load_ohm: Ohms | None = Field(None, description="From the tap to 0 V")
    tolerance: Tolerance = Field(0.01, description="Of the resistor alone")
    max_sensor_w: Watts | None = Field(None, description="Nominal, at the worst of the points")
    limit: Annotated[int, Field(ge=1, strict=True)] = 20


class SensorCandidate(Answer):
    network: str = Field(description="The sensor, RS1, at its first point")
    resistor_ohm: float
    position: Position = Field(description="Of the sensor")
    outputs_v: list[float]
    swing_v: float = Field(description="|last − first|")
    nonlinearity: float | None = Field(
        description="Largest distance from the straight line through first and last, points "
        "equally spaced, over swing_v; null where there is no swing"
    )
    sensor_w: float = Field(description="Nominal, the largest over the points")
    lowest_v: list[float]
    highest_v: list[float]

    @classmethod
    def from_core(cls, leg: SensorLeg) -> SensorCandidate:
        return cls(
            network=write_network(leg.network),
            resistor_ohm=leg.ohms,
            position=leg.position,
            outputs_v=list(leg.outputs),
            swing_v=leg.swing,
            nonlinearity=leg.nonlinearity if math.isfinite(leg.nonlinearity) else None,
            sensor_w=leg.sensor_watts,
            lowest_v=list(leg.lowest),
            highest_v=list(leg.highest),
        )


class SensorAnswer(Answer):
    candidates: list[SensorCandidate]
    exact: bool = Field(description="No allowed value is better than the first candidate")
    searched: int
    reason: str | None = Field(description="Why there is no candidate")
    rule_ohm: float | None = Field(
        description="Where common practice would look first, without a load: the geometric mean of "
        "the ends for the swing, the three-point rule for the straight line"
    )


@router.post("/search", responses=responses(422, 503))
def search(ask: SensorAsk, drawer: DrawerDep) -> SensorAnswer:
    """Find the resistor for the other leg: widest swing, straightest line, or inside a window."""
    sides: tuple[Position, ...] = (
        ("lower", "upper") if ask.position == "either" else (ask.position,)
    )
    need = SensorNeed(
        supply_volts=ask.supply_v,
        sensor_ohms=tuple(point.ohm for point in ask.sensor),
        positions=sides,
        pool=ask.values.to_core(drawer),
        aim=ask.aim,
        window=ask.window_v,
        load_ohms=ask.load_ohm,
        tolerance=ask.tolerance,
        max_sensor_watts=ask.max_sensor_w,
        limit=ask.limit,
    )
    found = search_sensor(need)
    return SensorAnswer(
        candidates=[SensorCandidate.from_core(leg) for leg in found.legs],
        exact=True,
        searched=found.searched,
        reason=found.reason,
        rule_ohm=rule_ohms(need.aim, need.sensor_ohms),
    )
