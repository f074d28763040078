"""From the kernel's curves to the core's."""

from __future__ import annotations

import numpy as np
from OCP.Geom import Geom_BSplineCurve
from OCP.Geom2d import Geom2d_BSplineCurve

from wander.core.geometry.curve import Curve
from wander.core.geometry.space import SplineSpace


def curve_from(spline: Geom_BSplineCurve | Geom2d_BSplineCurve) -> Curve:
    """A spline in space, or in the parameters of a face. One that comes round again is opened where it begins."""
    if spline.IsPeriodic():
        spline.SetNotPeriodic()
    poles = np.array([spline.Pole(i).Coord() for i in range(1, spline.NbPoles() + 1)])
    breaks = [spline.Knot(i) for i in range(1, spline.NbKnots() + 1)]
    counts = [spline.Multiplicity(i) for i in range(2, spline.NbKnots())]
    weights = np.array([spline.Weight(i) for i in range(1, spline.NbPoles() + 1)]) if spline.IsRational() else None
    return Curve(SplineSpace.from_breaks(spline.Degree(), breaks, counts), poles, weights)
