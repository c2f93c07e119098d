"""A text of one need or of several: a line each is the needs of a board, a netlist is a network."""

from __future__ import annotations

from dataclasses import replace

from lowfold.core.one_line.reading import OneLine, Understood, read_one_line
from lowfold.core.one_line.words import LONGEST
from lowfold.core.parts.families import Family

__all__ = ["MOST_LINES", "read_needs_said"]

MOST_LINES = 60  #: read while they are typed; a board takes more from a file


def read_needs_said(text: str, families: tuple[Family, ...] = ()) -> OneLine:
    """Read a text as one need, or as those of a board where at least two of its lines say one.

    Parameters
    ----------
    text : str
        As typed, or as pasted with its lines.
    families : tuple of Family
        The user's own part families.

    Raises
    ------
    TooLargeError
        For a line of more than `LONGEST` characters.
    """
    lines = text.splitlines(keepends=True)
    said = [line for line in lines if line.strip()]
    if len(said) < 2 or len(said) > MOST_LINES:
        return read_one_line(text, families)
    if len(text) <= LONGEST:
        whole = read_one_line(text, families)
        if whole.kind == "network":
            return whole
    every = [(line, read_one_line(line, families)) for line in lines]
    if sum(read.kind is not None for _, read in every) < 2:
        return read_one_line(text, families)
    understood, unread, start = [], [], 0
    for line, read in every:
        unread += [replace(u, start=u.start + start, end=u.end + start) for u in read.unread]
        understood += [
            Understood(u.start + start, u.end + start, f"needs.{u.token}") for u in read.understood
        ]
        start += len(line)
    needs = "\n".join(line.strip() for line in said)
    return OneLine("board", {"needs": needs}, tuple(understood), tuple(unread))
