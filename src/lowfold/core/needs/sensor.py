"""A sensor in one leg of a divider: its need in tokens, and how a resistor beside it stands.

A thermistor, a gauge, a light sensor: known by its resistance at two to nine points. What is judged
is what is stated: the window at the resistor's worst, how far the curve bends, and what the sensor
itself may be heated by.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Final, Literal

from lowfold.core.checking.verdict import Verdict, verdict_on, worst
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import Part, write_network
from lowfold.core.parts.families import Family
from lowfold.core.parts.pool import Pool
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.search.sensor import FEWEST, MOST, Position, SensorLeg, SensorNeed, leg_of
from lowfold.core.solving.nets import Load
from lowfold.core.tokens.loads import LoadToken, load_text, resistive_load
from lowfold.core.tokens.parts import PARTS, pool_of
from lowfold.core.tokens.reading import (
    NOTHING,
    Token,
    TokenReading,
    optional,
    quantity,
    read_tokens,
)
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from lowfold.core.tolerance.power import worst_power
from lowfold.core.values.counting import counted
from lowfold.core.values.quantities import FRACTION, OHM, VOLT, WATT, Kind, read, write

__all__ = [
    "SENSOR_TOKENS",
    "SensorBrief",
    "SensorGate",
    "SensorPoint",
    "as_network",
    "gates_of_leg",
    "leg_chosen",
    "read_sensor",
    "verdict_of",
]

Aim = Literal["swing", "linear", "window"]
AIMS: Final[dict[str, Aim]] = {
    "widest swing": "swing", "swing": "swing", "straight line": "linear", "linear": "linear",
    "straightest line": "linear", "window": "window", "inside the window": "window",
}  # fmt: skip
POSITIONS: Final[dict[str, tuple[Position, ...]]] = {
    "either leg": ("lower", "upper"), "either": ("lower", "upper"), "lower leg": ("lower",),
    "lower": ("lower",), "upper leg": ("upper",), "upper": ("upper",),
}  # fmt: skip
#: A figure with a decimal comma, 11,2k, and not three of 100,200,300 or two of 11k2,5k1.
DECIMAL_COMMA: Final = re.compile(r"(?<![\w.])(?<![0-9],)([0-9]+),([0-9]+)(?![0-9,])")


#: What a point stands for: a figure and its unit.
FIGURE: Final = re.compile(r"([-−+]?[0-9]+(?:[.,][0-9]+)?)(.*)")


@dataclass(frozen=True, slots=True)
class SensorPoint:
    """What the sensor is at one of its points."""

    ohms: float
    label: str  #: what it stands for: 20 °C


@dataclass(frozen=True, slots=True, kw_only=True)
class SensorBrief:
    """A sensor's need as understood."""

    supply_volts: float
    points: tuple[SensorPoint, ...]
    positions: tuple[Position, ...]
    aim: Aim
    window: tuple[float, float] | None
    bend: float | None  #: accepted, a share of the swing
    load: LoadToken | None
    sensor_watts: float | None  #: what the sensor may be heated by
    tolerance: float
    family: Family
    stress: float
    pool: Pool

    def need(self, limit: int) -> SensorNeed:
        """Return what is searched for; a window that is no aim is judged, not searched by."""
        return SensorNeed(
            supply_volts=self.supply_volts,
            sensor_ohms=tuple(p.ohms for p in self.points),
            positions=self.positions,
            pool=self.pool,
            aim=self.aim,
            window=self.window if self.aim == "window" else None,
            load_ohms=self.load.ohms if self.load else None,
            load_ends=(self.load.low, self.load.high) if self.load else None,
            tolerance=self.tolerance,
            max_sensor_watts=self.sensor_watts,
            limit=limit,
            at=self.at,
        )

    @property
    def at(self) -> tuple[float, ...] | None:
        """Return what the points stand for, where all are figures of one unit going one way."""
        told = [FIGURE.fullmatch(p.label) for p in self.points]
        found = [float(m[1].replace("−", "-").replace(",", ".")) for m in told if m]
        units = {m[2].strip() for m in told if m}
        steps = [b - a for a, b in itertools.pairwise(found)]
        one_way = all(d > 0 for d in steps) or all(d < 0 for d in steps)
        whole = len(found) == len(self.points) and len(units) == 1 and one_way
        return tuple(found) if whole else None


