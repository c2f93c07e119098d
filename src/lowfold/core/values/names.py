"""Names of the user's own things: what a name may be, so that it is one everywhere it goes."""

from __future__ import annotations

import re
from typing import Final

from lowfold.core.errors import DomainError

__all__ = ["CONTROL", "FORMULA_SIGNS", "LONGEST_NAME", "plain_name"]

LONGEST_NAME: Final = 80
#: What no text shows, but for a tab and the end of a line.
CONTROL: Final = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f]")
#: What a spreadsheet takes for the beginning of a formula (common practice).
FORMULA_SIGNS: Final = frozenset("=+-@")


def plain_name(text: str, what: str, *, field: str | None = None) -> str:
    """Return a name with single spaces, refused where it is none or could run in a spreadsheet.

    Parameters
    ----------
    text : str
    what : str
        What is named, for the refusal, like `a family`.
    field : str, optional
        The field of the request that it is in.

    Raises
    ------
    DomainError
        Naming `field`.
    """
    if CONTROL.search(text):
        msg = f"the name of {what} holds a character that cannot be shown: write it anew"
        raise DomainError(msg, field=field)
    name = " ".join(text.split())
    if not name:
        msg = f"the name of {what} is empty: start with a letter or a digit"
        raise DomainError(msg, field=field)
    if len(name) > LONGEST_NAME:
        msg = f"the name of {what} has {len(name)} characters; at most {LONGEST_NAME} are kept"
        raise DomainError(msg, field=field)
    if text[:1] in {"\t", "\n"} or name[0] in FORMULA_SIGNS:
        msg = f"“{name[:40]}” is no name of {what}: start with a letter or a digit"
        raise DomainError(msg, field=field)
    return name
