"""A lane: what waits for one kind of work, and the workers that do it.

A lane has one worker as long as everything is quick. Work that takes longer while others wait is put aside: it goes on at a lower priority in its own
worker, which ends with it, and a fresh worker serves the others. Designs are served in turn: a newer request of a design takes the place of its
older one in the queue and never goes before another design.
"""

from __future__ import annotations

import contextlib
import logging
import os
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.context import ForkServerProcess
from typing import Any

from wander.app.engine.messages import Answer, BuildRequest, Finished, Overtaken, Question, Request, Started
from wander.app.engine.processes import CONTEXT, KernelProcess
from wander.app.engine.worker_start import main

log = logging.getLogger(__name__)
WORTH_A_WORD = 0.4
"""Seconds after which a step that is still being computed is said to be."""
LONG = 0.12
"""Seconds after which a request is put aside when others wait."""
LONG_FOR_ITSELF = 1.0
"""The same where it is the same design that waits: about as long as a worker takes to begin."""
STANDS_BACK = 10
"""How far work that was put aside stands back for everything else."""
PATIENCE = 10.0
"""Seconds after which what nobody looks at has its turn as well."""
LONGEST_REST = 2.5
"""Seconds that what is to wait for a rest waits at most, where none comes."""
IDLE = 30.0
"""Seconds after which a worker that nobody needs ends, unless it is the lane's only one."""
BREATH = 0.2
"""Seconds until it is tried again to begin a worker, where the machine had no room for one."""


@dataclass(frozen=True)
class WorkerSetup:
    cache_folder: str
    mesh_megabytes: int
    result_megabytes: int
    megabytes: int
    keeps_megabytes: int
    faults: bool
    kernel: bool
    database: str = ""


@dataclass(frozen=True)
class Lost:
    """A worker went down at work on a request. started: the step it was at, if it had said so. why: a half sentence.

    own: the work itself is to blame; otherwise it was somebody else's doing and may be tried again. quietly: nobody wants to know.
    """

    request: Request
    started: Started | None
    why: str
    own: bool
    quietly: bool = False


@dataclass(frozen=True)
class Slow:
    """A step takes long enough to be worth a word; seconds: so far."""

    step: str
    seconds: float


@dataclass
class _Waiting:
    """due: when it may be begun. first: since when its slot was not empty."""

    request: Request
    seconds: float
    whole: float
    due: float
    first: float
    since: float = field(default_factory=lambda: time.monotonic())

    @property
    def rests(self) -> bool:
        return self.due > time.monotonic()


Listen = Callable[[Request, "Answer | Slow | Lost"], None]


