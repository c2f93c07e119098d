"""A choice looked into over the wire: pictures, advice, and long draws as a job."""

import time

import pytest
from fastapi.testclient import TestClient

from lowfold.demo.designs import DESIGNS
from tests.core.strategies import complete

SENSE = next(d for d in DESIGNS if d["name"] == "Battery sense")
BRIEF = SENSE["brief"] | {"within": "3 %"}
ASK = {"kind": "divider", "brief": BRIEF, "choice": SENSE["choice"]}


def test_every_demo_design_opens(client: TestClient) -> None:
    for design in DESIGNS:
        if design["kind"] == "network" or design["brief"]["values"] == "drawer":
            continue
        ask = {"kind": design["kind"], "brief": design["brief"]}
        choice = (
            design.get("choice")
            or client.post("/api/sheet", json=ask).json()["choices"][0]["notation"]
        )
        answer = client.post("/api/sheet/opened", json=ask | {"choice": choice})
        assert answer.status_code == 200, answer.text
        found = answer.json()
        assert found["scatters"]
        assert found["faults"]
        assert [c["name"] for c in found["corners"][:3]] == ["lowest", "nominal", "highest"]


def test_the_load_line_is_in_the_units_of_its_axes(client: TestClient) -> None:
    line = client.post("/api/sheet/opened", json=ASK).json()["lines"][0]
    assert (line["x_unit"], line["y_unit"]) == ("µA", "V")
    # By hand: 3.15 V behind 43.75 kΩ; 2.91 V is left at 5.486 µA
    assert line["nominal"][0] == pytest.approx(3.15)
    assert line["leaves"] == pytest.approx(0.24 / 43.75e-3)
    assert line["points"][0]["words"] == "Nominal load, 1 MΩ: 3.018 V"
    assert line["words"][1] == (
        "With nominal parts it passes from 531 kΩ up to 2.25 MΩ. At every corner it passes from 747 kΩ up to 1.03 MΩ."
    )
    assert line["words"][2].startswith("By the rule of thumb (string current at least 10 ×")


def test_power_tells_curve_points_and_the_total(client: TestClient) -> None:
    brief = BRIEF | {"own": "R2 1206", "high_c": "112.5 °C"}
    power = client.post("/api/sheet/opened", json=ASK | {"brief": brief}).json()["power"]
    # Common practice: full power to 70 °C, then straight to zero at 155 °C
    (curve,) = power["curves"]
    assert [(p["ambient_c"], p["share"]) for p in curve["points"]] == [
        (0.0, 1.0), (70.0, 1.0), (155.0, 0.0), (160.0, 0.0),
    ]  # fmt: skip
    # Common practice: half the rating is left half way from 70 to 155 °C, and half of that is used
    assert [(p["allowed"]["text"], p["allowed"]["unit"]) for p in power["parts"]] == [
        ("25", "mW"), ("62.5", "mW"),
    ]  # fmt: skip
    assert power["words"][1] == "Together they take 819.5 µW from the supply, nominal."


def test_what_it_feeds_is_held_against_every_fault(client: TestClient) -> None:
    found = client.post("/api/sheet/opened", json=ASK).json()
    above = {f["words"]: f["above"] for f in found["faults"]}
    assert above == {
        "R1 opens": [],
        "R1 is shorted": ["OUT"],
        "R2 opens": ["OUT"],
        "R2 is shorted": [],
        "OUT is shorted": [],
    }


def test_a_distribution_is_chosen(client: TestClient) -> None:
    flat = client.post("/api/sheet/opened", json=ASK).json()["scatters"][0]
    bell = client.post("/api/sheet/opened", json=ASK | {"distribution": "normal"}).json()[
        "scatters"
    ][0]
    # Normal with 3σ at the ends lies closer: more of it in the middle fifth
    middle = slice(24, 36)
    assert sum(bell["counts"][middle]) > sum(flat["counts"][middle])


@pytest.mark.parametrize(("within", "verdict"), [("3 %", "fail"), ("3.4 %", "marginal")])
def test_advice_followed_over_the_wire_stands_as_told(
    client: TestClient, within: str, verdict: str
) -> None:
    brief = BRIEF | {"within": within}
    found = client.post("/api/sheet/advice", json=ASK | {"brief": brief}).json()
    assert found["verdict"] == verdict
    assert found["ways"]
    for way in found["ways"]:
        ask = {"kind": "divider", "brief": brief | way["changes"], "choice": way["choice"]}
        sheet = client.post("/api/sheet", json=ask).json()
        pinned = next(c for c in sheet["choices"] if c["pinned"])
        assert (pinned["verdict"], pinned["words"]) == (way["verdict"], way["brings"])


def test_a_long_draw_is_a_job(client: TestClient) -> None:
    started = client.post("/api/sheet/drawn", json=ASK | {"samples": 300_000}).json()
    deadline = time.monotonic() + 60
    while (job := client.get(f"/api/jobs/{started['id']}").json())["state"] == "running":
        assert time.monotonic() < deadline
        time.sleep(0.1)
    assert job["state"] == "done"
    picture = job["result"]["scatters"][0]
    assert sum(picture["counts"]) == 300_000
    assert "of 300\u202f000 samples" in picture["words"]


