"""From readings to the fault: known boards, the joint density, and what cannot be told."""

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
from scipy.stats import multivariate_normal

from lowfold.core.bench.ahead import Ahead, points_ahead, probe_of
from lowfold.core.bench.consistent import consistent
from lowfold.core.bench.diagnosis import Diagnosis, Observed, diagnose
from lowfold.core.bench.expect import expect
from lowfold.core.bench.models import HANDHELD, MeterModel
from lowfold.core.bench.next_point import alike, told_apart, worth_measuring
from lowfold.core.bench.points import Point
from lowfold.core.bench.predict import Board, Change, Model
from lowfold.core.bench.priors import START as PRIORS
from lowfold.core.bench.suspects import suspects
from lowfold.core.errors import TooLargeError
from lowfold.core.network.circuit import SUPPLY, build_circuit
from lowfold.core.network.notation import read_text
from lowfold.core.tolerance.box import Box, Supply

NETWORK = "R1=33k + @A + (R2=82k || (R3=15k + @B + R4=18k))"
IN, A, B = (Point("voltage", at=n) for n in (SUPPLY, 2, 3))


def box_of(text: str = NETWORK, half: float = 0.05, volts: float = 12.0) -> Box:
    circuit = build_circuit(read_text(text))
    return Box(circuit, Supply(volts), (), (half,) * len(circuit.branches))


def reading(point: Point, value: float | None, meter: MeterModel = HANDHELD) -> Observed:
    every = sorted(getattr(meter, point.measured), key=lambda r: r.full)
    chosen = every[-1] if value is None else meter.range_for(point.measured, value)
    assert chosen is not None
    return Observed(probe_of(point, meter, chosen.full), value, chosen.limit(value or 0.0))


BOARDS = [  # common practice, worked by hand in the trade: board, A, B, what it is
    ("as designed", 4.995, 2.725, "as designed", ()),
    ("82 kΩ open", 6.000, 3.273, "open", ("R2",)),
    ("15 kΩ open", 8.557, 0.0, "open", ("R3",)),
    ("18 kΩ open", 8.557, 8.557, "open", ("R4",)),
    ("15 kΩ short", 3.708, 3.708, "short", ("R3",)),
    ("18 kΩ short", 3.331, 0.0, "short", ("R4",)),
    ("33 kΩ short", 12.0, 6.545, "short", ("R1",)),
    ("82 kΩ and 18 kΩ swapped", 3.781, 3.197, "swapped", ("R2", "R4")),
]


@pytest.mark.parametrize(("board", "a", "b", "kind", "refs"), BOARDS, ids=str)
def test_the_known_boards(board: str, a: float, b: float, kind: str, refs: tuple[str, ...]) -> None:
    # The figures are without a meter: one of 10 MΩ reads a little less, within its limits here
    found = diagnose(box_of(half=0.01), [reading(IN, 12.0), reading(A, a), reading(B, b)])
    first = found.hypotheses[0]
    assert (first.suspect.kind, first.suspect.refs) == (kind, refs), board
    assert first.probability > 0.5
    assert math.fsum(h.probability for h in found.hypotheses) == pytest.approx(1, abs=1e-9)


def test_priors_are_as_stated_before_anything_is_read() -> None:
    found = diagnose(box_of(), [])
    by_kind: dict[str, float] = {}
    for h in found.hypotheses:
        by_kind[h.suspect.kind] = by_kind.get(h.suspect.kind, 0.0) + h.probability
    # Nothing is missing from this board that could be a load, and no reading is wrong yet
    left = sum(PRIORS.values()) - PRIORS["load"] / 2 - PRIORS["meter"]
    assert by_kind["as designed"] == pytest.approx(0.5)
    for kind in ("open", "short", "decade", "swapped", "bridge", "value", "supply"):
        assert by_kind[kind] == pytest.approx(0.5 * PRIORS[kind] / left), kind


def test_the_order_of_readings_decides_nothing() -> None:
    # A joint density has no order; probes exchanged at one point, whenever that was read
    box = box_of()
    mean = Model(box).predict([Board()], [reading(p, 1.0).probe for p in (IN, A, B)]).mean[0]
    for values in ((mean[0], -mean[1], mean[2]), (mean[0], 8.55, 0.0), (mean[0] * 0.94, *mean[1:])):
        taken = [reading(p, float(v)) for p, v in zip((IN, A, B), values, strict=True)]
        shares = []
        for order in itertools.permutations(taken):
            found = diagnose(box, order)
            shares.append({h.suspect.words: h.probability for h in found.hypotheses})
        for other in shares[1:]:
            assert other == pytest.approx(shares[0], abs=1e-6)
        if values[1] < 0:
            assert max(shares[0], key=shares[0].__getitem__).startswith("The meter")


