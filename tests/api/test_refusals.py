"""Malformed requests at every endpoint: a problem in RFC 9457's shape, never a 500."""

import json
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from lowfold.api.app import create_app
from lowfold.settings import Settings
from tests.core.strategies import complete
from tests.effort import cases

ENDPOINTS: dict[str, dict[str, object]] = {
    "/api/resistance/search": {"target_ohm": "4k7", "values": {"series": ["E24"]}},
    "/api/divider/search": {"supply_v": 12, "target_v": 3.3, "values": {"series": ["E24"]}},
    "/api/divider/feedback": {"reference_v": 0.8, "target_v": 3.3, "values": {"series": ["E24"]}},
    "/api/ladder/search": {
        "supply_v": 12,
        "taps": [{"target_v": 8}, {"target_v": 3, "load_ohm": "10k"}],
        "values": {"series": ["E12"]},
    },
    "/api/network/solve": {"network": "1k + @A + 2k", "supply_v": 5},
    "/api/network/check": {"network": "1k + @A + 2k", "supply": {"v": 5}},
    "/api/network/yield": {
        "network": "1k + @A + 2k",
        "supply": {"v": 5},
        "outputs": [{"at": "A"}],
        "samples": 100,
    },
    "/api/network/load": {
        "network": "1k + @A + 2k",
        "supply": {"v": 5},
        "outputs": [{"at": "A", "target_v": 3, "allowed": 0.1}],
    },
    "/api/network/fold": {"network": "1k + @A + 2k", "supply_v": 5},
    "/api/network/sheet": {"brief": {"network": "1k + 2k"}},
    "/api/network/relation": {"brief": {"network": "1k + 2k"}, "one": "R1", "two": "R2"},
    "/api/network/edit": {"network": "1k + 2k", "ref": "R1", "action": "series", "ohm": 5},
    "/api/network/unknown": {"network": "1k + ?", "total_ohm": 3000},
    "/api/reference/ohm": {"v": 5, "ohm": "1k"},
    "/api/sheet": {"kind": "divider", "brief": {}},
    "/api/sheet/opened": {"kind": "divider", "choice": "10k + @OUT + 20k"},
    "/api/sheet/advice": {"kind": "divider", "choice": "10k + @OUT + 20k"},
    "/api/sheet/trades": {"kind": "divider", "brief": {}},
    "/api/drawer/lines": {"ohm": "4k7", "count": 3},
    "/api/designs": {"name": "x", "kind": "divider", "brief": {}},
}
JUNK: list[object] = [
    None,
    True,
    -1,
    0,
    1e308,
    -0.0,
    1e-320,
    10**400,
    "",
    "NaN",
    "4k7k",
    "−",
    "9" * 5000,
    [],
    [1],
    {},
    {"a": 1},
    "\u0000",
    "💡",
]


def is_problem(answer: object, statuses: tuple[int, ...] = (422,)) -> bool:
    assert answer.status_code in statuses, answer.text  # type: ignore[attr-defined]
    assert answer.headers["content-type"] == "application/problem+json"  # type: ignore[attr-defined]
    body = answer.json()  # type: ignore[attr-defined]
    assert {"title", "status", "detail", "errors"} <= set(body)
    assert body["status"] == answer.status_code  # type: ignore[attr-defined]
    return all(e["field"] and e["message"] for e in body["errors"])


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """One application for all: what is refused leaves nothing behind."""
    app = create_app(Settings(data=tmp_path_factory.mktemp("refusals")))
    with TestClient(app, base_url="http://127.0.0.1:8000") as found:
        yield found


@pytest.fixture(scope="module")
def schemas(client: TestClient) -> dict[str, Any]:
    found: dict[str, Any] = client.get("/openapi.json").json()
    return found


@pytest.mark.parametrize("path", ENDPOINTS)
@pytest.mark.parametrize(
    "body", [b"", b"{", b"[]", b"null", b"\xff\xfe", b'{"a": NaN}', b"[" * 5000]
)
def test_bodies_that_are_no_request(client: TestClient, path: str, body: bytes) -> None:
    answer = client.post(path, content=body, headers={"content-type": "application/json"})
    assert is_problem(answer, (400, 422))


@pytest.mark.parametrize("path", ENDPOINTS)
def test_unknown_fields_are_refused(client: TestClient, path: str) -> None:
    answer = client.post(path, json={**ENDPOINTS[path], "colour": "red"})
    assert is_problem(answer)
    assert answer.json()["errors"][0]["field"] == "colour"


@pytest.mark.parametrize("path", ENDPOINTS)
def test_every_field_takes_junk_without_a_fault(
    client: TestClient, schemas: dict[str, Any], path: str
) -> None:
    ref = schemas["paths"][path]["post"]["requestBody"]["content"]["application/json"]["schema"][
        "$ref"
    ]
    fields = schemas["components"]["schemas"][ref.rsplit("/", 1)[1]]["properties"]
    for field in fields:
        for junk in JUNK:
            body = json.dumps({**ENDPOINTS[path], field: junk})
            answer = client.post(path, content=body, headers={"content-type": "application/json"})
            assert answer.status_code in {200, 201, 422}, (field, junk, answer.text)
            if answer.status_code == 422:
                assert is_problem(answer)
            else:
                json.loads(answer.text, parse_constant=pytest.fail)  # no NaN, no Infinity


