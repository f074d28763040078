"""Walls: closed forms, and everywhere as thick as was asked for, measured by a search that knows nothing of how they were made."""

from __future__ import annotations

from math import cos, pi, sin, tan

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import KDTree

from tests.closeness import assert_close
from tests.core.placed import at, tip
from wander.core.drawing.outlines import shapes
from wander.core.geometry.frame import Frame
from wander.core.geometry.law import linear
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Between, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.offset_skin import EndsInPoint, NotATube, TooTight, WallsMeet
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.self_crossing import self_crossing
from wander.core.shaping.shell import Shell
from wander.core.shaping.walled import walled
from wander.core.solids.assemble import assemble


def made(*sections, **more) -> Shell:
    return loft(list(sections), [f"section-{i}" for i in range(len(sections))], name="loft-9", **more).shell


def wall(skin: Shell, inwards: float, outwards: float = 0.0, opened: int = 1, **own: float) -> Shell:
    """opened: how many ends are left open, the last one first. own: thickness inwards of faces whose names hold the word."""
    names = skin.names
    open_ = [cap.name for cap in skin.caps][2 - opened :]
    thick = {name: next((size for word, size in own.items() if word in name), inwards) for name in names}
    return walled(skin, thick, dict.fromkeys(names, outwards), open_, "wall-3")[0]


def volume(skin: Shell) -> float:
    return mass_properties(skin).volume


ROD = made(at(0.0, shapes.circle(20.0)), at(30.0, shapes.circle(20.0)))
BOX = made(at(0.0, shapes.rectangle(20.0, 20.0)), at(20.0, shapes.rectangle(20.0, 20.0)))
CLOSED_FORMS = {
    "pipe": (wall(ROD, 1.0, opened=2), pi * (100 - 81) * 30),
    "cup": (wall(ROD, 1.0), pi * 100 * 30 - pi * 81 * 29),
    "all round": (wall(ROD, 1.0, opened=0), pi * 100 * 30 - pi * 81 * 28),
    "outside of it": (wall(ROD, 0.0, 1.0), pi * 121 * 31 - pi * 100 * 30),
    "half and half": (wall(ROD, 0.5, 0.5), pi * 10.5**2 * 30.5 - pi * 9.5**2 * 29.5),
    "box": (wall(BOX, 2.0), 8000 - 16 * 16 * 18),
    "box, outside": (wall(BOX, 0.0, 2.0), 24 * 24 * 22 - 8000),
    "one side thicker": (wall(BOX, 1.0, right=3.0), 8000 - 16 * 18 * 19),
    "a thicker floor": (wall(BOX, 1.0, **{"end:section-0": 4.0}), 8000 - 18 * 18 * 16),
}


@pytest.mark.parametrize("name", list(CLOSED_FORMS))
def test_closed_forms(name: str) -> None:
    found, expected = CLOSED_FORMS[name]
    assert_close(volume(found), expected, within=1e-6 * expected)
    assert_close(assemble(found).volume, expected, within=2e-5 * expected)


def test_a_cone() -> None:
    """The inside of a cone is the same cone further in, by the thickness over the cosine of its slope."""
    skin = made(at(0.0, shapes.circle(40.0)), at(30.0, shapes.circle(20.0)), between=Between.STRAIGHT)
    slope = np.arctan2(10.0, 30.0)
    low, high = (r - 1.5 / cos(slope) for r in (20.0 - 1.5 * tan(slope), 10.0))
    hollow = pi * 28.5 * (low * low + low * high + high * high) / 3
    expected = pi * 30 * (400 + 200 + 100) / 3 - hollow
    assert_close(volume(wall(skin, 1.5)), expected, within=1e-6 * expected)


def leaning(height: float, loop, degrees: float) -> PlacedSection:
    turn = np.radians(degrees)
    return PlacedSection(Frame(np.array([0.0, 0.0, height]), np.array([cos(turn), 0.0, sin(turn)]), np.array([0.0, 1.0, 0.0])), loop)


def rounded(side: float, radius: float):
    return shapes.rounded_rectangle(side, side, radius)


def twisted(outline, *heights: float):
    return made(*(at(h, outline) for h in heights), laws=Laws(twist=linear(0.0, 0.8)))


BODIES: dict[str, Shell] = {
    "bottle": made(
        at(0, shapes.circle(70)), at(60, shapes.circle(76)), at(130, shapes.circle(60)), at(165, shapes.circle(30)), at(200, shapes.circle(28))
    ),
    "turning square": twisted(rounded(60.0, 14.0), 0.0, 60.0, 140.0, 200.0),
    "duct": made(at(0, shapes.ellipse(80.0, 40.0)), at(100, shapes.ellipse(64.0, 48.0)), at(200, shapes.circle(50.0))),
    "blunt blade": made(*(at(z, shapes.foil(chord, 0.2, 0.02, 0.4)) for z, chord in ((0.0, 90.0), (100.0, 80.0), (200.0, 60.0)))),
    "square to round": made(at(0, shapes.rectangle(60.0, 60.0)), at(200, shapes.circle(50.0))),
    "slot": made(at(0, shapes.slot(60.0, 30.0)), at(80, shapes.slot(50.0, 26.0))),
    "leaning ends": made(leaning(0, rounded(40.0, 10.0), 14), leaning(90, shapes.circle(36.0), -11)),
    "hexagon": made(at(0, shapes.polygon(6, 50.0)), at(80, shapes.polygon(6, 34.0)), between=Between.STRAIGHT),
}


