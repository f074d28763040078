"""What bodies and sheets are parted with."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from wander.core.bodies.body import Body
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame


class Kept(Enum):
    """front: what lies on the side to which normals of the tool point, outside of a closed one. picked: the part at a place, or all without one."""

    FRONT = "front"
    BACK = "back"
    BOTH = "both"
    PICKED = "picked"


@dataclass(frozen=True)
class CurtainTool:
    """What a curve sweeps along a direction (3,), both ways and as far as needed."""

    curve: Curve
    way: Floats


Tool = Body | Frame | CurtainTool


class Misses(ValueError):
    """The tool does not cross the body."""


class NothingKept(ValueError):
    """All of the body lies on the other side."""
