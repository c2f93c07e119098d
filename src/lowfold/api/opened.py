"""POST /api/sheet/opened: a choice looked into, for the gates that are opened."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import Field

from lowfold.api.choice_answer import Figure, figure
from lowfold.api.fields import Answer, Ask
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.api.sheet import BriefTexts, texts_of
from lowfold.core.errors import DomainError, TopologyError
from lowfold.core.faults import Fault
from lowfold.core.needs.choice import Choice, Mark
from lowfold.core.needs.kinds import KINDS, BriefKind, read_brief, weigh
from lowfold.core.needs.opened import SAMPLES, open_choice
from lowfold.core.notation import Netlist, read_text
from lowfold.core.quantities import FRACTION, VOLT, WATT, Kind, write
from lowfold.core.sampling import Scatter

__all__ = ["router"]

router = APIRouter(prefix="/api/sheet", tags=["sheet"])


class OpenedAsk(Ask):
    """A brief as typed and one of its choices."""

    kind: BriefKind
    brief: BriefTexts = Field(default_factory=dict, max_length=60)
    choice: str = Field(min_length=1, max_length=20_000)


class ScatterPicture(Answer):
    """How often which deviation comes, as fractions of the target."""

    name: str
    edges: list[float]
    counts: list[int]
    lowest: float
    highest: float
    within: float
    words: str


class ContributionLine(Answer):
    at: str
    name: str
    share: float = Field(description="Of the accepted deviation, signed, first order")
    words: str


class PartLine(Answer):
    ref: str
    worst: Figure | None
    allowed: Figure | None
    used: float | None
    words: str


class FaultLine(Answer):
    words: str
    outputs: dict[str, Figure | None]
    hot: list[str]
    supply_shorted: bool


class OpenedAnswer(Answer):
    scatters: list[ScatterPicture]
    contributions: list[ContributionLine]
    parts: list[PartLine]
    faults: list[FaultLine]
    derating: str = Field(description="What the rating is at the hottest ambient")


@router.post("/opened", responses=responses(422))
def opened(ask: OpenedAsk, families: FamiliesDep) -> OpenedAnswer:
    """Look into one choice: scatter, contributions, every part's power, and single faults."""
    need = read_brief(ask.kind, texts_of(ask.brief), families).need
    if need is None:
        msg = "the brief is not understood: see what its tokens say"
        raise DomainError(msg, field="brief")
    network = read_text(ask.choice)
    if isinstance(network, Netlist):
        msg = "a choice is a series–parallel network, not a netlist"
        raise TopologyError(msg, field="choice")
    choice = weigh(need, network)
    found = open_choice(need, choice)
    unit = KINDS[ask.kind].unit
    rating, place = need.parts.family, need.parts.environment
    rated = choice.judged.check.parts[0].rated_watts or 0.0
    return OpenedAnswer(
        scatters=[_picture(mark, s, need.within, unit) for mark, s in found.scatters],
        contributions=[
            ContributionLine(
                at=c.at,
                name=c.name,
                share=c.share,
                words=f"{write(abs(c.moves), unit, 3)}, {write(abs(c.share), FRACTION, 2)} of it",
            )
            for c in found.contributions
        ],
        parts=_parts(choice),
        faults=[_fault(f, choice) for f in found.faults],
        derating=(
            f"{rating.name}: {write(rating.rated_watts, WATT, 3, trim=True)} up to 70 °C, "
            f"{write(rated, WATT, 3, trim=True)} at {place.high_c:g} °C; "
            f"{write(need.parts.stress, FRACTION, 3, trim=True)} of that may be used"
        ),
    )


def _picture(mark: Mark, found: Scatter, within: float, unit: Kind) -> ScatterPicture:
    assert found.inside is not None  # a window was given
    assert found.inside_low is not None
    assert found.inside_high is not None
    middle = " … ".join(write(found.percentiles[p], unit, 4) for p in ("5", "95"))
    low, high = (write(x, FRACTION, 4) for x in (found.inside_low, found.inside_high))
    return ScatterPicture(
        name=mark.name,
        edges=[e / mark.target - 1 for e in found.edges],
        counts=list(found.counts),
        lowest=mark.lowest / mark.target - 1,
        highest=mark.highest / mark.target - 1,
        within=within,
        words=(
            f"{write(found.inside, FRACTION, 4)} of {SAMPLES:,} samples are inside the window "
            f"(95 % interval {low} to {high}); nine in ten lie at {middle}."
        ),
    )


def _parts(choice: Choice) -> list[PartLine]:
    if choice.judged.supply is None:
        return []
    lines = []
    for p in choice.judged.check.parts:
        suggested = write(p.suggested_watts, WATT, 3, trim=True) if p.suggested_watts else ""
        lines.append(
            PartLine(
                ref=p.ref,
                worst=figure(p.worst_watts, WATT, 3),
                allowed=figure(p.allowed_watts, WATT, 3, trim=True),
                used=min(p.used, 99.0),
                words=f"smallest standard rating that would do: {suggested or 'none'}",
            )
        )
    return lines


def _fault(fault: Fault, choice: Choice) -> FaultLine:
    circuit = choice.judged.circuit
    return FaultLine(
        words=f"{fault.ref} {'opens' if fault.mode == 'open' else 'is shorted'}",
        outputs={
            m.name: figure(fault.voltages[circuit.node(m.name)], VOLT, 4) for m in choice.marks
        },
        hot=list(fault.overloaded),
        supply_shorted=fault.supply_shorted,
    )