def _points(text: str) -> tuple[Any, str]:
    """Read the points of a sensor: `0 °C 27k, 20 °C 11k2, 40 °C 5k1`."""
    found = []
    for piece in re.split(r"[,;\n]+", DECIMAL_COMMA.sub(r"\1.\2", text)):
        if not piece.strip():
            continue
        label, _, last = piece.strip().rpartition(" ")
        if last in {"Ω", "ohm", "kΩ", "MΩ", "kohm"}:  # a unit apart from its figure
            label, _, figure = label.rpartition(" ")
            last = f"{figure} {last}"
        try:
            ohms = read(last, OHM)
        except LowfoldError as error:
            msg = (
                f"“{piece.strip()[:40]}” is no point: write what it stands for and its resistance, "
                "like 20 °C 11k2"
            )
            raise DomainError(msg) from error
        if ohms <= 0:
            msg = f"“{piece.strip()[:40]}”: a sensor's resistance is above 0 Ω"
            raise DomainError(msg)
        found.append(SensorPoint(ohms, label.strip(" :=")))
    if not FEWEST <= len(found) <= MOST:
        said = counted(len(found), "point")
        msg = f"{said}: a sensor has {FEWEST} to {MOST}, like 0 °C 27k, 40 °C 5k1"
        raise DomainError(msg)
    shown = ", ".join(f"{p.label} {write(p.ohms, OHM, 4, trim=True)}".strip() for p in found)
    return tuple(found), shown


def _one_of(known: Mapping[str, Any], what: str) -> Any:
    first = {str(v): k for k, v in reversed(list(known.items()))}
    names = " or ".join(reversed(list(first.values())))

    def reader(text: str) -> tuple[Any, str]:
        said = " ".join(text.casefold().split())
        if said not in known:
            msg = f"“{text.strip()[:40]}” is no {what}: write {names}"
            raise DomainError(msg)
        value = known[said]
        return value, next(k for k, v in known.items() if v == value)

    return reader


def _window(text: str) -> tuple[Any, str]:
    """Read a window: `0.3 V to 2.9 V`."""
    if text.strip().lower() in NOTHING:
        return None, "any"
    ends = re.split(r"\s*(?:to|…|–|\.\.+)\s*", text.strip())
    if len(ends) != 2:
        msg = f"“{text.strip()[:40]}” is no window: write its ends, like 0.3 V to 2.9 V"
        raise DomainError(msg)
    low, high = (read(end, VOLT) for end in ends)
    if low >= high:
        shown = write(low, VOLT, 4, trim=True)
        msg = f"a window goes up: {shown} is not below {write(high, VOLT, 4, trim=True)}"
        raise DomainError(msg)
    return (low, high), " to ".join(write(v, VOLT, 4, trim=True) for v in (low, high))


SENSOR_TOKENS: Final[dict[str, Token]] = {
    "supply_v": Token(quantity(VOLT, 0.0, 1e5, open_low=True), "3.3 V", "supply voltage"),
    "sensor": Token(_points, "0 °C 27k, 20 °C 11k2, 40 °C 5k1", "the sensor at its points"),
    "position": Token(_one_of(POSITIONS, "leg"), "either leg", "leg that the sensor is in"),
    "aim": Token(_one_of(AIMS, "aim"), "widest swing", "what is wanted"),
    "window": Token(_window, "none", "window the output keeps inside", "none"),
    "bend": Token(
        optional(quantity(FRACTION, 0.0, 1.0, open_low=True), "any"), "none",
        "accepted distance from a straight line", "none",
    ),
    "load": Token(optional(resistive_load, "nothing"), "none", "load at the tap", "none"),
    "sensor_w": Token(
        optional(quantity(WATT, 0.0, 1e3, open_low=True), "anything"), "none",
        "what the sensor may be heated by", "none",
    ),
    "values": PARTS["values"],
    "min_ohm": PARTS["min_ohm"],
    "max_ohm": PARTS["max_ohm"],
    "tolerance": Token(quantity(FRACTION, 0.0, 0.5), "1 %", "tolerance of the resistor"),
    "rating": PARTS["rating"],
    "stress": PARTS["stress"],
}  # fmt: skip


