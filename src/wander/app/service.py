"""The use cases: what a client can do with designs. Routes call this; it calls the store, the core and the engine."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass, replace
from importlib.resources import files
from pathlib import Path
from typing import Any

import orjson
from pydantic import TypeAdapter

from wander.app.engine.engine import Engine
from wander.app.engine.live import BuildDone, LiveEvent, Revised, Snapshot, StepShaped, StepStatus, StepUpdate
from wander.app.engine.open_design import Moment, OpenDesign
from wander.app.engine.questions import FileRefused
from wander.app.engine.shelves import mesh_shelf
from wander.app.hub import Hub
from wander.app.settings import Settings
from wander.app.store.part_files import keep_part_file, part_file_or_none
from wander.app.store.pictures import keep_picture, picture_or_none
from wander.app.store.store import Card, Head, NamedVersion, StaleBase, Store, UnknownDesign
from wander.core.bodies.brought import NotInFile, Piece
from wander.core.design.apply import apply_edits, tell_as_kept
from wander.core.design.attached import Attached, parts_of, pictures_of, with_keys
from wander.core.design.bringing import DrawingFormat
from wander.core.design.errors import EditRefused, TooLarge, UnreadableDocument
from wander.core.design.parts import PartFound, Use, part_edits, part_instead
from wander.core.design.reading import read_document, read_file, write_document, write_file
from wander.core.document.document import Document
from wander.core.document.edits import AddStep, Draw, Edit, SetParam
from wander.core.document.expressions import Kind, evaluate
from wander.core.document.old_names import needs_renaming
from wander.core.document.typed import with_default_unit
from wander.core.document.words import in_words
from wander.core.drawing.edits.begun import Beginnings, Hand
from wander.core.drawing.summary import DrawnLines
from wander.core.exchange.curves import Placing
from wander.core.exchange.formats import FileFormat
from wander.core.shaping.density import Density

TURN = 0.001
"""Seconds in which the event loop has sent what it was given."""
MOMENT = 0.02
"""Seconds in which a hand that goes on asks for what is next."""
_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)


@dataclass(frozen=True)
class Brought:
    """What came in with a file: how many curves and points, and how far the curves leave what the file says, mm."""

    curves: int
    points: int
    deviation: float


class _Overtaken(Exception):
    """Something newer is asked for."""


def _comes(overtaken: Callable[[], bool]) -> bool:
    late = time.monotonic() + MOMENT
    while not overtaken():
        if time.monotonic() > late:
            return False
        time.sleep(2 * TURN)
    return True


class Service:
    def __init__(self, settings: Settings, store: Store | None = None) -> None:
        """store: opened already; else it is opened here. Raises Unusable."""
        self.hub = Hub()
        self._samples = settings.samples
        self.store = store or Store(settings.database)
        self.meshes = mesh_shelf(settings.cache, settings.cache_megabytes)
        self.meshes.clear_up()
        self.engine = Engine(settings, self._tell, self.hub.heard)
        self._beginnings = Beginnings()
        self._pulled: dict[str, frozenset[str]] = {}
        """The drawings whose lines the last preview of a design told, by design."""
        self._later = ThreadPoolExecutor(1, thread_name_prefix="rack")

    def close(self) -> None:
        self.engine.close()
        self._later.shutdown()
        self.store.close()

    def cards(self) -> list[tuple[Card, bool]]:
        """All designs with what is known of them now, and whether they are being built."""
        found = []
        for card in self.store.cards():
            known = self.engine.known(card.design)
            shown = self._shown(card.design)
            found.append((card if shown is None else replace(card, shown=shown), known is not None and not known.complete))
        return found

    def create(self, name: str) -> Head:
        return self._begun(self.store.create(Document(name=name)))

    def open_file(self, data: bytes) -> Head:
        """A design from a file, with the pictures and parts that come in it. Raises UnreadableDocument, FileRefused."""
        document, attached = read_file(data)
        pictures = [key for key in pictures_of(document) if key in attached.pictures]
        keys = {key: keep_picture(self.engine.ask("picture", document.name, data=attached.pictures[key]).result()) for key in pictures}
        keys |= {key: keep_part_file(attached.parts[key]) for key in parts_of(document) if key in attached.parts}
        return self._begun(self.store.create(self._moved_over(with_keys(document, keys))))

    def file(self, design: str) -> tuple[str, bytes]:
        """The design's name and its file in the open format, its pictures and parts in it. Raises TooLarge, UnknownDesign."""
        document = self.store.head(design).document
        pictures = {key: data for key in pictures_of(document) if (data := picture_or_none(key)) is not None}
        parts = {key: data for key in parts_of(document) if (data := part_file_or_none(key)) is not None}
        return document.name, write_file(document, Attached(pictures, parts))

    def load_demo(self) -> int:
        """Put the demo designs on the rack, those that are not there yet by name; returns how many were added."""
        present = {card.name for card in self.store.cards()}
        added = 0
        for data in demo_files(self._samples):
            document = read_document(data)
            if document.name not in present:
                self._begun(self.store.create(self._moved_over(document)))
                added += 1
        return added

    def _moved_over(self, document: Document) -> Document:
        """A document whose references name faces as they are named now; most do so already."""
        if not needs_renaming(document):
            return document
        edits = self.engine.ask("moved-over", document.name, document=write_document(document)).result()
        return apply_edits(document, [_EDIT.validate_python(edit) for edit in orjson.loads(edits)])

    def head(self, design: str) -> Head:
        return self.store.head(design)

    def worth(self, design: str, text: str, kind: str) -> float:
        """What a typed number comes to, mm, degrees or a count. Raises UnknownDesign, and ExpressionError where it says nothing."""
        document = self.store.head(design).document
        measures = {"length": Kind.LENGTH, "angle": Kind.ANGLE}.get(kind, Kind.NUMBER)
        return evaluate(with_default_unit(text, measures, document.unit), measures, document.scope())

    def edit(self, design: str, base: int, edits: Sequence[Edit], mark: str = "") -> Head:
        """mark: an edit that comes again with the one that it had is kept once. Raises EditRefused, StaleBase, UnknownDesign."""
        head = self.store.head(design)
        if head.revision != base:
            if self.store.committed(design, base, mark):
                return head
            raise StaleBase(head.revision)
        document = apply_edits(head.document, edits)
        if document == head.document:
            return head
        try:
            head = self.store.commit(design, base, document, mark, in_words(edits, head.document))
        except UnreadableDocument as error:
            raise EditRefused(error.in_words, len(edits) - 1) from None
        except TooLarge as error:
            raise EditRefused(str(error), len(edits) - 1) from None
        return self._begun(head)

    def undo(self, design: str, base: int) -> Head:
        return self._begun(self.store.undo(design, base))

    def redo(self, design: str, base: int) -> Head:
        return self._begun(self.store.redo(design, base))

    def remove(self, design: str) -> None:
        self.store.remove(design)
        self.engine.forget(design)
        self._pulled.pop(design, None)

    def preview(
        self,
        design: str,
        base: int,
        number: int,
        edits: Sequence[Edit],
        combed: str = "",
        overtaken: Callable[[], bool] = lambda: False,
        since: float | None = None,
    ) -> None:
        """Build what the edits would give, without keeping it. Raises EditRefused, also for a preview on an old base.

        since: when the base became the head, where that is known: a window that undoes at once may be heard with what it asked for before.

        What a pull does to the lines of a drawing is told before all else. combed: the step whose combs are wanted. overtaken: whether something
        newer is asked for by now. Where the rest takes long that is waited for, while the lines are on their way to the screen; then it is not begun.
        """
        head = self.store.head(design)
        if head.revision != base or (since is not None and head.changed != since):
            raise EditRefused("The design has changed meanwhile.", 0)
        at = _moment(head)
        penned = set[str]()

        def tell(step: str, lines: DrawnLines) -> None:
            if self.engine.penned(design, at, number, step, lines):
                penned.add(step)
                # the loop sends it now, and not when this thread is next asked to rest
                time.sleep(TURN)
                if edits and self.engine.takes_long(design, {step}) and _comes(overtaken):
                    raise _Overtaken

        hand = Hand(self._beginnings, tell)
        if not edits:
            tell_as_kept(head.document, hand, self._pulled.pop(design, frozenset()))
        document = None
        with suppress(_Overtaken):
            document = apply_edits(head.document, edits, hand)
        if edits:
            self._pulled[design] = frozenset(penned)
        if document is not None:
            self.engine.preview(design, document, at, number, write_document(document), combed, frozenset(penned))

    def put_back(self, design: str, number: int) -> None:
        """Show what is kept, in place of a preview that nobody will end. Raises EditRefused where that changed meanwhile, UnknownDesign."""
        self.preview(design, self.store.head(design).revision, number, ())

    def versions(self, design: str) -> list[NamedVersion]:
        """All named versions, also of a design that can't be read any more. Raises UnknownDesign."""
        self.store.known(design)
        return self.store.versions(design)

    def name_version(self, design: str, revision: int, name: str) -> NamedVersion:
        """Raises UnknownDesign, UnknownRevision."""
        return self.store.name_version(design, revision, name)

    def open_revision(self, design: str, base: int, revision: int) -> Head:
        """Go on from an old revision: it becomes the newest one, so that nothing is lost. Raises UnknownRevision, StaleBase."""
        document = self.store.document_at(design, revision)
        return self._begun(self.store.commit(design, base, document, words="go back to an older state"))

    def bodies_at(self, design: str, revision: int) -> bytes:
        """The bodies of an old revision as JSON: step, name, mesh and summary of each. Raises UnknownRevision."""
        return self.engine.ask_either("bodies", design, document=write_document(self.store.document_at(design, revision)))

    def cut(self, design: str, base: int, step: str, at: float) -> Head:
        """Add the section of a body at a place along its Run, as one change. Raises CutRefused, StaleBase, UnknownDesign."""
        return self._worked_out(design, base, lambda head: self.engine.ask("cut", design, document=head.data, step=step, at=at))

    def release(self, design: str, base: int, step: str, things: Sequence[str]) -> Head:
        """Let things of a drawing go from what they follow, as one change. Raises ReleaseRefused, StaleBase, UnknownDesign."""
        return self._worked_out(design, base, lambda head: self.engine.ask("release", design, document=head.data, step=step, things=tuple(things)))

    def fair(self, design: str, step: str, within: float, things: Sequence[str]) -> bytes:
        """What would smooth a step within so many mm, as JSON; nothing is changed. Raises FairRefused, UnknownDesign."""
        data = self.store.head(design).data
        return self.engine.ask("fair", design, document=data, step=step, within=within, things=tuple(things)).result()

    def _head_at(self, design: str, base: int) -> Head:
        """The head, which is to be the revision that a change was made on. Raises StaleBase, UnknownDesign."""
        head = self.store.head(design)
        if head.revision != base:
            raise StaleBase(head.revision)
        return head

    def _worked_out(self, design: str, base: int, ask: Callable[[Head], Future[bytes]]) -> Head:
        """Edits that a worker finds, kept as one change."""
        head = self._head_at(design, base)
        return self.edit(design, base, [_EDIT.validate_python(edit) for edit in orjson.loads(ask(head).result())])

    def look(self, design: str, data: bytes, file_name: str, placing: Placing, tolerance: float) -> bytes:
        """What a file would bring into a drawing; nothing is changed. Raises FileRefused, UnknownDesign."""
        self.store.head(design)
        return self.engine.ask("look", design, data=data, file_name=file_name, placing=placing, tolerance=tolerance).result()

    def bring(
        self, design: str, base: int, step: str, data: bytes, file_name: str, placing: Placing, tolerance: float, *, instead: bool = False
    ) -> tuple[Head, Brought]:
        """Add the curves of a file to the drawing of a section, or put them in place of it, as one change.

        Raises FileRefused, EditRefused, StaleBase, UnknownDesign.
        """
        self._head_at(design, base)
        answer = self.engine.ask("bring", design, data=data, file_name=file_name, placing=placing, tolerance=tolerance)
        found = orjson.loads(answer.result())
        edit = Draw.model_validate({"do": "draw", "step": step, "acts": [found["act"]]})
        empty = SetParam(do="set-param", step=step, path=["shape"], value={"type": "drawing"})
        return self.edit(design, base, [*([empty] if instead else []), edit]), Brought(found["curves"], found["points"], found["deviation"])

    def add_picture(self, design: str, base: int, station: str, data: bytes, name: str) -> Head:
        """Lay a reference picture on a station, as one change. Raises FileRefused, EditRefused, StaleBase, UnknownDesign."""
        self._head_at(design, base)
        key = keep_picture(self.engine.ask("picture", design, data=data).result())
        params = {"station": {"step": station}, "picture": key}
        return self.edit(design, base, [AddStep.model_validate({"do": "add-step", "kind": "picture", "name": name, "params": params})])

    def add_part(self, design: str, base: int, data: bytes, file_name: str, use: Use, instead: str | None = None) -> Head:
        """Bring the bodies of a STEP or STL file in, as one change, or one in place of what a step has.

        Raises FileRefused, EditRefused, StaleBase, UnknownDesign.
        """
        head = self._head_at(design, base)
        answer = orjson.loads(self.engine.ask("part", design, data=data, file_name=file_name).result())
        found = PartFound(answer["format"], [Piece(**piece) for piece in answer["pieces"]])
        if instead is not None:
            standing = head.document.step(instead)
            if standing is None:
                raise FileRefused("the step that it should go in place of is not there any more; bring it in beside the others")
            try:
                return self.edit(design, base, part_instead(found, keep_part_file(data), standing))
            except NotInFile as error:
                raise FileRefused(str(error)) from error
        names = [step.name for step in head.document.steps]
        return self.edit(design, base, part_edits(found, keep_part_file(data), use, file_name, names))

    def drawing(self, design: str, step: str, file_format: DrawingFormat) -> tuple[str, Future[bytes]]:
        """The section's name and the file to come."""
        head = self.store.head(design)
        found = head.document.step(step)
        name = found.name if found is not None else "drawing"
        return name, self.engine.ask("drawing", design, document=head.data, step=step, file_format=file_format.value)

    def as_drawn(self, design: str, step: str) -> bytes:
        """The drawing that the shape of a section stands for, as JSON, with how it stands; nothing is changed. Raises FileRefused, UnknownDesign."""
        return self.engine.ask("as-drawn", design, document=self.store.head(design).data, step=step).result()

    def told(self, design: str, step: str, asked: Sequence[tuple[str, tuple[str, ...]]], curves: Sequence[str]) -> bytes:
        """What measures of things in a drawing come to, without holding them, as JSON. Raises UnknownDesign."""
        data = self.store.head(design).data
        return self.engine.ask("told", design, document=data, step=step, asked=tuple(asked), curves=tuple(curves)).result()

    def section(self, design: str, axis: tuple[float, float, float], at: float) -> bytes:
        """Areas in which a plane cuts the bodies that stand there, mm2, as JSON. Raises FileRefused, UnknownDesign."""
        return self.engine.ask("section", design, document=self.store.head(design).data, axis=axis, at=at).result()

    def continuity(self, design: str, step: str) -> bytes:
        """How the faces of a body meet, the worst first, as JSON. Raises FileRefused, UnknownDesign."""
        return self.engine.ask_either("continuity", design, document=self.store.head(design).data, step=step)

    def combs(self, design: str, step: str) -> bytes:
        """How much sections and flow lines of a body bend, as JSON. Raises FileRefused, UnknownDesign."""
        return self.engine.ask("combs", design, document=self.store.head(design).data, step=step).result()

    def set_shape(self, design: str, base: int, step: str, shape: dict[str, Any]) -> Head:
        """Give a section another shape, as one change. Raises EditRefused, StaleBase, UnknownDesign."""
        return self.edit(design, base, [SetParam(do="set-param", step=step, path=["shape"], value=shape)])

    def export(self, design: str, file_format: FileFormat, density: Density) -> tuple[str, Future[bytes]]:
        """The design's name and the file to come."""
        head = self.store.head(design)
        return head.document.name, self.engine.ask("export", design, document=head.data, file_format=file_format.value, density=density)

    def snapshot(self, design: str) -> Snapshot:
        """What is known of the design now; what is not gets built. Raises UnknownDesign."""
        head = self.store.head(design)
        known = self.engine.known(design)
        if known is None or known.at != _moment(head) or self._meshes_missing(known):
            if needs_renaming(head.document):
                head = self.store.commit(design, head.revision, self._moved_over(head.document))
                self.hub.tell(design, revised(head))
            if known is not None and known.at == _moment(head):
                self.engine.forget(design)  # what it told of is gone from the shelf
            self._build(head)
            known = self.engine.known(design)
        if known is None:
            raise UnknownDesign(design)  # it was thrown away meanwhile
        self.engine.show_all_again(design)
        return Snapshot(
            revision=known.revision,
            steps=list(known.steps.values()),
            findings=known.findings,
            solids=list(known.solids.values()),
            standing=known.standing,
            complete=known.complete,
        )

    def _meshes_missing(self, known: OpenDesign) -> bool:
        """The cache may be emptied at any time."""
        return any(status.mesh is not None and not self.meshes.has(status.mesh) for status in known.steps.values())

    def _begun(self, head: Head) -> Head:
        self._build(head)
        self.hub.tell(head.design, revised(head))
        return head

    def _build(self, head: Head) -> None:
        self.engine.build(head.design, head.document, _moment(head), head.data)

    def _tell(self, design: str, event: LiveEvent) -> None:
        mesh = self._comes_along(event)
        if mesh is not None:
            self.hub.hand(design, mesh)
        self.hub.tell(design, event)
        if isinstance(event, BuildDone) and event.preview is None:
            self._later.submit(self._remember, design)

    def _comes_along(self, event: LiveEvent) -> bytes | None:
        """The mesh that was made just now, under its key: neither a drag nor a typed number should wait for one more question and answer."""
        match event:
            case StepShaped(mesh=str(key)):
                pass
            case StepUpdate(preview=int(), step=StepStatus(mesh=str(key), ms=0.0)):
                pass  # known from before, so nothing was said of its shape
            case _:
                return None
        mesh = self.meshes.read(key)
        return None if mesh is None else key.encode() + mesh

    def _remember(self, design: str) -> None:
        """What the rack shows of a design, kept for the next time the server starts."""
        shown = self._shown(design)
        if shown is not None:
            self.store.remember_shown(design, shown)

    def _shown(self, design: str) -> str | None:
        """All bodies that stand in a design that is built: JSON of their meshes, volume, area and size together. None where nothing is known."""
        known = self.engine.known(design)
        if known is None or not known.complete:
            return None
        there = [known.steps[step] for step in known.standing if step in known.steps]
        found = [(s.mesh, s.summary) for s in there if s.mesh is not None and s.summary is not None and s.summary.result == "body"]
        if not found:
            return ""
        summaries = [summary for _, summary in found]
        low = [min(summary.low[i] for summary in summaries) for i in range(3)]
        high = [max(summary.high[i] for summary in summaries) for i in range(3)]
        size = [b - a for a, b in zip(low, high, strict=True)]
        shown = {
            "meshes": [mesh for mesh, _ in found],
            "volume": sum(s.volume for s in summaries),
            "area": sum(s.area for s in summaries),
            "size": size,
        }
        return orjson.dumps(shown).decode()


def _moment(head: Head) -> Moment:
    return Moment(head.revision, head.changed)


def revised(head: Head) -> Revised:
    return Revised(
        revision=head.revision,
        undo=head.undo,
        redo=head.redo,
        changed=head.changed,
        document=head.document.model_dump(mode="json"),
    )


def demo_files(folder: Path | None) -> list[bytes]:
    """The demo designs of a folder, else those from the package or, in a checkout, from the folder `samples`."""
    if folder is None:
        packaged = files("wander") / "samples"
        folder = Path(str(packaged)) if packaged.is_dir() else Path(__file__).parents[3] / "samples"
    return [path.read_bytes() for path in sorted(folder.glob("*.json"), reverse=True)]
