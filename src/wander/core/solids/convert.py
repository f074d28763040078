"""From our curves and surfaces to the kernel's."""

from __future__ import annotations

from OCP.collections import Array1_double, Array1_gp_Pnt, Array1_int, Array2_double, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineCurve, Geom_BSplineSurface
from OCP.gp import gp_Ax3, gp_Dir, gp_Pln, gp_Pnt

from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface


def _doubles(values: list[float]) -> Array1_double:
    array = Array1_double(1, len(values))
    for i, value in enumerate(values, start=1):
        array.SetValue(i, value)
    return array


def _knots(space: SplineSpace) -> tuple[Array1_double, Array1_int]:
    counts = Array1_int(1, len(space.breaks))
    for i, count in enumerate(space.multiplicities.tolist(), start=1):
        counts.SetValue(i, count)
    return _doubles(space.breaks.tolist()), counts


def to_kernel_curve(curve: Curve) -> Geom_BSplineCurve:
    """A curve in space as the kernel holds it."""
    poles = Array1_gp_Pnt(1, len(curve.points))
    for i, xyz in enumerate(curve.points.tolist(), start=1):
        poles.SetValue(i, gp_Pnt(*xyz))
    knots, counts = _knots(curve.space)
    if curve.weights is None:
        return Geom_BSplineCurve(poles, knots, counts, curve.degree)
    return Geom_BSplineCurve(poles, _doubles(curve.weights.tolist()), knots, counts, curve.degree)


def to_kernel_surface(surface: Surface) -> Geom_BSplineSurface:
    nu, nv = surface.points.shape[:2]
    poles = Array2_gp_Pnt(1, nu, 1, nv)
    # one flat list, and one point that is copied: thousands of small things take twice as long, and have the collector look through all there is
    xyz, pole, at = surface.points.ravel().tolist(), gp_Pnt(), 0
    for i in range(1, nu + 1):
        for j in range(1, nv + 1):
            pole.SetCoord(xyz[at], xyz[at + 1], xyz[at + 2])
            poles.SetValue(i, j, pole)
            at += 3
    (u, u_counts), (v, v_counts) = _knots(surface.u), _knots(surface.v)
    if surface.weights is None:
        return Geom_BSplineSurface(poles, u, v, u_counts, v_counts, surface.u.degree, surface.v.degree)
    weights = Array2_double(1, nu, 1, nv)
    for i, row in enumerate(surface.weights.tolist(), start=1):
        for j, value in enumerate(row, start=1):
            weights.SetValue(i, j, value)
    return Geom_BSplineSurface(poles, weights, u, v, u_counts, v_counts, surface.u.degree, surface.v.degree)


def to_kernel_plane(frame: Frame) -> gp_Pln:
    return gp_Pln(gp_Ax3(gp_Pnt(*frame.origin.tolist()), gp_Dir(*frame.z.tolist()), gp_Dir(*frame.x.tolist())))
