"""What there is of a body in a plane: its outline seen square on, and where the plane cuts it. Taken from a fine mesh of it.

What has no inside has neither.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from wander.core.bodies.body import Body, mesh_of
from wander.core.bodies.rough import drawn_of
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import Frame

FINE = 5e-3
"""mm that the mesh may be off own surfaces; what the kernel made comes as it was meshed with it."""
HAIR = 1e-3
"""mm off the line between its neighbours below which a point says nothing."""
BESIDE = 1e-4
"""mm by which the plane is moved so that a body which ends on it is cut."""


def seen_round(body: Body, frame: Frame) -> list[Floats]:
    """Closed rows of points (m, 2) round all that is covered where the body is seen along the normal of a plane, the largest first.

    Raises NotClosed where it is a sheet.
    """
    return _rows(_laid(body, frame).project())


def cut_by(body: Body, frame: Frame) -> list[Floats]:
    """Closed rows of points (m, 2) round what a plane cuts out of the body, the largest first. Raises NotClosed where it is a sheet."""
    solid = _laid(body, frame)
    # of one that ends on the plane either side may be empty
    found = [_rows(solid.slice(height)) for height in (BESIDE, -BESIDE)]
    return found[0] or found[1]


def _laid(body: Body, frame: Frame) -> Any:
    """The body as the plane has it: its own x and y, and the distance from it as z."""
    turned = np.stack([frame.x, frame.y, frame.z])
    return drawn_of(mesh_of(body, FINE, strict=True)).solid.transform(np.column_stack([turned, -turned @ frame.origin]))


def _rows(section: Any) -> list[Floats]:
    rows = [np.asarray(row, dtype=np.float64) for row in section.simplify(HAIR).to_polygons()]
    return sorted(rows, key=lambda row: -abs(_area(row)))


def _area(row: Floats) -> float:
    x, y = row.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2
