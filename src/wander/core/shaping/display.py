"""Meshes for the screen straight from the surfaces: no mesher, no kernel.

Neighbouring faces share their sampling along the edge between them, so the mesh is watertight as it stands.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import mapbox_earcut
import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.edges import edges
from wander.core.shaping.shell import Cap, NamedFace, Shell
from wander.core.shaping.sides import points_and_normals, unit_normals

Indices = npt.NDArray[np.uint32]


@dataclass(frozen=True)
class DisplayMesh:
    """positions, normals: (n, 3). triangles: (t, 3). face_of: (n,) index into face_names.

    line_positions: (m, 3). lines: (s, 2). line_of: (m,) index into line_names; names of section rings start with `ring:`,
    those of edges on which a section lies with `under:`: the ring is drawn for both.
    """

    positions: Floats
    normals: Floats
    triangles: Indices
    face_of: Indices
    face_names: tuple[str, ...]
    line_positions: Floats
    lines: Indices
    line_of: Indices
    line_names: tuple[str, ...]


def display_mesh(shell: Shell, tolerance: float) -> DisplayMesh:
    """The mesh of a skin whose chords stay within about the tolerance (mm) of it."""
    across, along = _samplings(shell.faces, tolerance)
    chains = {_key(face.surface.edge(side)): u for face, u in zip(shell.faces, across, strict=True) for side in ("v0", "v1")}
    parts = [_grid(face.surface, u, along[_v_key(face)]) for face, u in zip(shell.faces, across, strict=True)]
    parts += [_cap(cap, [chains.get(_key(curve)) for curve in cap.boundary], tolerance) for cap in shell.caps]
    names = (*(face.name for face in shell.faces), *(cap.name for cap in shell.caps))
    offsets = np.cumsum([0, *(len(p) for p, _, _ in parts)])
    on_rings = {_key(curve) for ring in shell.rings for curve in ring.curves}
    lines: list[tuple[str, tuple[Curve, ...]]] = [
        (edge.name if _key(edge.curve) not in on_rings else f"under:{edge.name}", (edge.curve,)) for edge in edges(shell) if not edge.smooth
    ]
    lines += [(f"ring:{ring.name}", ring.curves) for ring in shell.rings]
    drawn = polylines([curve for _, curves in lines for curve in curves], tolerance)
    line_parts = list(zip([number for number, (_, curves) in enumerate(lines) for _ in curves], drawn, strict=True))
    line_offsets = np.cumsum([0, *(len(p) for _, p in line_parts)])
    segments = [np.column_stack([np.arange(len(p) - 1), np.arange(1, len(p))]) + o for (_, p), o in zip(line_parts, line_offsets, strict=False)]
    return DisplayMesh(
        positions=np.concatenate([p for p, _, _ in parts]),
        normals=np.concatenate([n for _, n, _ in parts]),
        triangles=np.concatenate([t + o for (_, _, t), o in zip(parts, offsets, strict=False)]).astype(np.uint32),
        face_of=np.repeat(np.arange(len(parts)), np.diff(offsets)).astype(np.uint32),
        face_names=names,
        line_positions=np.concatenate([p for _, p in line_parts]) if line_parts else np.zeros((0, 3)),
        lines=np.concatenate(segments).astype(np.uint32) if segments else np.zeros((0, 2), np.uint32),
        line_of=np.repeat([n for n, _ in line_parts], np.diff(line_offsets)).astype(np.uint32),
        line_names=tuple(name for name, _ in lines),
    )


def _v_key(face: NamedFace) -> bytes:
    return face.surface.v.knots.tobytes()


def _samplings(faces: tuple[NamedFace, ...], tolerance: float) -> tuple[list[Floats], dict[bytes, Floats]]:
    """Parameters across each face, and along the body for all faces over the same knots: the finest that any of them needs."""
    across = [_counts(face.surface, 0, tolerance) for face in faces]
    along: dict[bytes, npt.NDArray[np.intp]] = {}
    for face in faces:
        key, needed = _v_key(face), _counts(face.surface, 1, tolerance)
        along[key] = np.maximum(along[key], needed) if key in along else needed
    finer: dict[bytes, float] = {}
    for face, counts in zip(faces, across, strict=True):
        key = _v_key(face)
        finer[key] = max(finer.get(key, 1.0), _twist(face.surface, counts, along[key], tolerance))
    u = [_spread(f.surface.u.breaks, np.ceil(n * finer[_v_key(f)]).astype(np.intp)) for f, n in zip(faces, across, strict=True)]
    breaks = {_v_key(face): face.surface.v.breaks for face in faces}
    return u, {key: _spread(breaks[key], np.ceil(n * finer[key]).astype(np.intp)) for key, n in along.items()}


def _twist(surface: Surface, across: npt.NDArray[np.intp], along: npt.NDArray[np.intp], tolerance: float) -> float:
    """Factor on both samplings: two triangles leave a twisted patch by S_uv . n du dv / 4."""
    u, v = surface.u.breaks, surface.v.breaks
    steps = (np.diff(u) / across)[:, None] * (np.diff(v) / along)
    middle_u, middle_v = (u[:-1] + u[1:]) / 2, (v[:-1] + v[1:]) / 2
    normal = unit_normals(surface, middle_u, middle_v)
    mixed = np.abs(np.einsum("ijk,ijk->ij", surface.grid(middle_u, middle_v, 1, 1), normal))
    return float(np.sqrt(max(1.0, float((mixed * steps).max()) / (4 * tolerance))))


def _counts(surface: Surface, axis: int, tolerance: float) -> npt.NDArray[np.intp]:
    """Steps that each knot span needs: a chord over a step h leaves the curve by h2 |S''| / 8."""
    space, other = ((surface.u, surface.v), (surface.v, surface.u))[axis]
    low, high = other.breaks[:-1], other.breaks[1:]
    across = np.append(np.column_stack([low, (low + high) / 2]).ravel(), high[-1])
    b = space.breaks
    widths = np.diff(b)
    if space.degree == 1:
        return np.ones(len(widths), dtype=np.intp)
    at = (b[:-1, None] + widths[:, None] * np.array([0.05, 0.5, 0.95])).ravel()
    second = surface.grid(at, across, 2, 0) if axis == 0 else surface.grid(across, at, 0, 2).transpose(1, 0, 2)
    bend = np.sqrt((second**2).sum(axis=-1).max(axis=1)).reshape(-1, 3).max(axis=1)
    return np.clip(np.ceil(widths * np.sqrt(bend / (8 * tolerance))), 1, 64).astype(np.intp)


def _spread(breaks: Floats, counts: npt.NDArray[np.intp]) -> Floats:
    owner = np.repeat(np.arange(len(counts)), counts)
    step = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
    return np.append(breaks[owner] + (breaks[owner + 1] - breaks[owner]) * step / counts[owner], breaks[-1])


def _grid(surface: Surface, u: Floats, v: Floats) -> tuple[Floats, Floats, Indices]:
    positions, normals = points_and_normals(surface, u, v)
    m, k = len(u), len(v)
    corner = (np.arange(m - 1)[:, None] * k + np.arange(k - 1)).ravel()
    triangles = np.concatenate([np.column_stack([corner, corner + k, corner + k + 1]), np.column_stack([corner, corner + k + 1, corner + 1])])
    flat = positions.reshape(-1, 3)
    if any(np.ptp(end, axis=0).max() < 1e-9 for end in (positions[:, 0], positions[:, -1])):
        a, b, c = (flat[triangles[:, i]] for i in range(3))
        triangles = triangles[np.linalg.norm(cross(b - a, c - a), axis=1) > 1e-12]
    return flat, normals.reshape(-1, 3), triangles.astype(np.uint32)


def _key(curve: Curve) -> bytes:
    """A boundary curve is the same for a face and its cap, to the last bit: both hold the same control points."""
    return curve.points.tobytes()


def _cap(cap: Cap, samplings: list[Floats | None], tolerance: float) -> tuple[Floats, Floats, Indices]:
    runs = [curve(u)[:-1] if u is not None else polyline(curve, tolerance)[:-1] for curve, u in zip(cap.boundary, samplings, strict=True)]
    ring = np.concatenate(runs)
    flat = cap.frame.drop(ring)
    order = mapbox_earcut.triangulate_float64(flat, np.array([len(flat)], dtype=np.uint32)).reshape(-1, 3)
    a, b, c = (flat[order[:, i]] for i in range(3))
    turn = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    order = np.where((turn < 0)[:, None], order[:, ::-1], order)
    return ring, np.tile(cap.frame.z, (len(ring), 1)), order.astype(np.uint32)


def polyline(curve: Curve, tolerance: float) -> Floats:
    """Points along a curve (n, d) whose chords stay within about the tolerance (mm) of it."""
    return polylines([curve], tolerance)[0]


def polylines(curves: Sequence[Curve], tolerance: float) -> list[Floats]:
    """Points along each curve, (n, d), whose chords stay within about the tolerance (mm) of it; those of one space are taken together."""
    alike: dict[tuple[int, bytes, bool], list[int]] = {}
    for i, curve in enumerate(curves):
        alike.setdefault((curve.degree, curve.space.knots.tobytes(), curve.weights is None), []).append(i)
    found: dict[int, Floats] = {}
    for (degree, _, polynomial), numbers in alike.items():
        b = curves[numbers[0]].space.breaks
        run = b
        if degree > 1:
            widths = np.diff(b)
            at = (b[:-1, None] + widths[:, None] * np.array([0.05, 0.5, 0.95])).ravel()
            bend = lengths(_of_one_space([curves[i] for i in numbers], at, 2, polynomial)).max(axis=1).reshape(-1, 3).max(axis=1)
            run = _spread(b, np.clip(np.ceil(widths * np.sqrt(bend / (8 * tolerance))), 1, 64).astype(np.intp))
        points = _of_one_space([curves[i] for i in numbers], run, 0, polynomial)
        found |= {i: points[:, column] for column, i in enumerate(numbers)}
    return [found[i] for i in range(len(curves))]


def _of_one_space(curves: Sequence[Curve], at: Floats, order: int, polynomial: bool) -> Floats:
    """Derivatives (m, k, d) of k curves of one space at parameters (m,)."""
    if polynomial:
        return curves[0].space.evaluate(np.stack([curve.points for curve in curves], axis=1), at, order)
    return np.stack([curve.derivatives(at, order)[order] for curve in curves], axis=1)
