"""Reference pictures over the interface."""

from __future__ import annotations

import base64
import io
import json
from pathlib import Path

import httpx
import pytest
from PIL import Image

from tests.app.server import Server, answered_within
from tests.app.test_interface import assert_problem
from wander.core.design.attached import Attached
from wander.core.design.errors import TooLarge
from wander.core.design.reading import read_file, write_file
from wander.core.document.document import Document


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
    for broken in (b"<svg/>", png((400, 300))[:90]):
        answered_within(2, lambda broken=broken: assert_problem(add(server, tarn, broken), 422, "file-refused"))
    assert_problem(add(server, tarn, b"\0" * (17 * 1024 * 1024)), 413, "too-large")
    assert server.read(tarn)["revision"] == before


def test_a_file_brings_its_pictures_along(server: Server, tarn: str, tmp_path: Path) -> None:
    add(server, tarn, png())
    photo = io.BytesIO()
    Image.effect_noise((64, 48), 60).save(photo, "JPEG")
    add(server, tarn, photo.getvalue(), name="Photo")
    file = server.client.get(f"/api/designs/{tarn}/document").content
    elsewhere = Server(tmp_path / "elsewhere").start()
    try:
        opened = elsewhere.client.post("/api/designs/file", content=file)
        assert opened.status_code == 201, opened.text
        keys = [step["params"]["picture"] for step in opened.json()["document"]["steps"] if step["kind"] == "picture"]
        sizes = [Image.open(io.BytesIO(elsewhere.client.get(f"/api/pictures/{key}").content)).size for key in keys]
        assert sizes == [(30, 20), (64, 48)]
        # and out again, with everything in it
        again = json.loads(elsewhere.client.get(f"/api/designs/{opened.json()['id']}/document").content)
        assert set(again["pictures"]) == set(keys)
    finally:
        elsewhere.stop()


@pytest.mark.parametrize("pictures", [[1], {"k": "***"}, {"k": 5}])
def test_a_file_with_broken_pictures_is_refused(server: Server, tarn: str, pictures: object) -> None:
    add(server, tarn, png())
    raw = json.loads(server.client.get(f"/api/designs/{tarn}/document").content)
    before = len(server.designs())
    assert_problem(server.client.post("/api/designs/file", json={**raw, "pictures": pictures}), 422, "unreadable-document")
    harmful = {key: base64.b64encode(b"<svg onload=alert(1)>").decode() for key in raw["pictures"]}
    assert_problem(server.client.post("/api/designs/file", json={**raw, "pictures": harmful}), 422, "file-refused")
    assert len(server.designs()) == before


def test_a_file_that_could_not_be_opened_again_is_not_made() -> None:
    document = Document(name="Bulky")
    with pytest.raises(TooLarge, match="fewer pixels"):
        write_file(document, Attached({"0" * 32: b"x" * (13 * 1024 * 1024)}))
    attached = Attached({"0" * 32: b"x" * 1000}, {"1" * 32: b"y" * 100_000})
    assert read_file(write_file(document, attached)) == (document, attached)
