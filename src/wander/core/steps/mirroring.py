"""From the plane that a designer says to the motion that mirrors in it."""

from __future__ import annotations

from typing import Literal, Protocol

from wander.core.document.fields import StationRef
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.geometry.motions import Motion, mirrored_in
from wander.core.steps.inputs import Inputs


class MirrorPlane(Protocol):
    """A station, or a plane parallel to one of the three base planes, so far from it, mm."""

    @property
    def station(self) -> StationRef | None: ...

    @property
    def plane(self) -> Literal["top", "front", "side"]: ...

    @property
    def offset(self) -> float: ...


def mirroring(said: MirrorPlane, inputs: Inputs) -> Motion:
    plane: Frame = inputs.result(said.station) if said.station is not None else BASE_FRAMES[said.plane].moved(said.offset)
    return mirrored_in(plane.origin, plane.z)
