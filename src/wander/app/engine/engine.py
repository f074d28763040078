"""The engine: which lane builds what, what is known of every open design, and who is told.

Shapes are built in one lane, at once; what only the kernel can give follows in a lane of its own, so that a drag never waits for it; files that
somebody brought along are read in a third. All of them share results through a shelf on disk.
"""

from __future__ import annotations

import itertools
import threading
from collections import defaultdict
from collections.abc import Callable, Set
from concurrent.futures import Future
from dataclasses import dataclass, replace
from typing import Any

from wander.app.engine.lane import Lane, Lost, Slow, WorkerSetup
from wander.app.engine.live import (
    COMBS,
    BuildDone,
    LiveEvent,
    PreviewRefused,
    StepCombed,
    StepPenned,
    StepShaped,
    StepStatus,
    StepUpdate,
    WorkingOn,
)
from wander.app.engine.messages import (
    Answer,
    BuildRequest,
    Combed,
    Finished,
    Penned,
    Question,
    Request,
    Shaped,
    SolidDone,
    SolidRequest,
    Started,
    StepDone,
)
from wander.app.engine.open_design import Moment, OpenDesign
from wander.app.engine.opinions import SecondOpinions
from wander.app.engine.questions import BODIES, NEEDS_KERNEL, QUESTIONS, ExportFailed
from wander.app.settings import Settings
from wander.core.design.dependence import depends_on_the_same
from wander.core.document.document import Document
from wander.core.document.findings import Finding
from wander.core.drawing.summary import DrawnLines
from wander.core.results.summaries import BodySummary

Tell = Callable[[str, LiveEvent], None]
MOST_TRIES = 3
"""A build whose worker is ended from outside is tried again so often."""
HEAVY, REST = 80.0, 0.25
"""Where a drawing takes longer (ms), what comes of a pull waits until the hand has rested for so long (seconds)."""
_Told = tuple[str, str, bool, list[Finding], object]


def _told(status: StepStatus) -> _Told:
    """What makes a step worth telling anew. A step that could not be built has no key, but may have something to show all the same; what is used up
    later is not shown while something is dragged, and is once that is kept.
    """
    return status.key, status.state, status.mesh is not None, status.findings, None if status.key else status.summary


@dataclass
class _Job:
    """What a build is for.

    preview: its number, None for a kept revision. exact: with the kernel, after what came without it. combed: the step whose combs are wanted.
    penned: steps whose lines were told when it was asked for. kept: what it is a preview of was kept meanwhile.
    """

    design: str
    document: Document
    at: Moment
    preview: int | None
    body: bytes
    exact: bool = False
    combed: str = ""
    penned: Set[str] = frozenset()
    tries: int = 0
    kept: bool = False

    @property
    def revision(self) -> int:
        return self.at.revision


