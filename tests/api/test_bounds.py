"""What keeps the server answering: lanes, deadlines, what is left by its client, guards, races."""

from __future__ import annotations

import asyncio
import concurrent.futures
import json
import os
import re
import signal
import socket
import stat
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx2
import pytest
from fastapi.testclient import TestClient

from lowfold.api.app import PAGE, create_app
from lowfold.api.serving import server_of
from lowfold.settings import Settings
from lowfold.store.database import Database
from tests import plain
from tests.conftest import Server

SENSE = {"kind": "divider", "brief": {"supply_v": "14.4 V", "target_v": "3V0", "load": "1M"}}
DESIGN = {"name": "Battery sense", **SENSE}


def grid(size: int, ohms: str) -> str:
    lines = []
    for row in range(size):
        for column in range(size):
            if column < size - 1:
                lines.append(f"n{row}x{column} n{row}x{column + 1}")
            if row < size - 1:
                lines.append(f"n{row}x{column} n{row + 1}x{column}")
    text = "\n".join(f"R{k} {line} {ohms}" for k, line in enumerate(lines, start=1))
    return text.replace("n0x0 ", "in ").replace(f"n{size - 1}x{size - 1} ", "0 ")


def long_yield(seed: int) -> dict[str, Any]:
    return {
        "network": grid(9, "1k"), "supply": {"v": 5}, "samples": 300_000, "seed": seed,
        "outputs": [{"at": "n2x2"}], "parts": {"default": {"tolerance": 0.05}},
    }  # fmt: skip