class Lane:
    """Requests wait under a slot; a newer one in the same slot replaces the older, which is then never begun.

    Questions, and designs that somebody looks at, go before what nobody waits for, though not for ever.

    listen is called from the lane's own threads with every answer, with Slow when a step takes long, and with Lost when a worker went down.
    """

    def __init__(self, name: str, setup: WorkerSetup, listen: Listen, watched: Callable[[str], bool], *, most: int, early: int = 0) -> None:
        self.name, self.setup, self._listen, self._watched = name, setup, listen, watched
        self._most = most
        self._waiting: OrderedDict[str, _Waiting] = OrderedDict()
        self.news = threading.Condition()
        self._hands: list[_Hand] = []
        self.closing = False
        for _ in range(early):
            self._hire()

    def submit(self, slot: str, request: Request, seconds: float, whole: float | None = None, *, rest: float = 0.0) -> Request | None:
        """Returns the request whose place it takes, which is never begun.

        seconds: limit for each step, or for the whole of a request that has none; whole: for all its steps together. rest: it is begun when nothing
        newer has come for so long.
        """
        with self.news:
            now, before = time.monotonic(), self._waiting.get(slot)
            first = now if before is None else before.first
            due = min(now + rest, first + LONGEST_REST)
            self._waiting[slot] = _Waiting(request, seconds, whole if whole is not None else seconds, due, first)
            if isinstance(request, BuildRequest) and request.preview:
                for hand in self._hands:
                    current = hand.current
                    hand.newer |= isinstance(current, BuildRequest) and current.preview and current.design == request.design
            if not any(hand.current is None for hand in self._hands) and not [h for h in self._hands if not h.aside]:
                self._hire()
            self.news.notify_all()
            return None if before is None else before.request

    def drop(self, slot: str) -> Request | None:
        """What still waits there for a rest is wanted no more; returns that."""
        with self.news:
            return self._waiting.pop(slot).request if slot in self._waiting and self._waiting[slot].rests else None

    def stop_current(self, matches: Callable[[Request], bool], why: str, *, quietly: bool = False) -> bool:
        """End the work on requests that are under way; each comes back as Lost. False when there were none."""
        with self.news:
            hands = [hand for hand in self._hands if hand.current is not None and matches(hand.current)]
            for hand in hands:
                hand.stop_why, hand.stop_quietly = why, quietly
            return bool(hands)

    def overtake(self, design: str, *, but: int, seen: int | None) -> None:
        """Let builds of a design that are under way end at their next step, except for one job; seen: one that may show its shape first."""
        with self.news:
            for hand in self._hands:
                if isinstance(hand.current, BuildRequest) and hand.current.design == design and hand.current.job != but:
                    if hand.current.job == seen:
                        hand.newer = True
                    else:
                        hand.overtaken = True

    def under_way(self, design: str) -> tuple[BuildRequest, Started | None] | None:
        """The build of a design that is being done now, and the step that it is at."""
        with self.news:
            for hand in self._hands:
                if isinstance(hand.current, BuildRequest) and hand.current.design == design:
                    return hand.current, hand.started
        return None

    def close(self) -> None:
        with self.news:
            self.closing = True
            self.news.notify_all()
            hands = list(self._hands)
        for hand in hands:
            hand.join(timeout=5)
            hand.end_worker()

    # what hands ask for ------------------------------------------------------------------------------------------------------------------

    def take(self, hand: _Hand) -> _Waiting | None:
        """The next request, waiting for one; None when the hand is not needed any more."""
        with self.news:
            since = time.monotonic()
            while not self.closing:
                slot = self._first()
                if slot is not None:
                    found = self._waiting.pop(slot)
                    hand.take_up(found.request)
                    return found
                if len([h for h in self._hands if not h.aside]) > 1 and time.monotonic() - since > IDLE:
                    break
                self.news.wait(timeout=min([IDLE, *(waiting.due - time.monotonic() for waiting in self._waiting.values() if waiting.rests)]))
            self._hands.remove(hand)
            return None

    def _first(self) -> str | None:
        """The slot whose turn it is."""
        able = [(slot, waiting) for slot, waiting in self._waiting.items() if not (waiting.rests or self._busy_with(waiting.request))]
        long_ago = time.monotonic() - PATIENCE

        def waited_for(waiting: _Waiting) -> bool:
            return isinstance(waiting.request, Question) or waiting.since < long_ago or self._watched(waiting.request.design)

        return next((slot for slot, waiting in able if waited_for(waiting)), able[0][0] if able else None)

    def done(self, hand: _Hand) -> bool:
        """The hand has finished a request. False when it should end: it was put aside, and others serve the lane."""
        with self.news:
            hand.current = hand.started = None
            self.news.notify_all()
            if hand.aside:
                self._hands.remove(hand)
                return False
            return True

    def takes_long(self, hand: _Hand, seconds: float) -> None:
        """Put the work of a hand aside if others wait for it, or its own design for long. seconds: so far."""
        with self.news:
            waiting = [w.request for w in self._waiting.values() if not (w.rests or self._busy_with(w.request))]
            own = hand.current.design if hand.current is not None else None
            if hand.aside or not any(request.design != own or seconds > LONG_FOR_ITSELF for request in waiting):
                return
            if any(h.current is None and not h.aside for h in self._hands) or len(self._hands) >= self._most:
                return
            hand.aside = True
            self._hire()
        if hand.pid is not None:
            with contextlib.suppress(OSError, AttributeError):
                os.setpriority(os.PRIO_PROCESS, hand.pid, STANDS_BACK)

    def tell(self, request: Request, answer: Answer | Slow | Lost) -> None:
        try:
            self._listen(request, answer)
        except Exception:
            # a listener's fault must not take the lane down with it
            log.exception("lane %s: a listener failed", self.name)

    def _busy_with(self, request: Request) -> bool:
        """Builds of one design go one after the other."""
        return isinstance(request, BuildRequest) and any(
            isinstance(hand.current, BuildRequest) and hand.current.design == request.design for hand in self._hands
        )

    def _hire(self) -> None:
        hand = _Hand(self, len(self._hands))
        self._hands.append(hand)
        hand.start()


