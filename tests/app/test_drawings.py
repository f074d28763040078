"""Drawings over the interface: curves brought in, drawings handed out, the library."""

from __future__ import annotations

from math import pi
from typing import Any

import httpx
import psutil
import pytest

from tests.app.server import Server, answered_within, wait_until
from tests.app.test_interface import assert_problem
from tests.core.steps.test_sweep_step import line

SQUARE = "\n".join(f"{x} {y}" for x, y in [(0, 0), (10, 0), (20, 0), (20, 10), (20, 20), (10, 20), (0, 20), (0, 10), (0, 0)])


def bring(server: Server, design: str, data: bytes | str, name: str, **more: Any) -> httpx.Response:
    base = server.read(design)["revision"]
    params = {"base_revision": base, "file_name": name, **more}
    return server.client.post(f"/api/designs/{design}/drawings/section-8/curves", params=params, content=data)


@pytest.fixture
def blank(server: Server, tarn: str) -> str:
    server.edit(tarn, 1, {"do": "set-param", "step": "section-8", "path": ["shape"], "value": {"type": "drawing"}})
    return tarn


def area(server: Server, design: str) -> float:
    with server.live(design) as live:
        live.until(lambda e: (e["type"] == "snapshot" and e["complete"]) or e["type"] == "done")
    with server.live(design) as live:
        steps = live.until(lambda e: e["type"] == "snapshot")["steps"]
        return float(next(s for s in steps if s["id"] == "section-8")["summary"]["area"])


def test_curves_come_in_as_one_change_with_their_deviation(server: Server, blank: str) -> None:
    found = bring(server, blank, SQUARE, "square.txt", scale=2, turn=30, x=5, y=-3)
    assert found.status_code == 200, found.text
    told = found.json()
    assert told["design"]["revision"] == 3
    assert told["deviation"] <= 0.01
    wait_until(lambda: abs(area(server, blank) - 1600) < 1e-6)


def test_what_would_come_in_is_seen_and_changes_nothing(server: Server, blank: str) -> None:
    seen = server.client.post(f"/api/designs/{blank}/curves", params={"file_name": "square.txt", "unit": 10, "x": 5}, content=SQUARE)
    assert seen.status_code == 200, seen.text
    told = seen.json()
    assert (told["says_unit"], told["asks_chord"], told["layers"]) == (False, False, [""])
    assert told["box"] == [[pytest.approx(5), pytest.approx(0)], [pytest.approx(205), pytest.approx(200)]]
    assert all(path.startswith("M") for path in told["paths"])
    assert server.read(blank)["revision"] == 2
    assert_problem(server.client.post(f"/api/designs/{blank}/curves", params={"file_name": "cut.csv"}, content=b"1 2\n5"), 422, "file-refused")
    assert_problem(server.client.post("/api/designs/nowhere/curves", params={"file_name": "square.txt"}, content=SQUARE), 404, "unknown-design")


def test_curves_come_in_place_of_what_is_drawn(server: Server, blank: str) -> None:
    bring(server, blank, SQUARE, "square.txt")
    found = bring(server, blank, SQUARE, "square.txt", scale=2, instead=True)
    assert found.status_code == 200, found.text
    wait_until(lambda: abs(area(server, blank) - 1600) < 1e-6)
    assert found.json()["design"]["revision"] == 4


