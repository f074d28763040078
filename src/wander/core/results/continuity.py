"""How the faces of a body meet, told for lists and for the screen."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from wander.core.bodies.body import Body
from wander.core.bodies.continuity import Seam, seams
from wander.core.results.summaries import BridgedOut, SeamOut, vector


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


def bridged_out(end: Literal["first", "second", "round"], found: Sequence[Seam]) -> BridgedOut:
    """How an end meets what lies beside it: the worst of all its seams."""
    worst = min(found, key=lambda seam: (-1 if seam.grade is None else seam.grade, -seam.angle))
    jumps = [seam.jump for seam in found if seam.jump is not None]
    return BridgedOut(
        end=end,
        gap=max(seam.gap for seam in found),
        angle=max(seam.angle for seam in found),
        jump=max(jumps) if len(jumps) == len(found) else None,
        grade=worst.grade,
        worst=vector(worst.worst),
    )
