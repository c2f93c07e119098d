"""POST /api/network/sheet, /fold, /relation: a network folded and unfolded, for the page."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.computing import ComputedRoute, quick
from lowfold.api.fields import Ask, Ohms
from lowfold.api.networks import NetworkText, circuit_of
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.api.solve import SolveAsk
from lowfold.api.texts import AskedBrief, known_texts
from lowfold.core.errors import DomainError
from lowfold.core.folding.fold import fold, unfolded
from lowfold.core.folding.relation import relation
from lowfold.core.folding.words import School
from lowfold.core.needs.network import read_stated, variants_of
from lowfold.core.network.circuit import switch_refs
from lowfold.core.network.editing import Action, edit
from lowfold.core.network.notation import read_text
from lowfold.core.sheet.standing import standing_of, weighed_or_why
from lowfold.views.folded import FoldAnswer, fold_answer
from lowfold.views.gates import gate_answer
from lowfold.views.network import EditAnswer, NetworkSheetAnswer, RelationAnswer, SwitchAnswer
from lowfold.views.part_look import looks_of

__all__ = ["router"]

router = APIRouter(prefix="/api/network", tags=["network"], route_class=ComputedRoute)

Digits = Annotated[int, Field(ge=2, le=9, strict=True, description="Figures shown")]


class FoldAsk(SolveAsk):
    """A network on a supply, to be folded."""

    school: School = "reciprocals"
    digits: Digits = 4


@router.post("/fold", responses=responses(422, 503))
def folded(ask: FoldAsk) -> FoldAnswer:
    """Fold a network to one resistance and back, each step drawn, said and cross-checked."""
    circuit = circuit_of(ask.network, ask.switches, ask.low_v)
    return fold_answer(
        circuit,
        read_text(ask.network),
        ask.supply_v,
        ask.source_ohm,
        [load.load(circuit) for load in ask.loads],
        [load.at for load in ask.loads],
        ask.low_v,
        school=ask.school,
        digits=ask.digits,
    )


class NetworkSheetAsk(Ask):
    """A network as typed."""

    brief: AskedBrief = Field(default_factory=dict)
    school: School = "reciprocals"
    digits: Digits = 4


@router.post("/sheet", openapi_extra=quick(2500), responses=responses(422, 503))
def network_sheet(ask: NetworkSheetAsk, families: FamiliesDep) -> NetworkSheetAnswer:
    """Read a network token by token as it is typed, and fold it where it is understood."""
    texts = known_texts("network", ask.brief)
    readings, stated = read_stated(texts, families)
    found, switches = None, []
    judged, trouble = weighed_or_why(stated)
    if stated is not None:
        shut = {name.casefold() for name in stated.closed}
        switches = [
            SwitchAnswer(ref=ref, closed=ref.casefold() in shut)
            for ref in switch_refs(stated.network)
        ]
        whole = stated.with_source_as_part()
        found = fold_answer(
            whole.circuit,
            whole.network,
            whole.supply_volts,
            whole.source_ohms,
            whole.hung,
            [at for at, _ in whole.hangs],
            whole.low_volts,
            school=ask.school,
            digits=ask.digits,
        )
    return NetworkSheetAnswer(
        tokens=dict(readings.items()),
        folded=found,
        switches=switches,
        variants=variants_of(stated, texts) if stated is not None else {},
        gates=[gate_answer(g) for g in judged.gates] if judged else [],
        gates_trouble=trouble,
        cautions=list(judged.check.cautions) if judged else [],
        parts=looks_of(judged) if judged else [],
        standing=standing_of(readings, stated, judged, trouble),
    )


class RelationAsk(NetworkSheetAsk):
    """Two parts of a network as typed."""

    one: str = Field(max_length=80)
    two: str = Field(max_length=80)
    step: Annotated[int, Field(ge=0, le=1000, strict=True)] = Field(
        0, description="After how many steps of the folding; 0 is the network as it stands"
    )


@router.post("/relation", openapi_extra=quick(6000), responses=responses(422, 503))
def why(ask: RelationAsk, families: FamiliesDep) -> RelationAnswer:
    """Tell whether two parts are in series, in parallel or neither, and why."""
    _, stated = read_stated(known_texts("network", ask.brief), families)
    if stated is None:
        return RelationAnswer(kind="neither", reason="The network is not understood yet.")
    stated = stated.with_source_as_part()
    begun = unfolded(stated.circuit, stated.hung)
    folding = fold(stated.circuit, stated.hung) if ask.step else begun
    if ask.step > len(folding.steps):
        msg = f"step {ask.step} is asked for, and the folding has {len(folding.steps)}"
        raise DomainError(msg, field="step")
    there = folding.steps[ask.step - 1].left if ask.step else folding.start
    found = relation(there, folding.titles, ask.one, ask.two, folding.drawn)
    return RelationAnswer(kind=found.kind, reason=found.reason)


class EditAsk(Ask):
    """One part of a network to be edited."""

    network: NetworkText
    ref: str = Field(max_length=80)
    action: Action
    ohm: Ohms | None = None


@router.post("/edit", openapi_extra=quick(20_000), responses=responses(422, 503))
def edited(ask: EditAsk) -> EditAnswer:
    """Change a part, put one in series or in parallel with it, or take it out."""
    return EditAnswer(network=edit(read_text(ask.network), ask.ref, ask.action, ask.ohm))
