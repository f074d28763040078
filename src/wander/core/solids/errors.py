"""What can go wrong with the kernel, in words a finding can carry."""

from __future__ import annotations

from OCP import Standard, StdFail


class KernelError(RuntimeError):
    """The kernel refused, failed or gave a body that is not one closed valid solid; the message says which."""


KERNEL_RAISES: tuple[type[Exception], ...] = tuple(
    found for room in (Standard, StdFail) for found in vars(room).values() if isinstance(found, type) and issubclass(found, Exception)
)
"""What the kernel raises where it can't go on. None of these is a kind of another."""
