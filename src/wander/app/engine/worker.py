"""A worker process: builds designs, asks the kernel, writes files. It may die at any moment; nothing is lost with it."""

from __future__ import annotations

import logging
import os
import resource
import signal
import time
from collections.abc import Iterator
from multiprocessing.connection import Connection
from pathlib import Path
from typing import TYPE_CHECKING

import orjson

from wander.app.engine.messages import (
    Answer,
    BuildRequest,
    Combed,
    Finished,
    Overtaken,
    Penned,
    Question,
    Request,
    Shaped,
    SolidDone,
    SolidRequest,
    Started,
    StepDone,
)
from wander.app.engine.questions import BODIES, NEEDS_KERNEL, QUESTIONS, Refused
from wander.app.engine.shelves import mesh_shelf, result_shelf
from wander.core.bodies.body import Body, mesh_of
from wander.core.bodies.brought import Reference
from wander.core.bodies.kernel import Kernel
from wander.core.design.combing import combs_told
from wander.core.design.memory import Files, Memory
from wander.core.design.reading import read_kept
from wander.core.design.rebuild import State, StepBuilt, Ways, design_findings, rebuild
from wander.core.design.standing import seen_as, standing, used_up
from wander.core.document.document import Document, Step
from wander.core.drawing.summary import DrawnLines
from wander.core.exchange.glb import write_glb
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.display import DisplayMesh, display_mesh, merged
from wander.core.shaping.shell import Shell
from wander.core.steps import REGISTRY
from wander.core.steps.inputs import LeftOff

if TYPE_CHECKING:
    from wander.app.engine.lane import WorkerSetup

log = logging.getLogger(__name__)
BODY_KINDS = frozenset(kind.name for kind in REGISTRY if kind.result == "body")
NUMBERS_EVERY = 0.25
"""Seconds in which the numbers of a body that is pulled about are told once at least, however fast it is pulled."""
MANY_LINES = 60
"""Curves from which on the areas and the health of a drawing take so long that where its lines are is told before."""
QUICK = 0.12
"""Seconds below which a step was quick last time: what changed before it is told with it, for a page that draws has no time to take both."""


