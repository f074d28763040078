"""Ends that go on from another body, measured by the kernel's own evaluators on bodies that were built apart."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Protocol

import numpy as np
import pytest
from OCP.BRep import BRep_Tool
from OCP.GeomLProp import GeomLProp_SLProps
from OCP.gp import gp_Pnt
from OCP.ShapeAnalysis import ShapeAnalysis_Surface

from tests.closeness import assert_close
from tests.core.placed import TOP, at, tip, wobbly
from wander.core.bodies.body import of_shells
from wander.core.bodies.touching import OffBody, Touching
from wander.core.drawing.outlines import shapes
from wander.core.geometry.errors import BadInput
from wander.core.shaping.ends import EndKind, EndShape
from wander.core.shaping.loft import Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import Shell
from wander.core.shaping.skin import Skin
from wander.core.solids.assemble import assemble, faces_of


def made(sections: Sequence[PlacedSection], name: str = "loft-9", **more: Any) -> Lofted:
    return loft(sections, [f"section-{i}" for i in range(len(sections))], name=name, **more)


def onto(below: Lofted, kind: EndKind, height: float, fullness: float = 1.0) -> EndShape:
    return EndShape(kind, fullness=fullness, onto=Touching.of(of_shells((below.shell,)), TOP.moved(height)))


class Skinned(Protocol):
    @property
    def shell(self) -> Shell: ...


class Judge:
    """Normals and normal curvatures of the sides of a body as the kernel sees them."""

    def __init__(self, body: Skinned) -> None:
        solid = assemble(body.shell)
        self.volume = solid.volume
        self.surfaces = [
            BRep_Tool.Surface_s(f) for f, name in zip(faces_of(solid.shape), solid.names, strict=True) if "/end:" not in name.partition("(")[0]
        ]
        self.feet = [ShapeAnalysis_Surface(surface) for surface in self.surfaces]

    def __call__(self, point: np.ndarray, way: np.ndarray) -> tuple[np.ndarray, float]:
        found = [foot.ValueOfUV(gp_Pnt(*point.tolist()), 1e-7) for foot in self.feet]
        off = [foot.Gap() for foot in self.feet]
        best = int(np.argmin(off))
        assert off[best] < 2e-3
        u, v = found[best].X(), found[best].Y()
        props = GeomLProp_SLProps(self.surfaces[best], u, v, 2, 1e-9)
        normal = np.array([getattr(props.Normal(), axis)() for axis in "XYZ"])
        across = np.cross(normal, way)
        across /= np.linalg.norm(across)
        du, dv, duu, duv, dvv = (np.array([getattr(d(), axis)() for axis in "XYZ"]) for d in (props.D1U, props.D1V, props.D2U, props.DUV, props.D2V))
        a, b = np.linalg.lstsq(np.stack([du, dv], axis=1), across, rcond=None)[0]
        return normal, float((a * a * duu + 2 * a * b * duv + b * b * dvv) @ normal)


def compared(one: Judge, other: Judge, outline: PlacedSection, count: int = 40) -> tuple[float, float]:
    """Largest angle between normals, degrees, and largest jump of the curvature across, as a share, along an outline that both have."""
    curve = outline.in_space().curve
    corners = np.array([*outline.in_space().corners, 2.0])
    angles, jumps = [], []
    for t in (np.arange(count) + 0.37) / count:
        if np.abs(corners - t).min() < 0.004:
            continue
        point, way = curve.derivatives(np.array([t]), 1)[:, 0]
        (n1, k1), (n2, k2) = one(point, way), other(point, way)
        sign = np.sign(n1 @ n2)
        angles.append(np.degrees(np.arccos(min(1.0, abs(float(n1 @ n2))))))
        jumps.append(abs(k1 - sign * k2) / max(abs(k1), abs(k2), 1e-4))
    return max(angles), max(jumps)


BELOW = {
    "round": [at(0.0, shapes.circle(30.0)), at(30.0, shapes.circle(46.0)), at(60.0, shapes.circle(40.0))],
    "oval": [at(0.0, shapes.ellipse(30.0, 50.0)), at(25.0, shapes.ellipse(52.0, 44.0)), at(60.0, shapes.ellipse(40.0, 30.0))],
    "wobbly": [at(0.0, shapes.spline(wobbly(9, 18.0, 1))), at(30.0, shapes.spline(wobbly(9, 26.0, 2))), at(60.0, shapes.spline(wobbly(9, 22.0, 3)))],
    "square": [at(0.0, shapes.rectangle(30.0, 30.0)), at(30.0, shapes.rectangle(46.0, 38.0)), at(60.0, shapes.rectangle(40.0, 30.0))],
}
ABOVE = {
    "to a circle": [at(100.0, shapes.circle(24.0))],
    "to a point": [tip(95.0)],
    "by two": [at(85.0, shapes.ellipse(30.0, 22.0)), at(120.0, shapes.circle(30.0))],
}


@pytest.mark.parametrize("over", ABOVE)
@pytest.mark.parametrize("under", BELOW)
def test_it_goes_on_from_the_body_below(under: str, over: str) -> None:
    below = made(BELOW[under])
    sections = [BELOW[under][-1], *ABOVE[over]]
    tangent = made(sections, "loft-8", ends=(onto(below, EndKind.TANGENT, 60.0), EndShape()))
    curved = made(sections, "loft-8", ends=(onto(below, EndKind.CURVATURE, 60.0), EndShape()))
    free = made(sections, "loft-8")
    judge, of_tangent, of_curved = (Judge(body) for body in (below, tangent, curved))
    assert compared(judge, of_tangent, sections[0])[0] < 0.05
    angle, jump = compared(judge, of_curved, sections[0])
    assert angle < 0.05
    assert jump < 0.02
    assert compared(judge, Judge(free), sections[0], count=8)[0] > 0.5, "by itself it would not"
    for body, seen in ((tangent, of_tangent), (curved, of_curved)):
        assert_close(seen.volume, mass_properties(body.shell).volume, within=1e-6 * mass_properties(body.shell).volume)


def test_both_ends_and_more_or_less_full() -> None:
    """A bridge between two bodies: tangent below, curved alike above; fuller, it holds more."""
    below, above = made(BELOW["oval"]), made([at(110.0, shapes.circle(36.0)), at(140.0, shapes.circle(44.0)), at(180.0, shapes.circle(30.0))])
    sections = [BELOW["oval"][-1], at(110.0, shapes.circle(36.0))]
    bridges = []
    for full in (0.5, 1.0, 1.5):
        ends = onto(below, EndKind.TANGENT, 60.0, full), onto(above, EndKind.CURVATURE, 110.0, full)
        bridges.append(made(sections, "loft-7", ends=ends))
    start, end = Judge(below), Judge(above)
    for bridge in map(Judge, bridges):
        assert compared(start, bridge, sections[0])[0] < 0.05
        angle, jump = compared(end, bridge, sections[1])
        assert angle < 0.05
        assert jump < 0.02
    volumes = [mass_properties(bridge.shell).volume for bridge in bridges]
    assert len({round(volume) for volume in volumes}) == 3


def test_it_is_the_same_the_other_way_up() -> None:
    below = made(BELOW["square"])
    sections = [BELOW["square"][-1], at(100.0, shapes.circle(24.0))]
    end = onto(below, EndKind.CURVATURE, 60.0)
    up, down = made(sections, "loft-8", ends=(end, EndShape())), made(sections[::-1], "loft-8", ends=(EndShape(), end))
    assert_close(mass_properties(down.shell).volume, mass_properties(up.shell).volume, within=1e-7 * mass_properties(up.shell).volume)


def test_an_outline_off_the_body_and_a_skin_that_can_not_are_told() -> None:
    below = made(BELOW["round"])
    with pytest.raises(OffBody) as told:
        made([at(60.0, shapes.circle(40.8)), at(100.0, shapes.circle(20.0))], ends=(onto(below, EndKind.TANGENT, 60.0), EndShape()))
    assert_close(told.value.off, 0.4, within=0.02)
    with pytest.raises(BadInput, match="fair skin"):
        made([BELOW["round"][-1], *ABOVE["by two"]], skin=Skin.BATTEN, ends=(onto(below, EndKind.CURVATURE, 60.0), EndShape()))
