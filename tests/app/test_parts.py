"""Bodies from files over the interface."""

from __future__ import annotations

import json
from pathlib import Path

import httpx
import pytest
import trimesh

from tests.app.server import Server, answered_within
from tests.app.test_interface import assert_problem
from tests.core.solids.kernel_files import BALL, BOX, PIN, RING, assembly, box, step_of

BLOCK = step_of([box(10.0, 20.0, 30.0)])


def bring(server: Server, design: str, data: bytes, file_name: str = "block.step", use: str = "work", **more: str) -> httpx.Response:
    base = server.read(design)["revision"]
    params = {"base_revision": base, "file_name": file_name, "use": use, **more}
    return server.client.post(f"/api/designs/{design}/parts", params=params, content=data)


def volumes_of(server: Server, design: str) -> list[float]:
    revision = server.read(design)["revision"]
    bodies = server.client.get(f"/api/designs/{design}/revisions/{revision}/bodies").json()
    return sorted(body["summary"]["volume"] for body in bodies)


def fresh(server: Server, name: str) -> str:
    return str(server.client.post("/api/designs", json={"name": name}).json()["id"])


def test_parts_come_in_by_one_change_and_are_built_after_a_restart_and_elsewhere(tmp_path: Path) -> None:
    server = Server(tmp_path / "here").start()
    design = fresh(server, "Assembly")
    brought = bring(server, design, assembly(), "whole.step")
    assert brought.status_code == 200, brought.text
    assert [step["name"] for step in brought.json()["document"]["steps"]] == ["Block", "Pin", "Pin 2", "Ball", "Ring"]
    volumes = volumes_of(server, design)
    assert volumes == pytest.approx(sorted([BOX, PIN, PIN, BALL, RING]), rel=1e-6)
    server.kill()
    reborn = Server(server.data).start()
    try:
        undone = reborn.client.post(f"/api/designs/{design}/undo", json={"base_revision": reborn.read(design)["revision"]})
        assert undone.json()["document"]["steps"] == []
        reborn.client.post(f"/api/designs/{design}/redo", json={"base_revision": undone.json()["revision"]})
        file = reborn.client.get(f"/api/designs/{design}/document").content
        assert len(json.loads(file)["parts"]) == 1
    finally:
        reborn.stop()
    elsewhere = Server(tmp_path / "elsewhere").start()
    try:
        opened = elsewhere.client.post("/api/designs/file", content=file).json()["id"]
        assert volumes_of(elsewhere, opened) == pytest.approx(volumes, rel=1e-9)
    finally:
        elsewhere.stop()


def test_another_file_goes_where_the_old_one_was(server: Server) -> None:
    """What was done to the part is done to the new one; by name where it holds several; undone by one step; a mesh is refused."""
    design = fresh(server, "Replaced")
    part = bring(server, design, BLOCK).json()["document"]["steps"][0]
    copied = {"body": {"step": part["id"]}, "count": 3, "way": {"type": "line", "by": [50.0, 0.0, 0.0]}}
    base = server.read(design)["revision"]
    edits = [{"do": "add-step", "kind": "repeat", "name": "Row", "params": copied}]
    assert server.client.post(f"/api/designs/{design}/edits", json={"base_revision": base, "edits": edits}).status_code == 200
    assert volumes_of(server, design) == pytest.approx([3 * 6000.0], rel=1e-9)
    answer = bring(server, design, step_of([box(10.0, 20.0, 45.0)]), "newer.step", instead=part["id"])
    assert answer.status_code == 200, answer.text
    assert [step["name"] for step in answer.json()["document"]["steps"]] == [part["name"], "Row"]
    assert volumes_of(server, design) == pytest.approx([3 * 9000.0], rel=1e-9)
    cube = trimesh.creation.box((10.0, 20.0, 30.0)).export(file_type="stl")
    assert_problem(bring(server, design, cube, "cube.stl", instead=part["id"]), 422, "file-refused")
    row = server.read(design)["document"]["steps"][1]["id"]
    for nowhere in (row, "part-99"):
        assert_problem(bring(server, design, BLOCK, instead=nowhere), 422, "file-refused")
    renamed = [{"do": "rename-step", "step": part["id"], "name": "Ball"}]
    base = server.read(design)["revision"]
    assert server.client.post(f"/api/designs/{design}/edits", json={"base_revision": base, "edits": renamed}).status_code == 200
    assert bring(server, design, assembly(), "whole.step", instead=part["id"]).status_code == 200
    assert volumes_of(server, design) == pytest.approx([3 * BALL], rel=1e-6)
    server.client.post(f"/api/designs/{design}/undo", json={"base_revision": server.read(design)["revision"]})
    assert volumes_of(server, design) == pytest.approx([3 * 9000.0], rel=1e-9)


def test_a_file_that_holds_no_body_changes_nothing(server: Server) -> None:
    design = fresh(server, "Nothing in it")
    before = server.read(design)["revision"]
    for name, data in (("a.step", b"solid"), ("a.stl", b"hello"), ("a.step", BLOCK[:900]), ("a.igs", BLOCK), ("a.step", b"")):
        answered_within(20, lambda name=name, data=data: assert_problem(bring(server, design, data, name), 422, "file-refused"))
    assert_problem(bring(server, design, b"\0" * (17 * 1024 * 1024)), 413, "too-large")
    assert server.read(design)["revision"] == before


def test_a_reference_is_seen_and_is_no_body(server: Server) -> None:
    design = fresh(server, "Looked at")
    cube = trimesh.creation.box((10.0, 20.0, 30.0)).export(file_type="stl")
    assert bring(server, design, cube, "cube.stl").status_code == 200
    assert bring(server, design, BLOCK, "block.stp", "reference").status_code == 200
    assert volumes_of(server, design) == []
    with server.live(design) as live:
        live.done()
    with server.live(design) as live:
        found = live.until(lambda event: event["type"] == "snapshot" and event["complete"])["steps"]
    assert len(found) == 2
    for status in found:
        assert status["summary"]["volume"] == pytest.approx(6000, rel=1e-6)
        assert server.client.get(f"/api/meshes/{status['mesh']}").content[:4] == b"glTF"
