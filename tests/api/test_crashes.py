"""Requests that once made the server stumble: refused in words, or answered with plain numbers."""

from __future__ import annotations

import math
from typing import Any

import pytest
from fastapi.testclient import TestClient

#: Nothing conducts between the ends, half typed ones among them.
DEAD = [
    "S1 in a; R1 a 0 1k", "S1 in 0\nR1 in a 1k", "R1 in a 1k\nR2 b 0 1k", "R1 in a", "S1",
    "S1 + 1k", "S1 || S2", "@A + 1k + @B",
]  # fmt: skip
UNREACHED = [
    ("divider", "R1=1k + @OUT"), ("divider", "1k+@OUT"), ("divider", "S1 + 47k + @OUT + 10k"),
    ("divider", "1k"), ("feedback", "S1 + 47k + @FB + 10k"), ("feedback", "47k + @FB + S1 + 10k"),
    ("feedback", "@FB + 1k"), ("ladder", "R1=1k + @T1 + R2=1k"), ("resistance", "S1"),
]  # fmt: skip


def plain(value: Any) -> bool:
    if isinstance(value, dict):
        return all(map(plain, value.values()))
    if isinstance(value, list):
        return all(map(plain, value))
    signed = isinstance(value, float) and value == 0 and math.copysign(1, value) < 0
    return not signed and (not isinstance(value, float) or math.isfinite(value))


def ask(client: TestClient, path: str, **body: object) -> Any:
    answer = client.post(path, json=body)
    assert answer.status_code in {200, 422}, answer.text
    if answer.status_code == 422:
        assert answer.json()["errors"][0]["message"]
    assert plain(answer.json())
    return answer


@pytest.mark.parametrize("text", DEAD)
def test_networks_in_which_nothing_conducts(client: TestClient, text: str) -> None:
    brief = {"network": text, "wanted": "a 2 V ± 5 %, total 1k ± 5 %", "tolerance": "1 %"}
    for tokens in ({"network": text}, brief):
        ask(client, "/api/network/sheet", brief=tokens)
        ask(client, "/api/sheet/opened", kind="network", brief=tokens, choice=text)
        ask(client, "/api/sheet/advice", kind="network", brief=tokens, choice=text)
    ask(client, "/api/network/fold", network=text, supply_v=5)
    ask(client, "/api/network/relation", brief={"network": text}, one="R1", two="R2")
    outputs = [{"at": "a", "target_v": 2, "allowed": 0.1}]
    for path, more in (("solve", {}), ("check", {}), ("yield", {"samples": 100}), ("load", {})):
        asked = {"supply_v": 5} if path == "solve" else {"supply": {"v": 5}, "outputs": outputs}
        ask(client, f"/api/network/{path}", network=text, **asked, **more)


@pytest.mark.parametrize(("kind", "choice"), UNREACHED)
def test_choices_whose_tap_cannot_be_reached(client: TestClient, kind: str, choice: str) -> None:
    for more in ({"choice": choice}, {"look": choice}):
        found = ask(client, "/api/sheet", kind=kind, brief={}, **more)
        assert found.json()["problem"]
    for path in ("opened", "advice"):
        assert (
            ask(client, f"/api/sheet/{path}", kind=kind, brief={}, choice=choice).status_code == 422
        )


def test_figures_that_do_not_move_have_a_histogram(client: TestClient) -> None:
    for text, tolerance in (("R1=1k + @OUT + R2=1k", 0.01), ("R1=1k + @OUT + R2=2k", 0.0)):
        found = ask(
            client, "/api/network/yield", network=text, supply={"v": 5}, samples=1000,
            tracking={"ratio": 0}, parts={"default": {"tolerance": tolerance}},
            outputs=[{"at": "OUT", "target_v": 2.5, "allowed": 0.5}],
        ).json()["outputs"][0]  # fmt: skip
        assert sum(found["histogram"]["counts"]) == 1000
        # At all of the samples Wilson's interval ends at all, exactly
        assert (found["yield"], found["yield_high"]) == (1.0, 1.0)
    for kind, choice in (("divider", "1k + @OUT + 1k"), ("ladder", "1k + @T1 + 1k + @T2 + 1k")):
        ask(client, "/api/sheet/opened", kind=kind, brief={"tracking": "0 %"}, choice=choice)


@pytest.mark.parametrize("kind", ["divider", "feedback"])
def test_a_target_next_to_nothing(client: TestClient, kind: str) -> None:
    for text in ("1e-300", "1e-30 V", "1 nV"):
        ask(client, "/api/sheet", kind=kind, brief={"target_v": text})


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"network": "R1=?k + 1k", "total_ohm": 2000}, "“?” stands for a whole value: write it alone, like R1=?"),
        ({"network": "S1 + ?", "total_ohm": 55}, "nothing conducts between the supply's ends, whatever R1 is"),
    ],
)  # fmt: skip
def test_unknowns_that_make_no_sense(client: TestClient, body: dict[str, Any], words: str) -> None:
    assert ask(client, "/api/network/unknown", **body).json()["errors"][0]["message"] == words


def test_unknowns_at_the_ends_of_what_a_part_may_be(client: TestClient) -> None:
    for ohms in (1e12, 1e-6):
        found = ask(client, "/api/network/unknown", network="R1=?", total_ohm=ohms).json()
        assert found["ohm"] == pytest.approx(ohms, rel=1e-9)


def test_ids_beyond_what_is_counted(client: TestClient) -> None:
    assert ask(client, "/api/designs/shared", ids=[2**63, 2**64]).status_code == 422
    assert client.get(f"/api/designs/{2**64}").status_code in {404, 422}


@pytest.mark.parametrize("ohms", ["1k", "10M"])
def test_an_ordinary_grid_is_folded_whatever_its_inner_values(
    client: TestClient, ohms: str
) -> None:
    lines = []
    for row in range(9):
        for column in range(9):
            if column < 8:
                lines.append(f"n{row}x{column} n{row}x{column + 1}")
            if row < 8:
                lines.append(f"n{row}x{column} n{row + 1}x{column}")
    text = "\n".join(f"R{k} {line} {ohms}" for k, line in enumerate(lines, start=1))
    text = text.replace("n0x0 ", "in ").replace("n8x8 ", "0 ")
    found = ask(client, "/api/network/solve", network=text, supply_v=5)
    assert found.status_code == 200
    assert found.json()["folds"][-1]["result_ohm"] == pytest.approx(found.json()["total_ohm"])


def test_kirchhoff_holds_at_a_dead_end(client: TestClient) -> None:
    text = "R1 in a 3k3\nR2 a 0 4k7\nR3 a b 6k8\nR4 b c 1k2"
    found = ask(client, "/api/network/solve", network=text, supply_v=7.3).json()
    assert all(c["holds"] for c in found["checks"])


def test_a_part_and_a_load_do_not_share_a_name(client: TestClient) -> None:
    found = ask(
        client, "/api/network/check", network="L1=1k + @OUT + R2=2k",
        supply={"v": 5, "tolerance": 0.01}, loads=[{"at": "OUT", "ohm": 1e4, "min_ohm": 9e3}],
        parts={"default": {"tolerance": 0.01}}, outputs=[{"at": "OUT"}],
    ).json()["outputs"][0]  # fmt: skip
    assert set(found["lowest_corner"]) == {"L1", "L1x", "R2", "supply"}
