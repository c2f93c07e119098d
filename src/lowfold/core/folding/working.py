"""One's own working held against the network: each figure right, near, or wrong and by which slip.

A slip is told only where it gives that very figure. What follows rightly from an earlier figure of
one's own that is wrong is told as such: the mistake is not counted twice.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Literal

from lowfold.core.errors import DomainError, TopologyError
from lowfold.core.network.circuit import Circuit, load_names
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, WATT, Kind, write

__all__ = ["QUANTITIES", "Figured", "Quantity", "Typed", "check_working"]

Quantity = Literal["v", "i", "p", "r"]
Judged = Literal["right", "near", "follows", "wrong"]
QUANTITIES: Final[dict[Quantity, Kind]] = {"v": VOLT, "i": AMPERE, "p": WATT, "r": OHM}
TOTAL: Final = "total_ohm"  #: what the whole resistance goes by, in place of a designator
#: A figure within half its last place, or this share, is right; within the next one it is near.
RIGHT, NEAR = 5e-4, 0.01
#: How near a slip has to come to explain a figure.
SLIP: Final = 2e-3
DECADES: Final = (-6, -3, -2, -1, 1, 2, 3, 6)


@dataclass(frozen=True, slots=True)
class Typed:
    """A figure of one's own, in the base unit, and half its last place."""

    ref: str
    quantity: Quantity
    value: float
    half_place: float


@dataclass(frozen=True, slots=True)
class Figured:
    """How a figure stands."""

    ref: str
    quantity: Quantity
    value: float
    true: float
    judged: Judged
    slip: str  #: what explains it; empty where it is right, or nothing does


@dataclass(frozen=True, slots=True)
class _True:
    """What the network does, and what it would do without its loads."""

    ohms: Mapping[str, float]
    volts: Mapping[str, float]
    amps: Mapping[str, float]
    watts: Mapping[str, float]
    bare: Mapping[str, float]  #: V of each part with nothing connected
    supply: float
    total: float

    def of(self, ref: str, quantity: Quantity) -> float:
        return {"v": self.volts, "i": self.amps, "p": self.watts, "r": self.ohms}[quantity][ref]


def check_working(
    circuit: Circuit,
    typed: Sequence[Typed],
    supply_volts: float,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    low_volts: float = 0.0,
) -> tuple[Figured, ...]:
    """Judge figures of one's own, in the order they were typed.

    Parameters
    ----------
    circuit : Circuit
        Its node 0 lifted by `low_volts`.
    typed : sequence of Typed
        Magnitudes count: which way a voltage is taken is the reader's own.
    supply_volts, source_ohms, low_volts : float
        The supply, V and Ω.
    loads : sequence of Load
        What hangs on it.

    Raises
    ------
    TopologyError, DomainError
        For a part that is not there, or one that nothing holds.
    """
    true = _solved(circuit, supply_volts, source_ohms, loads, low_volts)
    known = {ref.casefold(): ref for ref in true.ohms}
    own: dict[tuple[str, Quantity], float] = {}
    found = []
    for one in typed:
        ref = TOTAL if one.ref == TOTAL else known.get(one.ref.casefold())
        if ref is None:
            msg = f"there is no part “{one.ref[:40]}”; there are {', '.join(list(true.ohms)[:12])}"
            raise TopologyError(msg, field="figures")
        right = true.total if ref == TOTAL else true.of(ref, one.quantity)
        if not math.isfinite(right):
            msg = (
                f"nothing conducts there, so {one.ref} has no {one.quantity.upper()} to be held to"
            )
            raise DomainError(msg, field="figures")
        judged, slip = _judged(one, ref, right, true, own)
        found.append(Figured(ref, one.quantity, one.value, right, judged, slip))
        own[ref, one.quantity] = abs(one.value)
    return tuple(found)


def _solved(
    circuit: Circuit, supply: float, source: float, loads: Sequence[Load], low: float
) -> _True:
    with_loads = solve(circuit, supply, source, loads, low)
    bare = solve(circuit, supply, source, (), low)
    parts = with_loads.parts
    names = load_names(circuit, len(loads))
    volts = {p.ref: abs(p.volts) for p in parts}
    amps = {p.ref: abs(p.amps) for p in parts}
    ohms = {p.ref: p.ohms for p in parts}
    for name, load, drawn in zip(names, loads, with_loads.load_amps, strict=True):
        volts[name], amps[name] = abs(with_loads.voltages[load.at]), abs(drawn)
        ohms[name] = load.ohms if load.ohms is not None else math.nan
    return _True(
        ohms=ohms,
        volts=volts,
        amps=amps,
        watts={ref: volts[ref] * amps[ref] for ref in volts},
        bare={p.ref: abs(p.volts) for p in bare.parts},
        supply=abs(supply - low),
        total=with_loads.total_ohms,
    )


