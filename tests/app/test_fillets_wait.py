"""A hollow body with rounded edges that is pulled about: it has its new shape at once, its edges are left for the kernel, and its numbers follow."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from tests.app.server import wait_until
from tests.as_shaped import SAMPLES
from tests.closeness import assert_close
from wander.app.engine.engine import Engine
from wander.app.engine.live import BuildDone, LiveEvent, StepShaped, StepUpdate
from wander.app.engine.open_design import Moment
from wander.app.settings import Settings
from wander.core.bodies.body import Body, mesh_of
from wander.core.design.apply import apply_edits
from wander.core.design.memory import Memory
from wander.core.design.reading import read_document, write_document
from wander.core.design.rebuild import Ways, rebuild
from wander.core.design.standing import seen_as
from wander.core.document.document import Document
from wander.core.document.edits import SetParam
from wander.core.geometry.tolerances import DEFAULT
from wander.core.results.summaries import BodySummary

MOVES = 8


def flask() -> Document:
    """Shaped, hollowed, its edges rounded, with a lip beside it that stays as it is."""
    return read_document((SAMPLES / "tarn.json").read_bytes())


def pulled(document: Document, number: int) -> Document:
    return apply_edits(document, [SetParam(do="set-param", step="station-7", path=["offset"], value=132 + number / 3)])


def test_it_has_its_shape_before_its_numbers_and_those_in_the_end(tmp_path: Path) -> None:
    document, told = flask(), list[LiveEvent]()
    engine = Engine(Settings(data=tmp_path), lambda design, event: told.append(event))

    def shapes(number: int) -> list[StepShaped]:
        return [event for event in list(told) if isinstance(event, StepShaped) and event.preview == number]

    try:
        engine.build("d", document, Moment(1), write_document(document))
        wait_until(lambda: any(isinstance(event, BuildDone) for event in list(told)))
        for number in range(1, MOVES + 1):
            moved = pulled(document, number)
            engine.preview("d", moved, Moment(1), number, write_document(moved))
            wait_until(lambda n=number: bool(shapes(n)))  # type: ignore[misc]
        wait_until(lambda: any(isinstance(event, BuildDone) and event.preview == MOVES for event in list(told)))
    finally:
        engine.close()
    # what is pulled about is told as what stands there in the end, once, and nothing that is used up
    assert [event.step for event in shapes(MOVES)] == ["fillet-15"]
    steps = {event.step.id: event.step for event in told if isinstance(event, StepUpdate) and event.preview == MOVES}
    assert steps["fillet-15"].mesh == shapes(MOVES)[0].mesh
    assert steps["fillet-15"].rough
    fresh = {built.step: built for built in rebuild(pulled(document, MOVES), Memory(), Ways(lasting=False))}
    for step in ("wall-14", "fillet-15"):
        shown, expected = steps[step].summary, fresh[step].summary
        assert isinstance(shown, BodySummary)
        assert isinstance(expected, BodySummary)
        assert_close(shown.volume, expected.volume, within=1e-9 * expected.volume)


def test_what_waits_is_seen_as_what_it_will_change() -> None:
    document, memory = flask(), Memory()
    assert seen_as(document, memory) == {"wall-14": "fillet-15"}
    raw = document.model_dump(mode="json")
    last = next(i for i, step in enumerate(raw["steps"]) if step["id"] == "fillet-15")
    cut = {"id": "chamfer-40", "kind": "chamfer", "name": "Cut off", "params": {"body": {"step": "fillet-15"}, "sets": [{"distance": 1.0}]}}
    both = Document.model_validate({**raw, "steps": [*raw["steps"][: last + 1], cut], "next": 50})
    assert seen_as(both, memory) == {"wall-14": "chamfer-40", "fillet-15": "chamfer-40"}
    raw["steps"][last]["skip"] = True
    assert seen_as(Document.model_validate(raw), memory) == {}


def test_the_coarse_mesh_that_is_cut_and_joined_keeps_within_its_tolerance() -> None:
    """No more triangles than that takes: against the wall's own surfaces, by its volume and by where its corners lie."""
    built = {each.step: each for each in rebuild(flask(), Memory(), Ways(lasting=False))}
    wall, seen = built["wall-14"].result, built["fillet-15"].result
    assert isinstance(wall, Body)
    assert isinstance(seen, Body)
    assert seen.rough is not None
    tolerance = max(DEFAULT.display, DEFAULT.moving * wall.size)
    assert len(seen.rough.mesh.triangles) < len(mesh_of(wall, tolerance).triangles) / 2
    # a thin wall: what it is off by is its surface times the chord at most
    assert abs(seen.measures.volume - wall.measures.volume) < wall.measures.area * tolerance
    assert_close(seen.measures.low, wall.measures.low, within=tolerance)
    assert_close(seen.measures.high, wall.measures.high, within=tolerance)
    assert np.isfinite(seen.rough.mesh.normals).all()
