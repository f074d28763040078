"""Rows about the core alone, against the kernel's own way of doing the same."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from math import sin

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeWire
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.BRepTools import BRepTools
from OCP.collections import HArray1_gp_Pnt
from OCP.GeomAPI import GeomAPI_Interpolate
from OCP.gp import gp_Pnt
from OCP.TopoDS import TopoDS_Shape, TopoDS_Wire

from bench.table import Row, interleaved, ratio
from wander.core.design.apply import apply_edits
from wander.core.design.memory import Memory
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document
from wander.core.document.edits import Edit, SetParam
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.model import Drawing
from wander.core.drawing.outlines import shapes
from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import BASE_FRAMES
from wander.core.geometry.interpolate import open_through
from wander.core.shaping.display import display_mesh
from wander.core.shaping.loft import Lofted, loft
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.skin import Skin


def ring(points: int, radius: float, wave: float) -> np.ndarray:
    turn = 2 * np.pi * np.arange(points) / points
    reach = radius * (1 + 0.12 * np.sin(2 * turn + wave) + 0.05 * np.sin(3 * turn))
    return np.column_stack([reach * np.cos(turn), reach * np.sin(turn)])


def sections(count: int, points: int) -> list[PlacedSection]:
    """Smooth closed sections without symmetry, up a body of 200 mm, as a section step hands them on: measured, their area known."""
    top = BASE_FRAMES["top"]
    loops = [shapes.spline(ring(points, 30 + 8 * sin(3 * i / (count - 1)), i / count)) for i in range(count)]
    assert all(loop.area > 0 and not loop.pace.is_even for loop in loops)
    return [PlacedSection(top.moved(200 * i / (count - 1)), loop.measured()) for i, loop in enumerate(loops)]


def own_loft(placed: list[PlacedSection], skin: Skin = Skin.CALM) -> Lofted:
    return loft(placed, [f"section-{i}" for i in range(len(placed))], name="loft-1", skin=skin)


def kernel_wires(placed: list[PlacedSection]) -> list[TopoDS_Wire]:
    """The same sections as the kernel makes them itself: periodic curves through the points."""
    found = []
    for section in placed:
        assert section.loop is not None
        curve = section.in_space().curve
        places = curve(curve.space.breaks[:-1])
        points = HArray1_gp_Pnt(1, len(places))
        for i, xyz in enumerate(places.tolist(), start=1):
            points.SetValue(i, gp_Pnt(*xyz))
        maker = GeomAPI_Interpolate(points, True, 1e-7)
        maker.Perform()
        found.append(BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(maker.Curve()).Edge()).Wire())
    return found


def kernel_loft(wires: list[TopoDS_Wire]) -> TopoDS_Shape:
    maker = BRepOffsetAPI_ThruSections(True, False, 1e-6)
    for wire in wires:
        maker.AddWire(wire)
    maker.Build()
    return maker.Shape()


def loft_rows() -> Iterator[Row]:
    like_a_batten = partial(own_loft, skin=Skin.BATTEN)
    own, kernel = interleaved(like_a_batten, kernel_loft, 15, lambda: sections(10, 16), lambda: kernel_wires(sections(10, 16)))
    yield ratio("own loft, one cubic like the kernel's, against it, 10 sections × 16 points", own, kernel, 0.05)
    own, kernel = interleaved(own_loft, kernel_loft, 15, lambda: sections(10, 16), lambda: kernel_wires(sections(10, 16)))
    yield ratio("the same with a fair skin", own, kernel, 0.04)
    many, few = interleaved(own_loft, own_loft, 11, lambda: sections(100, 16), lambda: sections(10, 16))
    yield Row("100 sections against 10, 16 points each", many / few, 10, "×", f"{many * 1e3:.1f} ms against {few * 1e3:.2f} ms")
    large, small = interleaved(own_loft, own_loft, 11, lambda: sections(100, 64), lambda: sections(10, 16))
    yield Row("100 sections × 64 points against 10 × 16", large / small, 10, "×", f"{large * 1e3:.1f} ms against {small * 1e3:.2f} ms")


def railed(sections_: int, rails: int) -> tuple[list[PlacedSection], list[Curve]]:
    """Sections, and rails that bow out between them and pass through each at the same share of its outline."""
    placed = sections(sections_, 16)
    outlines = [section.in_space().curve for section in placed]
    found = []
    for share in np.arange(rails) / rails:
        met = np.array([curve(np.array([share]))[0] for curve in outlines])
        found.append(open_through(met))
    return placed, found


def railed_loft(given: tuple[list[PlacedSection], list[Curve]]) -> Lofted:
    placed, rails = given
    return loft(placed, [f"section-{i}" for i in range(len(placed))], name="loft-1", rails=rails)


def rail_rows() -> Iterator[Row]:
    own, kernel = interleaved(railed_loft, kernel_loft, 9, lambda: railed(8, 4), lambda: kernel_wires(sections(8, 16)))
    yield ratio("own loft with 4 rails against the kernel's without, 8 sections × 16 points", own, kernel, 0.1)
    many, few = interleaved(railed_loft, railed_loft, 5, lambda: railed(100, 8), lambda: railed(10, 8))
    yield Row("100 sections × 8 rails against 10 × 8", many / few, 12, "×", f"{many * 1e3:.1f} ms against {few * 1e3:.2f} ms")


def display_row() -> Row:
    shell = own_loft(sections(10, 16)).shell
    shape = kernel_loft(kernel_wires(sections(10, 16)))

    def bare() -> TopoDS_Shape:
        BRepTools.Clean_s(shape)
        return shape

    own, kernel = interleaved(lambda shell: display_mesh(shell, 0.05), lambda bare: BRepMesh_IncrementalMesh(bare, 0.05), 9, lambda: shell, bare)
    return ratio("display grid at 0.05 mm against the kernel's mesher", own, kernel, 0.02)


def long_design() -> Document:
    """60 steps: four bodies of seven sections each, every section on a station of its own."""
    steps: list[dict[str, object]] = []

    def add(kind: str, params: dict[str, object]) -> str:
        number = len(steps) + 1
        steps.append({"id": f"{kind}-{number}", "kind": kind, "name": f"{kind} {number}", "params": params})
        return f"{kind}-{number}"

    for body in range(4):
        items = []
        for i in range(7):
            station = add("station", {"plane": "top", "offset": 200.0 * body + 20.0 * i})
            shape = {"type": "spline", "points": ring(16, 20 + i, body + i).round(3).tolist(), "closed": True}
            items.append({"section": {"step": add("section", {"station": {"step": station}, "shape": shape})}})
        if body < 3:
            add("loft", {"sections": items})
    add("section", {"station": {"step": station}, "shape": {"type": "circle", "diameter": 20.0}})
    return Document.model_validate({"format": "wander-design/1", "name": "Long", "steps": steps, "next": len(steps) + 1})


def last_step_row() -> Row:
    """The last step edited, everything before it known, against building the whole design from nothing."""
    document = long_design()
    last = document.steps[-1].id
    assert len(document.steps) == 60
    cache = Memory()
    list(rebuild(document, cache))
    sizes = iter(range(1, 1000))

    def another_size() -> list[Edit]:
        return [SetParam(do="set-param", step=last, path=["shape", "diameter"], value=20.0 + next(sizes) / 8)]

    def edited(edits: list[Edit]) -> None:
        nonlocal document
        document = apply_edits(document, edits)
        list(rebuild(document, cache))

    own, whole = interleaved(edited, lambda fresh: list(rebuild(document, fresh)), 15, another_size, Memory)
    return ratio("edit of the last of 60 steps against rebuilding all", own, whole, 0.05, names=("edit", "all"))


def ladder(cells: int) -> Drawing:
    """A ladder of lines, all of them hanging together: two entities and three and a half holds to a cell."""
    points: dict[str, tuple[float, float]] = {}
    curves: list[dict[str, object]] = []
    holds: list[dict[str, object]] = []

    def line(start: int, end: int, *held: tuple[str, float | None]) -> None:
        curves.append({"id": f"c{len(curves) + 1}", "type": "line", "start": f"p{start}", "end": f"p{end}"})
        for kind, value in held:
            size = {} if value is None else {"value": value}
            holds.append({"id": f"h{len(holds) + 1}", "type": kind, "of": [f"c{len(curves)}"], **size})

    for i in range(cells + 1):
        points[f"p{2 * i + 1}"], points[f"p{2 * i + 2}"] = (10.0 * i, 0.0), (10.0 * i + 0.3, 8.0)
        line(2 * i + 1, 2 * i + 2, ("vertical", None), ("length", 8.0 + 0.1 * (i % 5)))
        if i < cells:
            line(2 * i + 1, 2 * i + 3, ("horizontal", None), *([("length", 10.0)] if i % 2 == 0 else []))
    return solve(Drawing.model_validate({"points": points, "curves": curves, "holds": holds})).drawing


def drag_of(drawing: Drawing) -> Callable[[float], object]:
    """One step of a drag: a point a little way on, and everything held again."""
    x, y = drawing.points["p9"]
    return lambda by: solve(drawing, {"p9": (x + by, y + by / 2)})


def solver_rows() -> Iterator[Row]:
    small, large = ladder(100), ladder(400)
    steps = iter(np.linspace(0.5, 2.5, 400).tolist())
    one, four = interleaved(drag_of(small), drag_of(large), 15, lambda: float(next(steps)), lambda: float(next(steps)))
    yield Row("a drag step in a drawing solved", one * 1e3, 50, "ms", f"{len(small.curves)} entities, {len(small.holds)} holds")
    yield Row("the same with four times as much", four / one, 8, "×", f"{four * 1e3:.0f} ms; {len(large.curves)} entities, {len(large.holds)} holds")


def rows() -> Iterator[Row]:
    yield from loft_rows()
    yield from rail_rows()
    yield display_row()
    yield last_step_row()
    yield from solver_rows()
