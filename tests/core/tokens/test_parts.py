"""Parts as a brief states them."""

import pytest

from lowfold.core.needs.kinds import (
    choices_for,
    read_brief,
)
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.parts.pool import PLENTY
from lowfold.core.parts.stock import DrawerLine


def resistance(**texts: str) -> ResistanceBrief:
    need = read_brief("resistance", texts).need
    assert isinstance(need, ResistanceBrief)
    return need


def test_the_drawer_gives_only_what_is_tight_enough_and_in_the_range() -> None:
    drawer = (
        DrawerLine(100.0, 2, 0.01, "film"),
        DrawerLine(100.0, 3, 0.001, "thin film"),
        DrawerLine(220.0, None, 0.05, "carbon"),
        DrawerLine(1e6, 1, 0.001, ""),
    )
    brief = resistance(values="drawer", tolerance="1 %", max_ohm="10k", target_ohm="500")
    pool = brief.parts.pool(drawer)
    assert (pool.ohms, pool.counts) == ((100.0,), (5,))
    assert choices_for(brief, "nearest", drawer).rows[0].notation == "R1=100 + R2=100"
    loose = resistance(values="my drawer", tolerance="5 %", target_ohm="500").parts.pool(drawer)
    assert loose.ohms == (100.0, 220.0, 1e6)
    reason = choices_for(resistance(values="drawer"), "nearest").found.reason
    assert reason is not None
    assert reason.startswith("the drawer has no part that fits")


@pytest.mark.parametrize(
    ("text", "values", "shown"),
    [
        ("30 and 40", {30.0: PLENTY, 40.0: PLENTY}, "30 Ω, 40 Ω"),
        ("30, 40", {30.0: PLENTY, 40.0: PLENTY}, "30 Ω, 40 Ω"),
        ("4k7; 10k; 22k", {4700.0: PLENTY, 10e3: PLENTY, 22e3: PLENTY}, "4.7 kΩ, 10 kΩ, 22 kΩ"),
        ("3x 100, 220", {100.0: 3, 220.0: 1}, "3 × 100 Ω, 1 × 220 Ω"),
        ("2 pcs 1k and 5k1", {1000.0: 2, 5100.0: 1}, "2 × 1 kΩ, 1 × 5.1 kΩ"),
        ("2x1k, 1k", {1000.0: 3}, "3 × 1 kΩ"),
    ],
)
def test_values_may_be_listed_one_by_one(text: str, values: dict[float, int], shown: str) -> None:
    found = read_brief("resistance", {"target_ohm": "55 Ω", "values": text})
    assert found.need is not None
    assert dict(found.need.parts.listed) == values
    assert found.need.parts.pool(()).ohms == tuple(sorted(values))
    assert found.tokens["values"].shown == shown


def test_listed_values_are_what_is_chosen_from() -> None:
    # By hand: 55 Ω of 30 Ω and 40 Ω is 40 Ω in series with two of 30 Ω in parallel
    texts = {"target_ohm": "55 Ω", "values": "30 and 40", "max_parts": "3"}
    need = read_brief("resistance", texts).need
    assert need is not None
    first = choices_for(need, "nearest").rows[0]
    assert first.notation == "R1=40 + (R2=30 || R3=30)"


@pytest.mark.parametrize(
    ("text", "why"),
    [("30,40", "one figure or two"), ("0x 100, 5", "is none"), ("30, forty", "forty")],
)
def test_a_list_that_is_none_is_refused(text: str, why: str) -> None:
    reading = read_brief("resistance", {"target_ohm": "55 Ω", "values": text}).tokens["values"]
    assert not reading.ok
    assert why in reading.message
