"""Counted words that agree: `1 part`, `2 parts`."""

from __future__ import annotations

__all__ = ["counted"]


def counted(count: int, one: str, many: str = "") -> str:
    """Say how many there are of something.

    Parameters
    ----------
    count : int
        How many.
    one : str
        What one of them is called.
    many : str
        What several are called; with an s behind `one` where not given.
    """
    return f"{count} {one if count == 1 else many or one + 's'}"
