"""The questions that a worker answers: one table, so that another one is one line here and one function in the core.

Each answer is a function of the worker's memory and the arguments of the question, to bytes. A refusal is passed on in its own words.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from functools import partial
from typing import TYPE_CHECKING, Any

import orjson

if TYPE_CHECKING:
    from wander.core.design.memory import Memory
    from wander.core.shaping.density import Density


NEEDS_KERNEL = b""
"""The answer of a lane without the kernel to what only the kernel can say: the same question with `-exact` behind its name is for the other lane."""


class Refused(RuntimeError):
    """Root of what a question can be refused with; the message says why and what would help."""


class ExportFailed(Refused):
    """The file could not be made."""


class CutRefused(Refused):
    """No section can be cut there."""


class ReleaseRefused(Refused):
    """Nothing can be let go there."""


class FairRefused(Refused):
    """Nothing can be smoothed there."""


class FileRefused(Refused):
    """A file that was brought along can't be used, or a drawing not be written."""


@dataclass(frozen=True)
class QuestionKind:
    """lane: who answers ('shape', 'exact' or 'files'). limit: which of the settings bounds it, seconds. answer: loaded in the worker alone."""

    lane: str
    limit: str
    refused: type[Refused]
    answer: Callable[..., bytes]


def _edits(edits: list[Any]) -> bytes:
    return orjson.dumps([edit.model_dump(mode="json") for edit in edits])


def _export(memory: Memory, document: bytes, file_format: str, density: Density) -> bytes:
    from wander.core.design.bodies import NothingToExport, export
    from wander.core.design.exact import exact_ways
    from wander.core.design.reading import read_kept
    from wander.core.design.rebuild import rebuild
    from wander.core.exchange.formats import FileFormat
    from wander.core.solids.errors import KernelError

    design = read_kept(document)
    try:
        return export(design, list(rebuild(design, memory, exact_ways())), FileFormat(file_format), density)
    except (NothingToExport, KernelError) as error:
        raise Refused(str(error)) from error


def _cut(memory: Memory, document: bytes, step: str, at: float) -> bytes:
    from wander.core.design.cutting import CannotCut, cut_edits
    from wander.core.design.reading import read_kept
    from wander.core.design.rebuild import rebuild

    design = read_kept(document)
    try:
        return _edits(cut_edits(design, list(rebuild(design, memory)), step, at))
    except CannotCut as error:
        raise Refused(str(error)) from error


def _release(memory: Memory, document: bytes, step: str, things: tuple[str, ...]) -> bytes:
    from wander.core.design.reading import read_kept
    from wander.core.design.rebuild import rebuild
    from wander.core.design.releasing import NothingToRelease, release_edits
    from wander.core.geometry.errors import GeometryError

    design = read_kept(document)
    try:
        return _edits(release_edits(design, list(rebuild(design, memory)), step, things))
    except (NothingToRelease, GeometryError) as error:
        raise Refused(str(error)) from error


def _fair(memory: Memory, document: bytes, step: str, within: float, things: tuple[str, ...]) -> bytes:
    from wander.core.design.fair import NothingToFair, fair_proposal
    from wander.core.design.reading import read_kept
    from wander.core.design.rebuild import rebuild
    from wander.core.geometry.errors import GeometryError

    design = read_kept(document)
    try:
        found = fair_proposal(design, list(rebuild(design, memory)), step, within, things)
    except (NothingToFair, GeometryError) as error:
        raise Refused(str(error)) from error
    return orjson.dumps({**asdict(found), "edits": [edit.model_dump(mode="json") for edit in found.edits]})


def _moved_over(memory: Memory, document: bytes) -> bytes:
    from wander.core.design.migration import renaming_edits
    from wander.core.design.reading import read_kept

    return _edits(renaming_edits(read_kept(document), memory))


def _bring(memory: Memory, **asked: Any) -> bytes:
    from wander.core.design.bringing import bring

    return _of_curves(bring, asked)


def _look(memory: Memory, **asked: Any) -> bytes:
    from wander.core.design.bringing import look

    return _of_curves(look, asked)


def _of_curves(read: Callable[..., Any], asked: dict[str, Any]) -> bytes:
    from wander.core.exchange.curves import UnreadableCurves
    from wander.core.geometry.errors import GeometryError

    try:
        return orjson.dumps(asdict(read(**asked)))
    except (UnreadableCurves, GeometryError) as error:
        raise Refused(str(error)) from error


def _picture(memory: Memory, data: bytes) -> bytes:
    from wander.core.exchange.pictures import UnreadablePicture, read_picture

    try:
        return read_picture(data)
    except UnreadablePicture as error:
        raise Refused(str(error)) from error


def _part(memory: Memory, data: bytes, file_name: str) -> bytes:
    from wander.core.bodies.brought import NotInFile
    from wander.core.design.parts import read_part

    try:
        return orjson.dumps(asdict(read_part(data, file_name)))
    except NotInFile as error:
        raise Refused(str(error)) from error


