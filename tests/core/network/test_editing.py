"""Editing a network part by part, in both forms."""

import pytest

from lowfold.core.errors import TopologyError
from lowfold.core.network.editing import edit, with_source
from lowfold.core.network.notation import read_text
from lowfold.core.network.tree import Chain, Element, write_network

LADDER = "R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))"
BRIDGE = "R1 in a 100\nR2 in b 220\nR5 a b 47\nS1 a 0"

EDITS = [  # network, part, action, value, result; by hand
    (LADDER, "R2", "change", 1500.0, "R1=6k8 + @A + (R4=12k || (R2=1k5 + @B + R3=2k2))"),
    (LADDER, "r3", "series", 10.0, "R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2 + R5=10))"),
    (LADDER, "R1", "parallel", 1e3, "(R1=6k8 || R5=1k) + @A + (R4=12k || (R2=1k + @B + R3=2k2))"),
    (LADDER, "R4", "remove", None, "R1=6k8 + @A + R2=1k + @B + R3=2k2"),
    (LADDER, "R2", "remove", None, "R1=6k8 + @A + (R4=12k || (@B + R3=2k2))"),
    ("1k || 2k", "R2", "remove", None, "R1=1k"),
    (BRIDGE, "R5", "change", 10.0, "R1 in a 100\nR2 in b 220\nR5 a b 10\nS1 a 0"),
    (BRIDGE, "R1", "parallel", 10.0, "R1 in a 100\nR3 in a 10\nR2 in b 220\nR5 a b 47\nS1 a 0"),
    (BRIDGE, "R1", "series", 10.0, "R1 in n1 100\nR3 n1 a 10\nR2 in b 220\nR5 a b 47\nS1 a 0"),
    (BRIDGE, "R2", "remove", None, "R1 in a 100\nR5 a b 47\nS1 a 0"),
]


@pytest.mark.parametrize(("text", "ref", "action", "ohms", "expected"), EDITS)
def test_an_edit_changes_one_part(
    text: str, ref: str, action: str, ohms: float | None, expected: str
) -> None:
    found = edit(read_text(text), ref, action, ohms)  # type: ignore[arg-type]
    assert found == expected
    read_text(found)


@pytest.mark.parametrize(
    ("text", "ref", "action", "message"),
    [
        ("R1=1k", "R1", "remove", "R1 is all there is: change it instead"),
        ("R1 in 0 5", "R1", "remove", "R1 is all there is: change it instead"),
        (LADDER, "R9", "change", "there is no part called “R9” to edit; there are: R1, R4, R2, R3"),
        (BRIDGE, "S1", "series", "there is no part called “S1” to edit; there are: R1, R2, R5"),
    ],
)
def test_edits_that_cannot_be_made(text: str, ref: str, action: str, message: str) -> None:
    with pytest.raises(TopologyError) as refused:
        edit(read_text(text), ref, action, 1.0)  # type: ignore[arg-type]
    assert refused.value.message == message
    with pytest.raises(TopologyError, match="a value is needed"):
        edit(read_text(text), "R1", "change")


@pytest.mark.parametrize(
    ("text", "expected", "ref", "terminal"),
    [
        ("R1=1k + @OUT + R2=2k", "R0=50 + @TERM + R1=1k + @OUT + R2=2k", "R0", "TERM"),
        ("R0=1k || R2=2k", "RI1=50 + @TERM + (R0=1k || R2=2k)", "RI1", "TERM"),
        ("R1=1k + @term + R2=2k", "R0=50 + @TERM1 + R1=1k + @term + R2=2k", "R0", "TERM1"),
        (BRIDGE, ["R0 in TERM", "R1 TERM a", "R2 TERM b", "R5 a b", "S1 a 0"], "R0", "TERM"),
    ],
)
def test_the_resistance_inside_the_supply_becomes_the_first_part(
    text: str, expected: str | list[str], ref: str, terminal: str
) -> None:
    network, *named = with_source(read_text(text), 50.0)
    assert named == [ref, terminal]
    if isinstance(network, Chain | Element):
        assert write_network(network) == expected
    else:
        assert [f"{line.ref} {line.a} {line.b}" for line in network.lines] == expected