class Worker:
    def __init__(self, pipe: Connection, setup: WorkerSetup) -> None:
        self._pipe = pipe
        cache = Path(setup.cache_folder)
        self._meshes = mesh_shelf(cache, setup.mesh_megabytes)
        self._setup = setup
        self._memory = Memory(result_shelf(cache, setup.result_megabytes), setup.keeps_megabytes * 2**20 // 3, _part_files(setup))
        self._took: dict[tuple[str, str], float] = {}
        self._newer = False
        self._told_all: dict[str, float] = {}
        self._moved: dict[str, set[str]] = {}

    def run(self) -> None:
        while True:
            try:
                request: Request | Overtaken = self._pipe.recv()
            except (EOFError, OSError):
                return
            if isinstance(request, Overtaken):
                continue  # it came when the build was done
            begun = time.perf_counter()
            match request:
                case BuildRequest():
                    self._build(request, begun)
                case SolidRequest():
                    self._send(Started(request.job, request.step, request.key))
                    self._send(self._solid(request))
                    self._send(Finished(request.job, _ms(begun)))
                case Question():
                    self._send(Started(request.job, "", f"question-{request.job}"))
                    self._answer(request, begun)
            self._stay_small()

    def _send(self, answer: Answer) -> None:
        self._pipe.send(answer)

    def _stay_small(self) -> None:
        """Memory that is measured, not counted: what a count misses is let go as well."""
        if resident_megabytes() > self._setup.keeps_megabytes:
            self._memory.shrink()
            if len(self._took) > 1000:
                self._took.clear()
            if len(self._told_all) > 1000:
                self._told_all.clear()
                self._moved.clear()

    def _answer(self, request: Question, begun: float) -> None:
        try:
            if request.name in BODIES:
                data = self._bodies(read_kept(request.arguments["document"]))
            else:
                data = QUESTIONS[request.name].answer(self._memory, **request.arguments)
        except Refused as refused:
            self._send(Finished(request.job, _ms(begun), error=str(refused)))
        except MemoryError:
            os._exit(3)
        except Exception as error:
            log.exception("question %s failed", request.name)
            self._send(Finished(request.job, _ms(begun), error=f"something went wrong that Wander has no words for ({type(error).__name__})"))
        else:
            self._send(Finished(request.job, _ms(begun), data=data))

    def _bodies(self, document: Document) -> bytes:
        names = {step.id: step.name for step in document.steps}
        found = []
        dealt_with = list(rebuild(document, self._memory, Ways(kernel=self._kernel())))
        if any(built.state is State.WORKING for built in dealt_with):
            return NEEDS_KERNEL
        for built in standing(document, dealt_with):
            if built.rough and not self._setup.kernel:
                return NEEDS_KERNEL
            if built.summary is not None:
                mesh = self._mesh(built.key, mesh_of(built.result, DEFAULT.display), names[built.step])
                found.append({"step": built.step, "name": names[built.step], "mesh": mesh, "summary": built.summary.model_dump(mode="json")})
        return orjson.dumps(found)

    def _kernel(self) -> Kernel | None:
        if not self._setup.kernel:
            return None
        from wander.core.design.exact import EXACT

        return EXACT

    def _mesh(self, key: str, mesh: DisplayMesh, name: str) -> str:
        if not self._meshes.has(key):
            self._meshes.put(key, write_glb(mesh, name))
        return key

    def _skin_mesh(self, key: str, skins: tuple[Shell, ...], name: str, *, moving: bool) -> str:
        """The key of a mesh of skins, which is made where it is not there. moving: of a body that is being pulled about."""
        if moving and not self._meshes.has(key):
            key = _moving_key(key)
        if not self._meshes.has(key):
            size = max(skin.size for skin in skins)
            tolerance = max(DEFAULT.display, DEFAULT.moving * size) if moving else DEFAULT.display
            self._mesh(key, merged([display_mesh(skin, tolerance, quick=moving) for skin in skins]), name)
        return key

    def _body_mesh(self, key: str, body: Body, name: str, *, moving: bool) -> str:
        if body.rough is None and not body.exact:
            return self._skin_mesh(key, body.skins, name, moving=moving)
        return self._mesh(key, mesh_of(body, DEFAULT.display), name)

    def _build(self, request: BuildRequest, begun: float) -> None:
        document = read_kept(request.document)
        names = {step.id: step.name for step in document.steps}
        untold: list[StepDone] = []
        step_begun = 0.0
        hidden = used_up(document, self._memory) if request.preview else set()
        # what waits for the kernel is seen as it was: it has the shape of what it will change
        taken_for = seen_as(document, self._memory) if request.preview else {}
        seen: dict[str, str] = {}
        # of a preview nothing but numbers is left to be told once its last body has its shape; bodies that stood still in the one before do so again
        if not request.preview:
            self._moved.pop(request.design, None)
        moved = self._moved.get(request.design)
        bodies = [step.id for step in document.steps if not step.skip and step.kind in BODY_KINDS]
        last = next((step for step in reversed(bodies) if moved is None or step in moved), "")
        shape_told = penned_told = combed = self._newer = False

        def starting(step: Step, key: str) -> None:
            nonlocal step_begun, shape_told, penned_told
            shape_told = penned_told = False
            self._heed()
            step_begun = time.perf_counter()
            together = request.preview and self._took.get((request.design, step.id), QUICK) < QUICK
            self._send(Started(request.job, step.id, key, [] if together else list(untold)))
            if not together:
                untold.clear()
            if self._setup.faults:
                _fault(step.name, exact=self._setup.kernel)

        def shaped(step: Step, key: str, skins: tuple[Shell, ...]) -> None:
            nonlocal shape_told, combed
            if step.id == request.combed and skins:
                comb(skins)
                combed = True
            shown = taken_for.get(step.id, step.id)
            if shown in hidden or not skins:
                return
            mesh = seen[shown] = self._skin_mesh(key, skins, step.name, moving=request.preview)
            self._send(Shaped(request.job, shown, mesh, list(untold)))
            untold.clear()
            shape_told = request.preview and shown == last
            pause()

        def penned(step: Step, lines: DrawnLines) -> None:
            nonlocal penned_told
            if step.id in request.penned:
                penned_told = True
                return
            if not request.preview or len(lines.paths) < MANY_LINES:
                return
            self._send(Penned(request.job, step.id, lines, list(untold)))
            untold.clear()
            penned_told = True

        def pause() -> None:
            if shape_told or penned_told:
                self._heed(told_all=self._told_all.get(request.design, 0.0))

        def comb(skins: tuple[Shell, ...] | None) -> None:
            told = combs_told(document, request.combed, {built.step: built.result for built in dealt_with}, skins)
            if told is not None:
                self._send(Combed(request.job, request.combed, told))

        kernel = self._kernel() if request.exact else None
        # of what is changed or used up later on nothing but numbers is seen
        ways = Ways(starting, shaped, penned, pause, kernel, not request.preview, hidden.__contains__, request.barred)
        dealt_with: list[StepBuilt] = []
        steps = rebuild(document, self._memory, ways)
        try:
            while (built := self._next(steps)) is not None:
                dealt_with.append(built)
                done = None if built.later is not None else self._told(request, built, names, hidden, seen)
                if built.step == request.combed and not combed and isinstance(built.result, Body):
                    comb(None)
                if built.ms:
                    self._took[request.design, built.step] = time.perf_counter() - step_begun
                if done is None:
                    continue
                if request.preview and built.ms and done.mesh is not None and not built.result.skins and built.step not in seen:
                    # what was put together has its shape only now: it goes before its numbers as well
                    self._send(Shaped(request.job, built.step, done.mesh, list(untold)))
                    untold.clear()
                untold.append(done)
            for i, built in enumerate(dealt_with):
                if built.later is not None:
                    # all shapes are told by now
                    self._heed(told_all=self._told_all.get(request.design, 0.0))
                    dealt_with[i] = built.complete()
                    untold.append(self._told(request, dealt_with[i], names, hidden, seen))
        except LeftOff:
            self._send(Finished(request.job, _ms(begun), overtaken=True))
            return
        there = standing(document, dealt_with)
        # what was thought to be used up, and stands after all
        untold += [self._told(request, built, names, set(), seen) for built in there if built.step in hidden]
        self._send(Finished(request.job, _ms(begun), untold, design_findings(document), standing=[built.step for built in there]))
        self._told_all[request.design] = time.perf_counter()
        if request.preview:
            self._moved[request.design] = {built.step for built in dealt_with if built.ms and isinstance(built.result, Body)}

    def _next(self, steps: Iterator[StepBuilt]) -> StepBuilt | None:
        try:
            return next(steps, None)
        except MemoryError:
            # the step that was tried last is the one: dying here reports it as such, with a fresh worker after it
            os._exit(3)

    def _heed(self, *, told_all: float | None = None) -> None:
        """Between steps there is time to hear that something newer is wanted.

        told_all: of a preview only numbers are left, and this is when those of its design were told last. Where another preview waits they can be
        left off, as long as that was a moment ago.
        """
        while self._pipe.poll():
            message = self._pipe.recv()
            if isinstance(message, Overtaken):
                if not message.by_preview:
                    raise LeftOff
                self._newer = True
        if told_all is not None and self._newer and time.perf_counter() - told_all < NUMBERS_EVERY:
            raise LeftOff

    def _told(self, request: BuildRequest, built: StepBuilt, names: dict[str, str], hidden: set[str], seen: dict[str, str]) -> StepDone:
        mesh, checked = None, False
        body = built.result
        if isinstance(body, Reference):
            mesh = self._mesh(built.key, body.mesh, names[built.step])
        if isinstance(body, Body) and built.summary is not None:
            checked = body.rough is None and not body.skins
            if built.step in seen and body.rough is not None:
                mesh = seen[built.step]
            elif built.step not in hidden:
                mesh = self._body_mesh(built.key, body, names[built.step], moving=request.preview)
        return StepDone(
            built.step,
            built.state.value,
            built.key if built.summary is not None else "",
            built.ms,
            built.summary,
            built.findings,
            mesh,
            built.values,
            built.rough,
            built.uses,
            built.changes,
            checked,
        )

    def _solid(self, request: SolidRequest) -> SolidDone:
        from wander.core.checks.skins import check_skins
        from wander.core.design.exact import exact_volume
        from wander.core.solids.errors import KernelError

        known = self._memory.get(request.key)
        if known is None or not isinstance(known.result, Body):
            return SolidDone(request.job, request.design, request.step, request.key, None, None)
        findings = check_skins(request.step, known.result)
        try:
            volume = exact_volume(known.result)
        except KernelError as error:
            return SolidDone(request.job, request.design, request.step, request.key, None, str(error), findings)
        return SolidDone(request.job, request.design, request.step, request.key, volume, None, findings)


def _part_files(setup: WorkerSetup) -> Files:
    """How data is read that was brought into designs: the database is opened when some is wanted."""

    def read(key: str) -> bytes | None:
        from wander.app.store.part_files import read_beside

        return read_beside(Path(setup.database), key)

    return read


def _ms(begun: float) -> float:
    return (time.perf_counter() - begun) * 1e3


def resident_megabytes() -> float:
    """What this process has in memory now."""
    return int(Path("/proc/self/statm").read_text().split()[1]) * resource.getpagesize() / 2**20


def _moving_key(key: str) -> str:
    """A key as good as the other, for the coarser mesh of a body that is being pulled about: its second digit turned round."""
    return f"{key[0]}{15 - int(key[1], 16):x}{key[2:]}"


def _fault(name: str, *, exact: bool) -> None:
    """What the test hook does for steps with telling names: everywhere, or where the kernel is at hand, as `fault:crash, exact` has it."""
    name, _, only = name.partition(", ")
    if only == "exact" and not exact:
        return
    if name == "fault:crash":
        os.kill(os.getpid(), signal.SIGSEGV)
    if name == "fault:hang":
        while True:
            time.sleep(60)
    if name == "fault:memory":
        hoard = []
        while True:
            hoard.append(bytearray(64 * 1024 * 1024))
