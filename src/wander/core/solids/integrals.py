"""Volume, area and moments of what the kernel made: over every face, inside the curves in its parameters that bound it.

Source: Green's theorem in the parameters of a face. With F(u, v) the integral of f from one side of the face up to u, the integral of f over the
face is that of F dv round its boundary. Curves are cut where they cross a knot line, so that what is integrated is smooth between. The kernel's own
adaptive integration takes seconds for such a face, and is less exact; it is asked for surfaces that are neither splines, round nor flat.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepGProp import BRepGProp_Domain, BRepGProp_Face, BRepGProp_Sinert, BRepGProp_Vinert
from OCP.Geom2d import Geom2d_TrimmedCurve
from OCP.Geom2dAdaptor import Geom2dAdaptor_Curve
from OCP.Geom2dConvert import Geom2dConvert
from OCP.GeomAbs import GeomAbs_BSplineSurface, GeomAbs_CurveType, GeomAbs_SurfaceType
from OCP.gp import gp_Pnt
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_EDGE, TopAbs_FORWARD, TopAbs_REVERSED
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Face

from wander.core.bodies.body import Face
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.quadrature import gauss_points
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross
from wander.core.shaping.mass import cells
from wander.core.shaping.moments import NOTHING, Moments, flat_sums, of_flat, of_pieces
from wander.core.solids.curves import curve_from

ALONG, PLAIN = 16, 8
"""Gauss points on each piece of a boundary, and inwards in each span of what is no quotient, at least."""
LOOKED = 12
"""Steps in each span of a boundary in which a crossing with a knot line is looked for, once."""
HALVINGS = 44
SAME = 1e-7
"""mm: so near the face's surface as the core has it must be to the kernel's."""
NEXT_TO = 1e-9
"""Share of the parameters of a surface by which what bounds a face may be off the sides of that."""
EIGHTHS = np.arange(-16, 17) * np.pi / 4
"""Lines between which what is round is taken by Gauss points: eighths of a turn, further than the kernel counts."""
AT_ONCE = 200_000
"""Places on a surface that are asked for together, about."""
VOLUME_ERROR, AREA_ERROR = 1e-7, 1e-6
"""Relative, of the kernel's integrals."""


@dataclass(frozen=True)
class _Bound:
    """Pieces of the boundary of a face: parameters (m, 2), and how far they run (m, 2), with the face on their left."""

    at: Floats
    run: Floats


@dataclass(frozen=True)
class _Patch:
    """A surface: its knot lines both ways, Gauss points between two of them, and places, du and dv, (m, 3) each, at pairs of parameters.

    grid: the same, (m, k, 3) each, at all pairs of some u (m,) with some v (k,).
    """

    lines: tuple[Floats, Floats]
    nodes: tuple[int, int]
    at: Callable[[Floats, Floats], list[Floats]]
    grid: Callable[[Floats, Floats], list[Floats]]


def moments_of(shapes: Sequence[TopoDS_Face], faces: Sequence[Face], about: Floats) -> Moments:
    """Of faces together, counted from a place (3,). faces: the same as the core has them; both look outwards where they bound something."""
    found = NOTHING
    for shape, face in zip(shapes, faces, strict=True):
        one = _of_face(TopoDS.Face(shape.Oriented(TopAbs_FORWARD)), face, about)
        found = found + (one.turned() if shape.Orientation() == TopAbs_REVERSED else one)
    return found


def is_whole(shape: TopoDS_Face, surface: Surface | None) -> bool:
    """Whether the kernel has a face on this very surface, looking the same way, and bounds it by its sides: it holds what the surface holds."""
    if surface is None or shape.Orientation() == TopAbs_REVERSED or not _is_on(shape, surface):
        return False
    low, high = (np.array(each) for each in zip(surface.u.domain, surface.v.domain, strict=True))
    size, twice = high - low, 0.0
    for curve, backwards in _pieces(shape):
        if Geom2dAdaptor_Curve(curve).GetType() != GeomAbs_CurveType.GeomAbs_Line:
            return False
        a, b = (np.array(curve.Value(at).Coord()) for at in (curve.FirstParameter(), curve.LastParameter()))
        beside = np.minimum(np.abs([a - low, b - low]).max(axis=0), np.abs([a - high, b - high]).max(axis=0))
        if (beside / size).min() > NEXT_TO:
            return False
        twice += (-1 if backwards else 1) * float(a[0] * b[1] - a[1] * b[0])
    return bool(abs(twice / 2 - size.prod()) < NEXT_TO * size.prod())


