"""A preview whose document is kept meanwhile: its shape is welcome before that of the kept one, and no word of it after."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from tests.core.design.designs import circle, lofted
from wander.app.engine.engine import Engine
from wander.app.engine.live import BuildDone, LiveEvent, PreviewRefused, StepShaped
from wander.app.engine.messages import BuildRequest, Finished, Shaped
from wander.app.engine.open_design import Moment
from wander.app.settings import Settings


class Slots:
    """In place of a lane: what it was given, done when the test says so."""

    def __init__(self) -> None:
        self.given: list[BuildRequest] = []

    def submit(self, slot: str, request: BuildRequest, *limits: float, rest: float = 0.0) -> None:
        self.given.append(request)

    def drop(self, slot: str) -> None: ...

    def overtake(self, design: str, *, but: int, seen: int | None) -> None: ...

    def under_way(self, design: str) -> None: ...


@pytest.fixture
def desk(tmp_path: Path):  # type: ignore[no-untyped-def]
    """An engine whose lanes do nothing by themselves, the first build of a design done; what it told; its preview and the same document kept."""
    told: list[LiveEvent] = []
    engine = Engine(Settings(data=tmp_path), lambda design, event: told.append(event))
    engine.close()
    slots: Any = Slots()
    engine._lanes = dict.fromkeys(engine._lanes, slots)
    before, after = (lofted((0.0, circle(20.0)), (30.0, circle(size))) for size in (10.0, 12.0))
    engine.build("d", before, Moment(1), before.model_dump_json().encode())
    finish(engine, slots.given[0])
    engine.preview("d", after, Moment(1), 7, after.model_dump_json().encode())
    engine.build("d", after, Moment(2), after.model_dump_json().encode())
    told.clear()
    return engine, told, slots.given[1], slots.given[2]


def test_one_that_ends_after_an_undo_is_not_one_of_what_that_came_back_to(desk: Any) -> None:
    engine, told, preview, _ = desk
    back = lofted((0.0, circle(20.0)), (30.0, circle(10.0)))
    engine.preview("d", back, Moment(2), 8, b"a third")
    late = engine._lanes["shape"].given[-1]
    engine.build("d", back, Moment(1, 1.0), back.model_dump_json().encode())
    engine.build("d", back, Moment(2, 2.0), back.model_dump_json().encode())
    for each in (preview, late):
        engine._heard(each, Shaped(each.job, "loft-5", "a mesh"))
        finish(engine, each)
    assert not [event for event in told if isinstance(event, StepShaped)]


def test_a_build_that_comes_in_after_that_of_a_later_change_is_none(desk: Any) -> None:
    engine, _, _, _ = desk
    engine.build("d", lofted((0.0, circle(20.0)), (30.0, circle(14.0))), Moment(3, 3.0), b"later")
    engine.build("d", lofted((0.0, circle(20.0)), (30.0, circle(15.0))), Moment(4, 2.0), b"earlier")
    assert engine.known("d").body == b"later"


def finish(engine: Engine, request: BuildRequest) -> None:
    engine._heard(request, Finished(request.job, 1.0))


def test_the_one_that_comes_first_is_followed_by_what_is_kept(desk: Any) -> None:
    engine, told, preview, kept = desk
    finish(engine, preview)
    finish(engine, kept)
    assert [(event.revision, event.preview) for event in told if isinstance(event, BuildDone)] == [(2, 7), (2, None)]


def test_the_one_that_comes_last_is_not_taken_for_something_newer(desk: Any) -> None:
    engine, told, preview, kept = desk
    finish(engine, kept)
    finish(engine, preview)
    assert [(event.revision, event.preview) for event in told if isinstance(event, BuildDone)] == [(2, None)]
    # whoever waits for it waits no longer
    assert [event.preview for event in told if isinstance(event, PreviewRefused)] == [7]
