"""Reference pictures over the interface."""

from __future__ import annotations

import io
import time
from pathlib import Path

import httpx
from PIL import Image

from tests.app.server import Server
from tests.app.test_interface import assert_problem


def png(size: tuple[int, int] = (30, 20)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (200, 90, 40)).save(out, "PNG")
    return out.getvalue()


def add(server: Server, design: str, data: bytes, station: str = "station-1", name: str = "Sketch") -> httpx.Response:
    base = server.read(design)["revision"]
    return server.client.post(f"/api/designs/{design}/pictures", params={"base_revision": base, "station": station, "name": name}, content=data)


def test_a_picture_is_kept_once_and_outlives_the_server(tmp_path: Path) -> None:
    server = Server(tmp_path).start("demo")
    tarn = server.designs()["Tarn flask"]
    added = add(server, tarn, png())
    assert added.status_code == 200, added.text
    again = add(server, tarn, png(), name="The same")
    keys = [step["params"]["picture"] for step in again.json()["document"]["steps"] if step["kind"] == "picture"]
    assert len(keys) == 2
    assert len(set(keys)) == 1
    server.kill()
    reborn = Server(server.data).start()
    try:
        found = reborn.client.get(f"/api/pictures/{keys[0]}")
        assert found.headers["content-type"] == "image/png"
        assert Image.open(io.BytesIO(found.content)).size == (30, 20)
        assert_problem(reborn.client.get("/api/pictures/" + "0" * 32), 404, "no-picture")
    finally:
        reborn.stop()


def test_what_is_no_picture_changes_nothing(server: Server, tarn: str) -> None:
    before = server.read(tarn)["revision"]
    begun = time.monotonic()
    assert_problem(add(server, tarn, b"<svg/>"), 422, "file-refused")
    assert_problem(add(server, tarn, png((400, 300))[:90]), 422, "file-refused")
    assert time.monotonic() - begun < 4, "two answers, each within two seconds"
    assert_problem(add(server, tarn, b"\0" * (17 * 1024 * 1024)), 413, "too-large")
    assert server.read(tarn)["revision"] == before
