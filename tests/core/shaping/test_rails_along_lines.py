"""Rails of a loft whose sections swing along a centre line, or round a ring: closed forms, and rails met wherever the line goes."""

from __future__ import annotations

from collections.abc import Callable
from math import pi

import numpy as np
import numpy.typing as npt
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from tests.closeness import assert_close
from tests.core.placed import at, moved
from tests.core.shaping.test_centre_line import ACROSS, HELIX, WAVE, along, elbow
from tests.core.shaping.test_guiding import assert_met, made
from tests.core.shaping.test_rings import RADIUS, circle_line, ring, round_about
from wander.core.drawing.outlines import shapes
from wander.core.geometry.approximate import approximated
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained, move_seam, reverse, split, transformed
from wander.core.geometry.frame import facing
from wander.core.geometry.interpolate import closed_through, open_through
from wander.core.geometry.least_turning import LeastTurning
from wander.core.geometry.space import SplineSpace
from wander.core.shaping.centre_line import centre_line
from wander.core.shaping.loft import Inside, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.meeting import Missed, TurnsBack
from wander.core.shaping.section import PlacedSection
from wander.core.solids.assemble import assemble
from wander.core.solids.measure import kernel_volume

Row = npt.NDArray[np.float64]
BIG = 100.0
ARC = smooth_arc((0.0, 0.0), BIG, 0.0, pi / 2)
QUARTER = Curve(ARC.space, np.column_stack([ARC.points[:, 0], np.zeros(len(ARC.points)), ARC.points[:, 1]]))
SMALL = 10.0
CIRCLE = shapes.circle(2 * SMALL)


def volume(lofted: Lofted) -> float:
    return mass_properties(lofted.shell).volume


def closely(true: Callable[[Row], Row], end: float) -> Curve:
    """A rail by an angle from 0 to `end`, to a millionth of a millimetre and better."""
    return approximated(lambda share: true(end * share), np.linspace(0.0, 1.0, 33), 1e-7)[0]


def round_quarter(reach: Callable[[Row], Row], away: float = 1.0) -> Curve:
    """A rail in the plane of the quarter, outside it or inside, by the angle."""

    def true(turn: Row) -> Row:
        r = BIG + away * reach(turn)
        return np.column_stack([r * np.cos(turn), np.zeros(len(turn)), r * np.sin(turn)])

    return closely(true, pi / 2)


def bulge(turn: Row) -> Row:
    return SMALL + 4 * np.sin(2 * turn) ** 2


def quarter_sections(*turns: float) -> list[PlacedSection]:
    ways = [np.array([np.cos(turn), 0.0, np.sin(turn)]) for turn in turns]
    return [PlacedSection(facing(BIG * out, np.array([-out[2], 0.0, out[0]]), ACROSS), CIRCLE) for out in ways]


def pappus(radius: Callable[[Row], Row], around: float, end: float) -> float:
    """What a circle fills that is turned about an axis and grows meanwhile: its centre rides at a fixed distance."""
    return float(quad(lambda turn: pi * radius(np.array(turn)) ** 2 * around, 0.0, end, limit=200)[0])


@pytest.mark.parametrize("turns", [(0.0, pi / 2), (0.0, pi / 4, pi / 2)])
@pytest.mark.parametrize("away", [1.0, -1.0])
def test_a_rail_that_carries_sections_makes_circles_as_wide_as_it_is_far_out(turns: tuple[float, ...], away: float) -> None:
    def dented(turn: Row) -> Row:
        return SMALL + 4 * np.sin(4 * turn) ** 2

    rail = round_quarter(dented, away)
    body = along(QUARTER, quarter_sections(*turns), rails=[rail], whole=True)
    expected = pappus(dented, BIG, pi / 2)
    assert_close(volume(body), expected, within=2e-5 * expected)
    assert_met(body, [rail], quarter_sections(*turns))
    assert not len(body.report.folds)


def test_two_rails_move_and_widen_the_sections_between_them() -> None:
    """Outside as far as the bulge, inside not at all: circles between both, whose middles ride outside the line."""
    rails = [round_quarter(bulge), round_quarter(lambda turn: np.full_like(turn, SMALL), -1.0)]
    body = along(QUARTER, quarter_sections(0.0, pi / 2), rails=rails, whole=True)
    expected = float(quad(lambda turn: pi * ((bulge(turn) + SMALL) / 2) ** 2 * (BIG + (bulge(turn) - SMALL) / 2), 0.0, pi / 2)[0])
    assert_close(volume(body), expected, within=2e-5 * expected)


