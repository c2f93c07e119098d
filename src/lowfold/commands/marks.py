"""`lowfold marks`: colours or a code on a part, and what they say."""

from __future__ import annotations

import typer

from lowfold.commands.printing import FAILS, refuse, said, show_json
from lowfold.core.errors import LowfoldError
from lowfold.core.values.quantities import OHM, read
from lowfold.views.marks import text_read

__all__ = ["marks"]


def marks(text: str, measured: str, *, as_json: bool) -> None:
    """Read what is marked on a part, and print every meaning, the likeliest first.

    Parameters
    ----------
    text : str
        Colours in the order seen, or a code.
    measured : str
        What the part measures; empty where it was not.
    as_json : bool
        Print what the API answers to `/api/marks/read`.

    Raises
    ------
    typer.Exit
        With 1 where what is measured is no such part.
    """
    try:
        between = _between(measured) if measured else None
        answer = text_read(text, between)
    except LowfoldError as error:
        refuse(f"“{text[:60]}”: {error.message}")
    if as_json:
        from lowfold.api.wire import as_json as told  # noqa: PLC0415  a tenth of a second

        show_json(told(answer))
    else:
        for one in answer.readings:
            sign = "" if one.holds is None else "● " if one.holds else "✕ "
            said(f"{sign}{one.words}")
            said(f"  {one.bin}")
        if answer.also:
            said("one colour taken for another:")
        for other in answer.also:
            said(f"  band {other.band}, {other.instead} for {other.seen}: {other.shown}")
    if between is not None and not any(one.holds for one in answer.readings):
        raise typer.Exit(FAILS)


def _between(measured: str) -> tuple[float, float]:
    # Loaded here: of two commands in three nothing is measured.
    from lowfold.core.bench.models import HANDHELD  # noqa: PLC0415

    return HANDHELD.ohms_between(read(measured, OHM))
