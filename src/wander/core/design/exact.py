"""Builds with the kernel at hand, and its opinion of bodies that it did not make itself."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from wander.core.bodies.blending import Blend
from wander.core.bodies.body import Body
from wander.core.bodies.combining import CombineFailed, How
from wander.core.bodies.kernel import KernelFailed
from wander.core.bodies.thickness import Thickness
from wander.core.design.rebuild import Ways
from wander.core.document.document import Step
from wander.core.document.findings import Finding, Severity
from wander.core.solids.assemble import assemble
from wander.core.solids.blending import chamfered, filleted
from wander.core.solids.combine import combine
from wander.core.solids.errors import KernelError
from wander.core.solids.measure import kernel_volume
from wander.core.solids.named import placed
from wander.core.solids.walling import walled


class ExactKernel:
    """The kernel, as steps ask for it."""

    def combined(self, how: How, body: Body, tools: Sequence[Body]) -> Body:
        try:
            return combine(how, body, tools)
        except KernelError as error:
            raise CombineFailed(str(error)) from error

    def filleted(self, body: Body, blends: Sequence[Blend], maker: str) -> Body:
        try:
            return filleted(body, blends, maker)
        except KernelError as error:
            raise KernelFailed(str(error)) from error

    def chamfered(self, body: Body, blends: Sequence[Blend], maker: str) -> Body:
        try:
            return chamfered(body, blends, maker)
        except KernelError as error:
            raise KernelFailed(str(error)) from error

    def walled(self, body: Body, thickness: float, open_: Sequence[str], maker: str) -> tuple[Body, Thickness]:
        try:
            return walled(body, thickness, open_, maker)
        except KernelError as error:
            raise KernelFailed(str(error)) from error


EXACT = ExactKernel()


def exact_ways(**more: Any) -> Ways:
    """The way to build everything exactly."""
    return Ways(kernel=EXACT, **more)


def exact_volume(body: Body) -> float:
    """The kernel's own count, mm3, 0 of a sheet. Raises KernelError where it does not take the body for solids, or for sheets."""
    if not body.skins:
        return body.measures.volume
    # counted as the skins were made solid
    own = sum(assemble(skin).volume for skin in body.skins)
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
