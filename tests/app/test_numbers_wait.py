"""A body that is pulled about: the shape of each move, numbers now and then, and in the end those of what is there."""

from __future__ import annotations

from pathlib import Path

from tests.app.server import wait_until
from tests.as_shaped import SAMPLES
from tests.closeness import assert_close
from wander.app.engine.engine import Engine
from wander.app.engine.live import BuildDone, LiveEvent, StepShaped, StepUpdate
from wander.app.engine.open_design import Moment
from wander.app.settings import Settings
from wander.core.design.apply import apply_edits
from wander.core.design.memory import Memory
from wander.core.design.reading import read_document, write_document
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document
from wander.core.document.edits import SetParam
from wander.core.results.summaries import BodySummary

MOVES = 24


def test_each_move_has_its_shape_and_the_last_its_numbers(tmp_path: Path, samples: Path) -> None:
    document = read_document((samples / "merganser.json").read_bytes())
    told: list[LiveEvent] = []
    engine = Engine(Settings(data=tmp_path), lambda design, event: told.append(event))
    moved = document
    try:
        engine.build("d", document, Moment(1), write_document(document))
        wait_until(lambda: any(isinstance(event, BuildDone) for event in list(told)))
        for number in range(1, MOVES + 1):
            moved = apply_edits(document, [SetParam(do="set-param", step="station-5", path=["offset"], value=250 + number / 3)])
            engine.preview("d", moved, Moment(1), number, write_document(moved))
            # the hand goes on as soon as the shape is there
            wait_until(lambda n=number: any(isinstance(event, StepShaped) and event.preview == n for event in list(told)))  # type: ignore[misc]
        wait_until(lambda: any(isinstance(event, BuildDone) and event.preview == MOVES for event in list(told)))
    finally:
        engine.close()
    numbers_are_those_of_a_fresh_build(told, MOVES, moved, "loft-11")


def numbers_are_those_of_a_fresh_build(told: list[LiveEvent], preview: int, moved: Document, *bodies: str) -> None:
    steps = {event.step.id: event.step for event in told if isinstance(event, StepUpdate) and event.preview == preview}
    built_anew = {built.step: built for built in rebuild(moved, Memory())}
    for body in bodies:
        fresh, shown = built_anew[body].summary, steps[body].summary
        assert isinstance(fresh, BodySummary)
        assert isinstance(shown, BodySummary)
        assert_close(shown.volume, fresh.volume, within=1e-9 * fresh.volume)
        assert shown.lanes == fresh.lanes
        assert shown.wall == fresh.wall


def test_what_is_made_of_a_body_is_seen_before_the_numbers_of_that_body(tmp_path: Path) -> None:
    """A loft under a wall that is cut: the cut body first, then what the Run tells of the loft, and how thick the wall is."""
    document = read_document((SAMPLES / "bailer.json").read_bytes())
    told: list[LiveEvent] = []
    engine = Engine(Settings(data=tmp_path), lambda design, event: told.append(event))
    moved = apply_edits(document, [SetParam(do="set-param", step="station-5", path=["offset"], value=61.0)])
    try:
        engine.build("d", document, Moment(1), write_document(document))
        wait_until(lambda: any(isinstance(event, BuildDone) for event in list(told)))
        engine.preview("d", moved, Moment(1), 1, write_document(moved))
        wait_until(lambda: any(isinstance(event, BuildDone) and event.preview == 1 for event in list(told)))
    finally:
        engine.close()
    order = [
        (type(event), event.step.id if isinstance(event, StepUpdate) else event.step)
        for event in told
        if isinstance(event, StepShaped | StepUpdate) and event.preview == 1
    ]
    cut = order.index((StepShaped, "extrude-16"))
    assert cut < order.index((StepUpdate, "loft-9"))
    assert cut < order.index((StepUpdate, "wall-14"))
    numbers_are_those_of_a_fresh_build(told, 1, moved, "loft-9", "wall-14")
