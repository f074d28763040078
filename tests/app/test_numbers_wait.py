"""A body that is pulled about: the shape of each move, numbers now and then, and in the end those of what is there."""

from __future__ import annotations

from pathlib import Path

from tests.app.server import wait_until
from tests.closeness import assert_close
from wander.app.engine.engine import Engine
from wander.app.engine.live import BuildDone, LiveEvent, StepShaped, StepUpdate
from wander.app.settings import Settings
from wander.core.design.apply import apply_edits
from wander.core.design.memory import Memory
from wander.core.design.reading import read_document, write_document
from wander.core.design.rebuild import rebuild
from wander.core.document.edits import SetParam
from wander.core.results.summaries import BodySummary

MOVES = 24


def test_each_move_has_its_shape_and_the_last_its_numbers(tmp_path: Path, samples: Path) -> None:
    document = read_document((samples / "merganser.json").read_bytes())
    told: list[LiveEvent] = []
    engine = Engine(Settings(data=tmp_path), lambda design, event: told.append(event))
    moved = document
    try:
        engine.build("d", document, 1, write_document(document))
        wait_until(lambda: any(isinstance(event, BuildDone) for event in list(told)))
        for number in range(1, MOVES + 1):
            moved = apply_edits(document, [SetParam(do="set-param", step="station-5", path=["offset"], value=250 + number / 3)])
            engine.preview("d", moved, 1, number, write_document(moved))
            # the hand goes on as soon as the shape is there
            wait_until(lambda n=number: any(isinstance(event, StepShaped) and event.preview == n for event in list(told)))  # type: ignore[misc]
        wait_until(lambda: any(isinstance(event, BuildDone) and event.preview == MOVES for event in list(told)))
    finally:
        engine.close()
    steps = {event.step.id: event.step for event in told if isinstance(event, StepUpdate) and event.preview == MOVES}
    fresh = {built.step: built for built in rebuild(moved, Memory())}["loft-11"].summary
    shown = steps["loft-11"].summary
    assert isinstance(fresh, BodySummary)
    assert isinstance(shown, BodySummary)
    assert_close(shown.volume, fresh.volume, within=1e-9 * fresh.volume)
    assert shown.lanes == fresh.lanes