@pytest.mark.parametrize("off", [0.02, 0.04, 0.07, 0.1, 0.2, -0.03, -0.1])
def test_a_supply_or_a_part_a_few_percent_beside_its_tolerance_is_found(off: float) -> None:
    box = replace(box_of(half=0.01), supply=Supply(12.0, 0.005))
    probes = [reading(p, 1.0).probe for p in (IN, A, B)]
    low = Model(box).predict([Board(supply_volts=12 * (1 - off))], probes).mean[0]
    found = diagnose(box, [reading(p, float(v)) for p, v in zip((IN, A, B), low, strict=True)])
    supply = next(h for h in found.hypotheses if h.suspect.kind == "supply")
    assert supply.suspect.volts == pytest.approx(12 * (1 - off), rel=0.01)
    # What hides in series lowers every reading alike, and no reading tells the two apart
    same = [h for h in found.hypotheses[:2] if h.suspect.kind in {"supply", "series resistance"}]
    assert supply in same
    assert math.fsum(h.probability for h in same) > 0.9
    assert supply.probability > 0.03
    if abs(off) < 0.07:  # less than what two parts at their ends bring is no fault
        return
    branch = box.circuit.branches[1]
    ohms = branch.ohms * (1 - off)
    change = Change(branch.a, branch.b, 1 / ohms - 1 / branch.ohms, 1, ohms)
    read = Model(box).predict([Board((change,))], probes).mean[0]
    found = diagnose(box, [reading(p, float(v)) for p, v in zip((IN, A, B), read, strict=True)])
    value = next(h for h in found.hypotheses if h.suspect.kind == "value")
    assert value.suspect.refs == (branch.ref,)
    assert value.suspect.ohms == pytest.approx(ohms, rel=0.03)


def test_the_density_is_the_joint_normal_of_all_readings() -> None:
    box, observed = box_of(), [reading(IN, 12.01), reading(A, 5.13), reading(B, 2.77)]
    found = diagnose(box, observed)
    by_name = {h.suspect.words: h for h in found.hypotheses}
    model, probes = Model(box), [o.probe for o in observed]
    logs = {}
    for name in ("As designed: nothing is wrong", "R2 open"):
        ahead = model.predict([by_name[name].suspect.board], probes)
        spread = ahead.slopes[0] / math.sqrt(3)
        cover = spread @ spread.T + np.diag([(o.limit**2) / 3 for o in observed])
        values = [o.value for o in observed]
        logs[name] = multivariate_normal(ahead.mean[0], cover).logpdf(values)  # scipy.stats
    (one, first), (other, second) = logs.items()
    a, b = by_name[one], by_name[other]
    odds = math.log(a.probability / b.probability)
    prior = math.log(a.suspect.prior / b.suspect.prior)
    assert odds == pytest.approx(first - second + prior, abs=1e-5)


def test_readings_that_share_a_part_are_not_two_witnesses() -> None:
    # R1 4 % high moves A and B together: taken apart it would look like two deviations
    box = box_of(half=0.05)
    board = Board()
    mean = Model(box).predict([board], [reading(A, 5.0).probe, reading(B, 2.7).probe]).mean[0]
    down = 1 - 0.018
    found = diagnose(box, [reading(A, mean[0] * down), reading(B, mean[1] * down)])
    assert found.hypotheses[0].suspect.kind == "as designed"


def test_each_reading_moves_the_probabilities() -> None:
    found = diagnose(box_of(), [reading(IN, 12.0), reading(A, 8.55), reading(B, 0.0)])
    first = found.hypotheses[0]
    assert first.suspect.words == "R3 open"
    assert len(first.course) == 4
    alone = diagnose(box_of(), [reading(IN, 12.0), reading(A, 8.55)])
    same = next(h for h in alone.hypotheses if h.suspect.words == "R3 open")
    assert first.course[2] == pytest.approx(same.probability, rel=0.05)


def test_nothing_fits_where_nothing_can() -> None:
    found = diagnose(box_of(), [reading(IN, 3.0), reading(A, 10.0), reading(B, 9.0)])
    assert found.hypotheses[0].suspect.kind == "something else"


def test_a_single_wild_reading_may_be_the_meter() -> None:
    box = box_of(half=0.01)
    mean = [expect(box, p, HANDHELD).span for p in (A, B)]
    assert mean[0] is not None
    assert mean[1] is not None
    wild = [reading(IN, 1.2), reading(A, mean[0].nominal), reading(B, mean[1].nominal)]
    assert diagnose(box, wild).hypotheses[0].suspect.kind == "meter"


