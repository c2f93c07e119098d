"""Everything that computes, by its routers: loaded in the workers, and where all is described."""

from __future__ import annotations

from lowfold.api import (
    advice,
    beside,
    board,
    check,
    diagnose,
    divider,
    drawn,
    expect,
    feedback,
    fold,
    hidden,
    ladder,
    loadline,
    marks,
    need,
    opened,
    reference,
    resistance,
    scatter,
    sensor,
    sensor_sheet,
    sheet,
    shown,
    solve,
    unknown,
    worked_out,
)
from lowfold.api import (
    round as rounds,
)

__all__ = ["COMPUTED"]

COMPUTED = tuple(
    module.router
    for module in (
        advice, beside, board, check, diagnose, divider, drawn, expect, feedback, fold, hidden,
        ladder, loadline, marks, need, opened, reference, resistance, rounds, scatter, sensor,
        sensor_sheet, sheet, shown, solve, unknown, worked_out,
    )
)  # fmt: skip
