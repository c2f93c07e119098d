"""What a round at the bench says: what to do next, how it stands, and why it stops."""

from __future__ import annotations

from lowfold.core.bench.expect import Expected
from lowfold.core.bench.points import name_of, words_of
from lowfold.core.bench.readings import QUANTITIES, Taken
from lowfold.core.bench.round import Round, Step
from lowfold.core.checking.verdict import Verdict
from lowfold.core.network.circuit import Circuit
from lowfold.core.values.quantities import write

__all__ = [
    "beside",
    "build_verdict",
    "doing",
    "hint",
    "limits_words",
    "short",
    "standing",
    "stopping",
]

DIGITS = 5  #: a meter's figures
SEEN = 0.0005  #: share of a figure that is to be seen on a meter


def _shown(value: float, step: Step) -> str:
    return write(value, QUANTITIES[step.point.kind], DIGITS, trim=True)


def limits_words(step: Step) -> str:
    """Say between what a reading is as expected."""
    expected = step.expected
    if not isinstance(expected, Expected):
        return expected.message
    if expected.low is None or expected.high is None:
        return "over range: nothing joins the leads"
    if expected.overload:
        return "over range"
    return f"{_shown(expected.low, step)} to {_shown(expected.high, step)}"


def doing(circuit: Circuit, step: Step) -> str:
    """Say what to do to take a reading."""
    point = step.point
    if point.kind == "resistance" and point.part is not None:
        ref = circuit.branches[point.part].ref
        return f"Power off. {ref} out of the circuit, one lead on each of its ends."
    if point.kind == "resistance":
        at, against = name_of(circuit, point.at), name_of(circuit, point.against)
        return f"Built, supply disconnected, loads off. One lead on {at}, the other on {against}."
    if point.kind == "voltage":
        at, against = name_of(circuit, point.at), name_of(circuit, point.against)
        return f"Power on. Red lead on {at}, black on {against}."
    if point.supply:
        return "Power off, open the supply's wire, the meter into it: red to the supply. Power on."
    ref = circuit.branches[point.part or 0].ref
    return f"Power off, open the wire to {ref}, the meter into it. Power on."


def short(circuit: Circuit, step: Step) -> str:
    """Say where a step measures, in a word or two; its group says the rest."""
    point = step.point
    if point.supply:
        return "the supply's"
    if point.part is not None:
        return circuit.branches[point.part].ref
    at, against = name_of(circuit, point.at), name_of(circuit, point.against)
    return f"{at} to {against}"


def beside(step: Step) -> str:
    """Say what the meter itself changes at a point, where that is to be seen; else nothing."""
    expected = step.expected
    if not isinstance(expected, Expected) or expected.loading is None or expected.ideal is None:
        return ""
    if abs(expected.loading) < SEEN:
        return ""
    ideal = _shown(expected.ideal, step)
    if step.point.kind == "resistance":
        return f"{ideal} and the leads"
    what = "the meter's input" if step.point.kind == "voltage" else "the meter's burden"
    return f"{ideal} without {what}"


def hint(step: Step) -> str:
    """Say where a reading far out would be as expected with another prefix, else nothing."""
    expected, taken = step.expected, step.taken
    if step.told != "far out" or taken is None or not taken.value:
        return ""
    if not isinstance(expected, Expected) or expected.low is None or expected.high is None:
        return ""
    for power in (-9, -6, -3, 3, 6, 9):
        value = taken.value * 10.0**power
        if expected.low <= value <= expected.high:
            return f"{_shown(value, step)} would be as expected: is it the prefix?"
    return ""


def stopping(circuit: Circuit, found: Round) -> str:
    """Say at which reading the round stops, and what to do; nothing where it does not."""
    if found.stopped is None:
        return ""
    step = found.steps[found.stopped]
    taken = step.taken or Taken("")
    read = "over range" if taken.value is None else _shown(taken.value, step)
    return (
        f"Stop at {words_of(circuit, step.point)}: it reads {read}, expected "
        f"{limits_words(step)}. Find out why before going on: look at the leads, the jack and the "
        "range, then take it again"
    )


def build_verdict(found: Round) -> Verdict | None:
    """Return how a built board stands; None while readings are missing and none is off."""
    if found.stopped is not None:
        return Verdict.FAIL
    if found.count("off"):
        return Verdict.MARGINAL
    return Verdict.PASS if found.following is None else None


def standing(found: Round) -> str:
    """Say how a built board stands, in a few words."""
    if not found.taken:
        return "not built"
    good, total = found.count("as expected"), len(found.steps)
    words = f"{good} of {total} as expected"
    if found.stopped is not None:
        return f"stop: {words}"
    off = found.count("off")
    return f"{words}, {off} off" if off else words
