"""Runs of edges as outlines in a plane."""

from __future__ import annotations

from collections.abc import Sequence
from zlib import crc32

from wander.core.bodies.edge_runs import oriented, polynomial
from wander.core.drawing.outlines.loop import Loop
from wander.core.drawing.outlines.outline import Stretch, outline
from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame
from wander.core.geometry.tolerances import Tolerances
from wander.core.shaping.edges import Edge


def rim_of(loop: Sequence[Edge], frame: Frame, tolerances: Tolerances) -> Loop:
    """Edges of a body that run round as an outline on the plane; what is built on it is called by them. Raises GeometryError."""
    stretches = []
    for edge, curve in zip(loop, oriented(loop), strict=True):
        flat = polynomial(curve, tolerances)
        label = f"e{crc32(edge.name.encode()):08x}"
        mapped = Curve(flat.space.mapped(0.0, 1.0), frame.drop(flat.points))
        stretches.append(Stretch(mapped, even=False, whole=len(loop) == 1, label=label, corner=label))
    return outline(stretches)
