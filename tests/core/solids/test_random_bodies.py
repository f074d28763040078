"""Random bodies: what the own checks find sound is one solid for the kernel, of the same volume, and its mesh is closed."""

from __future__ import annotations

from math import cos, sin

import numpy as np
import trimesh
from hypothesis import example, given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import TOP, tip
from tests.core.shaping.test_invariance import outline
from tests.soak import times
from wander.core.geometry.frame import Frame
from wander.core.geometry.law import linear, smooth
from wander.core.shaping.display import display_mesh
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.self_crossing import self_crossing
from wander.core.solids.assemble import AGREED, assemble


def random_body(seed: int) -> Lofted:
    """Two to five sections of all kinds, some tilted, some bodies with a tip at one end, some twisted and scaled, smooth and straight."""
    rng = np.random.default_rng(seed)
    heights = np.cumsum(rng.uniform(8, 40, rng.integers(2, 6))).tolist()
    sections = []
    for height in heights:
        lean = float(rng.uniform(-0.25, 0.25) * rng.integers(0, 2))
        frame = Frame(TOP.moved(height).origin, np.array([cos(lean), 0.0, -sin(lean)]), TOP.y)
        sections.append(PlacedSection(frame, outline(rng)))
    if rng.random() < 0.3:
        end = int(rng.integers(0, 2)) * -1
        sections[end] = tip(heights[end])
    laws = None
    if rng.random() < 0.4:
        laws = Laws(twist=linear(0.0, float(rng.uniform(-1.5, 1.5))), width=smooth(1.0, float(rng.uniform(0.5, 1.5))))
    names = [f"section-{i + 1}" for i in range(len(sections))]
    return loft(sections, names, name="loft-9", between=list(Between)[rng.integers(0, 2)], laws=laws)


@settings(max_examples=times(12, 2000), deadline=None)
@example(seed=13)
@example(seed=169)
@example(seed=791)
@example(seed=900144)
@example(seed=22240)
@given(seed=st.integers(0, 10**6))
def test_what_is_sound_is_one_solid_with_a_closed_mesh(seed: int) -> None:
    made = random_body(seed)
    mesh = display_mesh(made.shell, 0.1)
    # what meets does so to the last bit: nothing is taken together that is only near
    places, number = np.unique(mesh.positions, axis=0, return_inverse=True)
    assert trimesh.Trimesh(places, number.ravel()[mesh.triangles], process=False).is_watertight
    if len(made.report.folds) or self_crossing(made.shell) is not None:
        return
    own = mass_properties(made.shell)
    solid = assemble(made.shell)
    assert_close(solid.volume, own.volume, within=AGREED * own.volume)
    assert sorted(solid.names) == sorted(made.shell.names)
