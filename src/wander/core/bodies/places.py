"""Places on a face: its parameters as shares, and the plane that touches it there."""

from __future__ import annotations

import numpy as np

from wander.core.bodies.body import Face
from wander.core.bodies.projection import within
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import Frame, facing
from wander.core.geometry.vectors import cross


def touching(face: Face, around: float, along: float) -> Frame:
    """The frame that touches a face from outside, at shares of its parameters; x runs along the first of them.

    On a face that does not fill its surface the shares are those of the box of its rim, and a place beside it is taken to its rim.
    """
    if face.rims is None:
        assert face.surface is not None
        (u0, u1), (v0, v1) = face.surface.u.domain, face.surface.v.domain
        at = np.array([u0 + (u1 - u0) * (around % 1.0), v0 + (v1 - v0) * float(np.clip(along, 0, 1))])
    else:
        low, high = face.rims[0].min(axis=0), face.rims[0].max(axis=0)
        at = _inside(face.rims, low + (high - low) * np.array([around % 1.0, float(np.clip(along, 0, 1))]))
    if face.frame is not None:
        frame = Frame(face.frame.lift(at), face.frame.x, face.frame.y)
        return Frame(frame.origin, frame.x, -frame.y) if face.turned else frame
    assert face.surface is not None
    place, du, dv = (part[0, 0] for part in face.surface.tangents(at[:1], at[1:]))
    return facing(place, cross(dv, du) if face.turned else cross(du, dv), du)


def _inside(rims: tuple[Floats, ...], at: Floats) -> Floats:
    """The place itself where it lies on the face, else the nearest one on a rim."""
    if within(rims, at[None])[0]:
        return at
    starts = np.concatenate(rims)
    ways = np.concatenate([np.roll(rim, -1, axis=0) - rim for rim in rims])
    share = np.clip(np.einsum("nd,nd->n", at - starts, ways) / np.maximum(np.einsum("nd,nd->n", ways, ways), 1e-300), 0, 1)
    nearest = starts + share[:, None] * ways
    return np.asarray(nearest[int(np.argmin(np.linalg.norm(nearest - at, axis=1)))])
