"""What changed between two states of a design, in the words of the trade."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

from lowfold.core.network.notation import Netlist
from lowfold.core.network.tree import Part, parts_of
from lowfold.core.parts.families import Family
from lowfold.core.record.statement import Statement, read_statement
from lowfold.core.values.quantities import write_code

__all__ = ["NOTHING_CHANGED", "Change", "changes", "choice_in_short", "in_a_line"]

NOTHING_CHANGED: Final = "nothing that is kept"
LONGEST: Final = 60  #: characters of a text that is quoted
MOST_VALUES: Final = 8  #: of a choice that are written out


@dataclass(frozen=True, slots=True)
class Change:
    """One thing that is not what it was."""

    what: str
    before: str
    after: str

    @property
    def words(self) -> str:
        return f"{self.what} {self.before or 'none'} → {self.after or 'none'}"


def choice_in_short(state: Statement) -> str:
    """Return the values of a choice from top to bottom, as said: `200k/56k`; empty for none."""
    if state.network is None:
        return ""
    if isinstance(state.network, Netlist):
        values = [line.ohms for line in state.network.lines if line.ohms is not None]
    else:
        values = [p.ohms for p in parts_of(state.network) if isinstance(p, Part)]
    shown = [write_code(v) for v in values[:MOST_VALUES]]
    more = len(values) - len(shown)
    return "/".join(shown) + (f" and {more} more" if more > 0 else "")


def changes(
    before: Mapping[str, Any],
    after: Mapping[str, Any],
    families: tuple[Family, ...] = (),
    *,
    judged: bool = True,
) -> tuple[Change, ...]:
    """Return what is different between two states of a design.

    Parameters
    ----------
    before, after : mapping
        `name`, `kind`, `brief` (text by token), `prefer`, `choice`, `why` and `tags`.
    families : tuple of Family
        The user's own.
    judged : bool
        Tell how the gates stand too.
    """
    found: list[Change] = []
    one, other = (
        read_statement(s["kind"], s["brief"], s.get("choice"), families) for s in (before, after)
    )
    if before.get("name") != after.get("name"):
        found.append(Change("name", _quoted(before.get("name")), _quoted(after.get("name"))))
    for token in dict.fromkeys([*one.tokens, *other.tokens]):
        was, now = one.tokens.get(token), other.tokens.get(token)
        left, right = (_shown(s) for s in (was, now))
        if left != right and (now or was) is not None:
            label = (now or was).label  # type: ignore[union-attr]  # one of them is there
            found.append(Change(label, left, right))
    if before.get("choice") != after.get("choice"):
        left, right = choice_in_short(one), choice_in_short(other)
        if left == right:
            left, right = _quoted(before.get("choice")), _quoted(after.get("choice"))
        found.append(Change("choice", left, right))
    if before.get("prefer") != after.get("prefer"):
        words = [str(s.get("prefer", "")).replace("_", " ") for s in (before, after)]
        found.append(Change("order", *words))
    if before.get("why") != after.get("why"):
        found.append(Change("reason", _quoted(before.get("why")), _quoted(after.get("why"))))
    if (before.get("tags") or []) != (after.get("tags") or []):
        words = [", ".join(s.get("tags") or []) for s in (before, after)]
        found.append(Change("tags", *words))
    if judged:
        found += _of_gates(one, other)
    return tuple(found)


def _of_gates(one: Statement, other: Statement) -> list[Change]:
    left, right = ({g.name: g for g in s.judged.gates} if s.judged else {} for s in (one, other))
    found = []
    for name in dict.fromkeys([*left, *right]):
        words = [
            _used(g.used, g.verdict) if (g := side.get(name)) else "not judged"
            for side in (left, right)
        ]
        if words[0] != words[1]:
            found.append(Change(name, *words))
    return found


def _used(used: float | None, verdict: str | None) -> str:
    if used is None:
        return "not judged"
    share = "beyond all bounds" if math.isinf(used) else f"{100 * used:.0f} %"
    return f"{share} ({verdict})" if verdict else share


def _shown(reading: Any) -> str:
    if reading is None or reading.absent:
        return ""
    return reading.shown or f"“{reading.text[:LONGEST]}”"


def _quoted(text: Any) -> str:
    said = " ".join(str(text or "").split())
    if not said:
        return ""
    return f"“{said[:LONGEST]}…”" if len(said) > LONGEST else f"“{said}”"


def in_a_line(found: Sequence[Change]) -> str:
    """Say what changed in one line.

    Parameters
    ----------
    found : sequence of Change
    """
    return "; ".join(c.words for c in found) or NOTHING_CHANGED
