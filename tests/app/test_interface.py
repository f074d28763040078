"""The HTTP interface on a real server: designs, edits, files, and every refusal as a problem document."""

from __future__ import annotations

import json
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.app.server import Server, set_offset, wait_until
from tests.closeness import assert_close


def assert_problem(response: httpx.Response, status: int, code: str) -> dict[str, Any]:
    assert response.status_code == status, response.text
    assert response.headers["content-type"] == "application/problem+json"
    problem = response.json()
    assert (problem["status"], problem["code"]) == (status, code)
    assert problem["title"]
    assert problem["detail"]
    return problem


def test_the_demo_designs_are_on_the_rack(server: Server) -> None:
    assert {"Tarn flask", "Bailer spout"} <= set(server.designs())
    assert server.client.post("/api/designs/demo").json() == {"added": 0}


def test_a_design_from_beginning_to_end(server: Server) -> None:
    made = server.client.post("/api/designs", json={"name": "Trial"})
    assert made.status_code == 201
    design = made.json()["id"]
    station = {"do": "add-step", "kind": "station", "name": "Base", "params": {"plane": "top", "offset": "2 cm"}}
    edited = server.edit(design, 1, station).json()
    assert edited["revision"] == 2
    assert edited["document"]["steps"][0]["params"]["offset"] == "2 cm"
    undone = server.client.post(f"/api/designs/{design}/undo", json={"base_revision": 2}).json()
    assert (undone["document"]["steps"], undone["redo"]) == ([], "add Base")
    redone = server.client.post(f"/api/designs/{design}/redo", json={"base_revision": 1}).json()
    assert len(redone["document"]["steps"]) == 1
    assert server.client.delete(f"/api/designs/{design}").status_code == 204
    assert_problem(server.client.get(f"/api/designs/{design}"), 404, "unknown-design")


def test_the_document_goes_out_as_it_came_in(server: Server, tarn: str, samples: Path) -> None:
    response = server.client.get(f"/api/designs/{tarn}/document")
    assert 'filename="Tarn-flask.wander.json"' in response.headers["content-disposition"]
    again = server.client.post("/api/designs/file", content=response.content).json()
    assert again["document"] == server.read(tarn)["document"]
    assert [s["id"] for s in again["document"]["steps"]] == [s["id"] for s in json.loads((samples / "tarn.json").read_bytes())["steps"]]


def test_an_edit_that_changes_nothing_is_no_revision(server: Server, tarn: str) -> None:
    assert server.edit(tarn, 1, set_offset("station-1", 0.0)).json()["revision"] == 1


def test_an_old_base_is_refused_with_the_current_one(server: Server, tarn: str) -> None:
    server.edit(tarn, 1, set_offset("station-7", 133.0))
    problem = assert_problem(server.edit(tarn, 1, set_offset("station-7", 134.0)), 409, "stale-base")
    assert problem["current"] == 2
    assert server.read(tarn)["document"]["steps"][6]["params"]["offset"] == 133.0
    assert_problem(server.client.post(f"/api/designs/{tarn}/redo", json={"base_revision": 2}), 409, "nothing-to-undo")


@pytest.mark.parametrize(
    ("edit", "code"),
    [
        (set_offset("station-99", 1.0), "edit-refused"),
        (set_offset("station-7", "__import__('os').system('touch /tmp/never')"), "edit-refused"),
        (set_offset("station-7", {"a": 1}), "edit-refused"),
        ({"do": "add-step", "kind": "wormhole", "name": "x", "params": {}}, "edit-refused"),
        ({"do": "explode"}, "invalid-request"),
        ({"do": "set-param", "step": "station-7"}, "invalid-request"),
        ({"do": "set-param", "step": "station-7", "path": [], "value": 1}, "invalid-request"),
        ({"do": "rename-design", "name": "x" * 81}, "invalid-request"),
        ("nonsense", "invalid-request"),
    ],
)
def test_a_bad_edit_is_refused_and_nothing_is_lost(server: Server, tarn: str, edit: Any, code: str) -> None:
    before = server.read(tarn)
    response = server.edit(tarn, 1, set_offset("station-1", 1.0), edit)
    problem = assert_problem(response, 422, code)
    if code == "edit-refused":
        assert problem["index"] == 1
    assert server.read(tarn) == before
    assert not Path("/tmp/never").exists()


