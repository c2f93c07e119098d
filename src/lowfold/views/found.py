"""What a search found, as it is seen: dividers, strings, combinations, sensors' legs."""

from __future__ import annotations

import math
from typing import Any

from lowfold.core.network.tree import write_network
from lowfold.core.search.divider_search import Divider
from lowfold.core.search.feedback_search import FeedbackPair
from lowfold.core.search.ladder_search import Ladder
from lowfold.core.search.resistance_search import Combination, ResistanceResult
from lowfold.core.search.sensor import (
    Position,
    SensorLeg,
)
from lowfold.views.view import view

__all__ = [
    "Candidate",
    "DividerAnswer",
    "DividerCandidate",
    "FrontierCandidate",
    "LadderAnswer",
    "LadderCandidate",
    "ResistanceAnswer",
    "SensorAnswer",
    "SensorCandidate",
    "TapAnswer",
    "divider_candidate",
    "feedback_pair",
]


@view
class DividerCandidate:
    """One divider."""

    network: str
    upper: str
    lower: str
    output_v: float  #: With the nominal load
    error: float  #: output_v / target_v − 1
    unloaded_v: float
    current_a: float  #: Drawn from the supply, nominal, loaded
    output_ohm: float
    lowest_v: float
    highest_v: float
    powers_w: dict[str, float]  #: Nominal, by designator


@view
class DividerAnswer:
    candidates: list[DividerCandidate]
    exact: bool  #: No allowed divider is better than the first candidate
    searched: int
    reason: str | None  #: Why there is no candidate


def divider_candidate(found: Divider) -> DividerCandidate:
    """Return a divider as it was found."""
    return _two_legs(found, found.unloaded_volts)


def feedback_pair(found: FeedbackPair) -> DividerCandidate:
    """Return a pair as a divider: `unloaded_v` is the output with no current into the pin."""
    return _two_legs(found, found.without_pin_volts)


def _two_legs(found: Divider | FeedbackPair, unloaded_volts: float) -> DividerCandidate:
    return DividerCandidate(
        network=write_network(found.network),
        upper=write_network(found.upper),
        lower=write_network(found.lower),
        output_v=found.output_volts,
        error=found.error,
        unloaded_v=unloaded_volts,
        current_a=found.amps,
        output_ohm=found.output_ohms,
        lowest_v=found.lowest_volts,
        highest_v=found.highest_volts,
        powers_w=found.watts,
    )


@view
class TapAnswer:
    output_v: float
    error: float
    lowest_v: float
    highest_v: float


@view
class LadderCandidate:
    network: str
    resistors: list[float]  #: Ω, top to bottom
    taps: list[TapAnswer]
    worst_error: float  #: Largest |error| of a tap
    current_a: float

    @classmethod
    def from_core(cls, found: Ladder) -> LadderCandidate:
        return cls(
            network=write_network(found.network),
            resistors=list(found.ohms),
            taps=[
                TapAnswer(
                    output_v=t.output_volts,
                    error=t.error,
                    lowest_v=t.lowest_volts,
                    highest_v=t.highest_volts,
                )
                for t in found.taps
            ],
            worst_error=found.worst_error,
            current_a=found.amps,
        )


@view
class LadderAnswer:
    candidates: list[LadderCandidate]
    exact: bool  #: No allowed ladder has a smaller worst error than the first
    method: str  #: How far the search is exact
    searched: int
    reason: str | None


@view
class Candidate:
    """One combination."""

    expression: str  #: In the network notation
    parts: int
    resistance_ohm: float
    error: float  #: resistance / target − 1
    lowest_ohm: float
    highest_ohm: float


@view
class FrontierCandidate(Candidate):
    """The best of exactly so many parts."""

    worthwhile: bool  #: False where the |error| it removes is below a tenth of the part tolerance


@view
class ResistanceAnswer:
    candidates: list[Candidate]
    frontier: list[FrontierCandidate]
    exact: bool  #: No allowed combination is nearer than the first candidate
    searched: int  #: Combinations the candidates are the best of
    reason: str | None  #: Why there is no candidate


def resistance_answer(found: ResistanceResult) -> ResistanceAnswer:
    """Return the combinations found for a resistance."""
    return ResistanceAnswer(
        candidates=[Candidate(**_facts(c)) for c in found.candidates],
        frontier=[
            FrontierCandidate(**_facts(f.best), worthwhile=f.worthwhile) for f in found.frontier
        ],
        exact=True,
        searched=found.searched,
        reason=found.reason,
    )


def _facts(found: Combination) -> dict[str, Any]:
    return {
        "expression": found.expression,
        "parts": found.parts,
        "resistance_ohm": found.ohms,
        "error": found.error,
        "lowest_ohm": found.lowest_ohms,
        "highest_ohm": found.highest_ohms,
    }


@view
class SensorCandidate:
    network: str  #: The sensor, RS1, at its first point
    resistor_ohm: float
    position: Position  #: Of the sensor
    outputs_v: list[float]
    swing_v: float  #: |last − first|
    #: Largest distance from the straight line through first and last, points equally spaced, over
    #: swing_v; null where there is no swing
    nonlinearity: float | None
    sensor_w: float  #: Nominal, the largest over the points
    lowest_v: list[float]
    highest_v: list[float]

    @classmethod
    def from_core(cls, leg: SensorLeg) -> SensorCandidate:
        return cls(
            network=write_network(leg.network),
            resistor_ohm=leg.ohms,
            position=leg.position,
            outputs_v=list(leg.outputs),
            swing_v=leg.swing,
            nonlinearity=leg.nonlinearity if math.isfinite(leg.nonlinearity) else None,
            sensor_w=leg.sensor_watts,
            lowest_v=list(leg.lowest),
            highest_v=list(leg.highest),
        )


@view
class SensorAnswer:
    candidates: list[SensorCandidate]
    exact: bool  #: No allowed value is better than the first candidate
    searched: int
    reason: str | None  #: Why there is no candidate
    #: Where common practice would look first, without a load: the geometric mean of the ends for
    #: the swing, the three-point rule for the straight line
    rule_ohm: float | None
