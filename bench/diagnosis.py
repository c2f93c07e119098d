"""How well faults are found on boards drawn at random: `python -m bench.diagnosis`, seeds fixed.

Each board is a random network of 3 to 10 parts of 5 %, read with the 6000-count handheld; half have
one fault of the kinds tried. Printed: whether what is said with 90 % is right nine times in ten;
how often the true fault comes first where the readings can decide; and how many readings isolate
it by following the advice, against going from top to bottom.
"""

from __future__ import annotations

import argparse
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import replace
from typing import Any, Final

import numpy as np

from lowfold.core.bench.ahead import points_ahead, probe_of
from lowfold.core.bench.diagnosis import Diagnosis, Observed, diagnose
from lowfold.core.bench.expect import expect
from lowfold.core.bench.models import HANDHELD
from lowfold.core.bench.next_point import alike, worth_measuring
from lowfold.core.bench.points import Point
from lowfold.core.bench.suspects import Suspect, as_designed, suspects
from lowfold.core.network.circuit import Branch, Circuit, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.tolerance.box import Box, Supply
from lowfold.core.values.preferred import series_values

__all__ = ["Case", "cases", "main", "study"]

TOLERANCE: Final = 0.05
VOLTS: Final = 12.0
SURE: Final = 0.98  #: probability at which a fault counts as isolated
BINS: Final = (0.0, 0.5, 0.8, 0.9, 0.95, 0.99, 1.0 + 1e-9)
E24: Final = [float(v) for v in series_values(["E24"], 1e3, 100e3)]


class Case:
    """A board as designed, as it was drawn, and what is wrong with it."""

    def __init__(self, box: Box, real: Box, fault: Suspect) -> None:
        self.box, self.real, self.fault = box, real, fault

    def read(self, point: Point) -> Observed | None:
        """Return what the handheld reads; None where it is over its largest range."""
        found = expect(self.real, point, HANDHELD)
        if found.range is None or found.span is None or found.overload:
            return None
        limit = found.range.limit(found.span.nominal)
        where = f"{point.kind}{point.at}{point.against}{point.part}{found.range.full}"
        seed = sum(ord(c) * 31**k for k, c in enumerate(where)) % 2**31
        value = found.span.nominal + np.random.default_rng(seed).uniform(-1, 1) * limit
        return Observed(probe_of(point, HANDHELD, found.range.full), float(value), limit)


def _network(chance: np.random.Generator, parts: int) -> str:
    """Return a random series–parallel network with its junctions named."""
    pieces = [f"R{k + 1}={chance.choice(E24):g}" for k in range(parts)]
    names = iter("ABCDEFGHIJ")
    while len(pieces) > 1:
        a, b = sorted(chance.choice(len(pieces), 2, replace=False))
        other, one = pieces.pop(b), pieces.pop(a)
        if chance.random() < 0.6 or len(pieces) == 0:
            pieces.append(f"({one} + @{next(names)} + {other})")
        else:
            pieces.append(f"({one} || {other})")
    return pieces[0]


def cases(count: int, seed: int) -> Iterator[Case]:
    """Yield boards: half of them sound, half with one fault."""
    chance = np.random.default_rng(seed)
    while count:
        text = _network(chance, int(chance.integers(3, 11)))
        circuit = build_circuit(read_text(text))
        if circuit.nodes < 3:
            continue
        half = (TOLERANCE,) * len(circuit.branches)
        box = Box(circuit, Supply(VOLTS), (), half)
        known = suspects(box).single
        fault = as_designed()
        if chance.random() < 0.5:
            kinds = sorted({s.kind for s in known})
            kind = chance.choice(kinds)
            of_kind = [s for s in known if s.kind == kind]
            fault = of_kind[int(chance.integers(len(of_kind)))]
        yield Case(box, _drawn(box, fault, chance), fault)
        count -= 1


def _drawn(box: Box, fault: Suspect, chance: np.random.Generator) -> Box:
    branches = [*box.circuit.branches]
    extra: list[Branch] = []
    for change in fault.board.changes:
        if change.part is not None:
            ohms = change.ohms if np.isfinite(change.ohms) else 1e12
            branches[change.part] = replace(branches[change.part], ohms=ohms)
        else:
            extra.append(Branch("bridge", change.a, change.b, 1 / change.siemens))
    gross = {"open", "short"}
    drawn = [
        b
        if fault.kind in gross and k in fault.places
        else replace(b, ohms=b.ohms * float(1 + chance.uniform(-TOLERANCE, TOLERANCE)))
        for k, b in enumerate(branches)
    ]
    circuit = Circuit((*drawn, *extra), box.circuit.nodes, box.circuit.names)
    return Box(circuit, box.supply, (), (0.0,) * len(circuit.branches))


