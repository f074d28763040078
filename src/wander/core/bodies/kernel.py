"""What only the kernel can do with bodies, as steps ask for it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from wander.core.bodies.blending import Blend
from wander.core.bodies.body import Body
from wander.core.bodies.combining import How
from wander.core.bodies.thickness import Thickness


class KernelFailed(ValueError):
    """The kernel could not do it; the message says what it said."""


class Kernel(Protocol):
    """Where it is at hand bodies are exact; where it is not they are followed on their meshes."""

    def combined(self, how: How, body: Body, tools: Sequence[Body]) -> Body:
        """Bodies joined, cut or overlapped. Raises CombineFailed."""
        ...

    def filleted(self, body: Body, blends: Sequence[Blend], maker: str) -> Body:
        """Edges rounded; new faces are called by the step that makes them. Raises NotBlended, NothingMeant, KernelFailed."""
        ...

    def chamfered(self, body: Body, blends: Sequence[Blend], maker: str) -> Body:
        """Edges cut off. Raises NotBlended, NothingMeant, KernelFailed."""
        ...

    def walled(self, body: Body, thickness: float, open_: Sequence[str], maker: str) -> tuple[Body, Thickness]:
        """The body hollowed out, faces of those names left open; outwards where the thickness is below 0. Raises KernelFailed."""
        ...
