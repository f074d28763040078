"""Whose turn it is: where somebody looks goes first, and nothing waits for ever."""

from __future__ import annotations

from pathlib import Path

import pytest

from wander.app.engine import lane as lanes
from wander.app.engine.lane import Lane, WorkerSetup
from wander.app.engine.messages import Question, SolidRequest


@pytest.fixture
def lane(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Lane:
    """A lane in which nobody works, so that all wait."""
    monkeypatch.setattr(Lane, "_hire", lambda self: None)
    setup = WorkerSetup(str(tmp_path), 1, 1, 100, 100, False, False)
    return Lane("trial", setup, lambda request, answer: None, {"looked at"}.__contains__, most=1)


def ask(lane: Lane, *designs: str) -> None:
    for number, design in enumerate(designs):
        lane.submit(f"{number} {design}", SolidRequest(number, design, "loft-1", "0" * 32), 5.0)


def test_where_somebody_looks_goes_first_and_else_in_turn(lane: Lane) -> None:
    ask(lane, "rack a", "rack b")
    assert lane._first() == "0 rack a"
    ask(lane, "rack a", "rack b", "looked at", "looked at")
    assert lane._first() == "2 looked at"


def test_who_asks_waits_for_the_answer_and_goes_first(lane: Lane) -> None:
    ask(lane, "rack a", "rack b")
    lane.submit("question", Question(9, "rack c", "combs", {}), 5.0)
    assert lane._first() == "question"


def test_what_waits_for_long_has_its_turn(lane: Lane, monkeypatch: pytest.MonkeyPatch) -> None:
    now = [100.0]
    monkeypatch.setattr(lanes.time, "monotonic", lambda: now[0])
    ask(lane, "rack a", "looked at")
    assert lane._first() == "1 looked at"
    now[0] += lanes.PATIENCE + 1
    assert lane._first() == "0 rack a"


def test_what_waits_for_a_rest_is_begun_when_nothing_newer_comes_but_not_never(lane: Lane, monkeypatch: pytest.MonkeyPatch) -> None:
    now = [100.0]
    monkeypatch.setattr(lanes.time, "monotonic", lambda: now[0])

    def pulled(number: int) -> None:
        lane.submit("pulled", SolidRequest(number, "looked at", "loft-1", "0" * 32), 5.0, rest=0.25)

    pulled(1)
    assert lane._first() is None
    # others don't wait for it
    ask(lane, "rack a")
    assert lane._first() == "0 rack a"
    lane._waiting.pop("0 rack a")
    now[0] += 0.2
    pulled(2)
    now[0] += 0.2
    assert lane._first() is None
    now[0] += 0.06
    assert lane._first() == "pulled"
    assert lane._waiting.pop("pulled").request == SolidRequest(2, "looked at", "loft-1", "0" * 32)
    # a hand that never rests
    begun = now[0]
    pulled(3)
    while lane._first() is None:
        now[0] += 0.1
        pulled(4)
    assert now[0] - begun == pytest.approx(lanes.LONGEST_REST, abs=0.11)
    # what needs no rest takes the place of what does
    lane._waiting.clear()
    pulled(5)
    lane.submit("pulled", SolidRequest(6, "looked at", "loft-1", "0" * 32), 5.0)
    assert lane._first() == "pulled"
    # only what still rests is dropped
    lane.drop("pulled")
    assert lane._first() == "pulled"
    lane._waiting.clear()
    pulled(7)
    lane.drop("pulled")
    assert not lane._waiting


def test_an_empty_lane_has_nothing_to_do(lane: Lane) -> None:
    assert lane._first() is None
