"""POST /api/network/derivation and /working: how a figure comes about, and one's own held to it."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal, Self, cast

from fastapi import APIRouter
from pydantic import Field, model_validator

from lowfold.api.computing import ComputedRoute, quick
from lowfold.api.fields import Ask
from lowfold.api.networks import circuit_of
from lowfold.api.problems import responses
from lowfold.api.solve import SolveAsk
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.folding.derivation import Asked, What, derivation
from lowfold.core.folding.words import School
from lowfold.core.folding.working import QUANTITIES, Quantity, Typed, check_working
from lowfold.core.values.quantities import read
from lowfold.views.worked_out import DerivationAnswer, WorkingAnswer, working_answer

__all__ = ["router"]

router = APIRouter(prefix="/api/network", tags=["network"], route_class=ComputedRoute)

Name = Annotated[str, Field(min_length=1, max_length=80)]
Yes = Literal[True]
MOST_FIGURES = 400
TOTAL = "total_ohm"


class AskedAsk(Ask):
    """The figure whose way is asked for: one of them."""

    total: Yes | None = Field(None, description="The resistance between the supply's ends")
    current: Yes | None = Field(None, description="What the supply gives")
    sums: Yes | None = Field(None, description="Every junction's and the supply's loop")
    at: Name | None = Field(None, description="A junction's voltage against 0")
    through: Name | None = Field(None, description="A part's current")
    across: Name | None = Field(None, description="A part's voltage")
    power: Name | None = Field(None, description="What a part takes")

    @model_validator(mode="after")
    def _one(self) -> Self:
        given = self.model_dump(exclude_none=True)
        if len(given) != 1:
            every = ", ".join(type(self).model_fields)
            msg = f"one figure is derived at a time: give one of {every}"
            raise ValueError(msg)
        return self

    @property
    def figure(self) -> Asked:
        ((what, name),) = self.model_dump(exclude_none=True).items()
        return Asked(cast("What", what), "" if name is True else name)


class DerivationAsk(SolveAsk):
    """A network on a supply, and the figure whose way is asked for."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "network": "R1=200k + @OUT + R2=56k",
                    "supply_v": 14.4,
                    "loads": [{"at": "OUT", "ohm": "1M"}],
                    "asked": {"at": "OUT"},
                }
            ]
        }
    }

    asked: AskedAsk
    school: School = "reciprocals"
    digits: Annotated[int, Field(ge=2, le=9, strict=True)] = 4


@router.post("/derivation", openapi_extra=quick(2500), responses=responses(422, 503))
def derived(ask: DerivationAsk) -> DerivationAnswer:
    """Derive a figure line by line: formula in symbols, with figures, what it gives."""
    circuit = circuit_of(ask.network, ask.switches, ask.low_v)
    lines = derivation(
        circuit,
        ask.asked.figure,
        ask.supply_v,
        ask.source_ohm,
        [load.load(circuit) for load in ask.loads],
        ask.low_v,
        school=ask.school,
        digits=ask.digits,
    )
    return DerivationAnswer(steps=list(lines))


class WorkingAsk(SolveAsk):
    """A network on a supply, and figures of one's own."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "network": "R1=200k + @OUT + R2=56k",
                    "supply_v": 14.4,
                    "figures": {"R2": {"v": "3.15", "i": "56.2 uA"}, "total_ohm": "256k"},
                }
            ]
        }
    }

    figures: dict[str, dict[str, str | float] | str | float] = Field(
        max_length=MOST_FIGURES,
        description="By part: v, i, p and r as typed, in the order they were found; `total_ohm`",
    )


@router.post("/working", openapi_extra=quick(2500), responses=responses(422, 503))
def worked(ask: WorkingAsk) -> WorkingAnswer:
    """Hold one's own figures against the network: right, near, following, or wrong by a slip."""
    circuit = circuit_of(ask.network, ask.switches, ask.low_v)
    loads = [load.load(circuit) for load in ask.loads]
    typed, texts = _typed(ask.figures)
    found = check_working(circuit, typed, ask.supply_v, ask.source_ohm, loads, ask.low_v)
    return working_answer(found, texts)


def _typed(figures: dict[str, Any]) -> tuple[list[Typed], list[str]]:
    """Read figures as typed, each with half its last place."""
    found, texts = [], []
    for ref, said in figures.items():
        of_part = said if isinstance(said, dict) else {"r": said}
        if (ref == TOTAL) == isinstance(said, dict):
            msg = f"{ref}: a part has v, i, p and r, like {{“v”: “3.15”}}; {TOTAL} is one figure"
            raise DomainError(msg, field=f"figures.{ref}")
        for quantity, text in of_part.items():
            field = f"figures.{ref}" if ref == TOTAL else f"figures.{ref}.{quantity}"
            if quantity not in QUANTITIES:
                msg = f"“{quantity[:20]}” is no figure of a part: there are v, i, p and r"
                raise DomainError(msg, field=field)
            typed = _figure(ref, quantity, str(text), field)
            found.append(typed)
            texts.append(str(text))
    if len(found) > MOST_FIGURES:
        msg = f"{len(found)} figures are more than the {MOST_FIGURES} held at once"
        raise DomainError(msg, field="figures")
    return found, texts


_NUMBER = re.compile(r"([0-9]*)(?:[.,]|(?=[A-Za-zΩµ][0-9])[A-Za-zΩµ])?([0-9]*)")


def _figure(ref: str, quantity: Quantity, text: str, field: str) -> Typed:
    try:
        value = read(text, QUANTITIES[quantity])
    except LowfoldError as error:
        raise DomainError(error.message, field=field) from error
    digits = _NUMBER.match(text.strip().lstrip("+-−"))
    whole, part = digits.groups() if digits else ("", "")
    number = float(f"{whole or 0}.{part or 0}")
    scale = abs(value) / number if number else 0.0
    return Typed(ref, quantity, value, 0.5 * 10.0 ** -len(part) * scale)
