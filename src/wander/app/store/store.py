"""Designs and their revisions in SQLite. Every public method is one transaction and may be called from any thread."""

from __future__ import annotations

import secrets
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from peewee import DatabaseError, fn

from wander.app.store.folder import Unusable, claimed, why
from wander.app.store.migrations import NewerDatabase, migrate
from wander.app.store.models import DATABASE, Design, Revision, Version
from wander.core.design.reading import checked, read_document
from wander.core.document.document import Document


class UnknownDesign(LookupError):
    """There is no design with this id."""


class UnknownRevision(LookupError):
    """The design has no revision or version with this number."""


class StaleBase(RuntimeError):
    """Somebody else was first: the head is `current`, not the revision that the change was made on."""

    def __init__(self, current: int) -> None:
        super().__init__(f"the design is at revision {current} by now")
        self.current = current


class NothingToUndo(RuntimeError):
    """The head is the first revision, or there is nothing after it to go forward to."""


@dataclass(frozen=True)
class Head:
    """The current state of a design. undo, redo: what would be taken back, or done again, in words; None where there is nothing."""

    design: str
    document: Document
    data: bytes
    revision: int
    undo: str | None
    redo: str | None
    created: float
    changed: float


@dataclass(frozen=True)
class Card:
    """What the rack shows of a design; shown is JSON or empty."""

    design: str
    name: str
    changed: float
    revision: int
    shown: str


@dataclass(frozen=True)
class NamedVersion:
    """A revision that was given a name."""

    number: int
    revision: int
    name: str
    created: float


def _moment_after(row: Design) -> float:
    """Now, or a little later where the clock stands still or was put back: what is told of a head can be put in order by it."""
    return max(time.time(), float(row.changed) + 1e-5)