@pytest.mark.parametrize(
    ("body", "told"),
    [
        (b"", "not JSON"),
        (b"\x00\xff", "not JSON"),
        (
            b'{"format": "wander-design/1", "name": "x", "steps": [{"id": "a-1", "kind": "b", "name": "c", "params": {}}], "next": 2}',
            "no kind of step",
        ),
        (b'{"format": "wander-design/1", "name": ["x"]}', "name"),
        (b'{"format": "wander-design/1", "name": "x", "dimensions": [{"name": "a", "value": "().__class__"}]}', "dimensions.0.value"),
    ],
)
def test_a_broken_file_is_refused_in_words(server: Server, body: bytes, told: str) -> None:
    count = len(server.designs())
    problem = assert_problem(server.client.post("/api/designs/file", content=body), 422, "unreadable-document")
    assert told in problem["detail"]
    assert len(server.client.get("/api/designs").json()) >= count


def test_fifty_megabytes_are_too_much_whether_announced_or_not(server: Server) -> None:
    block = b" " * 2**20
    assert_problem(server.client.post("/api/designs/file", content=block * 50), 413, "too-large")

    def drip():
        for _ in range(50):
            yield block

    try:
        assert_problem(server.client.post("/api/designs/file", content=drip()), 413, "too-large")
    except httpx.TransportError:
        # the server may hang up on a sender that does not listen
        assert server.client.get("/api/health").status_code == 200
    assert server.client.get("/api/health").status_code == 200


@pytest.mark.parametrize(("file_format", "head"), [("step", b"ISO-10303-21;"), ("stl", b""), ("glb", b"glTF"), ("obj", b"# mm")])
def test_exports(server: Server, tarn: str, file_format: str, head: bytes) -> None:
    response = server.client.get(f"/api/designs/{tarn}/export", params={"format": file_format, "tolerance": 0.2})
    assert response.status_code == 200
    assert response.content.startswith(head)
    assert f'filename="Tarn-flask.{file_format}"' in response.headers["content-disposition"]


def test_a_mesh_by_counts_and_loops_that_go_in(server: Server, tarn: str) -> None:
    wanted = {"format": "obj", "around": 16, "along": 10, "loops": [0.25, 0.75]}
    told = server.client.get(f"/api/designs/{tarn}/export", params=wanted).text.splitlines()
    assert told[0] == "# mm; 194 polygons: 192 with 4 sides, 2 with 16 sides"
    assert sum(line.startswith("f ") for line in told) == 194


def test_exports_that_can_not_be(server: Server, tarn: str) -> None:
    empty = server.client.post("/api/designs", json={"name": "Empty"}).json()["id"]
    problem = assert_problem(server.client.get(f"/api/designs/{empty}/export", params={"format": "stl"}), 422, "export-failed")
    assert "no body to hand over" in problem["detail"]
    for wrong in ({"format": "doc"}, {"format": "stl", "tolerance": 0}, {"format": "obj", "around": 0}, {"format": "obj", "loops": 2}, {}):
        assert_problem(server.client.get(f"/api/designs/{tarn}/export", params=wrong), 422, "invalid-request")


