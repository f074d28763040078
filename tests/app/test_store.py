"""The store: revisions, undo and redo, and databases of every age."""

from __future__ import annotations

import os
import random
import sqlite3
import threading
from contextlib import suppress
from pathlib import Path

import pytest

from tests.core.design.designs import circle, lofted, set_param
from wander.app.store.folder import Unusable
from wander.app.store.migrations import MIGRATIONS
from wander.app.store.models import DATABASE, Design, Revision
from wander.app.store.store import Head, NothingToUndo, StaleBase, Store, UnknownDesign
from wander.core.design.apply import apply_edits
from wander.core.design.errors import TooLarge, UnreadableDocument
from wander.core.design.reading import LARGEST

HULL = lofted((0.0, circle(20.0)), (10.0, circle(30.0)))


@pytest.fixture
def store(tmp_path: Path):
    opened = Store(tmp_path / "wander.sqlite3")
    yield opened
    opened.close()


def widened(head: Head, diameter: float):
    return apply_edits(head.document, [set_param("section-2", "shape", "diameter", to=diameter)])


def diameter(head: Head) -> float:
    step = head.document.step("section-2")
    assert step is not None
    return float(step.params["shape"]["diameter"])


def test_a_new_design_is_at_its_first_revision(store: Store) -> None:
    head = store.create(HULL)
    assert (head.revision, head.undo, head.redo) == (1, None, None)
    assert head.document == HULL


def test_revisions_follow_each_other(store: Store) -> None:
    head = store.create(HULL)
    for i in range(1, 6):
        head = store.commit(head.design, head.revision, widened(head, 20.0 + i))
        assert head.revision == i + 1
        assert head.undo
    assert diameter(store.head(head.design)) == 25.0


def test_undo_and_redo_without_limit(store: Store) -> None:
    head = store.create(HULL)
    for i in range(1, 21):
        head = store.commit(head.design, head.revision, widened(head, 20.0 + i))
    for i in range(19, -1, -1):
        head = store.undo(head.design, head.revision)
        assert diameter(head) == 20.0 + i
    with pytest.raises(NothingToUndo, match="began"):
        store.undo(head.design, head.revision)
    for i in range(1, 21):
        head = store.redo(head.design, head.revision)
        assert diameter(head) == 20.0 + i
    with pytest.raises(NothingToUndo, match="further on"):
        store.redo(head.design, head.revision)


def test_a_change_after_undo_begins_a_new_way_forward(store: Store) -> None:
    first = store.create(HULL)
    second = store.commit(first.design, 1, widened(first, 21.0))
    back = store.undo(first.design, second.revision)
    third = store.commit(first.design, back.revision, widened(back, 99.0))
    assert third.revision == 3, "numbers are never used twice"
    again = store.redo(first.design, store.undo(first.design, 3).revision)
    assert diameter(again) == 99.0


def test_history_is_kept_after_closing(tmp_path: Path) -> None:
    path = tmp_path / "wander.sqlite3"
    opened = Store(path)
    head = opened.create(HULL)
    head = opened.commit(head.design, 1, widened(head, 21.0))
    opened.undo(head.design, head.revision)
    opened.close()
    again = Store(path)
    found = again.head(head.design)
    assert (found.revision, found.undo, found.redo) == (1, None, "the last change")
    assert diameter(again.redo(head.design, 1)) == 21.0
    again.close()


def test_an_old_base_is_refused_and_nothing_is_written(store: Store) -> None:
    head = store.create(HULL)
    store.commit(head.design, 1, widened(head, 21.0))
    for late in (lambda: store.commit(head.design, 1, widened(head, 50.0)), lambda: store.undo(head.design, 1)):
        with pytest.raises(StaleBase) as caught:
            late()
        assert caught.value.current == 2
    assert diameter(store.head(head.design)) == 21.0
    with DATABASE.connection_context():
        assert Revision.select().count() == 2


