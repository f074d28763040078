"""The exact body: the skin handed to the kernel, checked, and ready to leave the house."""

from __future__ import annotations

from wander.core.document.document import Step
from wander.core.document.findings import Finding, Severity
from wander.core.shaping.shell import Shell
from wander.core.solids.assemble import Solid, assemble
from wander.core.solids.errors import KernelError


def exact_body(shell: Shell) -> Solid:
    """One valid closed solid whose volume agrees with the skin. Raises KernelError."""
    return assemble(shell)


def kernel_refused(step: Step, error: KernelError) -> Finding:
    """The finding for a skin that the kernel does not take for a solid."""
    return Finding(
        code="no-solid",
        severity=Severity.WARNING,
        step=step.id,
        title=f"{step.name} is not a solid yet",
        detail=f"The skin is there, but it does not close into one valid solid: {error}. It can't be exported as STEP like this.",
    )
