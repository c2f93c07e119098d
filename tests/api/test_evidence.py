"""/api/designs/{id}/evidence: photographs over the wire, and in the record."""

import hashlib
import io

import pytest
from fastapi.testclient import TestClient
from PIL import Image
from sqlalchemy import event

from lowfold.store.database import Database

DESIGN = {"name": "Battery sense", "kind": "divider", "brief": {}}


@pytest.fixture
def path(client: TestClient) -> str:
    return f"/api/designs/{client.post('/api/designs', json=DESIGN).json()['id']}"


def jpeg(size: tuple[int, int] = (80, 60)) -> bytes:
    found = io.BytesIO()
    Image.effect_noise(size, 40).convert("RGB").save(found, "JPEG")
    return found.getvalue()


def send(client: TestClient, path: str, file: bytes, name: str = "board.jpg") -> tuple[int, dict]:  # type: ignore[type-arg]
    found = client.post(f"{path}/evidence", files={"file": (name, file, "image/jpeg")})
    return found.status_code, dict(found.json())


def test_a_photograph_is_kept_and_served_as_its_digest_says(client: TestClient, path: str) -> None:
    status, kept = send(client, path, jpeg())
    assert (status, kept["width"], kept["height"], kept["media"]) == (201, 80, 60, "image/jpeg")
    served = client.get(f"{path}/evidence/{kept['id']}")
    assert served.headers["content-type"] == "image/jpeg"
    assert served.headers["x-content-type-options"] == "nosniff"
    assert hashlib.sha256(served.content).hexdigest() == kept["sha256"]
    small = client.get(f"{path}/evidence/{kept['id']}/thumbnail")
    with Image.open(io.BytesIO(small.content)) as opened:
        assert (opened.format, opened.size) == ("JPEG", (80, 60))
    assert client.get(f"{path}/evidence").json() == [kept]


def test_what_is_not_taken_is_refused_in_words(client: TestClient, path: str) -> None:
    status, told = send(client, path, b"\0" * 10_000_001)
    assert (status, told["detail"]) == (413, "a photograph has at most 10 MB")
    status, told = send(client, path, b"\0" * 10_200_000)
    assert status == 413
    status, told = send(client, path, b"<svg/>", "board.png")
    assert status == 415
    assert told["detail"].startswith("this is no photograph that is taken here")
    status, told = send(client, path, jpeg()[:300])
    assert status == 422
    assert told["detail"].startswith("the photograph cannot be read")
    assert client.post(f"{path}/evidence", files={"other": b"x"}).status_code == 422
    assert client.post(f"{path}/evidence", json={"file": "x"}).status_code == 422
    assert client.get(f"{path}/evidence").json() == []
    assert send(client, "/api/designs/99", jpeg())[0] == 404


def test_a_photograph_is_tied_to_a_reading(client: TestClient, path: str) -> None:
    _, kept = send(client, path, jpeg())
    point = {"kind": "voltage", "at": "OUT"}
    taken = {"kind": "reading", "text": "3V02", "point": point, "value": 3.02, "unit": "V"}
    reading = client.post(f"{path}/record", json=taken).json()
    photo = {"kind": "photo", "text": "where the leads were", "evidence": kept["id"]}
    entry = client.post(f"{path}/record", json={**photo, "of": reading["id"]}).json()
    assert (entry["evidence"], entry["of"]) == (kept["id"], reading["id"])
    other = client.post("/api/designs", json=DESIGN).json()["id"]
    foreign = client.post(f"/api/designs/{other}/record", json=photo)
    assert (foreign.status_code, foreign.json()["detail"]) == (
        422,
        f"this record has no photograph {kept['id']}",
    )
    assert client.post(f"{path}/record", json={"kind": "photo", "text": "x"}).status_code == 422
    assert client.get(f"/api/designs/{other}/evidence/{kept['id']}").status_code == 404
    assert client.get(f"{path}/evidence/99").status_code == 404


def test_a_record_of_pictures_is_bounded(
    client: TestClient, path: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("lowfold.store.evidence.MOST_BYTES", 3000)
    statuses = [send(client, path, jpeg((40, 30)))[0] for _ in range(3)]
    assert statuses[0] == 201
    assert statuses[-1] == 422


@pytest.mark.parametrize("ending", ["md", "pdf"])
def test_a_file_that_shows_no_photograph_loads_none(
    client: TestClient, path: str, ending: str
) -> None:
    """A hundred photographs of one design would be a gigabyte in the server's own memory."""
    database: Database = client.app.state.database  # type: ignore[attr-defined]
    said: list[str] = []

    def note(_: object, __: object, statement: str, *___: object) -> None:
        said.append(statement)

    event.listen(database.engine, "before_cursor_execute", note)
    assert client.get(f"{path}/handover.{ending}").status_code == 200
    event.remove(database.engine, "before_cursor_execute", note)
    assert not any("evidence.image" in one for one in said)
    assert any("evidence.thumbnail" in one for one in said) == (ending == "pdf")
