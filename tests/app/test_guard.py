"""Who may talk to the server, how much at once, and how slowly."""

from __future__ import annotations

import json
import random
import socket
from pathlib import Path
from typing import Any

import pytest
from websockets.exceptions import InvalidStatus
from websockets.sync.client import connect

from tests.app.server import Server, set_offset
from tests.soak import times


@pytest.mark.parametrize(
    "headers",
    [
        {"host": "evil.example"},
        {"host": "127.0.0.1.evil.example:80"},
        {"host": "127.0.0.1:80:evil"},
        {"host": "127.0.0.1@evil.example"},
        {"host": ""},
        {"origin": "http://evil.example"},
        {"origin": "null"},
        {"origin": "http://127.0.0.1:{other}"},
        {"origin": "file://127.0.0.1:{own}"},
    ],
)
def test_only_its_own_pages_are_answered(server: Server, headers: dict[str, str]) -> None:
    """Another server on this machine has another port: its pages are strangers."""
    sent = {k: v.format(other=server.port + 1, own=server.port) for k, v in headers.items()}
    answer = server.client.get("/api/designs", headers=sent)
    assert answer.status_code == 403
    assert answer.json()["code"] == "not-for-you"
    assert server.client.get("/api/designs", headers={"origin": server.url}).status_code == 200


def test_a_foreign_port_gets_no_channel(server: Server, tarn: str) -> None:
    with pytest.raises(InvalidStatus):
        connect(f"ws://127.0.0.1:{server.port}/api/designs/{tarn}/live", origin=f"http://127.0.0.1:{server.port + 1}")  # type: ignore[arg-type]


def test_browsers_are_told_what_pages_may_do(server: Server) -> None:
    for path in ("/", "/api/designs", "/api/nowhere"):
        headers = server.client.get(path).headers
        assert "default-src 'self'" in headers["content-security-policy"]
        assert headers["x-content-type-options"] == "nosniff"
        assert headers["x-frame-options"] == "DENY"


def test_the_interface_is_described_here_and_nowhere_else(server: Server) -> None:
    assert server.client.get("/api/openapi.json").json()["info"]["title"] == "Wander"
    for path in ("/docs", "/redoc"):
        assert "cdn" not in server.client.get(path).text


def test_a_body_that_does_not_say_how_long_it_is_is_bounded(server: Server) -> None:
    answer = server.client.post("/api/designs/file", content=iter([b" " * 2**20] * 17))
    assert answer.status_code == 413
    assert answer.json()["code"] == "too-large"
    answer = server.client.post("/api/designs", content=iter([b" " * 2**20] * 17), headers={"content-type": "application/json"})
    assert answer.status_code == 413


def test_methods_that_are_none_say_which_are(server: Server) -> None:
    answer = server.client.put("/api/designs")
    assert answer.status_code == 405
    assert answer.headers["allow"] == "GET, POST"
    assert server.client.put("/api/designs/none").headers["allow"] == "DELETE, GET"


POST = b"POST /api/designs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 100\r\n\r\n{"


@pytest.mark.parametrize("begun", [b"", b"GET /api/designs HTTP/1.1\r\nHost: 127", POST])
def test_half_a_request_is_given_up(tmp_path: Path, begun: bytes) -> None:
    server = Server(tmp_path, patience_seconds="0.4").start()
    try:
        with socket.create_connection(("127.0.0.1", server.port), timeout=10) as line:
            line.sendall(begun)
            received = b""
            while piece := line.recv(4096):
                received += piece
        assert not received or b" 408 " in received.split(b"\r\n")[0]
    finally:
        server.stop()


