"""Tubes as steps: closed forms, many rails at once, and every finding with its repair."""

from __future__ import annotations

from math import cos, pi, tan
from typing import Any

import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, set_param
from tests.core.steps.test_sweep_step import HELIX, U, line, measured, the
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document


def tubes(*paths: dict[str, Any], **params: Any) -> Document:
    steps: list[dict[str, Any]] = [
        {"id": "station-1", "kind": "station", "name": "Place", "params": {"plane": "top"}},
        {"id": "section-2", "kind": "section", "name": "Profile", "params": {"station": {"step": "station-1"}, "shape": circle(6.0)}},
    ]
    for i, path in enumerate(paths, start=3):
        steps.append({"id": f"rail-{i}", "kind": "rail", "name": f"Way {i}", "params": {"station": {"step": "station-1"}, "shape": path}})
    along = [{"step": step["id"]} for step in steps[2:]]
    steps.append({"id": "tube-90", "kind": "tube", "name": "Frame", "params": {"paths": along, **params}})
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 99})


def volume(document: Document) -> float:
    return float(measured(document, "tube-90").volume)


def test_a_rod_and_a_pipe_round_a_circle() -> None:
    rod = tubes(HELIX, diameter=12.0)
    assert_close(volume(rod), 2 * pi**2 * 40 * 36, within=1e-6, relative=True)
    assert_close(volume(apply_edits(rod, [set_param("tube-90", "wall", to=2.0)])), 2 * pi**2 * 40 * (36 - 16), within=1e-6, relative=True)


def test_many_rails_at_once_are_pieces_of_one_body() -> None:
    ways = [line((0, 20 * k, 0), (80, 20 * k, 10 * k)) for k in range(12)]
    document = tubes(*ways, diameter=8.0)
    lengths = [(80**2 + (10 * k) ** 2) ** 0.5 for k in range(12)]
    assert_close(volume(document), 16 * pi * sum(lengths), within=1e-9, relative=True)
    body = built(document)["tube-90"].result
    assert body.measures.pieces == 12
    names = [face.name for face in body.faces]
    assert len(set(names)) == len(names)
    assert_close(volume(apply_edits(document, [set_param("tube-90", "diameter", to=4.0)])), 4 * pi * sum(lengths), within=1e-9, relative=True)


def test_a_rail_that_comes_and_goes_renames_none_of_the_others() -> None:
    first, second = line((0, 0, 0), (50, 0, 0)), line((0, 30, 0), (50, 30, 0))
    both = built(tubes(first, second))["tube-90"].result
    one = built(tubes(first))["tube-90"].result
    assert {face.name for face in one.faces} < {face.name for face in both.faces}


def test_with_a_profile_of_its_own_and_a_taper() -> None:
    document = tubes(line((0, 0, 0), (0, 0, 60)), profile={"step": "section-2"}, taper=0.5)
    assert_close(volume(document), 9 * pi * 60 * (1 + 0.5 + 0.25) / 3, within=1e-6, relative=True)
    mitred = tubes(U, profile={"step": "section-2"}, corners="mitred")
    assert_close(volume(mitred), 9 * pi * 170, within=1e-6, relative=True)
    rounded = tubes(U, diameter=6.0, radius=12.0)
    assert_close(volume(rounded), 9 * pi * (170 - 4 * 12 + 12 * pi), within=1e-6, relative=True)


@pytest.mark.parametrize("number", [0, 1])
def test_a_tube_too_tight_for_its_bend_is_mended(number: int) -> None:
    document = tubes(U, diameter=30.0, radius=8.0)
    finding = the("path-too-tight", document)
    assert "15 mm" in finding.detail
    after = apply_edits(document, finding.fixes[number].edits)
    assert "path-too-tight" not in {f.code for f in findings(after)}
    assert volume(after) > 0


@pytest.mark.parametrize(("outline", "sides"), [("square", 4), ("hexagon", 6), ("octagon", 8)])
def test_an_angular_one_is_turned_about_its_way(outline: str, sides: int) -> None:
    """On a flat it is as high as thick, on a corner higher: turned by half a side it goes from one to the other, by a whole one it is back."""
    along = tubes(line((0, 0, 0), (60, 0, 0)), outline=outline, diameter=8.0)
    area = sides * 16 * tan(pi / sides)

    def height(document: Document) -> float:
        told = measured(document, "tube-90")
        return float(told.high[2] - told.low[2])

    corner = apply_edits(along, [set_param("tube-90", "turn", to=180.0 / sides)])
    whole = apply_edits(along, [set_param("tube-90", "turn", to=360.0 / sides)])
    assert_close(sorted([height(along), height(corner)]), [8, 8 / cos(pi / sides)], within=1e-9)
    assert_close(height(whole), height(along), within=1e-9)
    assert_close([volume(along), volume(corner), volume(whole)], [60 * area] * 3, within=1e-9, relative=True)
    # round a ring it closes, however it stands
    ring = tubes(HELIX, outline=outline, diameter=8.0)
    for turn in (0.0, 17.0, -100.0):
        assert_close(volume(apply_edits(ring, [set_param("tube-90", "turn", to=turn)])), 2 * pi * 40 * area, within=1e-6, relative=True)


