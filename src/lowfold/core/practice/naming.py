"""Whether a fault that somebody names is the true one, or one that no reading tells from it."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

import numpy as np

from lowfold.core.bench.ahead import Ahead
from lowfold.core.bench.next_point import told_apart
from lowfold.core.bench.predict import Board, Change, Model
from lowfold.core.bench.suspects import OPEN_OHMS, SHORT_OHMS
from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import GROUND, SUPPLY, Circuit, junctions
from lowfold.core.practice.hidden_fault import (
    WRONG_VALUE,
    FaultQuestion,
    NamedKind,
    box_of,
    points_of,
    truth_of,
)
from lowfold.core.tolerance.box import Box

__all__ = ["Named", "named", "same_fault"]

#: What a kind is told with.
PARTS: Final = {"open": 1, "short": 1, "swapped": 2, **dict.fromkeys(WRONG_VALUE, 1)}
NODES: Final = {"bridge": 2, "load": 1}
DECADES: Final = 7.0  #: to either side that a value named without one is tried over
#: Values tried in a pass; each reading goes one way with a value, so the nearest is narrowed to.
TRIED: Final = 41
PASSES: Final = 7


@dataclass(frozen=True, slots=True)
class Named:
    """A fault as somebody names it, with the names as the board has them."""

    kind: NamedKind
    refs: tuple[str, ...]


def named(circuit: Circuit, kind: NamedKind, refs: Sequence[str]) -> Named:
    """Return a fault with its parts and junctions as the board has them.

    Parameters
    ----------
    refs : sequence of str
        Parts, or junctions; none for the supply and what hides in series.

    Raises
    ------
    DomainError
        For too many or too few of them.
    TopologyError
        For a name that the board has not.
    """
    wanted = PARTS.get(kind, NODES.get(kind, 0))
    given = list(dict.fromkeys(ref.strip() for ref in refs if ref.strip()))
    if len(given) != wanted:
        what = "part" if kind in PARTS else "junction"
        told = f"{wanted} {what}{'s' if wanted != 1 else ''}" if wanted else "no part"
        msg = f"“{kind}” is told with {told}, not with {len(given)}"
        raise DomainError(msg, field="refs")
    if kind in PARTS:
        places = [circuit.branch(ref) for ref in given]
        found = [circuit.branches[k].ref for k in sorted(places)]
    elif kind in NODES:
        numbers = {_node(circuit, ref) for ref in given}
        found = [n for n, number in junctions(circuit).items() if number in numbers]
    else:
        found = []
    if len(found) != wanted:
        msg = f"“{kind}” is told with {wanted} that are not the same"
        raise DomainError(msg, field="refs")
    return Named(kind, tuple(found))


def _node(circuit: Circuit, name: str) -> int:
    return replace(circuit, names=junctions(circuit)).node(name, field="refs")


@lru_cache(maxsize=4096)
def same_fault(question: FaultQuestion, answer: Named) -> bool:
    """Return whether an answer is right.

    It is if it is the true fault, a wrong value being one thing whatever it came from; or if no
    voltage and no current, the current through each part included, tells the two apart.
    """
    true = Named(question.kind, question.refs)
    kinds = {true.kind, answer.kind}
    if (true.kind == answer.kind or kinds <= WRONG_VALUE) and set(true.refs) == set(answer.refs):
        return True
    return _nearest(*_electric(question), answer) <= 1


@lru_cache(maxsize=8)
def _electric(question: FaultQuestion) -> tuple[Model, Board, list[Ahead]]:
    """Return a board's equations, what is wrong with it, and its voltages and currents."""
    box = box_of(question)
    ahead = [one for one in points_of(box) if one.probe.point.kind != "resistance"]
    return Model(box), truth_of(question, box).board, ahead


def _nearest(model: Model, truth: Board, ahead: Sequence[Ahead], answer: Named) -> float:
    """Return how near to the truth a fault of this name can read, in limits of error."""
    boards = _boards(model.box, answer)
    best = math.inf
    if boards:
        best = float(told_apart(model, [truth, *boards], ahead, 1)[0, 1:].min())
    curve = _curve(model.box, answer)
    if curve is None:
        return best
    middle, board = curve
    reach = DECADES * math.log(10)
    width = 2 * reach
    for _ in range(PASSES):
        grid = np.linspace(middle - width / 2, middle + width / 2, TRIED)
        tried = [board(math.exp(x)) for x in grid]
        away = told_apart(model, [truth, *tried], ahead, 1)[0, 1:]
        middle = float(grid[int(away.argmin())])
        best = min(best, float(away.min()))
        width *= 4 / TRIED
    return best


def _boards(box: Box, answer: Named) -> list[Board]:
    """Return the boards that a name without a value stands for."""
    circuit, refs = box.circuit, answer.refs
    if answer.kind in ("open", "short"):
        ohms = OPEN_OHMS if answer.kind == "open" else SHORT_OHMS
        return [Board((_change(circuit, refs[0], ohms),))]
    if answer.kind == "swapped":
        one, other = (circuit.branches[circuit.branch(ref)].ohms for ref in refs)
        return [Board((_change(circuit, refs[0], other), _change(circuit, refs[1], one)))]
    if answer.kind == "bridge":
        a, b = (_node(circuit, ref) for ref in refs)
        return [] if {a, b} == {SUPPLY, GROUND} else [Board((Change(a, b, 1 / SHORT_OHMS),))]
    if answer.kind == "load":
        node = _node(circuit, refs[0])
        hung = [r.load for r in box.loads if r.load.at == node]
        return [Board((Change(node, GROUND, -load.siemens),)) for load in hung]
    return []


def _change(circuit: Circuit, ref: str, ohms: float) -> Change:
    place = circuit.branch(ref)
    branch = circuit.branches[place]
    new = 0.0 if math.isinf(ohms) else 1 / ohms
    return Change(branch.a, branch.b, new - 1 / branch.ohms, place, ohms)


def _curve(box: Box, answer: Named) -> tuple[float, Callable[[float], Board]] | None:
    """Return what a name with some value stands for, and the logarithm of its middle."""
    circuit = box.circuit
    total = math.log(sum(b.ohms for b in circuit.branches))
    if answer.kind in WRONG_VALUE:
        ref = answer.refs[0]
        middle = math.log(circuit.branches[circuit.branch(ref)].ohms)
        return middle, lambda v: Board((_change(circuit, ref, v),))
    if answer.kind == "load":
        node = _node(circuit, answer.refs[0])
        if node == GROUND:
            return None
        return total, lambda v: Board((Change(node, GROUND, 1 / v),))
    if answer.kind == "supply":
        sign = math.copysign(1.0, box.supply.volts)
        return math.log(abs(box.supply.volts)), lambda v: Board(supply_volts=sign * v)
    if answer.kind == "series resistance":
        return total, lambda v: Board(series_ohms=v)
    return None
