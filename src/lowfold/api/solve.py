"""POST /api/network/solve."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute, quick
from lowfold.api.fields import Ask, SourceOhms, Volts
from lowfold.api.networks import LoadAsk, NetworkText, Switches, circuit_of
from lowfold.api.problems import responses
from lowfold.core.checking.cautions import cautions_for, highest_between
from lowfold.core.errors import TooLargeError
from lowfold.core.folding.fold import fold, unfolded
from lowfold.core.solving.balance import balances
from lowfold.core.solving.solution import solve
from lowfold.views.solved import FoldStepAnswer, SolveAnswer, finite, inner, part_answer

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


@router.post("/solve", openapi_extra=quick(2500), responses=responses(422, 503))
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
        total_ohm=finite(solution.total_ohms),
        supply_a=solution.supply_amps,
        terminal_v=solution.terminal_volts,
        supply_w=solution.supply_watts,
        parts=[part_answer(p) for p in solution.parts],
        nodes={name: finite(solution.voltages[n]) for name, n in inner(circuit).items()},
        folds=[FoldStepAnswer.from_core(step) for step in folding.steps],
        folds_left_out=too_long,
        idle=list(folding.idle),
        checks=list(balances(circuit, solution, ask.supply_v, loads, ask.low_v)),
        cautions=list(cautions),
        caution=starved[0] if starved else None,
    )
