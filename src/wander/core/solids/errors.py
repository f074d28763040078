"""What can go wrong with the kernel, in words a finding can carry."""

from __future__ import annotations


class KernelError(RuntimeError):
    """The kernel refused, failed or gave a body that is not one closed valid solid; the message says which."""