def test_meshes_are_for_ever(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        mesh = live.step("loft-13")["mesh"]
    response = server.client.get(f"/api/meshes/{mesh}")
    assert response.content.startswith(b"glTF")
    assert "immutable" in response.headers["cache-control"]
    assert response.headers["content-type"] == "model/gltf-binary"
    for wrong in ("0" * 32, "..%2F..%2Fwander.sqlite3", "zz"):
        found = server.client.get(f"/api/meshes/{wrong}")
        assert found.status_code == 404
        assert found.json()["code"] in ("unknown-mesh", "unknown-place")


def test_what_can_hold_a_drawing_is_published(server: Server) -> None:
    holds = {hold["type"]: hold for hold in server.client.get("/api/holds").json()}
    assert holds["tangent"]["takes"][0] == ["line", "arc|circle"]
    assert ["point", "point"] in holds["distance"]["takes"]
    assert holds["distance"]["measure"]
    assert not holds["parallel"]["measure"]
    assert holds["perpendicular"]["title"] == "Square to each other"


def test_kinds_and_schema_are_published(server: Server) -> None:
    kinds = {kind["name"]: kind for kind in server.client.get("/api/kinds").json()}
    made = {"loft", "extrude", "revolve", "sweep", "tube", "between", "turn", "wall", "fillet", "chamfer", "band", "dome"}
    surfaces = {"bridge", "trim", "sew", "patch", "offset", "extend"}
    placed = {"station", "section", "rail", "picture", "part", "reference"}
    assert set(kinds) == {*placed, *made, "combine", "move", "mirror", "repeat", *surfaces, "measure"}
    assert kinds["section"]["params"]["$defs"]["Circle"]["properties"]["diameter"]["x-quantity"] == "length"
    assert server.client.get("/api/schema").json()["$id"] == "wander-design/1"


def test_places_that_are_none(server: Server) -> None:
    assert_problem(server.client.get("/api/nowhere"), 404, "unknown-place")
    assert_problem(server.client.put("/api/designs"), 405, "not-allowed")
    assert server.client.get("/../../etc/passwd").status_code in (200, 404)
    assert "root:" not in server.client.get("/..%2f..%2fetc/passwd").text


def test_many_clients_at_once_lose_nothing(server: Server) -> None:
    made = [server.client.post("/api/designs", json={"name": f"Load {i}"}).json()["id"] for i in range(8)]

    def work(design: str) -> int:
        with httpx.Client(base_url=server.url, timeout=30) as client:
            revision = 1
            for k in range(10):
                edit = {"do": "set-dimension", "name": f"d{k}", "value": float(k)}
                answer = client.post(f"/api/designs/{design}/edits", json={"base_revision": revision, "edits": [edit]})
                revision = answer.json()["revision"]
            return revision

    with ThreadPoolExecutor(8) as pool:
        assert list(pool.map(work, made)) == [11] * 8
    for design in made:
        assert len(server.read(design)["document"]["dimensions"]) == 10
        server.client.delete(f"/api/designs/{design}")


def test_the_area_where_bodies_are_cut_open(server: Server, tarn: str) -> None:
    """At a station it is the area of the section that stands there, from either side; a direction without length is refused in words."""
    with server.live(tarn) as live:
        live.done()
    with server.live(tarn) as live:
        steps = {step["id"]: step for step in live.until(lambda e: e["type"] == "snapshot")["steps"]}
    run = steps["loft-13"]["summary"]["run"]
    wanted = {stand["at"]: steps[stand["section"]]["summary"]["area"] for stand in run[1:-1]}
    for at, area in wanted.items():
        for sign in (1, -1):
            found = server.client.get(f"/api/designs/{tarn}/section", params={"x": 0, "y": 0, "z": 2 * sign, "at": sign * at}).json()
            assert [one["step"] for one in found] == ["loft-13"]
            assert found[0]["area"] == pytest.approx(area, rel=2e-4)
    assert server.client.get(f"/api/designs/{tarn}/section", params={"x": 0, "y": 0, "z": 1, "at": -5}).json() == [{"step": "loft-13", "area": 0.0}]
    assert_problem(server.client.get(f"/api/designs/{tarn}/section", params={"x": 0, "y": 0, "z": 0, "at": 1}), 422, "file-refused")


def test_a_token_is_demanded_where_one_is_set(tmp_path: Path) -> None:
    guarded = Server(tmp_path, token="salt")
    try:
        guarded.client.headers["authorization"] = "Bearer salt"
        guarded.start()
        assert guarded.client.get("/api/designs").status_code == 200
        for wrong in ({}, {"authorization": "Bearer pepper"}):
            assert_problem(httpx.get(f"{guarded.url}/api/designs", headers=wrong), 401, "token-needed")
    finally:
        guarded.stop()


def test_the_rack_shows_all_bodies_of_a_design(server: Server) -> None:
    """Two blocks of 10 mm, 90 mm apart: both volumes, and the box round both. One that is left after a removal alone."""
    steps: list[dict[str, Any]] = []
    for number, offset in ((1, 0.0), (4, 90.0)):
        steps += [
            {"id": f"station-{number}", "kind": "station", "name": f"Place {number}", "params": {"plane": "top", "offset": offset}},
            {
                "id": f"section-{number + 1}",
                "kind": "section",
                "name": f"Square {number}",
                "params": {"station": {"step": f"station-{number}"}, "shape": {"type": "rectangle", "width": 10.0, "depth": 10.0}},
            },
            {
                "id": f"extrude-{number + 2}",
                "kind": "extrude",
                "name": f"Block {number}",
                "params": {"section": {"step": f"section-{number + 1}"}, "distance": 10.0},
            },
        ]
    raw = {"format": "wander-design/1", "name": "Two blocks", "steps": steps, "next": 7}
    made = str(server.client.post("/api/designs/file", content=json.dumps(raw)).json()["id"])

    def card() -> dict[str, Any]:
        return next(c for c in server.client.get("/api/designs").json() if c["id"] == made)

    wait_until(lambda: not card()["building"])
    shown = card()["shown"]
    assert len(shown["meshes"]) == 2
    assert_close(shown["volume"], 2000.0, within=1e-6)
    assert_close(shown["size"], [10.0, 10.0, 100.0], within=1e-6)
    server.edit(made, 1, *({"do": "remove-step", "step": step["id"]} for step in reversed(steps[3:])))
    wait_until(lambda: not card()["building"])
    assert_close(card()["shown"]["volume"], 1000.0, within=1e-6)
    server.edit(made, 2, {"do": "remove-step", "step": "extrude-3"})
    wait_until(lambda: not card()["building"])
    assert card()["shown"] is None, "where nothing stands nothing is shown"
