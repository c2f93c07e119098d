"""POST /api/sensor/search: a sensor in one leg, and the resistor for the other."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Ask, Ohms, PositiveVolts, Tolerance, Volts, Watts
from lowfold.api.problems import responses
from lowfold.api.sessions import DrawerDep
from lowfold.api.values import Values
from lowfold.core.search.sensor import (
    FEWEST,
    MOST,
    Position,
    SensorNeed,
    rule_ohms,
    search_sensor,
)
from lowfold.views.found import SensorAnswer, SensorCandidate

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
