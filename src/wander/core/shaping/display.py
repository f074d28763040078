"""Meshes for the screen straight from the surfaces: no mesher, no kernel.

Every seam is cut into pieces once, and the parts on both of its sides take those, so the mesh is watertight as it stands.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypedDict

import mapbox_earcut
import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.corners import corner_places
from wander.core.shaping.cuts import QUICKLY, THOROUGHLY, Axis, axis_of, cuts_within, spread
from wander.core.shaping.edges import edges
from wander.core.shaping.shell import Shell, Side
from wander.core.shaping.sides import points_and_normals

Indices = npt.NDArray[np.uint32]
IN_LINE = 1e-7
"""Sine of the turn below which a place lies in line with its neighbours."""
FLOW = 0.07
"""From one flow line to the next, as a share of the size of the body."""
MOST_FLOW = 64
BULGE = 1e-5
"""By how much of its length a straight stretch bulges where ears are cut."""


@dataclass(frozen=True)
class DisplayMesh:
    """positions, normals: (n, 3). triangles: (t, 3). face_of: (n,) index into face_names.

    line_positions: (m, 3). lines: (s, 2). line_of: (m,) index into line_names; names of section rings start with `ring:`,
    those of edges on which a section lies with `under:`: the ring is drawn for both. flow: (n, 2), the parameters of freeform faces, counted so that
    a flow line runs where one is whole; 0 on flat faces. None for a mesh that was not made of surfaces. closed: False of a sheet, which has no
    inside.
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
    flow: Floats | None = None
    closed: bool = True


def display_mesh(shell: Shell, tolerance: float, *, sparse: bool = False, strict: bool = False, quick: bool = False) -> DisplayMesh:
    """The mesh of a skin whose chords stay within about the tolerance (mm) of it: the triangles between them may be off by twice as much.

    sparse: no more triangles than that takes, knots passed over. strict: the triangles stay within the tolerance too. quick: how much it bends is
    looked at in fewer places, for what is shown for a moment.
    """
    cuts = cuts_within(shell, tolerance, sparse=sparse, strict=strict, looked=QUICKLY if quick else THOROUGHLY)
    runs = runs_of(shell, cuts, tolerance)
    parts = [_grid(shell, number, cuts[number, 0], cuts[number, 1], runs) for number in range(len(shell.faces))]
    parts += [_cap(shell, number, runs) for number in range(len(shell.faces), len(shell.faces) + len(shell.caps))]
    offsets = np.cumsum([0, *(len(p) for p, _, _ in parts)])
    positions = np.concatenate([p for p, _, _ in parts])
    size = float(np.linalg.norm(np.ptp(positions, axis=0)))
    flows = [
        grid_flow(part[0].reshape(len(cuts[i, 0]), len(cuts[i, 1]), 3), cuts[i, 0], cuts[i, 1], size)
        if i < len(shell.faces)
        else np.zeros((len(part[0]), 2))
        for i, part in enumerate(parts)
    ]
    on_rings = {_key(curve) for ring in shell.rings for curve in ring.curves}
    lines: list[tuple[str, tuple[Curve, ...]]] = [
        (edge.name if _key(edge.curve) not in on_rings else f"under:{edge.name}", (edge.curve,)) for edge in edges(shell) if not edge.smooth
    ]
    lines += [(f"ring:{ring.name}", ring.curves) for ring in shell.rings]
    drawn = polylines([curve for _, curves in lines for curve in curves], tolerance)
    owners = [number for number, (_, curves) in enumerate(lines) for _ in curves]
    return DisplayMesh(
        positions=positions,
        normals=np.concatenate([n for _, n, _ in parts]),
        triangles=np.concatenate([t + o for (_, _, t), o in zip(parts, offsets, strict=False)]).astype(np.uint32),
        face_of=np.repeat(np.arange(len(parts)), np.diff(offsets)).astype(np.uint32),
        face_names=shell.names,
        flow=np.concatenate(flows),
        closed=shell.closed,
        **line_parts(owners, drawn, tuple(name for name, _ in lines)),
    )


def grid_flow(points: Floats, u: Floats, v: Floats, size: float) -> Floats:
    """Parameters u (m,) and v (k,) of a grid of points (m, k, 3), counted in flow lines: (m * k, 2). size: of the body, mm."""
    across = float(lengths(np.diff(points, axis=0)).sum(axis=0).mean())
    along = float(lengths(np.diff(points, axis=1)).sum(axis=1).mean())
    both = [(p - p[0]) / (p[-1] - p[0]) * flow_lines(reach, size) for p, reach in ((u, across), (v, along))]
    return np.stack(np.meshgrid(*both, indexing="ij"), axis=-1).reshape(-1, 2)


