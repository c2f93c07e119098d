"""POST /api/divider/feedback."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import Field
from pydantic.config import JsonDict

from lowfold.api.computing import ComputedRoute
from lowfold.api.divider import LegsAsk
from lowfold.api.fields import (
    PositiveVolts,
    SignedAmps,
    Tolerance,
)
from lowfold.api.problems import responses
from lowfold.api.sessions import DrawerDep
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.search.feedback import FeedbackNeed
from lowfold.core.search.feedback_search import search_feedback
from lowfold.views.found import DividerAnswer, feedback_pair

__all__ = ["router"]

router = APIRouter(prefix="/api/divider", tags=["divider"], route_class=ComputedRoute)

EXAMPLE: JsonDict = {
    "reference_v": "0.8 V",
    "reference_tolerance": "1 %",
    "target_v": "3V3",
    "pin_a": "50 nA",
    "values": {"series": ["E96"]},
    "max_current_a": "100 µA",
    "limit": 5,
}


class FeedbackAsk(LegsAsk):
    """A regulator's output, set against its reference."""

    model_config = {"json_schema_extra": {"examples": [EXAMPLE]}}

    reference_v: PositiveVolts
    target_v: PositiveVolts
    reference_tolerance: Tolerance = 0.0
    pin_a: SignedAmps = Field(0.0, description="Into the feedback pin; negative where it flows out")

    def to_core(self, drawer: tuple[DrawerLine, ...] = ()) -> FeedbackNeed:
        return FeedbackNeed(
            reference_volts=self.reference_v,
            target_volts=self.target_v,
            pool=self.values.to_core(drawer),
            reference_tolerance=self.reference_tolerance,
            pin_amps=self.pin_a,
            max_per_leg=self.max_parts_per_leg,
            tolerance=self.tolerance,
            min_amps=self.min_current_a,
            max_amps=self.max_current_a,
            max_output_ohms=self.max_output_ohm,
            within=self.within,
            limit=self.limit,
            prefer=self.prefer,
        )


@router.post("/feedback", responses=responses(422, 503))
def feedback(ask: FeedbackAsk, drawer: DrawerDep) -> DividerAnswer:
    """Find the best feedback pairs: reference·(1 + upper/lower) + pin·upper meets the target.

    The network runs from the output to 0 V with its tap at the feedback pin; `current_a` is the
    nominal current in the lower leg, `unloaded_v` the output with no current into the pin.
    """
    found = search_feedback(ask.to_core(drawer))
    return DividerAnswer(
        candidates=[feedback_pair(c) for c in found.candidates],
        exact=True,
        searched=found.searched,
        reason=found.reason,
    )
