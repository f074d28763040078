"""Curves laid on a body: every point goes along one direction until it meets the skin."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from wander.core.bodies.body import Body, Face
from wander.core.geometry.approximate import approximated
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import Tolerances

PER_SPAN = 5
ROUNDS = 12
CLOSE = 1e-8
"""A line meets a surface where it comes so near, mm."""


class BesideBody(BadInput):
    """A line from the curve passes the body by; `place`: where it starts, (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("part of the curve has no body over it")
        self.place = place


@dataclass(frozen=True)
class _Net:
    """Triangles of a face seen along the direction: corners (t, 3, 2) in the plane, parameters (t, 3, 2)."""

    face: Face
    surface: Surface
    corners: Floats
    parameters: Floats


def laid_on(curve: Curve, along: Frame, body: Body, tolerances: Tolerances) -> tuple[Curve, float]:
    """The curve (3,) moved along the normal of a frame onto the first face it meets, and how far the spline strays from it, mm.

    Raises BesideBody where there is no face to meet.
    """
    nets = [_net(face, face.surface, along) for face in body.faces if face.surface is not None]

    def true(t: Floats) -> Floats:
        start = curve(t)
        heights = (start - along.origin) @ along.z
        found = np.full(len(t), np.inf)
        for net in nets:
            found = np.minimum(found, _heights_on(net, along, along.drop(start), heights))
        for face in body.faces:
            if face.frame is not None:
                found = np.minimum(found, _heights_on_flat(face, face.frame, along, start, heights))
        if not np.all(np.isfinite(found)):
            raise BesideBody(start[int(np.argmax(~np.isfinite(found)))])
        return np.asarray(start + (found - heights)[:, None] * along.z)

    return approximated(true, curve.space.breaks, tolerances.fit, continuity=curve.space.continuity)


def _net(face: Face, surface: Surface, along: Frame) -> _Net:
    u, v = (
        np.append((b[:-1, None] + np.diff(b)[:, None] * np.arange(PER_SPAN) / PER_SPAN).ravel(), b[-1]) for b in (surface.u.breaks, surface.v.breaks)
    )
    flat = along.drop(surface.grid(u, v))
    places = np.stack(np.meshgrid(u, v, indexing="ij"), axis=-1)

    def triangles(values: Floats) -> Floats:
        a, b, c, d = values[:-1, :-1], values[1:, :-1], values[1:, 1:], values[:-1, 1:]
        return np.concatenate([np.stack(three, axis=2).reshape(-1, 3, 2) for three in ((a, b, c), (a, c, d))])

    return _Net(face, surface, triangles(flat), triangles(places))


def _heights_on(net: _Net, along: Frame, targets: Floats, least: Floats) -> Floats:
    """Height of the first meeting at or above `least` (m,) with one face, for places in the plane (m, 2); infinite where there is none."""
    which, triangle, shares = _over(net.corners, targets)
    found = np.full(len(targets), np.inf)
    if not len(which):
        return found
    at = np.einsum("nk,nkd->nd", shares, net.parameters[triangle])
    surface, wanted = net.surface, targets[which]
    (u0, u1), (v0, v1) = surface.u.domain, surface.v.domain
    for _ in range(ROUNDS):
        place, du, dv = surface.at(at[:, 0], at[:, 1], [(0, 0), (1, 0), (0, 1)])
        missed = wanted - along.drop(place)
        slopes = np.stack([np.stack([du @ along.x, dv @ along.x], -1), np.stack([du @ along.y, dv @ along.y], -1)], axis=1)
        turning = slopes[:, 0, 0] * slopes[:, 1, 1] - slopes[:, 0, 1] * slopes[:, 1, 0]
        safe = np.where(np.abs(turning) < 1e-12, 1e-12, turning)
        step = np.stack(
            [slopes[:, 1, 1] * missed[:, 0] - slopes[:, 0, 1] * missed[:, 1], slopes[:, 0, 0] * missed[:, 1] - slopes[:, 1, 0] * missed[:, 0]],
            axis=-1,
        )
        at = np.clip(at + step / safe[:, None], [u0, v0], [u1, v1])
    place = surface.at(at[:, 0], at[:, 1], [(0, 0)])[0]
    height = (place - along.origin) @ along.z
    good = (np.linalg.norm(wanted - along.drop(place), axis=1) < CLOSE) & (height >= least[which] - CLOSE)
    if net.face.rims is not None:
        good &= within(net.face.rims, at)
    np.minimum.at(found, which[good], height[good])
    return found


def _over(corners: Floats, targets: Floats) -> tuple[npt.NDArray[np.intp], npt.NDArray[np.intp], Floats]:
    """Pairs of targets and triangles that lie over each other, nearly counts too, and the shares of the corners (n, 3)."""
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    size = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    safe = np.where(np.abs(size) < 1e-14, np.inf, size)
    x, y = targets[:, :1], targets[:, 1:]
    to_b = ((x - a[:, 0]) * (c[:, 1] - a[:, 1]) - (y - a[:, 1]) * (c[:, 0] - a[:, 0])) / safe
    to_c = ((b[:, 0] - a[:, 0]) * (y - a[:, 1]) - (b[:, 1] - a[:, 1]) * (x - a[:, 0])) / safe
    # curved cells reach a little beyond their triangles; a seed too many is dropped by the iteration
    slack = 0.15
    which, triangle = np.nonzero((to_b > -slack) & (to_c > -slack) & (to_b + to_c < 1 + slack) & np.isfinite(safe))
    one, two = to_b[which, triangle], to_c[which, triangle]
    return which, triangle, np.stack([1 - one - two, one, two], axis=-1)


def _heights_on_flat(face: Face, frame: Frame, along: Frame, start: Floats, least: Floats) -> Floats:
    """The same for a flat face: where the lines meet its plane inside its rims."""
    slope = float(frame.z @ along.z)
    if abs(slope) < 1e-9:
        return np.full(len(start), np.inf)
    reach = ((frame.origin - start) @ frame.z) / slope
    inside = within(face.rims or (), frame.drop(start + reach[:, None] * along.z))
    return np.where(inside & (reach >= -CLOSE), least + reach, np.inf)


def within(rims: Sequence[Floats], points: Floats) -> npt.NDArray[np.bool_]:
    """Whether points (m, 2) lie inside the first of some closed polygons (k, 2) and outside the others, which lie inside it."""
    odd = np.zeros(len(points), dtype=bool)
    for rim in rims:
        odd ^= _inside(rim, points)
    return odd


def _inside(ring: Floats, points: Floats) -> npt.NDArray[np.bool_]:
    """Whether points (m, 2) lie inside a closed polygon (k, 2), by crossings of a ray."""
    a, b = ring, np.roll(ring, -1, axis=0)
    x, y = points[:, :1], points[:, 1:]
    spans = (a[:, 1] > y) != (b[:, 1] > y)
    rise = np.where(b[:, 1] == a[:, 1], 1.0, b[:, 1] - a[:, 1])
    crossed = spans & (x < a[:, 0] + (y - a[:, 1]) * (b[:, 0] - a[:, 0]) / rise)
    return np.asarray(crossed.sum(axis=1) % 2 == 1)
