"""In series, in parallel, or neither: how two parts stand to each other, and why.

In series the same current has no other way to go; in parallel both ends lie on the same two
junctions (common practice).
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from lowfold.core.errors import TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch

__all__ = ["Relation", "relation"]


@dataclass(frozen=True, slots=True)
class Relation:
    kind: Literal["series", "parallel", "neither"]
    reason: str
    nodes: tuple[int, ...] = ()
    """In parallel the two they share; in series those on their string; else where they meet, or
    where the current of the one parts."""
    others: tuple[str, ...] = ()  #: what lies between them in the string, or leaves where they meet


def relation(
    edges: Sequence[Branch],
    titles: dict[int, str],
    one: str,
    two: str,
    drawn: Mapping[int, tuple[str, ...]] | None = None,
) -> Relation:
    """Return how the parts `one` and `two` stand to each other among `edges`.

    Parameters
    ----------
    drawn : mapping of junction to names, optional
        Loads that draw a current there: a wire leaves for each.
    edges : Sequence[Branch]
        Resistances between nodes, Ω.
    titles : dict[int, str]
        What nodes are called.
    one : str
        Designator of the one part.
    two : str
        Designator of the other.

    Raises
    ------
    TopologyError
        If one of them is not there, or they are the same.
    """
    a, b = (_found(edges, ref) for ref in (one, two))
    leaving = drawn or {}
    if a is b:
        msg = "these are the same part: pick two"
        raise TopologyError(msg, field="parts")
    shared = sorted({a.a, a.b} & {b.a, b.b})
    if len(shared) == 2:
        ends = " and ".join(titles[n] for n in shared)
        return Relation(
            "parallel",
            f"{a.ref} and {b.ref} both lie between {ends}: they share their voltage.",
            tuple(shared),
        )
    string = _string_of(edges, a, leaving)
    if b in string:
        between = [e.ref for e in string if e not in (a, b)]
        through = f" through {', '.join(between)}" if between and not shared else ""
        return Relation(
            "series",
            f"No third wire leaves between {a.ref} and {b.ref}{through}: the current of one has no "
            "other way to go than through the other.",
            _inside(string),
            tuple(between),
        )
    if shared:
        node = shared[0]
        others = [e.ref for e in edges if node in (e.a, e.b) and e not in (a, b)]
        others += leaving.get(node, ())
        if node in (SUPPLY, GROUND):
            others.append("the supply")
        far = " and ".join(titles[e.far(node)] for e in (a, b))
        return Relation(
            "neither",
            f"They meet at {titles[node]}, but {' and '.join(others)} also "
            f"{'leaves' if len(others) == 1 else 'leave'} there, so that the current of one may go "
            f"on elsewhere; their other ends, {far}, are not the same junction, so that nothing "
            "holds their voltages to each other.",
            (node,),
            tuple(others),
        )
    ends = "; ".join(f"{e.ref} from {titles[e.a]} to {titles[e.b]}" for e in (a, b))
    return Relation(
        "neither", f"They share no junction: {ends}.", *_parting(edges, string, leaving)
    )


def _inside(string: Sequence[Branch]) -> tuple[int, ...]:
    """Return the junctions between the parts of a string."""
    ends = [n for e in string for n in (e.a, e.b)]
    return tuple(sorted({n for n in ends if ends.count(n) > 1}))


def _parting(
    edges: Sequence[Branch], string: Sequence[Branch], leaving: Mapping[int, tuple[str, ...]]
) -> tuple[tuple[int, ...], tuple[str, ...]]:
    """Return where the current of a string parts, and what takes it on; none at the supply."""
    ends = [n for e in string for n in (e.a, e.b)]
    outer = sorted({n for n in ends if ends.count(n) == 1} - {SUPPLY, GROUND})
    found = [e.ref for n in outer for e in edges if n in (e.a, e.b) and e not in string]
    return tuple(outer), (*found, *(name for n in outer for name in leaving.get(n, ())))


def _found(edges: Sequence[Branch], ref: str) -> Branch:
    for e in edges:
        if e.ref.casefold() == ref.strip().casefold():
            return e
    there = ", ".join(e.ref for e in edges)
    rest = f"there are: {there}" if there else "none does"
    msg = f"there is no part called “{ref}” that carries current; {rest}"
    raise TopologyError(msg, field="parts")


def _string_of(edges: Sequence[Branch], start: Branch, leaving: Collection[int]) -> list[Branch]:
    """Return every part that carries the current of `start` and nothing else, itself included."""
    found = [start]
    for node in (start.a, start.b):
        here, last = node, start
        while here not in (SUPPLY, GROUND) and here not in leaving:
            touching = [e for e in edges if here in (e.a, e.b)]
            if len(touching) != 2:
                break
            last = touching[0] if touching[1] is last else touching[1]
            if last in found:
                break
            found.append(last)
            here = last.far(here)
    return found