def _of_face(shape: TopoDS_Face, face: Face, about: Floats) -> Moments:
    if face.frame is not None:
        bounds = [_bound(curve, [], backwards=backwards) for curve, backwards in _curves(shape)]
        sums = sum((flat_sums(*each.at.T, *each.run.T) for each in bounds), np.zeros(6))
        return of_flat(face.frame, sums, about)
    patch = _round_patch(shape) or _spline_patch(shape, face.surface)
    if patch is None:
        return _by_kernel(shape, about)
    bounds = [_bound(curve, patch.lines, backwards=backwards, nodes=patch.nodes) for curve, backwards in _curves(shape)]
    return _inside(patch, bounds, about)


def _spline_patch(shape: TopoDS_Face, surface: Surface | None) -> _Patch | None:
    """Of the spline that the core has for a face, where that is the kernel's own, in the same parameters."""
    if surface is None or not _is_on(shape, surface):
        return None
    (u_lines, u_nodes), (v_lines, v_nodes) = (cells(surface, space) for space in (surface.u, surface.v))

    def at_pairs(u: Floats, v: Floats) -> list[Floats]:
        return surface.at(u, v, [(0, 0), (1, 0), (0, 1)])

    return _Patch((u_lines, v_lines), (u_nodes, v_nodes), at_pairs, lambda u, v: list(surface.tangents(u, v)))


def _is_on(shape: TopoDS_Face, surface: Surface) -> bool:
    """Whether the kernel has a face on this spline, in the same parameters."""
    adaptor = BRepAdaptor_Surface(shape, False)
    if adaptor.GetType() != GeomAbs_BSplineSurface:
        return False
    for u, v in ((0.13, 0.71), (0.47, 0.29), (0.89, 0.53)):
        at = [low + share * (high - low) for share, (low, high) in zip((u, v), (surface.u.domain, surface.v.domain), strict=True)]
        if np.abs(surface.grid(np.array(at[:1]), np.array(at[1:]))[0, 0] - adaptor.Value(*map(float, at)).Coord()).max() > SAME:
            return False
    return True


def _round_patch(shape: TopoDS_Face) -> _Patch | None:
    """Of a cylinder, cone, ball or ring: a meridian turned about an axis."""
    adaptor = BRepAdaptor_Surface(shape, False)
    match adaptor.GetType():
        case GeomAbs_SurfaceType.GeomAbs_Cylinder:
            place, meridian = adaptor.Cylinder().Position(), _straight(adaptor.Cylinder().Radius(), 0.0)
        case GeomAbs_SurfaceType.GeomAbs_Cone:
            place, meridian = adaptor.Cone().Position(), _straight(adaptor.Cone().RefRadius(), adaptor.Cone().SemiAngle())
        case GeomAbs_SurfaceType.GeomAbs_Sphere:
            place, meridian = adaptor.Sphere().Position(), _arc(0.0, adaptor.Sphere().Radius())
        case GeomAbs_SurfaceType.GeomAbs_Torus:
            place, meridian = adaptor.Torus().Position(), _arc(adaptor.Torus().MajorRadius(), adaptor.Torus().MinorRadius())
        case _:
            return None
    at, x, y, z = (np.array(each.Coord()) for each in (place.Location(), place.XDirection(), place.YDirection(), place.Direction()))

    def at_pairs(u: Floats, v: Floats) -> list[Floats]:
        out, up, out_by, up_by = (part[:, None] for part in meridian(v))
        there, aside = (np.cos(u)[:, None] * a + np.sin(u)[:, None] * b for a, b in ((x, y), (y, -x)))
        return [at + out * there + up * z, out * aside, out_by * there + up_by * z]

    def grid(u: Floats, v: Floats) -> list[Floats]:
        return [each.reshape(len(u), len(v), 3) for each in at_pairs(np.repeat(u, len(v)), np.tile(v, len(u)))]

    return _Patch((EIGHTHS, EIGHTHS), (PLAIN, PLAIN), at_pairs, grid)


