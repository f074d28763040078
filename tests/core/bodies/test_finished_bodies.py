"""Bodies with rounded edges and walls as everything that reads bodies sees them: continuity, files, copies, further joins."""

from __future__ import annotations

import io
from math import pi
from pathlib import Path

import numpy as np
import pytest
import trimesh

from tests.closeness import assert_close
from tests.core.placed import at
from tests.core.solids.test_blending import all_of, box, made, rim, rod
from wander.core.bodies.blending import Blend
from wander.core.bodies.body import Body, copied, mesh_of, moved, of_shells
from wander.core.bodies.combining import How
from wander.core.bodies.continuity import seams
from wander.core.design.exact import EXACT
from wander.core.drawing.outlines import shapes
from wander.core.exchange.stl import write_stl
from wander.core.geometry.law import constant
from wander.core.shaping.walled import walled
from wander.core.solids.blending import filleted
from wander.core.solids.measure import kernel_volume
from wander.core.solids.named import shape_of
from wander.core.solids.step_file import Part, read_step, write_step


def cup() -> Body:
    skin = made(at(0.0, shapes.circle(40.0)), at(50.0, shapes.circle(30.0))).skins[0]
    found, _ = walled(skin, dict.fromkeys(skin.names, 1.5), dict.fromkeys(skin.names, 0.0), ["loft-9/end:section-1"], "wall-3")
    return of_shells((found,))


BODIES = {
    "soft cube": lambda: filleted(box(), [all_of("outer", 3.0)], "fillet-3"),
    "soft rim": lambda: filleted(rod(20.0, 30.0), [Blend((rim(rod(20.0, 30.0)),), constant(2.0))], "fillet-3"),
    "cup": cup,
    "soft cup": lambda: filleted(cup(), [Blend(("loft-9/end:section-0|loft-9/side",), constant(4.0))], "fillet-4"),
}


@pytest.mark.parametrize("name", list(BODIES))
def test_files_hold_what_the_body_holds(name: str, tmp_path: Path) -> None:
    body = BODIES[name]()
    shown = trimesh.load(io.BytesIO(write_stl(mesh_of(body, 0.05))), file_type="stl")
    assert shown.is_watertight
    assert shown.is_winding_consistent
    assert_close(shown.volume, body.measures.volume, within=0.02 * body.measures.volume)
    path = tmp_path / "body.step"
    path.write_bytes(write_step([Part(name, shape_of(body))]))
    (solid,) = read_step(path)
    assert_close(kernel_volume(solid), body.measures.volume, within=1e-5 * body.measures.volume)
    text = path.read_text()
    assert all(f"'{face.name}'" in text for face in body.faces), "the file calls the faces as we do"


@pytest.mark.parametrize("name", ["soft cube", "soft rim", "soft cup"])
def test_rounded_edges_go_on_smoothly_as_the_report_says(name: str) -> None:
    body = BODIES[name]()
    told = [seam for seam in seams(body) if "/along(" in "".join(seam.faces)]
    assert told
    for seam in told:
        assert seam.gap < 1e-3
        assert seam.angle < 0.05


def test_copies_of_it_are_joined_on() -> None:
    """A soft rod through a mirror image of itself: one body, every face named."""
    soft = BODIES["soft rim"]()
    image = copied(moved(soft, np.diag([1.0, 1.0, -1.0]), np.array([0.0, 0.0, 10.0])), "mirror-5")
    joined = EXACT.combined(How.JOIN, soft, [image])
    big, r = 10.0, 2.0
    lost = 2 * pi * (r * r * (big - r / 2) - pi * r * r / 4 * (big - r + 4 * r / (3 * pi)))
    expected = pi * 100 * (30 + 20) - 2 * lost
    assert_close(joined.measures.volume, expected, within=1e-5 * expected)
    assert any("@mirror-5" in face.name and "/along(" in face.name for face in joined.faces)
