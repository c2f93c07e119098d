"""Estimate: one figure of a drawn circuit, in the head; then how a practised person goes.

Values are rounded to a figure and a half; in parallel n to one gives n/(n + 1) of the smaller, and
on the way back a string shares its voltage by thirds and quarters (common practice).
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final, Literal

import numpy as np

from lowfold.core.folding.ballpark import ballpark, rounded
from lowfold.core.folding.fold import Fold, Folding, fold
from lowfold.core.network.circuit import GROUND, Circuit, build_circuit
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import write_network
from lowfold.core.practice.drawing_lots import lots
from lowfold.core.practice.networks import drawn_network
from lowfold.core.solving.nodes import solve
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, Kind, write

__all__ = ["ALLOWED", "EstimateQuestion", "Step", "estimate_question", "toil", "way_of"]

What = Literal["resistance", "voltage", "current"]
#: How far an answer may be off, by level.
ALLOWED: Final = {1: 0.20, 2: 0.17, 3: 0.14, 4: 0.11, 5: 0.08}
#: What is asked at a level, and how often.
ASKED: Final[dict[int, tuple[What, ...]]] = {
    1: ("resistance", "voltage"),
    2: ("resistance", "voltage", "current"),
    3: ("resistance", "voltage", "current"),
    4: ("voltage", "current", "resistance"),
    5: ("voltage", "current"),
}
SUPPLIES: Final = {1: (10.0, 12.0), 2: (6.0, 10.0, 12.0), 3: (5.0, 9.0, 12.0)}
ODD_SUPPLIES: Final = (3.3, 5.0, 9.0, 14.4, 24.0)
KINDS: Final[dict[What, Kind]] = {"resistance": OHM, "voltage": VOLT, "current": AMPERE}
PLAIN: Final = (0.04, 0.96)  #: of the supply, between which a voltage has to be thought about


@dataclass(frozen=True, slots=True)
class EstimateQuestion:
    """A circuit, and the one figure that is asked of it."""

    level: int
    seed: int
    network: str
    supply_volts: float
    what: What
    at: str  #: a junction, for a voltage
    through: str  #: a part, for a current
    exact: float  #: in the base unit

    @property
    def kind(self) -> Kind:
        return KINDS[self.what]

    @property
    def allowed(self) -> float:
        """Return how far an answer may be off, a fraction."""
        return ALLOWED[self.level]

    def off(self, answer: float) -> float:
        """Return how far an answer is off, a signed fraction.

        Parameters
        ----------
        answer : float
            In the base unit.
        """
        return answer / self.exact - 1


@dataclass(frozen=True, slots=True)
class Step:
    """One thought on the way."""

    members: tuple[str, ...]  #: what it is about, in the drawing of the folding
    words: str


def estimate_question(level: int, seed: int) -> EstimateQuestion:
    """Return a question by its level and number.

    Parameters
    ----------
    level : int
        From 1 to 5.
    seed : int

    Raises
    ------
    DomainError
        For a level or a number there is none of.
    """
    chance = lots("estimate", level, seed)
    supplies = SUPPLIES.get(level, ODD_SUPPLIES)
    while True:
        network = drawn_network(chance, level)
        volts = supplies[int(chance.integers(0, len(supplies)))]
        what = ASKED[level][int(chance.integers(0, len(ASKED[level])))]
        found = _asked(chance, build_circuit(network), volts, what)
        if found is not None:
            at, through, exact = found
            text = write_network(network)
            return EstimateQuestion(level, seed, text, volts, what, at, through, exact)


def _asked(
    chance: np.random.Generator, circuit: Circuit, volts: float, what: What
) -> tuple[str, str, float] | None:
    """Return where and what is asked, and the figure; None where that needs no thought."""
    solution = solve(circuit, volts)
    if what == "resistance":
        return "", "", solution.total_ohms
    if what == "voltage":
        low, high = (share * volts for share in PLAIN)
        names = [n for n, node in circuit.names.items() if low < solution.voltages[node] < high]
        if not names:
            return None
        at = names[int(chance.integers(0, len(names)))]
        return at, "", solution.voltages[circuit.names[at]]
    place = int(chance.integers(0, len(circuit.branches)))
    branch = circuit.branches[place]
    amps = (solution.voltages[branch.a] - solution.voltages[branch.b]) / branch.ohms
    return ("", branch.ref, abs(amps)) if amps else None


def way_of(question: EstimateQuestion) -> tuple[Step, ...]:
    """Return how a practised person goes: folding in the head, then back as far as is asked.

    Parameters
    ----------
    question : EstimateQuestion
    """
    circuit = _circuit(question)
    folding = fold(circuit)
    ohms = {e.ref: rounded(e.ohms) for e in folding.start}
    found = []
    for step, guess in zip(folding.steps, ballpark(folding), strict=True):
        ohms[guess.ref] = guess.estimate
        them, kind = _and(m.ref for m in step.members), step.kind
        found.append(
            Step(
                tuple(m.ref for m in step.members),
                f"{them} in {kind}: {guess.how}: about {_shown(guess.estimate, OHM)}",
            )
        )
    if question.what == "resistance":
        return tuple(found)
    wanted = _below(question, circuit)
    volts = {folding.steps[-1].results[0].ref: question.supply_volts} if folding.steps else {}
    for step in reversed(folding.steps):
        found += _taken_apart(step, ohms, volts, _ancestors(folding, wanted))
    total = sum(volts[ref] for ref in wanted)
    if question.what == "voltage":
        over = _and(wanted)
        return (*found, Step(wanted, f"{question.at} lies above {over}: {_shown(total, VOLT)}"))
    amps = volts[question.through] / ohms[question.through]
    words = f"{_shown(volts[question.through], VOLT)} over {_shown(ohms[question.through], OHM)}"
    return (*found, Step((question.through,), f"{words}: {_shown(amps, AMPERE)}"))


def _circuit(question: EstimateQuestion) -> Circuit:
    return build_circuit(read_network(question.network))


def _below(question: EstimateQuestion, circuit: Circuit) -> tuple[str, ...]:
    """Return the part that is asked about, or those from a junction down to 0 V."""
    if question.what == "current":
        return (question.through,)
    voltages = solve(circuit, question.supply_volts).voltages
    node, found = circuit.names[question.at], []
    while node != GROUND:
        down = min(
            (b for b in circuit.branches if node in (b.a, b.b)),
            key=lambda b: voltages[b.far(node)],
        )
        found.append(down.ref)
        node = down.far(node)
    return tuple(found)


def _ancestors(folding: Folding, wanted: tuple[str, ...]) -> set[str]:
    """Return the wanted parts and every step's result that they went into."""
    found = set(wanted)
    for step in folding.steps:
        if any(m.ref in found for m in step.members):
            found |= {r.ref for r in step.results}
    return found


