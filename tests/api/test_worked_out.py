"""POST /api/network/derivation and /working: the contract's own fields, and what is refused."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

SENSE: dict[str, Any] = {
    "network": "R1=200k + @OUT + R2=56k", "supply_v": 14.4, "loads": [{"at": "OUT", "ohm": "1M"}],
}  # fmt: skip


def test_a_derivation_has_its_steps_in_symbols_and_in_figures(client: TestClient) -> None:
    for asked, result in [
        ({"at": "OUT"}, "V(OUT) = 3.018 V"), ({"total": True}, "F2 = 253 kΩ"),
        ({"through": "R2"}, "I(R2) = 53.89 µA"), ({"power": "R1"}, "P(R1) = 647.8 µW"),
    ]:  # fmt: skip
        found = client.post("/api/network/derivation", json={**SENSE, "asked": asked}).json()
        assert [*found["steps"][0]] == ["words", "symbolic", "substituted", "result"]
        assert found["steps"][-1]["result"] == result


def test_working_is_judged_figure_by_figure(client: TestClient) -> None:
    figures = {"R2": {"v": "3.15", "i": "56.2 uA"}, "R1": {"v": "11V38"}, "total_ohm": "256k"}
    found = client.post("/api/network/working", json={**SENSE, "figures": figures}).json()
    told = [(f["ref"], f["quantity"], f["right"], f["slip"]) for f in found["figures"]]
    # 14.4 V · 56/256 = 3.15 V and 14.4 V / 256k = 56.25 µA: both with the load left out
    assert told == [
        ("R2", "v", False, "without the load"),
        ("R2", "i", False, "without the load"),
        ("R1", "v", True, ""),
        ("total_ohm", "r", False, "all in series, and the loads are left out"),
    ]


@pytest.mark.parametrize(
    ("path", "more", "field"),
    [
        ("derivation", {"asked": {}}, "asked"),
        ("derivation", {"asked": {"at": "OUT", "total": True}}, "asked"),
        ("derivation", {"asked": {"at": "ADC"}}, "asked"),
        ("derivation", {"asked": {"colour": "R1"}}, "asked.colour"),
        ("working", {"figures": {"R9": {"v": "1"}}}, "figures"),
        ("working", {"figures": {"R1": {"v": "three"}}}, "figures.R1.v"),
        ("working", {"figures": {"R1": {"q": "1"}}}, "figures.R1.q"),
        ("working", {"figures": {"R1": "1"}}, "figures.R1"),
        ("working", {"figures": {"total_ohm": {"v": "1"}}}, "figures.total_ohm"),
    ],
)
def test_what_is_not_understood_is_told_at_its_field(
    client: TestClient, path: str, more: dict[str, Any], field: str
) -> None:
    refused = client.post(f"/api/network/{path}", json={**SENSE, **more})
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["field"] == field
