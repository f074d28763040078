"""Linked copies that are scaled and turned about a place, or fitted between two rails: they follow, and are let go without anything moving."""

from __future__ import annotations

from math import cos, hypot, pi, radians, sin
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.errors import EditRefused
from wander.core.document.document import Document
from wander.core.document.edits import ReleaseCopy
from wander.core.results.summaries import SectionSummary

FOIL = {"type": "foil", "chord": 100.0, "thickness": 0.12}
RECTANGLE = {"type": "rectangle", "width": 40.0, "depth": 16.0}
RELEASE = ReleaseCopy(do="release-copy", step="section-7")


def line(*points: tuple[float, float, float]) -> dict[str, Any]:
    return {"shape": {"type": "spline", "points": [{"at": list(p), "sharp": True} for p in points]}}


def with_copy(original: dict[str, Any], *, shape: dict[str, Any] | None = None, rails: tuple[dict[str, Any], ...] = (), **params: Any) -> Document:
    """A section at the height 0 and a copy of it at 100, after rails 1 and 2."""
    steps = [
        {"id": "station-1", "kind": "station", "name": "Low", "params": {"plane": "top", "offset": 0.0}},
        {"id": "section-2", "kind": "section", "name": "Root", "params": {"station": {"step": "station-1"}, "shape": original}},
        *({"id": f"rail-{10 + i}", "kind": "rail", "name": f"Edge {i + 1}", "params": rail} for i, rail in enumerate(rails)),
        {"id": "station-6", "kind": "station", "name": "Further", "params": {"plane": "top", "offset": 100.0}},
    ]
    copied = {"type": "copied", "section": {"step": "section-2"}, **(shape or {})}
    if rails:
        copied["rails"] = [{"step": f"rail-{10 + i}"} for i in range(len(rails))]
    steps.append({"id": "section-7", "kind": "section", "name": "Tip", "params": {"station": {"step": "station-6"}, "shape": copied, **params}})
    dimensions = [{"name": "washout", "value": -10.0, "kind": "angle"}, {"name": "taper", "value": 0.6, "kind": "number"}]
    return Document.model_validate({"format": "wander-design/1", "name": "Copies", "dimensions": dimensions, "steps": steps, "next": 20})


def codes(document: Document) -> list[str]:
    return [finding.code for finding in findings(document)]


def outline(document: Document, step: str = "section-7") -> np.ndarray:
    placed = built(document)[step].result.placed
    return np.asarray(placed.frame.lift(placed.loop.curve(np.linspace(0, 1, 97))))


def summary(document: Document) -> SectionSummary:
    found = built(document)["section-7"].summary
    assert isinstance(found, SectionSummary)
    return found


def test_a_foil_at_six_tenths_turned_about_its_nose_by_expressions() -> None:
    nose = outline(with_copy(FOIL), "section-2")[:, 0].min()
    document = with_copy(FOIL, shape={"scale": "taper", "about": [float(nose), 0.0]}, turn="washout")
    root, tip = outline(document, "section-2")[:, :2] - [nose, 0.0], outline(document)[:, :2] - [nose, 0.0]
    c, s = cos(radians(-10)), sin(radians(-10))
    assert_close(tip, 0.6 * root @ np.array([[c, s], [-s, c]]), within=1e-9)
    assert_close(summary(document).area, 0.36 * built(document)["section-2"].summary.area, within=1e-6)  # type: ignore[union-attr]
    longer = apply_edits(document, [set_param("section-2", "shape", "chord", to=150.0)])
    assert_close(summary(longer).girth / summary(document).girth, 1.5, within=1e-6)


@given(first=st.tuples(st.floats(-60, -20), st.floats(-30, 30)), second=st.tuples(st.floats(20, 60), st.floats(-30, 30)), lean=st.floats(-40, 40))
def test_between_two_rails_its_ends_lie_on_them(first: tuple[float, float], second: tuple[float, float], lean: float) -> None:
    rails = tuple(line((x - lean, y, 0.0), (x + lean, y, 200.0)) for x, y in (first, second))
    document = with_copy(RECTANGLE, rails=rails)
    chord = hypot(second[0] - first[0], second[1] - first[1])
    fitted = summary(document).fitted
    assert fitted is not None
    # the middles of its short sides are its ends
    assert_close(fitted.scale, chord / 40, within=1e-9)
    assert_close(summary(document).area, 40 * 16 * (chord / 40) ** 2, within=1e-6 * chord**2)
    along = np.array([second[0] - first[0], second[1] - first[1]]) / chord
    across = np.array([-along[1], along[0]])
    corners = [np.array(first) + side * 8 * chord / 40 * across for side in (-1, 1)]
    found = outline(document)[:, :2]
    for corner in corners:
        assert np.linalg.norm(found - corner, axis=1).min() < chord / 20