def _judged(
    one: Typed, ref: str, right: float, true: _True, own: Mapping[tuple[str, Quantity], float]
) -> tuple[Judged, str]:
    value, right = abs(one.value), abs(right)
    off = abs(value - right)
    if off <= max(min(one.half_place * (1 + 1e-9), NEAR * right), RIGHT * right):
        return "right", ""
    for slip, would in _slips(one.quantity, ref, right, true):
        near = max(SLIP * would, min(one.half_place, NEAR * would))
        if would and abs(value - would) <= near and abs(would - right) > NEAR * right:
            return "wrong", slip
    for words, would in _from_own(one.quantity, ref, true, own):
        near = max(one.half_place, RIGHT * would) if would else 0.0
        if would and abs(value - would) <= near:
            return "follows", words
    if off <= max(NEAR * right, one.half_place):
        shown = write(right, QUANTITIES[one.quantity], 4, trim=True)
        return "near", f"rounded on the way: it is {shown}"
    return "wrong", ""


def _from_own(
    quantity: Quantity, ref: str, true: _True, own: Mapping[tuple[str, Quantity], float]
) -> Iterator[tuple[str, float]]:
    """Yield what follows from earlier figures of one's own, and how."""
    if ref == TOTAL:
        return
    ohms = own.get((ref, "r")) or true.ohms[ref]
    volts, amps = own.get((ref, "v")), own.get((ref, "i"))
    said = "right from a wrong start: it follows from your own"
    if quantity == "v" and amps is not None:
        yield f"{said} I of {ref}", amps * ohms
    if quantity == "i" and volts is not None:
        yield f"{said} V of {ref}", volts / ohms
    if quantity == "p" and volts is not None and amps is not None:
        yield f"{said} V and I of {ref}", volts * amps
    if quantity == "p" and volts is not None:
        yield f"{said} V of {ref}", volts**2 / ohms
    if quantity == "p" and amps is not None:
        yield f"{said} I of {ref}", amps**2 * ohms
    whole = own.get((TOTAL, "r"))
    if whole and quantity == "i":
        yield (
            "right from a wrong start: it follows from your own total resistance",
            (true.supply / whole),
        )


def _slips(quantity: Quantity, ref: str, right: float, true: _True) -> Iterator[tuple[str, float]]:
    """Yield what common slips would give (common practice), the plainest first."""
    if ref == TOTAL:
        yield from _slips_of_total(true)
    elif quantity == "v":
        yield from _slips_of_voltage(ref, true)
    elif quantity == "i":
        yield from _slips_of_current(ref, true)
    elif quantity == "p":
        volts, amps, ohms = true.volts[ref], true.amps[ref], true.ohms[ref]
        yield "V²·R in place of V²/R", volts**2 * ohms
        yield "I²/R in place of I²·R", amps**2 / ohms
        yield "I·R: the current is squared", amps * ohms
        yield "V/R: the voltage is squared", volts / ohms
        yield "the whole supply over this part alone, squared over R", true.supply**2 / ohms
    for decade in DECADES:
        times = f"{10**decade:,}".replace(",", " ") if decade > 0 else f"1/{10**-decade:,}"
        yield f"a power of ten: {times} of it", right * 10.0**decade


def _slips_of_voltage(ref: str, true: _True) -> Iterator[tuple[str, float]]:
    bare = true.bare.get(ref)
    if bare is not None:
        yield "without the load", bare
    for other, volts in true.volts.items():
        if other != ref:
            yield f"that is across {other}: the other leg", volts
    yield "the supply less what is across it: the other leg", true.supply - true.volts[ref]
    yield "the whole supply", true.supply
    yield "I over R in place of I times R", true.amps[ref] / true.ohms[ref]


def _slips_of_current(ref: str, true: _True) -> Iterator[tuple[str, float]]:
    bare, ohms = true.bare.get(ref), true.ohms[ref]
    if bare is not None:
        yield "without the load", bare / ohms
    for other, amps in true.amps.items():
        if other != ref:
            yield f"that is through {other}", amps
    yield "the whole supply over this part alone", true.supply / ohms
    yield "V times R in place of V over R", true.volts[ref] * ohms


def _slips_of_total(true: _True) -> Iterator[tuple[str, float]]:
    every = {ref: r for ref, r in true.ohms.items() if math.isfinite(r)}
    parts = {ref: r for ref, r in every.items() if ref in true.bare}
    for some, less in ((every, ""), (parts, ", and the loads are left out")):
        ohms = list(some.values())
        siemens = math.fsum(1 / r for r in ohms)
        yield f"all in series{less}", math.fsum(ohms)
        yield f"all in parallel{less}", 1 / siemens
        yield f"the conductance of all in parallel: the reciprocal is not taken{less}", siemens
        if len(ohms) > 2:
            yield f"product over sum is for two{less}", math.prod(ohms) / math.fsum(ohms)
    yield "the conductance: the reciprocal is not taken", 1 / true.total
    for ref, ohms_of_it in every.items():
        yield f"{ref} is left out of the sum", true.total - ohms_of_it
