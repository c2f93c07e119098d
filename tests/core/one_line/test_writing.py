"""A need writes itself as one line, which reads back to the same."""

import random

import pytest

from lowfold.core.needs.kinds import KINDS, BriefKind
from lowfold.core.one_line.following import likely_next
from lowfold.core.one_line.reading import LineKind, read_one_line
from lowfold.core.one_line.several import read_needs_said
from lowfold.core.one_line.writing import write_one_line
from lowfold.core.tokens.reading import read_tokens
from tests.effort import seeds

PARTS = {
    "values": ["E12", "E96", "E24 + E96", "drawer", "30R, 40R, 3x 100"], "tolerance": ["0.5 %", "5%"],
    "tcr": ["25 ppm/K"], "drift": ["0.5 %"], "tracking": ["0.1 %"], "stress": ["60 %"],
    "rating": ["0805", "1 W"], "min_ohm": ["1k", "220"], "max_ohm": ["1M", "470k"],
    "low_c": ["-10 °C", "5 °C"], "high_c": ["85 °C"],
}  # fmt: skip
LOADS = ["47k", "47k ± 20 %", "40k to 60k", "47k or open", "up to 5 mA", "10 … 50 mA", "1 mA"]
STRINGS = {
    "supply_v": ["14.4 V", "11 to 14.4 V", "48 V ± 10 %", "24", "5V0"], "source_ohm": ["50", "1k2"],
    "low_v": ["-5 V"], "within": ["2 %", "50 mV", "+5/-0 %"], "load": LOADS,
    "stiff": ["any", "20 ×", "5"], "feeds_v": ["3.6 V"], "max_current_a": ["80 µA", "1mA"],
    "min_current_a": ["10 uA"], "max_output_ohm": ["10k"], "per_leg": ["2"],
}  # fmt: skip
SAID: dict[LineKind, dict[str, list[str]]] = {
    "resistance": {
        "target_ohm": ["4k53", "250 Ω", "0R22"], "within": ["1 %", "5 Ω"], "max_parts": ["3"],
        "use": ["5 mA", "12 V"], "load": ["47k", "100k ± 5 %"], "in_place_ohm": ["4k7"], **PARTS,
    },
    "divider": {"target_v": ["3 V", "2V9", "2.9 to 3.1 V"], "lower_ohm": ["56k"], **STRINGS, **PARTS},
    "feedback": {
        "reference_v": ["0.8 V", "0.79 to 0.81 V"], "reference_tolerance": ["2 %"],
        "target_v": ["3.3 V"], "pin_a": ["50 nA"], "upper_ohm": ["22k"], "feeds_v": ["3.6 V"],
        "within": ["4 %"], "max_current_a": ["1 mA"], "per_leg": ["2"], **PARTS,
    },
    "ladder": {
        "supply_v": ["9 V"], "tap1_v": ["5 V"], "tap1_load": ["47k"], "tap2_v": ["3 V"],
        "tap2_load": ["1 mA"], "within": ["2 %"], "max_current_a": ["5 mA"], **PARTS,
    },
    "network": {
        "network": ["6k8 + (15k || 3k3)", "R1 in OUT 10k\nR2 OUT 0 3k3"], "supply_v": ["12 V"],
        "supply_tolerance": ["5 %"], "tolerance": ["1 %"], "rating": ["0805"], "stiff": ["any"],
    },
}  # fmt: skip
NEEDED = {
    "resistance": ["target_ohm"], "divider": ["supply_v", "target_v"],
    "feedback": ["reference_v", "target_v"], "ladder": ["supply_v", "tap1_v", "tap2_v"],
    "network": ["network"],
}  # fmt: skip


def drawn(kind: LineKind, seed: int) -> dict[str, str]:
    rng = random.Random(f"{kind} {seed}")
    every = SAID[kind]
    names = set(NEEDED[kind]) | set(rng.sample(sorted(every), rng.randint(0, min(7, len(every)))))
    texts = {name: rng.choice(every[name]) for name in every if name in names}
    if " to " in texts.get("target_v", "") or "±" in texts.get("target_v", ""):
        texts.pop("within", None)  # a range says it
    if not texts.get("supply_v", "").replace(".", "").isalnum():
        texts.pop("supply_tolerance", None)
    if " to " in texts.get("reference_v", ""):
        texts.pop("reference_tolerance", None)
    if "in_place_ohm" in texts:
        texts.pop("max_parts", None)
    return texts