class _Hand(threading.Thread):
    """A thread with a worker process and its pipe. Each incarnation of the worker has a pipe of its own: one that dies in mid-message spoils none."""

    def __init__(self, lane: Lane, number: int) -> None:
        super().__init__(name=f"lane-{lane.name}-{number}", daemon=True)
        self._lane = lane
        self._process: ForkServerProcess | None = None
        self._pipe: Connection | None = None
        self.current: Request | None = None
        self.started: Started | None = None
        self.aside = False
        self.overtaken = False
        self.newer = False
        self.stop_why: str | None = None
        self.stop_quietly = False

    @property
    def pid(self) -> int | None:
        return self._process.pid if self._process is not None else None

    def take_up(self, request: Request) -> None:
        self.current, self.started = request, None
        self.overtaken, self.newer, self.stop_why, self.stop_quietly = False, False, None, False

    def run(self) -> None:
        try:
            self._begin_worker()  # before the first request, so that it finds it loaded
        except (OSError, EOFError):
            log.warning("lane %s: no room for a worker yet", self._lane.name)
        while (work := self._lane.take(self)) is not None:
            try:
                self._work(work)
            except Exception:
                # the thread has to live: without it its lane would stand still
                log.exception("lane %s: a hand stumbled", self._lane.name)
                self._lose(work.request, "the process that worked on it was ended", own=False)
            finally:
                goes_on = self._lane.done(self)
            if not goes_on:
                break
        self.end_worker()

    def _work(self, work: _Waiting) -> None:
        while not self._lane.closing:
            try:
                if self._process is None or not self._process.is_alive():
                    self._begin_worker()
                assert self._pipe is not None
                self._pipe.send(work.request)
            except (OSError, EOFError):
                # no file descriptors, no memory, or a worker that went just now: nobody's fault, and soon over
                self.end_worker()
                time.sleep(BREATH)
                continue
            self._follow(work)
            return

    def _follow(self, work: _Waiting) -> None:
        request, pipe = work.request, self._pipe
        assert pipe is not None
        begun = heard = time.monotonic()
        told_slow = told_overtaken = told_newer = False
        try:
            while True:
                now = time.monotonic()
                if self.overtaken and not told_overtaken:
                    told_overtaken = True
                    pipe.send(Overtaken())
                if self.newer and not told_newer:
                    told_newer = True
                    pipe.send(Overtaken(by_preview=True))
                if now - begun > LONG:
                    self._lane.takes_long(self, now - begun)
                if pipe.poll(0.01 if now - begun < 1 else 0.1):
                    answer: Answer = pipe.recv()
                    heard, told_slow = time.monotonic(), False
                    if isinstance(answer, Started):
                        self.started = answer
                    self._lane.tell(request, answer)
                    if isinstance(answer, Finished):
                        return
                elif self.stop_why is not None or self._lane.closing:
                    self._lose(request, self.stop_why or "the server is closing", own=self.stop_why is not None and not self.stop_quietly)
                    return
                elif now >= heard + work.seconds:
                    self._lose(request, f"it took longer than {work.seconds:g} s", own=True)
                    return
                elif now >= begun + max(work.whole, work.seconds):
                    self._lose(request, f"the whole design took longer than {work.whole:g} s", own=True)
                    return
                elif self.started is not None and not told_slow and now >= heard + WORTH_A_WORD:
                    told_slow = True
                    self._lane.tell(request, Slow(self.started.step, now - heard))
        except (EOFError, OSError):
            why, own = self._cause_of_death()
            self._lose(request, why, own=own)

    def _cause_of_death(self) -> tuple[str, bool]:
        """A half sentence, and whether the work itself is to blame."""
        assert self._process is not None
        self._process.join(timeout=2)
        code = self._process.exitcode
        if code == 3:
            return "it needed more memory than it may have", True
        if code is not None and code < 0 and -code not in (9, 15):
            return f"the process that worked on it went down (signal {-code})", True
        return "the process that worked on it was ended", False

    def _lose(self, request: Request, why: str, *, own: bool) -> None:
        log.warning("lane %s lost its worker: %s", self._lane.name, why)
        self.end_worker()
        self._lane.tell(request, Lost(request, self.started, why, own, self.stop_quietly))

    def _begin_worker(self) -> None:
        ours, theirs = CONTEXT.Pipe()
        arguments: tuple[Any, ...] = (theirs, self._lane.setup)
        try:
            kind = KernelProcess if self._lane.setup.kernel else CONTEXT.Process
            process = kind(target=main, args=arguments, name=f"wander-{self._lane.name}", daemon=True)
            process.start()
        except BaseException:
            ours.close()
            raise
        finally:
            theirs.close()
        self._pipe, self._process = ours, process

    def end_worker(self) -> None:
        process, pipe, self._process, self._pipe = self._process, self._pipe, None, None
        if pipe is not None:
            pipe.close()
        if process is not None:
            with contextlib.suppress(OSError, ValueError):
                process.kill()
                process.join(timeout=5)
