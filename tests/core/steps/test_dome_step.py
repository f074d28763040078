"""Domes on flat faces: against half an ellipsoid, their seams by the kernel's faces, under early changes, and what is said where none goes."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, only_refusal, repaired, set_param
from tests.core.steps.test_blend_steps import rectangle, volume
from tests.core.steps.test_surface_steps import and_then
from wander.core.bodies.continuity import Seam, seams
from wander.core.design.apply import apply_edits
from wander.core.design.rebuild import State, StepBuilt
from wander.core.document.document import Document

TOP = {"step": "loft-5", "part": "loft-5/end:section-4"}
ROD = lofted((0.0, circle(40.0)), (50.0, circle(40.0)))
BLOCK = lofted((0.0, rectangle(40.0, 30.0)), (50.0, rectangle(40.0, 30.0)))


def domed(document: Document, **params: Any) -> Document:
    return and_then(document, ("dome", {"face": TOP, "height": 15.0, **params}))


def rims(built: StepBuilt) -> list[Seam]:
    """Where the dome meets the sides."""
    own = "dome-30/"
    return [seam for seam in seams(built.result) if seam.faces[0].startswith(own) != seam.faces[1].startswith(own)]


@pytest.mark.parametrize(("document", "area"), [(ROD, pi * 400), (BLOCK, 1200.0)], ids=["rod", "block"])
def test_it_is_half_an_ellipsoid_and_smooth_at_its_rim(document: Document, area: float) -> None:
    """Slices shrink as the cosine's square does while the height goes as the sine: two thirds of the upright body.

    A cubic follows that to 1 in 1000.
    """
    built = exactly(domed(document), "dome-30")
    assert built.state is State.READY, built.findings
    assert_close(volume(built), area * (50 + 2 / 3 * 15), within=1e-3 * area * 10)
    assert built.result.measures.pieces == 1
    assert_close(built.result.measures.high[2], 65.0, within=1e-6)
    assert len(rims(built)) == (1 if document is ROD else 4)
    for seam in rims(built):
        assert seam.gap < 1e-6
        assert seam.angle < 0.05
    assert not any("end:section-4" in face.name for face in built.result.faces), "nothing is left of the flat end"


def test_curvature_goes_on_where_it_is_asked_for() -> None:
    built = exactly(domed(ROD, meets="curvature"), "dome-30")
    (seam,) = rims(built)
    assert seam.grade == 2
    assert seam.jump is not None
    assert seam.jump < 0.02
    assert built.findings == []


def test_a_point_and_an_edge() -> None:
    built = exactly(domed(ROD, meets="edge", tip="point"), "dome-30")
    assert_close(volume(built), pi * 400 * (50 + 15 / 3), within=1e-6, relative=True)


def test_fuller_holds_more() -> None:
    found = [volume(exactly(domed(ROD, fullness=fullness), "dome-30")) for fullness in (0.6, 1.0, 1.4)]
    assert found == sorted(found)


@settings(max_examples=8)
@given(st.floats(20.0, 60.0), st.floats(20.0, 60.0), st.floats(20.0, 80.0), st.floats(2.0, 40.0))
def test_it_follows_early_changes(low: float, high: float, long: float, height: float) -> None:
    """On a body that leans its sides go on in their tangent planes."""
    edits = [set_param("section-2", "shape", "diameter", to=low), set_param("section-4", "shape", "diameter", to=high)]
    document = apply_edits(domed(ROD, height=height), [*edits, set_param("station-3", "offset", to=long)])
    built = exactly(document, "dome-30")
    assert built.state is State.READY, built.findings
    (seam,) = rims(built)
    assert seam.angle < 0.05
    assert_close(built.result.measures.high[2], long + height, within=1e-5)


def test_the_seam_of_a_dome_is_closed_up_to_its_tip() -> None:
    """Near a pole the foot of a place is easily sought on the wrong side."""
    built = exactly(domed(ROD), "dome-30")
    own = [seam for seam in seams(built.result) if seam.faces == ("dome-30/side", "dome-30/side")]
    assert own
    assert all(seam.gap < 1e-9 and seam.angle < 1e-3 for seam in own)


def test_what_does_not_go_is_told() -> None:
    assert only_refusal(domed(ROD, face={"step": "loft-5"}), "dome-30").code == "dome-not-flat"
    assert only_refusal(domed(ROD, face={"step": "loft-5", "part": "loft-5/side"}), "dome-30").code == "dome-not-flat"
    flat = only_refusal(domed(ROD, height=0.0), "dome-30")
    assert flat.code == "dome-without-height"
    assert repaired(domed(ROD, height=0.0), flat, "Make it").state is State.READY
    cup = and_then(ROD, ("wall", {"body": {"step": "loft-5"}, "thickness": 2.0, "open": [TOP]}), ("dome", {"face": {**TOP, "step": "wall-30"}}))
    assert only_refusal(cup, "dome-31").code == "dome-has-holes"
    rounded = lofted(*((at, {"type": "rounded-rectangle", "width": 60.0, "depth": 40.0, "radius": 10.0}) for at in (0.0, 50.0)))
    rough = exactly(domed(rounded, meets="curvature"), "dome-30")
    assert [finding.code for finding in rough.findings] == ["dome-meets-less"]
    assert np.isfinite(rough.findings[0].where.points[0]).all()
    assert repaired(domed(rounded, meets="curvature"), rough.findings[0], "Tangent").findings == []
