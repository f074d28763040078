"""A preview that comes after what it was made on has been replaced."""

from __future__ import annotations

from pathlib import Path

from tests.app.server import wait_until
from wander.app.engine.engine import Engine
from wander.app.engine.live import BuildDone, LiveEvent
from wander.app.settings import Settings
from wander.core.design.reading import read_document


def test_a_preview_whose_revision_was_overtaken_is_never_built(tmp_path: Path, samples: Path) -> None:
    data = (samples / "bailer.json").read_bytes()
    document = read_document(data)
    told: list[LiveEvent] = []
    engine = Engine(Settings(data=tmp_path), lambda design, event: told.append(event))

    def done() -> list[int | None]:
        return [event.preview for event in list(told) if isinstance(event, BuildDone)]

    try:
        engine.build("d", document, 2, data)
        engine.preview("d", document, 1, 7, data)  # made on what stood there before
        engine.preview("d", document, 2, 8, data)
        # it comes to the same as what is kept, which is told again
        wait_until(lambda: len(done()) > 2)
        assert done() == [None, 8, None]
    finally:
        engine.close()


def test_what_is_known_of_a_design_is_not_changed_while_it_is_read(tmp_path: Path, samples: Path) -> None:
    data = (samples / "tarn.json").read_bytes()
    document = read_document(data)
    told: list[LiveEvent] = []
    engine = Engine(Settings(data=tmp_path), lambda design, event: told.append(event))
    try:
        engine.build("d", document, 1, data)
        first = engine.known("d")
        assert first is not None
        before = dict(first.steps)
        wait_until(lambda: any(isinstance(event, BuildDone) for event in list(told)))
        assert first.steps == before
        last = engine.known("d")
        assert last is not None
        assert last.steps.keys() == {step.id for step in document.steps}
        assert engine.known("e") is None
    finally:
        engine.close()
