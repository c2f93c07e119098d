"""Folding, unknowns and any two of V, I, R, P over HTTP."""

import math
import random

import pytest
from fastapi.testclient import TestClient

LADDER = "R1=6k8 + @A + (R4=12k || (R2=1k + @B + R3=2k2))"
BRIDGE = "R1 in a 100\nR2 in b 220\nR3 a 0 330\nR4 b 0 150\nR5 a b 47"


def test_solve_tells_the_folds(client: TestClient) -> None:
    ask = {"network": LADDER, "supply_v": 15, "loads": [{"at": "B", "ohm": "10M"}]}
    answer = client.post("/api/network/solve", json=ask).json()
    folds = answer["folds"]
    assert [(f["kind"], f["members"]) for f in folds] == [
        ("parallel", ["R3", "L1"]),
        ("series", ["R2", "F1"]),
        ("parallel", ["R4", "F2"]),
        ("series", ["R1", "F3"]),
    ]
    assert folds[-1]["remains"].startswith("F4=")
    assert folds[-1]["result_ohm"] == pytest.approx(answer["total_ohm"], rel=1e-12)
    # By hand: 2.2 kΩ beside 10 MΩ is 2199.516106 Ω
    assert folds[0]["remains"].startswith("R1=6k8 + @A + (R4=12k || (R2=1k + @B + F1=2k199516106")
    assert all(c["holds"] for c in answer["checks"])


def test_a_bridge_folds_by_a_star_with_three_results(client: TestClient) -> None:
    answer = client.post("/api/network/solve", json={"network": BRIDGE, "supply_v": 1}).json()
    star = answer["folds"][0]
    assert star["kind"] == "star-delta"
    assert len(star["result"]) == len(star["result_ohm"]) == 3
    assert "\n" in star["remains"] or "||" in star["remains"]
    assert answer["folds"][-1]["result_ohm"] == pytest.approx(answer["total_ohm"], rel=1e-12)


UNKNOWN = [  # request, ohms, source
    ({"network": "R1=10k + @OUT + R2=?", "supply_v": 12, "node": {"at": "OUT", "v": 4}}, 5e3, "by hand: 4/(12 − 4)·10 kΩ"),
    ({"network": "4 + ?", "supply_v": 9, "source_ohm": 1, "supply_a": 1}, 4.0, "by hand: R = V/I − the rest"),
    ({"network": "R1=220 || R2=?", "total_ohm": 132}, 330.0, "common practice: 220 Ω and 330 Ω in parallel 132 Ω"),
    ({"network": "R1 in a 100\nR2 in b 200\nR3 a 0 300\nR4 b 0 ?\nR5 a b 47", "supply_v": 10, "node": {"at": "b", "v": 7.5}}, 600.0, "a balanced bridge: 100 : 300 = 200 : 600"),
]  # fmt: skip


@pytest.mark.parametrize(("ask", "ohms"), [pytest.param(a, o, id=s) for a, o, s in UNKNOWN])
def test_an_unknown_part_from_one_figure(client: TestClient, ask: dict[str, object], ohms: float) -> None:  # fmt: skip
    answer = client.post("/api/network/unknown", json=ask).json()
    assert answer["ohm"] == pytest.approx(ohms, rel=1e-9)
    assert 2 <= len(answer["nearest"]) <= 4
    for near in answer["nearest"]:
        known = ask.get("total_ohm") or ask.get("supply_a") or ask["node"]["v"]  # type: ignore[index]
        assert near["error"] == pytest.approx(near["gives"] / known - 1)


def test_a_random_unknown_is_found_again(client: TestClient) -> None:
    rng = random.Random(3)
    for _ in range(12):
        value = 10 ** rng.uniform(0, 6)
        text = f"R1={rng.randint(1, 999)} + @A + (R2={{}} || (R3={rng.randint(1, 9)}k + R4=470))"
        solved = client.post("/api/network/solve", json={"network": text.format(repr(value)), "supply_v": 9}).json()  # fmt: skip
        for figure in ({"total_ohm": solved["total_ohm"]}, {"supply_a": solved["supply_a"]}, {"node": {"at": "A", "v": solved["nodes"]["A"]}}):  # fmt: skip
            ask = {"network": text.format("?"), "supply_v": 9, **figure}
            found = client.post("/api/network/unknown", json=ask).json()["ohm"]
            # Far beside much smaller parts the figure hardly depends on it: fewer digits are left
            assert found == pytest.approx(value, rel=1e-6)


REFUSED = [
    ({"network": "1k + 2k", "total_ohm": 5}, "there is no “?” in the network: write one for the value to be found"),
    ({"network": "? + ?", "total_ohm": 5}, "there are 2 “?” in the network: write one for the value to be found"),
    ({"network": "1k + ?", "total_ohm": 500}, "whatever R2 is, total_ohm lies between 1000 and 1e+12; 500 does not"),
    ({"network": "1k + @A + ?", "total_ohm": 5, "supply_a": 1}, "give exactly one known figure: total_ohm, supply_a or node"),
    ({"network": "(1k || ?) + @A + 1k", "node": {"at": "A", "v": 1}}, "node is 0 whatever R2 is: another figure is needed"),
]  # fmt: skip


