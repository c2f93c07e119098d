"""POST /api/network/unknown, and any two of V, I, R and P."""

from __future__ import annotations

from typing import Self

from fastapi import APIRouter
from pydantic import Field, model_validator

from lowfold.api.computing import ComputedRoute, quick
from lowfold.api.fields import (
    Ask,
    Ohms,
    PositiveAmps,
    PositiveVolts,
    SignedAmps,
    SourceOhms,
    Volts,
    Watts,
)
from lowfold.api.networks import NetworkText
from lowfold.api.problems import responses
from lowfold.api.sessions import DrawerDep
from lowfold.api.values import Values
from lowfold.core.solving.unknown import Known, find_unknown, read_unknown
from lowfold.core.values.ohm import any_two
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, WATT, write
from lowfold.views.figures import figure
from lowfold.views.unknown import AnyTwoAnswer, NearestAnswer, UnknownAnswer

__all__ = ["router"]

router = APIRouter(tags=["network"], route_class=ComputedRoute)


class NodeAsk(Ask):
    at: str = Field(max_length=80)
    v: Volts


class UnknownAsk(Ask):
    """A network with one value written `?`, and one figure that is known."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "network": "R1=10k + @OUT + R2=?",
                    "supply_v": "12 V",
                    "node": {"at": "OUT", "v": "3V3"},
                }
            ]
        }
    }

    network: NetworkText
    supply_v: Volts = 0.0
    source_ohm: SourceOhms = 0.0
    low_v: Volts = Field(0.0, description="Voltage of the network's other end, node 0")
    values: Values = Field(default_factory=lambda: Values(series=["E24"]))
    total_ohm: Ohms | None = None
    supply_a: SignedAmps | None = None
    node: NodeAsk | None = None

    @model_validator(mode="after")
    def _one_figure(self) -> Self:
        if [self.total_ohm, self.supply_a, self.node].count(None) != 2:
            msg = "give exactly one known figure: total_ohm, supply_a or node"
            raise ValueError(msg)
        return self

    def known(self) -> Known:
        if self.total_ohm is not None:
            return Known("total_ohm", self.total_ohm)
        if self.supply_a is not None:
            return Known("supply_a", self.supply_a)
        assert self.node is not None  # one of the three is given
        return Known("node", self.node.v, self.node.at)


@router.post("/api/network/unknown", openapi_extra=quick(1500), responses=responses(422, 503))
def unknown(ask: UnknownAsk, drawer: DrawerDep) -> UnknownAnswer:
    """Find the value written `?` from one known figure, and the standard values around it."""
    circuit, position = read_unknown(ask.network)
    known = ask.known()
    unit = {"total_ohm": OHM, "supply_a": AMPERE, "node": VOLT}[known.kind]
    found = find_unknown(
        circuit,
        position,
        known,
        ask.values.to_core(drawer).ohms,
        ask.supply_v,
        ask.source_ohm,
        ask.low_v,
    )
    return UnknownAnswer(
        ref=found.ref,
        ohm=found.ohms,
        shown=write(found.ohms, OHM, 6, trim=True),
        nearest=[
            NearestAnswer(
                ohm=n.ohms,
                shown=write(n.ohms, OHM, 6, trim=True),
                gives_shown=write(n.gives, unit, 5),
                gives=n.gives,
                error=n.error if known.value else None,
            )
            for n in found.nearest
        ],
    )


class AnyTwoAsk(Ask):
    """Exactly two of the four."""

    v: PositiveVolts | None = None
    a: PositiveAmps | None = None
    ohm: Ohms | None = None
    w: Watts | None = None


@router.post(
    "/api/reference/ohm",
    openapi_extra=quick(4000),
    responses=responses(422, 503),
    tags=["reference"],
)
def ohm(ask: AnyTwoAsk) -> AnyTwoAnswer:
    """Work out all of V, I, R and P from any two of them."""
    found = any_two(volts=ask.v, amps=ask.a, ohms=ask.ohm, watts=ask.w)
    figures = {
        "v": figure(found.volts, VOLT, 5),
        "a": figure(found.amps, AMPERE, 5),
        "ohm": figure(found.ohms, OHM, 5),
        "w": figure(found.watts, WATT, 5),
    }
    return AnyTwoAnswer(
        v=found.volts,
        a=found.amps,
        ohm=found.ohms,
        w=found.watts,
        shown={k: f for k, f in figures.items() if f is not None},
        rules=list(found.rules),
    )