Meridian = Callable[[Floats], tuple[Floats, Floats, Floats, Floats]]
"""How far out and up it is at parameters, and how fast it goes out and up."""


def _straight(far: float, leans: float) -> Meridian:
    out, up = np.sin(leans), np.cos(leans)
    return lambda v: (far + v * out, v * up, np.full(len(v), out), np.full(len(v), up))


def _arc(far: float, radius: float) -> Meridian:
    return lambda v: (far + radius * np.cos(v), radius * np.sin(v), -radius * np.sin(v), radius * np.cos(v))


def _by_kernel(shape: TopoDS_Face, about: Floats) -> Moments:
    surface, place = BRepGProp_Face(shape), gp_Pnt(*about.tolist())
    inside = BRepGProp_Vinert(surface, BRepGProp_Domain(shape), place, VOLUME_ERROR)
    skin = BRepGProp_Sinert(surface, BRepGProp_Domain(shape), place, AREA_ERROR)
    volume, area = inside.Mass(), skin.Mass()
    first, areas = (np.array(each.CentreOfMass().Coord()) - about for each in (inside, skin))
    return Moments(volume, area, first * volume, _second(inside, first, volume), areas * area)


def _second(inside: GProp_GProps, center: Floats, volume: float) -> Floats:
    """Second moments about the place that is counted from. The kernel tells the moments of inertia about the centre."""
    told = inside.MatrixOfInertia()
    inertia = np.array([[told.Value(i, j) for j in (1, 2, 3)] for i in (1, 2, 3)])
    return np.asarray(np.trace(inertia) / 2 * np.eye(3) - inertia + volume * np.outer(center, center))


def _curves(shape: TopoDS_Face) -> Iterator[tuple[Curve, bool]]:
    """All that bounds a face, in its parameters, seams both ways, and whether it is run backwards."""
    for curve, backwards in _pieces(shape):
        yield curve_from(Geom2dConvert.CurveToBSplineCurve_s(curve)), backwards


def _pieces(shape: TopoDS_Face) -> Iterator[tuple[Geom2d_TrimmedCurve, bool]]:
    """The same as the kernel has it."""
    edges = TopExp_Explorer(shape, TopAbs_EDGE)
    while edges.More():
        edge = TopoDS.Edge(edges.Current())
        low, high = BRep_Tool.Range_s(edge, shape)
        yield Geom2d_TrimmedCurve(BRep_Tool.CurveOnSurface_s(edge, shape, low, high), low, high), edge.Orientation() == TopAbs_REVERSED
        edges.Next()


def _bound(curve: Curve, lines: Sequence[Floats], *, backwards: bool, nodes: tuple[int, int] = (ALONG, ALONG)) -> _Bound:
    """Gauss points along a curve, which is cut where it crosses one of the lines: values of its first, of its second coordinate.

    nodes: Gauss points between two lines, which are enough for what runs along one of the coordinates.
    """
    count = ALONG
    if len(curve.points) == 2 and curve.weights is None:
        still = np.abs(np.diff(curve.points, axis=0)[0]) < 1e-12
        count = nodes[0] if still[1] else nodes[1] if still[0] else ALONG
    cuts = [curve.space.breaks]
    if lines:
        at, points = curve.sampled(LOOKED)
        cuts += [_crossings(curve, at, points[:, axis], axis, values) for axis, values in enumerate(lines)]
    t, w = gauss_points(np.unique(np.concatenate(cuts)), count)
    points, slopes = curve.derivatives(t, 1)
    run = slopes * w[:, None]
    return _Bound(points, -run if backwards else run)


