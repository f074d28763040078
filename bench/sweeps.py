"""Rows about sweeps: the core against the kernel's pipe shell, many tubes at once, and pulls on a path and on its twist in the browser."""

from __future__ import annotations

import json
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeWire
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipeShell
from OCP.collections import HArray1_gp_Pnt
from OCP.GeomAPI import GeomAPI_Interpolate
from OCP.gp import gp_Pnt
from OCP.TopoDS import TopoDS_Wire
from playwright.sync_api import Browser, Locator
from tests.app.server import Server
from tests.ui.browser import chromium
from tests.ui.floor import Floor

from bench.application import Drawing, trips, watched
from bench.geometry import ring
from bench.machine import Machine
from bench.table import Row, interleaved, percentile, ratio
from wander.core.design.memory import Memory
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import area_of
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import BASE_FRAMES
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.tolerances import DEFAULT
from wander.core.results.rails import Rail
from wander.core.shaping.laws import Laws
from wander.core.steps.carried import Carried

TUBES = 50


def path_places() -> Floats:
    t = np.linspace(0, 1, 30)
    return np.column_stack([300 * t, 60 * np.sin(5 * t), 40 * np.cos(4 * t)])


def fresh_sweep() -> Carried:
    """A section of 20 points along a spline through 30, nothing of it known yet."""
    return Carried([area_of(shapes.spline(ring(20, 12, 0.3)))], BASE_FRAMES["top"], Rail(open_through(path_places()), False), None, Laws())


def own_sweep(run: Carried) -> None:
    assert not run.folds
    run.skins("sweep-1", "section-2", DEFAULT)


def through(places: Floats, *, closed: bool) -> TopoDS_Wire:
    points = HArray1_gp_Pnt(1, len(places))
    for i, place in enumerate(places.tolist(), start=1):
        points.SetValue(i, gp_Pnt(*place))
    maker = GeomAPI_Interpolate(points, closed, 1e-7)
    maker.Perform()
    return BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(maker.Curve()).Edge()).Wire()


def kernel_wires() -> tuple[TopoDS_Wire, TopoDS_Wire]:
    """The path, and the section where the sweep has it at the start."""
    run = fresh_sweep()
    place, turn = run.placing.held.frames[0](np.zeros(1))
    return through(path_places(), closed=False), through(place[0] + run.placing.local(ring(20, 12, 0.3)) @ turn[0].T, closed=True)


def kernel_sweep(wires: tuple[TopoDS_Wire, TopoDS_Wire]) -> None:
    maker = BRepOffsetAPI_MakePipeShell(wires[0])
    maker.SetMode(False)
    maker.SetTolerance(DEFAULT.fit, DEFAULT.fit, 1e-2)
    maker.Add(wires[1])
    maker.Build()


def many_tubes() -> Document:
    steps: list[dict[str, Any]] = []
    for k in range(TUBES):
        points = [(0, 20 * k, 0), (40, 20 * k + 15, 10), (80, 20 * k, 10 + k / 2), (120, 20 * k + 10, 5)]
        shape = {"type": "spline", "points": [{"at": list(at)} for at in points]}
        steps.append({"id": f"rail-{k + 1}", "kind": "rail", "name": f"Rail {k + 1}", "params": {"shape": shape}})
    along = [{"step": step["id"]} for step in steps]
    steps.append({"id": "tube-99", "kind": "tube", "name": "Tubes", "params": {"paths": along, "diameter": 5.0}})
    return Document.model_validate({"format": "wander-design/1", "name": "Tubes", "steps": steps, "next": 100})


def core_rows() -> Iterator[Row]:
    own, kernel = interleaved(own_sweep, kernel_sweep, 9, fresh_sweep, kernel_wires)
    yield ratio("own sweep, 20 points along a spline of 30, against the kernel's pipe shell", own, kernel, 0.1)
    document, taken = many_tubes(), []
    for _ in range(3):
        begun = time.perf_counter()
        assert all(not step.findings for step in rebuild(document, Memory()))
        taken.append(time.perf_counter() - begun)
    yield Row(f"{TUBES} tubes in one action", min(taken), 2, "s", "rails and numbers included")


def grab_rail() -> str:
    """A bar along a climbing rail, twisted: as a document."""
    at = [(0, 0, 0), (50, 25, 20), (110, 0, 40), (160, 30, 50)]
    twist = {"type": "points", "points": [{"at": 0.0, "value": 0.0}, {"at": 0.5, "value": 20.0}, {"at": 1.0, "value": 40.0}]}
    refs = {"section": {"step": "section-2"}, "path": {"step": "rail-3"}}
    steps = [
        {"id": "station-1", "kind": "station", "name": "Ground", "params": {"plane": "top"}},
        {
            "id": "section-2",
            "kind": "section",
            "name": "Bar",
            "params": {"station": {"step": "station-1"}, "shape": {"type": "rounded-rectangle", "width": 18.0, "depth": 10.0, "radius": 3.0}},
        },
        {"id": "rail-3", "kind": "rail", "name": "Way", "params": {"shape": {"type": "spline", "points": [{"at": list(p)} for p in at]}}},
        {"id": "sweep-4", "kind": "sweep", "name": "Grab rail", "params": {**refs, "twist": twist}},
    ]
    return json.dumps({"format": "wander-design/1", "name": "Grab rail", "steps": steps, "next": 5})


def pulled_rows(browser: Browser, server: Server) -> Iterator[Row]:
    """A point of the path pulled in the scene, and a point of the twist pulled on the Run."""
    if "Grab rail" not in server.designs():
        server.client.post("/api/designs/file", content=grab_rail())
    for what, at in (("a path's point", _point), ("the twist of a sweep", _twist)):
        floor = watched(browser, server, "Grab rail")
        found = trips(floor.page, at(floor), Drawing(), reach=1)
        floor.page.context.close()
        note = f"{len(found)} moves of a drag"
        yield Row(f"{what} pulled, p50", percentile(found, 0.5), 60, "ms", note)
        yield Row(f"{what} pulled, p95", percentile(found, 0.95), 100, "ms", note)


def _point(floor: Floor) -> tuple[float, float]:
    floor.page.get_by_label("Build").get_by_text("through 4 points").click()
    return _middle(floor.page.get_by_test_id("scene").get_by_role("button", name="Point 2", exact=True))


def _twist(floor: Floor) -> tuple[float, float]:
    floor.page.get_by_label("Build").get_by_text("sweep of Bar").click()
    return _middle(floor.page.get_by_role("slider", name="Twist at 50 %"))


def _middle(of: Locator) -> tuple[float, float]:
    box = of.bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def rows(machine: Machine) -> Iterator[Row]:
    yield from machine.at_its_speed(core_rows)
    with chromium() as browser, tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder)).start()
        try:
            yield from machine.at_its_speed(lambda: pulled_rows(browser, server))
        finally:
            server.stop()
