"""How kept designs stand, worked out anew where what is the user's own has changed."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from sqlalchemy.orm import Session

from lowfold.api.sheet import StandingAnswer, standing_answer, texts_of
from lowfold.core.needs.network_gates import network_standing
from lowfold.core.needs.parts import Stock
from lowfold.core.sheet import build_sheet
from lowfold.store.designs import list_designs, restand
from lowfold.store.drawer import drawer_lines
from lowfold.store.families import own_families

__all__ = ["stand_anew"]


def stand_anew(session: Session, concerns: Callable[[Mapping[str, str]], bool]) -> None:
    """Work out anew how the designs stand whose brief, token by token, `concerns` tells."""
    stock = Stock(drawer_lines(session), own_families(session))
    for row in list_designs(session):
        texts = texts_of(row.brief)
        if not concerns(texts):
            continue
        if row.kind == "network":
            stands = StandingAnswer.model_validate(network_standing(texts, stock.families))
        else:
            built = build_sheet(row.kind, texts, row.prefer, row.choice, stock=stock)  # type: ignore[arg-type]
            stands = standing_answer(built)
        restand(session, row.id, stands.model_dump(mode="json"))
