"""How faces meet, against closed forms and against the kernel's own evaluators."""

from __future__ import annotations

import numpy as np
import pytest
from OCP.BRep import BRep_Tool
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.GeomLProp import GeomLProp_SLProps
from OCP.gp import gp_Pnt

from tests.closeness import assert_close
from tests.core.placed import at
from wander.core.bodies.body import of_shells
from wander.core.bodies.continuity import Limits, seams
from wander.core.drawing.outlines import shapes
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.section import PlacedSection
from wander.core.solids.assemble import assemble, faces_of


def made(*sections: PlacedSection, **more) -> Lofted:
    return loft(sections, [f"section-{i}" for i in range(len(sections))], name="loft-9", **more)


def test_a_can_with_a_shoulder() -> None:
    can = made(*(at(z, shapes.circle(2 * r)) for z, r in ((0.0, 20.0), (50.0, 20.0), (70.0, 10.0), (90.0, 10.0))), creases=[1, 2])
    told = {seam.name: seam for seam in seams(of_shells((can.shell,)))}
    creases = [seam for name, seam in told.items() if name.count("^") == 2 and "end" not in name and len(set(seam.faces)) == 2]
    assert len(creases) == 2
    for seam in creases:
        assert_close(seam.angle, np.degrees(np.arctan2(10, 20)), within=1e-3)
        assert (seam.grade, seam.jump) == (0, None)
        assert seam.gap < 1e-9
    own = [seam for seam in told.values() if len(set(seam.faces)) == 1]
    assert len(own) == 3
    assert all(seam.grade == 2 for seam in own), "round about, a can is smooth"
    ends = [seam for seam in told.values() if "end" in seam.name]
    assert_close(sorted(seam.angle for seam in ends), [90.0, 90.0], within=1e-3)
    assert all(np.linalg.norm(seam.worst[:2]) == pytest.approx(20 if seam.worst[2] < 60 else 10, abs=1e-3) for seam in creases)


def test_the_worst_comes_first_and_a_smooth_body_is_smooth_across_its_sections() -> None:
    body = made(*(at(z, shapes.rectangle(w, d)) for z, w, d in ((0.0, 50, 30), (30.0, 44, 40), (80.0, 36, 20))))
    found = seams(of_shells((body.shell,)))
    assert [seam.grade for seam in found] == sorted(seam.grade for seam in found if seam.grade is not None)
    across = [seam for seam in found if seam.section]
    assert [seam.name for seam in across] == ["section-1"]
    assert across[0].grade == 2
    assert across[0].jump is not None
    assert across[0].jump < 1e-4


def test_straight_bays_meet_at_their_angle() -> None:
    body = made(*(at(z, shapes.circle(2 * r)) for z, r in ((0.0, 20.0), (40.0, 20.0), (80.0, 20.001))), between=Between.STRAIGHT)
    between = next(seam for seam in seams(of_shells((body.shell,))) if "end" not in seam.name and len(set(seam.faces)) == 2)
    assert_close(between.angle, np.degrees(np.arctan2(0.001, 40)), within=1e-6)
    assert between.grade == 2, "below the limits it counts as smooth"
    assert next(s for s in seams(of_shells((body.shell,)), Limits(angle=1e-4)) if s.name == between.name).grade == 0


def test_against_the_kernel_s_evaluators() -> None:
    """Normals and curvatures across an edge where two wavy sides meet at a blunt corner."""
    body = made(*(at(z, shapes.polygon(5, w)) for z, w in ((0.0, 50), (30.0, 64), (80.0, 36))))
    exact = assemble(body.shell)
    faces = dict(zip(exact.names, faces_of(exact.shape), strict=True))
    own = [seam for seam in seams(of_shells((body.shell,))) if "end" not in seam.name and not seam.section]
    assert len(own) == 5
    for seam in own:
        normals = []
        for name in seam.faces:
            surface = BRep_Tool.Surface_s(faces[name])
            foot = GeomAPI_ProjectPointOnSurf(gp_Pnt(*seam.worst.tolist()), surface)
            u, v = foot.LowerDistanceParameters()
            normal = GeomLProp_SLProps(surface, u, v, 2, 1e-9).Normal()
            normals.append(np.array([normal.X(), normal.Y(), normal.Z()]))
        apart = np.degrees(np.arccos(np.clip(abs(normals[0] @ normals[1]), 0, 1)))
        assert_close(seam.angle, apart, within=1e-4)