def test_over_range_is_a_reading_too() -> None:
    found = diagnose(box_of(), [reading(Point("resistance", part=1), None)])
    opened = [h for h in found.hypotheses if h.suspect.words == "R2 open"]
    assert opened[0].probability > 0.25


def test_a_part_that_is_sound_when_lifted_may_have_an_open_joint() -> None:
    sound = [
        reading(Point("resistance", part=k), v) for k, v in enumerate((33e3, 82e3, 15e3, 18e3))
    ]
    found = diagnose(
        box_of(half=0.01), [*sound, reading(IN, 12.0), reading(A, 8.557), reading(B, 0.0)]
    )
    first = found.hypotheses[0]
    assert first.suspect.words == "R3 open"
    assert consistent(found, first.suspect.board, first.distance)
    lifted = [*sound[:2], reading(Point("resistance", part=2), None), sound[3]]
    broken = diagnose(box_of(half=0.01), [*lifted, reading(A, 8.557), reading(B, 0.0)])
    assert broken.hypotheses[0].suspect.words == "R3 open"


def test_two_faults_at_once() -> None:
    box = box_of(half=0.01)
    # By hand: R2 open and R4 ten times: 33k + 15k + 180k on 12 V: A 10.263 V, B 9.474 V
    readings = [reading(IN, 12.0), reading(A, 10.23), reading(B, 9.44)]
    found = diagnose(box, readings, most_at_once=2)
    pairs = [h for h in found.hypotheses if h.suspect.kind == "two"]
    assert {f.words.split(" ten times")[0] for f in pairs[0].suspect.faults} == {"R2 open", "R4"}
    assert found.hypotheses[0] is pairs[0]


def test_too_many_pairs_are_refused() -> None:
    text = " + ".join(f"R{k}=1k2" for k in range(1, 41))
    with pytest.raises(TooLargeError, match="Look for one fault at a time"):
        diagnose(box_of(text), [reading(IN, 12.0)], most_at_once=2)


def ahead_of(box: Box, *points: Point) -> list[Ahead]:
    every = points_ahead(box, HANDHELD, powered=True)
    return [one for one in every if one.probe.point in points]


def after(*readings: Observed) -> Diagnosis:
    return diagnose(box_of(), list(readings))


def test_the_point_that_decides_comes_first() -> None:
    # A at 8.55 V: the 15 kΩ or the 18 kΩ is open, and B tells which
    found = after(reading(IN, 12.0), reading(A, 8.55))
    points = [B, Point("current", supply=True), Point("resistance", part=2)]
    ranked = worth_measuring(found, ahead_of(box_of(), *points))
    assert ranked[0].probe.point == B
    assert ranked[0].bits == pytest.approx(1.0, abs=0.3)
    shows = sorted(o.value for o in ranked[0].outcomes[:2])
    assert shows[0] == pytest.approx(0, abs=0.01)
    assert shows[1] == pytest.approx(8.55, rel=0.02)
    current = next(c for c in ranked if c.probe.point.supply)
    assert current.bits < 0.2  # both opens leave the same current


def test_information_is_never_more_than_what_is_unknown() -> None:
    found = after(reading(IN, 12.0), reading(A, 8.55))
    shares = [h.probability for h in found.hypotheses if h.probability > 0]
    unknown = -sum(p * math.log2(p) for p in shares)
    points = ahead_of(box_of(), B, Point("resistance", part=2))
    for candidate in worth_measuring(found, points):
        assert 0 <= candidate.bits <= unknown + 1e-6


def test_an_idle_arm_cannot_be_seen() -> None:
    # A balanced bridge: its arm carries nothing, so that an open arm reads as designed
    box = box_of("R1 in a 10k\nR2 a 0 10k\nR3 in b 10k\nR4 b 0 10k\nR5 a b 4k7", half=0.0)
    found = diagnose(box, [reading(A, 6.0), reading(B, 6.0)])
    arm = next(h for h in found.hypotheses if h.suspect.words == "R5 open")
    designed = next(h for h in found.hypotheses if h.suspect.kind == "as designed")
    labels = alike(found, [designed, arm], points_ahead(box, HANDHELD, powered=True))
    assert labels[0] == labels[1]
    lifted = ahead_of(box, Point("resistance", part=4))
    assert worth_measuring(found, lifted)[0].bits > 0.1


