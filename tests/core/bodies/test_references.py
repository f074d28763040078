"""A reference gives the thing of its name or says that it is lost: never another thing, whatever its hint says."""

from __future__ import annotations

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.bodies.test_combined import prism
from wander.core.bodies.body import Body, copied, moved
from wander.core.bodies.combining import How
from wander.core.bodies.references import Lost, edge_of, face_of, hint_at, middle_of, place_of
from wander.core.design.exact import EXACT
from wander.core.drawing.outlines import shapes
from wander.core.geometry.motions import turn_about


@pytest.fixture
def block() -> Body:
    return prism(shapes.rectangle(40, 20), 0, 10, "extrude-3")


def test_every_face_and_edge_is_found_by_its_own_name(block: Body) -> None:
    assert len({face.name for face in block.faces}) == 6
    assert len({edge.name for edge in block.edges}) == 12
    for face in block.faces:
        assert face_of(block, face.name, None) is face
        assert_close(place_of(block, face.name), middle_of(face), within=1e-12)
    for edge in block.edges:
        assert edge_of(block, edge.name, None) == edge


def test_a_wrong_hint_does_not_turn_a_name_into_another(block: Body) -> None:
    near, far = "extrude-3/near", "extrude-3/far"
    assert face_of(block, near, hint_at(block, place_of(block, far))).name == near


def test_what_is_lost_comes_with_the_nearest_by_distance(block: Body) -> None:
    top = place_of(block, "extrude-3/far")
    with pytest.raises(Lost) as lost:
        face_of(block, "extrude-9/far", hint_at(block, top + np.array([0.0, 0.0, 1.0])))
    found = lost.value.candidates
    assert found[0].name == "extrude-3/far"
    assert_close(found[0].distance, 1.0, within=1e-4)
    assert [c.distance for c in found] == sorted(c.distance for c in found)
    brute = sorted(np.linalg.norm(place_of(block, face.name) - top - np.array([0, 0, 1.0])) for face in block.faces)
    assert_close([c.distance for c in found], brute[: len(found)], within=1e-4)


def test_a_hint_goes_with_its_body(block: Body) -> None:
    turn = turn_about(np.zeros(3), np.array([0.0, 0.0, 1.0]), np.pi / 2)
    place = place_of(block, "extrude-3/far")
    far = moved(block, np.eye(3), np.array([300.0, -20.0, 7.0]))
    assert hint_at(far, place + np.array([300.0, -20.0, 7.0])) == hint_at(block, place)
    turned = moved(block, turn.matrix, turn.origin)
    assert face_of(turned, "extrude-3/far", hint_at(block, place)).name == "extrude-3/far"


def test_a_copy_has_names_of_its_own(block: Body) -> None:
    copy = copied(block, "repeat-4.2")
    assert not {face.name for face in block.faces} & {face.name for face in copy.faces}
    with pytest.raises(Lost):
        face_of(copy, "extrude-3/near", hint_at(block, place_of(block, "extrude-3/near")))
    assert face_of(copy, "extrude-3/near@repeat-4.2", None).name == "extrude-3/near@repeat-4.2"


def test_parts_of_a_cut_face_are_told_apart_and_the_whole_is_not_a_part(block: Body) -> None:
    # a groove across it: its far face falls into two
    groove = prism(shapes.rectangle(6, 40), 5, 15, "extrude-4")
    cut = EXACT.combined(How.CUT, block, [groove])
    parts = sorted(face.name for face in cut.faces if face.name.startswith("extrude-3/far"))
    assert len(parts) == 2
    places = {name: place_of(cut, name) for name in parts}
    for name, at in places.items():
        assert face_of(cut, name, hint_at(cut, at)).name == name
    assert sorted(float(np.sign(at[0])) for at in places.values()) == [-1.0, 1.0], "one on each side of the groove"
    # the groove's own walls came from the tool, and keep its names
    assert any(face.name.startswith("extrude-4/") for face in cut.faces)


def test_a_face_that_a_cut_took_away_is_lost(block: Body) -> None:
    cut = EXACT.combined(How.CUT, block, [prism(shapes.rectangle(100, 100), 8, 20, "extrude-4")])
    with pytest.raises(Lost) as lost:
        face_of(cut, "extrude-3/far", hint_at(block, place_of(block, "extrude-3/far")))
    assert lost.value.candidates[0].name == "extrude-4/near"
