"""How the faces of a body meet, told for lists and for the screen."""

from __future__ import annotations

from wander.core.bodies.body import Body
from wander.core.bodies.continuity import seams
from wander.core.results.summaries import SeamOut, vector


def read_continuity(step: str, body: Body) -> list[SeamOut]:
    """Those that meet worst come first."""
    return [
        SeamOut(
            step=step,
            name=seam.name,
            faces=seam.faces,
            section=seam.section,
            length=seam.length,
            gap=float(f"{seam.gap:.6g}"),
            angle=float(f"{seam.angle:.6g}"),
            jump=None if seam.jump is None else float(f"{seam.jump:.6g}"),
            worst=vector(seam.worst),
            grade=seam.grade,
        )
        for seam in seams(body)
    ]
