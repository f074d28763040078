"""The beginning of a worker process. The server knows this much of it, and loads none of what workers compute with."""

from __future__ import annotations

import contextlib
import ctypes
import os
import resource
import signal
from multiprocessing.connection import Connection
from pathlib import Path
from typing import TYPE_CHECKING

from wander.app.engine.processes import loading

if TYPE_CHECKING:
    from wander.app.engine.lane import WorkerSetup

KERNEL_YIELDS = 19
"""How far the kernel stands back for what is on screen: the exact body comes after the shape, never instead of it."""
_PARENT_DEATH = 1
"""prctl's PR_SET_PDEATHSIG."""


def main(pipe: Connection, setup: WorkerSetup) -> None:
    """Entry of the process. With the kernel, that is loaded first, so that it does not count against the memory that steps may have."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    _end_with_parent()
    if setup.kernel:
        os.nice(KERNEL_YIELDS)
    with loading():
        from wander.app.engine.worker import Worker

        if setup.kernel:
            import wander.core.design.exact  # noqa: F401
    present = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    limit = present + setup.megabytes * 1024 * 1024
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_AS, (limit, limit))
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    Worker(pipe, setup).run()


def _end_with_parent() -> None:
    """A worker whose server is gone ends at once, even inside a long call of the kernel, which hears of no closed pipe."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None, use_errno=True).prctl(_PARENT_DEATH, signal.SIGKILL)
