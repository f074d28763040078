"""Findings about linked copies."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.checks.places import spot
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame


def needs_two_rails(step: Step, rail: Step) -> Finding:
    """A copy is to be fitted between one rail."""
    return Finding(
        code="one-rail",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} is fitted to one rail alone",
        detail=f"Between {rail.name} and a second rail its size and its place are given. Add that one, or let it stand by its own numbers.",
        path=["shape", "rails"],
        fixes=[_by_itself(step)],
    )


def rail_beside(step: Step, rail: Step, frame: Frame, curve: Curve) -> Finding:
    """A rail does not pass the plane of the copy that is to be fitted to it."""
    points = curve.sampled(24)[1]
    height = (points - frame.origin) @ frame.z
    nearest = int(np.abs(height).argmin())
    return Finding(
        code="rail-beside",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{rail.name} does not reach {step.name}",
        detail=f"It stays {abs(height[nearest]):.4g} mm off its plane. A longer rail, a nearer station, or its own numbers would place it.",
        path=["shape", "rails"],
        where=Where(points=[spot(points[nearest])]),
        fixes=[_by_itself(step)],
    )


def rails_meet(step: Step, rails: Sequence[Step], place: Floats) -> Finding:
    """Both rails pass the plane at one place."""
    return Finding(
        code="rails-meet",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{rails[0].name} and {rails[1].name} leave {step.name} no room",
        detail="They pass its plane at one place, where it would shrink to nothing. A section that is a point would end the body there.",
        path=["shape", "rails"],
        where=Where(points=[spot(place)]),
        fixes=[
            Fix(label="Make it a point", edits=[SetParam(do="set-param", step=step.id, path=["shape"], value={"type": "point"})]),
            _by_itself(step),
        ],
    )


def _by_itself(step: Step) -> Fix:
    return Fix(label="Let it stand by its own numbers", edits=[SetParam(do="set-param", step=step.id, path=["shape", "rails"], value=[])])
