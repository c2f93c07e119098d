"""Find the fault: a question drawn so that its fault shows and can be found.

From level to level the faults go from gross to subtle, and a load hangs on the board. A fault is
taken only if the readings of all points together leave it at least `FOUND` probable.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Final

import numpy as np

from lowfold.core.bench.predict import Board, Model
from lowfold.core.bench.suspects import suspects
from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import GROUND, SUPPLY, build_circuit, junctions
from lowfold.core.network.notation import read_text
from lowfold.core.network.tree import write_network
from lowfold.core.practice.chance import chance_of
from lowfold.core.practice.hidden_fault import (
    DRAWN,
    KINDS,
    WRONG_VALUE,
    FaultQuestion,
    NamedKind,
    box_of,
    box_with,
    points_of,
    truth_of,
)
from lowfold.core.practice.networks import drawn_network, drawn_supply, standard_near
from lowfold.core.practice.ways import findable
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box

__all__ = ["fault_question", "hiddenness"]

LOADED_FROM: Final = 3  #: the level from which a load hangs on the board
TRIES: Final = 40  #: of a kind, before another one
MOST_PARTS: Final = 12  #: of an own network
#: A fault that moves every voltage and the supply's current by less is not drawn, shares.
SEEN: Final = {1: 0.3, 2: 0.2, 3: 0.1, 4: 0.05, 5: 0.03}
#: How far a value, a supply and what hides go off, shares.
OFF: Final = {4: (0.15, 0.4), 5: (0.12, 0.3)}


def fault_question(
    level: int, seed: int, network: str | None = None, supply_volts: float = 12.0
) -> FaultQuestion:
    """Return a question by its level and number.

    Parameters
    ----------
    level : int
        From 1 to 5.
    seed : int
    network : str, optional
        One's own, as typed, in place of one that is drawn.
    supply_volts : float
        V, of one's own.

    Raises
    ------
    DomainError
        For a level or a number there is none of; for an own network that is too large, or on which
        no fault of this level can be found.
    LowfoldError
        For an own network that is not understood.
    """
    chance = chance_of("fault", level, seed)
    if network is not None:
        _check_own(network, supply_volts)
    for kind in (DRAWN[level][int(k)] for k in chance.permutation(len(DRAWN[level]))):
        for _ in range(TRIES):
            text = write_network(drawn_network(chance, level)) if network is None else network
            volts = drawn_supply(chance, level) if network is None else supply_volts
            hung = _hung(chance, text, volts) if level >= LOADED_FROM and network is None else []
            box = box_with(text, volts, hung)
            drawn = _drawn_fault(chance, level, kind, box)
            if drawn is None:
                continue
            at, ohms = hung[0] if hung else ("", 0.0)
            question = FaultQuestion(level, seed, text, volts, at, ohms, kind, *drawn)
            if _can_be_found(question):
                return question
    msg = (
        f"no fault of level {level} could be found on this network by its readings; take another "
        "level, or a network with a junction between parts"
    )
    raise DomainError(msg, field="network")


def _check_own(network: str, volts: float) -> None:
    circuit = build_circuit(read_text(network))
    count = len(circuit.branches)
    if not 2 <= count <= MOST_PARTS:
        msg = f"{count} parts; a fault is practised on 2 to {MOST_PARTS}"
        raise DomainError(msg, field="network")
    if not volts:
        msg = "nothing drives it: a fault is looked for with a supply other than 0 V"
        raise DomainError(msg, field="supply_v")
    if not math.isfinite(solve(circuit, volts).total_ohms):
        msg = "nothing joins the supply’s ends (switches are open): no reading would tell a fault"
        raise DomainError(msg, field="network")


def _hung(chance: np.random.Generator, network: str, volts: float) -> list[tuple[str, float]]:
    """Return a load at a junction, some three times what the network is."""
    circuit = build_circuit(read_text(network))
    names = [n for n, node in circuit.names.items() if node not in (SUPPLY, GROUND)]
    if not names:
        return []
    total = solve(circuit, volts).total_ohms
    return [(names[int(chance.integers(0, len(names)))], standard_near(3 * total))]


#: Of what, Ω, V, and whether it lies beside the part.
_Drawn = tuple[tuple[str, ...], float | None, float | None, bool]


def _drawn_fault(
    chance: np.random.Generator, level: int, kind: NamedKind, box: Box
) -> _Drawn | None:
    """Return a fault of a kind; None where the board has none of it."""
    if kind in ("supply", "series resistance", "value") or (kind == "load" and _too_many(chance)):
        return _of_any_value(chance, level, kind, box)
    found = [s for s in suspects(box).single if s.kind == kind]
    if not found:
        return None
    one = found[int(chance.integers(0, len(found)))]
    beside = kind in ("open", "short") and bool(chance.integers(0, 2))
    return one.refs, one.ohms if kind in WRONG_VALUE else None, None, beside


def _too_many(chance: np.random.Generator) -> bool:
    return bool(chance.integers(0, 2))


def _of_any_value(
    chance: np.random.Generator, level: int, kind: NamedKind, box: Box
) -> _Drawn | None:
    """Return a fault whose value may be any."""
    least, most = OFF.get(level, (0.2, 0.5))
    off = float(chance.uniform(least, most))
    if kind == "supply":
        up = bool(chance.integers(0, 2))
        volts = box.supply.volts * (1 + off if up else 1 - off)
        return (), None, round(volts, 2), False
    total = solve(box.circuit, 1.0, 0.0, [r.load for r in box.loads]).total_ohms
    if kind == "series resistance":
        return (), standard_near(total * off), None, False
    if kind == "load":
        bare = set(range(2, box.circuit.nodes)) - {r.load.at for r in box.loads}
        if not bare:
            return None
        node = sorted(bare)[int(chance.integers(0, len(bare)))]
        name = next(n for n, number in junctions(box.circuit).items() if number == node)
        return (name,), standard_near(total * float(chance.uniform(0.5, 2.0))), None, False
    place = int(chance.integers(0, len(box.circuit.branches)))
    branch = box.circuit.branches[place]
    factor = (1 + off) if chance.integers(0, 2) else (1 - off)
    return (branch.ref,), float(f"{branch.ohms * factor:.3g}"), None, False


def _can_be_found(question: FaultQuestion) -> bool:
    return _shift(question) >= SEEN[question.level] and findable(question)


@lru_cache(maxsize=64)
def _shift(question: FaultQuestion) -> float:
    """Return the largest share that the fault moves a voltage or the supply's current by."""
    box = box_of(question)
    ahead = [
        one for one in points_of(box)
        if one.probe.point.kind == "voltage" or one.probe.point.supply
    ]  # fmt: skip
    probes = [one.probe for one in ahead]
    boards = [Board(), truth_of(question, box).board]
    sound, wrong = Model(box).predict(boards, probes).mean
    volts = np.array([one.probe.point.kind == "voltage" for one in ahead])
    scale = np.where(volts, abs(question.supply_volts), np.abs(sound))
    return float((np.abs(wrong - sound) / scale).max())


def hiddenness(question: FaultQuestion) -> float:
    """Return how hidden a fault is, in bits: among how many, and how little of it shows."""
    box = box_of(question)
    kinds = KINDS[question.level]
    among = sum(s.kind in kinds for s in suspects(box).single)
    curves = sum(kind in kinds for kind in ("supply", "series resistance"))
    if "value" in kinds:
        curves += len(box.circuit.branches)
    return math.log2(among + curves) - math.log2(min(1.0, _shift(question)))
