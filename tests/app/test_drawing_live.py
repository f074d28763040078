"""Drawings on the live channel: a pulled point is previewed, a broken drawing is still shown, everybody hears of both."""

from __future__ import annotations

from typing import Any

import pytest

from tests.app.server import Server
from tests.app.test_live import preview
from tests.closeness import assert_close
from tests.core.drawing.drawings import flange

Draw = dict[str, Any]


def draw(*acts: dict[str, Any], section: str = "section-8") -> Draw:
    return {"do": "draw", "step": section, "acts": list(acts)}


@pytest.fixture
def drawn(server: Server, tarn: str) -> str:
    """The flask with a drawn shoulder whose radius is free."""
    server.edit(tarn, 1, draw())
    shape = server.read(tarn)["document"]["steps"][7]["params"]["shape"]
    radius = next(h["id"] for h in shape["holds"] if h["type"] == "radius")
    server.edit(tarn, 2, draw({"act": "drop", "things": [radius]}))
    return tarn


def corner(server: Server, design: str) -> tuple[str, list[float]]:
    shape = server.read(design)["document"]["steps"][7]["params"]["shape"]
    return next((p, at) for p, at in shape["points"].items() if abs(at[0] - 33) < 1e-6 and at[1] > 0)


def test_a_pulled_point_is_previewed_and_leaves_no_trace(server: Server, drawn: str) -> None:
    point, (x, _) = corner(server, drawn)
    with server.live(drawn) as live:
        before = live.step("loft-13")["summary"]["volume"]
        live.send(preview(1, 3, draw({"act": "pull", "points": {point: [x, 20.0]}})))
        section = live.step("section-8", preview=1)
        assert_close(section["summary"]["drawing"]["points"][point][1], 20.0, within=0.01)
        assert section["summary"]["drawing"]["freedoms"] == 1
        assert live.step("loft-13", preview=1)["summary"]["volume"] > before + 100
        live.send(preview(2, 3))
        assert_close(live.step("loft-13", preview=2)["summary"]["volume"], before, within=1e-6)
    assert server.read(drawn)["revision"] == 3


def test_a_preview_and_the_change_it_becomes_are_the_same(server: Server, drawn: str) -> None:
    point, (x, _) = corner(server, drawn)
    pulled = draw({"act": "pull", "points": {point: [x, 17.0]}})
    with server.live(drawn) as live:
        live.done()
        live.send(preview(1, 3, pulled))
        seen = live.step("loft-13", preview=1)["key"]
        server.edit(drawn, 3, pulled)
        live.until(lambda e: e["type"] == "solid" and e["key"] == seen)


def test_a_broken_drawing_is_shown_while_its_body_waits(server: Server, drawn: str) -> None:
    with server.live(drawn) as live:
        live.done()
        shape = server.read(drawn)["document"]["steps"][7]["params"]["shape"]
        side = next(c["id"] for c in shape["curves"] if c["type"] == "line" and not c.get("construction"))
        server.edit(drawn, 3, draw({"act": "drop", "things": [side]}))
        section = live.step("section-8", revision=4)
        assert not section["summary"]["closed"]
        assert len(section["summary"]["drawing"]["curves"]) == len(shape["curves"]) - 1
        body = live.step("loft-13", revision=4)
        assert body["state"] == "failed"
        assert body["last_good"], "the last good shape stays on screen"
        [told] = [f for f in body["findings"] if f["code"] == "open-outline"]
        assert told["fixes"][0]["label"] == "Close it with a straight line"
        # something else is drawn: still no outline, but the drawing on screen has to follow
        server.edit(drawn, 4, draw({"act": "add", "points": {"$a": [0, 0], "$b": [5, 5]}, "curves": [{"type": "line", "start": "$a", "end": "$b"}]}))
        assert len(live.step("section-8", revision=5)["summary"]["drawing"]["curves"]) == len(shape["curves"])
        server.client.post(f"/api/designs/{drawn}/undo", json={"base_revision": 5})
        server.client.post(f"/api/designs/{drawn}/undo", json={"base_revision": 4})
        assert live.step("loft-13", revision=3)["state"] == "ready"


def test_repairs_are_edits_as_they_stand(server: Server, drawn: str) -> None:
    shape = server.read(drawn)["document"]["steps"][7]["params"]["shape"]
    side = next(c["id"] for c in shape["curves"] if c["type"] == "line" and not c.get("construction"))
    server.edit(drawn, 3, draw({"act": "hold", "type": "length", "of": [side], "value": "1 in"}))
    length = server.read(drawn)["document"]["steps"][7]["params"]["shape"]["holds"][-1]
    assert length["value"] == "1 in"
    server.edit(drawn, 4, draw({"act": "hold", "type": "length", "of": [side], "value": 60}))
    with server.live(drawn) as live:
        steps = live.until(lambda e: e["type"] == "snapshot")["steps"]
        found = next(s for s in steps if s["id"] == "section-8")
        if not found["findings"]:
            found = live.step("section-8", revision=5)
    [dispute] = [f for f in found["findings"] if f["code"] == "holds-contradict"]
    assert "length 60" in dispute["title"].lower()
    assert "1 in" in dispute["detail"]
    for fix in dispute["fixes"][:2]:
        mended = server.edit(drawn, server.read(drawn)["revision"], *fix["edits"])
        assert mended.status_code == 200, mended.text
        server.client.post(f"/api/designs/{drawn}/undo", json={"base_revision": mended.json()["revision"]})


