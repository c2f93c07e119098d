"""A survey of many networks at once against one at a time, and against the node equations."""

import dataclasses
import random

import numpy as np
import pytest

from lowfold.core.checking import survey as survey_module
from lowfold.core.checking.check import check_network
from lowfold.core.checking.survey import Asked, survey
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import read_brief
from lowfold.core.network.circuit import GROUND, SUPPLY, build_circuit
from lowfold.core.network.notation import read_network, read_text
from lowfold.core.parts.limits import PartLimits
from lowfold.core.solving.nets import Load
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, LoadRange, Supply, Tracking
from lowfold.core.tolerance.extremes import starving_loads
from lowfold.core.tolerance.loadline import load_line
from lowfold.core.tolerance.power import worst_power
from lowfold.core.tolerance.spread import output_spread, resistance_spread
from lowfold.core.weighing import weighing
from tests.core.strategies import random_mesh
from tests.effort import seeds


def random_box(rng: random.Random, mesh: str, *, tracking: bool) -> Box:
    """A mesh with its values drawn anew, loads that may vary, and perhaps a weak supply."""
    circuit = build_circuit(read_text(mesh))
    branches = tuple(
        dataclasses.replace(b, ohms=rng.choice([10.0, 47.0, 220.0, 1e3])) for b in circuit.branches
    )
    circuit = dataclasses.replace(circuit, branches=branches)
    halves = tuple(rng.choice([0.01, 0.05]) for _ in branches)
    loads = (
        LoadRange(Load(circuit.node("a"), ohms=1e3), 900.0, 1100.0),
        LoadRange(Load(circuit.node("b"), amps=1e-5), 0.0, 2e-5),
    )
    supply = Supply(rng.choice([5.0, 12.0]), 0.03, 2.0)
    return Box(circuit, supply, loads, halves, Tracking(0.002) if tracking else None)


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(9))
def test_together_as_one_by_one(seed: int) -> None:
    """The general functions look at each figure by signs and merged parts: another way."""
    rng = random.Random(seed)
    mesh = random_mesh(rng, 4, 5)
    boxes = [random_box(rng, mesh, tracking=seed % 3 == 2) for _ in range(3)]
    asked = Asked(("a", "b"), resistance=True, faults=True, loads=True, lines=True)
    for box, found in zip(boxes, survey(boxes, asked), strict=True):
        for at, spread in zip(asked.outputs, found.outputs, strict=True):
            alone = output_spread(box, box.circuit.node(at))
            for name in ("nominal", "unloaded", "lowest", "highest", "rss", "proven"):
                assert getattr(spread, name) == pytest.approx(getattr(alone, name), rel=1e-9)
            for mine, theirs in zip(spread.sensitivities, alone.sensitivities, strict=True):
                assert mine.name == theirs.name
                assert mine.relative == pytest.approx(theirs.relative, rel=1e-7, abs=1e-12)
                moved = theirs.contribution_v
                assert mine.contribution_v == pytest.approx(moved, rel=1e-7, abs=1e-12)
        for place, peak in enumerate(found.powers):
            assert peak.watts == pytest.approx(worst_power(box, place).watts, rel=1e-9, abs=1e-18)
            assert peak.volts == pytest.approx(worst_power(box, place).volts, rel=1e-9, abs=1e-12)
        assert found.resistance == resistance_spread(box)
        assert found.bare == resistance_spread(dataclasses.replace(box, loads=()))
        for at, line in zip(asked.outputs, found.lines, strict=True):
            other = load_line(box, box.circuit.node(at))
            assert line.source_ohms == pytest.approx(other.source_ohms, rel=1e-9)
            assert line.open_volts == pytest.approx(other.open_volts, rel=1e-9)
            assert line.proven == other.proven
            amps = np.linspace(0, line.short_amps, 5)
            for ends, others in zip(line.extremes(amps), other.extremes(amps), strict=True):
                assert ends == pytest.approx(others, rel=1e-7, abs=1e-9)


