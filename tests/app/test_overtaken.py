"""A preview that comes after what it was made on has been replaced."""

from __future__ import annotations

from pathlib import Path

import pytest
from pydantic import TypeAdapter

from tests.app.server import wait_until
from tests.core.drawing.drawings import flange
from wander.app.engine import engine as engines
from wander.app.engine.engine import Engine
from wander.app.engine.live import BuildDone, LiveEvent, StepPenned
from wander.app.engine.open_design import Moment
from wander.app.service import Service
from wander.app.settings import Settings
from wander.core.design.reading import read_document
from wander.core.document.edits import Edit

EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)


def test_a_preview_whose_revision_was_overtaken_is_never_built(tmp_path: Path, samples: Path) -> None:
    data = (samples / "bailer.json").read_bytes()
    document = read_document(data)
    told: list[LiveEvent] = []
    engine = Engine(Settings(data=tmp_path), lambda design, event: told.append(event))

    def done() -> list[int | None]:
        return [event.preview for event in list(told) if isinstance(event, BuildDone)]

    try:
        engine.build("d", document, Moment(2), data)
        engine.preview("d", document, Moment(1), 7, data)  # made on what stood there before
        engine.preview("d", document, Moment(2), 8, data)
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
        engine.build("d", document, Moment(1), data)
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


def test_what_a_hand_has_gone_on_from_is_only_told_by_its_lines(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Where the rest of it takes long: it is neither checked nor built."""
    monkeypatch.setattr(engines, "HEAVY", 0.0)
    told: list[LiveEvent] = []
    monkeypatch.setattr(Service, "_tell", lambda self, design, event: told.append(event))
    service = Service(Settings(data=tmp_path))

    def done(number: int | None) -> bool:
        return any(isinstance(event, BuildDone) and (event.revision, event.preview) == (2, number) for event in list(told))

    try:
        design = service.create("Plate").design
        shape = {"type": "drawing", **flange(4)}
        station = {"do": "add-step", "kind": "station", "name": "Plate", "params": {"offset": 0.0}, "alias": "$station"}
        section = {"do": "add-step", "kind": "section", "name": "Flange", "params": {"station": {"step": "$station"}, "shape": shape}}
        service.edit(design, 1, [EDIT.validate_python(edit) for edit in (station, section)])
        wait_until(lambda: done(None))
        told.clear()
        x, y = shape["points"]["p1"]

        def pull(by: float) -> list[Edit]:
            return [EDIT.validate_python({"do": "draw", "step": "section-2", "acts": [{"act": "pull", "points": {"p1": [x + by, y]}}]})]

        asked: list[int] = []
        service.preview(design, 2, 1, pull(1.0), "", lambda: bool(asked.append(1)) or len(asked) > 2)
        service.preview(design, 2, 2, pull(2.0), "", lambda: False)
        wait_until(lambda: done(2))
        assert len(asked) == 3
        assert [event.preview for event in told if isinstance(event, StepPenned)] == [1, 2]
        assert not done(1)
        # put back, where nothing is waited for
        service.preview(design, 2, 3, (), "", lambda: True)
        wait_until(lambda: done(3))
    finally:
        service.close()
