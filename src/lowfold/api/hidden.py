"""POST /api/bench/hidden: what hides in series where a current is too low."""

from __future__ import annotations

import math
from typing import Self

from fastapi import APIRouter
from pydantic import Field, model_validator

from lowfold.api.computing import ComputedRoute, quick
from lowfold.api.fields import Ask, Ohms, SignedAmps, Tolerance, Volts
from lowfold.api.meters import Meter, meter_of
from lowfold.api.networks import NetworkText, Switches, circuit_of
from lowfold.api.problems import responses
from lowfold.api.sessions import MetersDep
from lowfold.core.bench.hidden import Known, hidden_ohms, words_of
from lowfold.core.tolerance.box import Box, Supply
from lowfold.core.tolerance.spread import resistance_spread
from lowfold.views.hidden import HiddenAnswer

__all__ = ["router"]

router = APIRouter(prefix="/api/bench", tags=["bench"], route_class=ComputedRoute)


class HiddenAsk(Ask):
    """A supply, what hangs on it, and the current that was read."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "supply_v": "3.1 V", "network": "R1=180 || R2=360", "supply_a": "24.1 mA",
                    "tolerance": "1 %",
                }
            ]
        }
    }  # fmt: skip

    supply_v: Volts
    network: NetworkText | None = None
    resistance_ohm: Ohms | None = Field(None, description="In place of a network")
    switches: Switches = Field(default_factory=dict)
    supply_a: SignedAmps = Field(description="As read")
    meter: Meter | None = Field(None, description="Default the handheld")
    tolerance: Tolerance = Field(0.0, description="Of the parts")
    supply_tolerance: Tolerance = 0.0

    @model_validator(mode="after")
    def _one_of_them(self) -> Self:
        if (self.network is None) == (self.resistance_ohm is None):
            msg = "give what hangs on the supply: network or resistance_ohm, one of the two"
            raise ValueError(msg)
        if self.resistance_ohm is not None and self.switches:
            msg = "switches belong to a network"
            raise ValueError(msg)
        return self

    def on_the_supply(self) -> Known:
        if self.resistance_ohm is not None:
            return Known.within(self.resistance_ohm, self.tolerance)
        circuit = circuit_of(self.network or "", self.switches)
        halves = (self.tolerance,) * len(circuit.branches)
        spread = resistance_spread(Box(circuit, Supply(1.0), (), halves))
        return Known(spread.nominal, spread.lowest, spread.highest)


@router.post("/hidden", openapi_extra=quick(4000), responses=responses(422))
def hidden(ask: HiddenAsk, meters: MetersDep) -> HiddenAnswer:
    """Tell what hides in series, and how much of it is the ammeter itself."""
    supply = Known.within(ask.supply_v, ask.supply_tolerance)
    found = hidden_ohms(supply, ask.on_the_supply(), ask.supply_a, meter_of(ask.meter, meters))
    return HiddenAnswer(
        series_ohm=found.ohms,
        lowest_ohm=found.low,
        highest_ohm=None if math.isinf(found.high) else found.high,
        burden_ohm=found.burden_ohms,
        rest_ohm=found.rest_ohms,
        range_full=found.range_full,
        words=words_of(found),
    )
