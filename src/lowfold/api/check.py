"""POST /api/network/check."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Self

from fastapi import APIRouter
from pydantic import Field, model_validator

from lowfold.api.computing import ComputedRoute, quick
from lowfold.api.fields import (
    Allowance,
    Amps,
    Ask,
    Coefficient,
    Degrees,
    Ohms,
    PositiveVolts,
    SourceOhms,
    Stress,
    Tolerance,
    Volts,
    Watts,
)
from lowfold.api.networks import LoadAsk, NetworkText, Switches, circuit_of
from lowfold.api.problems import responses
from lowfold.api.sessions import FamiliesDep
from lowfold.core.checking.check import Demand, check_network
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.network.circuit import Circuit
from lowfold.core.parts.families import Family, families_with_typical, family_named
from lowfold.core.parts.limits import REFERENCE_C, Environment, PartLimits, half_width
from lowfold.core.parts.ratings import FULL_POWER_C, STRESS, ZERO_POWER_C
from lowfold.core.tolerance.box import Box, LoadRange, Supply, Tracking
from lowfold.views.check import CheckAnswer, check_answer

__all__ = ["BoxAsk", "CheckAsk", "Question", "read_question", "router"]

router = APIRouter(prefix="/api/network", tags=["network"], route_class=ComputedRoute)


class SupplyAsk(Ask):
    v: Volts
    tolerance: Tolerance = 0.0
    source_ohm: SourceOhms = 0.0
    low_v: Volts = Field(
        0.0, description="Voltage of the network's other end, node 0, exact; loads go to 0 V"
    )


class LoadRangeAsk(LoadAsk):
    """A load and the ends it may lie between; nominal where not given."""

    min_ohm: Ohms | None = None
    max_ohm: Ohms | None = None
    min_a: Amps | None = None
    max_a: Amps | None = None

    def load_range(self, circuit: Circuit) -> LoadRange:
        load = self.load(circuit)
        nominal = self.ohm if self.ohm is not None else self.a or 0.0
        low, high = (
            (self.min_ohm, self.max_ohm) if self.ohm is not None else (self.min_a, self.max_a)
        )
        return LoadRange(load, nominal if low is None else low, nominal if high is None else high)

    @model_validator(mode="after")
    def _ends_of_its_kind(self) -> Self:
        stray = ("min_a", "max_a") if self.ohm is not None else ("min_ohm", "max_ohm")
        if any(getattr(self, name) is not None for name in stray):
            msg = f"{stray[0]} and {stray[1]} do not belong to this kind of load"
            raise ValueError(msg)
        return self


class TrackingAsk(Ask):
    """Parts of one array or reel, whose ratios are held tighter than their values."""

    ratio: Tolerance = Field(description="How far the ratio of any two may be off, a fraction")
    refs: list[str] | None = Field(
        None, max_length=400, description="Designators; not given, every part"
    )

    def to_core(self, circuit: Circuit) -> Tracking:
        if self.refs is None:
            return Tracking(self.ratio)
        try:
            known = frozenset(circuit.branches[circuit.branch(r)].ref for r in self.refs)
        except LowfoldError as error:
            raise type(error)(error.message, field="tracking.refs") from error
        return Tracking(self.ratio, known)


class PartLimitsAsk(Ask):
    """What a part is sold under; what is not given is not judged."""

    family: str | None = Field(
        None,
        max_length=80,
        description="A family by name; what is given beside it holds over what the family says",
    )
    tolerance: Tolerance | None = None
    tcr_ppm: Coefficient | None = None
    drift: Tolerance | None = None
    rating_w: Watts | None = None
    limiting_v: Annotated[Volts, Field(gt=0)] | None = None
    full_power_c: Degrees | None = Field(None, description=f"Default {FULL_POWER_C:g} °C")
    zero_power_c: Degrees | None = Field(None, description=f"Default {ZERO_POWER_C:g} °C")

    def over(self, default: PartLimitsAsk, families: tuple[Family, ...]) -> PartLimits:
        """Return the limits: as given, else as the family named here, else as `default`."""
        stated = [self, self.of_family(families), default, default.of_family(families)]

        def pick(name: str) -> float | None:
            given = (getattr(ask, name) for ask in stated if ask is not None)
            return next((x for x in given if x is not None), None)

        full, zero = pick("full_power_c"), pick("zero_power_c")
        return PartLimits(
            tolerance=pick("tolerance") or 0.0,
            tcr_ppm=pick("tcr_ppm") or 0.0,
            drift=pick("drift") or 0.0,
            rated_watts=pick("rating_w"),
            limiting_volts=pick("limiting_v"),
            full_power_c=FULL_POWER_C if full is None else full,
            zero_power_c=ZERO_POWER_C if zero is None else zero,
        )

    def of_family(self, families: tuple[Family, ...]) -> PartLimitsAsk | None:
        """Return what the family named here is sold under."""
        if self.family is None:
            return None
        found = family_named(self.family, families)
        if found is None:
            names = ", ".join(f.name for f in families_with_typical(families))
            msg = f"there is no family “{self.family}”; there are: {names}"
            raise DomainError(msg, field="parts.family")
        return PartLimitsAsk(
            tolerance=found.tolerance,
            tcr_ppm=found.tcr_ppm,
            drift=found.drift,
            rating_w=found.rated_watts,
            limiting_v=found.limiting_volts,
            full_power_c=found.full_power_c,
            zero_power_c=found.zero_power_c,
        )


class EnvironmentAsk(Ask):
    low_c: Degrees | None = None
    high_c: Degrees | None = None
    reference_c: Degrees = REFERENCE_C

    def to_core(self) -> Environment:
        low = self.reference_c if self.low_c is None else self.low_c
        high = max(self.reference_c, low) if self.high_c is None else self.high_c
        low = min(low, high) if self.low_c is None else low
        return Environment(low_c=low, high_c=high, reference_c=self.reference_c)


class OutputAsk(Ask):
    at: str = Field(max_length=80)
    target_v: Volts | None = None
    allowed: Allowance | None = Field(
        None, description="Fraction of the target; not given, not judged"
    )
    stands_v: PositiveVolts | None = Field(
        None, description="What is connected there stands: faults that exceed it are told"
    )


class ResistanceDemandAsk(Ask):
    target_ohm: Ohms | None = None
    allowed: Allowance | None = None


class BoxAsk(Ask):
    """A network with a range for everything in it."""

    network: NetworkText
    supply: SupplyAsk | None = Field(
        None, description="Needed for outputs; without it parts carry nothing"
    )
    loads: list[LoadRangeAsk] = Field(default_factory=list, max_length=20)
    switches: Switches = Field(default_factory=dict)
    parts: dict[str, PartLimitsAsk] = Field(
        default_factory=dict,
        max_length=401,
        description="`default`, and single parts by designator",
    )
    environment: EnvironmentAsk = Field(default_factory=EnvironmentAsk)


class CheckAsk(BoxAsk):
    """A network with a range for everything in it, and what is demanded of it."""

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "network": "R1=360k + @OUT + R2=180k",
                    "supply": {"v": 14.4, "tolerance": "3 %"},
                    "loads": [{"at": "OUT", "ohm": "200k", "min_ohm": "180k", "max_ohm": "220k"}],
                    "parts": {"default": {"tolerance": "1 %", "rating_w": "100 mW"}},
                    "environment": {"low_c": -20, "high_c": 60},
                    "outputs": [{"at": "OUT", "target_v": 3.0, "allowed": "5 %"}],
                }
            ]
        }
    }

    outputs: list[OutputAsk] = Field(default_factory=list, max_length=20)
    resistance: ResistanceDemandAsk | None = None
    stress: Stress = STRESS
    tracking: TrackingAsk | None = None

    @model_validator(mode="after")
    def _supplied(self) -> Self:
        if self.supply is None and self.outputs:
            msg = "outputs need a supply, for instance {“v”: 5}"
            raise ValueError(msg)
        return self


def _demand(target: float | None, allowed: float | None) -> Demand | None:
    return None if target is None or allowed is None else Demand(target, allowed)


def _part_limits(
    ask: BoxAsk, circuit: Circuit, families: tuple[Family, ...]
) -> tuple[PartLimits, dict[str, PartLimits]]:
    nothing = PartLimitsAsk()
    default = next((p for ref, p in ask.parts.items() if ref.casefold() == "default"), nothing)
    single: dict[str, PartLimits] = {}
    for ref, own in ask.parts.items():
        if ref.casefold() != "default":
            single[circuit.branches[circuit.branch(ref)].ref] = own.over(default, families)
    return default.over(nothing, families), single


@dataclass(frozen=True)
class Question:
    """A check request as the core takes it."""

    circuit: Circuit
    supply: Supply
    loads: list[LoadRange]
    default: PartLimits
    single: dict[str, PartLimits]
    tracking: Tracking | None

    def box(self, place: Environment) -> Box:
        """Return the box this question is about."""
        limits = [self.single.get(b.ref, self.default) for b in self.circuit.branches]
        halves = tuple(
            half_width(p.tolerance, p.tcr_ppm, place.largest_dt, p.drift) for p in limits
        )
        return Box(self.circuit, self.supply, tuple(self.loads), halves, self.tracking)


def read_question(ask: BoxAsk, families: tuple[Family, ...]) -> Question:
    """Read what is checked; without a supply nothing is driven, so no power is judged."""
    low_v = ask.supply.low_v if ask.supply else 0.0
    circuit = circuit_of(ask.network, ask.switches, low_v)
    default, single = _part_limits(ask, circuit, families)
    if ask.supply is None:
        default = replace(default, rated_watts=None, limiting_volts=None)
        single = {
            ref: replace(own, rated_watts=None, limiting_volts=None) for ref, own in single.items()
        }
    stated = ask.supply or SupplyAsk(v=0.0)
    supply = Supply(stated.v, stated.tolerance, stated.source_ohm, stated.low_v)
    loads = _load_ranges(ask.loads, circuit)
    tracked = ask.tracking if isinstance(ask, CheckAsk) else None
    tracking = tracked.to_core(circuit) if tracked else None
    return Question(circuit, supply, loads, default, single, tracking)


@router.post("/check", openapi_extra=quick(1500), responses=responses(422, 503))
def check(ask: CheckAsk, families: FamiliesDep) -> CheckAnswer:
    """Check a network at its worst: exact extremes, loaded and unloaded output, worst power."""
    question = read_question(ask, families)
    stands = {o.at: o.stands_v for o in ask.outputs if o.stands_v is not None}
    found = check_network(
        question.circuit,
        question.supply,
        loads=question.loads,
        default=question.default,
        parts=question.single,
        environment=ask.environment.to_core(),
        outputs=[(o.at, _demand(o.target_v, o.allowed)) for o in ask.outputs],
        resistance=_demand(ask.resistance.target_ohm, ask.resistance.allowed)
        if ask.resistance
        else None,
        judge_resistance=ask.resistance is not None,
        stress=ask.stress,
        tracking=question.tracking,
        with_faults=True,
        stands=stands,
    )
    nodes = {o.at: question.circuit.node(o.at) for o in ask.outputs}
    return check_answer(found, nodes, stands)


def _load_ranges(loads: Sequence[LoadRangeAsk], circuit: Circuit) -> list[LoadRange]:
    found = []
    for position, load in enumerate(loads):
        try:
            found.append(load.load_range(circuit))
        except LowfoldError as error:
            raise type(error)(error.message, field=f"loads.{position}") from error
    return found
