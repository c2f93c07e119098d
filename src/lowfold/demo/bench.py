"""The demo's bench: a stand-in on the table, wired to a built board of the buoy's battery sense."""

from __future__ import annotations

from typing import Final

from sqlalchemy.orm import Session

from lowfold.core.bench.models import BENCH
from lowfold.sim.board import drawn_board
from lowfold.sim.server import StandIn
from lowfold.store.meters import instruments, keep_instrument, remove_instrument

__all__ = ["NAME", "keep_stand_in", "stand_in"]

NAME: Final = "stand-in on the buoy's board"
#: The battery sense as somebody soldered it: parts of 1 %, the logger's input beside.
BOARD: Final = "R1=200k + @OUT + R2=56k"
BATTERY_V: Final = 14.4
SEED: Final = 7


def stand_in() -> StandIn:
    """Return the stand-in, serving on a free port."""
    board = drawn_board(BOARD, BATTERY_V, tolerance=0.01, seed=SEED, loads=[("OUT", 1e6)])
    return StandIn(board)


def keep_stand_in(session: Session, resource: str) -> None:
    """Keep where the stand-in is, in place of where it was."""
    for row in [*instruments(session)]:
        if row.name == NAME and row.resource != resource:
            remove_instrument(session, row.resource)
    keep_instrument(session, resource, NAME, BENCH.name)
