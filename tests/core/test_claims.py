"""What a sheet claims, held against the check of its own network, and against full searches."""

from __future__ import annotations

import itertools
import math
import re
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.advice.advice import advise
from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import KINDS, BriefKind, choices_for, read_brief, weigh
from lowfold.core.needs.network import read_stated
from lowfold.core.network.notation import read_network
from lowfold.core.sheet.standing import governing_words
from lowfold.core.values.preferred import series_values
from lowfold.views.shown import shown_answer
from tests.effort import cases

PARTS = {
    "tolerance": st.sampled_from(["0 %", "0.1 %", "1 %", "5 %", "20 %"]),
    "tcr": st.sampled_from(["0 ppm/K", "50 ppm/K", "200 ppm/K"]),
    "drift": st.sampled_from(["0 %", "1 %"]),
    "rating": st.sampled_from(["0402", "0603", "1/4 W", "5 W"]),
    "values": st.sampled_from(["E12", "E24"]),
    "tracking": st.sampled_from(["none", "none", "0 %", "0.1 %", "30 %"]),
}
LOADS = st.sampled_from(["none", "1M", "10k ± 10 %", "1k", "20 µA", "2 mA ± 50 %", "5 mA", "open"])
VOLTS = st.sampled_from(["3.3 V", "5 V", "12 V", "14.4 V", "24 V"])
WITHIN = st.sampled_from(["1 %", "3 %", "10 %"])
BRIEFS: dict[str, dict[str, st.SearchStrategy[str]]] = {
    "resistance": {
        "target_ohm": st.sampled_from(["4.32k", "250", "47", "1M", "0.33"]),
        "within": WITHIN,
        "load": st.sampled_from(["none", "300k", "10k ± 20 %", "1M"]),
        "use": st.sampled_from(["none", "5 V", "20 mA", "12 V"]),
        **PARTS,
    },
    "divider": {
        "supply_v": VOLTS,
        "supply_tolerance": st.sampled_from(["0 %", "2 %", "10 %"]),
        "source_ohm": st.sampled_from(["0", "50"]),
        "target_v": st.sampled_from(["1.2 V", "2.5 V", "3 V"]),
        "within": WITHIN,
        "load": LOADS,
        "feeds_v": st.sampled_from(["none", "2 V", "5 V"]),
        **PARTS,
    },
    "feedback": {
        "target_v": st.sampled_from(["3.3 V", "5 V", "12 V"]),
        "within": WITHIN,
        "reference_v": st.sampled_from(["0.6 V", "0.8 V", "1.25 V"]),
        "reference_tolerance": st.sampled_from(["0 %", "1 %", "5 %"]),
        "pin_a": st.sampled_from(["0", "50 nA", "20 µA"]),
        "feeds_v": st.sampled_from(["none", "3 V", "15 V"]),
        **PARTS,
    },
    "ladder": {
        "supply_v": VOLTS,
        "tap1_v": st.sampled_from(["3.2 V", "2.9 V"]),
        "tap1_load": LOADS,
        "tap2_v": st.sampled_from(["1.4 V", "0.5 V"]),
        "tap2_load": LOADS,
        "within": WITHIN,
        **PARTS,
    },
}


def drawn(kind: str) -> st.SearchStrategy[dict[str, str]]:
    return st.fixed_dictionaries(BRIEFS[kind])


def finite(value: Any) -> bool:
    """Whether no number of an answer is infinite, no number, or a zero with a sign."""
    if isinstance(value, dict):
        return all(map(finite, value.values()))
    if isinstance(value, list):
        return all(map(finite, value))
    if isinstance(value, float):
        return math.isfinite(value) and not (value == 0 and math.copysign(1, value) < 0)
    return True


@pytest.mark.parametrize("kind", ["resistance", "divider", "ladder"])
@cases(12)
@given(data=st.data())
def test_a_sheets_verdict_is_that_of_the_check_of_its_own_network(
    kind: BriefKind, data: st.DataObject
) -> None:
    need = read_brief(kind, data.draw(drawn(kind))).need
    if need is None:
        return
    for row in choices_for(need, KINDS[kind].preferences[0], listed=3).rows:
        own = shown_answer(row).as_network
        readings, stated = read_stated(own)
        assert stated is not None, {k: r.message for k, r in readings.items() if not r.ok}
        again = stated.weighed()
        judged = row.judged
        current = judged.supply is not None and math.isinf(judged.supply.source_ohms)
        spread, same = (next(g for g in j.gates if g.name == "spread") for j in (judged, again))
        assert spread.verdict is same.verdict
        assert spread.used == pytest.approx(same.used, rel=1e-9)
        if not current:  # a network is on a voltage: a stated current is written as one
            assert judged.verdict is again.verdict


