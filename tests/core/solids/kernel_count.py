"""What the kernel itself counts: the answer that our own integrals are held against."""

from __future__ import annotations

from wander.core.bodies.body import Body
from wander.core.solids.measure import kernel_volume
from wander.core.solids.named import shape_of


def counted_by_kernel(body: Body) -> float:
    """Volume, mm3, by the kernel's adaptive integration over its own faces; 0 of a sheet."""
    return sum(kernel_volume(solid, 1e-8) for solid in shape_of(body).solids)