def read_sensor(
    texts: Mapping[str, str], drawer: tuple[DrawerLine, ...] = ()
) -> tuple[dict[str, TokenReading], SensorBrief | None]:
    """Read a sensor's brief; a token that is not given has its default.

    Parameters
    ----------
    texts : mapping of token to text
    drawer : tuple of DrawerLine
        The user's own stock, where the brief chooses from it.
    """
    values, readings = read_tokens(SENSOR_TOKENS, texts)

    def wrong(name: str, message: str) -> None:
        old = readings[name]
        readings[name] = TokenReading(old.text, old.label, False, "", message)

    if values.get("aim") == "window" and values.get("window", ()) is None:
        wrong("window", "the aim is a window: write its ends, like 0.3 V to 2.9 V")
    low, high = values.get("min_ohm"), values.get("max_ohm")
    if isinstance(low, float) and isinstance(high, float) and low > high:
        wrong("min_ohm", f"this is above the largest: write {write(high, OHM, 4)} or less")
    if not all(r.ok for r in readings.values()):
        return readings, None
    return readings, SensorBrief(
        supply_volts=values["supply_v"],
        points=values["sensor"],
        positions=values["position"],
        aim=values["aim"],
        window=values["window"],
        bend=values["bend"],
        load=values["load"],
        sensor_watts=values["sensor_w"],
        tolerance=values["tolerance"],
        family=values["rating"],
        stress=values["stress"],
        pool=pool_of(
            values["values"], (values["min_ohm"], values["max_ohm"]), values["tolerance"], drawer
        ),
    )


@dataclass(frozen=True, slots=True)
class SensorGate:
    """One question about a resistor beside a sensor."""

    name: str
    verdict: Verdict | None
    figure: float
    kind: Kind
    of: str  #: what it is of, or what is allowed
    used: float | None
    note: str


def leg_chosen(brief: SensorBrief, choice: str) -> SensorLeg:
    """Return the resistor that a choice has beside the sensor.

    Parameters
    ----------
    choice : str
        As `R1=12k + @OUT + RS1=27k`; RS1 is the sensor.

    Raises
    ------
    DomainError
        If it is no such pair.
    """
    network = read_network(choice)
    parts = [p for p in getattr(network, "items", ()) if isinstance(p, Part)]
    if [p.ref for p in parts] not in (["R1", "RS1"], ["RS1", "R1"]):
        msg = f"“{choice[:60]}” is no resistor beside a sensor: write R1=12k + @OUT + RS1=27k"
        raise DomainError(msg, field="choice")
    lower = parts[1].ref == "RS1"
    ohms = next(p.ohms for p in parts if p.ref == "R1")
    return leg_of(brief.need(1), ohms, "lower" if lower else "upper")


def as_network(brief: SensorBrief, leg: SensorLeg) -> dict[str, str]:
    """Return the brief of the network that a sensor with its resistor is, at its first point."""
    stated = {
        "network": write_network(leg.network),
        "supply_v": write(brief.supply_volts, VOLT, 9, trim=True),
        "own": f"R1 {write(brief.tolerance, FRACTION, 4, trim=True)}",
        "rating": brief.family.name,
    }
    if brief.load is not None:
        stated["loads"] = f"OUT {load_text(brief.load)}"
    return stated


def gates_of_leg(brief: SensorBrief, leg: SensorLeg) -> tuple[SensorGate, ...]:
    """Return how a resistor beside a sensor stands.

    Parameters
    ----------
    brief : SensorBrief
        The need as understood.
    leg : SensorLeg
        One resistor, with its outputs.
    """
    return (
        _window_gate(brief, leg),
        _bend_gate(brief, leg),
        _load_gate(brief, leg),
        _heat_gate(brief, leg),
        _power_gate(brief, leg),
    )


def verdict_of(gates: tuple[SensorGate, ...]) -> Verdict | None:
    """Return how all of it stands.

    Parameters
    ----------
    gates : tuple of SensorGate
    """
    return worst(g.verdict for g in gates)


def _at(brief: SensorBrief, place: int) -> str:
    point = brief.points[place]
    return point.label or write(point.ohms, OHM, 4, trim=True)