def test_walls_that_leave_no_hole() -> None:
    document = tubes(line((0, 0, 0), (0, 0, 60)), diameter=10.0, wall=5.0)
    for fix in the("wall-too-thick", document).fixes:
        assert volume(apply_edits(document, fix.edits)) > 0


def test_corners_that_stand_too_close() -> None:
    document = tubes(line((0, 0, 0), (60, 0, 0), (60, 12, 0), (120, 12, 0), sharp=True), diameter=4.0, radius=10.0)
    after = apply_edits(document, the("corner-crowded", document).fixes[0].edits)
    assert volume(after) > 0


def test_round_a_closed_rail_nothing_is_scaled() -> None:
    document = tubes(HELIX, taper=0.5)
    after = apply_edits(document, the("sweep-not-closed", document).fixes[0].edits)
    assert_close(volume(after), 2 * pi**2 * 40 * 25, within=1e-6, relative=True)


def test_a_tube_along_nothing_says_what_to_pick() -> None:
    finding = the("nothing-picked", tubes())
    assert finding.path == ["paths"]
    assert "rails" in finding.detail


def test_corners_that_nobody_meant_are_told_of_each_rail() -> None:
    slight = line((0, 0, 0), (50, 0, 0), (100, 0.02, 0), sharp=True)
    told = [f for f in findings(tubes(slight, U, diameter=4.0, corners="mitred")) if f.code == "corners-merged"]
    assert [(f.where.names, f.path) for f in told] == [(["rail-3"], ["paths"])]


def test_a_square_profile_turned_on_its_way() -> None:
    """By an eighth turn: it holds what it held, and ends on its corner; along several rails each is turned."""
    ways = [line((0, 30 * k, 0), (0, 30 * k, 60)) for k in range(2)]
    document = tubes(*ways, profile={"step": "section-2"}, twist=45.0)
    square = {"type": "rectangle", "width": 6.0, "depth": 6.0}
    document = apply_edits(document, [set_param("section-2", "shape", to=square)])
    assert_close(volume(document), 2 * 36 * 60, within=1e-4, relative=True)
    body = built(document)["tube-90"].result
    assert_close((body.measures.low[0], body.measures.high[0]), (-(18**0.5), 18**0.5), within=1e-3)
    straight = apply_edits(document, [set_param("tube-90", "twist", to=0.0)])
    assert_close(built(straight)["tube-90"].result.measures.high[0], 3.0, within=1e-9)


@pytest.mark.parametrize(("outline", "sides"), [("square", 4), ("hexagon", 6), ("octagon", 8)])
def test_angular_tubes(outline: str, sides: int) -> None:
    """From flat to flat it has the diameter, with a wall as thick everywhere."""
    document = tubes(line((0, 0, 0), (0, 0, 60)), diameter=12.0, outline=outline)
    across = sides * tan(pi / sides)
    assert_close(volume(document), across * 36 * 60, within=1e-9, relative=True)
    hollow = apply_edits(document, [set_param("tube-90", "wall", to=2.0)])
    assert_close(volume(hollow), across * (36 - 16) * 60, within=1e-9, relative=True)
    assert findings(apply_edits(document, [set_param("tube-90", "wall", to=6.0)]))


def test_round_a_ring_what_is_turned_or_scaled_does_not_close() -> None:
    """Each has the repair that takes it back, both together too."""
    for changes, words in (({"twist": 30.0}, "turn"), ({"taper": 0.5}, "scale"), ({"twist": 30.0, "taper": 0.5}, "scale or turn")):
        document = tubes(HELIX, diameter=12.0, outline="hexagon", **changes)
        told = the("sweep-not-closed", document)
        (fix,) = told.fixes
        assert fix.label == f"Don't {words} it"
        mended = apply_edits(document, fix.edits)
        assert not findings(mended)
