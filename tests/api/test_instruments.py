"""/api/instruments: kept, read through the real library, and refused in words."""

import socket
import time
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from lowfold.sim.board import drawn_board
from lowfold.sim.server import StandIn

# The library leaves its socket to the garbage collector where nobody answers.
pytestmark = pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning")

READ = "/api/instruments/read"


@pytest.fixture
def stand_in() -> Iterator[StandIn]:
    board = drawn_board("R1=200k + @OUT + R2=56k", 14.4, tolerance=0)
    with StandIn(board) as found:
        yield found


def listed(client: TestClient, resource: str) -> str:
    """Put a meter on the list, as its user does before it is read."""
    kept = client.put("/api/instruments", json={"resource": resource})
    assert kept.status_code == 200, kept.text
    return str(kept.json()["resource"])


def test_a_reading_of_every_kind(client: TestClient, stand_in: StandIn) -> None:
    listed(client, stand_in.resource)

    def read(**point: object) -> dict[str, object]:
        found = client.post(READ, json={"resource": stand_in.resource, **point})
        assert found.status_code == 200, found.text
        return dict(found.json())

    out = read(kind="voltage", at="OUT")
    # By hand: 14.4 V · 55.688 kΩ / 255.688 kΩ, the meter's 10 MΩ beside the lower leg
    assert out["value"] == pytest.approx(3.1363, rel=1e-4)
    assert (out["unit"], out["overload"], out["simulated"]) == ("V", False, True)
    assert str(out["text"]).startswith("3.136")
    # By hand: 200k ‖ 10M = 196.08 kΩ; 14.4 V · 196.08 / 252.08
    assert read(kind="voltage", across="R1")["value"] == pytest.approx(11.2007, rel=1e-4)
    assert read(kind="resistance", part="R2")["value"] == pytest.approx(56e3, rel=1e-3)
    assert read(kind="resistance", at="in", against="0")["value"] == pytest.approx(256e3, rel=1e-3)
    assert read(kind="current", through="supply")["value"] == pytest.approx(56.25e-6, rel=0.1)
    over = read(kind="voltage", at="in", range_full=1)
    assert (over["value"], over["overload"], over["text"]) == (None, True, "OL")


def test_where_meters_are_is_kept(client: TestClient) -> None:
    resource = "TCPIP0::192.168.1.20::5025::SOCKET"
    kept = client.put("/api/instruments", json={"resource": resource.lower(), "name": "shelf"})
    assert kept.json() == {"resource": resource, "name": "shelf", "meter": "bench, 6½ digits"}
    client.put("/api/instruments", json={"resource": resource, "meter": "pocket"})
    (only,) = client.get("/api/instruments").json()["instruments"]
    assert only == {"resource": resource, "name": resource, "meter": "pocket, 2000 counts"}
    assert client.delete("/api/instruments", params={"resource": resource}).status_code == 204
    assert client.delete("/api/instruments", params={"resource": resource}).status_code == 404
    wrong = client.put("/api/instruments", json={"resource": "shelf"})
    assert "is no VISA resource name: write one like TCPIP::" in wrong.json()["detail"]
    nobody = client.put("/api/instruments", json={"resource": resource, "meter": "none such"})
    assert nobody.status_code == 422


WRONG = [
    ({"kind": "voltage", "at": 'OUT";*RST'}, "at"),
    ({"kind": "voltage", "at": "OUT", "against": "a b"}, "against"),
    ({"kind": "current", "through": "R1\n"}, "through"),
]


@pytest.mark.parametrize(("point", "field"), WRONG)
def test_a_name_that_is_none_never_reaches_the_wire(
    client: TestClient, point: dict[str, str], field: str
) -> None:
    with socket.create_server(("127.0.0.1", 0)) as listening:
        listening.settimeout(0.2)
        resource = f"TCPIP::127.0.0.1::{listening.getsockname()[1]}::SOCKET"
        refused = client.post(READ, json={"resource": resource, **point})
        assert refused.status_code == 422
        assert refused.json()["errors"][0]["field"] == field
        with pytest.raises(TimeoutError):
            listening.accept()


