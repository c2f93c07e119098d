"""Sound pairs judged all together: exactly those whose gates pass when each is weighed for itself."""

import itertools

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import read_brief
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import Part, exact_resistance, part_watts
from lowfold.core.parts.pool import Pool
from lowfold.core.search.leg_options import MOST_IN_LEGS, Structure, leg_options
from lowfold.core.search.preferred_legs import pair_network
from lowfold.core.search.sound_dividers import HEAVY, can_be_sound, sound_pairs, which_sound
from tests.effort import cases

#: Everything that a divider's brief accepts beside its target.
BRIEFS = st.fixed_dictionaries(
    {
        "supply_v": st.sampled_from(["3.3 V", "5 V", "12 V", "48 V", "325 V"]),
        "supply_tolerance": st.sampled_from(["0 %", "2 %"]),
        "source_ohm": st.sampled_from(["0", "50", "4k7"]),
        "low_v": st.sampled_from(["0 V", "0 V", "-5 V", "0.5 V"]),
        "within": st.sampled_from(["1 %", "3 %", "6 %", "20 %"]),
        "load": st.sampled_from(
            ["none", "10k", "47k ± 20 %", "1M or open", "up to 1 mA", "0.1 mA", "20k to 60k",
             "2 … 8 mA", "1k ± 0 %"]
        ),
        "stiff": st.sampled_from(["10 ×", "3 ×", "any"]),
        "feeds_v": st.sampled_from(["none", "none", "3.6 V", "6 V"]),
        "max_current_a": st.sampled_from(["none", "2 mA"]),
        "min_current_a": st.sampled_from(["none", "10 µA"]),
        "max_output_ohm": st.sampled_from(["none", "20k"]),
        "tolerance": st.sampled_from(["0 %", "0.1 %", "1 %", "5 %"]),
        "rating": st.sampled_from(["0402", "0603", "2512", "5 W"]),
        "values": st.sampled_from(["E6", "E12", "E24"]),
    }
)  # fmt: skip


def drawn_need(texts: dict[str, str], share: float) -> DividerBrief:
    volts = float(texts["supply_v"].split()[0])
    need = read_brief("divider", {**texts, "target_v": f"{volts * share:.3g} V"}).need
    assume(isinstance(need, DividerBrief))
    assert isinstance(need, DividerBrief)
    return need


@cases(60)
@given(BRIEFS, st.floats(0.01, 0.97))
def test_what_is_presumed_is_what_weighing_says(texts: dict[str, str], share: float) -> None:
    need = drawn_need(texts, share)
    pool = need.parts.pool(())
    networks = [*need.search("nearest", pool, 8).networks, *need.worth_weighing(pool, ())[:4]]
    told = need.presumed(networks)
    assert told is not None
    weighed = [c.judged.verdict is Verdict.PASS for c in need.weigh(networks)]
    assert list(told) == weighed


@cases(40)
@given(BRIEFS, st.floats(0.01, 0.97))
def test_runs_leave_no_sound_pair_out_and_the_lightest_is_among_the_light(
    texts: dict[str, str], share: float
) -> None:
    need = drawn_need({**texts, "values": "E6"}, share)
    pool = need.parts.pool(())
    values = pool.ohms
    legs = [((up, 1.0, 1.0), (down, 1.0, 1.0)) for up, down in itertools.product(values, values)]
    watts = need.parts.stress * need.parts.derated_watts
    volts = need.parts.family.limiting_volts
    every = which_sound(need.demand, legs, most_watts=watts, most_volts=volts)
    single = leg_options(pool, "single")
    found = sound_pairs(need.demand, single, single, most_watts=watts, most_volts=volts)
    assert {
        (found.upper.ohms[u], found.lower.ohms[v]) for u, v in zip(found.u, found.v, strict=True)
    } == {(up, down) for ((up, *_), (down, *_)), sound in zip(legs, every, strict=True) if sound}
    if len(found):
        assert can_be_sound(need.demand)
        light = sound_pairs(
            need.demand, single, single, light=True, most_watts=watts, most_volts=volts
        )
        assert light.amps.min() == pytest.approx(found.amps.min())
        assert len(light) == (found.amps <= HEAVY * found.amps.min() * (1 + 1e-9)).sum()


@pytest.mark.parametrize("structure", ["single", "pair", "array"])
def test_ways_to_make_a_leg(structure: Structure) -> None:
    # Each row against its own network: Ohm's and Joule's laws part by part
    pool = Pool.stock({10.0: 3, 22.0: 40, 47.0: 1})
    found = leg_options(pool, structure)
    assert (found.ohms[1:] >= found.ohms[:-1]).all()
    for place in range(len(found.ohms)):
        network = found.network(place)
        assert float(exact_resistance(network)) == pytest.approx(found.ohms[place])
        parts = part_watts(network, 1.0)
        assert len(parts) == found.parts[place]
        whole = 1 / found.ohms[place]
        assert max(w for _, w in parts) / whole == pytest.approx(found.heat[place])
        assert max((w * p.ohms) ** 0.5 for p, w in parts) == pytest.approx(found.reach[place])
        values = [p.ohms for p, _ in parts if isinstance(p, Part)]
        for ohms, count in zip(pool.ohms, pool.counts, strict=True):
            assert values.count(ohms) <= count
    if structure == "array":
        # s strings-lengths and p strings, 2 to 15 parts: 44 shapes of the value there are 40 of
        shapes = sum((MOST_IN_LEGS - 1) // s for s in range(1, MOST_IN_LEGS)) - 1
        assert int((found.row == 1).sum()) == shapes


def test_mains_like_by_hand() -> None:
    # 325 V to 2.5 V: 4 × 1 MΩ over 31 kΩ (30k + 1k): 2.50 V, 81 V across each, 6.6 mW in each
    need = read_brief(
        "divider", {"supply_v": "325 V", "target_v": "2.5 V", "within": "4 %", "rating": "0805"}
    ).need
    assert isinstance(need, DividerBrief)
    pool = Pool.plenty([1e3, 30e3, 1e6])
    found = sound_pairs(
        need.demand, leg_options(pool, "array"), leg_options(pool, "pair"), most_volts=150.0
    )
    said = {str(pair_network(found, k)) for k in range(len(found))}
    four = read_network("R1=1M + R2=1M + R3=1M + R4=1M + @OUT + R5=30k + R6=1k")
    assert str(four) in said
    place = next(k for k in range(len(found)) if str(pair_network(found, k)) == str(four))
    assert found.volts[place, 0] == pytest.approx(81.0, rel=0.02)
    assert found.watts[place, 0] == pytest.approx(6.6e-3, rel=0.04)