@pytest.mark.parametrize(
    ("data", "name"),
    [
        (b"\x00\x01\x02" * 1000, "binary.dat"),
        (b"1 2\n3 4\n5", "cut.csv"),
        ("\n".join(f"{i} {i % 7}" for i in range(1_000_000)).encode(), "million.txt"),
        (b'<!DOCTYPE s [<!ENTITY a "aaaa">]><svg xmlns="http://www.w3.org/2000/svg"><text>&a;</text></svg>', "bomb.svg"),
        (b"  0\nSECTION\n", "cut.dxf"),
        (b"anything", "part.step"),
        (b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0' + b"L1.5 2.5" * 1_000_000 + b'"/></svg>', "million.svg"),
        (b"0\nSECTION\n2\nENTITIES\n" + b"0\nPOINT\n10\n1.0\n20\n2.0\n" * 600_000, "million.dxf"),
    ],
    ids=lambda value: value if isinstance(value, str) else "",
)
def test_a_broken_file_is_refused_in_words_and_nothing_changes(server: Server, blank: str, data: bytes, name: str) -> None:
    server_process = psutil.Process(server.pid)
    before = server_process.memory_info().rss
    answered_within(2, lambda: assert_problem(bring(server, blank, data, name), 422, "file-refused"))
    assert server.read(blank)["revision"] == 2
    assert server_process.memory_info().rss - before < 80 * 2**20


def test_a_drawing_goes_out_in_real_size_and_comes_back(server: Server, blank: str) -> None:
    bring(server, blank, SQUARE, "square.txt")
    for ending, words in (("dxf", b"LINE"), ("svg", b"<svg")):
        out = server.client.get(f"/api/designs/{blank}/drawings/section-8", params={"format": ending})
        assert out.status_code == 200
        assert words in out.content
        server.edit(blank, server.read(blank)["revision"], {"do": "set-param", "step": "section-8", "path": ["shape"], "value": {"type": "drawing"}})
        assert bring(server, blank, out.content, f"again.{ending}").status_code == 200
        wait_until(lambda: abs(area(server, blank) - 400) < 1e-3)
    assert_problem(server.client.get(f"/api/designs/{blank}/drawings/loft-13", params={"format": "svg"}), 422, "file-refused")


def test_an_old_base_and_an_act_that_does_not_fit_are_refused(server: Server, blank: str) -> None:
    params = {"base_revision": 1, "file_name": "square.txt"}
    stale = server.client.post(f"/api/designs/{blank}/drawings/section-8/curves", params=params, content=SQUARE)
    assert_problem(stale, 409, "stale-base")
    wrong = {"do": "draw", "step": "section-8", "acts": [{"act": "fillet", "point": "p77", "radius": 3}]}
    assert "no p77" in assert_problem(server.edit(blank, 2, wrong), 422, "edit-refused")["detail"]
    assert_problem(server.edit(blank, 2, {"do": "draw", "step": "section-8", "acts": [{"act": "explode"}]}), 422, "invalid-request")
    assert_problem(server.edit(blank, 2, {"do": "draw", "step": "loft-13", "acts": []}), 422, "edit-refused")


def test_the_library_keeps_profiles_over_a_restart(tmp_path: Any) -> None:
    server = Server(tmp_path).start("demo")
    try:
        tarn = server.designs()["Tarn flask"]
        assert server.client.post("/api/profiles", json={"design": tarn, "step": "section-10", "name": "Neck"}).status_code == 204
        assert_problem(server.client.post("/api/profiles", json={"design": tarn, "step": "loft-13", "name": "No"}), 422, "no-profile")
        server.stop()
        server = Server(tmp_path).start()
        listed = {p["name"]: p for p in server.client.get("/api/profiles").json()}
        assert listed["Neck"]["own"]
        assert listed["moulding"]["parameters"]
        assert all(p["paths"] for p in listed.values())
        begun = {"base_revision": server.read(tarn)["revision"], "name": "Neck", "own": True}
        assert server.client.post(f"/api/designs/{tarn}/drawings/section-8/profile", json=begun).status_code == 200
        wait_until(lambda: abs(area(server, tarn) - pi / 4 * 35**2) < 1e-3)
        wrong = {"base_revision": server.read(tarn)["revision"], "name": "slot", "own": False, "values": {"length": 5}}
        assert_problem(server.client.post(f"/api/designs/{tarn}/drawings/section-8/profile", json=wrong), 422, "no-profile")
        assert server.client.delete("/api/profiles/Neck").status_code == 204
        assert_problem(server.client.delete("/api/profiles/Neck"), 404, "no-profile")
    finally:
        server.stop()


def test_a_drawing_that_follows_a_body_is_no_profile(server: Server, tarn: str) -> None:
    trace = {"id": "c1", "type": "trace", "of": {"step": "loft-13", "part": "loft-13/end|loft-13/side.1"}}
    late = {"do": "add-step", "kind": "section", "name": "Late", "params": {"station": {"step": "station-11"}}}
    shape = {"type": "drawing", "points": {}, "curves": [trace], "holds": []}
    edited = server.edit(tarn, 1, {**late, "params": {**late["params"], "shape": shape}}).json()
    section = edited["document"]["steps"][-1]["id"]
    refused = server.client.post("/api/profiles", json={"design": tarn, "step": section, "name": "Borrowed"})
    assert "release it first" in assert_problem(refused, 422, "no-profile")["detail"]


def test_a_drawing_that_is_held_to_a_rail_is_no_profile(server: Server, tarn: str) -> None:
    rail = {"do": "add-step", "kind": "rail", "name": "Edge", "params": {"shape": line((30, 0, 0), (30, 0, 200))}}
    edge = server.edit(tarn, 1, rail).json()["document"]["steps"][-1]["id"]
    shape = {
        "type": "drawing",
        "points": {"p1": [30, 0]},
        "holds": [{"id": "h2", "type": "passes", "of": ["p1"], "rail": {"step": edge}, "at": [30, 0]}],
    }
    late = {"do": "add-step", "kind": "section", "name": "Late", "params": {"station": {"step": "station-11"}, "shape": shape}}
    section = server.edit(tarn, 2, late).json()["document"]["steps"][-1]["id"]
    refused = server.client.post("/api/profiles", json={"design": tarn, "step": section, "name": "Led"})
    assert "Point 1 is held where Edge passes" in assert_problem(refused, 422, "no-profile")["detail"]