def test_a_foil_between_curved_rails_follows_them() -> None:
    nose = {"shape": {"type": "spline", "points": [{"at": [-50.0, 0.0, 0.0]}, {"at": [-35.0, 4.0, 90.0]}, {"at": [0.0, 9.0, 160.0]}]}}
    tail = line((50.0, 0.0, 0.0), (30.0, -6.0, 200.0))
    document = with_copy(FOIL, rails=(nose, tail))
    for moved in (document, apply_edits(document, [set_param("station-6", "offset", to=140.0)])):
        steps = built(moved)
        height = steps["station-6"].result.origin[2]
        fitted = summary(moved).fitted
        assert fitted is not None
        c, s = fitted.scale * cos(radians(fitted.turn)), fitted.scale * sin(radians(fitted.turn))
        for rail, end in (("rail-10", -25.0), ("rail-11", 75.0)):  # a foil has its quarter at the middle of the sheet
            way = steps[rail].result.curve(np.linspace(0, 1, 200001))
            place = way[np.abs(way[:, 2] - height).argmin()][:2]
            assert_close(np.array(fitted.at) + end * np.array([c, s]), place, within=1e-3)


@pytest.mark.parametrize(
    ("rails", "code"),
    [
        ((line((-20.0, 0.0, 0.0), (-20.0, 0.0, 200.0)),), "one-rail"),
        ((line((-20.0, 0.0, 0.0), (-20.0, 0.0, 200.0)), line((20.0, 0.0, 0.0), (20.0, 0.0, 90.0))), "rail-beside"),
        ((line((-20.0, 0.0, 0.0), (0.0, 0.0, 100.0)), line((20.0, 0.0, 0.0), (0.0, 0.0, 100.0))), "rails-meet"),
    ],
)
def test_what_rails_can_not_hold_is_said_and_repaired(rails: tuple[dict[str, Any], ...], code: str) -> None:
    document = with_copy(RECTANGLE, rails=rails)
    found = [finding for finding in built(document)["section-7"].findings if finding.code == code]
    assert len(found) == 1
    for fix in found[0].fixes:
        assert code not in codes(apply_edits(document, fix.edits))
        assert built(apply_edits(document, fix.edits))["section-7"].summary is not None


def test_a_rail_that_ends_on_the_plane_reaches_it() -> None:
    rails = line((-20.0, 0.0, 0.0), (-30.0, 0.0, 100.0)), line((20.0, 0.0, 100.0), (20.0, 0.0, 300.0))
    fitted = summary(with_copy(RECTANGLE, rails=rails)).fitted
    assert fitted is not None
    assert_close(fitted.scale, 50 / 40, within=1e-9)


DRAWN = {
    "type": "drawing",
    "points": {"p1": [0.0, 0.0], "p2": [30.0, 0.0], "p3": [0.0, 20.0]},
    "curves": [
        {"id": "c1", "type": "line", "start": "p1", "end": "p2"},
        {"id": "c2", "type": "line", "start": "p2", "end": "p3"},
        {"id": "c3", "type": "line", "start": "p3", "end": "p1"},
    ],
    "holds": [{"id": "h1", "type": "length", "of": ["c1"], "value": 30.0}],
    "next": 10,
}


@pytest.mark.parametrize("original", [FOIL, RECTANGLE, circle(30), DRAWN, {"type": "slot", "length": 30.0, "width": 12.0}])
def test_a_scaled_copy_looks_the_same_when_released(original: dict[str, Any]) -> None:
    document = with_copy(original, shape={"scale": 0.75, "about": [10.0, 4.0]}, turn=25.0, at=[3.0, -2.0])
    document = apply_edits(document, [set_param("section-2", "at", to=[6.0, 1.0]), set_param("section-2", "turn", to=-15.0)])
    freed = apply_edits(document, [RELEASE])
    assert_close(summary(freed).area, summary(document).area, within=1e-4 * summary(document).area)
    before, after = (np.array(summary(d).outline) for d in (document, freed))
    assert max(np.linalg.norm(before - p, axis=1).min() for p in after) < 0.6  # the points lie elsewhere on the same outline
    assert_close([before.min(axis=0), before.max(axis=0)], [after.min(axis=0), after.max(axis=0)], within=0.02)


def test_what_is_fitted_between_rails_is_released_by_its_numbers() -> None:
    rails = line((-20.0, 0.0, 0.0), (-30.0, 5.0, 100.0), (-30.0, 5.0, 200.0)), line((20.0, 0.0, 0.0), (20.0, -5.0, 100.0), (20.0, -5.0, 200.0))
    document = with_copy(RECTANGLE, rails=rails)
    with pytest.raises(EditRefused, match="own numbers"):
        apply_edits(document, [RELEASE])
    fitted = summary(document).fitted
    assert fitted is not None
    numbers = [
        set_param("section-7", "shape", "scale", to=fitted.scale),
        set_param("section-7", "turn", to=fitted.turn),
        set_param("section-7", "at", to=list(fitted.at)),
        set_param("section-7", "shape", "about", to=[0.0, 0.0]),
        set_param("section-7", "shape", "rails", to=[]),
    ]
    freed = apply_edits(document, [*numbers, RELEASE])
    assert_close(summary(freed).area, summary(document).area, within=1e-6)
    assert_close(summary(freed).area, 40 * 16 * (hypot(50, 10) / 40) ** 2, within=1e-6)


def test_a_copy_is_not_scaled_to_nothing() -> None:
    found = findings(with_copy(RECTANGLE, shape={"scale": 0.0}))
    assert [finding.code for finding in found] == ["bad-value"]
    assert summary(with_copy(circle(30), shape={"scale": 2.0})).area == pytest.approx(pi * 30**2, rel=1e-6)