def _drawing(memory: Memory, document: bytes, step: str, file_format: str) -> bytes:
    from wander.core.design.bringing import DrawingFormat, drawing_file
    from wander.core.design.reading import read_kept
    from wander.core.exchange.curves import UnreadableCurves
    from wander.core.geometry.errors import GeometryError

    try:
        return drawing_file(read_kept(document), step, DrawingFormat(file_format))
    except (UnreadableCurves, GeometryError) as error:
        raise Refused(str(error)) from error


def _as_drawn(memory: Memory, document: bytes, step: str) -> bytes:
    from wander.core.design.apply import apply_edits
    from wander.core.design.errors import EditRefused
    from wander.core.design.reading import read_kept
    from wander.core.design.rebuild import rebuild
    from wander.core.document.edits import Draw

    design = read_kept(document)
    try:
        drawn = apply_edits(design, [Draw(do="draw", step=step, acts=[])])
    except EditRefused as error:
        raise Refused(str(error)) from error
    built = next(built for built in rebuild(drawn, memory) if built.step == step)
    shape = next(s.params["shape"] for s in drawn.steps if s.id == step)
    now = getattr(built.summary, "drawing", None)
    return orjson.dumps({"shape": shape, "now": now.model_dump(mode="json") if now is not None else None})


def _told(memory: Memory, document: bytes, step: str, asked: tuple[tuple[str, tuple[str, ...]], ...], curves: tuple[str, ...]) -> bytes:
    from wander.core.design.reading import read_kept
    from wander.core.design.telling import told

    return orjson.dumps(asdict(told(read_kept(document), memory, step, asked, curves)))


def _section(memory: Memory, document: bytes, axis: tuple[float, float, float], at: float) -> bytes:
    import numpy as np

    from wander.core.bodies.slices import area_across
    from wander.core.design.reading import read_kept
    from wander.core.design.rebuild import rebuild
    from wander.core.design.standing import standing

    size = float(np.linalg.norm(axis))
    if size < 1e-9:
        raise Refused("the direction has no length: one of x, y and z has to be other than 0")
    design, way = read_kept(document), np.array(axis) / size
    there = standing(design, list(rebuild(design, memory)))
    return orjson.dumps([{"step": built.step, "area": area_across(built.result, way, at)} for built in there if built.result is not None])


def _continuity(memory: Memory, document: bytes, step: str, *, exact: bool = False) -> bytes:
    from wander.core.design.reading import read_kept
    from wander.core.design.rebuild import State, Ways, rebuild
    from wander.core.design.standing import standing
    from wander.core.results.continuity import read_continuity

    ways = Ways()
    if exact:
        from wander.core.design.exact import exact_ways

        ways = exact_ways()
    design = read_kept(document)
    dealt_with = list(rebuild(design, memory, ways))
    found = [built for built in standing(design, dealt_with) if built.step == step and built.result is not None]
    if not found and any(built.state is State.WORKING for built in dealt_with):
        return NEEDS_KERNEL
    if not found:
        raise Refused("there is no body of that name to look at")
    if found[0].rough:
        return NEEDS_KERNEL
    return orjson.dumps([seam.model_dump(mode="json") for seam in read_continuity(step, found[0].result)])


def _combs(memory: Memory, document: bytes, step: str) -> bytes:
    from wander.core.design.combing import combs_told
    from wander.core.design.reading import read_kept
    from wander.core.design.rebuild import rebuild

    design = read_kept(document)
    told = combs_told(design, step, {built.step: built.result for built in rebuild(design, memory)})
    if told is None:
        raise Refused("there is no body of that name to look at")
    return told


QUESTIONS: dict[str, QuestionKind] = {
    "export": QuestionKind("exact", "export_seconds", ExportFailed, _export),
    "cut": QuestionKind("shape", "step_seconds", CutRefused, _cut),
    "release": QuestionKind("shape", "step_seconds", ReleaseRefused, _release),
    "fair": QuestionKind("shape", "step_seconds", FairRefused, _fair),
    "moved-over": QuestionKind("exact", "export_seconds", FileRefused, _moved_over),
    "bring": QuestionKind("files", "reading_seconds", FileRefused, _bring),
    "look": QuestionKind("files", "reading_seconds", FileRefused, _look),
    "picture": QuestionKind("files", "reading_seconds", FileRefused, _picture),
    "part": QuestionKind("exact", "export_seconds", FileRefused, _part),
    "as-drawn": QuestionKind("shape", "step_seconds", FileRefused, _as_drawn),
    "told": QuestionKind("shape", "step_seconds", FileRefused, _told),
    "section": QuestionKind("shape", "step_seconds", FileRefused, _section),
    "combs": QuestionKind("shape", "step_seconds", FileRefused, _combs),
    "continuity": QuestionKind("shape", "step_seconds", FileRefused, _continuity),
    "continuity-exact": QuestionKind("exact", "export_seconds", FileRefused, partial(_continuity, exact=True)),
    "drawing": QuestionKind("files", "step_seconds", FileRefused, _drawing),
}
BODIES = {
    "bodies": QuestionKind("shape", "step_seconds", ExportFailed, lambda memory: b""),
    "bodies-exact": QuestionKind("exact", "export_seconds", ExportFailed, lambda memory: b""),
}
"""Those which need meshes as well are answered by the worker itself."""
