"""The engine: which worker builds what, what is known of every open design, and who is told.

A design always goes to the same shape worker, whose cache is warm. A worker of its own asks the kernel, so that a drag never waits for it.
"""

from __future__ import annotations

import itertools
import threading
import zlib
from collections import defaultdict
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass, field

from wander.app.engine.lane import Lane, Lost, Slow, WorkerSetup
from wander.app.engine.live import BuildDone, LiveEvent, SolidState, StepShaped, StepStatus, StepUpdate, WorkingOn
from wander.app.engine.messages import (
    Answer,
    BodiesRequest,
    BringRequest,
    BuildRequest,
    CutRequest,
    DrawingRequest,
    ExportRequest,
    Finished,
    PictureRequest,
    Question,
    ReleaseRequest,
    Request,
    Shaped,
    SolidDone,
    SolidRequest,
    Started,
    StepDone,
)
from wander.app.settings import Settings
from wander.core.checks.engine import gave_up
from wander.core.design.bodies import FileFormat
from wander.core.design.bringing import DrawingFormat
from wander.core.document.document import Document
from wander.core.document.findings import Finding
from wander.core.exchange.curves import Placing

Tell = Callable[[str, LiveEvent], None]


READING_SECONDS = 10.0
"""How long the reading of a file that somebody brought may take."""


class ExportFailed(RuntimeError):
    """The file could not be made; the message says why in the designer's words."""


class CutRefused(RuntimeError):
    """No section can be cut there; the message says why and what would help."""


class ReleaseRefused(RuntimeError):
    """Nothing can be let go there; the message says why."""


class FileRefused(RuntimeError):
    """A file that was brought along can't be used, or a drawing not be written; the message says why."""


def _failure(request: Question, why: str) -> Exception:
    match request:
        case CutRequest():
            return CutRefused(why)
        case ReleaseRequest():
            return ReleaseRefused(why)
        case BringRequest() | PictureRequest() | DrawingRequest():
            return FileRefused(why)
        case _:
            return ExportFailed(why)


_Told = tuple[str, str, list[Finding], object]


def _told(status: StepStatus) -> _Told:
    """What makes a step worth telling anew. A step that could not be built has no key, but may have something to show all the same."""
    return status.key, status.state, status.findings, None if status.key else status.summary


@dataclass
class OpenDesign:
    """What the engine knows of a design: its document at a revision and how each step stands there."""

    document: Document
    revision: int
    steps: dict[str, StepStatus] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)
    solids: dict[str, SolidState] = field(default_factory=dict)
    complete: bool = False


@dataclass(frozen=True)
class _Job:
    """What a build is for. preview: its number, None for a kept revision."""

    design: str
    document: Document
    revision: int
    preview: int | None