@pytest.mark.parametrize("kind", list(BRIEFS))
@cases(10)
@given(data=st.data())
def test_spans_hold_their_nominal_values_and_the_first_row_does_not_depend_on_the_list(
    kind: BriefKind, data: st.DataObject
) -> None:
    need = read_brief(kind, data.draw(drawn(kind))).need
    if need is None:
        return
    for preference in KINDS[kind].preferences:
        rows = choices_for(need, preference, listed=5).rows
        for mark in (m for row in rows for m in row.marks):
            size = max(abs(mark.lowest), abs(mark.highest))
            assert mark.lowest <= mark.nominal + 1e-12 * size
            assert mark.nominal <= mark.highest + 1e-12 * size
        one = choices_for(need, preference, listed=1).rows
        assert [r.notation for r in one] == [r.notation for r in rows[:1]]


@pytest.mark.parametrize("kind", list(BRIEFS))
@cases(6, dear=True)
@given(data=st.data())
def test_every_answer_about_a_sheet_is_made_of_finite_numbers(
    client: TestClient, kind: BriefKind, data: st.DataObject
) -> None:
    ask: dict[str, Any] = {"kind": kind, "brief": data.draw(drawn(kind))}
    answer = client.post("/api/sheet", json=ask | {"listed": 2})
    assert answer.status_code == 200, answer.text
    assert finite(answer.json())
    for row in answer.json()["choices"][:1]:
        for path in ("opened", "advice"):
            found = client.post(f"/api/sheet/{path}", json=ask | {"choice": row["notation"]})
            assert found.status_code == 200, found.text
            assert finite(found.json())


@cases(8)
@given(texts=drawn("divider"))
def test_a_denial_is_met_by_a_full_search_and_advice_followed_passes(texts: dict[str, str]) -> None:
    texts = texts | {"tracking": "none", "feeds_v": "none", "values": "E12"}
    need = read_brief("divider", texts).need
    assert need is not None
    rows = choices_for(need, "nearest", listed=1).rows
    for row in rows:
        found = advise("divider", texts, row.network)
        for way in found.ways:
            changed = read_brief("divider", {**texts, **way.changes}).need
            assert changed is not None
            assert weigh(changed, read_network(way.notation)).judged.verdict is way.verdict
        if found.limit:
            assert not any(w.verdict is Verdict.PASS for w in found.ways)
            assert not any_pair_of_perfect_parts_stays_inside(texts)


def any_pair_of_perfect_parts_stays_inside(texts: dict[str, str]) -> bool:
    """Every pair of E12 values, without the product's search: the tap's node equation at corners."""
    need = read_brief("divider", texts).need
    assert isinstance(need, DividerBrief)
    values = series_values(["E12"])
    load, low, high = need.load, need.target_volts * (1 - need.within), need.target_volts * (1 + need.within)  # fmt: skip
    for up, down in itertools.product(values, values):
        inside = True
        for s, t in itertools.product((-1, 1), (-1, 1)):
            supply = need.supply_volts * (1 + s * need.supply_tolerance)
            end = (load.low if t < 0 else load.high) if load else 0.0
            siemens = 1 / end if load and load.ohms else 0.0
            amps = end if load and load.amps else 0.0
            top = up + need.source_ohms
            volts = max(supply / top - amps, 0.0) / (1 / top + 1 / down + siemens)
            inside &= low * (1 - 1e-12) <= volts <= high * (1 + 1e-12)
        if inside:
            return True
    return False


def test_a_passing_pair_is_found_where_the_first_ones_fail() -> None:
    # By hand: 5 V · (560 ∥ 10k)/(270 + 560 ∥ 10k) = 3.313 V; the load's ± 10 % moves it 0.2 %
    texts = {
        "supply_v": "5 V", "target_v": "3.31 V", "within": "2 %", "load": "10k ± 10 %",
        "values": "E24", "rating": "0402",
    }  # fmt: skip
    need = read_brief("divider", texts).need
    assert need is not None
    first = choices_for(need, "nearest", listed=1).rows[0]
    assert first.judged.verdict is Verdict.PASS  # what passes is put first, however few are listed
    nearest = need.weigh(need.search("nearest", need.parts.pool(()), 1).networks)[0]
    assert nearest.judged.verdict is Verdict.FAIL
    found = advise("divider", texts, nearest.network)
    assert found.limit == ""
    assert found.ways[0].verdict is Verdict.PASS