def flow_lines(reach: float, size: float) -> int:
    """Between how many flow lines a face is parted that reaches so far, on a body of a size, both mm."""
    return int(np.clip(np.ceil(reach / (FLOW * size)), 1, MOST_FLOW))


class LineParts(TypedDict):
    """The lines of a mesh, as DisplayMesh holds them."""

    line_positions: Floats
    lines: Indices
    line_of: Indices
    line_names: tuple[str, ...]


def line_parts(owners: Sequence[int], drawn: Sequence[Floats], names: tuple[str, ...]) -> LineParts:
    """Polylines (n, 3) as segments; owners: the number of the name that each belongs to."""
    offsets = np.cumsum([0, *(len(p) for p in drawn)])
    segments = [np.column_stack([np.arange(len(p) - 1), np.arange(1, len(p))]) + o for p, o in zip(drawn, offsets, strict=False)]
    return {
        "line_positions": np.concatenate(drawn) if drawn else np.zeros((0, 3)),
        "lines": np.concatenate(segments).astype(np.uint32) if segments else np.zeros((0, 2), np.uint32),
        "line_of": np.repeat(np.array(owners, dtype=np.uint32), np.diff(offsets)).astype(np.uint32),
        "line_names": names,
    }


def runs_of(shell: Shell, cuts: dict[Axis, Floats], tolerance: float) -> dict[Side, Floats]:
    """Every side that meets another, as points (n, 3) in its own direction: each seam is cut into pieces once and both parts take those."""
    found: dict[Side, Floats] = {}
    corners = corner_places(shell)
    for seam in shell.seams:
        curve, axis = shell.curve(seam.first), axis_of(shell, seam.first)
        points = curve(cuts[axis]) if axis in cuts and seam.first.part < len(shell.faces) else polyline(curve, tolerance)
        points[0], points[-1] = corners[seam.first]
        found[seam.first], found[seam.second] = points, points[::-1] if seam.turned else points
    return found


def face_places(shell: Shell, number: int, u: Floats, v: Floats, runs: dict[Side, Floats]) -> Floats:
    """The grid (m, k, 3) of a face at parameters u (m,) and v (k,), its sides on the runs that it shares."""
    return _on_runs(shell.faces[number].surface.grid(u, v), number, runs)


def _on_runs(positions: Floats, number: int, runs: dict[Side, Floats]) -> Floats:
    for side, place in (("u0", np.s_[0]), ("u1", np.s_[-1]), ("v0", np.s_[:, 0]), ("v1", np.s_[:, -1])):
        met = runs.get(Side(number, side))
        if met is not None:
            positions[place] = met
    return positions


def _grid(shell: Shell, number: int, u: Floats, v: Floats, runs: dict[Side, Floats]) -> tuple[Floats, Floats, Indices]:
    positions, normals = points_and_normals(shell.faces[number].surface, u, v)
    _on_runs(positions, number, runs)
    m, k = len(u), len(v)
    corner = (np.arange(m - 1)[:, None] * k + np.arange(k - 1)).ravel()
    triangles = np.concatenate([np.column_stack([corner, corner + k, corner + k + 1]), np.column_stack([corner, corner + k + 1, corner + 1])])
    shrunk = [end for end in (positions[:, 0], positions[:, -1], positions[0], positions[-1]) if np.ptp(end, axis=0).max() < 1e-9]
    for end in shrunk:
        end[:] = end[0].copy()  # to the last bit, so that what lies between its places has no area at all
    flat = positions.reshape(-1, 3)
    if shrunk:
        a, b, c = (flat[triangles[:, i]] for i in range(3))
        triangles = triangles[np.linalg.norm(cross(b - a, c - a), axis=1) > 1e-12]
    return flat, normals.reshape(-1, 3), triangles.astype(np.uint32)


def _key(curve: Curve) -> bytes:
    """A boundary curve is the same for a face and its cap, to the last bit: both hold the same control points."""
    return curve.points.tobytes()


def _cap(shell: Shell, number: int, runs: dict[Side, Floats]) -> tuple[Floats, Floats, Indices]:
    ring, _, triangles = cap_triangles(shell, number, runs)
    return ring, np.tile(shell.caps[number - len(shell.faces)].frame.z, (len(ring), 1)), triangles


