"""The check, yield and load requests beyond the contract: families, tracking, load lines, limits."""

import pytest
from fastapi.testclient import TestClient

DIVIDER = {
    "network": "R1=200k + @OUT + R2=56k",
    "supply": {"v": 14.4},
    "loads": [{"at": "OUT", "ohm": "1M", "min_ohm": "900k", "max_ohm": "1.1M"}],
    "parts": {"default": {"tolerance": "1 %"}},
    "outputs": [{"at": "OUT", "target_v": 3.0, "allowed": "3 %", "stands_v": "3.6 V"}],
}


def test_families_stand_in_for_figures_not_given(client: TestClient) -> None:
    parts = {"default": {"family": "0603", "tolerance": 0.02}, "R2": {"family": "1/4 W film"}}
    found = client.post("/api/network/check", json=DIVIDER | {"parts": parts}).json()
    assert [p["rated_w"] for p in found["parts"]] == [0.1, 0.25]
    assert [p["allowed_v"] for p in found["parts"]] == [75.0, 250.0]
    bad = DIVIDER | {"parts": {"R2": {"family": "0604"}}}
    answer = client.post("/api/network/check", json=bad)
    assert answer.status_code == 422
    assert "there is no family “0604”; there are: 0402, 0603" in answer.json()["detail"]


def test_tracking_narrows_a_divider_and_its_samples(client: TestClient) -> None:
    bare = {k: v for k, v in DIVIDER.items() if k != "loads"}
    free = client.post("/api/network/check", json=bare).json()["outputs"][0]
    held = bare | {"tracking": {"ratio": "0.1 %"}}
    tracked = client.post("/api/network/check", json=held).json()["outputs"][0]
    # By hand: 14.4 V over 200k·(1 ∓ d) and 56k·(1 ± d), d half of 0.1 %
    d = (1 + 0.01) / ((1 + 0.01) / (1 + 0.0005)) - 1
    assert tracked["highest_v"] == pytest.approx(
        14.4 * 56 * (1 + d) / (56 * (1 + d) + 200 * (1 - d))
    )
    assert tracked["highest_v"] - tracked["lowest_v"] < 0.1 * (free["highest_v"] - free["lowest_v"])
    assert tracked["exact"] is True
    sample = client.post("/api/network/yield", json=held | {"samples": 5000}).json()["outputs"][0]
    assert tracked["lowest_v"] <= sample["histogram"]["edges"][0]
    assert sample["histogram"]["edges"][-1] <= tracked["highest_v"]
    wrong = client.post(
        "/api/network/check", json=bare | {"tracking": {"ratio": 0.1, "refs": ["R9"]}}
    )
    assert (wrong.status_code, wrong.json()["errors"][0]["field"]) == (422, "tracking.refs")


def test_faults_tell_what_exceeds_what_is_connected(client: TestClient) -> None:
    found = client.post("/api/network/check", json=DIVIDER).json()
    above = {(f["ref"], f["mode"]): f["above"] for f in found["faults"]}
    assert above == {
        ("R1", "open"): [],
        ("R1", "short"): ["OUT"],
        ("R2", "open"): ["OUT"],
        ("R2", "short"): [],
    }
    assert [(f["ref"], f["outputs"]["OUT"]) for f in found["outputs_shorted"]] == [("OUT", 0.0)]
    assert [c["code"] for c in found["cautions"]] == ["leg-fails"]


def test_a_load_line_says_which_loads_pass(client: TestClient) -> None:
    found = client.post("/api/network/load", json=DIVIDER | {"points": 3}).json()["outputs"][0]
    # By hand: 14.4 V · 56/256 = 3.15 V behind 43.75 kΩ
    assert found["open_v"] == pytest.approx(3.15)
    assert found["source_ohm"] == pytest.approx(43750)
    assert found["line"]["nominal_v"] == pytest.approx([3.15, 1.575, 0.0], abs=1e-12)
    # 3.15 V is above 3.09 V: the load has to draw at least 60 mV over 43.75 kΩ
    assert found["passes"]["least_a"] == pytest.approx(0.06 / 43750)
    assert found["passes"]["most_a"] == pytest.approx(0.24 / 43750)
    assert found["passes_at_worst"]["most_a"] < found["passes"]["most_a"]
    loaded = 14.4 / 200e3 / (1 / 200e3 + 1 / 56e3 + 1 / 1e6)
    behind = 1 / (1 / 200e3 + 1 / 56e3 + 1 / 1e6)
    assert [m["reads_v"] for m in found["meters"]] == pytest.approx(
        [loaded * r / (r + behind) for r in (10e6, 1e6, 200e3)]
    )


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"outputs": []}, "outputs"),
        ({"points": 1}, "points"),
        ({"points": 5000}, "points"),
        ({"most_a": 0}, "most_a"),
        ({"outputs": [{"at": "X"}]}, "outputs"),
    ],
)
def test_load_lines_refuse_in_words(
    client: TestClient, change: dict[str, object], field: str
) -> None:
    answer = client.post("/api/network/load", json=DIVIDER | change)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field


def test_load_lines_at_their_ends_are_plain_json(client: TestClient) -> None:
    ask = {"network": "R1=1k + @OUT + R2=1k", "supply": {"v": 8}}
    at_end = client.post(
        "/api/network/load",
        json=ask
        | {
            "outputs": [
                {"at": "OUT", "target_v": 4, "allowed": 0},
                {"at": "in", "target_v": 8, "allowed": 0},
            ]
        },
    ).json()["outputs"]
    assert at_end[0]["passes"] == {
        "least_a": 0.0, "most_a": 0.0, "heaviest_ohm": None, "lightest_ohm": None,
    }  # fmt: skip
    assert at_end[1]["passes"]["most_a"] is None
    assert at_end[1]["passes"]["heaviest_ohm"] == 0.0
    dead = client.post(
        "/api/network/load", json=ask | {"supply": {"v": 0}, "outputs": [{"at": "OUT"}]}
    )
    assert dead.status_code == 200
