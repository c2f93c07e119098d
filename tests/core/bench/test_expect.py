"""What a meter should say, against node equations of its own at every corner and inside the box."""

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.bench.expect import built, expect, expect_all, shown_on
from lowfold.core.bench.handling import handling
from lowfold.core.bench.models import HANDHELD, IDEAL, NEEDLE, MeterModel, Range
from lowfold.core.bench.points import Point, careful_round, words_of
from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network.circuit import build_circuit, junctions
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load
from lowfold.core.tolerance.box import Box, LoadRange, Supply
from tests.effort import cases

TEXTS = [
    "R1={} + @A + R2={}",
    "R1={} + @A + (R2={} || (R3={} + @B + R4={}))",
    "R1={} || (R2={} + @A + R3={})",
    "R1 in a {}\nR2 in b {}\nR3 a b {}\nR4 a 0 {}\nR5 b 0 {}",
]
WILD = MeterModel(
    name="wild",
    input_ohms=3e3,
    volts=(Range(full=1e3, accuracy=0.02, counts=1, resolution=0.1),),
    amps=(Range(full=1e3, accuracy=0.03, counts=2, resolution=1e-3, burden_ohms=70.0),),
    ohms=(Range(full=1e9, accuracy=0.01, counts=1, resolution=1.0),),
    lead_ohms=0.7,
)


def box_of(text: str, ohms: list[float], halves: list[float], supply: Supply) -> Box:
    circuit = build_circuit(read_text(text.format(*ohms)))
    return Box(circuit, supply, (), tuple(halves[: len(circuit.branches)]))


@dataclass(frozen=True)
class Row:
    """One point of a box: every value."""

    ohms: list[float]
    volts: float
    hung: list[float]


def dense(box: Box, row: Row, point: Point, meter: float) -> float:
    """Return what a meter of so many Ω says, by modified nodal analysis (textbook), made here."""
    loads = list(zip((r.load for r in box.loads), row.hung, strict=True))
    wires = [(b.a, b.b, r) for b, r in zip(box.circuit.branches, row.ohms, strict=True)]
    amps = [(load.at, x) for load, x in loads if load.ohms is None]
    plus, minus, emf, inside = 1, 0, row.volts, box.supply.source_ohms
    if point.kind == "resistance":
        plus, minus, emf, inside, amps = point.at, point.against, 1.0, 0.0, []
    else:
        wires += [(load.at, 0, x) for load, x in loads if load.ohms is not None]
    if point.kind == "voltage":
        wires.append((point.at, point.against, meter))  # 1 / inf is no conductance
    elif point.supply:
        inside += meter
    elif point.part is not None and point.kind == "current":
        a, b, ohms = wires[point.part]
        wires[point.part] = (a, b, ohms + meter)  # in series: one current
    found = solved(box.circuit.nodes, wires, amps, (plus, minus, emf, inside))
    if point.kind == "voltage":
        return float(found[point.at] - found[point.against])
    if point.kind == "resistance":
        return float(1 / found[-1]) + meter
    if point.part is None:
        return float(found[-1])
    a, b, ohms = wires[point.part]
    return float((found[a] - found[b]) / ohms)


def solved(
    count: int,
    wires: list[tuple[int, int, float]],
    amps: list[tuple[int, float]],
    source: tuple[int, int, float, float],
) -> np.ndarray:
    """Return every node's voltage and, last, the current out of the source."""
    plus, minus, emf, inside = source
    left, right = np.zeros((count + 1, count + 1)), np.zeros(count + 1)
    for a, b, ohms in wires:
        stamp = np.array([[1, -1], [-1, 1]]) / ohms
        left[np.ix_([a, b], [a, b])] += stamp
    for node, drawn in amps:
        right[node] -= drawn
    left[plus, count], left[minus, count] = -1, 1
    left[count] = 0
    left[count, plus], left[count, minus], left[count, count] = 1, -1, inside
    right[count] = emf
    keep = [n for n in range(count + 1) if n != minus]
    found = np.zeros(count + 1)
    found[keep] = np.linalg.solve(left[np.ix_(keep, keep)], right[keep])
    return found


def every_point(box: Box) -> list[Point]:
    nodes = range(box.circuit.nodes)
    found = [Point("voltage", at=a, against=b) for a, b in itertools.permutations(nodes, 2)]
    found += [Point("current", part=k) for k in range(len(box.circuit.branches))]
    found += [Point("resistance", at=a, against=b) for a, b in itertools.combinations(nodes, 2)]
    return [*found, Point("current", supply=True)]


