"""A lane: one worker process, what waits for it, and the watch over it.

Each incarnation of the worker has a pipe of its own, so that one that dies in the middle of a message spoils nothing after it.
"""

from __future__ import annotations

import logging
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.connection import Connection
from multiprocessing.context import ForkServerProcess
from typing import Any

from wander.app.engine.messages import Answer, Finished, Request, Started
from wander.app.engine.processes import CONTEXT
from wander.app.engine.worker_start import main

log = logging.getLogger(__name__)
WORTH_A_WORD = 0.4
"""Seconds after which a step that is still being computed is said to be."""


@dataclass(frozen=True)
class WorkerSetup:
    cache_folder: str
    megabytes: int
    faults: bool
    kernel: bool


@dataclass(frozen=True)
class Lost:
    """A worker went down at work on a request. started: the step it was at, if it had said so. why: a half sentence."""

    request: Request
    started: Started | None
    why: str


@dataclass(frozen=True)
class Slow:
    """A step takes long enough to be worth a word; seconds: so far."""

    step: str
    seconds: float


class Lane:
    """Requests wait under a slot; a newer one in the same slot replaces the older, which is then never begun.

    listen is called from the lane's own thread with every answer, with Slow when a step takes long, and with Lost when a worker went down.
    """

    def __init__(self, name: str, setup: WorkerSetup, listen: Callable[[Request, Answer | Slow | Lost], None]) -> None:
        self._name = name
        self._setup = setup
        self._listen = listen
        self._waiting: OrderedDict[str, tuple[Request, float]] = OrderedDict()
        self._news = threading.Condition()
        self._closing = False
        self._stop_why: str | None = None
        self._process: ForkServerProcess | None = None
        self._pipe: Connection | None = None
        self._current: Request | None = None
        self._thread = threading.Thread(target=self._serve, name=f"lane-{name}", daemon=True)
        self._thread.start()

    def submit(self, slot: str, request: Request, seconds: float) -> None:
        """seconds: limit for each step, or for the whole of a request that has none."""
        with self._news:
            self._waiting.pop(slot, None)
            self._waiting[slot] = (request, seconds)
            self._news.notify()

    def stop_current(self, matches: Callable[[Request], bool]) -> bool:
        """End the work on the current request, if it is one of these; it comes back as Lost."""
        with self._news:
            if self._current is None or not matches(self._current):
                return False
            self._stop_why = "it was stopped by hand"
            return True

    @property
    def pid(self) -> int | None:
        return self._process.pid if self._process is not None else None

    def close(self) -> None:
        with self._news:
            self._closing = True
            self._news.notify()
        self._thread.join(timeout=5)
        self._end_worker()

    def _serve(self) -> None:
        if not self._setup.kernel:
            # the kernel takes long to load: its worker begins with the first body, which is on screen by then
            self._start_worker()
        while True:
            with self._news:
                while not self._waiting and not self._closing:
                    self._news.wait()
                if self._closing:
                    return
                _, (request, seconds) = self._waiting.popitem(last=False)
                self._current, self._stop_why = request, None
            try:
                self._work(request, seconds)
            finally:
                self._current = None

    def _work(self, request: Request, seconds: float) -> None:
        started: Started | None = None
        if self._process is None or not self._process.is_alive():
            self._start_worker()
        pipe = self._pipe
        assert pipe is not None
        try:
            pipe.send(request)
            heard = time.monotonic()
            told_slow = False
            while True:
                if pipe.poll(min(0.1, max(heard + seconds - time.monotonic(), 0.0))):
                    answer: Answer = pipe.recv()
                    heard, told_slow = time.monotonic(), False
                    if isinstance(answer, Started):
                        started = answer
                    self._tell(request, answer)
                    if isinstance(answer, Finished):
                        return
                elif self._stop_why is not None or self._closing:
                    self._lose(request, started, self._stop_why or "the server is closing")
                    return
                elif time.monotonic() >= heard + seconds:
                    self._lose(request, started, f"it took longer than {seconds:g} s")
                    return
                elif started is not None and not told_slow and time.monotonic() >= heard + WORTH_A_WORD:
                    told_slow = True
                    self._tell(request, Slow(started.step, time.monotonic() - heard))
        except (EOFError, OSError):
            self._lose(request, started, self._cause_of_death())

    def _cause_of_death(self) -> str:
        assert self._process is not None
        self._process.join(timeout=2)
        code = self._process.exitcode
        return "it needed more memory than it may have" if code == 3 else f"the process that worked on it went down ({_spoken(code)})"

    def _lose(self, request: Request, started: Started | None, why: str) -> None:
        log.warning("lane %s lost its worker: %s", self._name, why)
        self._end_worker()
        if not self._closing:
            self._start_worker()
        self._tell(request, Lost(request, started, why))

    def _tell(self, request: Request, answer: Answer | Slow | Lost) -> None:
        try:
            self._listen(request, answer)
        except Exception:
            # a listener's fault must not take the lane down with it
            log.exception("lane %s: a listener failed", self._name)

    def _start_worker(self) -> None:
        ours, theirs = CONTEXT.Pipe()
        setup = self._setup
        arguments: tuple[Any, ...] = (theirs, setup.cache_folder, setup.megabytes, setup.faults, setup.kernel)
        process = CONTEXT.Process(target=main, args=arguments, name=f"wander-{self._name}", daemon=True)
        process.start()
        theirs.close()
        self._pipe, self._process = ours, process

    def _end_worker(self) -> None:
        if self._process is not None:
            self._process.kill()
            self._process.join(timeout=5)
        if self._pipe is not None:
            self._pipe.close()


def _spoken(code: int | None) -> str:
    return f"signal {-code}" if code is not None and code < 0 else f"code {code}"