def test_of_many_at_once_exactly_one_is_first(store: Store) -> None:
    head = store.create(HULL)
    won, lost = [], []

    def attempt(i: int) -> None:
        try:
            won.append(store.commit(head.design, 1, widened(head, 100.0 + i)))
        except StaleBase:
            lost.append(i)

    threads = [threading.Thread(target=attempt, args=(i,)) for i in range(12)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(won) == 1
    assert len(lost) == 11
    assert diameter(store.head(head.design)) == diameter(won[0])


def test_cards_are_in_the_order_of_their_last_change(store: Store) -> None:
    a, b = store.create(HULL), store.create(HULL.model_copy(update={"name": "Second"}))
    store.commit(a.design, 1, widened(a, 3.0))
    assert [card.design for card in store.cards()] == [a.design, b.design]
    store.remember_shown(b.design, '{"mesh": "x"}')
    assert {card.design: card.shown for card in store.cards()} == {a.design: "", b.design: '{"mesh": "x"}'}


def test_removing_takes_the_revisions_with_it(store: Store) -> None:
    head = store.create(HULL)
    store.commit(head.design, 1, widened(head, 3.0))
    store.remove(head.design)
    with DATABASE.connection_context():
        assert (Design.select().count(), Revision.select().count()) == (0, 0)
    for gone in (lambda: store.head(head.design), lambda: store.remove(head.design), lambda: store.commit(head.design, 2, HULL)):
        with pytest.raises(UnknownDesign):
            gone()


def columns(path: Path) -> dict[str, list[str]]:
    with sqlite3.connect(path) as database:
        return {t: [row[1] for row in database.execute(f"PRAGMA table_info({t})")] for t in ("design", "revision")}


def test_an_empty_file_becomes_the_present_database(tmp_path: Path, store: Store) -> None:
    found = columns(tmp_path / "wander.sqlite3")
    assert found["design"] == [field.column_name for field in Design._meta.sorted_fields]
    assert found["revision"] == [field.column_name for field in Revision._meta.sorted_fields]
    with sqlite3.connect(tmp_path / "wander.sqlite3") as database:
        assert database.execute("PRAGMA user_version").fetchone()[0] == len(MIGRATIONS)
        assert database.execute("PRAGMA journal_mode").fetchone()[0] == "wal"


def test_a_database_from_the_future_is_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "wander.sqlite3"
    with sqlite3.connect(path) as database:
        database.execute("PRAGMA user_version = 999")
    with pytest.raises(Unusable, match="newer Wander"):
        Store(path)
    DATABASE.close()


@pytest.mark.parametrize("damage", [b"not a database at all, but long enough to be looked at" * 40, b"SQLite format 3\0" + b"\xff" * 4000])
def test_a_damaged_database_is_told(tmp_path: Path, damage: bytes) -> None:
    path = tmp_path / "wander.sqlite3"
    path.write_bytes(damage)
    with pytest.raises(Unusable, match="it is damaged, or no database"):
        Store(path)
    assert path.read_bytes() == damage, "nothing is changed about it"
    DATABASE.close()


def test_a_folder_has_one_server(tmp_path: Path, store: Store) -> None:
    with pytest.raises(Unusable, match=rf"another Wander \(process {os.getpid()}\) already serves"):
        Store(tmp_path / "wander.sqlite3")
    store.close()
    Store(tmp_path / "wander.sqlite3").close()


def test_heads_follow_the_database_however_threads_take_turns(store: Store) -> None:
    """Commits and undos at once: what is known as the head is what is on disk, always."""
    head = store.create(HULL)

    def hurry(chance: random.Random) -> None:
        for i in range(60):
            known = store.head(head.design)
            with suppress(StaleBase, NothingToUndo):
                if chance.random() < 0.4:
                    store.undo(head.design, known.revision)
                else:
                    store.commit(head.design, known.revision, widened(known, 20.0 + i))

    threads = [threading.Thread(target=hurry, args=(random.Random(seed),)) for seed in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    with DATABASE.connection_context():
        assert Design.get(Design.id == head.design).head == store.head(head.design).revision


def test_an_edit_that_comes_again_is_known(store: Store) -> None:
    head = store.create(HULL)
    store.commit(head.design, 1, widened(head, 21.0), "a-1")
    assert store.committed(head.design, 1, "a-1")
    assert not store.committed(head.design, 1, "a-2")
    assert not store.committed(head.design, 2, "a-1")
    assert not store.committed(head.design, 1, "")


def test_what_could_not_be_read_again_is_not_kept(store: Store) -> None:
    head = store.create(HULL)
    section = next(step for step in head.document.steps if step.kind == "section")
    for bad in (float("nan"), float("inf"), "x" * (LARGEST + 1)):
        steps = tuple(s.model_copy(update={"params": {**s.params, "turn": bad}}) if s is section else s for s in head.document.steps)
        with pytest.raises((UnreadableDocument, TooLarge)):
            store.commit(head.design, 1, head.document.model_copy(update={"steps": steps}))
    assert store.head(head.design).revision == 1
    assert store.commit(head.design, 1, widened(head, 3.0)).revision == 2


def test_from_a_head_that_can_not_be_read_there_is_a_way_back(store: Store) -> None:
    head = store.create(HULL)
    store.commit(head.design, 1, widened(head, 21.0))
    store.close()
    with DATABASE.connection_context():
        Revision.update(document=b'{"format": "wander-design/1", "nam').where(Revision.number == 2).execute()
    store._heads.clear()
    with pytest.raises(UnreadableDocument):
        store.head(head.design)
    assert store.known(head.design) == 2
    assert store.document_at(head.design, 1) == HULL
    assert store.undo(head.design, 2).revision == 1
    assert diameter(store.head(head.design)) == 20.0
    with pytest.raises(UnreadableDocument):
        store.redo(head.design, 1)
    assert store.head(head.design).revision == 1, "nothing moved"


def test_heads_are_in_order_whatever_the_clock_does(store: Store, monkeypatch: pytest.MonkeyPatch) -> None:
    """An hour back in the middle of it, as when clocks are set."""
    clock = [5000.0, 5001.0, 1400.0, 1400.0, 1401.0]
    monkeypatch.setattr("wander.app.store.store.time.time", lambda: clock[0])
    head = store.create(HULL)
    told = [head.changed]
    for number, now in enumerate(clock[1:]):
        clock[0] = now
        head = store.undo(head.design, head.revision) if number == 2 else store.commit(head.design, head.revision, widened(head, 30.0 + number))
        told.append(head.changed)
    assert told == sorted(set(told))
