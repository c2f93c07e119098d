"""What can be wrong with the database and its disk, each told in one true sentence."""

from __future__ import annotations

from pathlib import Path
from typing import Literal, NamedTuple

__all__ = ["Failure", "Moved", "broken", "cannot_open", "while_running"]

FREE = "free some space"


class Failure(NamedTuple):
    """What is wrong with the database while the server runs."""

    kind: Literal["busy", "full", "read-only", "damaged", "gone"]
    words: str


class Moved(RuntimeError):
    """The database was deleted, moved or replaced while the server ran."""

    def __init__(self, path: Path, what: str) -> None:
        super().__init__(
            f"{path} {what} while Lowfold ran: nothing of this was kept. Put it back as it was, "
            "then stop Lowfold and start it again"
        )


def while_running(error: BaseException) -> Failure:
    """Tell what the database refused, where the server runs already.

    Parameters
    ----------
    error : BaseException
        As SQLite, or the library on it, raised it.
    """
    text = str(getattr(error, "orig", error))
    if "full" in text or "disk I/O" in text:
        told = f"the disk is full: nothing of this was kept. {FREE.capitalize()}, then save again"
        return Failure("full", told)
    if "readonly" in text or "read-only" in text:
        told = (
            "the database cannot be written, its file or directory is read-only: nothing of this "
            "was kept. Make it yours to write (chmod u+w), then save again"
        )
        return Failure("read-only", told)
    if "malformed" in text or "not a database" in text or "no such table" in text:
        told = (
            "the database is damaged or was replaced while Lowfold ran: nothing of this was kept. "
            "Stop Lowfold, put a copy of yours in its place, and start it again"
        )
        return Failure("damaged", told)
    if "unable to open" in text:
        told = (
            "the database cannot be opened any more: nothing of this was kept. See whether its "
            "directory is there and yours to write, then save again"
        )
        return Failure("gone", told)
    return Failure("busy", "the database is busy: nothing of this was kept; try again")


def cannot_open(path: Path, error: BaseException) -> str:
    """Tell why the database cannot be used at a start, and what to do."""
    text = str(getattr(error, "orig", error))
    if path.is_dir():
        return (
            f"{path} is a directory, not a database: it is left as it is. Move it away, or give "
            "another directory with DATA= or --data"
        )
    if "full" in text or "disk I/O" in text or "No space" in text:
        return (
            f"the disk that holds {path} is full ({_short(text)}): {FREE} and start again; what is "
            "kept is as it was"
        )
    if "readonly" in text or "unable to open" in text or "ermission" in text:
        return (
            f"{path} cannot be opened for writing ({_short(text)}): see its permissions, or give "
            "another directory with DATA= or --data"
        )
    if "locked" in text:
        return f"{path} is in use by another program: close that, then start again"
    return broken(path, text)


def broken(path: Path, what: str) -> str:
    """Tell that a database is damaged, and what to do."""
    return (
        f"{path} is damaged ({_short(what)}): it is left as it is. Put a copy of yours in its "
        "place (there may be one beside it, named “before”), or move it away to begin anew"
    )


def _short(text: str) -> str:
    return " ".join(text.split())[:120]
