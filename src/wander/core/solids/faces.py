"""From the kernel's faces to the core's: the same surface in the same parameters."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepTools import BRepTools
from OCP.Geom import Geom_BSplineSurface, Geom_OffsetSurface
from OCP.GeomAbs import GeomAbs_Plane
from OCP.TopoDS import TopoDS_Face

from wander.core.bodies.body import Face
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import Frame
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.solids.errors import KernelError

DEGREE = 5
FOLLOWED = 1e-5
"""mm: how far a spline may stray from a surface of the kernel that is none."""
FIRST_SPANS, MOST_SPANS = 8, 400
_BETWEEN = np.array([0.21, 0.5, 0.83])


def face_from(shape: TopoDS_Face, name: str) -> Face:
    """A face that the kernel made, with rims as yet to be found. Raises KernelError where its surface can't be followed."""
    adaptor = BRepAdaptor_Surface(shape, False)
    if adaptor.GetType() == GeomAbs_Plane:
        place = adaptor.Plane().Position()
        at, x, y = (np.array([p.X(), p.Y(), p.Z()]) for p in (place.Location(), place.XDirection(), place.YDirection()))
        return Face(name, None, Frame(at, x, y), ())
    return Face(name, surface_from(shape), None, ())


def surface_from(shape: TopoDS_Face) -> Surface:
    """The surface of a face in the kernel's own parameters, at least as far as the face goes. Raises KernelError."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(shape)
    surface = BRep_Tool.Surface_s(shape)
    if isinstance(surface, Geom_BSplineSurface):
        known = _copied(surface)
        if _holds(known.u, u0, u1) and _holds(known.v, v0, v1):
            return known
    return _followed(shape, (u0, u1), (v0, v1))


def _holds(space: SplineSpace, low: float, high: float) -> bool:
    first, last = space.domain
    slack = 1e-9 * (last - first)
    return first - slack <= low and high <= last + slack


def _copied(surface: Geom_BSplineSurface) -> Surface:
    whole = surface.Copy() if surface.IsUPeriodic() or surface.IsVPeriodic() else surface
    assert isinstance(whole, Geom_BSplineSurface)
    if whole.IsUPeriodic():
        whole.SetUNotPeriodic()
    if whole.IsVPeriodic():
        whole.SetVNotPeriodic()
    if whole is not surface:
        # what was periodic may still run on beyond its ends
        whole.Segment(*whole.Bounds())
    breaks = [
        [whole.UKnot(i) for i in range(1, whole.NbUKnots() + 1)],
        [whole.VKnot(i) for i in range(1, whole.NbVKnots() + 1)],
    ]
    counts = [
        [whole.UMultiplicity(i) for i in range(2, whole.NbUKnots())],
        [whole.VMultiplicity(i) for i in range(2, whole.NbVKnots())],
    ]
    u, v = (SplineSpace.from_breaks(d, b, c) for d, b, c in zip((whole.UDegree(), whole.VDegree()), breaks, counts, strict=True))
    rows, columns = range(1, whole.NbUPoles() + 1), range(1, whole.NbVPoles() + 1)
    points = np.array([[whole.Pole(i, j).Coord() for j in columns] for i in rows])
    weights = None
    if whole.IsURational() or whole.IsVRational():
        weights = np.array([[whole.Weight(i, j) for j in columns] for i in rows])
    return Surface(u, v, points, weights)


def _followed(shape: TopoDS_Face, across: tuple[float, float], along: tuple[float, float]) -> Surface:
    """The quintic spline through a surface of any kind. Raises KernelError where so many spans are not enough."""
    adaptor = BRepAdaptor_Surface(shape, False)

    def true(u: Floats, v: Floats) -> Floats:
        return np.array([[adaptor.Value(float(a), float(b)).Coord() for b in v] for a in u])

    breaks, bends = _begun(shape, (across, along))
    while max(map(len, breaks)) <= MOST_SPANS:
        u, v = (SplineSpace.going_on(DEGREE, each, bend, same=1e-9) for each, bend in zip(breaks, bends, strict=True))
        found = Surface.through(u, v, true(u.greville, v.greville))
        looks = [(b[:-1, None] + np.diff(b)[:, None] * _BETWEEN).ravel() for b in breaks]
        # where it was met one way only the other can stray
        some = [space.greville[:: max(1, space.count // 12)] for space in (u, v)]
        off = [
            np.abs(found.grid(looks[0], some[1]) - true(looks[0], some[1])).max(axis=(1, 2)),
            np.abs(found.grid(some[0], looks[1]) - true(some[0], looks[1])).max(axis=(0, 2)),
        ]
        bad = [each.reshape(-1, len(_BETWEEN)).max(axis=1) > FOLLOWED for each in off]
        if not any(each.any() for each in bad):
            return found
        breaks = [np.sort(np.concatenate([b, ((b[:-1] + b[1:]) / 2)[which]])) for b, which in zip(breaks, bad, strict=True)]
    raise KernelError("the kernel made a face that can't be followed closely enough")


def _begun(shape: TopoDS_Face, reaches: Sequence[tuple[float, float]]) -> tuple[list[Floats], list[dict[float, int]]]:
    """Breaks to begin with both ways, and at which of them fewer derivatives go on.

    Of a face that is told by its distance from a spline those of that spline, with one derivative less, as normals have it.
    """
    surface = BRep_Tool.Surface_s(shape)
    basis = surface.BasisSurface() if isinstance(surface, Geom_OffsetSurface) else None
    if not isinstance(basis, Geom_BSplineSurface):
        return [np.linspace(*reach, FIRST_SPANS + 1) for reach in reaches], [{}, {}]
    known = _copied(basis)
    breaks, bends = [], []
    for space, (low, high) in zip((known.u, known.v), reaches, strict=True):
        inside = space.breaks[(space.breaks > low + 1e-9) & (space.breaks < high - 1e-9)]
        breaks.append(np.concatenate([[low], inside, [high]]) if len(inside) else np.linspace(low, high, FIRST_SPANS + 1))
        bends.append({at: max(0, order - 1) for at, order in space.continuity.items() if order < DEGREE - 1})
    return breaks, bends