def test_a_resistance_is_judged_with_what_lies_beside_it() -> None:
    # By hand: 4320 ∥ 300k is 4258.7, 1.4 % low; parts of 1.45 % take it 2.8 % off
    need = read_brief(
        "resistance", {"target_ohm": "4.32k", "within": "2 %", "load": "300k ± 0 %"}
    ).need
    assert need is not None
    judged = weigh(need, read_network("R1=4k3 + R2=20")).judged
    low = 4320 * (1 - 0.0145)
    assert judged.marks[0].lowest == pytest.approx(low * 300e3 / (low + 300e3))
    assert judged.verdict is Verdict.FAIL
    best = choices_for(need, "nearest", listed=1).rows[0]
    assert best.marks[0].nominal == pytest.approx(4320, rel=2e-3)  # the load is counted


def test_what_is_too_much_without_any_fault_fails_and_blames_none() -> None:
    texts = {"supply_v": "14.4 V", "target_v": "3 V", "feeds_v": "2.5 V"}
    need = read_brief("divider", texts).need
    assert need is not None
    judged = weigh(need, read_network("R1=200k + @OUT + R2=53k")).judged
    spread = next(g for g in judged.gates if g.name == "spread")
    assert spread.verdict is Verdict.FAIL
    assert spread.notes[0].endswith("with nothing failed; what it feeds stands 2.5 V.")
    assert [c.code for c in judged.check.cautions] == ["overdriven"]


#: Sentences with a figure in them, and how the figure follows from the numbers of the answer.
def test_figures_in_sentences_follow_from_the_numbers(client: TestClient) -> None:
    brief = {"supply_v": "14.4 V", "target_v": "3 V", "load": "1M ± 0 %", "tolerance": "1 %"}
    choice = "R1=200k + @OUT + R2=56k"
    answer = client.post("/api/sheet", json={"kind": "divider", "brief": brief, "choice": choice})
    row = next(c for c in answer.json()["choices"] if c["pinned"])
    gates = {g["name"]: g for g in answer.json()["shown"]["gates"]}
    worst = max(abs(row["marks"][0]["lowest"]), abs(row["marks"][0]["highest"]))
    assert gates["spread"]["figure"]["text"].strip("+−") == f"{100 * worst:.3g}"
    uses = max((g for g in gates.values() if g["used"] is not None), key=lambda g: g["used"])
    share = re.search(r"uses ([0-9.]+) %", row["words"])
    assert share is not None
    assert float(share[1]) == pytest.approx(100 * uses["used"], abs=0.51)
    limits = re.search(r"from ([0-9.]+) kΩ", gates["load"]["notes"][0])
    assert limits is not None
    check = {
        "network": choice, "supply": {"v": 14.4}, "environment": {"low_c": -20, "high_c": 60},
        "parts": {"default": {"tolerance": 0.01, "tcr_ppm": 100}},
        "outputs": [{"at": "OUT", "target_v": 3, "allowed": 0.03}],
    }  # fmt: skip
    for ohms, verdict in ((float(limits[1]) * 1e3, {"pass", "marginal"}), (float(limits[1]) * 990, {"fail"})):  # fmt: skip
        asked = check | {"loads": [{"at": "OUT", "ohm": ohms}]}
        assert client.post("/api/network/check", json=asked).json()["verdict"] in verdict


HOT = {"target_ohm": "470", "within": "5 %", "max_parts": "1", "rating": "0603"}


@pytest.mark.parametrize(("use", "words"), [("12 V", "622 %"), ("54.5 V", "128 ×"), ("545 V", "12\u202f800 ×")])  # fmt: skip
def test_how_far_over_is_told_however_far(use: str, words: str) -> None:
    # By hand: U²/(470·0.9855) over half of 100 mW
    need = read_brief("resistance", HOT | {"use": use}).need
    assert need is not None
    gate = next(g for g in weigh(need, read_network("R1=470")).judged.gates if g.name == "power")
    volts = float(use.split(maxsplit=1)[0])
    assert gate.used == pytest.approx(volts**2 / (470 * 0.9855) / 0.05)
    assert governing_words((gate,)) == f"power uses {words} of the allowed power"
