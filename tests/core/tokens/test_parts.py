"""Parts as a brief states them."""

from lowfold.core.needs.kinds import (
    choices_for,
    read_brief,
)
from lowfold.core.needs.resistance import ResistanceBrief
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
