"""Builds with the kernel at hand, and its opinion of bodies that it did not make itself."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import Any

from wander.core.bodies.blending import Blend
from wander.core.bodies.body import Body
from wander.core.bodies.combining import CombineFailed, How
from wander.core.bodies.kernel import KernelFailed
from wander.core.bodies.patching import Patched, Side
from wander.core.bodies.sewing import Sewn
from wander.core.bodies.thickness import Thickness
from wander.core.bodies.trimming import Kept, Tool
from wander.core.design.rebuild import Ways
from wander.core.document.document import Step
from wander.core.document.findings import Finding, Severity
from wander.core.geometry.basis import Floats
from wander.core.shaping.bridging import Meets
from wander.core.solids.blending import chamfered, filleted
from wander.core.solids.brought import brought_in
from wander.core.solids.combine import combine
from wander.core.solids.errors import KernelError
from wander.core.solids.measure import kernel_volume
from wander.core.solids.named import face_area, own_solids, placed
from wander.core.solids.patching import patched
from wander.core.solids.sewing import sewn
from wander.core.solids.thickening import offset, thickened
from wander.core.solids.trimming import trimmed
from wander.core.solids.walling import walled


class ExactKernel:
    """The kernel, as steps ask for it."""

    def combined(self, how: How, body: Body, tools: Sequence[Body]) -> Body:
        try:
            return combine(how, body, tools)
        except KernelError as error:
            raise CombineFailed(str(error)) from error

    def filleted(self, body: Body, blends: Sequence[Blend], maker: str) -> Body:
        with _told():
            return filleted(body, blends, maker)

    def chamfered(self, body: Body, blends: Sequence[Blend], maker: str) -> Body:
        with _told():
            return chamfered(body, blends, maker)

    def walled(self, body: Body, thickness: float, open_: Sequence[str], maker: str) -> tuple[Body, Thickness]:
        with _told():
            return walled(body, thickness, open_, maker)

    def thickened(self, sheet: Body, thickness: float, maker: str) -> tuple[Body, Thickness]:
        with _told():
            return thickened(sheet, thickness, maker)

    def offset(self, body: Body, faces: Sequence[str], distance: float, maker: str) -> Body:
        with _told():
            return offset(body, faces, distance, maker)

    def sewn(self, sheets: Sequence[Body], tolerance: float) -> Sewn:
        with _told():
            return sewn(sheets, tolerance)

    def trimmed(self, body: Body, tool: Tool, kept: Kept, maker: str, at: Floats | None = None) -> Body:
        with _told():
            return trimmed(body, tool, kept, maker, at)

    def brought_in(self, data: bytes, number: int | None, maker: str) -> Body:
        with _told():
            return brought_in(data, number, maker)

    def area(self, body: Body, face: str) -> float:
        with _told():
            return face_area(body, face)

    def patched(self, sides: Sequence[Side], meets: Meets, maker: str) -> Patched:
        with _told():
            return patched(sides, meets, maker)


@contextmanager
def _told() -> Iterator[None]:
    """What the kernel could not do, as steps know it."""
    try:
        yield
    except KernelError as error:
        raise KernelFailed(str(error)) from error


EXACT = ExactKernel()


def exact_ways(**more: Any) -> Ways:
    """The way to build everything exactly."""
    return Ways(kernel=EXACT, **more)


def exact_volume(body: Body) -> float:
    """Inside the faces that the kernel has, mm3, 0 of a sheet. Raises KernelError where it does not take the body for solids, or for sheets."""
    if not body.skins or not body.closed:
        return body.measures.volume
    # counted as the skins were made solid
    own = sum(solid.volume for solid in own_solids(body))
    return own + sum(kernel_volume(placed(part)) for part in body.exact)


def kernel_refused(step: Step, error: KernelError) -> Finding:
    """The finding for a skin that the kernel does not take for a solid, or for a sheet."""
    return Finding(
        code="no-solid",
        severity=Severity.WARNING,
        step=step.id,
        title=f"{step.name} is not a solid yet",
        detail=f"The skin is there, but it does not close into one valid solid: {error}. It can't be exported as STEP like this.",
    )