class Engine:
    """tell is called from lane threads with everything that listeners of a design should hear."""

    def __init__(self, settings: Settings, tell: Tell, watched: Callable[[str], bool] = lambda design: False) -> None:
        """watched: whether somebody looks at a design now."""
        self._settings = settings
        self._tell = tell
        self._numbers = itertools.count(1)
        self._jobs: dict[int, _Job] = {}
        self._answers: dict[int, tuple[Future[bytes], str]] = {}
        self._barred: dict[str, tuple[str, str]] = {}
        self._shown: dict[str, dict[str, _Told]] = defaultdict(dict)
        self._pens: dict[str, set[str]] = defaultdict(set)
        self._took: dict[tuple[str, str], float] = {}
        self._lock = threading.RLock()
        self.designs: dict[str, OpenDesign] = {}
        self._opinions = SecondOpinions(self.designs, self._lock, watched, self._ask_kernel, tell)
        self._lanes = {
            "shape": Lane("shape", self._setup(kernel=False), self._heard, watched, most=settings.shape_workers + 4, early=settings.shape_workers),
            "exact": Lane("exact", self._setup(kernel=True), self._heard, watched, most=4),
            "files": Lane("files", self._setup(kernel=False), self._heard, watched, most=3),
        }

    def _setup(self, *, kernel: bool) -> WorkerSetup:
        s = self._settings
        keeps = s.exact_worker_keeps_megabytes if kernel else s.shape_worker_keeps_megabytes
        return WorkerSetup(str(s.cache), s.cache_megabytes, s.results_megabytes, s.worker_megabytes, keeps, s.faults, kernel, str(s.database))

    def known(self, design: str) -> OpenDesign | None:
        """How a design stands at this moment: what lanes tell meanwhile changes nothing in it."""
        with self._lock:
            found = self.designs.get(design)
            return None if found is None else replace(found, steps=dict(found.steps), solids=dict(found.solids))

    # what is asked of it --------------------------------------------------------------------------------------------------------------

    def build(self, design: str, document: Document, at: Moment, body: bytes) -> None:
        """Build what is kept. body: the document as bytes. What was kept before and has not begun is not built any more, what has ends soon."""
        with self._lock:
            known = self.designs.get(design)
            if known is not None and (at.since < known.at.since or (known.at == at and known.document == document and known.complete)):
                return
            fresh = OpenDesign(document, at, body)
            if known is not None:
                present = {step.id for step in document.steps}
                fresh.steps = {k: v for k, v in known.steps.items() if k in present}
                fresh.solids = {k: v for k, v in known.solids.items() if k in present}
                fresh.standing = [step for step in known.standing if step in present]
                # what listeners were told of a step that is gone is forgotten: should it come back, it is told anew
                self._shown[design] = {k: v for k, v in self._shown[design].items() if k in present}
            self.designs[design] = fresh
            # what is kept may be seen already: then its shape is wanted, and follows from here as that of this revision
            seen = max((n for n, job in self._jobs.items() if job.design == design and job.preview is not None and job.body == body), default=None)
            if seen is not None:
                self._jobs[seen].at, self._jobs[seen].kept = at, True
            self._submit(_Job(design, document, at, None, body), seen=seen)

    def preview(
        self, design: str, document: Document, at: Moment, number: int, body: bytes, combed: str = "", penned: Set[str] = frozenset()
    ) -> None:
        """Build a document that is not kept. The newest preview wins; older ones that have not begun are dropped.

        One of another moment than what is kept by now is dropped as well: its shape would stay on screen in place of that. penned: the steps whose
        lines were told already.
        """
        with self._lock:
            known = self.designs.get(design)
            if known is None or known.at == at:
                self._submit(_Job(design, document, at, number, body, combed=combed, penned=penned))

    def penned(self, design: str, at: Moment, number: int, step: str, lines: DrawnLines) -> bool:
        """Tell where the lines of a drawing are in a preview that is still to be built. False where the step is not shown as a drawing."""
        with self._lock:
            known = self.designs.get(design)
            status = None if known is None or known.at != at else known.steps.get(step)
            if status is None or getattr(status.summary, "drawing", None) is None:
                return False
            self._pen(design, at.revision, number, step, lines)
            return True

    def ask(self, name: str, design: str, **arguments: Any) -> Future[bytes]:
        """The answer to a question of the table, or what it is refused with."""
        kind = QUESTIONS.get(name) or BODIES[name]
        with self._lock:
            number = next(self._numbers)
            future: Future[bytes] = Future()
            self._answers[number] = (future, name)
        self._lanes[kind.lane].submit(f"question-{number}", Question(number, design, name, arguments), getattr(self._settings, kind.limit))
        return future

    def ask_either(self, name: str, design: str, **arguments: Any) -> bytes:
        """The answer, by whoever can give it: most bodies need no kernel, and so don't wait for it."""
        found = self.ask(name, design, **arguments).result()
        return self.ask(f"{name}-exact", design, **arguments).result() if found == NEEDS_KERNEL else found

    def stop(self, design: str) -> bool:
        """End the work on a design's current step. False when none is going on."""

        def matches(request: Request) -> bool:
            return request.design == design and not isinstance(request, Question)

        stopped = [lane.stop_current(matches, "it was stopped by hand") for lane in self._lanes.values()]
        return any(stopped)

    def try_again(self, design: str) -> None:
        """Nothing of a design is barred any more, and it is built anew."""
        with self._lock:
            known = self.designs.get(design)
            self._barred = {key: (owner, why) for key, (owner, why) in self._barred.items() if owner != design}
            if known is not None:
                known.complete = False
                self._submit(_Job(design, known.document, known.at, None, known.body))

    def forget(self, design: str) -> None:
        with self._lock:
            self.designs.pop(design, None)
            self._opinions.forget(design)
            self._shown.pop(design, None)
            self._pens.pop(design, None)
            self._took = {key: ms for key, ms in self._took.items() if key[0] != design}

    def show_all_again(self, design: str) -> None:
        """A new listener knows only what is kept: what a preview changed is told anew with the next build."""
        with self._lock:
            known, shown = self.designs.get(design), self._shown[design]
            for step in list(shown):
                kept = known.steps.get(step) if known is not None else None
                if kept is None or shown[step] != _told(kept):
                    del shown[step]
            if known is not None and known.complete:
                self._opinions.bodies_are_there(design)

    def close(self) -> None:
        with self._lock:
            self._opinions.close()
        for lane in self._lanes.values():
            lane.close()

    # what lanes say -------------------------------------------------------------------------------------------------------------------

    def _submit(self, job: _Job, *, seen: int | None = None) -> None:
        """seen: the number of a preview that shows the same."""
        number = next(self._numbers)
        self._jobs[number] = job
        barred = {key: why for key, (_, why) in self._barred.items()}
        request = BuildRequest(number, job.design, job.body, job.preview is not None, job.exact, job.combed, job.penned, barred)
        slot = f"{job.design}/{'kept' if job.preview is None else 'preview'}"
        lane = self._lanes["exact" if job.exact else "shape"]
        rest = REST if self.takes_long(job.design, job.penned) else 0.0
        never = [lane.submit(slot, request, self._settings.step_seconds, self._settings.build_seconds, rest=rest)]
        if job.preview is None:
            never.append(lane.drop(f"{job.design}/preview"))
            for each in self._lanes.values():
                each.overtake(job.design, but=number, seen=seen)
        for replaced in never:
            if isinstance(replaced, BuildRequest):
                self._jobs.pop(replaced.job, None)

    def takes_long(self, design: str, steps: Set[str]) -> bool:
        """Whether what comes of a pull on drawings takes the machine from the lines of the next one. steps: that draw them."""
        return max((self._took.get((design, step), 0.0) for step in steps), default=0.0) > HEAVY

    def _heard(self, request: Request, answer: Answer | Slow | Lost) -> None:
        with self._lock:
            match answer:
                case Started() if isinstance(request, BuildRequest):
                    self._steps_done(request, answer.done)
                case Shaped() if isinstance(request, BuildRequest):
                    self._shaped(request, answer)
                case Penned() if isinstance(request, BuildRequest):
                    self._penned(request, answer)
                case Combed() if isinstance(request, BuildRequest):
                    self._combed(request, answer)
                case Slow() if isinstance(request, BuildRequest) and self._wanted(request):
                    job = self._jobs[request.job]
                    self._tell(job.design, WorkingOn(revision=job.revision, preview=job.preview, step=answer.step, seconds=answer.seconds))
                case SolidDone():
                    self._opinions.heard(answer)
                case Finished() if isinstance(request, Question):
                    self._answered(request, answer.data, answer.error or "the file could not be written")
                case Finished() if isinstance(request, BuildRequest):
                    self._built(request, answer)
                case Lost():
                    self._lost(answer)

    def _wanted(self, request: BuildRequest) -> bool:
        """Whether a build is still for what is kept now: what one for an earlier moment says is of no use any more."""
        job = self._jobs.get(request.job)
        known = self.designs.get(request.design)
        return job is not None and (known is None or (known.at == job.at and not (job.kept and known.told)))

    def _shaped(self, request: BuildRequest, shaped: Shaped) -> None:
        if self._wanted(request) and not request.exact:
            job = self._jobs[request.job]
            if job.preview is not None:
                # what was told of the step before is not what is on screen now
                self._shown[job.design].pop(shaped.step, None)
            self._tell(job.design, StepShaped(revision=job.revision, preview=job.preview, step=shaped.step, mesh=shaped.mesh))
        self._steps_done(request, shaped.done)

    def _penned(self, request: BuildRequest, answer: Penned) -> None:
        job = self._jobs.get(request.job)
        if job is not None and job.preview is not None and self._wanted(request):
            self._pen(job.design, job.revision, job.preview, answer.step, answer.lines)
        self._steps_done(request, answer.done)

    def _pen(self, design: str, revision: int, preview: int, step: str, lines: DrawnLines) -> None:
        # what was told of the step before is not what is on screen now
        self._shown[design].pop(step, None)
        self._pens[design].add(step)
        self._tell(design, StepPenned(revision=revision, preview=preview, step=step, lines=lines))

    def _combed(self, request: BuildRequest, answer: Combed) -> None:
        job = self._jobs.get(request.job)
        if job is not None and job.preview is not None and self._wanted(request):
            told = StepCombed(revision=job.revision, preview=job.preview, step=answer.step, combs=COMBS.validate_json(answer.combs))
            self._tell(job.design, told)

    def _steps_done(self, request: BuildRequest, done: list[StepDone]) -> None:
        if self._wanted(request):
            for step in done:
                self._step_done(self._jobs[request.job], step)

    def _step_done(self, job: _Job, done: StepDone) -> None:
        if done.ms:
            self._took[job.design, done.step] = done.ms
        status = StepStatus(
            id=done.step,
            state=done.state,
            key=done.key,
            ms=round(done.ms, 2),
            mesh=done.mesh,
            summary=done.summary,
            findings=done.findings,
            values=done.values,
            rough=done.rough,
            uses=list(done.uses),
            changes=list(done.changes),
        )
        known = self.designs.get(job.design)
        if job.preview is None and known is not None and known.at == job.at:
            before = known.steps.get(done.step)
            if status.mesh is None and before is not None:
                # the last good shape stays on screen
                status = status.model_copy(update={"last_good": before.mesh or before.last_good})
            known.steps[done.step] = status
        self._tell_step(job.design, job.revision, job.preview, status)
        if done.mesh is not None and isinstance(done.summary, BodySummary) and job.preview is None and not done.rough:
            self._opinions.made(job.design, done)

    def _tell_step(self, design: str, revision: int, preview: int | None, status: StepStatus) -> None:
        """Where it is not what listeners were told last."""
        if self._shown[design].get(status.id) != _told(status):
            self._shown[design][status.id] = _told(status)
            self._tell(design, StepUpdate(revision=revision, preview=preview, step=status))
        if preview is None:
            self._pens[design].discard(status.id)
        elif status.id in self._pens[design]:
            # there may be lines of a newer preview on screen, for which what comes next has to be told whatever it is
            self._shown[design].pop(status.id, None)

    def _built(self, request: BuildRequest, done: Finished) -> None:
        job = self._jobs.get(request.job)
        if done.overtaken or job is None:
            self._jobs.pop(request.job, None)
            return
        self._steps_done(request, done.done)
        wanted = self._wanted(request)
        del self._jobs[request.job]
        known = self.designs.get(job.design)
        if job.preview is not None and job.kept and not wanted:
            # it comes after that which it was a preview of, and would be taken for something newer
            self._tell(job.design, PreviewRefused(preview=job.preview, detail="What it shows is kept by now."))
            return
        exact = True
        if job.preview is None and known is not None and known.at == job.at:
            known.findings, known.standing, known.told = done.findings, done.standing, True
            exact = job.exact or not any(status.rough or status.state == "working" for status in known.steps.values())
            known.complete = exact
            if not exact:
                self._submit_exact(job)
            else:
                self._opinions.bodies_are_there(job.design)
        elif job.preview is None:
            return
        self._tell(
            job.design,
            BuildDone(revision=job.revision, preview=job.preview, ms=round(done.ms, 2), findings=done.findings, standing=done.standing, exact=exact),
        )
        if job.preview is not None and known is not None and known.complete and known.body == job.body:
            self._back_to(job.design, known)

    def _back_to(self, design: str, kept: OpenDesign) -> None:
        """What is kept is told again after a preview that came back to it: what was pulled about is let go, or put back."""
        for status in kept.steps.values():
            self._tell_step(design, kept.revision, None, status)
        self._tell(design, BuildDone(revision=kept.revision, preview=None, ms=0, findings=kept.findings, standing=kept.standing, exact=True))

    def _ask_kernel(self, design: str, done: StepDone) -> None:
        request = SolidRequest(next(self._numbers), design, done.step, done.key)
        self._lanes["exact"].submit(f"{design}/{done.step}", request, self._settings.step_seconds)

    def _submit_exact(self, job: _Job) -> None:
        """What only the kernel can give follows. Work on an older revision is ended where its step is not wanted any more as it was."""
        under_way = self._lanes["exact"].under_way(job.design)
        if under_way is not None:
            request, started = under_way
            old = self._jobs.get(request.job)
            if old is not None and started is not None and not depends_on_the_same(old.document, job.document, started.step):
                self._lanes["exact"].stop_current(lambda r: r is request, "something newer is wanted", quietly=True)
        self._submit(_Job(job.design, job.document, job.at, None, job.body, exact=True))

    def _answered(self, request: Question, data: bytes | None, error: str) -> None:
        future, name = self._answers.pop(request.job)
        if data is not None:
            future.set_result(data)
        else:
            future.set_exception((QUESTIONS[name].refused if name in QUESTIONS else ExportFailed)(error))

    def _lost(self, lost: Lost) -> None:
        request = lost.request
        if isinstance(request, Question):
            self._answered(request, None, f"the work on it was given up: {lost.why}")
            return
        if isinstance(request, SolidRequest):
            # a wait, a stop or a crash is no opinion of the body: it is asked again with the next build
            return
        job = self._jobs.pop(request.job, None)
        known = self.designs.get(request.design)
        if job is None or lost.quietly or (known is not None and known.at != job.at):
            return  # the newest revision is built whatever became of older ones
        if lost.own and lost.started is not None:
            self._barred[lost.started.key] = (job.design, lost.why)
        elif job.tries >= MOST_TRIES:
            return
        job.tries += 1
        # everything else in the design is built again, without the step that brought the worker down
        self._submit(job)