def _window_gate(brief: SensorBrief, leg: SensorLeg) -> SensorGate:
    low, high = min(leg.lowest), max(leg.highest)
    ends = " … ".join(write(v, VOLT, 4) for v in (low, high))
    if brief.window is None:
        words = f"At the resistor's worst {ends}. State a window to judge it."
        return SensorGate("window", None, leg.swing, VOLT, "of swing", None, words)
    least, most = brief.window
    middle, half = (least + most) / 2, (most - least) / 2
    furthest = max(abs(low - middle), abs(high - middle))
    place = leg.highest.index(high) if high - middle >= middle - low else leg.lowest.index(low)
    words = f"At the resistor's worst {ends}; furthest out at {_at(brief, place)}."
    return SensorGate(
        "window", verdict_on(furthest, half), leg.swing, VOLT, "of swing", furthest / half, words
    )


def _bend_gate(brief: SensorBrief, leg: SensorLeg) -> SensorGate:
    if leg.swing <= 0:
        return SensorGate("bend", None, 0.0, FRACTION, "no swing", None, "The output stands still.")
    words = "Largest distance from the straight line through first and last, of the swing."
    if brief.bend is None:
        return SensorGate("bend", None, leg.nonlinearity, FRACTION, "of the swing", None, words)
    return SensorGate(
        "bend",
        verdict_on(leg.nonlinearity, brief.bend),
        leg.nonlinearity,
        FRACTION,
        f"of {write(brief.bend, FRACTION, 3, trim=True)}",
        leg.nonlinearity / brief.bend,
        words,
    )


def _load_gate(brief: SensorBrief, leg: SensorLeg) -> SensorGate:
    if brief.load is None or brief.load.ohms is None:
        words = "Nothing is connected at the tap."
        return SensorGate("load", None, 0.0, FRACTION, "sag", None, words)
    sags = []
    for point, loaded in zip(brief.points, leg.outputs, strict=True):
        lower, upper = (point.ohms, leg.ohms) if leg.position == "lower" else (leg.ohms, point.ohms)
        sags.append(1 - loaded * (lower + upper) / (lower * brief.supply_volts))
    place = sags.index(max(sags))
    words = f"Most at {_at(brief, place)}; every figure here is with it connected."
    return SensorGate("load", None, max(sags), FRACTION, "sag, counted", None, words)


def _heat_gate(brief: SensorBrief, leg: SensorLeg) -> SensorGate:
    words = "The sensor's own power, the most at any point: it reads its own warmth."
    if brief.sensor_watts is None:
        return SensorGate("sensor", None, leg.sensor_watts, WATT, "in the sensor", None, words)
    allowed = brief.sensor_watts
    return SensorGate(
        "sensor",
        verdict_on(leg.sensor_watts, allowed),
        leg.sensor_watts,
        WATT,
        f"of {write(allowed, WATT, 3, trim=True)}",
        leg.sensor_watts / allowed,
        words,
    )


def _power_gate(brief: SensorBrief, leg: SensorLeg) -> SensorGate:
    circuit = build_circuit(leg.network)
    place, sensor = circuit.branch("R1"), circuit.branch("RS1")
    halves = tuple(brief.tolerance if k == place else 0.0 for k in range(len(circuit.branches)))
    hung: tuple[LoadRange, ...] = ()
    if brief.load is not None and brief.load.ohms is not None:
        token = brief.load
        hung = (LoadRange(Load(circuit.node("OUT"), ohms=token.ohms), token.low, token.high),)
    watts = 0.0
    for point in brief.points:
        branches = list(circuit.branches)
        branches[sensor] = replace(branches[sensor], ohms=point.ohms)
        there = replace(circuit, branches=tuple(branches))
        box = Box(there, Supply(brief.supply_volts), hung, halves)
        watts = max(watts, worst_power(box, place).watts)
    allowed = brief.stress * brief.family.rated_watts
    return SensorGate(
        "power",
        verdict_on(watts, allowed),
        watts,
        WATT,
        f"of {write(allowed, WATT, 3, trim=True)}",
        watts / allowed,
        f"In the resistor, at most, as {brief.family.name} at up to "
        f"{brief.family.full_power_c:g} °C.",
    )
