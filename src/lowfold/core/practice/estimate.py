"""Estimate: one figure of a drawn circuit, in the head; then how a practised person goes.

Values are rounded to a figure and a half; in parallel n to one gives n/(n + 1) of the smaller, and
on the way back a string shares its voltage by thirds and quarters (common practice).
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Final, Literal, get_args

import numpy as np

from lowfold.core.errors import DomainError
from lowfold.core.folding.ballpark import ballpark, rounded
from lowfold.core.folding.fold import Fold, Folding, fold
from lowfold.core.network.circuit import GROUND, Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.network.tree import write_network
from lowfold.core.practice.chance import chance_of
from lowfold.core.practice.networks import drawn_network, drawn_supply
from lowfold.core.solving.solution import solve
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, Kind, write

__all__ = ["ALLOWED", "EstimateQuestion", "Step", "difficulty_of", "estimate_question", "way_of"]

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
KINDS: Final[dict[What, Kind]] = {"resistance": OHM, "voltage": VOLT, "current": AMPERE}
MOST_PARTS: Final = 12  #: of an own network
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

    members: tuple[str, ...]  #: what it is about
    words: str
    folds: int  #: of the folding that are done in the drawing that the members are in
    guesses: Mapping[str, float]  #: what this step makes of the members together, Ω
    reached: float | None = None  #: of the last one: the figure asked for, as the way has it


def estimate_question(
    level: int, seed: int, network: str | None = None, supply_volts: float = 12.0
) -> EstimateQuestion:
    """Return a question by its level and number.

    Parameters
    ----------
    level : int
        From 1 to 5.
    seed : int
    network : str, optional
        One's own, as typed, in place of one that is drawn; its switches are open.
    supply_volts : float
        V, of one's own.

    Raises
    ------
    DomainError
        For a level or a number there is none of; for an own network of too few parts or too many,
        that does not fold by series and parallel alone, or has no figure to think about.
    LowfoldError
        For an own network that is not understood.
    """
    chance = chance_of("estimate", level, seed)
    if network is not None:
        return _of_own(chance, level, seed, network, supply_volts)
    while True:
        tree = drawn_network(chance, level)
        volts = drawn_supply(chance, level)
        what = ASKED[level][int(chance.integers(0, len(ASKED[level])))]
        found = _asked(chance, build_circuit(tree), volts, what)
        if found is not None:
            at, through, exact = found
            text = write_network(tree)
            question = EstimateQuestion(level, seed, text, volts, what, at, through, exact)
            # What a good head cannot land on by rounding is not asked
            if abs(question.off(way_of(question)[-1].reached or 0.0)) <= question.allowed:
                return question


def _of_own(
    chance: np.random.Generator, level: int, seed: int, network: str, volts: float
) -> EstimateQuestion:
    circuit = build_circuit(read_text(network))
    if not 2 <= len(circuit.branches) <= MOST_PARTS:
        msg = f"{len(circuit.branches)} parts; one estimates 2 to {MOST_PARTS} in the head"
        raise DomainError(msg, field="network")
    folding = fold(circuit)
    if folding.total is None or any(step.kind == "star-delta" for step in folding.steps):
        msg = (
            "it does not fold by series and parallel alone, and is not estimated in the head; ask "
            "what is in series, or find a fault on it"
        )
        raise DomainError(msg, field="network")
    every: tuple[What, ...] = get_args(What)
    for what in (every[int(k)] for k in chance.permutation(len(every))):
        found = _asked(chance, circuit, volts, what)
        if found is not None and folding.steps:
            return EstimateQuestion(level, seed, network, volts, what, *found)
    msg = "one part alone carries the current: there is nothing to fold in the head"
    raise DomainError(msg, field="network")


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

    Where rounding on the way leads further off than is accepted, as it may on one's own network,
    the last step says so.
    """
    circuit = _circuit(question)
    folding = fold(circuit)
    ohms = {e.ref: rounded(e.ohms) for e in folding.start}
    found = []
    for done, (step, guess) in enumerate(zip(folding.steps, ballpark(folding), strict=True)):
        ohms[guess.ref] = guess.estimate
        them, kind = _and(m.ref for m in step.members), step.kind
        found.append(
            Step(
                tuple(m.ref for m in step.members),
                f"{them} in {kind}: {guess.how}: about {_shown(guess.estimate, OHM)}",
                done,
                {guess.ref: guess.estimate},
            )
        )
    if question.what == "resistance":
        *before, last = found
        return (*before, _landed(question, last, ohms[folding.steps[-1].results[0].ref]))
    wanted = _below(question, circuit)
    volts = {folding.steps[-1].results[0].ref: question.supply_volts} if folding.steps else {}
    for done in reversed(range(len(folding.steps))):
        step = folding.steps[done]
        found += _taken_apart(step, done, ohms, volts, _ancestors(folding, wanted))
    total = sum(volts[ref] for ref in wanted)
    if question.what == "voltage":
        over = _and(wanted)
        words = f"{question.at} lies above {over}: {_shown(total, VOLT)}"
        return (*found, _landed(question, Step(wanted, words, 0, {}), total))
    amps = volts[question.through] / ohms[question.through]
    words = f"{_shown(volts[question.through], VOLT)} over {_shown(ohms[question.through], OHM)}"
    last = Step((question.through,), f"{words}: {_shown(amps, AMPERE)}", 0, {})
    return (*found, _landed(question, last, amps))


def _landed(question: EstimateQuestion, last: Step, reached: float) -> Step:
    """Return the last step with the figure it reaches, and a word where that is too far off."""
    off = question.off(reached)
    words = last.words
    if abs(off) > question.allowed:
        far, most = (write(abs(x), FRACTION, 2, trim=True) for x in (off, question.allowed))
        words += f". That is {far} off, more than the {most} accepted here: round less on the way"
    return replace(last, words=words, reached=reached)


def _circuit(question: EstimateQuestion) -> Circuit:
    return build_circuit(read_text(question.network))


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
    step: Fold, done: int, ohms: dict[str, float], volts: dict[str, float], wanted: set[str]
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
    return [Step(refs, told, done, {})] if wanted & set(refs) else []


def _and(refs: Iterable[str]) -> str:
    *some, last = refs
    return f"{', '.join(some)} and {last}" if some else last


def _shown(value: float, kind: Kind) -> str:
    return write(value, kind, 2, trim=True)


def difficulty_of(question: EstimateQuestion) -> float:
    """Return how hard a question is: thoughts on the way, and values that are not round."""
    awkward = sum(abs(rounded(b.ohms) / b.ohms - 1) > 0.01 for b in _circuit(question).branches)
    return len(way_of(question)) + awkward / 2
