"""A worker process: builds designs, asks the kernel, writes files. It may die at any moment; nothing is lost with it."""

from __future__ import annotations

import os
import pickle
import signal
import time
from dataclasses import asdict
from multiprocessing.connection import Connection
from pathlib import Path

import orjson

from wander.app.engine.mesh_store import MeshStore
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
    ReleaseRequest,
    Request,
    Shaped,
    SolidDone,
    SolidRequest,
    Started,
    StepDone,
)
from wander.core.checks.engine import gave_up
from wander.core.design.bodies import export
from wander.core.design.bringing import bring, drawing_file
from wander.core.design.cutting import CannotCut, cut_edits
from wander.core.design.reading import read_kept
from wander.core.design.rebuild import Cache, StepBuilt, design_findings, rebuild
from wander.core.design.releasing import NothingToRelease, release_edits
from wander.core.document.document import Document, Step
from wander.core.document.findings import Finding
from wander.core.exchange.curves import UnreadableCurves
from wander.core.exchange.glb import write_glb
from wander.core.exchange.pictures import UnreadablePicture, read_picture
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.display import display_mesh
from wander.core.shaping.shell import Shell
from wander.core.steps.body import Body
from wander.core.steps.registry import StepRefused

QUICK = 0.12
"""A body that took less seconds last time is quick: what changed before it is told with it."""


