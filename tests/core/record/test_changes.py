"""What changed, in the words of the trade; figures by hand."""

from typing import Any

from lowfold.core.record.changes import NOTHING_CHANGED, changes, choice_in_short, in_a_line
from lowfold.core.record.statement import read_statement

#: The lake buoy's battery sense; its figures are worked by hand below.
BRIEF = {
    "supply_v": "14.4 V", "target_v": "3 V", "within": "3 %", "load": "1 MΩ ± 0 %",
    "tolerance": "1 %", "tcr": "100 ppm/K", "low_c": "-20 °C", "high_c": "60 °C",
}  # fmt: skip
BEFORE: dict[str, Any] = {
    "name": "Battery sense", "kind": "divider", "brief": BRIEF, "prefer": "nearest",
    "choice": "R1=200k + @OUT + R2=56k", "why": "", "tags": [],
}  # fmt: skip


def test_values_are_said_from_top_to_bottom() -> None:
    state = read_statement("divider", BRIEF, BEFORE["choice"])
    assert choice_in_short(state) == "200k/56k"
    assert choice_in_short(read_statement("divider", BRIEF, None)) == ""
    long = " + ".join(f"R{k}=1k" for k in range(1, 12))
    said = choice_in_short(read_statement("network", {"network": long}, None))
    assert said.endswith("1k/1k and 3 more")


def test_a_need_a_choice_and_its_gates() -> None:
    after = {**BEFORE, "brief": {**BRIEF, "target_v": "3V1"}, "choice": "R1=390k + @OUT + R2=120k"}
    found = {c.what: (c.before, c.after) for c in changes(BEFORE, after)}
    assert found["wanted voltage"] == ("3 V", "3.1 V")
    assert found["choice"] == ("200k/56k", "390k/120k")
    # Every part at its bad end, ±(1 % + 0.45 %·…): the largest deviation over the accepted 3 %
    half = 0.01 + 100e-6 * 45
    worst = []
    for upper, lower, target in ((200e3, 56e3, 3.0), (390e3, 120e3, 3.1)):
        ends = []
        for s in (-1, 1):
            low = lower * (1 + s * half)
            low = low * 1e6 / (low + 1e6)
            ends.append(14.4 * low / (low + upper * (1 - s * half)) / target - 1)
        worst.append(max(abs(e) for e in ends) / 0.03)
    assert found["spread"][0].startswith(f"{100 * worst[0]:.0f} % (")
    assert found["spread"][1].startswith(f"{100 * worst[1]:.0f} % (")


def test_one_line_says_it_all() -> None:
    after = {**BEFORE, "why": "what the drawer has", "tags": ["logger"], "name": "Cell sense"}
    assert in_a_line(changes(BEFORE, after)) == (
        "name “Battery sense” → “Cell sense”; reason none → “what the drawer has”; "
        "tags none → logger"
    )
    assert in_a_line(changes(BEFORE, BEFORE)) == NOTHING_CHANGED


def test_what_is_not_understood_is_quoted() -> None:
    after = {**BEFORE, "brief": {**BRIEF, "target_v": "three"}, "choice": None}
    words = in_a_line(changes(BEFORE, after))
    assert "wanted voltage 3 V → “three”" in words
    assert "choice 200k/56k → none" in words
    assert "spread 95 % (marginal) → not judged" in words


def test_the_same_written_otherwise_is_no_change() -> None:
    after = {**BEFORE, "brief": {**BRIEF, "target_v": "3000 mV", "load": "1000k ± 0 %"}}
    assert changes(BEFORE, after) == ()