class Engine:
    """tell is called from lane threads with everything that listeners of a design should hear."""

    def __init__(self, settings: Settings, tell: Tell) -> None:
        self._settings = settings
        self._tell = tell
        self._numbers = itertools.count(1)
        self._jobs: dict[int, _Job] = {}
        self._answers: dict[int, Future[bytes]] = {}
        self._avoid: dict[str, str] = {}
        self._known_solids: dict[str, SolidState] = {}
        self._bodies: dict[str, bytes] = {}
        self._shown: dict[str, dict[str, _Told]] = defaultdict(dict)
        self._lock = threading.Lock()
        self.designs: dict[str, OpenDesign] = {}
        cache = str(settings.cache)
        self._shape_lanes = [
            Lane(f"shape-{i}", WorkerSetup(cache, settings.worker_megabytes, settings.faults, kernel=False), self._heard)
            for i in range(settings.shape_workers)
        ]
        self._kernel_lane = Lane("kernel", WorkerSetup(cache, settings.worker_megabytes, settings.faults, kernel=True), self._heard)

    def build(self, design: str, document: Document, revision: int, body: bytes) -> None:
        """Build a kept revision. body: the document as bytes. An older revision that has not begun yet is not built any more."""
        with self._lock:
            known = self.designs.get(design)
            if known is not None and known.revision == revision and known.document == document and known.complete:
                return
            fresh = OpenDesign(document, revision)
            if known is not None:
                present = {step.id for step in document.steps}
                fresh.steps = {k: v for k, v in known.steps.items() if k in present}
                fresh.solids = {k: v for k, v in known.solids.items() if k in present}
            self.designs[design] = fresh
            self._submit(_Job(design, document, revision, None), body)

    def preview(self, design: str, document: Document, revision: int, number: int, body: bytes) -> None:
        """Build a document that is not kept. The newest preview wins; older ones that have not begun are dropped.

        One whose revision has been overtaken meanwhile is dropped as well: its shape would stay on screen in place of what is kept.
        """
        with self._lock:
            known = self.designs.get(design)
            if known is None or known.revision == revision:
                self._submit(_Job(design, document, revision, number), body)

    def export(self, body: bytes, file_format: FileFormat, tolerance: float) -> Future[bytes]:
        """The file, or ExportFailed. body: the document as bytes, here and below."""
        seconds = self._settings.export_seconds
        return self._ask(self._kernel_lane, lambda number: ExportRequest(number, body, file_format, tolerance), seconds)

    def bodies(self, design: str, body: bytes) -> Future[bytes]:
        """The bodies of a document that is not the current one, as JSON, or ExportFailed."""
        return self._ask(self._lane_of(design), lambda number: BodiesRequest(number, design, body), self._settings.step_seconds)

    def cut(self, design: str, body: bytes, step: str, at: float) -> Future[bytes]:
        """Edits as JSON that add the section of a body at a place along its Run, or CutRefused."""
        return self._ask(self._lane_of(design), lambda number: CutRequest(number, design, body, step, at), self._settings.step_seconds)

    def bring(self, design: str, data: bytes, file_name: str, placing: Placing, tolerance: float) -> Future[bytes]:
        """What the curves of a file make, as JSON, or FileRefused."""
        return self._ask(self._lane_of(design), lambda number: BringRequest(number, design, data, file_name, placing, tolerance), READING_SECONDS)

    def release(self, design: str, body: bytes, step: str, things: tuple[str, ...]) -> Future[bytes]:
        """The edits that let things go, as JSON, or ReleaseRefused."""
        return self._ask(self._lane_of(design), lambda number: ReleaseRequest(number, design, body, step, things), self._settings.step_seconds)

    def picture(self, design: str, data: bytes) -> Future[bytes]:
        """A picture made small and harmless, or FileRefused."""
        return self._ask(self._lane_of(design), lambda number: PictureRequest(number, design, data), READING_SECONDS)

    def drawing(self, design: str, body: bytes, step: str, file_format: DrawingFormat) -> Future[bytes]:
        """The drawing of a section as a file, or FileRefused."""
        return self._ask(self._lane_of(design), lambda number: DrawingRequest(number, design, body, step, file_format), self._settings.step_seconds)

    def _ask(self, lane: Lane, question: Callable[[int], Question], seconds: float) -> Future[bytes]:
        number = next(self._numbers)
        future: Future[bytes] = Future()
        self._answers[number] = future
        lane.submit(f"question-{number}", question(number), seconds)
        return future

    def _lane_of(self, design: str) -> Lane:
        return self._shape_lanes[zlib.crc32(design.encode()) % len(self._shape_lanes)]

    def stop(self, design: str) -> bool:
        """End the work on a design's current step. False when none is going on."""

        def matches(request: Request) -> bool:
            return getattr(request, "design", None) == design

        stopped = [lane.stop_current(matches) for lane in (*self._shape_lanes, self._kernel_lane)]
        return any(stopped)

    def forget(self, design: str) -> None:
        self.designs.pop(design, None)
        self._shown.pop(design, None)

    def show_all_again(self, design: str) -> None:
        """A new listener knows only what is kept: what a preview changed is told anew with the next build."""
        known, shown = self.designs.get(design), self._shown[design]
        for step in list(shown):
            kept = known.steps.get(step) if known is not None else None
            if kept is None or shown[step] != _told(kept):
                del shown[step]

    @property
    def worker_pids(self) -> list[int]:
        return [lane.pid for lane in [*self._shape_lanes, self._kernel_lane] if lane.pid is not None]

    def close(self) -> None:
        for lane in [*self._shape_lanes, self._kernel_lane]:
            lane.close()

    def _submit(self, job: _Job, body: bytes) -> None:
        number = next(self._numbers)
        self._jobs[number] = job
        request = BuildRequest(number, job.design, body, job.preview is not None, dict(self._avoid))
        slot = f"{job.design}/{'kept' if job.preview is None else 'preview'}"
        self._lane_of(job.design).submit(slot, request, self._settings.step_seconds)

    def _heard(self, request: Request, answer: Answer | Slow | Lost) -> None:
        match answer:
            case Started() if isinstance(request, BuildRequest):
                self._steps_done(request, answer.done)
            case Shaped() if isinstance(request, BuildRequest):
                job = self._jobs[request.job]
                self._tell(job.design, StepShaped(revision=job.revision, preview=job.preview, step=answer.step, mesh=answer.mesh))
                self._steps_done(request, answer.done)
            case Slow() if isinstance(request, BuildRequest):
                job = self._jobs[request.job]
                self._tell(job.design, WorkingOn(revision=job.revision, preview=job.preview, step=answer.step, seconds=answer.seconds))
            case SolidDone():
                self._solid_done(answer)
            case Finished():
                self._finished(request, answer)
            case Lost():
                self._lost(answer)

    def _steps_done(self, request: BuildRequest, done: list[StepDone]) -> None:
        for step in done:
            self._step_done(self._jobs[request.job], step)

    def _step_done(self, job: _Job, done: StepDone) -> None:
        status = StepStatus(
            id=done.step,
            state=done.state,
            key=done.key,
            ms=round(done.ms, 2),
            mesh=done.mesh,
            summary=done.summary,
            findings=done.findings,
            values=done.values,
        )
        known = self.designs.get(job.design)
        if job.preview is None and known is not None and known.revision == job.revision:
            before = known.steps.get(done.step)
            if status.mesh is None and before is not None:
                # the last good shape stays on screen
                status = status.model_copy(update={"last_good": before.mesh or before.last_good})
            known.steps[done.step] = status
        if self._shown[job.design].get(done.step) != _told(status):
            self._shown[job.design][done.step] = _told(status)
            self._tell(job.design, StepUpdate(revision=job.revision, preview=job.preview, step=status))
        if done.mesh is not None and job.preview is None:
            self._ask_kernel(job.design, done)

    def _ask_kernel(self, design: str, done: StepDone) -> None:
        if done.key in self._known_solids:
            self._solid_known(design, done.step, self._known_solids[done.key])
            return
        if done.body is not None:
            self._bodies[done.key] = done.body
            if len(self._bodies) > 256:
                del self._bodies[next(iter(self._bodies))]
        body = self._bodies.get(done.key)
        if body is not None:
            number = next(self._numbers)
            request = SolidRequest(number, design, done.step, done.key, body)
            self._kernel_lane.submit(f"{design}/{done.step}", request, self._settings.step_seconds)

    def _solid_done(self, done: SolidDone) -> None:
        state = SolidState(step=done.step, key=done.key, valid=done.problem is None, volume=done.volume, problem=done.problem)
        if len(self._known_solids) > 10_000:
            self._known_solids.clear()
        self._known_solids[done.key] = state
        self._bodies.pop(done.key, None)
        self._solid_known(done.design, done.step, state)

    def _solid_known(self, design: str, step: str, state: SolidState) -> None:
        known = self.designs.get(design)
        if known is not None and step in known.steps and known.steps[step].key == state.key:
            known.solids[step] = state
        self._tell(design, state)

    def _finished(self, request: Request, done: Finished) -> None:
        if isinstance(request, Question):
            future = self._answers.pop(request.job)
            if done.data is not None:
                future.set_result(done.data)
            else:
                future.set_exception(_failure(request, done.error or "the file could not be written"))
        if isinstance(request, BuildRequest):
            self._steps_done(request, done.done)
            job = self._jobs.pop(request.job)
            known = self.designs.get(job.design)
            if job.preview is None and known is not None and known.revision == job.revision:
                known.findings = done.findings
                known.complete = True
            self._tell(job.design, BuildDone(revision=job.revision, preview=job.preview, ms=round(done.ms, 2), findings=done.findings))
        if len(self._jobs) > 256:
            # builds that were replaced before they began leave their jobs behind
            for number in sorted(self._jobs)[:-64]:
                del self._jobs[number]

    def _lost(self, lost: Lost) -> None:
        request = lost.request
        if isinstance(request, Question):
            self._answers.pop(request.job).set_exception(_failure(request, f"the work on it was given up: {lost.why}"))
        elif isinstance(request, SolidRequest):
            self._solid_done(SolidDone(request.job, request.design, request.step, request.key, None, f"the kernel gave up: {lost.why}"))
        else:
            job = self._jobs.pop(request.job)
            if lost.started is None:
                document = job.document
                blamed = document.steps[0] if document.steps else None
                if blamed is not None:
                    update = StepStatus(id=blamed.id, state="failed", findings=[gave_up(blamed, lost.why)])
                    self._tell(job.design, StepUpdate(revision=job.revision, preview=job.preview, step=update))
                return
            # everything else in the design is built again, without the step that brought the worker down
            self._avoid[lost.started.key] = lost.why
            self._submit(job, request.document)
