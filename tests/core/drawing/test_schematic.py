"""The drawing of series–parallel networks: nothing touches, and what hangs together is joined."""

import random

import pytest

from lowfold.core.drawing.schematic import Drawing, Metrics, draw
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element

METRICS = Metrics(part_width=100, part_height=60, symbol=30, lead=10, terminal=80)


def drawn(text: str, loads: tuple[tuple[str, str], ...] = ()) -> Drawing:
    network = read_text(text)
    assert not isinstance(network, Netlist)
    return draw(network, METRICS, loads)


def random_text(rng: random.Random, parts: int) -> str:
    if parts == 1:
        return f"{rng.randint(1, 99)}k"
    split = rng.randint(1, parts - 1)
    kind = rng.choice([" + ", " || "])
    return f"({random_text(rng, split)}{kind}{random_text(rng, parts - split)})"


def joined(drawing: Drawing) -> int:
    """How many separate pieces of wire there are, parts counted as joining theirs."""
    pieces: list[set[tuple[float, float]]] = []
    segments = [((w.x1, w.y1), (w.x2, w.y2)) for w in drawing.wires]
    segments += [((p.x, p.y - 15), (p.x, p.y + 15)) for p in (*drawing.parts, *drawing.loads)]

    def on(
        point: tuple[float, float], ends: tuple[tuple[float, float], tuple[float, float]]
    ) -> bool:
        (x1, y1), (x2, y2) = ends
        x, y = point
        return min(x1, x2) <= x <= max(x1, x2) and min(y1, y2) <= y <= max(y1, y2)

    for segment in segments:
        touching = [
            piece
            for piece in pieces
            if any(on(p, segment) for p in piece)
            or any(
                on(end, other)
                for end in segment
                for other in segments
                if other[0] in piece and other[1] in piece
            )
        ]
        merged = set(segment).union(*touching) if touching else set(segment)
        pieces = [p for p in pieces if p not in touching] + [merged]
    return len(pieces)


@pytest.mark.parametrize("seed", range(20))
def test_parts_never_overlap_and_everything_is_joined(seed: int) -> None:
    rng = random.Random(seed)
    text = random_text(rng, rng.randint(1, 14))
    found = drawn(text)
    places = [(p.x, p.y) for p in found.parts]
    for one in places:
        for two in places:
            if one is not two and one != two:
                apart = abs(one[0] - two[0]) >= METRICS.part_width or (
                    abs(one[1] - two[1]) >= METRICS.symbol
                )
                assert apart, (text, one, two)
    assert len(set(places)) == len(places)
    assert joined(found) == 1
    assert all(0 <= w.x1 <= found.width and 0 <= w.y1 <= found.height for w in found.wires)


def test_the_load_of_the_lowest_tap_stands_nearest() -> None:
    found = drawn("1k + @T1 + 2k + @T2 + 3k", (("L1", "T1"), ("L2", "T2")))
    places = {p.name: p.x for p in found.loads}
    assert places["L2"] < places["L1"]
    across = [w for w in found.wires if w.y1 == w.y2 and w.x1 != w.x2]
    upright = [w for w in found.wires if w.x1 == w.x2 and w.x1 in places.values()]
    for wire in across:
        for load in upright:
            low, high = sorted((load.y1, load.y2))
            inside = min(wire.x1, wire.x2) < load.x1 < max(wire.x1, wire.x2)
            assert not (inside and low < wire.y1 < high)


def test_series_run_down_and_parallel_across() -> None:
    found = drawn("R1=1k + (R2=2k || R3=3k) + R4=4k")
    at = {p.name: (p.x, p.y) for p in found.parts}
    assert at["R1"][0] == at["R2"][0] == at["R4"][0]
    assert at["R1"][1] < at["R2"][1] < at["R4"][1]
    assert at["R2"][1] == at["R3"][1]
    assert at["R3"][0] == at["R2"][0] + METRICS.part_width


def test_taps_are_named_where_they_stand() -> None:
    found = drawn("R1=1k + @A + R2=2k + @B + R3=3k")
    named = {d.name: d.y for d in found.dots if d.name}
    assert named["A"] == pytest.approx(60.0)
    assert named["B"] == pytest.approx(120.0)
    assert (found.lines, found.symbol) == (METRICS.lines, METRICS.symbol)


def test_one_part_is_drawn_between_its_ends() -> None:
    network: Element = read_text("R1=1k")  # type: ignore[assignment]
    open_ends = draw(network, METRICS, driven=False)
    assert open_ends.supply is None
    assert [e.name for e in open_ends.ends] == ["in", "0"]
    assert joined(open_ends) == 1


def network(text: str) -> Element:
    found = read_text(text)
    assert not isinstance(found, Netlist)
    return found


LOWER = Metrics(part_width=100, part_height=50, symbol=20, lead=10, terminal=60)


def test_a_divider_is_drawn_downwards_with_its_load_at_the_right() -> None:
    drawn = draw(network("R1=1k + @OUT + R2=2k"), LOWER, [("L1", "OUT")])
    assert [(p.name, p.x, p.y) for p in drawn.parts] == [("R1", 60, 25), ("R2", 60, 75)]
    assert [(p.name, p.x, p.y) for p in drawn.loads] == [("L1", 160, 75)]
    assert (drawn.width, drawn.height) == (260, 100)
    assert drawn.supply is not None


def test_parallel_branches_stand_side_by_side_without_touching() -> None:
    drawn = draw(network("(1k || (2k + 3k)) + (4k || 5k || 6k)"), LOWER, driven=False)
    places = {(p.x, p.y) for p in drawn.parts}
    assert len(places) == 6
    for one in places:
        for two in places - {one}:
            assert abs(one[0] - two[0]) >= LOWER.part_width or abs(one[1] - two[1]) >= LOWER.symbol
    assert [e.name for e in drawn.ends] == ["in", "0"]
