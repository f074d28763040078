"""Bodies from STEP files: closed forms of what the kernel wrote, names, colours, places, and files that are none."""

from __future__ import annotations

import numpy as np
import pytest
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge
from OCP.gp import gp_Pnt

from tests.closeness import assert_close
from tests.core.solids.kernel_files import BALL, BOX, PIN, RING, assembly, box, ring, step_of
from wander.core.bodies.body import mesh_of
from wander.core.bodies.brought import NotInFile, Piece
from wander.core.solids.assemble import faces_of
from wander.core.solids.brought import brought_in, found_in
from wander.core.solids.errors import KernelError
from wander.core.solids.topology import shell_of


def test_an_assembly_in_inches_is_found_with_names_colours_and_places() -> None:
    data = assembly()
    assert [one.piece for one in found_in(data)] == [
        Piece("Block", "#ff0000"),
        Piece("Pin", None),
        Piece("Pin", None),
        Piece("Ball", "#0080ff"),
        Piece("Ring", None),
    ]
    middles = [(5, 10, 15), (100, 0, 20), (100, 80, 0), (200, 0, 0), (300, 0, 0)]
    for number, (volume, middle) in enumerate(zip((BOX, PIN, PIN, BALL, RING), middles, strict=True)):
        body = brought_in(data, number, "part-1")
        assert_close(body.measures.volume, volume, within=1e-6, relative=True)
        assert np.allclose(body.measures.center, middle, atol=1e-5)
        seen = mesh_of(body, 0.05).positions
        assert np.allclose([seen.min(axis=0), seen.max(axis=0)], [body.measures.low, body.measures.high], atol=0.1)
        assert body.closed
    whole = brought_in(data, None, "part-1")
    assert whole.measures.pieces == 5
    assert_close(whole.measures.volume, BOX + 2 * PIN + BALL + RING, within=1e-6, relative=True)
    with pytest.raises(NotInFile, match="5 bodies"):
        brought_in(data, 5, "part-1")


def test_faces_that_lie_loose_are_sewn_to_a_body_and_fewer_to_a_sheet() -> None:
    faces = list(faces_of(box(10.0, 20.0, 30.0)))
    loose = brought_in(step_of(faces), None, "part-1")
    assert loose.closed
    assert_close(loose.measures.volume, BOX, within=1e-6, relative=True)
    lidless = brought_in(step_of([shell_of(faces[:-1])]), None, "part-1")
    assert not lidless.closed
    assert_close(lidless.measures.area, 2 * (200 + 300 + 600) - 200, within=1e-6, relative=True)


def test_names_of_one_file_never_mean_faces_of_another() -> None:
    first, second = (brought_in(step_of([box(10.0, 20.0, height)]), None, "part-1") for height in (30.0, 31.0))
    assert len({face.name for face in first.faces}) == 6
    assert not {face.name for face in first.faces} & {face.name for face in second.faces}
    assert len(first.edges) == 12


def test_a_surface_that_runs_round_is_read_as_one_of_ours() -> None:
    body = brought_in(step_of([ring()]), None, "part-1")
    (face,) = body.faces
    assert face.surface is not None
    u, v = (np.linspace(*space.domain, 41) for space in (face.surface.u, face.surface.v))
    places = face.surface.grid(u, v)
    off = np.hypot(np.hypot(places[..., 0], places[..., 1]) - 20.0, places[..., 2]) - 4.0
    assert np.abs(off).max() < 2e-5


@pytest.mark.parametrize("data", [b"", b"ISO-10303-21;\nHEADER;\n", b"solid x", assembly()[:4000]], ids=["empty", "begun", "another", "broken off"])
def test_what_is_no_step_file_is_refused(data: bytes) -> None:
    with pytest.raises((KernelError, NotInFile)):
        brought_in(data, None, "part-1")


def test_a_file_without_a_face_is_refused() -> None:
    line = BRepBuilderAPI_MakeEdge(gp_Pnt(0, 0, 0), gp_Pnt(1, 0, 0)).Edge()
    with pytest.raises(NotInFile, match="no face"):
        found_in(step_of([line]))