def test_a_rail_draws_the_skin_beside_it_and_leaves_the_other_side_where_it_was() -> None:
    rail = round_quarter(bulge)
    sections = quarter_sections(0.0, pi / 2)
    body = along(QUARTER, sections, rails=[rail])
    assert_met(body, [rail, round_quarter(lambda turn: np.full_like(turn, SMALL), -1.0)], sections)
    plain = along(QUARTER, sections)
    assert volume(body) > volume(plain) + 100
    solid = assemble(body.shell)
    assert_close(kernel_volume(solid.shape), volume(body), within=1e-4 * volume(body))


def test_along_a_straight_line_it_is_what_rails_make_without_one() -> None:
    sections = [at(z, shapes.rectangle(20.0, 14.0)) for z in (0.0, 40.0, 80.0)]
    z = np.linspace(0.0, 80.0, 41)
    rails = [open_through(np.column_stack([10 + 3 * np.sin(z / 80 * 2 * pi) ** 2, np.full(41, y), z])) for y in (-7.0, 7.0)]
    middle = Curve(SplineSpace.from_breaks(1, np.array([0.0, 1.0])), np.array([[2.0, -1, -9], [2.0, -1, 90]]))
    for whole in (False, True):
        lined, plain = along(middle, sections, rails=rails, whole=whole), made(sections, rails, whole=whole)
        assert_close(volume(lined), volume(plain), within=1e-6 * volume(plain))
        for one, other in zip(lined.shell.faces, plain.shell.faces, strict=True):
            share = np.linspace(0.0, 1.0, 23)
            assert_close(one.surface.grid(share, share), other.surface.grid(share, share), within=3e-4)


@pytest.mark.parametrize("curve", [WAVE, HELIX, elbow(), reverse(WAVE)])
@pytest.mark.parametrize("tilt", [0.0, 0.3])
def test_rails_and_sections_are_met_along_any_line_however_the_sections_lean(curve: Curve, tilt: float) -> None:
    sections = [leaning(curve, t, tilt) for t in (0.0, 0.45, 1.0)]
    rails = met_by(curve, 0.45)
    body = along(curve, sections, rails=rails)
    assert_met(body, rails, sections)
    whole = along(curve, sections, rails=rails, whole=True)
    assert_met(whole, rails, sections)


def leaning(curve: Curve, t: float, tilt: float) -> PlacedSection:
    """A circle about a place of a curve, turned by tilt about the first axis of the frame there that turns least."""
    places, turns = LeastTurning(curve, ACROSS)(np.array([t]))
    x, y, way = turns[0].T
    return PlacedSection(facing(places[0], way * np.cos(tilt) + y * np.sin(tilt), x), CIRCLE)


def met_by(curve: Curve, middle: float) -> list[Curve]:
    """Two rails on both sides of a curve: where the leaning circles have their axis, further out and round between."""

    def swung(t: Row) -> Row:
        return t * (t - middle) * (1 - t)

    def rail(side: float) -> Curve:
        frames = LeastTurning(curve, ACROSS)

        def true(t: Row) -> Row:
            places, turns = frames(t)
            r, a = SMALL + 900 * swung(t) ** 2, side * pi + 5 * swung(t)
            return np.asarray(places + r[:, None] * (np.cos(a)[:, None] * turns[:, :, 0] + np.sin(a)[:, None] * turns[:, :, 1]))

        return approximated(true, curve.space.breaks, 1e-6, continuity=dict.fromkeys(curve.space.breaks[1:-1].tolist(), 1))[0]

    return [rail(0.0), rail(1.0)]


def test_a_kink_of_a_rail_is_a_crease_across_the_duct() -> None:
    def true(turn: Row) -> Row:
        r = BIG + SMALL + 8 * turn
        return np.column_stack([r * np.cos(turn), np.zeros(len(turn)), r * np.sin(turn)])

    first = closely(true, pi / 4)
    second = reverse(transformed(first, np.array([[0.0, 0, 1], [0, 1, 0], [1, 0, 0]]), np.zeros(3)))
    rail = chained([first, second])
    body = along(QUARTER, quarter_sections(0.0, pi / 2), rails=[rail])
    assert len(body.shell.faces) == 2
    assert_met(body, [rail], quarter_sections(0.0, pi / 2))
    # where the kink is: half-way along
    assert_close(body.shell.faces[0].surface.v.domain[1], 0.5, within=1e-6)


def ring_rail(reach: Callable[[Row], Row], count: int = 160) -> Curve:
    turn = 2 * pi * np.arange(count) / count
    r = RADIUS + reach(turn)
    return closed_through(np.column_stack([r * np.cos(turn), r * np.sin(turn), np.zeros(count)]))


def waves(turn: Row) -> Row:
    return SMALL + 3 * np.sin(2 * turn) ** 2


FOUR = [round_about(turn, CIRCLE) for turn in (0.0, pi / 2, pi, 3 * pi / 2)]


