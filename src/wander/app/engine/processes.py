"""Where worker processes come from: a process that has loaded everything they need and splits off a copy for each.

This module loads nothing else, so that a server can begin with it: that process then loads while the server itself does.
"""

from __future__ import annotations

import gc
import multiprocessing
import os
from collections.abc import Iterator
from contextlib import contextmanager
from multiprocessing import forkserver

CONTEXT = multiprocessing.get_context("forkserver")
CONTEXT.set_forkserver_preload(["wander.app.engine.preloaded"])


def load_early() -> None:
    """Begin to load what workers need. Nothing waits for it."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # many small systems: threads only get in each other's way
    forkserver.ensure_running()


@contextmanager
def loading() -> Iterator[None]:
    """While modules load nothing can be thrown away, and what they leave stays for good: it is not looked through for waste, now or later."""
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.enable()
