"""The beginning of a worker process. The server knows this much of it, and loads none of what workers compute with."""

from __future__ import annotations

import contextlib
import os
import resource
import signal
from multiprocessing.connection import Connection
from pathlib import Path

from wander.app.engine.processes import loading

KERNEL_YIELDS = 19
"""How far the kernel stands back for what is on screen: the exact body comes after the shape, never instead of it."""


def main(pipe: Connection, cache_folder: str, megabytes: int, faults: bool, kernel: bool) -> None:
    """Entry of the process. kernel: load the kernel first, so that it does not count against the memory that steps may have."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    if kernel:
        os.nice(KERNEL_YIELDS)
    with loading():
        from wander.app.engine.worker import Worker

        if kernel:
            import wander.core.design.exact  # noqa: F401
    present = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    limit = present + megabytes * 1024 * 1024
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_AS, (limit, limit))
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    Worker(pipe, Path(cache_folder), faults).run()