def _same(found: Diagnosis, case: Case, place: int) -> bool:
    """Whether a hypothesis is the true one, or no voltage and no current tells it from that."""
    h = found.hypotheses[place]
    if h.suspect.kind == case.fault.kind and h.suspect.refs == case.fault.refs:
        return case.fault.ohms is None or h.suspect.ohms == case.fault.ohms
    truth = [
        x for x in found.hypotheses
        if (x.suspect.kind, x.suspect.refs, x.suspect.ohms)
        == (case.fault.kind, case.fault.refs, case.fault.ohms)
    ]  # fmt: skip
    if not truth:
        return False
    one, other = alike(found, [h, truth[0]], points_ahead(case.box, HANDHELD, powered=True))
    return one == other


def _walk(case: Case, *, advised: bool) -> tuple[int, Diagnosis]:
    """Read until one hypothesis is all but certain, or everything with the power on is read."""
    every = points_ahead(case.box, HANDHELD, powered=True)
    left = [one for one in every if one.probe.point.kind == "voltage" or one.probe.point.supply]
    observed: list[Observed] = []
    found = diagnose(case.box, observed)
    while left:
        place = left[0]
        if advised and observed:
            best = worth_measuring(found, left)[0].probe
            place = next(one for one in left if one.probe == best)
        left.remove(place)
        read = case.read(place.probe.point)
        if read is None:
            continue
        observed.append(read)
        found = diagnose(case.box, observed)
        if _sure(found, case):
            break
    return len(observed), found


def _sure(found: Diagnosis, case: Case) -> bool:
    top = found.hypotheses[:8]
    labels = alike(found, top, points_ahead(case.box, HANDHELD, powered=True))
    return sum(h.probability for h, x in zip(top, labels, strict=True) if x == labels[0]) > SURE


def study(count: int, seed: int) -> dict[str, Any]:
    """Return calibration, how often the truth comes first, and how many readings that takes."""
    said: dict[int, list[bool]] = defaultdict(list)
    first, decided, steps = [], [], {True: [], False: []}  # type: ignore[var-annotated]
    for case in cases(count, seed):
        points = [one.probe.point for one in points_ahead(case.box, HANDHELD, powered=True)]
        every = [case.read(p) for p in points if p.kind == "voltage" or p.supply]
        found = diagnose(case.box, [o for o in every if o is not None])
        right = _same(found, case, 0)
        top = found.hypotheses[0].probability
        said[int(np.searchsorted(BINS, top, side="right"))].append(right)
        first.append(right)
        if _sure(found, case):
            decided.append(right)
            if case.fault.kind != "as designed":
                for advised in (True, False):
                    steps[advised].append(_walk(case, advised=advised)[0])
    return {
        "calibration": {
            f"{BINS[k - 1]:.2f} to {min(BINS[k], 1):.2f}": (len(v), sum(v) / len(v))
            for k, v in sorted(said.items())
        },
        "first": sum(first) / len(first),
        "decided": (len(decided), sum(decided) / max(len(decided), 1)),
        "readings advised": float(np.mean(steps[True])) if steps[True] else 0.0,
        "readings in order": float(np.mean(steps[False])) if steps[False] else 0.0,
    }


def main() -> None:
    """Print the study."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--boards", type=int, default=1000)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    found = study(asked.boards, asked.seed)
    print(
        f"{asked.boards} boards, 3 to 10 parts of 5 %, the handheld, all voltages and the current"
    )
    print(f"{'said':<16} {'boards':>7} {'right':>8}")
    for said, (number, right) in found["calibration"].items():
        print(f"{said:<16} {number:7d} {100 * right:7.1f} %")
    print(f"the truth first: {100 * found['first']:.1f} %")
    number, right = found["decided"]
    print(f"of {number} that the readings decide: {100 * right:.1f} %")
    print(
        f"readings to isolate a fault: {found['readings advised']:.2f} by the advice, "
        f"{found['readings in order']:.2f} from the supply down"
    )


if __name__ == "__main__":
    main()
