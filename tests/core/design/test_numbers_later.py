"""What is made of a body is there before the numbers of that body, which are those that they would have been at once."""

from __future__ import annotations

from typing import Any

import pytest

from tests.as_shaped import SAMPLES
from wander.core.design.memory import Memory
from wander.core.design.reading import read_document
from wander.core.design.rebuild import State, StepBuilt, Ways, rebuild
from wander.core.document.document import Document
from wander.core.steps.loft import build as loft_build


@pytest.fixture(params=["bailer", "tarn"])
def document(request: pytest.FixtureRequest) -> Document:
    return read_document((SAMPLES / f"{request.param}.json").read_bytes())


def waiting(document: Document, memory: Memory) -> list[StepBuilt]:
    return list(rebuild(document, memory, Ways(lasting=False, numbers_wait=lambda step: True)))


def as_told(built: StepBuilt) -> tuple[Any, ...]:
    summary = None if built.summary is None else built.summary.model_dump()
    return built.step, built.state, built.key, summary, [finding.model_dump() for finding in built.findings], built.uses, built.changes, built.rough


def test_numbers_that_come_later_are_those_that_come_at_once(document: Document) -> None:
    at_once = [as_told(built) for built in rebuild(document, Memory(), Ways(lasting=False))]
    bare = waiting(document, Memory())
    late = [built.step for built in bare if built.later is not None]
    assert {"loft", "wall"} <= {step.kind for step in document.steps if step.id in late}
    assert all(built.summary is None and built.usable for built in bare if built.step in late)
    assert [as_told(built.complete()) for built in bare] == at_once
    # and in any other order
    assert [as_told(built.complete()) for built in reversed(waiting(document, Memory()))] == at_once[::-1]


def test_what_has_no_numbers_yet_is_not_kept(document: Document) -> None:
    memory = Memory()
    late = [built for built in waiting(document, memory) if built.later is not None]
    assert [memory.get(built.key) for built in late] == [None] * len(late)
    complete = [built.complete() for built in late]
    for built in complete:
        kept = memory.get(built.key)
        assert kept is not None
        assert kept.summary == built.summary
    # and is then taken from there
    assert not [built for built in waiting(document, memory) if built.later is not None or built.ms]


def test_numbers_that_fail_are_told_as_a_step_that_fails(document: Document, monkeypatch: pytest.MonkeyPatch) -> None:
    def fails(*_: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr(loft_build, "loft_summary", fails)
    memory = Memory()
    loft = next(built for built in waiting(document, memory) if built.step.startswith("loft"))
    assert loft.state is State.READY
    told = loft.complete()
    assert told.state is State.FAILED
    assert [finding.code for finding in told.findings] == ["unforeseen"]
    assert memory.get(loft.key) is None
