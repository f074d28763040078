"""Sheets made thick."""

from __future__ import annotations

from wander.core.bodies.body import Body
from wander.core.bodies.combining import How
from wander.core.bodies.kernel import Kernel
from wander.core.bodies.thickness import Thickness


def thick(sheet: Body, thickness: float, shares: tuple[float, float], kernel: Kernel, maker: str) -> tuple[Body, Thickness]:
    """A sheet made thick, and how thick it is: by shares against its normals and along them. Raises KernelFailed, CombineFailed."""
    # half and half: both halves have the sheet between them
    parts = [kernel.thickened(sheet, sign * share * thickness, maker) for sign, share in zip((-1, 1), shares, strict=True) if share]
    made = parts[0][0] if len(parts) == 1 else kernel.combined(How.JOIN, parts[0][0], [parts[1][0]])
    found = [measured for _, measured in parts]
    least, largest, mean = (sum(getattr(each, name) for each in found) for name in ("least", "largest", "mean"))
    return made, Thickness(least, largest, mean, sum(each.places for each in found), found[0].thin, found[0].thick)
