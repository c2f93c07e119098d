"""A short name for a design that is made of one line: what it is for, and no more."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Final

from lowfold.core.one_line.reading import TextKind

__all__ = ["short_name"]

LONGEST: Final = 28  #: characters that a list of designs shows whole


def short_name(kind: TextKind | None, tokens: Mapping[str, str]) -> str:
    """Return a name of at most `LONGEST` characters; empty where nothing is wanted.

    Parameters
    ----------
    kind : str
        Of what was read.
    tokens : mapping
        Token to text, as read.
    """
    if kind == "board":
        return f"board of {len(tokens['needs'].splitlines())} needs"
    for name in _names(kind, {token: " ".join(text.split()) for token, text in tokens.items()}):
        if 0 < len(name) <= LONGEST:
            return name
    return {"network": "network", None: ""}.get(kind, f"new {kind}")


def _names(kind: TextKind | None, said: Mapping[str, str]) -> list[str]:
    """Return names from the one that says most to the one that says least."""
    return [] if kind is None else NAMES[kind](said)


def _of_resistance(said: Mapping[str, str]) -> list[str]:
    load = f" beside {said['load']}" if "load" in said else ""
    use = f" at {said['use']}" if "use" in said else ""
    base = said.get("target_ohm", "")
    return [f"{base}{load}{use}", f"{base}{use}", base]


def _of_divider(said: Mapping[str, str]) -> list[str]:
    supply = said.get("supply_v", "")
    if "target_v" not in said:
        share = said.get("ratio", "")
        return [f"{share} of {supply}" if supply else share, share]
    load = f" into {said['load']}" if "load" in said else ""
    base = f"{supply} to {said['target_v']}".strip()
    return [base + load, base, said["target_v"]]


def _of_feedback(said: Mapping[str, str]) -> list[str]:
    wanted = said.get("target_v", "")
    return [f"{said.get('reference_v', '')} ref to {wanted}".strip(), wanted]


def _of_ladder(said: Mapping[str, str]) -> list[str]:
    taps = [said[f"tap{n}_v"] for n in range(1, 5) if f"tap{n}_v" in said]
    return [f"{said.get('supply_v', '')} to {', '.join(taps)}", f"{len(taps)} taps"]


def _of_network(said: Mapping[str, str]) -> list[str]:
    on = f" on {said['supply_v']}" if "supply_v" in said else ""
    return [said.get("network", "") + on, said.get("network", ""), f"network{on}"]


NAMES: Final[dict[TextKind, Callable[[Mapping[str, str]], list[str]]]] = {
    "resistance": _of_resistance, "divider": _of_divider, "feedback": _of_feedback,
    "ladder": _of_ladder, "network": _of_network,
}  # fmt: skip
