"""What only the kernel can do with bodies, as steps ask for it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from wander.core.bodies.blending import Blend
from wander.core.bodies.body import Body
from wander.core.bodies.combining import How
from wander.core.bodies.patching import Patched, Side
from wander.core.bodies.sewing import Sewn
from wander.core.bodies.thickness import Thickness
from wander.core.bodies.trimming import Kept, Tool
from wander.core.geometry.basis import Floats
from wander.core.shaping.bridging import Meets


class KernelFailed(ValueError):
    """The kernel could not do it; the message says what it said."""


class Kernel(Protocol):
    """Where it is at hand bodies are exact; where it is not they are followed on their meshes. Everything but `combined` raises KernelFailed."""

    def combined(self, how: How, body: Body, tools: Sequence[Body]) -> Body:
        """Bodies joined, cut or overlapped. Raises CombineFailed."""
        ...

    def filleted(self, body: Body, blends: Sequence[Blend], maker: str) -> Body:
        """Edges rounded; new faces are called by the step that makes them. Raises NotBlended, NothingMeant."""
        ...

    def chamfered(self, body: Body, blends: Sequence[Blend], maker: str) -> Body:
        """Edges cut off. Raises NotBlended, NothingMeant."""
        ...

    def walled(self, body: Body, thickness: float, open_: Sequence[str], maker: str) -> tuple[Body, Thickness]:
        """The body hollowed out, faces of those names left open; outwards where the thickness is below 0."""
        ...

    def thickened(self, sheet: Body, thickness: float, maker: str) -> tuple[Body, Thickness]:
        """The body between a sheet and another one at a distance, to the side of its normals where that is above 0."""
        ...

    def offset(self, body: Body, faces: Sequence[str], distance: float, maker: str) -> Body:
        """The sheet at a distance from faces of those names, or from all, along their normals; 0 copies them."""
        ...

    def sewn(self, sheets: Sequence[Body], tolerance: float) -> Sewn:
        """Sheets become one where their edges are nearer than the tolerance, mm; what closes becomes a body."""
        ...

    def trimmed(self, body: Body, tool: Tool, kept: Kept, maker: str, at: Floats | None = None) -> Body:
        """The parts of a body or sheet on one side of a tool, all of them, or that at a place. Raises Misses, NothingKept."""
        ...

    def brought_in(self, data: bytes, number: int | None, maker: str) -> Body:
        """One body of a STEP file, or all as one. Raises NotInFile."""
        ...

    def area(self, body: Body, face: str) -> float:
        """Of the face of that name, mm2."""
        ...

    def patched(self, sides: Sequence[Side], meets: Meets, maker: str) -> Patched:
        """The sheet that fills a closed loop of edges."""
        ...