def _taken_apart(
    step: Fold, ohms: dict[str, float], volts: dict[str, float], wanted: set[str]
) -> list[Step]:
    """Share a step's voltage among its members; tell it where it is on the way."""
    whole = volts[step.results[0].ref]
    refs = tuple(m.ref for m in step.members)
    if step.kind == "parallel":
        volts |= dict.fromkeys(refs, whole)
        told = f"{_and(refs)} share {_shown(whole, VOLT)}"
    else:
        total = sum(ohms[ref] for ref in refs)
        volts |= {ref: whole * ohms[ref] / total for ref in refs}
        shares = ", ".join(
            f"{ref} {_shown(ohms[ref], OHM)} of {_shown(total, OHM)}: {_shown(volts[ref], VOLT)}"
            for ref in refs
            if ref in wanted
        )
        told = f"{_and(refs)} share {_shown(whole, VOLT)} as their resistances: {shares}"
    return [Step(refs, told)] if wanted & set(refs) else []


def _and(refs: Iterable[str]) -> str:
    *some, last = refs
    return f"{', '.join(some)} and {last}" if some else last


def _shown(value: float, kind: Kind) -> str:
    return write(value, kind, 2, trim=True)


def toil(question: EstimateQuestion) -> float:
    """Return how much a question asks of one: thoughts on the way, and values that are not round.

    Parameters
    ----------
    question : EstimateQuestion
    """
    awkward = sum(abs(rounded(b.ohms) / b.ohms - 1) > 0.01 for b in _circuit(question).branches)
    return len(way_of(question)) + awkward / 2