HOSTILE: list[Any] = [
    None,
    True,
    -1,
    10**400,
    2**63,
    1e308,
    "",
    "\ud800",
    "a" * 5000,
    "\u0000",
    [],
    {},
    [[[[[[]]]]]],
    {"step": "loft-13"},
    "NaN",
    "../../etc/passwd",
    "(" * 150,
]
PATHS = [
    ("POST", "/api/designs"),
    ("POST", "/api/designs/file"),
    ("POST", "/api/designs/{d}/edits"),
    ("POST", "/api/designs/{d}/undo"),
    ("POST", "/api/designs/{d}/cuts"),
    ("POST", "/api/designs/{d}/versions"),
    ("POST", "/api/designs/{d}/revisions/{x}/open"),
    ("GET", "/api/designs/{d}/revisions/{x}/bodies"),
    ("GET", "/api/designs/{d}/worth?text={x}&kind=length"),
    ("GET", "/api/designs/{d}/drawings/{x}/as-drawn"),
    ("GET", "/api/designs/{d}/drawings/{x}?format=svg"),
    ("POST", "/api/designs/{d}/drawings/{x}/release"),
    ("POST", "/api/designs/{d}/drawings/section-6/curves?base_revision=1&file_name={x}"),
    ("GET", "/api/designs/{x}"),
    ("DELETE", "/api/designs/{x}"),
    ("GET", "/api/meshes/{x}"),
    ("POST", "/api/profiles"),
]
EDIT_FIELDS = ["step", "path", "value", "name", "kind", "params", "acts", "skip", "to", "base_revision", "edits", "mark", "at", "things"]


def nested(chance: random.Random) -> Any:
    """Something between a well-formed request and nonsense."""
    good = {"do": "set-param", "step": "section-6", "path": ["shape", "width"], "value": 40.0}
    edit = {**good, **{name: chance.choice(HOSTILE) for name in chance.sample(EDIT_FIELDS, chance.randint(0, 3))}}
    body: dict[str, Any] = {"base_revision": 1, "edits": [edit], "step": "loft-13", "at": 50.0, "name": "x", "revision": 1, "things": ["c1"]}
    for name in chance.sample(sorted(body), chance.randint(0, 2)):
        body[name] = chance.choice(HOSTILE)
    return chance.choice([body, body, body, chance.choice(HOSTILE)])


def test_nothing_that_is_sent_is_answered_with_a_fault(server: Server, tarn: str) -> None:
    chance = random.Random(7)
    for number in range(times(400, 20000)):
        method, path = chance.choice(PATHS)
        place = path.format(d=tarn, x=chance.choice(["-1", "99999999999999999999", "section-6", "%00", "a" * 3000, "%F0%9F", "NaN"]))
        body = json.dumps(nested(chance)).encode() if chance.random() < 0.9 else bytes(chance.randrange(256) for _ in range(60))
        answer = server.client.request(method, place, content=body if method == "POST" else None, headers={"content-type": "application/json"})
        assert answer.status_code < 500, (number, method, place, body[:300], answer.text)
        if answer.status_code >= 400:
            assert answer.headers["content-type"] == "application/problem+json", (method, place)
    assert server.read(tarn)["document"]["name"], "the design can be read after all that"


def test_nothing_said_on_the_channel_ends_it(server: Server, tarn: str) -> None:
    edit = set_offset("station-7", 118.0)
    with server.live(tarn) as live:
        live.done()
        for message in ("", "{", "[]", "\x00", json.dumps({"type": "preview", "number": 10**400, "base_revision": 1, "edits": [edit]})):
            live.send(message)
            live.until(lambda event: event["type"] == "preview-refused")
        live._connection.send(b"\xff\x00binary")
        live.until(lambda event: event["type"] == "preview-refused")
        live.send({"type": "preview", "number": 1, "base_revision": 1, "edits": [edit]})
        live.until(lambda event: event["type"] == "done" and event["preview"] == 1)


def test_a_design_may_be_removed_under_a_window(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        live.done()
        assert server.client.delete(f"/api/designs/{tarn}").status_code == 204
        live.send({"type": "preview", "number": 1, "base_revision": 1, "edits": [set_offset("station-7", 118.0)]})
        with pytest.raises(Exception, match=r"1008|no such design"):
            live.until(lambda event: False)
    assert server.client.get("/api/designs").status_code == 200