def test_silence_is_told_within_three_seconds_and_a_refusal_at_once(client: TestClient) -> None:
    ask = {"kind": "voltage", "at": "OUT"}
    with socket.create_server(("127.0.0.1", 0)) as listening:
        resource = f"TCPIP::127.0.0.1::{listening.getsockname()[1]}::SOCKET"
        listed(client, resource)
        began = time.monotonic()
        silent = client.post(READ, json={"resource": resource, **ask})
        assert time.monotonic() - began < 3
    assert silent.status_code == 504
    assert silent.json()["detail"].startswith("the meter did not answer in time")
    refused = client.post(READ, json={"resource": resource, **ask})
    assert refused.status_code == 502
    assert "Connection refused" in refused.json()["detail"]
    nowhere = client.post(READ, json={"resource": "shelf", **ask})
    assert (nowhere.status_code, nowhere.json()["errors"][0]["field"]) == (422, "resource")


def test_a_point_the_stand_in_has_not(client: TestClient, stand_in: StandIn) -> None:
    listed(client, stand_in.resource)
    ask = {"resource": stand_in.resource, "kind": "voltage", "at": "NOWHERE"}
    refused = client.post(READ, json=ask)
    assert refused.status_code == 502
    assert "the network has no junction called" in refused.json()["detail"]


def test_a_meter_that_is_not_on_the_list_is_not_opened(client: TestClient) -> None:
    with socket.create_server(("127.0.0.1", 0)) as listening:
        listening.settimeout(0.2)
        resource = f"TCPIP::127.0.0.1::{listening.getsockname()[1]}::SOCKET"
        refused = client.post(READ, json={"resource": resource, "kind": "voltage", "at": "OUT"})
        assert refused.status_code == 422
        assert "is not on your list of meters" in refused.json()["detail"]
        with pytest.raises(TimeoutError):
            listening.accept()


# RFC 1918, RFC 3927, RFC 5771, RFC 919: which addresses are private, link-local, multicast, all.
@pytest.mark.parametrize(
    "host", ["8.8.8.8", "169.254.1.9", "224.0.0.1", "255.255.255.255", "0.0.0.0", "172.32.0.1"]
)
def test_an_address_off_the_private_network_is_not_kept(client: TestClient, host: str) -> None:
    ask = {"resource": f"TCPIP::{host}::5025::SOCKET"}
    refused = client.put("/api/instruments", json=ask)
    assert refused.status_code == 422
    assert "no address of this machine or of a private network" in refused.json()["detail"]


@pytest.mark.parametrize("host", ["10.1.2.3", "172.16.0.9", "192.168.7.7", "127.0.0.1"])
def test_one_on_it_is(client: TestClient, host: str) -> None:
    listed(client, f"TCPIP::{host}::5025::SOCKET")


def test_a_name_that_has_no_address_is_told_in_words(client: TestClient) -> None:
    resource = listed(client, "TCPIP::shelf.invalid::5025::SOCKET")  # RFC 2606: never resolved
    refused = client.post(READ, json={"resource": resource, "kind": "voltage", "at": "OUT"})
    assert refused.status_code in {502, 504}
    assert "shelf.invalid has no address here" in refused.json()["detail"]


def test_a_name_that_leads_elsewhere_is_not_opened(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    # RFC 5737: an address for documents, on nobody's private network
    resource = listed(client, "TCPIP::shelf.example::5025::SOCKET")

    def elsewhere(*_: object) -> list[tuple[object, ...]]:
        return [(socket.AF_INET, socket.SOCK_STREAM, 6, "", ("203.0.113.9", 0))]

    monkeypatch.setattr(socket, "getaddrinfo", elsewhere)
    refused = client.post(READ, json={"resource": resource, "kind": "voltage", "at": "OUT"})
    assert refused.status_code == 422
    assert "private network" in refused.json()["detail"]
