"""How a figure of a network comes about: formulas in symbols, with figures, and what they give.

The way is the folding to one resistance and back: what a part carries follows step by step from
what it was folded into. Where there is no such way (a load that draws a current, or a load to 0 V
beside a low end elsewhere) the sums at the junctions are written out with the solved figures.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Literal

from lowfold.core.errors import DomainError, TopologyError
from lowfold.core.folding.fold import Fold, Folding, fold
from lowfold.core.folding.unfold import Carried, Unfolding, unfold
from lowfold.core.folding.words import School, rule_of, same_of, worked
from lowfold.core.network.circuit import GROUND, SUPPLY, Branch, Circuit, junctions, load_names
from lowfold.core.network.graph import distances
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import Solution, solve
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, WATT, Kind, write

__all__ = ["Asked", "Line", "What", "derivation", "written_sum"]

What = Literal["total", "current", "at", "through", "across", "power", "sums"]
MOST_DIGITS = 9
MOST_STEPS = 120  #: of a folding that are told; nobody follows more


@dataclass(frozen=True, slots=True)
class Line:
    """One line of a derivation."""

    words: str  #: why this may be written
    symbolic: str
    substituted: str
    result: str


@dataclass(frozen=True, slots=True)
class Asked:
    """The figure whose way is asked for."""

    what: What
    name: str = ""  #: of a junction or a part


@dataclass(frozen=True, slots=True)
class _Network:
    circuit: Circuit
    loads: Sequence[Load]
    supply: float
    source: float
    low: float
    school: School
    digits: int


def derivation(
    circuit: Circuit,
    asked: Asked,
    supply_volts: float,
    source_ohms: float = 0.0,
    loads: Sequence[Load] = (),
    low_volts: float = 0.0,
    *,
    school: School = "reciprocals",
    digits: int = 4,
) -> tuple[Line, ...]:
    """Return how a figure comes about, line by line; the last one gives it.

    Parameters
    ----------
    circuit : Circuit
        Its node 0 lifted by `low_volts`.
    asked : Asked
        Which figure.
    supply_volts, source_ohms : float
        The supply, V, and the resistance inside it, Ω.
    loads : sequence of Load
        What hangs on it.
    low_volts : float
        What the other end lies at, V.
    school : str
        How parallel parts are taught.
    digits : int
        Figures written; a sum is written with more where it would not add up as it stands.

    Raises
    ------
    DomainError, TopologyError
        For a figure that there is none of.
    TooLargeError
        For a way of more than `MOST_STEPS` steps.
    """
    net = _Network(circuit, loads, supply_volts, source_ohms, low_volts, school, digits)
    solution = solve(circuit, supply_volts, source_ohms, loads, low_volts)
    if asked.what == "sums":
        return tuple(_sums(net, solution))
    apart = bool(low_volts) and any(load.ohms for load in loads)
    currents = any(load.amps for load in loads)
    folding = fold(circuit, loads, most_steps=MOST_STEPS)
    back = None if currents or apart else unfold(folding, supply_volts, source_ohms, low_volts)
    if asked.what == "total":
        return tuple(_total(net, folding))
    if back is None:
        return tuple(_solved(net, asked, solution))
    lines = [*_total(net, folding), _whole(net, folding, back)]
    if asked.what == "current":
        return tuple(lines)
    if asked.what == "at":
        return (*lines, *_at(net, folding, back, asked.name))
    ref = _part(net, folding, asked.name)
    lines += _down_to(folding, back, net, ref)
    carried = next(c for c in _every(back) if c.ref == ref)
    (last,) = _figure(net, carried, asked.what)
    return tuple(lines) if lines[-1].result == last.result else (*lines, last)


def _write(net: _Network, value: float, kind: Kind) -> str:
    return write(value, kind, net.digits, trim=True)


def _part(net: _Network, folding: Folding, name: str) -> str:
    """Return a part, or a load, as it is called; one that carries nothing has no way."""
    names = [b.ref for b in net.circuit.branches]
    names += load_names(net.circuit, len(net.loads))
    found = next((ref for ref in names if ref.casefold() == name.casefold()), None)
    if found is None:
        msg = f"there is no part “{name[:40]}”; there are {', '.join(names[:12])}"
        raise TopologyError(msg, field="asked")
    if found in folding.idle:
        msg = f"{found} carries no current whatever the supply, so nothing is to be derived of it"
        raise DomainError(msg, field="asked")
    return found


def _total(net: _Network, folding: Folding) -> Iterator[Line]:
    for step in folding.steps:
        made = ", ".join(e.ref for e in step.results)
        yield Line(
            f"{same_of(step)} Together they are {made}.",
            rule_of(step, net.school),
            worked(step, net.school, net.digits),
            "; ".join(f"{e.ref} = {_write(net, e.ohms, OHM)}" for e in step.results),
        )
    total = folding.total
    if total is None:
        msg = "nothing conducts between the supply's ends: there is no resistance to be derived"
        raise DomainError(msg, field="network")
    if not folding.steps:
        shown = _write(net, total.ohms, OHM)
        yield Line("It is one resistance as it stands.", "R", total.ref, shown)


def _whole(net: _Network, folding: Folding, back: Unfolding) -> Line:
    total, amps = back.whole, back.whole.amps
    ends = _write(net, net.supply, VOLT)
    if net.low:
        sign = "+" if net.low < 0 else "−"
        ends = f"({ends} {sign} {_write(net, abs(net.low), VOLT)})"
    ohms = _write(net, total.ohms, OHM)
    if net.source:
        ohms = f"({_write(net, net.source, OHM)} + {ohms})"
    shown = _write(net, abs(amps), AMPERE)
    assert folding.total is not None  # it was unfolded
    return Line(
        f"The supply drives its current through {total.ref} (Ohm's law).",
        total.rule,
        f"{ends} / {ohms} = {shown}",
        f"I = {shown}",
    )


def _every(back: Unfolding) -> list[Carried]:
    return [back.whole, *(m for step in back.steps for m in step.members)]


def _down_to(folding: Folding, back: Unfolding, net: _Network, ref: str) -> Iterator[Line]:
    """Say what is shared at each step from the whole down to a part."""
    wanted, way = {ref}, []
    for step in folding.steps:  # outward in: what a part was folded into, and that again
        if wanted & {m.ref for m in step.members}:
            way.append(step)
            wanted |= {r.ref for r in step.results}
    unfolded = {id(u.step): u for u in back.steps}
    for step in reversed(way):
        for one in unfolded[id(step)].members:
            if one.ref in wanted:
                yield _carried(net, step, one)


def _carried(net: _Network, step: Fold, one: Carried) -> Line:
    ohms, volts, amps = (
        _write(net, one.ohms, OHM),
        _write(net, abs(one.volts), VOLT),
        _write(net, abs(one.amps), AMPERE),
    )
    if step.kind == "series":
        whole = step.results[0].ref
        words = f"{whole} is {' + '.join(m.ref for m in step.members)}: all carry its {amps}."
        return Line(words, "V = I · R", f"{amps} · {ohms} = {volts}", f"V({one.ref}) = {volts}")
    if step.kind == "parallel":
        whole = step.results[0].ref
        words = f"{whole} is {' ∥ '.join(m.ref for m in step.members)}: all have its {volts}."
        return Line(words, "I = V / R", f"{volts} / {ohms} = {amps}", f"I({one.ref}) = {amps}")
    words = (
        "The star's centre lies where the currents of its arms add up to nothing (Millman), which "
        f"leaves {volts} across {one.ref}."
    )
    return Line(words, "I = V / R", f"{volts} / {ohms} = {amps}", f"I({one.ref}) = {amps}")


def _figure(net: _Network, one: Carried, what: What) -> Iterator[Line]:
    """Return the figure asked for from what the part carries, where the way ends at another."""
    ohms, volts, amps, watts = (
        _write(net, one.ohms, OHM),
        _write(net, abs(one.volts), VOLT),
        _write(net, abs(one.amps), AMPERE),
        _write(net, one.watts, WATT),
    )
    if what == "through":
        yield Line(
            "Ohm's law.", "I = V / R", f"{volts} / {ohms} = {amps}", f"I({one.ref}) = {amps}"
        )
    elif what == "across":
        yield Line(
            "Ohm's law.", "V = I · R", f"{amps} · {ohms} = {volts}", f"V({one.ref}) = {volts}"
        )
    else:
        yield Line(
            "What it takes is voltage times current.",
            "P = V · I",
            f"{volts} · {amps} = {watts}",
            f"P({one.ref}) = {watts}",
        )


def _at(net: _Network, folding: Folding, back: Unfolding, name: str) -> Iterator[Line]:
    """Add up the drops from a junction to the other end."""
    _node(net, name)  # refused where there is none
    titles = {title.casefold(): node for node, title in folding.titles.items()}
    node = titles.get(name.casefold())
    if node in (SUPPLY, GROUND):
        volts = net.low + (abs(back.whole.volts) if node == SUPPLY else 0.0)
        shown = _write(net, volts, VOLT)
        yield Line("An end of the supply.", f"V({name})", shown, f"V({name}) = {shown}")
        return
    steps = distances(folding.start, (GROUND,))
    if node not in steps:
        msg = f"no current reaches {name}, so its voltage follows from none"
        raise DomainError(msg, field="asked")
    way = _way(folding.start, node, steps, GROUND)
    carried = {c.ref: c for c in back.parts}
    told: set[Line] = set()
    for edge, _ in way:
        for line in _down_to(folding, back, net, edge.ref):
            if line not in told:
                told.add(line)
                yield line
    drops = [carried[e.ref].volts * along for e, along in way]
    terms = [f"V({e.ref})" for e, _ in way] + ([f"V({_low_name(net)})"] if net.low else [])
    sums = written_sum([*drops, *([net.low] if net.low else [])], VOLT, net.digits)
    yield Line(
        f"From {name} to the other end the drops add up (Kirchhoff's voltage law).",
        f"V({name}) = {' + '.join(terms)}",
        sums,
        f"V({name}) = {_result(sums)}",
    )


def _way(
    edges: Sequence[Branch], start: int, steps: Mapping[int, int], end: int
) -> list[tuple[Branch, float]]:
    """Return the edges of a shortest way, each 1 where it is gone from its first end, else −1."""
    found, here = [], start
    while here != end:
        edge = next(
            e
            for e in edges
            if here in (e.a, e.b) and steps.get(e.far(here), math.inf) == steps[here] - 1
        )
        found.append((edge, 1.0 if edge.a == here else -1.0))
        here = edge.far(here)
    return found


def _result(sums: str) -> str:
    """Return what a written sum comes to."""
    return re.split("[=≈] ", sums)[-1]


def _low_name(net: _Network) -> str:
    names = {node: name for name, node in junctions(net.circuit).items()}
    return names.get(net.circuit.low, "0")


def _node(net: _Network, name: str) -> int:
    every = {n.casefold(): node for n, node in junctions(net.circuit).items()}
    if name.casefold() not in every:
        known = ", ".join(list(junctions(net.circuit))[:12])
        msg = f"there is no junction “{name[:40]}”; there are {known}"
        raise TopologyError(msg, field="asked")
    return every[name.casefold()]


def written_sum(terms: Sequence[float], kind: Kind, digits: int = 4) -> str:
    """Write a sum that adds up as it stands: `2.4 + 5.1 + 1.5 = 9 V`.

    All terms have one prefix and so many places that the rounded ones add up to the rounded sum;
    where no places up to `MOST_DIGITS` do, `≈` stands in place of `=`.

    Parameters
    ----------
    terms : sequence of float
        In the base unit.
    kind : Kind
        Their unit.
    digits : int
        Figures of the largest at first.
    """
    total = math.fsum(terms)
    largest = max([abs(t) for t in terms] + [abs(total)], default=0.0)
    if not largest:
        return f"{' + '.join('0' for _ in terms)} = 0 {kind.unit}"
    power = 3 * math.floor(math.log10(largest) / 3)
    prefix = PREFIXES.get(power)
    if prefix is None:
        power, prefix = 0, ""
    scaled = [t / 10**power for t in terms]
    whole = math.floor(math.log10(largest / 10**power)) + 1
    for places in range(max(digits - whole, 0), MOST_DIGITS):
        rounded = [round(t, places) for t in scaled]
        added = round(math.fsum(rounded), places)
        if added == round(math.fsum(scaled), places):
            return _sum_of(rounded, added, places, f"{prefix}{kind.unit}", "=")
    rounded = [round(t, digits) for t in scaled]
    return _sum_of(rounded, round(math.fsum(scaled), digits), digits, f"{prefix}{kind.unit}", "≈")


#: Of a sum, by powers of ten.
PREFIXES: Final = {-12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G"}


def _sum_of(terms: Sequence[float], total: float, places: int, unit: str, sign: str) -> str:
    def plain(value: float) -> str:
        text = f"{abs(value):.{places}f}"
        return text.rstrip("0").rstrip(".") if "." in text else text

    written = plain(terms[0]) if terms[0] >= 0 else f"−{plain(terms[0])}"
    if len(terms) == 1:
        return f"{written} {unit}"
    for term in terms[1:]:
        written += f" {'+' if term >= 0 else '−'} {plain(term)}"
    return f"{written} {sign} {'−' if total < 0 else ''}{plain(total)} {unit}"


def _solved(net: _Network, asked: Asked, solution: Solution) -> Iterator[Line]:
    """Say a figure of a network that does not fold back, with the sums that hold it."""
    yield from _sums(net, solution)
    if asked.what == "at":
        volts = solution.voltages[_node(net, asked.name)]
        shown = _write(net, volts, VOLT)
        words = "The junction equations together leave one voltage for each junction."
        yield Line(words, f"V({asked.name})", shown, f"V({asked.name}) = {shown}")
        return
    if asked.what == "current":
        shown = _write(net, solution.supply_amps, AMPERE)
        yield Line("What the supply gives.", "I", shown, f"I = {shown}")
        return
    found = next((p for p in solution.parts if p.ref.casefold() == asked.name.casefold()), None)
    if found is None:
        msg = f"there is no part “{asked.name[:40]}”"
        raise TopologyError(msg, field="asked")
    one = Carried(found.ref, found.ohms, found.volts, found.amps, found.watts, "", "V")
    yield from _figure(net, one, asked.what)


def _sums(net: _Network, solution: Solution) -> Iterator[Line]:
    """Write out what enters and leaves each junction, and the drops round the supply's loop."""
    names = {node: name for name, node in junctions(net.circuit).items()}
    loads = load_names(net.circuit, len(net.loads))
    pairs = zip(solution.parts, net.circuit.branches, strict=True)
    edges = [(p.ref, b.a, b.b, p.amps) for p, b in pairs]
    hung = zip(loads, net.loads, solution.load_amps, strict=True)
    edges += [(name, load.at, -1, amps) for name, load, amps in hung]
    for node in range(net.circuit.nodes):
        if node in net.circuit.ends:
            continue
        ways = [(ref, amps if a == node else -amps) for ref, a, b, amps in edges if node in (a, b)]
        inward = [(ref, -amps) for ref, amps in ways if amps < 0]
        outward = [(ref, amps) for ref, amps in ways if amps > 0]
        if not inward or not outward:
            continue
        one = inward if len(inward) <= len(outward) else outward
        more = outward if one is inward else inward
        shown = written_sum([a for _, a in more], AMPERE, net.digits)
        yield Line(
            f"At {names.get(node, f'n{node}')} as much leaves as enters (Kirchhoff's current law).",
            f"{' + '.join(f'I({r})' for r, _ in more)} = {' + '.join(f'I({r})' for r, _ in one)}",
            shown,
            f"{' + '.join(f'I({r})' for r, _ in one)} = {_result(shown)}",
        )
    yield from _loop(net, solution)


def _loop(net: _Network, solution: Solution) -> Iterator[Line]:
    """Write out the drops of one way from the supply to the other end."""
    branches = net.circuit.branches
    steps = distances(branches, (net.circuit.low,))
    if SUPPLY not in steps:
        return
    volts = {b.ref: p.volts for b, p in zip(branches, solution.parts, strict=True)}
    edges = _way(branches, SUPPLY, steps, net.circuit.low)
    way = [(e.ref, along * volts[e.ref]) for e, along in edges]
    if net.source:
        way.insert(0, ("inside", solution.supply_amps * net.source))
    drops = written_sum([drop for _, drop in way], VOLT, net.digits)
    ends = "E − E₀" if net.low else "E"
    yield Line(
        "Round the loop through the supply the drops add up to it (Kirchhoff's voltage law).",
        f"{' + '.join(f'V({ref})' for ref, _ in way)} = {ends}",
        drops,
        f"{ends} = {_result(drops)}",
    )