class Store:
    def __init__(self, path: Path) -> None:
        """Raises Unusable where the folder or the database can't be used."""
        self._claim = claimed(path.parent)
        # FULL: an acknowledged edit survives a power cut, not only a killed process
        pragmas = {"journal_mode": "wal", "foreign_keys": 1, "synchronous": "full", "busy_timeout": 5000}
        DATABASE.init(str(path), pragmas=pragmas)
        self._writing = threading.Lock()
        self._heads: dict[str, Head] = {}
        try:
            with DATABASE.connection_context():
                migrate(DATABASE)
        except (DatabaseError, NewerDatabase) as error:
            self._claim.close()
            said = str(error) if isinstance(error, NewerDatabase) else f"the database {path} can't be used: {why(error)}"
            raise Unusable(said) from error

    @contextmanager
    def _write(self) -> Iterator[dict[str, Head]]:
        """One transaction. The heads put into what it gives become the ones that are known, once it is on disk and before anybody else writes."""
        fresh: dict[str, Head] = {}
        with self._writing:
            with DATABASE.connection_context(), DATABASE.atomic("IMMEDIATE"):
                yield fresh
            self._heads |= fresh

    def cards(self) -> list[Card]:
        """All designs, the one changed last first."""
        with DATABASE.connection_context():
            rows = Design.select().order_by(Design.changed.desc())
            return [Card(d.id, d.name, d.changed, d.head, d.shown) for d in rows]

    def create(self, document: Document) -> Head:
        """Raises TooLarge."""
        design, now, data = secrets.token_hex(6), time.time(), checked(document)
        with self._write():
            Design.create(id=design, name=document.name, created=now, changed=now, head=1)
            Revision.create(design=design, number=1, parent=None, created=now, document=data)
        return self.head(design)

    def head(self, design: str) -> Head:
        """Raises UnknownDesign."""
        known = self._heads.get(design)
        if known is not None:
            return known
        with self._writing, DATABASE.connection_context():
            self._heads[design] = self._read(design)
            return self._heads[design]

    def _read(self, design: str) -> Head:
        row = self._row(design)
        revision = Revision.get((Revision.design == design) & (Revision.number == row.head))
        data = bytes(revision.document)
        onwards = self._after(design, row.head)
        return Head(
            design=design,
            document=read_document(data),
            data=data,
            revision=row.head,
            undo=revision.words if revision.parent is not None else None,
            redo=None if onwards is None else onwards.words,
            created=row.created,
            changed=row.changed,
        )

    def _after(self, design: str, number: int) -> Revision | None:
        """The newest revision that was made on one."""
        made = (Revision.design == design) & (Revision.parent == number)
        found: Revision | None = Revision.select().where(made).order_by(Revision.number.desc()).first()
        return found

    def _based_on(self, design: str, base: int) -> Design:
        """What the head says is not looked at: from one that can't be read there is a way back."""
        row = self._row(design)
        if row.head != base:
            raise StaleBase(row.head)
        return row

    def _row(self, design: str) -> Design:
        row: Design | None = Design.get_or_none(Design.id == design)
        if row is None:
            raise UnknownDesign(design)
        return row

    def known(self, design: str) -> int:
        """The number of the head, whether it can be read or not. Raises UnknownDesign."""
        with DATABASE.connection_context():
            return int(self._row(design).head)

    def commit(self, design: str, base: int, document: Document, mark: str = "", words: str = "the last change") -> Head:
        """A new revision on `base`. mark: of who sends it. words: what it does, for people.

        Raises UnknownDesign, StaleBase when the head has moved on, TooLarge, UnreadableDocument; then nothing is written.
        """
        data = checked(document)
        with self._write() as heads:
            row = self._based_on(design, base)
            created, now = float(row.created), _moment_after(row)
            number = 1 + (Revision.select(fn.MAX(Revision.number)).where(Revision.design == design).scalar() or 0)
            Revision.create(design=design, number=number, parent=base, created=now, document=data, mark=mark, words=words)
            Design.update(head=number, name=document.name, changed=now).where(Design.id == design).execute()
            heads[design] = Head(design, document, data, number, words, None, created, now)
        return heads[design]

    def committed(self, design: str, base: int, mark: str) -> bool:
        """Whether an edit with this mark was kept on `base`: its answer was lost, and it is sent again."""
        if not mark:
            return False
        with DATABASE.connection_context():
            return Revision.select().where((Revision.design == design) & (Revision.parent == base) & (Revision.mark == mark)).exists()

    def undo(self, design: str, base: int) -> Head:
        """Back to the revision that the head was made on. Raises NothingToUndo, UnknownDesign, StaleBase."""
        return self._move(design, base, back=True)

    def redo(self, design: str, base: int) -> Head:
        """Forward to the newest revision made on the head. Raises NothingToUndo, UnknownDesign, StaleBase."""
        return self._move(design, base, back=False)

    def _move(self, design: str, base: int, *, back: bool) -> Head:
        with self._write() as heads:
            row = self._based_on(design, base)
            here = Revision.get((Revision.design == design) & (Revision.number == base))
            there = Revision.get_or_none((Revision.design == design) & (Revision.number == here.parent)) if back else self._after(design, base)
            if there is None:
                raise NothingToUndo("this is where the design began" if back else "there is nothing further on")
            name = read_document(bytes(there.document)).name
            Design.update(head=there.number, name=name, changed=_moment_after(row)).where(Design.id == design).execute()
            heads[design] = self._read(design)
        return heads[design]

    def name_version(self, design: str, revision: int, name: str) -> NamedVersion:
        """Give a revision a name. Raises UnknownDesign, UnknownRevision."""
        self.document_at(design, revision)
        with self._write():
            made = Version.create(design=design, number=revision, name=name, created=time.time())
            return NamedVersion(made.id, revision, name, made.created)

    def versions(self, design: str) -> list[NamedVersion]:
        """All named versions of a design, the newest first."""
        with DATABASE.connection_context():
            rows = Version.select().where(Version.design == design).order_by(Version.created.desc())
            return [NamedVersion(v.id, v.number, v.name, v.created) for v in rows]

    def forget_version(self, design: str, number: int) -> None:
        """Take a name away; the revision stays. Raises UnknownRevision."""
        with self._write():
            if not Version.delete().where((Version.design == design) & (Version.id == number)).execute():
                raise UnknownRevision(number)

    def document_at(self, design: str, revision: int) -> Document:
        """The document as it was at a revision. Raises UnknownDesign, UnknownRevision, UnreadableDocument."""
        with DATABASE.connection_context():
            self._row(design)
            row = Revision.get_or_none((Revision.design == design) & (Revision.number == revision))
        if row is None:
            raise UnknownRevision(revision)
        return read_document(bytes(row.document))

    def remember_shown(self, design: str, shown: str) -> None:
        """Keep what the rack shows; a design that is gone by now is no error."""
        with self._write():
            Design.update(shown=shown).where((Design.id == design) & (Design.shown != shown)).execute()

    def remove(self, design: str) -> None:
        """Raises UnknownDesign."""
        with self._write():
            if not Design.delete().where(Design.id == design).execute():
                raise UnknownDesign(design)
            self._heads.pop(design, None)

    def close(self) -> None:
        self._heads.clear()
        if not DATABASE.is_closed():
            DATABASE.close()
        self._claim.close()
