"""Keep how often the user meets each kind of fault."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from lowfold.core.bench.priors import START, Priors, priors_with
from lowfold.store.models import PriorRow

__all__ = ["keep_priors", "own_priors"]


def own_priors(session: Session) -> Priors:
    """Return the weights of all kinds, the start values where the user says nothing."""
    return priors_with({row.kind: row.weight for row in session.scalars(select(PriorRow))})


def keep_priors(session: Session, priors: Mapping[str, float]) -> None:
    """Keep weights in place of all that were kept, those that differ; committed on return.

    Raises
    ------
    DomainError
        For a kind there is none of, or a weight that is none; nothing is changed.
    """
    found = priors_with(priors)
    session.execute(delete(PriorRow))
    session.add_all(
        PriorRow(kind=kind, weight=weight)
        for kind, weight in found.items()
        if weight != START[kind]
    )
    session.commit()
