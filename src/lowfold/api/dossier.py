"""A design read, weighed and drawn for a reader elsewhere: what all its hand-overs are made of."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final

from lowfold.core.bench.inventory import Inventory
from lowfold.core.board.bill import bill_of
from lowfold.core.errors import LowfoldError
from lowfold.core.record.parts_list import Need, PartsLine, parts_list
from lowfold.core.record.statement import read_statement
from lowfold.core.tokens.names import texts_of
from lowfold.formats.dossier_md import write_markdown
from lowfold.formats.drawing_svg import write_svg
from lowfold.formats.paper import write_paper
from lowfold.formats.parts_csv import write_parts
from lowfold.views.dossier import (
    Dossier,
    Kept,
    What,
)
from lowfold.views.handing_over import (
    dossier_of,
)

__all__ = ["MADE", "bought"]


def _paper(kept: Kept, stock: Inventory) -> bytes:
    return write_paper(dossier_of(kept, stock))


def _text(kept: Kept, stock: Inventory) -> bytes:
    return write_markdown(dossier_of(kept, stock)).encode()


def _parts(kept: Kept, stock: Inventory) -> bytes:
    return write_parts(_weighed(dossier_of(kept, stock)).parts).encode()


def _drawing(kept: Kept, stock: Inventory) -> bytes:
    found = dossier_of(kept, stock)
    if found.sketch is None:
        raise LowfoldError(_nothing(found), field="choice")
    return write_svg(found.sketch, f"{found.name}: {found.choice}").encode()


def _weighed(found: Dossier) -> Dossier:
    if not found.parts:
        raise LowfoldError(_nothing(found), field="choice")
    return found


def _nothing(found: Dossier) -> str:
    return f"“{found.name[:60]}” cannot be drawn or bought yet: {found.wrong or 'it has no parts'}"


def bought(
    designs: list[tuple[dict[str, Any], int]], stock: Inventory
) -> tuple[tuple[PartsLine, ...], list[str]]:
    """Add up the parts of designs, so many boards of each; and tell which have none, and why."""
    needs, left_out = [], []
    for fields, boards in designs:
        state = read_statement(
            fields["kind"], texts_of(fields["brief"]), fields["choice"], stock.families, stock.lines
        )
        if state.judged is None:
            left_out.append(f"{fields['name']}: {state.wrong}")
        else:
            needs.append(Need(fields["name"], bill_of(state.judged), boards))
    return parts_list(needs, stock.lines), left_out


#: What a design is handed over as, beside its file.
MADE: Final[dict[What, Callable[[Kept, Inventory], bytes]]] = {
    "paper": _paper,
    "text": _text,
    "parts": _parts,
    "drawing": _drawing,
}