@pytest.mark.parametrize(("ask", "message"), REFUSED)
def test_an_unknown_that_cannot_be_found_says_why(
    client: TestClient, ask: dict[str, object], message: str
) -> None:
    answer = client.post("/api/network/unknown", json=ask)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["message"] == message
    assert "5e-07" not in answer.text


@pytest.mark.parametrize("given", [("v", "a"), ("v", "ohm"), ("v", "w"), ("a", "ohm"), ("a", "w"), ("ohm", "w")])  # fmt: skip
def test_any_two_give_the_others(client: TestClient, given: tuple[str, str]) -> None:
    # Common practice, worked by hand in the trade: 220 Ω at 40 mA drops 8.8 V and takes 0.352 W
    every = {"v": 8.8, "a": 0.04, "ohm": 220.0, "w": 0.352}
    answer = client.post("/api/reference/ohm", json={k: every[k] for k in given}).json()
    assert {k: answer[k] for k in every} == pytest.approx(every)
    assert len(answer["rules"]) == 2
    three = client.post("/api/reference/ohm", json={"v": 1, "a": 1, "w": 1})
    assert three.json()["detail"] == "two of V, I, R and P give the others; 3 are given"


def test_a_network_sheet_folds_what_is_typed(client: TestClient) -> None:
    brief = {"network": LADDER, "supply_v": "15 V", "loads": "B 10M"}
    answer = client.post("/api/network/sheet", json={"brief": brief}).json()
    folded = answer["folded"]
    assert [s["kind"] for s in folded["steps"]] == ["parallel", "series", "parallel", "series"]
    assert folded["steps"][2]["worked"].startswith(
        "12 kΩ ∥ 3.2 kΩ = 1 ÷ (1/12 kΩ + 1/3.2 kΩ) = 2.5"
    )
    assert all(w["agree"] for w in folded["ways"])
    assert {w["at"]: w["divider"] is not None for w in folded["ways"]} == {"A": True, "B": False}
    assert all(c["holds"] for c in folded["checks"])
    product = client.post("/api/network/sheet", json={"brief": brief, "school": "product"}).json()
    assert "÷ (12 kΩ + 3.2 kΩ)" in product["folded"]["steps"][2]["worked"]
    bad = client.post("/api/network/sheet", json={"brief": {**brief, "network": "1k + (2k"}}).json()
    assert bad["folded"] is None
    assert bad["tokens"]["network"]["position"] == 8
    stray = client.post("/api/network/sheet", json={"brief": {**brief, "loads": "C 1k"}}).json()
    assert stray["tokens"]["loads"]["message"].startswith("the network has no junction called “C”")


def test_every_drawing_holds_every_part_apart_from_the_others(client: TestClient) -> None:
    ladder = " + ".join(f"@T{k} + (R{2 * k}=1k || R{2 * k + 1}=2k)" for k in range(1, 11))
    for text in (f"R1=10 + {ladder}", BRIDGE):
        folded = client.post("/api/network/fold", json={"network": text, "supply_v": 5}).json()
        for drawing in (folded["drawing"], *(s["drawing"] for s in folded["steps"])):
            places = [(p["x"], p["y"]) for p in drawing["parts"]]
            assert len(set(places)) == len(places)
            assert all(math.isfinite(x) and 0 <= x <= drawing["width"] for x, _ in places)


def test_a_network_is_kept_as_a_design(client: TestClient) -> None:
    brief = {"network": BRIDGE, "supply_v": "9 V"}
    made = client.post("/api/designs", json={"name": "bridge", "kind": "network", "brief": brief})
    design = made.json()
    assert design["standing"]["figure"].endswith("Ω")
    assert design["standing"]["words"].startswith("draws ")
    broken = {**design, "brief": {"network": "1k +"}}
    body = {k: broken[k] for k in ("name", "kind", "brief", "prefer", "why", "choice", "revision")}
    kept = client.put(f"/api/designs/{design['id']}", json=body).json()
    assert kept["standing"]["words"] == "not understood: network"
    why = client.post(
        "/api/network/relation", json={"brief": brief, "one": "R1", "two": "R5"}
    ).json()
    assert why["kind"] == "neither"


def test_two_parts_of_a_folded_step_are_told_of(client: TestClient) -> None:
    # By hand: R3 + R4 is F1, R2 ∥ F1 is F2; then R1 and F2 are all there is, in series
    ask = {"brief": {"network": "R1=4k7 + @A + (R2=15k || (R3=2k7 + R4=3k9))"}, "one": "R1"}
    for step, two, kind in ((0, "R2", "neither"), (1, "F1", "neither"), (2, "F2", "series")):
        found = client.post("/api/network/relation", json=ask | {"two": two, "step": step})
        assert found.json()["kind"] == kind
    parallel = client.post(
        "/api/network/relation", json=ask | {"one": "R2", "two": "F1", "step": 1}
    )
    assert parallel.json()["kind"] == "parallel"
    beyond = client.post("/api/network/relation", json=ask | {"two": "R2", "step": 9})
    assert beyond.json()["errors"][0]["message"] == "step 9 is asked for, and the folding has 3"