@pytest.fixture(scope="module")
def serving(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """One server for all that leaves it as it was but for what is stored."""
    found = Server(tmp_path_factory.mktemp("serving"))
    found.start()
    yield found
    found.stop()


def median(times: list[float]) -> float:
    return sorted(times)[len(times) // 2]


def test_the_server_hands_work_on_and_loads_none_of_what_does_it(serving: Server) -> None:
    divider = {"kind": "divider", "brief": {"supply_v": "14.4 V", "target_v": "3 V"}}
    chosen = {**divider, "choice": "R1=47k + @OUT + R2=12k"}
    asked: list[tuple[str, dict[str, Any]]] = [
        ("sheet", divider), ("board", {"text": "14.4 V to 3 V within 4 %"}),
        ("sheet/drawn", {**chosen, "samples": 1000}), ("bench/round", chosen),
        *((f"practice/{drill}", {"level": 1, "seed": 3}) for drill in ("estimate", "series", "fault")),
    ]  # fmt: skip
    with plain.Client(base_url=f"{serving.url}/api/", timeout=30) as http:
        for path, body in asked:
            found = http.post(path, json=body)
            assert found.status_code in {200, 202}, found.text
            for _ in range(400 if found.status_code == 202 else 0):
                job = http.get(f"jobs/{found.json()['id']}").json()
                if job["state"] != "running":
                    assert job["state"] == "done", job
                    break
                time.sleep(0.05)
    assert serving.process is not None
    held = Path(f"/proc/{serving.process.pid}/maps").read_text(encoding="utf-8")
    assert [name for name in ("numpy", "scipy", "highspy") if f"/{name}/" in held] == []


def test_forty_long_requests_starve_nobody(serving: Server) -> None:
    async def measured() -> tuple[list[int], float, float]:
        limits = httpx2.Limits(max_connections=100)
        async with httpx2.AsyncClient(base_url=serving.url, timeout=60, limits=limits) as http:
            await http.post("/api/sheet", json=SENSE)
            long = [
                asyncio.create_task(http.post("/api/network/yield", json=long_yield(k)))
                for k in range(40)
            ]
            await asyncio.sleep(0.3)
            health: list[float] = []
            sheets: list[float] = []
            for k in range(12):
                for path, times in (("/api/health", health), ("/api/sheet", sheets)):
                    began = time.monotonic()
                    brief = {**SENSE["brief"], "load": f"{900 + k}k"}  # type: ignore[dict-item]
                    ask = {"kind": "divider", "brief": brief}
                    answer = await (
                        http.get(path) if path.endswith("health") else http.post(path, json=ask)
                    )
                    assert answer.status_code == 200
                    times.append(time.monotonic() - began)
            codes = [(await task).status_code for task in long]
            return codes, median(health), median(sheets)

    codes, health, sheet = asyncio.run(measured())
    assert set(codes) <= {200, 422, 503}
    assert 503 in codes  # told to come back, not left waiting
    assert health < 0.5  # some ten milliseconds here; a busy machine may be slow
    assert sheet < 5


def cpu_of_children(pid: int) -> float:
    """Seconds that a process and all that stem from it have worked."""
    ticks, stem = 0, {pid}
    for entry in sorted(int(p.name) for p in Path("/proc").iterdir() if p.name.isdigit()):
        try:
            fields = Path(f"/proc/{entry}/stat").read_text().rsplit(")", 1)[1].split()
        except (FileNotFoundError, ProcessLookupError):
            continue
        if entry in stem or int(fields[1]) in stem:
            stem.add(entry)
            ticks += int(fields[11]) + int(fields[12])
    return ticks / os.sysconf("SC_CLK_TCK")


def test_what_nobody_waits_for_stops(serving: Server) -> None:
    assert serving.process is not None
    plain.post(
        f"{serving.url}/api/network/yield", json={**long_yield(0), "samples": 10}, timeout=30
    )
    with pytest.raises(httpx2.TimeoutException):
        plain.post(f"{serving.url}/api/network/yield", json=long_yield(101), timeout=0.4)
    time.sleep(1.0)
    before = cpu_of_children(serving.process.pid)
    time.sleep(1.0)
    assert cpu_of_children(serving.process.pid) - before < 0.5


def test_a_request_may_be_answered_by_a_job(serving: Server) -> None:
    ask = {**long_yield(3), "samples": 450_000}
    begun = plain.post(
        f"{serving.url}/api/network/yield",
        json=ask,
        headers={"prefer": "respond-async"},
        timeout=10,
    )
    assert (begun.status_code, begun.headers["preference-applied"]) == (202, "respond-async")
    where, told = begun.headers["location"], set()
    for _ in range(600):
        job = plain.get(f"{serving.url}{where}").json()
        told.add(job["progress"])
        if job["state"] != "running":
            break
        time.sleep(0.05)
    assert job["state"] == "done", job
    assert sum(job["result"]["outputs"][0]["histogram"]["counts"]) == 450_000
    assert len(told) > 2
    bad = plain.post(
        f"{serving.url}/api/network/solve", json={"network": "1k +", "supply_v": 5},
        headers={"prefer": "respond-async"},
    )  # fmt: skip
    for _ in range(200):
        job = plain.get(f"{serving.url}{bad.headers['location']}").json()
        if job["state"] != "running":
            break
        time.sleep(0.05)
    assert job["state"] == "failed"
    assert job["words"].startswith("the text ends at character 5")


def test_what_takes_longer_than_its_client_waits_becomes_a_job(serving: Server) -> None:
    # RFC 7240, 4.1 and 4.3: an answer if it comes within `wait` seconds, else 202
    where = f"{serving.url}/api/network/yield"
    patient, hasty = ({"prefer": f'respond-async, wait="{s}"'} for s in (9, 1))
    quick = plain.post(where, json={**long_yield(5), "samples": 100}, headers=patient, timeout=30)
    assert quick.status_code == 200
    slow = plain.post(where, json=long_yield(6), headers=hasty, timeout=30)
    assert (slow.status_code, slow.headers["location"]) == (202, f"/api/jobs/{slow.json()['id']}")
    ended = plain.delete(f"{serving.url}{slow.headers['location']}").json()
    assert ended["state"] == "cancelled"


def test_it_stops_within_seconds_with_requests_open(server: Server) -> None:
    half = socket.create_connection(("127.0.0.1", server.port))
    half.sendall(
        f"POST /api/sheet HTTP/1.1\r\nhost: 127.0.0.1:{server.port}\r\n"
        "content-type: application/json\r\ncontent-length: 500\r\n\r\n{".encode()
    )
    with concurrent.futures.ThreadPoolExecutor() as pool:
        asked = pool.submit(
            httpx2.post, f"{server.url}/api/network/yield", json=long_yield(9), timeout=30
        )
        time.sleep(0.7)
        began = time.monotonic()
        server.stop(signal.SIGTERM)
        assert time.monotonic() - began < 12  # two seconds here; a busy machine may be slow
        with pytest.raises((httpx2.HTTPError, AssertionError)):
            assert asked.result().status_code == 200
    half.close()


def test_of_many_jobs_begun_at_once_two_run(serving: Server) -> None:
    ask = {"kind": "divider", "brief": SENSE["brief"], "choice": "R1=200k + @OUT + R2=56k"}

    def begin(_: int) -> httpx2.Response:
        return plain.post(f"{serving.url}/api/sheet/drawn", json=ask, timeout=30)

    with concurrent.futures.ThreadPoolExecutor(8) as pool:
        begun = list(pool.map(begin, range(8)))
    assert sorted(one.status_code for one in begun) == [202, 202, *[503] * 6]
    for one in begun:
        if one.status_code == 202:
            plain.delete(f"{serving.url}/api/jobs/{one.json()['id']}")


# Guards


@pytest.mark.parametrize(
    "host",
    ["evil@127.0.0.1", "127.0.0.1.evil.test", "evil.test", "127.0.0.1:99999999", "", "[::2]"],
)
def test_odd_hosts_are_refused(client: TestClient, host: str) -> None:
    assert client.get("/api/health", headers={"host": host}).status_code == 403


@pytest.mark.parametrize(("site", "code"), [("cross-site", 403), ("same-site", 403), ("same-origin", 200), ("none", 200)])  # fmt: skip
def test_pages_of_other_sites_are_refused(client: TestClient, site: str, code: int) -> None:
    assert client.get("/api/health", headers={"sec-fetch-site": site}).status_code == code


@pytest.mark.parametrize("accept", ["text/html", "*/*", "application/json"])
def test_an_unknown_address_of_the_api_is_a_problem(client: TestClient, accept: str) -> None:
    answer = client.get("/api/nothing/here", headers={"accept": accept})
    assert answer.status_code == 404
    assert answer.headers["content-type"] == "application/problem+json"
    wrong = client.get("/api/sheet", headers={"accept": accept})
    assert (wrong.status_code, wrong.headers["allow"]) == (405, "POST")


def test_every_answer_has_the_headers_faults_too(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object, **__: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr("lowfold.api.designs.page_of_designs", broken)
    for answer in (
        client.get("/api/designs"), client.get("/api/nothing"), client.get("/api/health"),
        client.post("/api/sheet", content=b"{"), client.get("/api/health", headers={"host": "x"}),
    ):  # fmt: skip
        assert answer.headers["content-security-policy"].startswith("default-src 'none'")
        assert answer.headers["x-content-type-options"] == "nosniff"
    fault = client.get("/api/designs")
    assert (fault.status_code, fault.json()["title"]) == (500, "A fault in Lowfold")


@pytest.mark.parametrize("path", ["/api/drawer/csv", "/api/families/csv"])
def test_a_csv_comes_as_csv(client: TestClient, path: str) -> None:
    for kind in ("text/plain", "application/x-www-form-urlencoded", "application/json"):
        refused = client.post(path, content=b"value\n1k\n", headers={"content-type": kind})
        assert refused.status_code == 415
        assert "send it as text/csv" in refused.json()["detail"]
    assert client.post("/api/sheet", content=b"{}", headers={"content-type": "text/plain"}).status_code == 415  # fmt: skip


# What is stored can be served again


@pytest.mark.parametrize(
    "raw",
    [
        b'{"name": "x", "kind": "divider", "brief": {"supply_v": "12 \\ud83d"}}',
        b'{"name": "\\udc00", "kind": "divider"}',
        b'{"name": "x", "kind": "divider", "brief": {"\\ud83d": "1"}}',
        b'{"name": "x", "kind": "divider", "brief": {"a": ' + b"[" * 255 + b"]" * 255 + b"}}",
    ],
)
def test_nothing_is_stored_that_cannot_be_served(client: TestClient, raw: bytes) -> None:
    kind = {"content-type": "application/json"}
    assert client.post("/api/designs", content=raw, headers=kind).status_code == 422
    assert client.get("/api/designs").json() == []
    for path in ("/api/sheet", "/api/network/sheet", "/api/sheet/advice"):
        assert client.post(path, content=raw, headers=kind).status_code == 422


def test_one_row_that_cannot_be_shown_hides_no_other(tmp_path: Path) -> None:
    app = create_app(Settings(data=tmp_path, workers=0))
    with TestClient(app, base_url="http://127.0.0.1:8000") as client:
        client.post("/api/designs", json=DESIGN)
        bad = client.post("/api/designs", json=DESIGN).json()["id"]
        with app.state.database.engine.begin() as connection:
            connection.exec_driver_sql(
                "UPDATE design SET brief = ? WHERE id = ?",
                (json.dumps({"target_v": "\ud83d"}), bad),
            )
        found = client.get("/api/designs").json()
        assert [d["name"] for d in found] == [f"Design {bad}", "Battery sense"]
        assert "cannot be shown" in found[0]["standing"]["words"]
        assert client.get(f"/api/designs/{bad}").status_code == 200


def test_a_standing_is_of_what_is_stored_or_not_shown(tmp_path: Path) -> None:
    app = create_app(Settings(data=tmp_path, workers=0))
    own = {**DESIGN, "brief": {**SENSE["brief"], "rating": "0603"}}  # type: ignore[dict-item]
    with TestClient(app, base_url="http://127.0.0.1:8000") as client:
        where = client.post("/api/designs", json=own).headers["location"]
        assert client.get(where).json()["standing"]["verdict"] == "pass"
        app.state.standings.close()  # as if it were killed before it has caught up
        assert client.put("/api/families/0603", json={"rating_w": 1e-6}).status_code == 200
        assert client.get(where).json()["standing"] is None
        assert client.get("/api/designs").json()[0]["standing"] is None
        assert client.put("/api/families/other", json={"rating_w": 1e-6}).status_code == 200
    again = create_app(Settings(data=tmp_path, workers=0))
    with TestClient(again, base_url="http://127.0.0.1:8000") as client:
        for _ in range(100):
            standing = client.get(where).json()["standing"]
            if standing is not None:
                break
            time.sleep(0.05)
        assert standing["verdict"] == "fail"


def test_a_list_comes_in_pages_and_is_searched(client: TestClient) -> None:
    for k in range(7):
        client.post("/api/designs", json={**DESIGN, "name": f"Sense 100 % {k}"})
    first = client.get("/api/designs", params={"limit": 3})
    assert [d["name"][-1] for d in first.json()] == ["6", "5", "4"]
    assert first.headers["x-total-count"] == "7"
    following = first.headers["link"].split(">")[0].strip("<")
    assert [d["name"][-1] for d in client.get(following).json()] == ["3", "2", "1"]
    assert "link" not in client.get("/api/designs", params={"limit": 3, "offset": 6}).headers
    found = client.get("/api/designs", params={"q": "100 % 14.4 5"}).json()
    assert [d["name"] for d in found] == ["Sense 100 % 5"]
    assert client.get("/api/designs", params={"q": "nowhere"}).json() == []


# Races


def at_once(count: int, one: Any) -> list[int]:
    with concurrent.futures.ThreadPoolExecutor(8) as pool:
        return list(pool.map(one, range(count)))


def test_races_end_in_words(serving: Server) -> None:
    url = serving.url
    family = {"rating_w": 0.1}
    codes = at_once(48, lambda k: plain.put(f"{url}/api/families/new {k // 8}", json=family).status_code)  # fmt: skip
    assert set(codes) == {200}
    lines = [plain.post(f"{url}/api/drawer/lines", json={"ohm": 100 + k}).json()["id"] for k in range(6)]  # fmt: skip

    def race(k: int) -> int:
        where = f"{url}/api/drawer/lines/{lines[k // 8]}"
        if k % 2:
            return plain.delete(where).status_code
        return plain.put(where, json={"ohm": 100 + k // 8, "count": k}).status_code

    assert set(at_once(48, race)) <= {200, 204, 404}

    def take(k: int) -> int:
        text = "value,count\n" + "".join(f"{10 + n},{k}\n" for n in range(60))
        how = "add" if k % 2 else "replace"
        return plain.post(
            f"{url}/api/drawer/csv?how={how}", content=text, headers={"content-type": "text/csv"}
        ).status_code

    assert set(at_once(24, take)) == {200}
    assert len(plain.get(f"{url}/api/drawer").json()["lines"]) == 60


# The directory


def test_only_its_user_may_look(tmp_path: Path) -> None:
    old = os.umask(0o022)
    try:
        database = Database(tmp_path / "data" / "lowfold.db")
        database.migrate()
        database.close()
    finally:
        os.umask(old)
    assert stat.S_IMODE((tmp_path / "data").stat().st_mode) == 0o700
    for file in (tmp_path / "data").glob("lowfold.db*"):
        assert stat.S_IMODE(file.stat().st_mode) == 0o600


def test_a_full_disk_is_told_and_nothing_half_done(tmp_path: Path) -> None:
    app = create_app(Settings(data=tmp_path, workers=0))
    with TestClient(app, base_url="http://127.0.0.1:8000") as client:
        made = client.post("/api/designs", json=DESIGN).json()
        # As on a full disk: no page more than there are
        engine = app.state.database.engine
        engine.dispose()

        def full(connection: Any, _: object) -> None:
            connection.execute("PRAGMA max_page_count=1")

        from sqlalchemy import event  # noqa: PLC0415

        event.listen(engine, "connect", full)
        big = {**DESIGN, "why": "x" * 19_000, "revision": 1}
        answer = client.put(f"/api/designs/{made['id']}", json=big)
        assert answer.status_code == 507
        assert answer.json()["detail"].startswith("the disk is full: nothing of this was kept")
        assert client.get(f"/api/designs/{made['id']}").json()["revision"] == 1
        event.remove(engine, "connect", full)
        engine.dispose()
        assert client.put(f"/api/designs/{made['id']}", json=big).status_code == 200


def test_five_thousand_lines_are_taken_at_once(client: TestClient) -> None:
    text = "value,count\n" + "".join(f"{1 + k / 100:.2f},{k % 9}\n" for k in range(5000))
    began = time.monotonic()
    taken = client.post("/api/drawer/csv", content=text, headers={"content-type": "text/csv"})
    assert taken.json()["lines"] == 5000
    assert time.monotonic() - began < 10  # some 0.4 s here; a busy machine may be slow


def test_the_page_goes_packed_and_is_kept_for_good(client: TestClient) -> None:
    index = client.get("/").text
    for name in re.findall(r"/?(assets/[^\"]+\.(?:js|css))", index):
        answer = client.get(f"/{name}")
        packed = answer.headers.get("content-encoding") == "gzip"
        assert packed == (len(answer.content) >= 1000)  # less than that is not worth it
        assert "immutable" in answer.headers["cache-control"]
    assert "content-encoding" not in client.get("/api/health").headers


def test_licences_of_what_ships_are_served_with_it(client: TestClient) -> None:
    package = json.loads((PAGE.parents[2] / "web" / "package.json").read_text())
    scripts = client.get("/licences/scripts.txt").text
    for name in ("svelte", "svelte-spa-router", "@tanstack/svelte-virtual", "d3-scale"):
        assert f"## {name} - {package['devDependencies'][name]}" in scripts
    for name in ("literata", "source-sans-3"):
        assert "SIL OPEN FONT LICENSE" in client.get(f"/licences/{name}.txt").text.upper()


def test_what_cannot_be_found_finds_nothing_and_what_is_no_json_is_told(
    client: TestClient,
) -> None:
    assert client.post("/api/designs", json={"name": "a b", "kind": "divider"}).status_code == 201
    assert client.get("/api/designs?q=a%00b").json() == []
    plain = {"content-type": "text/plain"}
    refused = client.post("/api/designs", content=b'{"kind": "divider"}', headers=plain)
    assert (refused.status_code, "send application/json" in refused.text) == (415, True)


def test_who_does_not_finish_asking_is_told_so(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Headers and bodies have their time; the server of the test has less of it."""
    monkeypatch.setattr("lowfold.api.serving.HEADERS_S", 0.3)
    monkeypatch.setattr("lowfold.api.guards.BETWEEN_S", 0.3)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    found = server_of(client.app, port, lifespan="off")  # type: ignore[arg-type]  # as it runs here
    thread = threading.Thread(target=found.run, daemon=True)
    thread.start()
    while not found.started:
        time.sleep(0.02)

    def told(*parts: bytes) -> str:
        with socket.create_connection(("127.0.0.1", port)) as line:
            for part in parts:
                line.sendall(part)
            line.settimeout(10)
            said = b""
            while more := line.recv(4096):
                said += more
        return said.decode()

    head = b"POST /api/designs HTTP/1.1\r\nhost: 127.0.0.1\r\ncontent-type: application/json\r\n"
    assert "408" in told(head).split("\r\n", 1)[0]
    assert "408" in told(b"").split("\r\n", 1)[0]
    slow = told(head + b"content-length: 500\r\nconnection: close\r\n\r\n{")
    assert "408" in slow.split("\r\n", 1)[0]
    assert "nothing more of the body came" in slow
    fine = told(b"GET /api/tags HTTP/1.1\r\nhost: 127.0.0.1\r\nconnection: close\r\n\r\n")
    assert "404" in fine.split("\r\n", 1)[0]
    found.should_exit = True
    thread.join(10)
