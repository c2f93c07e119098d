"""`lowfold judge` and `board`: designs kept as files, a line each, for a repository's checks."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final
from xml.etree import ElementTree as ET

import typer

from lowfold.api.handover_file import read_handover
from lowfold.api.standings import stand
from lowfold.commands.printing import (
    FAILS,
    NOT_UNDERSTOOD,
    refuse,
    said,
    show,
    show_json,
    text_of,
    verdict_word,
)
from lowfold.core.board.board import Said
from lowfold.core.errors import LowfoldError
from lowfold.core.parts.stock import Stock
from lowfold.core.tokens.names import TOKEN_NAMES, not_known
from lowfold.formats.board_csv import read_needs, write_board
from lowfold.views.board import BoardAnswer, board_chosen

__all__ = ["board", "judge"]

#: A limit in a netlist's comment: `* wanted: OUT 3 V ± 4 %`.
LIMIT: Final = re.compile(r"\s*[*;#]\s*(?P<name>[a-z][a-z0-9_ ]*?)\s*[:=]\s*(?P<text>.+?)\s*$")
COMMENT: Final = re.compile(r"\s*[*;#]")


@dataclass(frozen=True, slots=True)
class Judged:
    """How one design of a file stands."""

    file: str
    name: str
    verdict: str | None
    words: str
    figure: str = ""
    understood: bool = True


def judge(
    files: Sequence[str], fail_on: str, summary: Path | None, xml: Path | None, *, as_json: bool
) -> None:
    """Judge every design of some files, and print a line each.

    Parameters
    ----------
    files : sequence of str
        Hand-overs (JSON), boards (CSV or lines), networks with their limits in comments.
    fail_on : str
        `marginal`, or `fail` alone.
    summary, xml : Path, optional
        Where the same is written as Markdown, and as CI servers read it.
    as_json : bool
        Print it as JSON.

    Raises
    ------
    typer.Exit
        With 1 where something stands at `fail_on` or worse, 2 where one is not understood.
    """
    if fail_on not in {"fail", "marginal"}:
        refuse(f"“{fail_on}” is no verdict to fail on: write fail or marginal")
    found = [one for file in files for one in _judged(file)]
    if as_json:
        names = ("file", "name", "verdict", "words", "figure")
        show_json([{name: getattr(one, name) for name in names} for one in found])
    else:
        rows = [[verdict_word(o.verdict), o.file, o.name, o.figure, o.words] for o in found]
        show(rows, ["", "file", "design", "gives", "why"], left=(0, 1, 2, 3, 4))
    if summary is not None:
        summary.write_text(_markdown(found), encoding="utf-8")
    if xml is not None:
        xml.write_bytes(_xml(found, fail_on))
    if not all(one.understood for one in found):
        raise typer.Exit(NOT_UNDERSTOOD)
    if any(_failing(one, fail_on) for one in found):
        raise typer.Exit(FAILS)


def _failing(one: Judged, fail_on: str) -> bool:
    return one.verdict == "fail" or (one.verdict == "marginal" and fail_on == "marginal")


def _judged(file: str) -> Iterator[Judged]:
    text = text_of(file)
    shown = "standard input" if file == "-" else (file if Path(file).is_file() else file[:40])
    try:
        if text.lstrip().startswith("{"):
            yield from _handed_over(shown, text)
        elif _is_network(text):
            yield _network(shown, text)
        else:
            yield from _board(shown, text)
    except LowfoldError as error:
        yield Judged(shown, "", None, error.message, understood=False)


def _handed_over(file: str, text: str) -> Iterator[Judged]:
    taken = read_handover(text.encode())
    stock = Stock(families=tuple(taken.families))
    for design in taken.designs:
        f = design.fields
        told = stand(f["kind"], f["brief"], f["prefer"], f["choice"], stock)
        wrong = told["verdict"] is None and "not understood" in told["words"]
        yield Judged(
            file, f["name"], told["verdict"], told["words"], told["figure"], understood=not wrong
        )


def _is_network(text: str) -> bool:
    """Whether a file states one network: its first line that is no comment is no need."""
    lines = [line for line in text.splitlines() if line.strip() and not COMMENT.match(line)]
    limits = any(LIMIT.match(line) for line in text.splitlines())
    element = bool(lines) and re.match(r"\s*[RrSs][0-9]+\s+\S+\s+\S+", lines[0]) is not None
    return element or (limits and len(lines) == 1)


def _network(file: str, text: str) -> Judged:
    """Judge a network by the limits in its comments, called as the tokens of a network are."""
    brief: dict[str, str] = {}
    lines = []
    for line in text.splitlines():
        limit = LIMIT.match(line)
        name = limit["name"].replace(" ", "_") if limit else ""
        if limit and name in TOKEN_NAMES["network"]:
            brief[name] = limit["text"]
        elif limit and name not in {"title", "note"}:
            raise LowfoldError(not_known("network", name), field=name)
        elif not COMMENT.match(line) and line.strip():
            lines.append(line.strip())
    told = stand("network", {**brief, "network": "\n".join(lines)}, "nearest", None, Stock())
    wrong = told["verdict"] is None and "not understood" in told["words"]
    name = Path(file).stem
    return Judged(file, name, told["verdict"], told["words"], told["figure"], understood=not wrong)


def _chosen(text: str) -> BoardAnswer:
    needs = [Said(*each) for each in read_needs(text)]
    if not needs:
        refuse("no line says a need: write one a line, such as Battery sense: 14.4 V to 3 V")
    return board_chosen(needs, Stock(), lambda *_: None, share=False)


def _board(file: str, text: str) -> Iterator[Judged]:
    for row in _chosen(text).rows:
        yield Judged(
            file, row.name or row.text, row.verdict, row.words, row.gives,
            understood=bool(row.choice) or (row.kind is not None and not row.unread),
        )  # fmt: skip


def board(text: str, out: Path | None, *, as_json: bool) -> None:
    """Choose for every need of a board, and print or write what is chosen.

    Parameters
    ----------
    text : str
        Needs as lines, or as a table with a column “need”.
    out : Path, optional
        The table to be written, CSV.
    as_json : bool
        Print what the API answers.

    Raises
    ------
    typer.Exit
        With 1 where something does not pass, 2 where a line is not understood.
    """
    found = _chosen(text)
    table = write_board([row.cells for row in found.rows])
    if as_json:
        from lowfold.api.wire import as_json as told  # noqa: PLC0415

        show_json(told(found))
    elif out is None:
        rows = [
            [r.name, ", ".join(r.values), r.gives, r.off, r.lowest, r.highest,
             verdict_word(r.verdict), r.words]
            for r in found.rows
        ]  # fmt: skip
        head = ["name", "values", "gives", "off by", "lowest", "highest", "", "why"]
        show(rows, head, left=(0, 1, 6, 7))
    if out is not None:
        out.write_text(table, encoding="utf-8", newline="")
        if not as_json:
            said(f"{len(found.rows)} needs: {found.passing} pass, {found.failing} fail; in {out}")
    if any(row.unread or not row.choice for row in found.rows):
        raise typer.Exit(NOT_UNDERSTOOD)
    if found.failing or found.marginal:
        raise typer.Exit(FAILS)


def _markdown(found: Sequence[Judged]) -> str:
    lines = ["| stands | design | gives | why |", "|---|---|---|---|"]
    for one in found:
        cells = (verdict_word(one.verdict), one.name or one.file, one.figure, one.words)
        lines.append("| " + " | ".join(c.replace("|", "\\|") for c in cells) + " |")
    return "\n".join(lines) + "\n"


def _xml(found: Sequence[Judged], fail_on: str) -> bytes:
    """Return the report that CI servers read: a case a design."""
    failures = sum(_failing(one, fail_on) for one in found)
    errors = sum(not one.understood for one in found)
    suite = ET.Element(
        "testsuite", name="lowfold judge", tests=str(len(found)), failures=str(failures),
        errors=str(errors),
    )  # fmt: skip
    for one in found:
        case = ET.SubElement(suite, "testcase", classname=one.file, name=one.name or one.file)
        if not one.understood:
            ET.SubElement(case, "error", message=one.words)
        elif _failing(one, fail_on):
            ET.SubElement(case, "failure", message=one.words, type=str(one.verdict))
    report: bytes = ET.tostring(suite, encoding="utf-8", xml_declaration=True)
    return report
