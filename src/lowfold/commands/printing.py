"""How commands speak: tables that read well in a terminal, JSON, and refusals that help."""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any, Final, NoReturn

import typer

__all__ = [
    "FAILS",
    "NOT_UNDERSTOOD",
    "refuse",
    "said",
    "show",
    "show_json",
    "text_of",
    "verdict_word",
]

#: Exit codes: something fails or does not pass; something was not understood. 0 is neither.
FAILS, NOT_UNDERSTOOD = 1, 2
#: A verdict in shape and word, so that no colour is needed.
WORDS: Final = {"pass": "● pass", "marginal": "◐ marginal", "fail": "✕ fail"}
COLOURS: Final = {"●": "green", "◐": "yellow", "✕": "red"}
MOST_BYTES: Final = 2_000_000
#: Signs behind a figure's last digit before its decimal point.
POINT: Final = "."


def text_of(given: str) -> str:
    """Return what a command is given: standard input for `-`, a file's text, else itself.

    Parameters
    ----------
    given : str
        As it stands on the command line.
    """
    if given == "-":
        return sys.stdin.read(MOST_BYTES)
    path = Path(given)
    try:
        if len(given) < 4096 and path.is_file():
            if path.stat().st_size > MOST_BYTES:
                refuse(f"{given} has {path.stat().st_size} bytes: up to {MOST_BYTES} are read")
            return path.read_text(encoding="utf-8-sig")
    except UnicodeDecodeError:
        refuse(f"{given} is no text: it is read as UTF-8")
    except (OSError, ValueError):
        pass  # no name of a file: a network or a need itself
    if "\n" not in given and path.suffix in {".json", ".csv", ".cir", ".net", ".txt"}:
        refuse(f"there is no file {given}")
    return given


def refuse(why: str, *more: str) -> NoReturn:
    """End, saying what was not understood and what would be right.

    Parameters
    ----------
    why, more : str
        Sentences, a line each.

    Raises
    ------
    typer.Exit
        Always, with the code for what is not understood.
    """
    for line in (why, *more):
        typer.echo(line, err=True)
    raise typer.Exit(NOT_UNDERSTOOD)


def show_json(answer: Any) -> None:
    """Print an answer as JSON, its fields called as in the API."""
    typer.echo(json.dumps(answer, ensure_ascii=False, indent=1))


def said(line: str = "") -> None:
    """Print a line, its verdicts coloured where the terminal has colours."""
    typer.echo(_coloured(line))


def show(rows: Sequence[Sequence[str]], head: Sequence[str], left: Sequence[int] = ()) -> None:
    """Print a table: figures on their decimal points, columns cut to the terminal's width.

    Parameters
    ----------
    rows : sequence of sequence of str
        Cells; a figure with its unit behind a space.
    head : sequence of str
        What each column is.
    left : sequence of int
        Columns that are words, and begin at the left.
    """
    columns = list(zip(*rows, strict=True)) if rows else [() for _ in head]
    written = []
    for place, (name, cells) in enumerate(zip(head, columns, strict=True)):
        lines = list(cells) if place in left else _on_points(cells)
        width = max(map(len, [name, *lines]))
        put = str.ljust if place in left else str.rjust
        written.append([put(line, width) for line in (name, *lines)])
    most = _width()
    for line in zip(*written, strict=True):
        text = "  ".join(line).rstrip()
        said(text if len(text) <= most else f"{text[: most - 1]}…")


def _on_points(cells: Sequence[str]) -> list[str]:
    """Return figures padded so that their decimal points, and their units, stand in one column."""
    numbers = [cell.partition(" ") for cell in cells]
    wholes = [number.partition(POINT) for number, _, _ in numbers]
    units = max((len(unit) for _, _, unit in numbers), default=0)
    parts = max((len(part) for _, _, part in wholes), default=0)
    found = []
    for (whole, point, part), (_, space, unit) in zip(wholes, numbers, strict=True):
        tail = f"{point}{part}".ljust(parts + 1 if parts else 0)
        found.append(f"{whole}{tail}{space or ' ' if units else ''}{unit.ljust(units)}")
    return found


def verdict_word(verdict: str | None) -> str:
    """Return a verdict in shape and word."""
    return WORDS.get(str(verdict), "○ not judged")


def _width() -> int:
    """Return how wide a table may be: all of it where nobody looks at a terminal."""
    import shutil  # noqa: PLC0415  only where a table is printed

    return max(40, shutil.get_terminal_size((10_000, 24)).columns) if _terminal() else 10_000


def _terminal() -> bool:
    return sys.stdout.isatty()


def _coloured(line: str) -> str:
    if not _terminal():
        return line
    for sign, colour in COLOURS.items():
        if sign in line:
            return line.replace(sign, typer.style(sign, fg=colour))
    return line