def _crossings(curve: Curve, at: Floats, known: Floats, axis: int, values: Floats) -> Floats:
    """Parameters at which a coordinate of the curve comes to one of the values, by halving. known: that coordinate at parameters `at`."""
    below = np.searchsorted(values, known)
    rising = np.diff(below)
    step, value = [], []
    for k in np.flatnonzero(rising):
        passed = range(*sorted((int(below[k]), int(below[k + 1]))))
        step += [k] * len(passed)
        value += [values[i] for i in passed]
    if not step:
        return np.zeros(0)
    low, high, goal = at[step], at[np.array(step) + 1], np.array(value)
    rises = rising[step] > 0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        before = (curve(middle)[:, axis] < goal) == rises
        low, high = np.where(before, middle, low), np.where(before, high, middle)
    return np.asarray((low + high) / 2)


def _inside(patch: _Patch, bounds: Sequence[_Bound], about: Floats) -> Moments:
    """Inwards from the boundary along the coordinate that leaves least to be done."""
    at, run = np.concatenate([each.at for each in bounds]), np.concatenate([each.run for each in bounds])
    low, high = at.min(axis=0), at.max(axis=0)
    moves = np.abs(run) > 1e-15 * np.where(high > low, high - low, 1.0)
    spans = [1 + int(((lines > a) & (lines < b)).sum()) for lines, a, b in zip(patch.lines, low, high, strict=True)]
    axis = int(np.argmin([int(moves[:, 1 - k].sum()) * spans[k] for k in (0, 1)]))
    some = moves[:, 1 - axis] & (at[:, axis] > low[axis])
    # up to u, round the boundary by dv; up to v it is by -du
    weight = run[some, 1 - axis] if axis == 0 else -run[some, 1 - axis]
    found = NOTHING
    for p, du, dv, size in _inwards(patch, axis, at[some], weight, float(low[axis])):
        found = found + of_pieces(p - about, cross(du, dv) * size[:, None], size)
    return found


def _inwards(patch: _Patch, axis: int, places: Floats, weight: Floats, start: float) -> Iterator[tuple[Floats, Floats, Floats, Floats]]:
    """Gauss points from a line to each of the places (m, 2) along one coordinate, span by span: points, du, dv (n, 3), and weights (n,).

    Whole spans have their points at the same parameters for all places, so they are a grid; what is left of the last span is taken by itself.
    """
    ends, others = places[:, axis], places[:, 1 - axis]
    lines = patch.lines[axis]
    edges = np.concatenate([[start], lines[(lines > start) & (lines < ends.max())]])
    t, w = gauss_points(np.array([0.0, 1.0]), patch.nodes[axis])
    last = np.clip(np.searchsorted(edges, ends, side="right") - 1, 0, None)
    wide = np.diff(edges)
    inner, inner_weights = (edges[:-1, None] + wide[:, None] * t).ravel(), (wide[:, None] * w).ravel()
    rows = max(1, AT_ONCE // max(len(inner), len(t)))
    for first in range(0, len(places), rows):
        part = slice(first, first + rows)
        if len(inner):
            grid = patch.grid(inner, others[part]) if axis == 0 else patch.grid(others[part], inner)
            p, du, dv = ((each.transpose(1, 0, 2) if axis == 0 else each).reshape(-1, 3) for each in grid)
            passed = np.repeat(np.arange(len(wide)), len(t)) < last[part, None]
            yield p, du, dv, (inner_weights * weight[part, None] * passed).ravel()
        begin = edges[last[part]]
        left = ends[part] - begin
        along, beside = (begin[:, None] + left[:, None] * t).ravel(), np.repeat(others[part], len(t))
        p, du, dv = patch.at(*((along, beside) if axis == 0 else (beside, along)))
        yield p, du, dv, (left[:, None] * w * weight[part, None]).ravel()
