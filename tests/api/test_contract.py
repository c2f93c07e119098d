"""The names, units and meanings of the wire contract, endpoint by endpoint."""

import itertools
import math
import random
from typing import Any

import networkx as nx
import pytest
from fastapi.testclient import TestClient

from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import parts_of


def post(client: TestClient, path: str, **body: object) -> dict[str, Any]:
    answer = client.post(path, json=body)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


SEARCHES: list[tuple[str, dict[str, object], set[str]]] = [
    (
        "/api/resistance/search",
        {"target_ohm": "4k7"},
        {"expression", "parts", "resistance_ohm", "error", "lowest_ohm", "highest_ohm"},
    ),
    (
        "/api/divider/search",
        {"supply_v": "12 V", "target_v": "3V3", "load_a": "10 µA"},
        {
            "network", "upper", "lower", "output_v", "error", "unloaded_v", "current_a",
            "output_ohm", "lowest_v", "highest_v", "powers_w",
        },
    ),
    (
        "/api/divider/feedback",
        {"reference_v": "800 mV", "target_v": "3V3"},
        {
            "network", "upper", "lower", "output_v", "error", "unloaded_v", "current_a",
            "output_ohm", "lowest_v", "highest_v", "powers_w",
        },
    ),
    (
        "/api/ladder/search",
        {"supply_v": 5, "taps": [{"target_v": 3.2}, {"target_v": "1V4"}]},
        {"network", "resistors", "taps", "worst_error", "current_a"},
    ),
]  # fmt: skip


@pytest.mark.parametrize(("path", "ask", "names"), SEARCHES)
def test_searches_answer_with_the_names_of_the_contract(
    client: TestClient, path: str, ask: dict[str, object], names: set[str]
) -> None:
    answer = post(client, path, **ask)
    assert set(answer) >= {"candidates", "exact"}
    assert answer["exact"] is True
    assert len(answer["candidates"]) == 20
    for candidate in answer["candidates"]:
        assert set(candidate) == names
    texts = [c.get("network") or c["expression"] for c in answer["candidates"]]
    assert len(set(texts)) == 20
    limited = post(client, path, **ask, limit=3)
    assert limited["candidates"] == answer["candidates"][:3]


@pytest.mark.parametrize(("path", "ask", "names"), SEARCHES)
def test_searches_have_nothing_to_choose_from_an_empty_stock(
    client: TestClient, path: str, ask: dict[str, object], names: set[str]
) -> None:
    assert names
    answer = post(client, path, **ask, values={"stock": []})
    assert answer["candidates"] == []
    assert "no value to choose from" in answer["reason"]


@pytest.mark.parametrize("prefer", ["nearest", "worst_case", "least_current"])
@pytest.mark.parametrize("per_leg", [1, 2])
def test_a_divider_is_what_its_network_solves_to(
    client: TestClient, prefer: str, per_leg: int
) -> None:
    ask = {
        "supply_v": 14.4, "source_ohm": 120, "target_v": 3.1, "load_ohm": "220k", "prefer": prefer,
        "values": {"series": ["E12"]}, "max_parts_per_leg": per_leg, "within": 0.05, "limit": 5,
    }  # fmt: skip
    for found in post(client, "/api/divider/search", **ask)["candidates"]:
        loads = [{"at": "OUT", "ohm": "220k"}]
        solved = post(
            client, "/api/network/solve", network=found["network"], supply_v=14.4, source_ohm=120,
            loads=loads,
        )  # fmt: skip
        assert solved["nodes"]["OUT"] == pytest.approx(found["output_v"], rel=1e-12)
        assert solved["supply_a"] == pytest.approx(found["current_a"], rel=1e-12)
        assert {p["ref"]: p["power_w"] for p in solved["parts"]} == pytest.approx(found["powers_w"])
        unloaded = post(client, "/api/network/solve", network=found["network"], supply_v=14.4, source_ohm=120)  # fmt: skip
        assert unloaded["nodes"]["OUT"] == pytest.approx(found["unloaded_v"], rel=1e-12)
        checked = post(
            client, "/api/network/check", network=found["network"],
            supply={"v": 14.4, "source_ohm": 120}, loads=loads,
            parts={"default": {"tolerance": "1 %"}}, outputs=[{"at": "OUT"}],
        )  # fmt: skip
        output = checked["outputs"][0]
        assert output["lowest_v"] == pytest.approx(found["lowest_v"], rel=1e-12)
        assert output["highest_v"] == pytest.approx(found["highest_v"], rel=1e-12)


