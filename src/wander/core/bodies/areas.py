"""Areas of the faces of a body."""

from __future__ import annotations

from wander.core.bodies.body import Body
from wander.core.shaping.mass import cap_area, surface_area


def face_area(body: Body, name: str) -> float | None:
    """mm2, from the body's own surfaces; None of a face that the kernel made."""
    for skin in body.skins:
        for face in skin.faces:
            if face.name == name:
                return surface_area(face.surface)
        for cap in skin.caps:
            if cap.name == name:
                return cap_area(cap)
    return None