def cap_triangles(shell: Shell, number: int, runs: dict[Side, Floats]) -> tuple[Floats, list[int], Indices]:
    """Places round a cap (n, 3), chain by chain, where each chain ends, and triangles between them that look out of the body."""
    cap = shell.caps[number - len(shell.faces)]
    rings, first = [], 0
    for chain in cap.chains:
        # a side that has shrunk to a point meets nothing
        sides = [Side(number, first + k) for k in range(len(chain))]
        rings.append(np.concatenate([runs[side][:-1] for side in sides if side in runs]))
        first += len(chain)
    ring = np.concatenate(rings)
    flat = cap.frame.drop(ring)
    if cap.holes:
        chains = np.split(flat, np.cumsum([len(r) for r in rings])[:-1])
        flat = np.concatenate([_bulged(chain, hole=number > 0) for number, chain in enumerate(chains)])
    order = mapbox_earcut.triangulate_float64(flat, np.cumsum([len(r) for r in rings]).astype(np.uint32)).reshape(-1, 3)
    a, b, c = (flat[order[:, i]] for i in range(3))
    turn = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    order = np.where((turn < 0)[:, None], order[:, ::-1], order)
    return ring, np.cumsum([len(r) for r in rings]).tolist(), order.astype(np.uint32)


def _bulged(ring: Floats, *, hole: bool) -> Floats:
    """A closed chain of places (n, 2) whose straight stretches bulge a hair away from what it encloses, or, round a hole, into the hole.

    Where there are holes, ear cutting passes over places in line with their neighbours, and the mesh would leak there. Only what is joined to what
    comes from this.
    """
    ahead, behind = np.roll(ring, -1, axis=0) - ring, ring - np.roll(ring, 1, axis=0)
    turn = behind[:, 0] * ahead[:, 1] - behind[:, 1] * ahead[:, 0]
    straight = np.abs(turn) < IN_LINE * lengths(ahead) * lengths(behind)
    if not straight.any() or straight.all():
        return ring
    # begun at a corner, every stretch lies between two others
    first = int(np.flatnonzero(~straight)[0])
    rolled, flags = np.roll(ring, -first, axis=0), np.roll(straight, -first)
    places = np.arange(len(ring))
    since = np.maximum.accumulate(np.where(flags, 0, places))
    until = np.minimum.accumulate(np.where(flags, len(ring), places)[::-1])[::-1]
    share = (places - since) / np.maximum(until - since, 1)
    chord = rolled[until % len(ring)] - rolled[since]
    right = np.column_stack([chord[:, 1], -chord[:, 0]])
    x, y = ring.T
    anticlockwise = float(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1))) > 0
    outwards = right if anticlockwise else -right
    bulge = BULGE * share * (1 - share) * (-1.0 if hole else 1.0)
    return np.roll(rolled + np.where(flags, bulge, 0.0)[:, None] * outwards, first, axis=0)


def merged(meshes: Sequence[DisplayMesh]) -> DisplayMesh:
    """Several meshes as one, numbers shifted so that names stay with their faces and lines."""
    if len(meshes) == 1:
        return meshes[0]
    vertices = np.cumsum([0, *(len(m.positions) for m in meshes)]).astype(np.uint32)
    faces = np.cumsum([0, *(len(m.face_names) for m in meshes)]).astype(np.uint32)
    line_vertices = np.cumsum([0, *(len(m.line_positions) for m in meshes)]).astype(np.uint32)
    lines = np.cumsum([0, *(len(m.line_names) for m in meshes)]).astype(np.uint32)
    return DisplayMesh(
        positions=np.concatenate([m.positions for m in meshes]),
        normals=np.concatenate([m.normals for m in meshes]),
        triangles=np.concatenate([m.triangles + o for m, o in zip(meshes, vertices, strict=False)]),
        face_of=np.concatenate([m.face_of + o for m, o in zip(meshes, faces, strict=False)]),
        face_names=tuple(name for m in meshes for name in m.face_names),
        line_positions=np.concatenate([m.line_positions for m in meshes]),
        lines=np.concatenate([m.lines + o for m, o in zip(meshes, line_vertices, strict=False)]),
        line_of=np.concatenate([m.line_of + o for m, o in zip(meshes, lines, strict=False)]),
        line_names=tuple(name for m in meshes for name in m.line_names),
        flow=np.concatenate([np.zeros((len(m.positions), 2)) if m.flow is None else m.flow for m in meshes]),
        closed=all(m.closed for m in meshes),
    )


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
            run = spread(b, np.clip(np.ceil(widths * np.sqrt(bend / (8 * tolerance))), 1, 64).astype(np.intp))
        points = _of_one_space([curves[i] for i in numbers], run, 0, polynomial)
        found |= {i: points[:, column] for column, i in enumerate(numbers)}
    return [found[i] for i in range(len(curves))]


def _of_one_space(curves: Sequence[Curve], at: Floats, order: int, polynomial: bool) -> Floats:
    """Derivatives (m, k, d) of k curves of one space at parameters (m,)."""
    if polynomial:
        return curves[0].space.evaluate(np.stack([curve.points for curve in curves], axis=1), at, order)
    return np.stack([curve.derivatives(at, order)[order] for curve in curves], axis=1)