@pytest.mark.law
@pytest.mark.parametrize("seed", seeds(6))
def test_every_corner_by_a_dense_nodal_analysis(seed: int) -> None:
    """numpy.linalg.solve at every corner of a mesh without loads, part by part."""
    rng = random.Random(100 + seed)
    circuit = build_circuit(read_text(random_mesh(rng, 4, 5)))
    box = Box(circuit, Supply(9.0, 0.1, 1.0), (), (0.05,) * len(circuit.branches))
    found = survey([box], Asked(("a",)))[0]
    node = circuit.node("a")
    volts, powers = [], np.zeros(len(circuit.branches))
    for corner in np.ndindex(*(2,) * (len(circuit.branches) + 1)):
        signs = 2 * np.array(corner) - 1
        ohms = [b.ohms * (1 + 0.05 * s) for b, s in zip(circuit.branches, signs[1:], strict=True)]
        matrix, inflow = np.zeros((circuit.nodes,) * 2), np.zeros(circuit.nodes)
        for b, r in zip(circuit.branches, ohms, strict=True):
            incidence = np.zeros(circuit.nodes)
            incidence[b.a] += 1
            incidence[b.b] -= 1
            matrix += np.outer(incidence, incidence) / r
        matrix[SUPPLY, SUPPLY] += 1.0
        inflow[SUPPLY] = 9.0 * (1 + 0.1 * signs[0])
        at = np.zeros(circuit.nodes)
        at[1:] = np.linalg.solve(matrix[1:, 1:], inflow[1:])
        volts.append(at[node])
        across = [(at[b.a] - at[b.b]) ** 2 / r for b, r in zip(circuit.branches, ohms, strict=True)]
        powers = np.maximum(powers, across)
    spread = found.outputs[0]
    assert (spread.lowest, spread.highest) == pytest.approx((min(volts), max(volts)), rel=1e-9)
    for peak, at_corners in zip(found.powers, powers, strict=True):
        assert peak.watts >= at_corners * (1 - 1e-9) - 1e-25  # it may peak inside its range
        assert peak.watts <= at_corners * 1.01 + 1e-25


def test_a_starved_corner_is_not_taken_as_fed() -> None:
    # By hand: 5 V over 1 kΩ ± 5 % feeds at least 4.76 mA; 4.7 mA is fed everywhere, 4.8 mA is not
    circuit = build_circuit(read_network("R1=1k + @OUT + R2=100k"))
    for most, starves in ((4.7e-3, False), (4.8e-3, True)):
        load = LoadRange(Load(circuit.node("OUT"), amps=4e-3), 0.0, most)
        box = Box(circuit, Supply(5.0), (load,), (0.05, 0.0))
        found = survey([box], Asked(("OUT",)))[0]
        assert bool(found.starving) == starves == bool(starving_loads(box))
        assert (found.outputs[0].lowest <= 0) == starves
        # At its lowest it holds the junction at 0 V, so the upper part has the whole supply.
        if starves:
            assert found.powers[0].volts == pytest.approx(5.0)
            loose = {"R1": PartLimits(tolerance=0.05)}
            told = check_network(circuit, Supply(5.0), loads=[load], parts=loose).cautions
            assert [c.code for c in told] == ["starved-load"]


def test_a_negative_supply_pulls_below_zero_and_feeds_no_current_load() -> None:
    # By hand: −10 V over two equal parts is −5 V; nothing is above 0 V, so nothing is drawn
    circuit = build_circuit(read_network("1k + @OUT + 1k"))
    load = LoadRange(Load(circuit.node("OUT"), amps=1e-3), 0.0, 2e-3)
    found = survey([Box(circuit, Supply(-10.0, 0.1), (load,), (0.0, 0.0))], Asked(("OUT",)))[0]
    spread = found.outputs[0]
    assert (spread.lowest, spread.nominal, spread.highest) == pytest.approx((-5.5, -5.0, -4.5))
    assert found.solution.load_amps == (0.0,)
    assert solve(circuit, -10.0, 0.0, [load.load]).voltages[circuit.node("OUT")] == -5.0


def test_what_is_demanded_solves_nothing_anew(monkeypatch: pytest.MonkeyPatch) -> None:
    networks = [read_network("R1=200k + @OUT + R2=56k"), read_network("R1=390k + @OUT + R2=100k")]
    texts = {"supply_v": "14.4 V", "target_v": "3 V", "load": "1M"}

    def weighed(**more: str) -> list[str]:
        need = read_brief("divider", texts | more).need
        assert isinstance(need, DividerBrief)
        return [c.judged.gates[1].verdict or "" for c in need.weigh(networks)]

    first = weighed(within="3 %")

    def refused(*_: object) -> None:
        msg = "solved anew"
        raise AssertionError(msg)

    monkeypatch.setattr(survey_module, "CornerGrid", refused)
    monkeypatch.setattr(weighing, "survey", lambda boxes, _: [] if not boxes else refused())
    assert weighed(within="30 %", stress="80 %", feeds_v="3.6 V") != first
    with pytest.raises(AssertionError, match="solved anew"):
        weighed(tolerance="5 %")


def test_shapes_may_be_mixed() -> None:
    boxes = [
        Box(build_circuit(read_network(text)), Supply(1.0), (), (0.01,) * parts)
        for text, parts in (("100", 1), ("50 + 50", 2), ("200 || 200", 2), ("47", 1))
    ]
    found = survey(boxes, Asked(resistance=True))
    assert [s.resistance.nominal for s in found if s.resistance] == pytest.approx(
        [100, 100, 100, 47]
    )
    assert [len(s.powers) for s in found] == [1, 2, 2, 1]
    assert found[0].solution.voltages[GROUND] == 0.0
