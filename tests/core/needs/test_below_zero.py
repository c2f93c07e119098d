"""An output below 0 V: the mirror of one above it, with its legs exchanged."""

import random

import pytest

from lowfold.core.needs.divider import DividerBrief, incurable, legs_of
from lowfold.core.needs.kinds import choices_for, read_brief
from lowfold.core.network.tree import resistance
from lowfold.core.weighing.choice import Choice, Preference
from tests.effort import seeds


def choices(texts: dict[str, str], prefer: Preference = "nearest") -> list[Choice]:
    need = read_brief("divider", texts, ()).need
    assert need is not None
    return list(choices_for(need, prefer, (), 12).rows)


@pytest.mark.parametrize("prefer", ["nearest", "worst_case"])
@pytest.mark.parametrize("seed", seeds(16))
def test_a_need_below_zero_is_its_mirror_above_it(seed: int, prefer: Preference) -> None:
    rng = random.Random(seed)
    rail = rng.choice([5, 9, 12, 24])
    wanted = round(rail * rng.uniform(0.15, 0.85), 2)
    common = {
        "within": rng.choice(["2 %", "4 %"]), "min_ohm": "1k", "max_ohm": "100k",
        "load": rng.choice(["none", "47k ± 0 %", "40k to 60k", "100k or open"]),
        "stiff": rng.choice(["10 ×", "any"]),
        "values": "E12",
    }  # fmt: skip
    above = choices({"supply_v": f"{rail}", "target_v": f"{wanted}", **common}, prefer)
    below = choices(
        {"supply_v": "0 V", "low_v": f"-{rail} V", "target_v": f"-{wanted} V", **common}, prefer
    )
    mirrored = {}
    for choice in below:
        upper, lower = map(resistance, legs_of(choice.network))
        mirrored[round(lower, 6), round(upper, 6)] = choice
    met = 0
    for choice in above:
        upper, lower = map(resistance, legs_of(choice.network))
        other = mirrored.get((round(upper, 6), round(lower, 6)))
        if other is None:
            continue  # a list is cut where equals are ordered by the part that comes first
        met += 1
        assert other.judged.verdict == choice.judged.verdict
        one, two = choice.governing, other.governing
        assert two.nominal == pytest.approx(-one.nominal)
        assert (two.lowest, two.highest) == pytest.approx((-one.highest, -one.lowest))
        (spread,) = (g.notes for g in other.judged.gates if g.name == "spread")
        assert "±\u00a0−" not in " ".join(spread)
        assert {g.name: g.used for g in other.judged.gates} == pytest.approx(
            {g.name: g.used for g in choice.judged.gates}, nan_ok=True
        )
    assert met >= len(above) // 2


@pytest.mark.parametrize(
    ("texts", "token", "words"),
    [
        ({"supply_v": "-12", "target_v": "-5"}, "target_v", "write 0 V as the supply"),
        ({"supply_v": "5", "target_v": "0 V"}, "target_v", "nothing is within a share of 0 V"),
        ({"supply_v": "0", "low_v": "-5", "target_v": "-9"}, "low_v", "is not below the wanted"),
    ],
)
def test_what_does_not_lie_between_its_ends_is_told(
    texts: dict[str, str], token: str, words: str
) -> None:
    read = read_brief("divider", texts, ())
    assert read.need is None
    assert words in read.tokens[token].message


@pytest.mark.parametrize("supply", ["-2 V", "3 V"])
def test_a_wandering_supply_is_not_said_to_be_past_cure_where_it_is_not(supply: str) -> None:
    """By hand: -2 V ± 5 % moves -5 V above -12 V by 0.7 · 0.1 V = 0.07 V of the 0.15 V accepted."""
    texts = {"supply_v": supply, "supply_tolerance": "5 %", "low_v": "-12 V", "target_v": "-5 V",
             "within": "3 %", "tolerance": "0.1 %", "tcr": "10 ppm/K"}  # fmt: skip
    need = read_brief("divider", texts, ()).need
    assert isinstance(need, DividerBrief)
    passing = [c for c in choices(texts, "worst_case") if c.judged.verdict == "pass"]
    told = incurable(need, need.parts.pool(()))
    assert passing
    assert not told