@given(
    path=st.sampled_from(sorted(ENDPOINTS)),
    extra=st.dictionaries(
        st.sampled_from(["target_ohm", "values", "supply_v", "target_v", "network", "loads", "brief", "limit", "load_ohm", "tolerance", "within", "prefer", "supply"]),
        st.recursive(
            st.one_of(st.none(), st.booleans(), st.integers(), st.floats(allow_nan=False, allow_infinity=False), st.text(max_size=20)),
            lambda inner: st.one_of(st.lists(inner, max_size=3), st.dictionaries(st.text(max_size=8), inner, max_size=3)),
            max_leaves=6,
        ),
        max_size=3,
    ),
)  # fmt: skip
@cases(150)
def test_random_requests_never_fault(
    client: TestClient, path: str, extra: dict[str, object]
) -> None:
    assert client.post(path, json={**ENDPOINTS[path], **extra}).status_code in {200, 201, 422}


BOUNDS = [
    ("/api/resistance/search", {"max_parts": 5}, "max_parts", "5 parts are asked for; combinations of up to 4 are searched (6 from at most 20 values)"),
    ("/api/divider/search", {"max_parts_per_leg": 3}, "max_parts_per_leg", "legs of 3 parts are asked for; up to 2 are searched"),
    ("/api/resistance/search", {"limit": 100000}, "limit", "100000 candidates are asked for; at most 500 are listed"),
    ("/api/resistance/search", {"tolerance": "100 %"}, "tolerance", "100 % is out of range: it must be at least 0 % and at most 100 %"),
    ("/api/resistance/search", {"target_ohm": "5 V"}, "target_ohm", "“5 V” is a voltage; wanted is a resistance, for instance 4k7"),
    ("/api/resistance/search", {"values": {"series": ["E24"], "stock": []}}, "values", "give either series (for instance [“E24”]), or stock (a list of {ohm, count}), or drawer: true"),
    ("/api/resistance/search", {"values": {"series": ["E25"]}}, "series", "“E25” is not a series of preferred values: use E3, E6, E12, E24, E48, E96, E192"),
]  # fmt: skip


@pytest.mark.parametrize(("path", "more", "field", "message"), BOUNDS)
def test_bounds_are_named(
    client: TestClient, path: str, more: dict[str, object], field: str, message: str
) -> None:
    answer = client.post(path, json={**ENDPOINTS[path], **more})
    assert is_problem(answer)
    assert answer.json()["errors"] == [{"field": field, "message": message}]


def test_work_beyond_the_bound_is_refused_before_it_starts(client: TestClient) -> None:
    ask = {
        "network": complete(8), "supply": {"v": 5},
        "parts": {"default": {"tolerance": 0.01}}, "outputs": [{"at": "a"}],
    }  # fmt: skip
    answer = client.post("/api/network/check", json=ask)
    assert is_problem(answer)
    assert "at most 65536 are searched" in answer.json()["detail"]


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("GET", "/api/nothing", 404),
        ("DELETE", "/api/health", 405),
        ("GET", "/api/resistance/search", 405),
        ("GET", "/api/designs/999", 404),
        ("GET", "/api/designs/x", 422),
    ],
)
def test_wrong_paths_and_methods_are_problems_too(
    client: TestClient, method: str, path: str, status: int
) -> None:
    assert is_problem(client.request(method, path), (status,))


FOREIGN = [
    {"host": "evil.example"},
    {"host": "127.0.0.1.evil.example:8000"},
    {"host": "[::bad"},
    {"origin": "http://evil.example"},
    {"origin": "http://127.0.0.1:9999"},
    {"origin": "null"},
]


@pytest.mark.parametrize("headers", FOREIGN, ids=lambda h: next(iter(h.values())))
def test_other_hosts_and_pages_are_refused(client: TestClient, headers: dict[str, str]) -> None:
    assert is_problem(client.get("/api/designs", headers=headers), (403,))


@pytest.mark.parametrize("path", ["/api/designs/1_0", "/api/designs?limit=1_0", "/api/drawer/lines/1_0"])  # fmt: skip
def test_digits_with_underlines_are_no_number(client: TestClient, path: str) -> None:
    # Python reads 1_0 as 10
    refused = client.delete(path) if "lines" in path else client.get(path)
    assert refused.status_code == 422
    assert "a whole number is wanted, in digits" in refused.text
    ask = {
        "network": "R1=360k + @OUT + R2=180k", "supply": {"v": 14.4},
        "readings": [{"kind": "voltage", "at": "OUT", "value": "4_8"}],
    }  # fmt: skip
    told = client.post("/api/bench/diagnose", json=ask)
    assert told.json()["errors"][0]["field"] == "readings.0.value"


def test_the_own_page_may_call(client: TestClient) -> None:
    assert (
        client.get("/api/designs", headers={"origin": "http://127.0.0.1:8000"}).status_code == 200
    )
    own = {"host": "localhost:8000", "origin": "http://localhost:8000"}
    assert client.get("/api/designs", headers=own).status_code == 200


def test_bodies_are_limited_by_length_and_while_they_arrive(client: TestClient) -> None:
    assert is_problem(client.post("/api/sheet", content=b"x" * 1_000_001), (413,))

    def dripping() -> Iterator[bytes]:
        for _ in range(11):
            yield b"x" * 100_000

    assert is_problem(client.post("/api/sheet", content=dripping()), (413,))


def test_strict_headers_on_every_answer(client: TestClient) -> None:
    for path in ("/", "/api/health", "/api/nothing"):
        headers = client.get(path).headers
        assert "default-src 'none'" in headers["content-security-policy"]
        assert "unsafe" not in headers["content-security-policy"]
        assert headers["x-content-type-options"] == "nosniff"
