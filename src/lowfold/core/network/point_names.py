"""Where something was measured, as technicians write it: `OUT`, `V(R2)`, `I(R1)`, `R2`."""

from __future__ import annotations

import re
from typing import Final

__all__ = ["point_at"]

_OF_A_PART: Final = re.compile(r"(?P<kind>[VIvi])\s*\(\s*(?P<name>[^\s()]+)\s*\)")
_PART: Final = re.compile(r"[Rr][0-9]+")


def point_at(where: str) -> dict[str, str]:
    """Return a point by the names that a request has.

    A name alone is a junction, against 0; a designator alone a part lifted out. `V(R2)` is across a
    part, or at a junction, `I(R1)` through a part or the supply.

    Parameters
    ----------
    where : str
        As written.
    """
    bare = where.strip()
    found = _OF_A_PART.fullmatch(bare)
    name = (found["name"] if found else bare).lstrip("@")
    part = _PART.fullmatch(name) is not None
    if found and found["kind"].upper() == "I":
        return {"kind": "current", "through": name}
    if part:
        return (
            {"kind": "voltage", "across": name} if found else {"kind": "resistance", "part": name}
        )
    return {"kind": "voltage", "at": name}
