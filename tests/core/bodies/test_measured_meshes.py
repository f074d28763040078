"""Distances to meshes from files: by brute force over all triangles, closed forms of boxes and round bodies, and what is told of round faces."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.solids.kernel_files import ball, step_of
from tests.core.steps.test_part_step import built, designed
from wander.core.bodies.measured_meshes import OfMesh, on_triangles
from wander.core.bodies.measuring import nearest
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, StepBuilt, Ways
from wander.core.document.document import Document
from wander.core.exchange.stl_in import reference_from
from wander.core.geometry.basis import Floats
from wander.core.results.summaries import MeasureSummary

SHARES = np.array([[a, b, 40 - a - b] for a in range(41) for b in range(41 - a)]) / 40


def meshed(body: trimesh.Trimesh) -> OfMesh:
    return OfMesh(reference_from(body.export(file_type="stl"), 1.0, "mesh").mesh)


def needles() -> trimesh.Trimesh:
    """A long thin tube between fans: triangles two hundred times as long as they are wide."""
    return trimesh.creation.cylinder(1.0, 200.0, sections=40)


@settings(max_examples=60)
@given(seed=st.integers(0, 10**6), flat=st.booleans())
def test_the_nearest_place_of_a_triangle(seed: int, flat: bool) -> None:
    """No place of a close grid on it is nearer, and it is one of its places itself."""
    rng = np.random.default_rng(seed)
    corners = rng.normal(size=(4, 3, 3)) * [1.0, 1.0, 0.0 if flat else 1.0]
    point = rng.normal(size=3) * rng.choice([0.3, 3.0])
    found = on_triangles(corners, point)
    for triangle, place in zip(corners, found, strict=True):
        apart = np.linalg.norm(place - point)
        assert apart <= np.linalg.norm(SHARES @ triangle - point, axis=1).min() + 1e-12
        shares = np.linalg.lstsq(np.vstack([triangle.T, np.ones(3)]), np.append(place, 1.0), rcond=None)[0]
        assert shares.min() > -1e-9
        assert_close(shares @ triangle, place, within=1e-9)


@pytest.mark.parametrize(
    "body", [trimesh.creation.box((40.0, 20.0, 1.0)), trimesh.creation.icosphere(3, 12.0), needles()], ids=["box", "ball", "needles"]
)
def test_no_triangle_is_passed_over(body: trimesh.Trimesh) -> None:
    """Against all triangles, at places outside, inside, on it, and far off."""
    mesh = meshed(body)
    rng = np.random.default_rng(3)
    points = np.concatenate([rng.normal(size=(40, 3)) * body.extents, body.vertices[:5], body.triangles_center[:5], [[900.0, 3.0, -40.0]]])
    corners = np.asarray(body.triangles)
    expected = [np.linalg.norm(on_triangles(corners, point) - point, axis=1).min() for point in points]
    assert_close(np.linalg.norm(mesh.nearest(points) - points, axis=1), expected, within=1e-5)  # the file counts in single precision


BOX = (10.0, 20.0, 30.0)
"""Of the STL file; a block of the same size stands with a corner in the origin."""


def gauged(at: list[float], *, first: Any = None, file: str = "1" * 32, kind: str = "stl") -> Document:
    document = designed(("part", {"file": "0" * 32}), ("reference", {"file": file, "format": kind, "at": at}))
    raw = document.model_dump(mode="json")
    parts = [first or {"step": "part-3"}, {"step": "reference-4"}]
    raw["steps"].append({"id": "measure-5", "kind": "measure", "name": "Gap", "params": {"of": {"type": "distance", "parts": parts}}})
    return Document.model_validate(raw)


def read(done: StepBuilt) -> MeasureSummary:
    assert done.state is State.READY, done.findings
    assert isinstance(done.summary, MeasureSummary)
    return done.summary


def between_boxes(at: Floats) -> float:
    """From the block to a box of its size about a place."""
    middle, size = np.array(BOX) / 2, np.array(BOX)
    return float(np.linalg.norm(np.maximum(np.abs(at - middle) - size, 0.0)))


@settings(max_examples=8, deadline=None)
@given(at=st.tuples(*[st.floats(-60, 60)] * 3).filter(lambda at: between_boxes(np.array(at)) > 1e-3))
def test_from_a_block_to_a_box_from_a_file(at: tuple[float, float, float]) -> None:
    found = read(built(gauged(list(at)), "measure-5"))
    assert_close(found.value, between_boxes(np.array(at)), within=1e-5)
    assert found.chord == 0.0
    assert_close(np.linalg.norm(found.along), found.value, within=1e-9)


@pytest.mark.parametrize("at", [[20.0, 10.0, 15.0], [15.0, 10.0, 15.0], [15.0, 30.0, 45.0], [5.0, 10.0, 50.0], [9.0, 12.0, 16.0]])
def test_beside_touching_and_overlapping(at: list[float]) -> None:
    """Face before face, faces that lie on each other, a corner on a corner, above, and one through the other."""
    assert_close(read(built(gauged(at), "measure-5")).value, between_boxes(np.array(at)), within=1e-5)


def test_a_mesh_that_stands_for_a_round_body_says_how_closely() -> None:
    """A ball of 7 at 40 along x, from a STEP file: its chords lie inside it."""
    files = {"2" * 32: step_of([ball()]), "0" * 32: step_of([ball(3.0)])}
    found = read(built(gauged([40.0, 0.0, 0.0], file="2" * 32, kind="step"), "measure-5", Memory(files=files.get)))
    assert 0 < found.chord <= 0.1
    assert 30.0 <= found.value <= 30.0 + found.chord


def test_two_meshes() -> None:
    """A box and a ball beside its corner: of the corner of the one and the facets of the other."""
    box, round_one = trimesh.creation.box(BOX), trimesh.creation.icosphere(2, 4.0).apply_translation([15.0, 20.0, 25.0])
    corner = np.array(BOX) / 2
    expected = np.linalg.norm(on_triangles(np.asarray(round_one.triangles), corner) - corner, axis=1).min()
    assert_close(nearest(meshed(box), meshed(round_one)).distance, expected, within=1e-5)


def test_only_what_has_a_shape_can_be_measured_to() -> None:
    """A reference has no parts that an angle could be taken between; what is no body at all is told so, and the repair is one that is."""
    raw = gauged([40.0, 0.0, 0.0]).model_dump(mode="json")
    raw["steps"][-1]["params"]["of"]["type"] = "angle"
    assert built(Document.model_validate(raw), "measure-5").findings[0].code == "broken-reference"
    raw["steps"][-1]["params"]["of"] = {"type": "distance", "parts": [{"step": "part-3"}, {"step": "station-1"}]}
    (finding,) = built(Document.model_validate(raw), "measure-5").findings
    assert finding.code == "broken-reference"
    assert finding.fixes


def test_without_its_file_it_is_waited_for() -> None:
    assert built(gauged([40.0, 0.0, 0.0]), "measure-5", Memory(files={"0" * 32: step_of([ball()])}.get)).state is State.WAITING
    assert built(gauged([40.0, 0.0, 0.0]), "measure-5", ways=Ways()).state in (State.WORKING, State.WAITING)
