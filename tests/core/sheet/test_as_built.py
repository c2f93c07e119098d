"""A design judged as built: by hand, and against the same typed as if it were designed so."""

import pytest

from lowfold.core.needs.kinds import read_brief, weigh
from lowfold.core.needs.network import read_stated
from lowfold.core.sheet.as_built import choice_as_built, network_as_built
from lowfold.core.sheet.sheet import series_parallel

BRIEF = {
    "supply_v": "14.4 V", "target_v": "3 V", "within": "3 %", "load": "1 MΩ", "tolerance": "1 %",
    "tcr": "100 ppm/K", "drift": "1 %", "rating": "0603",
}  # fmt: skip


def test_a_choice_with_its_measured_parts() -> None:
    need = read_brief("divider", BRIEF).need
    assert need is not None
    network = series_parallel("R1=200k + @OUT + R2=56k")
    circuit = weigh(need, network).judged.circuit
    measured = {0: (200.5e3, 1e-4), 1: (56.4e3, 1e-4)}
    found = choice_as_built(need, network, circuit, measured)
    # By hand: 56.4k ‖ 1M = 53.389k; 14.4 V · 53.389 / 253.889
    assert found.marks[0].nominal == pytest.approx(14.4 * 53.389 / 253.889, rel=1e-5)
    # What was measured leaves 0.01 % in place of 1 %; temperature and drift stay
    same = read_brief("divider", {**BRIEF, "own": "R1 0.01 %; R2 0.01 %"}).need
    assert same is not None
    typed = weigh(same, series_parallel("R1=200k5 + @OUT + R2=56k4")).judged
    assert found.marks == typed.marks
    assert found.marks[0].highest < weigh(need, network).judged.marks[0].highest


def test_a_part_of_its_own_keeps_what_else_it_is() -> None:
    need = read_brief("divider", {**BRIEF, "own": "R2 0.1 % 25 ppm/K 0805"}).need
    assert need is not None
    network = series_parallel("R1=200k + @OUT + R2=56k")
    circuit = weigh(need, network).judged.circuit
    found = choice_as_built(need, network, circuit, {1: (56.1e3, 2e-4)})
    (own,) = found.parts.own
    assert (own.tolerance, own.tcr_ppm) == (2e-4, 25.0)
    assert own.family is not None
    assert own.family.name == "0805"


def test_a_stated_network_with_its_measured_parts() -> None:
    text = {
        "network": "R1=33k + @A + (R2=82k || (R3=15k + @B + R4=18k))", "supply_v": "12 V",
        "tolerance": "1 %", "wanted": "A 5 V ± 2 %", "loads": "none",
    }  # fmt: skip
    _, stated = read_stated(text)
    assert stated is not None
    found = network_as_built(stated, {1: (81e3, 1e-4), 3: (18.1e3, 1e-4)})
    # By hand: 81k ‖ 33.1k = 23.498k; 12 V · 23.498 / 56.498
    assert found.marks[0].nominal == pytest.approx(12 * 23.498 / 56.498, rel=1e-4)


def test_a_netlist_keeps_its_switches() -> None:
    _, stated = read_stated(
        {"network": "R1 in a 1k\nR2 a 0 1k\nR3 a b 1k\nS1 b 0", "supply_v": "3 V", "closed": "S1",
         "wanted": "a 1 V ± 2 %"}
    )  # fmt: skip
    assert stated is not None
    found = network_as_built(stated, {0: (1010.0, 0.0)})
    # By hand: 3 V · 500 / 1510
    assert found.marks[0].nominal == pytest.approx(3 * 500 / 1510, rel=1e-12)
