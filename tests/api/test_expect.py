"""What a meter should say, over the wire."""

import pytest
from fastapi.testclient import TestClient

PATH = "/api/bench/expect"
ASK = {
    "network": "R1=360k + @OUT + R2=180k",
    "supply": {"v": 14.4, "tolerance": "3 %"},
    "parts": {"default": {"tolerance": "1 %"}, "R2": {"tolerance": "2 %"}},
}


def points(client: TestClient, **change: object) -> list[dict[str, object]]:
    answer = client.post(PATH, json=ASK | change)
    assert answer.status_code == 200, answer.text
    found: list[dict[str, object]] = answer.json()["points"]
    return found


def test_a_careful_round(client: TestClient) -> None:
    found = points(client)
    assert [p["words"] for p in found] == [
        "R1, lifted out", "R2, lifted out", "in against 0", "OUT against 0", "the supply's current"
    ]  # fmt: skip
    out = found[3]
    # By hand: 180 k beside 10 MΩ is 176.8 k; 14.4 V · 176.8 / 536.8
    beside = 180e3 * 10e6 / 10.18e6
    assert out["expected"] == pytest.approx(14.4 * beside / (360e3 + beside))
    assert (out["ideal"], out["range_full"], out["shows"]) == (pytest.approx(4.8), 6.0, "4.743 V")
    lower = 183.6e3 * 10e6 / (183.6e3 + 10e6)
    highest = 14.4 * 1.03 * lower / (356.4e3 + lower)
    assert out["highest"] == pytest.approx(highest * 1.005 + 2e-3)
    assert out["loading"] == pytest.approx(out["expected"] / 4.8 - 1)  # type: ignore[operator]
    assert [c["code"] for c in found[0]["cautions"]] == ["unpowered", "discharge"]  # type: ignore[attr-defined]
    assert (found[4]["jack"], [c["code"] for c in found[4]["cautions"]]) == ("mA", ["jack"])  # type: ignore[attr-defined]


def test_what_is_answered_can_be_asked_again(client: TestClient) -> None:
    names = ("kind", "at", "against", "across", "through", "part")
    found = points(client)
    again = [{k: p[k] for k in names if p[k] is not None} for p in found]
    assert points(client, points=again) == found


def test_points_of_every_kind(client: TestClient) -> None:
    asked = [
        {"kind": "voltage", "across": "R1"},
        {"kind": "voltage", "at": "0", "against": "OUT"},
        {"kind": "current", "through": "r1"},
        {"kind": "current", "through": "supply", "range_full": 0.6},
        {"kind": "resistance", "at": "in"},
        {"kind": "resistance", "at": "OUT", "against": "in"},
    ]
    found = points(client, points=asked[:3], meter="ideal")
    found += points(client, points=asked[3:], meter="handheld")
    # By hand: 540 kΩ on 14.4 V
    assert [p["expected"] for p in found] == pytest.approx(
        [9.6, -4.8, 14.4 / 540e3, 14.4 / 540001.2, 540000.2, 360000.2]
    )
    assert found[0]["across"] == "R1"
    assert found[3]["range_full"] == 0.6
    assert found[1]["shows"] == "−4.8 V"


def test_switches_loads_and_names_of_unnamed_junctions(client: TestClient) -> None:
    change = {
        "network": "R1=1k + R2=1k + S1 + R3=2k",
        "switches": {"S1": "closed"},
        "supply": {"v": 8},
        "points": [{"kind": "voltage", "at": "n1"}, {"kind": "voltage", "at": "N2"}],
        "meter": "ideal",
        "parts": {},
    }
    solved = client.post(
        "/api/network/solve",
        json={"network": change["network"], "switches": {"S1": "closed"}, "supply_v": 8},
    ).json()["nodes"]
    assert solved == {"n1": 6.0, "n2": 4.0}
    assert [p["expected"] for p in points(client, **change)] == [6.0, 4.0]
    open_ = points(client, **(change | {"switches": {}}))
    assert [p["expected"] for p in open_] == [8.0, 8.0]
    apart = [{"kind": "resistance", "at": "n2", "against": "n3"}]
    found = points(client, **(change | {"switches": {}, "points": apart, "meter": "handheld"}))[0]
    assert (found["overload"], found["expected"], found["lowest"], found["shows"]) == (True, None, None, "OL")  # fmt: skip


def test_parts_as_built(client: TestClient) -> None:
    built = {"R1": {"ohm": "361k2"}, "r2": {"ohm": 179500, "uncertainty": "0.1 %"}}
    asked = [{"kind": "voltage", "at": "OUT"}]
    change = {"points": asked, "meter": "ideal", "as_built": built, "supply": {"v": 14.4}}
    found = points(client, **change)[0]
    ends = [14.4 * r / (361.2e3 + r) for r in (179500 * 0.999, 179500 * 1.001)]
    assert [found["lowest"], found["highest"]] == pytest.approx(ends)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"points": [{"kind": "voltage", "at": "X"}]}, "points.0"),
        ({"points": [{"kind": "voltage"}]}, "points.0"),
        ({"points": [{"kind": "current", "at": "OUT"}]}, "points.0"),
        ({"points": [{"kind": "current", "through": "R9"}]}, "points.0"),
        ({"points": [{"kind": "resistance", "part": "R1", "at": "OUT"}]}, "points.0"),
        ({"points": [{"kind": "voltage", "at": "OUT", "range_full": 7}]}, "points"),
        ({"points": []}, "points"),
        ({"points": [{"kind": "voltage", "at": "OUT"}] * 201}, "points"),
        ({"as_built": {"R9": {"ohm": 5}}}, "as_built.R9"),
        ({"meter": "none"}, "meter"),
        ({"meter": {"volts": [{"full": 0}]}}, "meter.volts.0.full"),
        ({"outputs": []}, "outputs"),
    ],
)
def test_refusals_name_the_field(client: TestClient, change: dict[str, object], field: str) -> None:
    answer = client.post(PATH, json=ASK | change)
    assert answer.status_code == 422, answer.text
    assert answer.json()["errors"][0]["field"] == field
