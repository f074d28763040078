"""Parameters are read once for the same content, anew when a dimension they use changes, and numbers are found wherever they stand."""

from __future__ import annotations

from math import radians
from typing import Any

import pytest
from pydantic import ValidationError

from tests.closeness import assert_close
from wander.core.design.step_reading import StepReadings
from wander.core.document.document import Step
from wander.core.document.expressions import Dimension, Kind, Scope
from wander.core.steps import REGISTRY
from wander.core.steps.quantities import with_expressions_changed

WIDE = {"station": {"step": "station-1"}, "shape": {"type": "circle", "diameter": "wide * 2"}, "turn": "30 deg"}


def scope(wide: float) -> Scope:
    return Scope({"wide": Dimension(wide, Kind.LENGTH)})


def section(params: dict[str, Any], name: str = "Rib") -> Step:
    return Step(id="section-2", kind="section", name=name, params=params)


def test_the_same_content_is_read_once_and_a_changed_dimension_reads_it_anew() -> None:
    readings, kind = StepReadings(), REGISTRY.get("section")
    assert kind is not None
    first = readings.read(section(WIDE), kind, scope(10.0), b"wide 10")
    assert readings.read(section(dict(WIDE)), kind, scope(10.0), b"wide 10") is first
    other = readings.read(section(WIDE), kind, scope(11.0), b"wide 11")
    assert other is not first
    assert_close(other.params.shape.diameter, 22.0, within=1e-12)
    assert other.digest != first.digest


def test_a_step_without_expressions_does_not_care_about_dimensions() -> None:
    readings, kind = StepReadings(), REGISTRY.get("section")
    assert kind is not None
    plain = section({"station": {"step": "station-1"}, "shape": {"type": "circle", "diameter": 20.0}})
    assert readings.read(plain, kind, scope(10.0), b"a") is readings.read(plain, kind, scope(99.0), b"b")


def test_values_come_in_the_units_of_the_screen() -> None:
    kind = REGISTRY.get("section")
    assert kind is not None
    found = StepReadings().read(section(WIDE), kind, scope(10.0), b"")
    assert_close([found.values["shape.diameter"], found.values["turn"]], [20.0, 30.0], within=1e-9)
    assert_close(found.params.turn, radians(30), within=1e-12)
    assert [(path, ref.step) for path, ref in found.refs] == [(("station",), "station-1")]


def test_what_can_not_be_read_is_not_remembered() -> None:
    readings, kind = StepReadings(), REGISTRY.get("section")
    assert kind is not None
    for _ in range(2):
        with pytest.raises(ValidationError):
            readings.read(section({**WIDE, "turn": "3 mm"}), kind, scope(10.0), b"")


@pytest.mark.parametrize(
    ("kind", "params", "expected"),
    [
        ("section", WIDE, {"shape.diameter": "length", "turn": "angle"}),
        ("section", {"shape": {"type": "polygon", "sides": "n", "across": 3.0}}, {"shape.sides": "count"}),
        (
            "section",
            {"shape": {"type": "spline", "points": [[1, "a"], ["b", 2]]}},
            {"shape.points.0.1": "length", "shape.points.1.0": "length"},
        ),
        (
            "loft",
            {"twist": {"type": "points", "points": [{"at": "x", "value": "y"}]}},
            {"twist.points.0.at": "number", "twist.points.0.value": "angle"},
        ),
        (
            "loft",
            {"width": {"type": "linear", "start": "a", "end": 1.0}, "end": {"angle": "b"}},
            {"width.start": "number", "end.angle": "angle"},
        ),
        (
            "station",
            {"place": {"type": "path", "points": [[0, 0, "z"]], "share": "s"}},
            {"place.points.0.2": "length", "place.share": "number"},
        ),
    ],
)
def test_expressions_are_found_wherever_numbers_stand(kind: str, params: dict[str, Any], expected: dict[str, str]) -> None:
    found: dict[str, str] = {}

    def note(text: str, quantity: str, path: tuple[str | int, ...]) -> str:
        found[".".join(map(str, path))] = quantity
        return text.upper()

    registered = REGISTRY.get(kind)
    assert registered is not None
    changed = with_expressions_changed(params, registered.schema, note)
    assert found == expected
    assert changed != params
