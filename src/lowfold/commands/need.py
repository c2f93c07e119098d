"""`lowfold need`: a need in one line, the choices that meet it, and which one to take."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

import typer

from lowfold.commands.printing import (
    FAILS,
    NOT_UNDERSTOOD,
    refuse,
    said,
    show,
    show_json,
    verdict_word,
)
from lowfold.core.errors import LowfoldError
from lowfold.core.needs.kinds import KINDS, LISTED, BriefKind
from lowfold.core.one_line.reading import OneLine
from lowfold.core.one_line.several import read_needs_said
from lowfold.core.parts.stock import Stock
from lowfold.core.sheet.sheet import Sheet, build_sheet
from lowfold.core.values.quantities import AMPERE, write, write_percent
from lowfold.core.weighing.choice import Choice

__all__ = ["need"]

DIGITS = 4


def need(text: str, *, as_json: bool, keep: bool, data: Path | None, most: int) -> None:
    """Read a need, choose for it, and print the choices.

    Parameters
    ----------
    text : str
        The need.
    as_json : bool
        Print what the API answers to `/api/need/read` and `/api/sheet`.
    keep : bool
        Keep it as a design.
    data : Path, optional
        Where designs are kept, and the drawer.
    most : int
        How many choices are listed.

    Raises
    ------
    typer.Exit
        With 1 where no choice passes.
    """
    try:
        read = read_needs_said(text)
    except LowfoldError as error:
        refuse(error.message)
    stock = _stock(data) if data is not None or _of_drawer(read) else Stock()
    if as_json:
        _as_json(text, read, stock)
        return
    _refuse_unread(text, read)
    if read.need is None:
        _other(read)
        return
    sheet = build_sheet(read.need, read.tokens, stock=stock, listed=most)
    said(f"{_kind(read.need)}: {_said_of(sheet, read)}")
    rows = sheet.choices.rows if sheet.choices else ()
    if not rows:
        wrong = [t for t in sheet.reading.tokens.values() if not t.ok]
        reason = sheet.choices.found.reason if sheet.choices else None
        lines = [f"  {t.label}: {t.message}" for t in wrong]
        refuse(reason or sheet.problem or "the need is not understood", *lines)
    _table(read, sheet, rows[:most], stock)
    if keep:
        said(f"kept as design {_kept(read, data)}")
    if all(row.judged.verdict != "pass" for row in rows):
        raise typer.Exit(FAILS)


def _kind(kind: BriefKind) -> str:
    return {"ladder": "several taps", "feedback": "a feedback pair"}.get(kind, f"a {kind}")


def _refuse_unread(text: str, read: OneLine) -> None:
    """End where a figure is not understood, and point at it."""
    if read.kind is not None and not read.unread:
        return
    flat = text.replace("\n", " ")
    lines = [flat]
    marks = [" "] * len(flat)
    for one in read.unread:
        marks[one.start : one.end] = "^" * (one.end - one.start)
    lines.append("".join(marks).rstrip())
    for one in read.unread:
        ways = f" Take: {', or '.join(one.instead)}." if one.instead else ""
        lines.append(f"  {one.text}: {one.message}.{ways}")
    if not read.unread:
        lines.append("  nothing says what is wanted, such as 4k53, or 14.4 V to 3 V")
    refuse(*lines)


def _other(read: OneLine) -> None:
    """Say which command takes what is no single need."""
    if read.kind == "board":
        refuse("these are several needs: lowfold board takes them")
    network = read.tokens.get("network", "")
    supply = read.tokens.get("supply_v")
    on = f' --supply "{supply}"' if supply else ""
    said(f"a network as it stands: lowfold solve {_quoted(network)}{on}")


def _quoted(text: str) -> str:
    import shlex  # noqa: PLC0415  seldom needed

    return shlex.quote(text)


def _said_of(sheet: Sheet, read: OneLine) -> str:
    """Return what was said, as it was understood, token by token."""
    tokens = [sheet.reading.tokens[name] for name in read.tokens]
    return ", ".join(f"{t.label} {t.shown or t.text}" for t in tokens)


def _table(read: OneLine, sheet: Sheet, rows: tuple[Choice, ...], stock: Stock) -> None:
    unit = KINDS[sheet.kind].unit
    careful = sheet.choices.careful if sheet.choices else None
    cells = []
    for row in rows:
        mark = row.governing
        first = "◆" if careful and careful.choice.network == row.network else " "
        cells.append([
            first, " / ".join(row.lines), write(mark.nominal, unit, DIGITS),
            f"{write_percent(mark.error, 3)} %", write(mark.lowest, unit, DIGITS),
            write(mark.highest, unit, DIGITS),
            write(row.amps, AMPERE, 3) if row.amps is not None else "",
            row.series, verdict_word(row.judged.verdict),
        ])  # fmt: skip
    head = ["", "values", "gives", "off by", "lowest", "highest", "draws", "series", ""]
    show(cells, head, left=(0, 1, 7, 8))
    if careful:
        said(f"◆ A careful designer takes {careful.words}")
    elif all(row.judged.verdict != "pass" for row in rows):
        said(_what_would(sheet.kind, read.tokens, rows[0], stock))
    if sheet.reading.granted:
        said(sheet.reading.granted)


def _what_would(kind: BriefKind, texts: Mapping[str, str], first: Choice, stock: Stock) -> str:
    """Say the cheapest change that passes, or how far was looked for one."""
    # Loaded here: where something passes, nobody asks.
    from lowfold.core.advice.advice import advise  # noqa: PLC0415

    found = advise(kind, texts, first.network, stock)
    if found.cheapest is not None:
        return f"None passes. The cheapest change that does: {found.cheapest.words}"
    return f"None passes. {found.denied or found.limit or found.looked}".strip()


def _as_json(text: str, read: OneLine, stock: Stock) -> None:
    # Loaded here: what is drawn for a page is needed for nothing else.
    from lowfold.api.wire import as_json  # noqa: PLC0415
    from lowfold.core.sheet.standing import standing  # noqa: PLC0415
    from lowfold.views.need import need_answer  # noqa: PLC0415
    from lowfold.views.sheet import sheet_answer  # noqa: PLC0415

    told: dict[str, Any] = {"need": as_json(need_answer(text, read)), "sheet": None}
    if read.need is not None:
        sheet = build_sheet(read.need, read.tokens, stock=stock)
        listed = len(sheet.choices.rows) if sheet.choices else 0
        answer = sheet_answer(read.need, sheet, standing(sheet), None, more=listed == LISTED)
        told["sheet"] = as_json(answer)
    show_json(told)
    if read.kind is None or read.unread:
        raise typer.Exit(NOT_UNDERSTOOD)
    choices = (told["sheet"] or {}).get("choices", [])
    if read.need is not None and all(c["verdict"] != "pass" for c in choices):
        raise typer.Exit(FAILS)


def _of_drawer(read: OneLine) -> bool:
    return read.tokens.get("values", "").casefold() in {"drawer", "stock"}


def _stock(data: Path | None) -> Stock:
    """Return the user's own drawer and families, where there is a database."""
    from lowfold.api.sessions import inventory  # noqa: PLC0415  the database, where it is asked for
    from lowfold.commands.kept import opened  # noqa: PLC0415

    with opened(data) as session:
        found: Stock = inventory(session)
    return found


def _kept(read: OneLine, data: Path | None) -> int:
    from lowfold.commands.kept import opened  # noqa: PLC0415
    from lowfold.core.one_line.naming import short_name  # noqa: PLC0415
    from lowfold.store.designs import add_design  # noqa: PLC0415

    fields: dict[str, Any] = {
        "name": short_name(read.kind, read.tokens), "kind": read.kind, "brief": dict(read.tokens),
        "prefer": "nearest", "why": "", "choice": None, "tags": [],
    }  # fmt: skip
    with opened(data) as session:
        return int(add_design(session, fields).id)
