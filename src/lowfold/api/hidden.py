"""POST /api/bench/hidden: what hides in series where a current is too low."""

from __future__ import annotations

import math
from typing import Self

from fastapi import APIRouter
from pydantic import Field, model_validator

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Answer, Ask, Ohms, SignedAmps, Tolerance, Volts
from lowfold.api.meters import Meter, meter_of
from lowfold.api.networks import NetworkText, Switches, circuit_of
from lowfold.api.problems import responses
from lowfold.core.bench.hidden import Known, hidden_ohms, words_of
from lowfold.core.tolerance.box import Box, Supply
from lowfold.core.tolerance.spread import resistance_spread

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


class HiddenAnswer(Answer):
    series_ohm: float = Field(description="Below 0 where more current flows than the network takes")
    lowest_ohm: float
    highest_ohm: float | None = Field(description="null where the current may be none at all")
    burden_ohm: float = Field(description="Of it the ammeter's, on the range that it reads on")
    rest_ohm: float = Field(description="Left for cell, leads and joints")
    range_full: float | None = Field(description="The ammeter's range, A")
    words: str


@router.post("/hidden", responses=responses(422))
def hidden(ask: HiddenAsk) -> HiddenAnswer:
    """Tell what hides in series, and how much of it is the ammeter itself."""
    supply = Known.within(ask.supply_v, ask.supply_tolerance)
    found = hidden_ohms(supply, ask.on_the_supply(), ask.supply_a, meter_of(ask.meter))
    return HiddenAnswer(
        series_ohm=found.ohms,
        lowest_ohm=found.low,
        highest_ohm=None if math.isinf(found.high) else found.high,
        burden_ohm=found.burden_ohms,
        rest_ohm=found.rest_ohms,
        range_full=found.range_full,
        words=words_of(found),
    )