@pytest.mark.parametrize("kind", SAID)
@pytest.mark.parametrize("seed", seeds(40))
def test_a_written_need_reads_back_to_the_same(kind: LineKind, seed: int) -> None:
    texts = drawn(kind, seed)
    written = write_one_line(kind, texts)
    assert written.left_out == ()
    back = read_one_line(written.line)
    assert (back.kind, back.unread) == (kind, ())
    if kind != "network":
        every = KINDS[kind].tokens
        assert read_tokens(every, back.tokens)[0] == read_tokens(every, texts)[0]
    assert back.tokens.get("network") == texts.get("network")


def test_what_one_line_has_no_words_for_is_named() -> None:
    texts = {"supply_v": "12 V", "target_v": "3 V", "own": "R1 0.5 %"}
    assert write_one_line("divider", texts).left_out == ("own",)


FURTHER: list[tuple[str, BriefKind]] = [
    ("14.4 V to 3 V", "divider"), ("4k53", "resistance"), ("5 V to 3.2 V and 1.4 V", "ladder"),
    ("0.8 V reference to 3.6 V", "feedback"), ("14.4 V to 3 V into 1 MΩ", "divider"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "kind"), FURTHER)
def test_likely_words_are_understood_and_say_more(text: str, kind: BriefKind) -> None:
    ways = likely_next(text, read_one_line(text))
    assert len(ways) >= 3
    for way in ways:
        further = read_one_line(text[: way.start] + way.text)
        assert (further.kind, further.unread) == (kind, ())
        assert len(further.tokens) > len(read_one_line(text).tokens)


@pytest.mark.parametrize(
    ("text", "first"),
    [("14.4 V to 3 V, wi", "within 4 %"), ("14.4 V to 3 V into", " 1 MΩ"), ("14.4 V", " to")],
)
def test_a_word_begun_is_ended_and_one_that_waits_gets_its_figure(text: str, first: str) -> None:
    assert likely_next(text, read_one_line(text))[0].text == first


OPEN = [
    "14.4 V to 3 V 10k", "14.4 V to 3 V 1 mA", "5 V to 3.2 V and 1.4 V 47k", "4k53 22k", "12:3",
    "4,700 Ω", "regulator 0.8 V ref 3.6 V 10k",
]  # fmt: skip


@pytest.mark.parametrize("text", OPEN)
def test_each_meaning_that_is_offered_is_read_and_is_another(text: str) -> None:
    (asked,) = (u for u in read_one_line(text).unread if u.instead)
    meant = []
    for said in asked.instead:
        found = read_one_line(text[: asked.start] + said + text[asked.end :])
        assert asked.message not in [u.message for u in found.unread]
        meant.append((found.kind, found.tokens))
    assert all(meant.count(one) == 1 for one in meant)
    assert len(meant) >= 1


def test_several_lines_are_a_board_and_a_netlist_is_one_network() -> None:
    board = read_needs_said("14.4 V to 3 V\n\n4k53 1 %\n5 V to 1 V 10k")
    assert (board.kind, board.need) == ("board", None)
    assert board.tokens == {"needs": "14.4 V to 3 V\n4k53 1 %\n5 V to 1 V 10k"}
    assert [(u.text, u.start) for u in board.unread] == [("10k", 35)]
    netlist = read_needs_said("V1 vin gnd DC 12\nR1 vin OUT 10k\nR2 OUT gnd 3k3\n")
    assert netlist.kind == "network"
    assert netlist.tokens == {"network": "R1 in OUT 10k\nR2 OUT 0 3k3", "supply_v": "12 V"}
    assert read_needs_said("14.4 V\nto 3 V").kind == "divider"


def test_what_was_read_of_a_board_is_said_with_it() -> None:
    found = read_one_line(
        "R1=2k2 + @A + R2=4k7 on 12 V, A reads 11.9, I(R1) reads 3 mA, R2 reads OL"
    )
    assert (found.kind, found.unread) == ("network", ())
    assert found.tokens == {"network": "R1=2k2 + @A + R2=4k7", "supply_v": "12 V"}
    assert [(dict(r.point), r.text) for r in found.readings] == [
        ({"kind": "voltage", "at": "A"}, "11.9"),
        ({"kind": "current", "through": "R1"}, "3 mA"),
        ({"kind": "resistance", "part": "R2"}, "OL"),
    ]
    (unread,) = read_one_line("R1=2k2 + @A + R2=4k7 on 12 V, B reads 3 V").unread
    assert "the network has no “B”" in unread.message
