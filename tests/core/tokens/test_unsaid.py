"""What is taken where a brief does not say."""

import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.kinds import KINDS, BriefKind, choices_for, read_brief
from lowfold.core.needs.network import NETWORK_TOKENS, read_stated
from lowfold.core.needs.sensor import SENSOR_TOKENS
from lowfold.core.tokens.names import TOKEN_NAMES, not_known, unknown_tokens


@pytest.mark.parametrize(
    ("texts", "shown"),
    [
        ({}, "3 %"),
        ({"tolerance": "0.1 %"}, "3 %"),
        ({"tolerance": "5 %"}, "10 %"),
        ({"tolerance": "10 %"}, "20 %"),
        ({"tolerance": "5 %", "within": "1 %"}, "1 %"),
    ],
)
def test_the_window_leaves_as_much_again_as_the_parts_take(
    texts: dict[str, str], shown: str
) -> None:
    assert read_brief("resistance", texts).tokens["within"].shown == shown


def test_a_reference_that_wanders_is_left_room_for() -> None:
    assert read_brief("feedback", {}).tokens["within"].shown == "4 %"
    assert read_brief("feedback", {"reference_tolerance": "2 %"}).tokens["within"].shown == "5 %"


#: A value that is wanted as it is sold, and its tolerance.
SOLD = [
    ("10k", "5 %"), ("4k7", "10 %"), ("0.1 Ω", "1 %"), ("0R47", "1 %"), ("22 MΩ", "1 %"),
    ("1L0", "1 %"), ("910 MΩ", "5 %"),
]  # fmt: skip


@pytest.mark.parametrize(("target", "tolerance"), SOLD)
def test_a_value_that_is_sold_is_found_and_passes(target: str, tolerance: str) -> None:
    need = read_brief("resistance", {"target_ohm": target, "tolerance": tolerance}).need
    assert need is not None
    found = choices_for(need, "nearest")
    assert found.rows[0].values == (need.conditions.wanted[0].target,)
    assert found.rows[0].judged.verdict is Verdict.PASS
    assert found.careful is not None
    assert found.careful.choice is found.rows[0]


def test_the_range_opens_and_stays_where_it_is_said() -> None:
    tokens = read_brief("resistance", {"target_ohm": "0.1"}).tokens
    assert (tokens["min_ohm"].shown, tokens["max_ohm"].shown) == ("10 mΩ", "10 MΩ")
    assert tokens["min_ohm"].absent
    said = read_brief("resistance", {"target_ohm": "0.1", "min_ohm": "1"}).tokens
    assert said["min_ohm"].shown == "1 Ω"
    # By hand: 12 V at 50 nA is 240 MΩ
    light = read_brief("divider", {"supply_v": "12 V", "max_current_a": "50 nA"}).tokens
    assert light["max_ohm"].shown == "240 MΩ"


def test_what_is_taken_for_granted_is_said_once() -> None:
    loaded = {"supply_v": "5 V", "target_v": "2 V", "load": "10k"}
    told = read_brief("divider", loaded).granted
    assert told == "Taken for granted: supply exact, load ± 10 %, 25 °C as reference."
    stated = {**loaded, "supply_tolerance": "2 %", "load": "10k ± 5 %"}
    assert read_brief("divider", stated).granted == "Taken for granted: 25 °C as reference."


def test_an_old_boards_parts_have_five_per_cent() -> None:
    readings, stated = read_stated({"network": "1k + @A + 1k"})
    assert (readings["tolerance"].shown, readings["tolerance"].absent) == ("5 %", False)
    assert stated is not None
    assert stated.parts.tolerance == 0.05
    exact = read_stated({"network": "1k + @A + 1k", "tolerance": "0 %"})[1]
    assert exact is not None
    assert exact.parts.tolerance == 0.0


def test_the_names_of_tokens_are_those_of_the_briefs() -> None:
    every: dict[str, set[str]] = {kind: set(spec.tokens) for kind, spec in KINDS.items()}
    every |= {"network": set(NETWORK_TOKENS), "sensor": set(SENSOR_TOKENS)}
    every |= {"board": {"needs"}}  # lines, each a need of its own
    assert every == {kind: set(names) for kind, names in TOKEN_NAMES.items()}
    kind: BriefKind = "divider"
    assert unknown_tokens(kind, ["load", "lod", "series"]) == ["lod", "series"]
    assert not_known(kind, "lod") == "“lod” is no token of a divider brief: did you mean load"