def test_the_lines_of_a_large_drawing_come_before_its_areas(server: Server) -> None:
    plate = flange(60)
    design = str(server.client.post("/api/designs", json={"name": "Plate"}).json()["id"])
    station = {"do": "add-step", "kind": "station", "name": "Plate", "params": {"offset": 0.0}, "alias": "$station"}
    params = {"station": {"step": "$station"}, "shape": {"type": "drawing", **plate}}
    server.edit(design, 1, station, {"do": "add-step", "kind": "section", "name": "Outline", "params": params}).raise_for_status()
    section = server.read(design)["document"]["steps"][-1]["id"]
    x, y = plate["points"]["p1"]

    def pulled(by: float) -> Draw:
        return draw({"act": "pull", "points": {"p1": [x + by, y]}}, section=section)

    with server.live(design) as live:
        kept = live.step(section)["summary"]["drawing"]
        live.done()
        live.send(preview(1, 2, pulled(1)))
        lines = live.until(lambda e: e["type"] == "penned")["lines"]
        told = live.step(section, preview=1)["summary"]["drawing"]
        assert lines["points"] == told["points"] != kept["points"]
        assert lines["paths"] == {curve["id"]: curve["path"] for curve in told["curves"]}
        # the hand goes on as soon as the lines are there: the last is told in full
        for number in range(2, 9):
            live.send(preview(number, 2, pulled(number)))
            live.until(lambda e, number=number: e["type"] == "penned" and e["preview"] == number)
        last = live.step(section, preview=8)["summary"]["drawing"]
        assert_close(last["points"]["p1"][0], x + 8, within=0.5)
        # put back before its areas are known: what is kept is told again, although it was told before
        live.send(preview(9, 2, pulled(9)))
        live.until(lambda e: e["type"] == "penned" and e["preview"] == 9)
        live.send(preview(10, 2))
        assert live.until(lambda e: e["type"] == "penned" and e["preview"] == 10)["lines"]["points"] == kept["points"]
        back = live.until(lambda e: e["type"] == "step" and e["step"]["id"] == section and e["preview"] in (10, None))
        assert back["step"]["summary"]["drawing"] == kept


def test_a_body_of_a_heavy_drawing_follows_when_the_hand_rests_and_at_once_when_it_lets_go(server: Server) -> None:
    plate = flange(90)
    design = str(server.client.post("/api/designs", json={"name": "Heavy plate"}).json()["id"])
    station = {"do": "add-step", "kind": "station", "name": "Plate", "params": {"offset": 0.0}, "alias": "$station"}
    params = {"station": {"step": "$station"}, "shape": {"type": "drawing", **plate, "use": ["c3"]}}
    section = {"do": "add-step", "kind": "section", "name": "Outline", "params": params, "alias": "$outline"}
    body = {"do": "add-step", "kind": "extrude", "name": "Pin", "params": {"section": {"step": "$outline"}, "distance": 5.0}}
    server.edit(design, 1, station, section, body).raise_for_status()
    outline, extruded = (step["id"] for step in server.read(design)["document"]["steps"][-2:])
    x, y = plate["points"]["p4"]

    def pulled(by: float) -> Draw:
        return draw({"act": "pull", "points": {"p4": [x + by, y]}}, section=outline)

    with server.live(design) as live:
        live.done()
        for number in range(1, 7):
            live.send(preview(number, 2, pulled(number)))
            live.until(lambda e, number=number: e["type"] == "penned" and e["preview"] == number)
        # nothing newer comes: the body of the last is told
        assert_close(live.step(extruded, preview=6)["summary"]["center"], (x + 6, y, 2.5), within=1e-6)
        live.send(preview(7, 2, pulled(7)))
        live.until(lambda e: e["type"] == "penned" and e["preview"] == 7)
        server.edit(design, 2, pulled(7)).raise_for_status()
        told = live.until(lambda e: e["type"] == "step" and e["step"]["id"] == extruded and e["revision"] == 3 and e["step"]["key"])
        assert_close(told["step"]["summary"]["center"], (x + 7, y, 2.5), within=1e-6)


@pytest.mark.parametrize("large", [False, True])
def test_a_window_that_closes_under_the_hand_leaves_nothing_on_the_screens_of_others(server: Server, drawn: str, large: bool) -> None:
    """large: the lines of what it pulled are all that was told of it."""
    point, (x, _) = corner(server, drawn)
    with server.live(drawn) as other:
        other.done()
        kept = server.read(drawn)["document"]
        volume = {}
        with server.live(drawn) as live:
            live.done()
            for number, y in enumerate((19.0, 20.0), start=1):
                live.send(preview(number, 3, draw({"act": "pull", "points": {point: [x, y]}})))
                lines = other.until(lambda e, number=number: e["type"] == "penned" and e["preview"] == number)["lines"]
                assert_close(lines["points"][point][1], y, within=0.01)
            if not large:
                volume["pulled"] = other.step("loft-13", preview=2)["summary"]["volume"]
        back = other.until(lambda e: e["type"] == "step" and e["step"]["id"] == "section-8" and e["preview"] in (None, 3))
        assert_close(back["step"]["summary"]["drawing"]["points"][point], corner(server, drawn)[1], within=1e-9)
        if not large:
            volume["back"] = other.step("loft-13")["summary"]["volume"]
            assert volume["pulled"] > volume["back"] + 100
    assert server.read(drawn)["document"] == kept
    assert server.read(drawn)["revision"] == 3
