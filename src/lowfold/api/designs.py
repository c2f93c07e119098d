"""/api/designs: kept as the user works; a save made from an old revision is refused."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Path, Request, Response
from fastapi.responses import JSONResponse
from pydantic import Field

from lowfold.api.fields import Answer, Ask
from lowfold.api.problems import Problem, problem_response, responses
from lowfold.api.sessions import SessionDep, StockDep
from lowfold.api.sheet import BriefTexts, StandingAnswer, standing_answer, texts_of
from lowfold.core.needs.network_gates import network_standing
from lowfold.core.needs.parts import Stock
from lowfold.core.sheet import build_sheet
from lowfold.store.designs import (
    NoSuchDesign,
    StaleDesign,
    add_design,
    change_design,
    get_design,
    list_designs,
    remove_design,
)
from lowfold.store.models import DesignRow

__all__ = ["install", "router"]

router = APIRouter(prefix="/api/designs", tags=["designs"])

DesignId = Annotated[int, Path(ge=1, le=2**62)]


#: One literal, so that a refusal names the field and not a branch of a union.
DesignKind = Literal["resistance", "divider", "feedback", "ladder", "network"]


class DesignFields(Ask):
    """What a user states about a design."""

    name: str = Field("Untitled", max_length=200)
    kind: DesignKind
    brief: BriefTexts = Field(
        default_factory=dict,
        max_length=60,
        description="The need as typed, token by token; kept to the letter, understood or not",
        examples=[{"supply_v": "14.4 V", "target_v": "3V0"}],
    )
    prefer: str = Field("nearest", max_length=40)
    choice: str | None = Field(None, max_length=20_000, description="The network chosen")
    why: str = Field("", max_length=20_000, description="Why this one, for whoever reads it next")

    def columns(self, stock: Stock | None = None) -> dict[str, Any]:
        """Return the columns to store, with how the design stands worked out."""
        texts = texts_of(self.brief)
        if self.kind == "network":
            stands = StandingAnswer.model_validate(
                network_standing(texts, stock.families if stock else ())
            )
        else:
            built = build_sheet(self.kind, texts, self.prefer, self.choice, stock=stock)
            stands = standing_answer(built)
        return {
            "name": self.name,
            "kind": self.kind,
            "brief": self.brief,
            "prefer": self.prefer,
            "choice": self.choice,
            "why": self.why,
            "standing": stands.model_dump(mode="json"),
        }


class DesignChange(DesignFields):
    """A change, with the revision it was made from."""

    revision: Annotated[int, Field(ge=1, le=2**62, strict=True)]


class Design(Answer):
    """A design as kept."""

    id: int
    name: str
    kind: DesignKind
    brief: BriefTexts
    prefer: str
    choice: str | None
    why: str
    standing: StandingAnswer | None
    revision: int
    created: str = Field(description="ISO 8601, UTC")
    updated: str


class StaleProblem(Problem):
    """A change made from an old revision; nothing was changed."""

    current: Design


def install(app: Any) -> None:
    """Map what the store refuses to problems."""

    @app.exception_handler(NoSuchDesign)  # type: ignore[untyped-decorator]
    def _missing(request: Request, exc: NoSuchDesign) -> JSONResponse:
        return problem_response(404, f"there is no design {exc.id}")

    @app.exception_handler(StaleDesign)  # type: ignore[untyped-decorator]
    def _stale(request: Request, exc: StaleDesign) -> JSONResponse:
        current = Design.model_validate(exc.current)
        return problem_response(
            409,
            f"this design was changed meanwhile: revision {current.revision} is stored; nothing "
            "of yours or of it was lost. Take the stored one, or save again from its revision",
            current=current.model_dump(mode="json"),
        )


def _answer(row: DesignRow) -> Design:
    return Design.model_validate(row)


@router.get("")
def every_design(session: SessionDep) -> list[Design]:
    """List the designs, the one changed last first."""
    return [_answer(row) for row in list_designs(session)]


@router.post("", status_code=201, responses=responses(422))
def new_design(
    ask: DesignFields, session: SessionDep, stock: StockDep, response: Response
) -> Design:
    """Keep a new design."""
    design = _answer(add_design(session, ask.columns(stock)))
    response.headers["location"] = f"/api/designs/{design.id}"
    return design


@router.get("/{design_id}", responses=responses(404))
def one_design(design_id: DesignId, session: SessionDep) -> Design:
    """Return one design."""
    return _answer(get_design(session, design_id))


@router.put(
    "/{design_id}",
    responses={**responses(404, 422), 409: {"model": StaleProblem, "description": "Stale"}},
)
def changed_design(
    design_id: DesignId, ask: DesignChange, session: SessionDep, stock: StockDep
) -> Design:
    """Replace a design, if the revision it was made from is still the stored one."""
    return _answer(change_design(session, design_id, ask.revision, ask.columns(stock)))


@router.delete("/{design_id}", status_code=204, responses=responses(404))
def gone_design(design_id: DesignId, session: SessionDep) -> None:
    """Delete a design."""
    remove_design(session, design_id)