def test_two_supplies_pull_from_both_ends(client: TestClient) -> None:
    # trade.md section 2: Vout = (VH·RL + VL·RU)/(RU + RL)
    ask = {"supply_v": 5, "low_v": -5, "target_v": 1.25, "values": {"series": ["E24"]}, "limit": 4}
    for found in post(client, "/api/divider/search", **ask)["candidates"]:
        up, down = (read_text(found[leg]) for leg in ("upper", "lower"))
        assert not isinstance(up, Netlist)
        assert not isinstance(down, Netlist)
        ru, rl = (next(parts_of(leg)).ohms for leg in (up, down))  # type: ignore[union-attr]
        assert found["output_v"] == pytest.approx((5 * rl - 5 * ru) / (ru + rl))
        assert found["current_a"] == pytest.approx(10 / (ru + rl))


def test_power_limits_hold_at_nominal_values(client: TestClient) -> None:
    ask = {
        "target_ohm": 100, "max_parts": 4, "through_a": "100 mA", "part_rating_w": "1/2 W",
        "stress": 0.6, "values": {"series": ["E12"], "min_ohm": 1, "max_ohm": "10k"},
    }  # fmt: skip
    answer = post(client, "/api/resistance/search", **ask)
    assert answer["candidates"]
    for found in answer["candidates"]:
        volts = 0.1 * found["resistance_ohm"]
        solved = post(client, "/api/network/solve", network=found["expression"], supply_v=volts)
        assert max(p["power_w"] for p in solved["parts"]) <= 0.3 * (1 + 1e-9)
    free = post(client, "/api/resistance/search", target_ohm=100, max_parts=1)
    assert free["candidates"][0]["expression"] == "100"
    # By hand: 100 Ω alone would take 1 W of its allowed 0.3 W
    assert all(f["parts"] > 1 for f in answer["candidates"])


def random_network(rng: random.Random) -> str:
    nodes = ["in", "0", *(f"k{i}" for i in range(rng.randint(1, 4)))]
    pairs = [(nodes[i], nodes[rng.randrange(i)]) for i in range(1, len(nodes))]
    pairs += [tuple(rng.sample(nodes, 2)) for _ in range(rng.randint(1, 6))]  # type: ignore[misc]
    lines = [f"R{i} {a} {b} {rng.choice([10, 47, 100, 330])}" for i, (a, b) in enumerate(pairs, 1)]
    return "\n".join(lines)


@pytest.mark.parametrize("seed", range(15))
def test_every_fold_leaves_the_resistance_as_it_was(client: TestClient, seed: int) -> None:
    text = random_network(random.Random(seed))
    answer = post(client, "/api/network/solve", network=text, supply_v=9)
    graph = nx.MultiGraph()
    for line in text.splitlines():
        _, a, b, ohms = line.split()
        graph.add_edge(a, b, weight=float(ohms))
    expected = nx.resistance_distance(graph, "in", "0", weight="weight")
    assert answer["total_ohm"] == pytest.approx(expected)
    for step in answer["folds"]:
        assert set(step) == {"kind", "members", "result", "result_ohm", "remains"}
        again = post(client, "/api/network/solve", network=step["remains"], supply_v=9)
        assert again["total_ohm"] == pytest.approx(expected)
        assert again["supply_a"] == pytest.approx(answer["supply_a"])
    if answer["folds"]:
        last = answer["folds"][-1]
        assert last["result_ohm"] == pytest.approx(expected)
        assert last["remains"].startswith(f"{last['result']}=")
    for earlier, later in itertools.pairwise(answer["folds"]):
        assert set(later["members"]) <= set(read_refs(earlier["remains"]))


def read_refs(text: str) -> list[str]:
    found = read_text(text)
    if isinstance(found, Netlist):
        return [line.ref for line in found.lines]
    return [p.ref for p in parts_of(found) if hasattr(p, "ref")]


def test_values_in_answers_keep_nine_significant_digits(client: TestClient) -> None:
    stock = {"stock": [{"ohm": 1234.56789}, {"ohm": 0.0987654321}]}
    answer = post(client, "/api/resistance/search", target_ohm=1234.6, values=stock, max_parts=2)
    assert "1k23456789" in answer["candidates"][0]["expression"]
    assert any("98L7654321" in c["expression"] for c in answer["candidates"])
    network = answer["candidates"][0]["expression"]
    solved = post(client, "/api/network/solve", network=network, supply_v=1)
    assert solved["total_ohm"] == answer["candidates"][0]["resistance_ohm"]


def test_unknown_fields_are_refused_and_numbers_stay_finite(client: TestClient) -> None:
    for path, ask, _ in SEARCHES:
        answer = client.post(path, json={**ask, "colour": "red"})
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["field"] == "colour"
        assert all(math.isfinite(x) for x in numbers(client.post(path, json=ask).json()))


def numbers(value: object) -> list[float]:
    if isinstance(value, dict):
        return [x for v in value.values() for x in numbers(v)]
    if isinstance(value, list):
        return [x for v in value for x in numbers(v)]
    return [float(value)] if isinstance(value, int | float) else []