def test_consistent_has_a_witness_and_what_is_not_has_none() -> None:
    box = box_of(half=0.05)
    found = diagnose(box, [reading(IN, 12.0), reading(A, 5.2), reading(B, 2.8)])
    designed = next(h for h in found.hypotheses if h.suspect.kind == "as designed")
    assert consistent(found, designed.suspect.board, designed.distance)
    tight = diagnose(box_of(half=0.001), [reading(IN, 12.0), reading(A, 5.2), reading(B, 2.8)])
    same = next(h for h in tight.hypotheses if h.suspect.kind == "as designed")
    assert not consistent(tight, same.suspect.board, same.distance)


@pytest.mark.parametrize("which", ["low", "high"])
@pytest.mark.parametrize("point", [IN, A, B])
def test_a_reading_on_its_limit_is_consistent(point: Point, which: str) -> None:
    box = replace(box_of(half=0.05), supply=Supply(12.0, 0.02))
    ahead = expect(box, point, HANDHELD)
    assert ahead.range is not None
    value = getattr(ahead, which)
    probe = probe_of(point, HANDHELD, ahead.range.full)
    found = diagnose(box, [Observed(probe, value, ahead.range.limit(value))])
    designed = next(h for h in found.hypotheses if h.suspect.kind == "as designed")
    assert consistent(found, designed.suspect.board, designed.distance)
    beyond = value * (0.999 if which == "low" else 1.001)
    found = diagnose(box, [Observed(probe, beyond, ahead.range.limit(value))])
    assert not consistent(found, designed.suspect.board, found.hypotheses[0].distance)


def test_a_short_across_an_ideal_supply_takes_it_down() -> None:
    # Whatever else there is: no supply is ideal, and none stands a hundredth of an ohm
    for text in ("R1 in 0 1k\nR2 in a 1M\nR3 a 0 10", "R1 in 0 100\nR2 in a 10\nR3 a 0 10"):
        box = box_of(text)
        short = next(s for s in suspects(box).single if s.words == "R1 shorted")
        probe = probe_of(Point("voltage", at=SUPPLY), HANDHELD, 60.0)
        assert Model(box).predict([short.board], [probe]).mean[0, 0] == pytest.approx(0, abs=1e-9)


def test_those_alike_are_so_every_two_of_them() -> None:
    box = box_of("R1=100k + @A + R2=100k", half=0.01)
    observed = [reading(Point("voltage", at=2), 6.0)]
    found = diagnose(box, observed)
    listed, ahead = found.hypotheses[:60], points_ahead(box, HANDHELD, powered=True)
    labels = alike(found, listed, ahead)
    electric = [one for one in ahead if one.probe.point.kind != "resistance"]
    apart = told_apart(found.model, [h.suspect.board for h in listed], electric)
    known = [k for k, h in enumerate(listed) if h.suspect.kind not in {"meter", "something else"}]
    assert len(set(labels)) < len(labels)
    for j, k in itertools.combinations(known, 2):
        assert labels[j] != labels[k] or apart[j, k] <= 1


@pytest.mark.parametrize("seed", range(12))
def test_boards_inside_every_tolerance_are_consistent(seed: int) -> None:
    chance = np.random.default_rng(seed)
    box = box_of(half=0.05)
    single = suspects(box).single
    suspect = single[int(chance.integers(len(single)))]
    model, probes = Model(box), [reading(p, 1e-3).probe for p in (IN, A, B)]
    ahead = model.predict([suspect.board], probes)
    # Deviations a third of the way out, and errors inside the limits: the board is a witness itself
    inside = ahead.slopes[0, :, :4] @ chance.uniform(-0.3, 0.3, 4)
    observed = []
    for point, value in zip((IN, A, B), ahead.mean[0] + inside, strict=True):
        observed.append(reading(point, float(value)))
    found = diagnose(box, observed)
    same = next(h for h in found.hypotheses if h.suspect.words == suspect.words)
    assert consistent(found, same.suspect.board, same.distance)


def test_what_tells_less_comes_first_where_it_costs_less_still() -> None:
    # A part lifted out tells all of the two opens and costs a soldering iron; B tells them, too
    found = after(reading(IN, 12.0), reading(A, 8.55))
    every = points_ahead(box_of(), HANDHELD, powered=True)
    ranked = worth_measuring(found, [one for one in every if one.probe.point not in (IN, A)])
    worth = [c.bits / c.effort for c in ranked]
    assert worth == sorted(worth, reverse=True)
    by_bits = sorted(ranked, key=lambda c: -c.bits)
    assert [c.bits for c in by_bits] != [c.bits for c in ranked]