def nearest(skin: Shell, first: int, count: int, places: np.ndarray) -> np.ndarray:
    """Distances to faces by brute force: a fine net of each, and steps by halving from its nearest knot."""
    best = np.full(len(places), np.inf)
    for face in skin.faces[first : first + count]:
        s = face.surface
        (u0, u1), (v0, v1) = s.u.domain, s.v.domain
        u, v = np.linspace(u0, u1, 181), np.linspace(v0, v1, 181)
        at_ = KDTree(s.grid(u, v).reshape(-1, 3)).query(places)[1]
        a, b = u[at_ // 181], v[at_ % 181]
        found = np.linalg.norm(s.at(a, b, [(0, 0)])[0] - places, axis=1)
        step_u, step_v = np.full(len(a), (u1 - u0) / 180), np.full(len(a), (v1 - v0) / 180)
        for _ in range(60):
            moved = False
            for du, dv in ((1, 0), (-1, 0), (0, 1), (0, -1)):
                tried_u, tried_v = np.clip(a + du * step_u, u0, u1), np.clip(b + dv * step_v, v0, v1)
                off = np.linalg.norm(s.at(tried_u, tried_v, [(0, 0)])[0] - places, axis=1)
                better = off < found
                a, b, found = np.where(better, tried_u, a), np.where(better, tried_v, b), np.where(better, off, found)
                moved |= bool(better.any())
            if not moved:
                step_u, step_v = step_u / 2, step_v / 2
        best = np.minimum(best, found)
    return best


@pytest.mark.parametrize("name", list(BODIES))
def test_it_is_even_at_two_thousand_places_and_one_solid(name: str) -> None:
    skin, thickness = BODIES[name], 1.2
    found = wall(skin, thickness)
    count = len(skin.faces)
    across = int(np.ceil(np.sqrt(2000 / count)))
    shares = (np.arange(across) + 0.5) / across
    inner = [face.surface for face in found.faces[count:]]
    places = np.concatenate([s.grid(*(d[0] + (d[1] - d[0]) * shares for d in (s.u.domain, s.v.domain))).reshape(-1, 3) for s in inner])
    off = nearest(found, 0, count, places)
    assert len(places) >= 2000
    assert off.min() > 0.99 * thickness
    assert off.max() < 1.01 * thickness
    solid = assemble(found)
    # the kernel's own count of what is thin is not nearer than this
    assert_close(solid.volume, volume(found), within=2e-5 * volume(found))
    assert self_crossing(found) is None
    assert 0 < volume(found) < volume(skin)


def test_faces_are_called_by_the_ones_behind_them() -> None:
    names = wall(BOX, 1.0).names
    for side in ("right", "top", "left", "bottom"):
        assert f"wall-3/inside(loft-9/0.{side}+1.{side})" in names
    assert "wall-3/inside(loft-9/end:section-0)" in names
    assert "loft-9/end:section-1" in names


def test_what_is_too_thick_is_told_with_its_place_and_what_goes() -> None:
    neck = made(at(0, shapes.circle(60.0)), at(40, shapes.circle(8.0)), at(80, shapes.circle(60.0)))
    with pytest.raises(TooTight) as told:
        wall(neck, 5.0)
    assert_close(told.value.place[2], 40.0, within=6.0)
    assert_close(told.value.fits, 4.0, within=0.2)
    assert volume(wall(neck, 0.9 * told.value.fits)) > 0


@pytest.mark.parametrize(("thickness", "opened"), [(10.5, 2), (11.0, 0), (25.0, 1)])
def test_walls_that_meet_are_told(thickness: float, opened: int) -> None:
    with pytest.raises(WallsMeet):
        wall(BOX, thickness, opened=opened)
    flat = made(at(0.0, shapes.rectangle(40.0, 40.0)), at(5.0, shapes.rectangle(40.0, 40.0)))
    with pytest.raises(WallsMeet):
        wall(flat, 2.6, opened=0)
    assert_close(volume(wall(flat, 2.4, opened=0)), 8000 - 35.2**2 * 0.2, within=1e-6 * 8000)


def test_what_is_no_tube_is_refused() -> None:
    with pytest.raises(EndsInPoint):
        wall(made(at(0, shapes.circle(30.0)), tip(40.0)), 1.0)
    with pytest.raises(NotATube):
        walled(BOX, dict.fromkeys(BOX.names, 1.0), dict.fromkeys(BOX.names, 0.0), [BOX.faces[0].name], "wall-3")


@given(st.floats(-pi, pi), st.floats(0.2, 5.0), st.booleans())
def test_moved_turned_mirrored_and_scaled_it_is_the_same(turn: float, size: float, mirrored: bool) -> None:
    matrix = np.array([[cos(turn), -sin(turn), 0.0], [sin(turn), cos(turn), 0.0], [0.0, 0.0, 1.0]])
    if mirrored:
        matrix = matrix @ np.diag([1.0, -1.0, 1.0])
    skin = BODIES["square to round"]
    moved = skin.moved(matrix, np.array([3.0, -2.0, 7.0]))
    assert_close(volume(wall(moved, 1.0)), volume(wall(skin, 1.0)), within=1e-6 * volume(skin))
    cup = made(at(0.0, shapes.circle(20.0 * size)), at(30.0 * size, shapes.circle(14.0 * size)))
    same = made(at(0.0, shapes.circle(20.0)), at(30.0, shapes.circle(14.0)))
    assert_close(volume(wall(cup, size)) / size**3, volume(wall(same, 1.0)), within=1e-4 * volume(same))
