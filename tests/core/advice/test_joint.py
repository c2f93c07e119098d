"""The cheapest change that passes, through everything that can be bought together."""

import itertools
import random

import pytest

from lowfold.core.advice.advice import advise
from lowfold.core.advice.buying import families_sold, grades_sold, series_sold
from lowfold.core.advice.case import Case
from lowfold.core.advice.joint import Joint, cheapest
from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.kinds import choices_for, read_brief, weigh
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import write_network
from lowfold.core.one_line.reading import read_one_line
from lowfold.core.parts.stock import Stock
from lowfold.core.search.leg_options import MOST_IN_LEGS, Structure, leg_options


def case_of(text: str) -> Case:
    """Return the first choice for a need in one line, as what advice is about."""
    read = read_one_line(text)
    assert read.need is not None
    assert read.unread == ()
    need = read_brief(read.need, read.tokens).need
    assert need is not None
    first = choices_for(need, "nearest", listed=1).rows[0]
    return Case(read.tokens, first.judged, first.network, Stock(), need, read.need)


def followed(case: Case, found: Joint) -> Verdict | None:
    """How a way stands by the way the sheet goes: read, weighed."""
    assert found.way is not None
    assert case.kind is not None
    need = read_brief(case.kind, {**case.texts, **found.way.changes}).need
    assert need is not None
    return weigh(need, read_network(found.way.notation)).judged.verdict


#: Needs that nothing of the stated values meets, and what their change has to have in it.
MET = [
    ("325 V to 2.5 V within 3 %", {"tolerance"}),
    ("150 V to 5 V into 100k", {"tolerance"}),
    ("600 V to 5 V within 3 %", {"tolerance"}),
    ("800 V to 3 V within 3 % into 1M", {"tolerance"}),
    ("24 V to 5 V within 2 % into 47k", {"tolerance"}),
    ("47 Ω across 24 V within 5 %", {"rating"}),
    ("10 Ω at 1 A within 5 %", {"rating"}),
    ("8 Ω at 1.2 A within 5 %", {"rating"}),
    ("4k32 within 1 %", {"tolerance"}),
    ("12 V to 5 V within 0.5 %", {"tolerance"}),
    ("0.8 V reference to 3.3 V within 2 %", {"tolerance"}),
    ("5 V to 3.3 V and 1.65 V within 1 %", {"tolerance"}),
]


@pytest.mark.parametrize(("text", "changed"), MET)
def test_a_way_is_told_that_followed_is_sound(text: str, changed: set[str]) -> None:
    text = text.replace(" at ", " through ")
    case = case_of(text)
    assert case.judged.verdict is not Verdict.PASS
    found = cheapest(case)
    assert followed(case, found) is Verdict.PASS
    assert found.way is not None
    assert changed <= set(found.way.changes)
    parts = [b.ref for b in found.way.judged.circuit.branches]
    assert len(parts) <= MOST_IN_LEGS
    kind, network = case.kind, case.network
    assert kind is not None
    assert network is not None
    told = advise(kind, case.texts, network).cheapest
    assert told is not None
    assert told.verdict is Verdict.PASS


def test_a_dummy_load_by_hand() -> None:
    # Common practice: 24 V across 47 Ω is 12.3 W; five 240 Ω of 5 W in parallel take 2.4 W each
    need = read_brief(
        "resistance", {"target_ohm": "47", "use": "24 V", "rating": "5 W", "within": "5 %"}
    ).need
    assert need is not None
    five = weigh(need, read_network(" || ".join(["240"] * 5))).judged
    assert [p.nominal_watts for p in five.check.parts] == pytest.approx([2.4] * 5)
    case = case_of("47 Ω across 24 V within 5 %")
    way = cheapest(case).way
    assert way is not None
    assert way.changes["rating"] == "5 W wirewound"
    assert all(p.worst_watts <= 0.9 * 2.5 for p in way.judged.check.parts)


DENIED = [
    "24 V to 5 V within 2 % into 47k, max 1 mA",
    "12 V to 5 V within 0.1 %, tolerance 0.1 %",
    "48 V to 3 V within 1 % into 10k, max 1 mA",
    "5 V to 2.5 V into 1k or open, max 2 mA",
]


@pytest.mark.parametrize("text", DENIED)
def test_a_denial_is_met_by_whatever_is_tried(text: str) -> None:
    # Random ways to buy it, near the target, each weighed for itself: none passes
    case = case_of(text)
    found = cheapest(case)
    assert found.way is None or found.way.changes.get("tracking")
    if found.way is not None:
        return
    assert found.proven
    assert found.looked.startswith("Nothing that can be bought does: ")
    need = case.need
    assert isinstance(need, DividerBrief)
    rng = random.Random(23)
    steps = list(
        itertools.product(
            series_sold(need.parts), grades_sold(need.parts), families_sold(need.parts, ())
        )
    )
    structures: list[Structure] = ["single", "pair", "array"]
    tried = 0
    for _ in range(120):
        series, grade, sold = rng.choice(steps)
        texts = {**case.texts, **series.changes, **grade.changes, **sold.bought.changes}
        there = read_brief("divider", texts).need
        assert isinstance(there, DividerBrief)
        pool = there.parts.pool(())
        above, below = (leg_options(pool, rng.choice(structures)) for _ in range(2))
        u = rng.randrange(len(above.ohms))
        share = there.target_volts / (there.supply_volts - there.target_volts)
        v = min(int(below.ohms.searchsorted(above.ohms[u] * share)), len(below.ohms) - 1)
        legs = (above.network(u), below.network(v))
        text = " + @OUT + ".join(f"({write_network(leg, refs=False)})" for leg in legs)
        choice = weigh(there, read_network(text))
        tried += 1
        # What may be drawn is no gate: a string that draws more is none that was asked for
        kept = there.max_amps is None or (choice.amps or 0.0) <= there.max_amps
        assert not (kept and choice.judged.verdict is Verdict.PASS)
    assert tried == 120


def test_the_next_thing_that_costs_less_is_taken() -> None:
    # 473 Ω ± 0.7 % at 0.1 % and 100 ppm/K: 470 + 3 costs one part more, 475 of E96 a finer series
    way = cheapest(case_of("473 Ω within 0.7 %, tolerance 0.1 %, one part")).way
    assert way is not None
    assert way.words == "Take (470 + 3)"
    assert way.cost == 1


def test_what_only_a_load_that_stays_would_mend_is_denied_and_passes_where_it_is_said() -> None:
    text = "24 V to 5 V within 2 % into 47k ± 1 %, max 1 mA"
    assert cheapest(case_of(text)).proven
    said = read_one_line(f"{text}, always there")
    need = read_brief("divider", {**said.tokens, "tolerance": "0.1 %", "tcr": "25 ppm/K"}).need
    assert need is not None
    assert choices_for(need, "nearest").careful is not None
