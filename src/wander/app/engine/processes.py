"""Where worker processes come from: a process that has loaded everything they need and splits off a copy for each.

There are two of them: loading the kernel takes seconds, and what is only shaped does not wait for that. This module loads nothing else, so that a
server can begin with it: the first of both then loads while the server itself does, the other when the kernel is first asked for.
"""

from __future__ import annotations

import gc
import io
import multiprocessing
import os
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from multiprocessing import context, forkserver, popen_forkserver, reduction, spawn, util
from multiprocessing.process import BaseProcess

CONTEXT = multiprocessing.get_context("forkserver")
CONTEXT.set_forkserver_preload(["wander.app.engine.preloaded"])
_WITH_KERNEL = forkserver.ForkServer()
_WITH_KERNEL.set_forkserver_preload(["wander.app.engine.preloaded_kernel"])


class KernelProcess(context.ForkServerProcess):
    """A process that splits off with the kernel loaded."""

    @staticmethod
    def _Popen(process_obj: BaseProcess) -> popen_forkserver.Popen:  # noqa: N802 - the library's name
        return _Popen(process_obj)


class _Popen(popen_forkserver.Popen):
    def _launch(self, process_obj: BaseProcess) -> None:
        """As the library does it, which knows of one process to split from."""
        told = io.BytesIO()
        context.set_spawning_popen(self)
        try:
            reduction.dump(spawn.get_preparation_data(process_obj.name), told)
            reduction.dump(process_obj, told)
        finally:
            context.set_spawning_popen(None)
        self.sentinel, to_child = _WITH_KERNEL.connect_to_new_process(self._fds)  # type: ignore[attr-defined]
        # the child sees by the other end of this that we are gone
        held = os.dup(to_child)
        self.finalizer = util.Finalize(self, _close, (held, self.sentinel))
        with os.fdopen(to_child, "wb") as pipe:
            pipe.write(told.getbuffer())
        self.pid = forkserver.read_signed(self.sentinel)


def _close(*descriptors: int) -> None:
    for descriptor in descriptors:
        os.close(descriptor)


def load_early() -> None:
    """Begin to load what workers need. Nothing waits for it."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # many small systems: threads only get in each other's way
    forkserver.ensure_running()


def load_late() -> None:
    """Load what a hand on a large drawing needs first, while nobody waits for it. Where it can't be now, it is when it is asked for."""
    with suppress(ImportError, OSError), loading():
        import scipy.sparse.csgraph
        import scipy.sparse.linalg  # noqa: F401


@contextmanager
def loading() -> Iterator[None]:
    """While modules load nothing can be thrown away, and what they leave stays for good: it is not looked through for waste, now or later."""
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.enable()
