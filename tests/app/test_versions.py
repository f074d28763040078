"""Named versions, going back to old ones, cuts, and what is refused."""

from __future__ import annotations

from pathlib import Path

from tests.app.server import Server, set_offset, wait_until
from tests.closeness import assert_close


def volume(server: Server, design: str) -> float:
    with server.live(design) as live:
        live.done()
    wait_until(lambda: not next(c for c in server.client.get("/api/designs").json() if c["id"] == design)["building"])
    return float(next(c for c in server.client.get("/api/designs").json() if c["id"] == design)["shown"]["volume"])


def test_a_version_is_named_compared_and_opened_again(server: Server, tarn: str) -> None:
    before = volume(server, tarn)
    named = server.client.post(f"/api/designs/{tarn}/versions", json={"revision": 1, "name": "As it began"})
    assert named.status_code == 201
    server.edit(tarn, 1, set_offset("station-7", 120.0))
    after = volume(server, tarn)
    assert abs(after - before) > 1000
    bodies = server.client.get(f"/api/designs/{tarn}/revisions/1/bodies").json()
    assert [body["name"] for body in bodies] == ["Flask"]
    assert_close(bodies[0]["summary"]["volume"], before, within=1e-6)
    assert server.client.get(f"/api/meshes/{bodies[0]['mesh']}").content[:4] == b"glTF"
    opened = server.client.post(f"/api/designs/{tarn}/revisions/1/open", json={"base_revision": 2}).json()
    assert (opened["revision"], opened["undo"]) == (3, "go back to an older state")
    assert_close(volume(server, tarn), before, within=1e-6)
    assert [v["name"] for v in server.client.get(f"/api/designs/{tarn}/versions").json()] == ["As it began"]
    assert server.client.delete(f"/api/designs/{tarn}/versions/{named.json()['number']}").status_code == 204
    assert server.client.get(f"/api/designs/{tarn}/versions").json() == []


def test_versions_survive_a_restart(tmp_path: Path, samples: Path) -> None:
    server = Server(tmp_path).start()
    design = server.client.post("/api/designs/file", content=(samples / "bailer.json").read_bytes()).json()["id"]
    server.client.post(f"/api/designs/{design}/versions", json={"revision": 1, "name": "Kept"})
    server.stop()
    again = Server(tmp_path).start()
    try:
        assert [v["name"] for v in again.client.get(f"/api/designs/{design}/versions").json()] == ["Kept"]
    finally:
        again.stop()


def test_what_is_not_there_is_said_so(server: Server, tarn: str) -> None:
    for answer in (
        server.client.post(f"/api/designs/{tarn}/versions", json={"revision": 99, "name": "x"}),
        server.client.get(f"/api/designs/{tarn}/revisions/99/bodies"),
        server.client.post(f"/api/designs/{tarn}/revisions/99/open", json={"base_revision": 1}),
        server.client.delete(f"/api/designs/{tarn}/versions/99999"),
    ):
        assert (answer.status_code, answer.json()["code"]) == (404, "unknown-revision")


def test_a_cut_is_one_change_and_the_body_stays(server: Server, tarn: str) -> None:
    before = volume(server, tarn)
    cut = server.client.post(f"/api/designs/{tarn}/cuts", json={"base_revision": 1, "step": "loft-13", "at": 105.0})
    assert (cut.status_code, cut.json()["revision"]) == (200, 2)
    assert len(next(s for s in cut.json()["document"]["steps"] if s["id"] == "loft-13")["params"]["sections"]) == 7
    assert_close(volume(server, tarn), before, within=2e-6 * before)
    refused = server.client.post(f"/api/designs/{tarn}/cuts", json={"base_revision": 2, "step": "loft-13", "at": 500.0})
    assert (refused.status_code, refused.json()["code"]) == (422, "cut-refused")
    assert "between the first and the last" in refused.json()["detail"]
    stale = server.client.post(f"/api/designs/{tarn}/cuts", json={"base_revision": 1, "step": "loft-13", "at": 50.0})
    assert (stale.status_code, stale.json()["code"]) == (409, "stale-base")
