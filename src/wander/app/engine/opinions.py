"""What the kernel says of bodies that were shaped without it."""

from __future__ import annotations

import threading
from collections import defaultdict
from collections.abc import Callable, Mapping

from wander.app.engine.live import SolidState
from wander.app.engine.messages import SolidDone, StepDone
from wander.app.engine.open_design import OpenDesign

MOST_KNOWN = 10_000
AT_REST = 0.7
"""Seconds that a body is there unchanged before the kernel is asked of it."""


class SecondOpinions:
    """The kernel is asked of each body when the bodies themselves have been there for a moment, and somebody looks at them.

    Of a body that is changed again at once nobody would hear it. What it said before of the same body is told at once.
    """

    def __init__(
        self,
        designs: Mapping[str, OpenDesign],
        lock: threading.RLock,
        watched: Callable[[str], bool],
        ask: Callable[[str, StepDone], None],
        tell: Callable[[str, SolidState], None],
    ) -> None:
        """designs, lock: the engine's. watched: whether somebody looks at a design now. ask: the kernel, of a body in a design."""
        self._designs, self._lock, self._watched, self._ask, self._tell = designs, lock, watched, ask, tell
        self._known: dict[str, SolidState] = {}
        self._unasked: dict[str, dict[str, StepDone]] = defaultdict(dict)
        self._resting: dict[str, threading.Timer] = {}

    def made(self, design: str, done: StepDone) -> None:
        """A body was shaped of which it is to be asked."""
        self._unasked[design][done.step] = done

    def bodies_are_there(self, design: str) -> None:
        if not self._watched(design):
            return
        waiting = self._unasked.get(design, {})
        for done in list(waiting.values()):
            if (state := self._of(done)) is not None:
                del waiting[done.step]
                self._told(design, done.step, state.of(done.step))
        if waiting:
            self._wait_no_more(design)
            timer = self._resting[design] = threading.Timer(AT_REST, self._at_rest, (design,))
            timer.daemon = True
            timer.start()

    def heard(self, done: SolidDone) -> None:
        if done.volume is None and done.problem is None:
            return  # no opinion: the result was gone before it was looked at
        state = SolidState(step=done.step, key=done.key, valid=done.problem is None, volume=done.volume, problem=done.problem, findings=done.findings)
        if len(self._known) > MOST_KNOWN:
            self._known.clear()
        self._known[done.key] = state
        self._told(done.design, done.step, state)

    def forget(self, design: str) -> None:
        self._unasked.pop(design, None)
        self._wait_no_more(design)

    def close(self) -> None:
        for design in list(self._resting):
            self._wait_no_more(design)

    def _at_rest(self, design: str) -> None:
        with self._lock:
            known = self._designs.get(design)
            if known is not None and known.complete and self._watched(design):
                for done in self._unasked.pop(design, {}).values():
                    self._ask(design, done)

    def _wait_no_more(self, design: str) -> None:
        if (timer := self._resting.pop(design, None)) is not None:
            timer.cancel()

    def _of(self, done: StepDone) -> SolidState | None:
        """What the kernel said of a body before, or says by having made it."""
        if done.checked and done.summary is not None and done.key not in self._known:
            return SolidState(step=done.step, key=done.key, valid=True, volume=getattr(done.summary, "volume", None), problem=None)
        return self._known.get(done.key)

    def _told(self, design: str, step: str, state: SolidState) -> None:
        known = self._designs.get(design)
        if known is not None and step in known.steps and known.steps[step].key == state.key:
            known.solids[step] = state
        self._tell(design, state)