#: What the wild meter puts in, Ω, and its limit of error, by the contract's formula.
LIMITS: dict[str, tuple[float, Callable[[float], float]]] = {
    "voltage": (3e3, lambda x: 0.02 * abs(x) + 0.1),
    "current": (70.0, lambda x: 0.03 * abs(x) + 2e-3),
    "resistance": (0.7, lambda x: 0.01 * abs(x) + 1.0),
}
NONE = {"voltage": math.inf, "current": 0.0, "resistance": 0.0}


def same(found: float | None, wanted: float, scale: float) -> None:
    assert found == pytest.approx(wanted, rel=1e-8, abs=1e-9 * scale)


@cases(25)
@given(
    st.sampled_from(TEXTS),
    st.lists(st.sampled_from([47.0, 330.0, 1e3, 2.2e3, 10e3, 330e3]), min_size=5, max_size=5),
    st.lists(st.sampled_from([0.0, 0.01, 0.05, 0.2]), min_size=5, max_size=5),
    st.sampled_from([Supply(9.0), Supply(-5.0, 0.05), Supply(12.0, 0.02, 30.0)]),
    st.sampled_from([(), (4.7e3, 0.8, 1.5), (2e-6, 0.0, 2.0)]),
)
def test_ends_are_those_of_every_corner(
    text: str, ohms: list[float], halves: list[float], supply: Supply, load: tuple[float, ...]
) -> None:
    box = box_of(text, ohms, halves, supply)
    if load and supply.volts > 0:
        middle, least, most = load
        kind = {"ohms": middle} if middle > 1 else {"amps": middle}
        hung = LoadRange(Load(2, **kind), middle * least, middle * most)
        box = Box(box.circuit, supply, (hung,), box.half_widths)
    volts = [supply.volts * (1 - supply.tolerance), supply.volts * (1 + supply.tolerance)]
    axes = [*zip(box.low, box.high, strict=True), volts, *((r.low, r.high) for r in box.loads)]
    count = len(box.circuit.branches)
    rows = [
        Row(list(ends[:count]), ends[count], list(ends[count + 1 :]))
        for ends in itertools.product(*axes)
    ]
    nominal = Row(
        [b.ohms for b in box.circuit.branches],
        supply.volts,
        [r.load.ohms or r.load.amps or 0.0 for r in box.loads],
    )
    for point in every_point(box):
        meter, limit = LIMITS[point.kind]
        values = [dense(box, row, point, meter) for row in rows]
        low, high = min(values), max(values)
        scale = max(abs(low), abs(high), 1e-6 * abs(supply.volts))
        found, alone = expect(box, point, WILD), expect(box, point, IDEAL)
        assert found.span is not None
        assert alone.span is not None
        same(found.span.nominal, dense(box, nominal, point, meter), scale)
        same(found.span.low, low, scale)
        same(found.span.high, high, scale)
        same(found.low, low - limit(low), scale)
        same(found.high, high + limit(high), scale)
        bare = dense(box, nominal, point, NONE[point.kind])
        same(found.ideal, bare, scale)
        same(alone.span.nominal, bare, scale)
        assert (alone.low, alone.high) == (alone.span.low, alone.span.high)


def plain(text: str, volts: float = 12.0, half: float = 0.01) -> Box:
    circuit = build_circuit(read_text(text))
    return Box(circuit, Supply(volts), (), (half,) * len(circuit.branches))


def test_a_meter_loads_what_it_measures() -> None:
    # By hand: 12 V, 1 MΩ over 1 MΩ: 6 V; 10 MΩ beside the lower, 5.714 V: 1/21 less
    found = expect(plain("1M + @OUT + 1M"), Point("voltage", at=2), HANDHELD)
    assert found.span is not None
    assert found.span.nominal == pytest.approx(12 * 10 / 21)
    assert found.ideal == pytest.approx(6.0)
    assert found.loading == pytest.approx(-1 / 21)
    assert (found.range, shown_on(found)) == (HANDHELD.volts[1], "5.714 V")


