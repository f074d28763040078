"""Display meshes: watertight, close to the surface, normals and names right; edges named by their faces."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from scipy.spatial import KDTree

from tests.closeness import assert_close
from tests.core.placed import at, body, tip
from tests.core.shaping.test_mass import BODIES
from wander.core.drawing.outlines import shapes
from wander.core.shaping.display import DisplayMesh, display_mesh
from wander.core.shaping.edges import edges
from wander.core.shaping.loft import Between


@pytest.fixture(params=list(BODIES))
def mesh(request) -> DisplayMesh:
    return display_mesh(BODIES[request.param].shell, 0.05)


def test_watertight_and_the_right_way_out(mesh: DisplayMesh) -> None:
    solid = trimesh.Trimesh(mesh.positions, mesh.triangles)
    assert solid.is_watertight
    assert solid.is_winding_consistent
    assert solid.volume > 0


def test_normals_agree_with_the_triangles(mesh: DisplayMesh) -> None:
    a, b, c = (mesh.positions[mesh.triangles[:, i]] for i in range(3))
    flat = np.cross(b - a, c - a)
    flat /= np.linalg.norm(flat, axis=1, keepdims=True)
    smooth = mesh.normals[mesh.triangles].mean(axis=1)
    assert np.all(np.sum(flat * smooth, axis=1) > 0.7)
    assert_close(np.linalg.norm(mesh.normals, axis=1), np.ones(len(mesh.normals)), within=1e-12)


def test_every_number_has_its_name(mesh: DisplayMesh) -> None:
    assert set(mesh.face_of) == set(range(len(mesh.face_names)))
    assert set(mesh.line_of) == set(range(len(mesh.line_names)))
    assert mesh.triangles.max() < len(mesh.positions)
    assert mesh.lines.max() < len(mesh.line_positions)
    one_face = mesh.face_of[mesh.triangles]
    assert np.all(one_face == one_face[:, :1])


@pytest.mark.parametrize("tolerance", [0.5, 0.05, 0.005])
def test_chords_stay_within_the_tolerance(tolerance: float) -> None:
    shell = BODIES["flask"].shell
    surface = shell.faces[0].surface
    mesh = display_mesh(shell, tolerance)
    side = mesh.triangles[mesh.face_of[mesh.triangles[:, 0]] == 0]
    middles = mesh.positions[side].mean(axis=1)
    u, v = np.linspace(0, 1, 1601), np.linspace(*surface.v.domain, 1601)
    points = surface.grid(u, v).reshape(-1, 3)
    rng = np.random.default_rng(0)
    from scipy.spatial import cKDTree

    nearest, _ = cKDTree(points).query(middles[rng.integers(0, len(middles), 300)])
    spacing = 0.15  # of the brute-force grid
    assert nearest.max() <= 2 * tolerance + spacing


@pytest.mark.parametrize("tolerance", [0.3, 0.05])
@pytest.mark.parametrize("name", sorted(BODIES))
def test_a_strict_mesh_keeps_its_tolerance_everywhere(name: str, tolerance: float) -> None:
    """Places all over each surface against the planes of the triangles nearest to them."""
    shell = BODIES[name].shell
    mesh = display_mesh(shell, tolerance, strict=True)
    triangles = mesh.positions[mesh.triangles]
    face = mesh.face_of[mesh.triangles[:, 0]]
    for number, named in enumerate(shell.faces):
        own = triangles[face == number]
        normal = np.cross(own[:, 1] - own[:, 0], own[:, 2] - own[:, 0])
        size = np.linalg.norm(normal, axis=1)
        own, normal = own[size > 1e-9], normal[size > 1e-9] / size[size > 1e-9, None]
        u, v = (np.linspace(*space.domain, 161) for space in (named.surface.u, named.surface.v))
        places = named.surface.grid(u, v).reshape(-1, 3)
        _, near = KDTree(own.mean(axis=1)).query(places, k=min(24, len(own)))
        off = np.abs(np.einsum("pkj,pkj->pk", places[:, None] - own[near, 0], normal[near]))
        corners = own[near]
        inside = np.ones(off.shape, dtype=bool)
        for k in range(3):
            edge = corners[:, :, (k + 1) % 3] - corners[:, :, k]
            side = np.einsum("pkj,pkj->pk", np.cross(edge, places[:, None] - corners[:, :, k]), normal[near])
            inside &= side > -1e-3 * np.linalg.norm(edge, axis=2) ** 2
        covered = inside.any(axis=1)
        assert covered.mean() > 0.9
        assert np.where(inside, off, np.inf).min(axis=1)[covered].max() <= 1.05 * tolerance


def test_a_finer_tolerance_gives_more_triangles() -> None:
    counts = [len(display_mesh(BODIES["flask"].shell, t).triangles) for t in (0.5, 0.1, 0.02)]
    assert counts == sorted(counts)
    assert counts[0] < counts[-1] / 4


def test_edges_are_named_by_their_two_faces() -> None:
    found = {edge.name: edge for edge in edges(body(at(0, shapes.rectangle(10, 20)), at(30, shapes.rectangle(20, 20))).shell)}
    assert len(found) == 12
    assert "loft-9/1.left+2.left|loft-9/end:section-2" in found
    assert "loft-9/1.right+2.right|loft-9/1.top+2.top" in found
    assert "loft-9/1.bottom+2.bottom|loft-9/1.right+2.right" in found
    assert not any(edge.smooth for edge in found.values())


@pytest.mark.parametrize("width", [10.0005, 10.00049999, 33.3335, 7.0])
def test_a_box_has_twelve_edges_whatever_its_sizes(width: float) -> None:
    """Edges come from how a skin is made, never from comparing rounded coordinates."""
    for depth in (width, 2 * width, 20.0005):
        assert len(edges(body(at(0, shapes.rectangle(width, depth)), at(30.0005, shapes.rectangle(width, depth))).shell)) == 12


def test_two_edges_between_the_same_faces_are_told_apart_by_their_corner() -> None:
    found = [edge.name for edge in edges(body(at(0, shapes.foil(100, 0.2, 0.02, 0.4)), at(30, shapes.foil(80, 0.2, 0.02, 0.4))).shell)]
    pair = "loft-9/1.lower+2.lower|loft-9/1.upper+2.upper"
    assert {f"{pair}#1.tail+2.tail", f"{pair}#1.nose+2.nose"} <= set(found)


def test_the_seam_of_a_round_body_is_no_visible_edge() -> None:
    found = edges(BODIES["flask"].shell)
    assert sorted(edge.name for edge in found if not edge.smooth) == ["loft-9/end:section-1|loft-9/side", "loft-9/end:section-4|loft-9/side"]
    assert [edge.name for edge in found if edge.smooth] == ["loft-9/side|loft-9/side"]


def test_lines_of_a_round_body_are_its_sections_only() -> None:
    mesh = display_mesh(BODIES["flask"].shell, 0.05)
    under = ("under:loft-9/end:section-1|loft-9/side", "under:loft-9/end:section-4|loft-9/side")
    assert tuple(sorted(mesh.line_names)) == ("ring:section-1", "ring:section-2", "ring:section-3", "ring:section-4", *under)


def test_a_point_has_no_ring() -> None:
    mesh = display_mesh(BODIES["cone"].shell, 0.05)
    assert [name for name in mesh.line_names if name.startswith("ring:")] == ["ring:section-1"]


def test_a_crease_between_straight_bays_is_an_edge() -> None:
    made = body(at(0, shapes.circle(20)), at(10, shapes.circle(40)), at(20, shapes.circle(20)), between=Between.STRAIGHT)
    crease = [edge for edge in edges(made.shell) if edge.name == "loft-9/side^section-1|loft-9/side^section-2"]
    assert len(crease) == 1
    assert not crease[0].smooth


def test_a_cap_that_is_not_convex_is_filled() -> None:
    star = shapes.polyline(np.array([(np.cos(a) * r, np.sin(a) * r) for a, r in zip(np.arange(10) * np.pi / 5, [20, 8] * 5, strict=True)]))
    made = body(at(0, star), at(10, star))
    mesh = display_mesh(made.shell, 0.05)
    solid = trimesh.Trimesh(mesh.positions, mesh.triangles)
    assert solid.is_watertight
    assert_close(solid.volume, star.area * 10, within=1e-9 * star.area)
    assert len(display_mesh(body(at(0, star), tip(10)).shell, 0.05).triangles) == 10 + 8
