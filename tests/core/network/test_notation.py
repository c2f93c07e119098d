"""The network notation of the wire contract, read and written."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.errors import LowfoldError, NotationError
from lowfold.core.network.notation import Netlist, read_netlist, read_network, read_text
from lowfold.core.network.tree import Element, exact_resistance, resistance, write_network
from tests.core.strategies import trees

LADDER = "R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))"

CANONICAL = [
    (LADDER, LADDER),
    ("20+50||50", "R1=20 + (R2=50 || R3=50)"),
    ("(50∥50)+20", "R1=50 || R2=50 + R3=20".replace("R1=50 || R2=50", "(R1=50 || R2=50)")),
    ("4.7 kΩ // 10 k", "R1=4k7 || R2=10k"),
    ("((1k + 2k)) + 3k", "R1=1k + R2=2k + R3=3k"),
    ("R2=1k + 2k + 3k", "R2=1k + R1=2k + R3=3k"),
    ("S1 + 1e3", "S1 + R1=1k"),
    ("1k + @ out", "R1=1k + @out"),
    ("R47 + 1e-3", "R1=0R47 + R2=1L"),
]


@pytest.mark.parametrize(("text", "canonical"), CANONICAL)
def test_networks_are_written_canonically(text: str, canonical: str) -> None:
    assert write_network(read_network(text)) == canonical


def test_45_ohms_from_20_and_50_ohm_parts() -> None:
    # Common practice, worked by hand in the trade: (50 ‖ 50) + 20
    assert resistance(read_network("(50 || 50) + 20")) == 45.0


VALUE_OR_TAP = "a named part such as R1=4k7 or a switch such as S1 or a value such as 4k7 or a tap such as @OUT or ("
REFUSED = [
    ("(1k", 3, "the text ends at character 4; right would be )"),
    ("1k +", 4, f"the text ends at character 5; right would be {VALUE_OR_TAP}"),
    ("1k 2k", 3, "“2k” does not fit at character 4; right would be || or +"),
    ("R1 + 1k", 0, "“R1” alone could be a name or 0.1 Ω: write R1=4k7, or 0R1"),
    ("1k + 4z7", 5, "“4z7”: “z” is no unit or prefix of a resistance; write it like 4k7"),
    ("@A", 0, "a chain needs at least one part beside its taps"),
    ("R1=1k + r1=2k", 8, "r1 stands twice: give each part and each tap a name of its own"),
    (
        "0 + 1",
        0,
        "a part has 0 Ω; a part lies between 1 µΩ and 1000 GΩ (leave a 0 Ω part out, or draw a closed switch)",
    ),
    ("(" * 61 + "1k" + ")" * 61, 60, "brackets are nested deeper than 60"),
    ("  ", 0, "nothing is written: a network is wanted, for instance R1=200k + @OUT + R2=56k"),
]


@pytest.mark.parametrize(("text", "position", "message"), REFUSED)
def test_refusals_name_the_character(text: str, position: int, message: str) -> None:
    with pytest.raises(NotationError) as refused:
        read_network(text)
    assert (refused.value.position, refused.value.message) == (position, message)


def test_netlists_are_read_with_switches_and_comments_on_errors() -> None:
    found = read_text("R1 in a 6k8\nR2 a 0 4.7 kΩ\nS1 a 0\n")
    assert isinstance(found, Netlist)
    assert [(x.ref, x.a, x.b, x.ohms) for x in found.lines] == [
        ("R1", "in", "a", 6800.0), ("R2", "a", "0", 4700.0), ("S1", "a", "0", None),
    ]  # fmt: skip
    with pytest.raises(NotationError) as refused:
        read_netlist("R1 in a 1k\nR2 a 0")
    assert (
        refused.value.message == "R2 has no value: write “R2 a 0 4k7” (only S1, S2 … are switches)"
    )
    assert refused.value.position == len("R1 in a 1k\n")


@given(trees())
def test_writing_and_reading_keeps_the_network(network: Element) -> None:
    assert read_network(write_network(network)) == network


@given(trees())
def test_float_and_exact_resistance_agree(network: Element) -> None:
    assert resistance(network) == pytest.approx(float(exact_resistance(network)), rel=1e-13)


@given(st.one_of(st.text(max_size=60), st.text(alphabet="R123S4k7+|@()=A \n.Ω", max_size=60)))
def test_no_text_crashes_the_reader(text: str) -> None:
    try:
        read_text(text)
    except LowfoldError as refused:
        assert refused.message