def test_the_range_is_the_smallest_that_holds_the_box() -> None:
    # By hand: at most 6.12 V without the meter with ± 4 %, and still above 6 V with it
    found = expect(plain("10k + @OUT + 10k", half=0.04), Point("voltage", at=2), HANDHELD)
    assert found.range == HANDHELD.volts[2]
    assert shown_on(found) == "6.00 V"
    forced = expect(plain("10k + @OUT + 10k"), Point("voltage", at=2), HANDHELD, 0.6)
    assert (forced.overload, shown_on(forced)) == (True, "OL")
    with pytest.raises(DomainError, match=r"has no range of volts to 7; there are: 0.6, 6, 60"):
        expect(plain("1k + 1k"), Point("voltage", at=2), HANDHELD, 7.0)


def test_a_needle_loads_by_its_range() -> None:
    # By hand: 20 kΩ/V on 10 V is 200 kΩ, beside 100 kΩ: 66.7 k under 100 k on 12 V is 4.8 V;
    # on 2.5 V it would be 50 kΩ: 33.3 k under 100 k, 3 V, more than the range
    found = expect(plain("100k + @OUT + 100k", half=0.0), Point("voltage", at=2), NEEDLE)
    assert found.range == NEEDLE.volts[2]
    assert found.span is not None
    assert found.span.nominal == pytest.approx(4.8)
    assert found.high == pytest.approx(4.8 + 0.3)  # 3 % of full scale


def test_a_short_cut_by_its_burden() -> None:
    # By hand: 3 V on 100 Ω is 30 mA; 2 Ω of burden make it 29.41 mA
    found = expect(plain("100", 3.0), Point("current", supply=True), HANDHELD)
    assert found.span is not None
    assert found.span.nominal == pytest.approx(3 / 102)
    assert found.ideal == pytest.approx(0.03)
    assert shown_on(found) == "29.41 mA"
    assert [c.code for c in handling(found)] == ["jack"]
    blown = expect(plain("0.5", 3.2), Point("current", part=0), HANDHELD, 0.6)
    assert [c.code for c in handling(blown)] == ["jack", "fuse"]


def test_a_part_lifted_out() -> None:
    # By hand: 1200 Ω ± 1 % and 0.2 Ω of leads; ± (0.9 % + 3 · 1 Ω)
    found = expect(plain("1k2 + 1k"), Point("resistance", part=0), HANDHELD)
    assert (found.low, found.high) == pytest.approx((1188.2 * 0.991 - 3, 1212.2 * 1.009 + 3))
    assert (found.ideal, shown_on(found)) == (1200.0, "1.200 kΩ")
    assert [c.code for c in handling(found)] == ["unpowered", "discharge"]


def test_where_nothing_joins_the_leads() -> None:
    box = plain("1k + @A + S1 + @B + 1k")
    apart = Point("resistance", at=box.circuit.names["A"], against=box.circuit.names["B"])
    found = expect(box, apart, HANDHELD)
    assert (found.overload, found.span, found.low, found.high, shown_on(found)) == (True, None, None, None, "OL")  # fmt: skip
    same = expect(box, Point("resistance", at=2, against=2), HANDHELD)
    assert shown_on(same) == "0.2 Ω"
    through = expect(box, Point("current", part=0), HANDHELD)
    assert through.span is not None
    assert through.span.furthest == 0.0


def test_measured_parts_take_the_place_of_nominal_ones() -> None:
    box = built(plain("1k + @OUT + 1k"), {0: (1010.0, 0.0), 1: (995.0, 0.001)})
    found = expect(box, Point("voltage", at=2), IDEAL)
    assert (found.low, found.high) == pytest.approx(
        (12 * 994.005 / 2004.005, 12 * 995.995 / 2005.995)
    )  # fmt: skip


def test_a_careful_round() -> None:
    box = plain("R1=1k + @A + R2=2k + R3=3k")
    said = [words_of(box.circuit, point) for point in careful_round(box)]
    # Common practice: out of circuit first, then from the supply down, the current last
    assert said == [
        "R1, lifted out", "R2, lifted out", "R3, lifted out", "in against 0", "A against 0",
        "n1 against 0", "the supply's current",
    ]  # fmt: skip
    assert junctions(box.circuit) == {"in": 1, "0": 0, "A": 2, "n1": 3}
    with pytest.raises(TooLargeError, match="201 points"):
        expect_all(box, [Point("resistance", part=0)] * 201, HANDHELD, [None] * 201)
