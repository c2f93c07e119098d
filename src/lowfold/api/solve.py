"""POST /api/network/solve."""

from __future__ import annotations

import math
from typing import Literal

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute
from lowfold.api.fields import Answer, Ask, SourceOhms, Volts
from lowfold.api.networks import CautionAnswer, LoadAsk, NetworkText, Switches, circuit_of
from lowfold.api.problems import responses
from lowfold.core.checking.cautions import cautions_for, highest_between
from lowfold.core.errors import TooLargeError
from lowfold.core.folding.fold import Fold, fold, unfolded
from lowfold.core.network.circuit import Circuit, junctions
from lowfold.core.solving.balance import balances
from lowfold.core.solving.solution import solve

__all__ = ["SolveAsk", "router"]

router = APIRouter(prefix="/api/network", tags=["network"], route_class=ComputedRoute)


class SolveAsk(Ask):
    """A network on a supply."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "network": "R1=4k7 + @A + (R2=15k || (R3=2k7 + @B + R4=3k9))",
                    "supply_v": 12,
                    "loads": [{"at": "B", "ohm": "10M"}],
                }
            ]
        }
    }

    network: NetworkText
    supply_v: Volts
    source_ohm: SourceOhms = 0.0
    low_v: Volts = Field(
        0.0, description="Voltage of the network's other end, node 0; loads go to 0 V"
    )
    loads: list[LoadAsk] = Field(default_factory=list, max_length=100)
    switches: Switches = Field(default_factory=dict)


class PartAnswer(Answer):
    ref: str
    ohm: float = Field(validation_alias="ohms")
    voltage_v: float = Field(validation_alias="volts")
    current_a: float = Field(validation_alias="amps")
    power_w: float = Field(validation_alias="watts")


class BalanceAnswer(Answer):
    name: str
    holds: bool
    residual: float


class FoldStepAnswer(Answer):
    """One step of the reduction to one resistance."""

    kind: Literal["series", "parallel", "star-delta"]
    members: list[str]
    result: str | list[str] = Field(description="A fresh designator; of a star-delta, a list")
    result_ohm: float | list[float]
    remains: str = Field(description="The network after the step, in the notation or as a netlist")

    @classmethod
    def from_core(cls, step: Fold) -> FoldStepAnswer:
        refs, ohms = [e.ref for e in step.results], [e.ohms for e in step.results]
        several = step.kind == "star-delta"
        return cls(
            kind=step.kind,
            members=[e.ref for e in step.members],
            result=refs if several else refs[0],
            result_ohm=ohms if several else ohms[0],
            remains=step.remains,
        )


class SolveAnswer(Answer):
    total_ohm: float | None = Field(
        description="Between the supply's ends, resistive loads connected; null where open"
    )
    supply_a: float
    terminal_v: float
    supply_w: float
    parts: list[PartAnswer]
    nodes: dict[str, float | None] = Field(description="By tap or node; null where undefined")
    folds: list[FoldStepAnswer] = Field(
        description="The reduction with resistive loads as parts L1, L2 …; the last step leaves "
        "one resistance, total_ohm"
    )
    folds_left_out: str | None = Field(
        description="Why there are no folds where there should be: too many steps to write out"
    )
    idle: list[str] = Field(description="Parts that carry no current whatever the supply")
    checks: list[BalanceAnswer]
    cautions: list[CautionAnswer]
    caution: str | None = Field(description="Set where a current load does not get its current")


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _inner(circuit: Circuit) -> dict[str, int]:
    """Return junctions by name, the supply's ends only where the user names them."""
    found = junctions(circuit)
    return {n: k for n, k in found.items() if n in circuit.names or k not in circuit.ends}


@router.post("/solve", responses=responses(422, 503))
def solve_network(ask: SolveAsk) -> SolveAnswer:
    """Solve a network on its supply: every part's V, I and P and every junction's voltage."""
    circuit = circuit_of(ask.network, ask.switches, ask.low_v)
    loads = [load.load(circuit) for load in ask.loads]
    solution = solve(circuit, ask.supply_v, ask.source_ohm, loads, ask.low_v)
    cautions = cautions_for(
        highest_volts=highest_between((ask.supply_v, ask.low_v)),
        starved=[ask.loads[k].at for k in solution.held],
    )
    try:
        folding, too_long = fold(circuit, loads), None
    except TooLargeError as error:
        folding, too_long = unfolded(circuit, loads), error.message
    starved = [c.message for c in cautions if c.code == "starved-load"]
    return SolveAnswer(
        total_ohm=_finite(solution.total_ohms),
        supply_a=solution.supply_amps,
        terminal_v=solution.terminal_volts,
        supply_w=solution.supply_watts,
        parts=[PartAnswer.model_validate(p) for p in solution.parts],
        nodes={name: _finite(solution.voltages[n]) for name, n in _inner(circuit).items()},
        folds=[FoldStepAnswer.from_core(step) for step in folding.steps],
        folds_left_out=too_long,
        idle=list(folding.idle),
        checks=[
            BalanceAnswer.model_validate(b)
            for b in balances(circuit, solution, ask.supply_v, loads, ask.low_v)
        ],
        cautions=[CautionAnswer.model_validate(c) for c in cautions],
        caution=starved[0] if starved else None,
    )
