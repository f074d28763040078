"""Places of rails between the stations: in the planes that swing from one to the next, whatever is asked for in which order."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from tests.closeness import assert_close
from wander.core.drawing.outlines import shapes
from wander.core.geometry.curve import Curve, Together
from wander.core.geometry.frame import Frame
from wander.core.geometry.interpolate import open_through
from wander.core.shaping.around import Across, places_round
from wander.core.shaping.meeting import Guide
from wander.core.shaping.rail_planes import Followed, Planes
from wander.core.shaping.section import PlacedSection

HEIGHTS, LEANS = (0.0, 18.0, 50.0, 90.0), (0.0, 0.15, -0.2, 0.1)
STATIONS = np.array([0.0, 0.2, 0.55, 1.0])


def leaning(height: float, lean: float) -> PlacedSection:
    return PlacedSection(
        Frame(np.array([0.0, 0.0, height]), np.array([np.cos(lean), 0.0, np.sin(lean)]), np.array([0.0, 1.0, 0.0])), shapes.circle(40)
    )


SECTIONS = [leaning(height, lean) for height, lean in zip(HEIGHTS, LEANS, strict=True)]


def rail(number: int) -> Guide:
    """One that bows about, and where it passes the sections, sought in each plane by itself."""
    turn, z = 2.1 * number, np.linspace(-20.0, 110.0, 9)
    reach = 20 + 3 * np.sin(z / 17 + number)
    curve = open_through(np.column_stack([reach * np.cos(turn), reach * np.sin(turn), z]))
    at = [float(brentq(off_plane, 0.0, 1.0, args=(curve, section.center, section.frame.z), xtol=1e-15)) for section in SECTIONS]
    return Guide(number, curve, np.array(at), ())


def off_plane(t: float, curve: Curve, stands: np.ndarray, looks: np.ndarray) -> float:
    return float((curve(t) - stands) @ looks)


GUIDES = [rail(number) for number in range(3)]
PLACES = st.lists(st.one_of(st.floats(0.0, 1.0), st.sampled_from([*STATIONS, 0.3, 0.2 + 1e-13])), min_size=1, max_size=12)


@given(st.lists(PLACES, min_size=1, max_size=4))
def test_places_are_where_rails_pass_the_planes(asked: list[list[float]]) -> None:
    planes = Planes(STATIONS, SECTIONS)
    followed = Followed(GUIDES, planes, STATIONS)
    for places in asked:
        found = followed(np.array(places))
        for v, row in zip(places, found, strict=True):
            bay = min(int(np.searchsorted(STATIONS, v, side="right")) - 1, len(STATIONS) - 2)
            stands, looks = (part[0] for part in planes.at(np.array([v])))
            for guide, place in zip(GUIDES, row, strict=True):
                # a hair beyond, so that what stands at a station lies between
                low, high = guide.at[bay] - 1e-6, guide.at[bay + 1] + 1e-6
                sought = brentq(off_plane, low, high, args=(guide.curve, stands, looks), xtol=1e-15)
                # what is looked for a billionth of a bay beside a station is found on it
                assert_close(place, guide.curve(float(sought)), within=3e-8 if np.abs(STATIONS - v).min() < 1e-9 else 1e-9)


def test_a_place_is_looked_for_once(monkeypatch: pytest.MonkeyPatch) -> None:
    looked: list[float] = []
    passed = Planes.passed

    def counted(self, guides, rails, v, near):
        looked.extend(v.tolist())
        return passed(self, guides, rails, v, near)

    monkeypatch.setattr(Planes, "passed", counted)
    followed = Followed(GUIDES, Planes(STATIONS, SECTIONS), STATIONS)
    first, second = np.array([0.1, 0.3, 0.55, 0.8]), np.array([0.3, 0.05, 0.1, 1.0, 0.3])
    before = followed(first)
    assert np.array_equal(followed(second)[[2, 0]], before[[0, 1]])
    assert looked == [0.1, 0.3, 0.8, 0.05]


def test_a_place_at_the_seam_of_a_closed_side_is_found_in_a_few_steps(monkeypatch: pytest.MonkeyPatch) -> None:
    outlines = [section.in_space().curve for section in SECTIONS]
    side = Across(outlines[0].space, np.stack([outline.points for outline in outlines]), True, 1.0)
    asked: list[int] = []
    at = Together.at
    monkeypatch.setattr(Together, "at", lambda self, which, t, order=0: asked.append(order) or at(self, which, t, order))
    seam = np.stack([outline(0.0) for outline in outlines])
    # on either side of it, by what rounding does and by more
    for beside in (0.0, 3e-17, -3e-17, 1e-12, -1e-12, 1e-5, -1e-5):
        asked.clear()
        way = np.stack([outline.derivatives(0.0, 1)[1] for outline in outlines])
        found = places_round([side], (seam + beside * way)[:, None])
        assert_close(abs((found[0] + 0.5) % 1.0 - 0.5), abs(beside), within=1e-8)
        assert len(asked) <= 3 * 4 + 1