class Worker:
    def __init__(self, pipe: Connection, cache_folder: Path, faults: bool) -> None:
        self._pipe = pipe
        self._meshes = MeshStore(cache_folder)
        self._faults = faults
        self._results = Cache()
        self._told_bodies: set[str] = set()
        self._shaped_in: dict[tuple[str, str], float] = {}

    def run(self) -> None:
        while True:
            try:
                request: Request = self._pipe.recv()
            except EOFError:
                return
            begun = time.perf_counter()
            match request:
                case BuildRequest():
                    done, findings = self._build(request)
                    self._send(Finished(request.job, (time.perf_counter() - begun) * 1e3, done, findings))
                case SolidRequest():
                    self._send(Started(request.job, request.step, request.key))
                    self._send(self._solid(request))
                    self._send(Finished(request.job, (time.perf_counter() - begun) * 1e3))
                case ExportRequest():
                    self._send(Started(request.job, "", f"export-{request.job}"))
                    data, error = self._export(request)
                    self._send(Finished(request.job, (time.perf_counter() - begun) * 1e3, data=data, error=error))

                case CutRequest():
                    self._send(Started(request.job, request.step, f"cut-{request.job}"))
                    data, error = self._cut(request)
                    self._send(Finished(request.job, (time.perf_counter() - begun) * 1e3, data=data, error=error))

                case BringRequest() | ReleaseRequest() | PictureRequest() | DrawingRequest():
                    self._send(Started(request.job, "", f"file-{request.job}"))
                    data, error = self._file(request)
                    self._send(Finished(request.job, (time.perf_counter() - begun) * 1e3, data=data, error=error))

                case BodiesRequest():
                    self._send(Started(request.job, "", f"bodies-{request.job}"))
                    self._send(Finished(request.job, (time.perf_counter() - begun) * 1e3, data=self._bodies(request)))

    def _bodies(self, request: BodiesRequest) -> bytes:
        document = read_kept(request.document)
        names = {step.id: step.name for step in document.steps}
        found = []
        for built in rebuild(document, self._results):
            if isinstance(built.result, Body) and built.summary is not None:
                mesh = self._mesh(built.key, built.result.shell, names[built.step])
                found.append({"step": built.step, "name": names[built.step], "mesh": mesh, "summary": built.summary.model_dump(mode="json")})
        return orjson.dumps(found)

    def _mesh(self, key: str, shell: Shell, name: str, *, moving: bool = False) -> str:
        """The key of a body's mesh, which is made where it is not in the cache. moving: of a body that is being pulled about."""
        if moving and not self._meshes.has(key):
            key = _moving_key(key)
        if not self._meshes.has(key):
            tolerance = max(DEFAULT.display, DEFAULT.moving * shell.size) if moving else DEFAULT.display
            self._meshes.put(key, write_glb(display_mesh(shell, tolerance), name))
        return key

    def _cut(self, request: CutRequest) -> tuple[bytes | None, str | None]:
        document = read_kept(request.document)
        try:
            edits = cut_edits(document, list(rebuild(document, self._results)), request.step, request.at)
        except CannotCut as error:
            return None, str(error)
        return orjson.dumps([edit.model_dump(mode="json") for edit in edits]), None

    def _file(self, request: BringRequest | ReleaseRequest | PictureRequest | DrawingRequest) -> tuple[bytes | None, str | None]:
        try:
            if isinstance(request, DrawingRequest):
                return drawing_file(read_kept(request.document), request.step, request.file_format), None
            if isinstance(request, ReleaseRequest):
                document = read_kept(request.document)
                edits = release_edits(document, list(rebuild(document, self._results)), request.step, request.things)
                return orjson.dumps([edit.model_dump(mode="json") for edit in edits]), None
            if isinstance(request, PictureRequest):
                return read_picture(request.data), None
            return orjson.dumps(asdict(bring(request.data, request.file_name, request.placing, request.tolerance))), None
        except (UnreadableCurves, UnreadablePicture, NothingToRelease, GeometryError) as error:
            return None, str(error)

    def _send(self, answer: Answer) -> None:
        self._pipe.send(answer)

    def _build(self, request: BuildRequest) -> tuple[list[StepDone], list[Finding]]:
        """Steps dealt with since the last word to the server, and findings of the design as a whole."""
        document = read_kept(request.document)
        untold: list[StepDone] = []
        begun = 0.0

        def starting(step: Step, key: str) -> None:
            nonlocal begun
            if key in request.avoid:
                raise StepRefused([gave_up(step, request.avoid[key])])
            begun = time.perf_counter()
            # what changed before a quick body comes with its shape: a page that draws the one has no time to take the other
            together = request.preview and self._shaped_in.get((request.design, step.id), QUICK) < QUICK
            self._send(Started(request.job, step.id, key, [] if together else list(untold)))
            if not together:
                untold.clear()
            if self._faults:
                _fault(step.name)

        def shaped(step: Step, key: str, shell: Shell) -> None:
            mesh = self._mesh(key, shell, step.name, moving=request.preview)
            self._shaped_in[request.design, step.id] = time.perf_counter() - begun
            self._send(Shaped(request.job, step.id, mesh, list(untold)))
            untold.clear()

        names = {step.id: step.name for step in document.steps}
        steps = rebuild(document, self._results, starting, shaped)
        while True:
            try:
                built = next(steps, None)
            except MemoryError:
                # the step that was tried last is the one: dying here reports it as such, with a fresh worker after it
                os._exit(3)
            if built is None:
                break
            untold.append(self._told(request, built, names))
        return untold, design_findings(document)

    def _told(self, request: BuildRequest, built: StepBuilt, names: dict[str, str]) -> StepDone:
        mesh = body = None
        if isinstance(built.result, Body):
            mesh = self._mesh(built.key, built.result.shell, names[built.step], moving=request.preview)
            if not request.preview and built.key not in self._told_bodies:
                body = pickle.dumps(built.result.shell)
                self._told_bodies.add(built.key)
        return StepDone(built.step, built.state.value, built.key, built.ms, built.summary, built.findings, mesh, body, built.values)

    def _solid(self, request: SolidRequest) -> SolidDone:
        from wander.core.design.exact import exact_body
        from wander.core.solids.errors import KernelError

        try:
            solid = exact_body(pickle.loads(request.body))  # our own bytes, from our own worker
            return SolidDone(request.job, request.design, request.step, request.key, solid.volume, None)
        except KernelError as error:
            return SolidDone(request.job, request.design, request.step, request.key, None, str(error))

    def _export(self, request: ExportRequest) -> tuple[bytes | None, str | None]:
        from wander.core.design.bodies import NothingToExport
        from wander.core.solids.errors import KernelError

        document: Document = read_kept(request.document)
        try:
            return export(document, list(rebuild(document, self._results)), request.file_format, request.tolerance), None
        except (NothingToExport, KernelError) as error:
            return None, str(error)


def _moving_key(key: str) -> str:
    """A key as good as the other: the first digit turned round."""
    return f"{15 - int(key[0], 16):x}{key[1:]}"


def _fault(name: str) -> None:
    """What the test hook does for steps with telling names."""
    if name == "fault:crash":
        os.kill(os.getpid(), signal.SIGSEGV)
    if name == "fault:hang":
        while True:
            time.sleep(60)
    if name == "fault:memory":
        hoard = []
        while True:
            hoard.append(bytearray(64 * 1024 * 1024))