def test_a_long_draw_can_be_cancelled(client: TestClient) -> None:
    started = client.post("/api/sheet/drawn", json=ASK).json()
    ended = client.delete(f"/api/jobs/{started['id']}").json()
    assert ended["state"] == "cancelled"


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"brief": {"target_v": "3k"}}, "brief"),
        ({"choice": "R1 in 0 1k"}, "choice"),
        ({"choice": "1k + 2k"}, "choice"),
        ({"samples": 10_000_001}, "samples"),
        ({"distribution": "cauchy"}, "distribution"),
    ],
)
def test_what_cannot_be_drawn_is_refused_before_any_work(
    client: TestClient, change: dict[str, object], field: str
) -> None:
    answer = client.post("/api/sheet/drawn", json=ASK | change)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field


def test_a_choice_is_looked_into(client: TestClient) -> None:
    brief = {"supply_v": "14.4 V", "target_v": "3 V", "within": "3 %", "load": "1M"}
    ask = {"kind": "divider", "brief": brief, "choice": "R1=200k + @OUT + R2=56k"}
    found = client.post("/api/sheet/opened", json=ask).json()
    picture = found["scatters"][0]
    assert sum(picture["counts"]) == 100_000
    assert picture["lowest"] <= picture["edges"][0] < picture["edges"][-1] <= picture["highest"]
    shares = [abs(c["share"]) for c in found["contributions"]]
    assert shares == sorted(shares, reverse=True)
    # Closed form: S = ∓RU/(RU + RL‖load) for the upper leg, over 1 % + 100 ppm/K · 45 K, of 3 %
    lower = 56e3 * 1e6 / 1.056e6
    nominal = 14.4 * lower / (200e3 + lower)
    upper = next(c["share"] for c in found["contributions"] if c["name"] == "R1")
    expected = -200e3 / (200e3 + lower) * 0.0145 * nominal / (3 * 0.03)
    assert abs(upper - expected) < 1e-9
    faults = {f["words"]: f["outputs"]["OUT"] for f in found["faults"]}
    # By hand: 1 MΩ below 200 kΩ alone leaves 12 V
    assert faults["R2 opens"] == {"text": "12.00", "unit": "V"}
    assert faults["R1 is shorted"] == {"text": "14.40", "unit": "V"}
    assert [p["ref"] for p in found["power"]["parts"]] == ["R1", "R2"]
    said = "0603: 100 mW up to 70 °C, 100 mW at 60 °C, nothing from 155 °C; 50 % of it may be used."
    assert found["power"]["words"][0].startswith(said)


def test_every_kind_of_choice_can_be_looked_into(client: TestClient) -> None:
    for kind in ("resistance", "divider", "feedback", "ladder"):
        choice = client.post("/api/sheet", json={"kind": kind}).json()["choices"][0]["notation"]
        answer = client.post("/api/sheet/opened", json={"kind": kind, "choice": choice})
        assert answer.status_code == 200, answer.text
        taps = {"ladder": 2}.get(kind, 1)
        assert len(answer.json()["scatters"]) == taps
    wrong = {"kind": "divider", "brief": {"target_v": "x"}, "choice": "1k + @OUT + 1k"}
    refused = client.post("/api/sheet/opened", json=wrong)
    assert refused.json()["detail"] == "the brief is not understood: see what its tokens say"


def test_a_network_of_ones_own_is_gated_opened_and_advised(client: TestClient) -> None:
    brief = {
        "network": "R1 in a 1k\nR2 a 0 2k\nR3 in b 1k\nR4 b 0 2k2\nR5 a b 470",
        "supply_v": "10 V", "wanted": "a 6.7 V ± 1 %, total 1.55k ± 5 %", "tolerance": "1 %",
        "rating": "0603",
    }  # fmt: skip
    sheet = client.post("/api/network/sheet", json={"brief": brief}).json()
    verdicts = {g["name"]: g["verdict"] for g in sheet["gates"]}
    assert verdicts["spread"] == sheet["standing"]["verdict"] == "fail"
    ask = {"kind": "network", "brief": brief}
    found = client.post("/api/sheet/opened", json=ask).json()
    assert [p["name"] for p in found["scatters"]] == ["a", ""]
    assert [p["ref"] for p in found["power"]["parts"]] == ["R1", "R2", "R3", "R4", "R5"]
    assert {"R5 opens", "a is shorted"} <= {f["words"] for f in found["faults"]}
    ways = client.post("/api/sheet/advice", json=ask).json()["ways"]
    assert ways
    for way in ways:
        after = client.post("/api/network/sheet", json={"brief": brief | way["changes"]}).json()
        assert after["standing"]["verdict"] == way["verdict"]
    unread = client.post(
        "/api/sheet/opened", json={"kind": "network", "brief": {"network": "1k +"}}
    )
    assert (unread.status_code, unread.json()["errors"][0]["field"]) == (422, "brief")


def test_too_many_corners_are_said_where_the_gates_would_stand(client: TestClient) -> None:
    brief = {"network": complete(8), "wanted": "a 2.5 V ± 5 %", "tolerance": "1 %"}
    found = client.post("/api/network/sheet", json={"brief": brief}).json()
    assert found["gates"] == []
    assert "corners" in found["gates_trouble"]