@pytest.mark.parametrize("line", [None, circle_line()])
@pytest.mark.parametrize("rail", [ring_rail(waves), reverse(ring_rail(waves)), move_seam(ring_rail(waves), 0.3)])
def test_a_closed_rail_goes_round_a_ring(line: Curve | None, rail: Curve) -> None:
    whole = ring(FOUR, line, rails=[rail], whole=True)
    expected = pappus(waves, RADIUS, 2 * pi)
    assert_close(volume(whole), expected, within=2e-5 * expected)
    body = ring(FOUR, line, rails=[rail])
    assert_met(body, [rail], FOUR)
    assert not len(body.report.folds)
    # where it begins it goes on as it comes
    surface = body.shell.faces[0].surface
    share = np.linspace(0.0, 1.0, 40)
    for order, within in ((0, 1e-9), (1, 1e-6)):
        first, last = (surface.v.evaluate(surface.points.transpose(1, 0, 2), np.array([v]), order)[0] for v in (0.0, 1.0))
        assert_close(surface.u.evaluate(first, share), surface.u.evaluate(last, share), within=within * 400)


def test_two_sections_and_a_line_that_closes_are_led_by_rails_on_both_sides() -> None:
    rails = [ring_rail(waves), ring_rail(lambda turn: np.full_like(turn, -SMALL))]
    body = ring([FOUR[1], FOUR[3]], circle_line(), rails=rails)
    assert_met(body, rails, [FOUR[1], FOUR[3]])


def test_it_does_not_matter_where_a_ring_begins() -> None:
    rails = [ring_rail(waves)]
    first, second = (ring([*FOUR[n:], *FOUR[:n]], circle_line(), rails=rails) for n in (0, 2))
    assert_close(volume(first), volume(second), within=1e-5 * volume(first))


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 10_000))
def test_moved_and_mirrored_it_fills_as_much(seed: int) -> None:
    rng = np.random.default_rng(seed)
    turn, _ = np.linalg.qr(rng.normal(size=(3, 3)))
    shift = rng.uniform(-300, 300, 3)
    sections = [leaning(WAVE, t, 0.2) for t in (0.0, 0.45, 1.0)]
    rails = met_by(WAVE, 0.45)
    there = [moved(section, turn, shift) for section in sections]
    body = along(WAVE, sections, rails=rails)
    other = along(transformed(WAVE, turn, shift), there, rails=[transformed(rail, turn, shift) for rail in rails])
    assert_close(abs(volume(other)), volume(body), within=1e-6 * volume(body))


def test_a_hole_goes_along_with_the_sections_that_a_rail_carries() -> None:
    """A tube of two circles whose outer rail carries its sections: the hole stays where it lies in them."""
    sections = quarter_sections(0.0, pi / 2)
    outer = along(QUARTER, sections, rails=[round_quarter(bulge)], whole=True)
    hole = [PlacedSection(section.frame, shapes.circle(SMALL)) for section in sections]
    inside = Inside(sections, outer.plain.places, outer.plain.lines, outer.plain.led)
    inner = loft(hole, ["section-1", "section-2"], name="loft-9", line=centre_line(QUARTER, sections), inside=inside)
    expected = pappus(lambda turn: bulge(turn) / 2, BIG, pi / 2)
    assert_close(volume(inner), expected, within=1e-4 * expected)


def test_a_rail_that_misses_is_told_with_its_places_where_they_are_drawn() -> None:
    sections = quarter_sections(0.0, pi / 4, pi / 2)
    with pytest.raises(Missed) as told:
        along(QUARTER, sections, rails=[round_quarter(bulge)])
    assert (told.value.section, told.value.short) == (1, False)
    assert_close(told.value.meeting.miss, 4.0, within=1e-6)
    assert_close(np.linalg.norm(told.value.meeting.place), BIG + SMALL + 4, within=1e-6)
    short = split(round_quarter(lambda turn: np.full_like(turn, SMALL)), 0.8)[0]
    with pytest.raises(Missed) as told:
        along(QUARTER, sections, rails=[short])
    assert (told.value.section, told.value.short) == (2, True)


def test_a_rail_that_turns_back_between_sections_is_refused() -> None:
    turn = np.array([0.0, 0.9, 0.5, pi / 2])
    r = BIG + np.array([SMALL, 16.0, 24.0, SMALL])
    rail = open_through(np.column_stack([r * np.cos(turn), np.zeros(4), r * np.sin(turn)]))
    with pytest.raises(TurnsBack) as told:
        along(QUARTER, quarter_sections(0.0, pi / 2), rails=[rail])
    place = told.value.place
    assert 0.5 < np.arctan2(place[2], place[0]) < 0.9
