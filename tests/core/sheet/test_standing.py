"""How a design stands."""

from lowfold.core.checking.verdict import Verdict
from lowfold.core.sheet.sheet import build_sheet
from lowfold.core.sheet.standing import standing

BUOY = {
    "supply_v": "14.4", "supply_tolerance": "0 %", "target_v": "3V0", "within": "3 %",
    "load": "1M ± 0 %", "max_current_a": "80 µA", "min_ohm": "1k", "max_ohm": "1M",
}  # fmt: skip


def test_how_a_design_stands() -> None:
    pinned = standing(build_sheet("divider", BUOY, choice="R1=200k + @OUT + R2=56k"))
    assert (pinned.verdict, pinned.words) == (Verdict.MARGINAL, "spread uses 95.4 % of the window")
    assert (pinned.need, pinned.figure) == ("14.4 V to 3 V ± 3 %", "3.018 V")
    unpinned = standing(build_sheet("divider", BUOY))
    assert unpinned.words.endswith("; nothing pinned yet")
    wrong = standing(build_sheet("divider", BUOY | {"target_v": "x"}))
    assert wrong.words == "brief not understood: wanted voltage"
    stray = standing(build_sheet("divider", BUOY, choice="1k + 2k"))
    assert stray.words.startswith(
        "the pinned choice does not fit: the network has no junction called “OUT”"
    )
    broken = standing(build_sheet("divider", BUOY, choice="1k +"))
    assert broken.verdict is None
