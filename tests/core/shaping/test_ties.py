"""Connecting lines: what the designer ties together belongs together, everything else goes with it in order."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at, tip
from tests.soak import times
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.law import linear
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.panels import Crossed
from wander.core.shaping.section import PlacedSection
from wander.core.solids.assemble import assemble


def made(sections: Sequence[PlacedSection], ties: Sequence[Mapping[int, float]] = (), **more) -> Lofted:
    return loft(sections, [f"section-{i}" for i in range(len(sections))], name="loft-9", ties=ties, **more)


def volume(body: Lofted) -> float:
    return mass_properties(body.shell).volume


def assert_tied(body: Lofted, sections: Sequence[PlacedSection], ties: Sequence[Mapping[int, float]]) -> None:
    """A line of the skin goes through every place of every tie."""
    for tie, told in zip(ties, body.report.ties, strict=True):
        ends = [told.line[0].points[0], *(curve.points[-1] for curve in told.line)]
        fine = np.concatenate([curve(np.linspace(*curve.domain, 4001)) for curve in told.line])
        for i, parameter in tie.items():
            place = sections[i].in_space().curve(parameter)
            off = np.linalg.norm(np.concatenate([fine, ends]) - place, axis=1).min()
            assert off < (5e-4 if i in (0, len(sections) - 1) else 0.05)


def test_a_tie_says_what_two_starts_would() -> None:
    sections = [at(0.0, shapes.circle(40.0)), at(50.0, shapes.ellipse(40.0, 24.0))]
    body = made(sections, [{0: 0.0, 1: 0.25}])
    told = [PlacedSection(s.frame, s.loop, start=start) for s, start in zip(sections, (0.0, 0.25), strict=True)]
    assert_close(volume(body), volume(made(told)), within=1e-9 * volume(body))
    assert_tied(body, sections, [{0: 0.0, 1: 0.25}])
    assert body.report.wring[0] == pytest.approx(90, abs=15)


def test_a_corner_goes_to_the_corner_it_is_tied_to() -> None:
    """Left alone, the corners of a square go straight up; tied, each goes to the next one round."""
    sections = [at(0.0, shapes.rectangle(30.0, 30.0)), at(40.0, shapes.rectangle(30.0, 30.0))]
    corners = sections[0].in_space().corners
    plain, turned = made(sections, between=Between.STRAIGHT), made(sections, [{0: corners[0], 1: corners[1]}], between=Between.STRAIGHT)
    assert_close(volume(plain), 36000, within=1e-6 * 36000)
    # a square that turns by a quarter on straight edges: its half-way section is a square of half the area
    assert_close(volume(turned), 40 * (900 + 4 * 450 + 900) / 6, within=1e-6 * 36000)
    assert len(turned.shell.faces) == 4
    for face in turned.shell.faces:
        low, high = face.surface.points[0, 0], face.surface.points[0, -1]
        assert_close(np.linalg.norm((high - low)[:2]), 30.0, within=1e-9)
    assert_close(assemble(turned.shell).volume, volume(turned), within=1e-6 * 36000)


def test_a_corner_is_tied_to_a_place_on_a_round_section() -> None:
    sections = [at(0.0, shapes.circle(40.0)), at(50.0, shapes.rectangle(30.0, 20.0)), at(90.0, shapes.circle(20.0))]
    corner = sections[1].in_space().corners[0]
    ties = [{0: 0.2, 1: corner, 2: 0.1}]
    body = made(sections, ties)
    assert len(body.shell.faces) == 4
    assert_tied(body, sections, ties)
    edges = [face.surface.points[0, 0] for face in body.shell.faces]
    assert min(np.linalg.norm(edge - sections[0].in_space().curve(0.2)) for edge in edges) < 2e-4


def test_what_is_not_said_passes_in_proportion() -> None:
    sections = [at(z, shapes.circle(40.0)) for z in (0.0, 30.0, 60.0, 90.0)]
    body = made(sections, [{0: 0.0, 3: 0.3}, {}])
    assert_close([float(a or 0.0) for a in body.report.ties[0].at], [0.0, 0.1, 0.2, 0.3], within=1e-9)
    assert_close([float(a or 0.0) for a in body.report.ties[1].at], [0.5, 0.5, 0.5, 0.5], within=1e-9)


def test_ties_that_cross_are_told() -> None:
    sections = [at(0.0, shapes.circle(40.0)), at(50.0, shapes.circle(40.0))]
    with pytest.raises(Crossed) as told:
        made(sections, [{0: 0.0, 1: 0.0}, {0: 0.3, 1: 0.6}, {0: 0.6, 1: 0.3}])
    assert (told.value.first, told.value.second) == (1, 2)
    with pytest.raises(Crossed):
        made(sections, [{0: 0.1, 1: 0.4}, {0: 0.1, 1: 0.6}])


KINDS = {
    "circle": shapes.circle(36.0),
    "ellipse": shapes.ellipse(44.0, 26.0),
    "rectangle": shapes.rectangle(40.0, 24.0),
    "rounded": shapes.rounded_rectangle(40.0, 30.0, 6.0),
    "hexagon": shapes.polygon(6, 34.0),
    "slot": shapes.slot(50.0, 22.0),
}


@settings(max_examples=times(24, 400), deadline=None)
@given(st.lists(st.sampled_from(sorted(KINDS)), min_size=2, max_size=4), st.integers(1, 4), st.integers(0, 10**6), st.booleans())
def test_any_ties_in_order_are_kept(names: list[str], count: int, seed: int, straight: bool) -> None:
    """With laws on top, ends that are points, corners or none: a valid body, every tie met, the same from its other end."""
    chance = np.random.default_rng(seed)
    sections = [at(40.0 * i, KINDS[name]) for i, name in enumerate(names)]
    turns = np.sort(chance.uniform(0, 1, count))
    if count > 1 and np.diff(np.append(turns, turns[0] + 1)).min() < 0.06:
        turns = np.arange(count) / count + chance.uniform(0, 1)
    ties = [{i: float((turn + chance.uniform(-0.02, 0.02) / count) % 1.0) for i in range(len(names))} for turn in turns]
    between = Between.STRAIGHT if straight else Between.SMOOTH
    try:
        body = made(sections, ties, between=between)
    except BadInput:
        # on one side of a corner in one section, on the other in the next: said, not made
        with pytest.raises(BadInput, match="across a corner"):
            made(sections, ties, between=between)
        assert any(section.loop is not None and section.loop.corners for section in sections)
        return
    assert_tied(body, sections, ties)
    assert volume(body) > 0
    back = made(sections[::-1], [{len(names) - 1 - i: place for i, place in tie.items()} for tie in ties], between=between)
    assert_close(volume(back), volume(body), within=2e-5 * volume(body))


def test_ties_go_with_points_laws_and_rails() -> None:
    sections = [at(0.0, shapes.circle(40.0)), at(60.0, shapes.ellipse(30.0, 20.0)), tip(90.0)]
    ties = [{0: 0.1, 1: 0.2}]
    body = made(sections, ties)
    assert body.report.ties[0].at[2] is None
    assert_close(body.report.ties[0].line[-1].points[-1], np.array([0.0, 0.0, 90.0]), within=1e-9)
    turned = made(sections, ties, laws=Laws(twist=linear(0.0, 0.5)))
    assert_close(volume(turned), volume(body), within=2e-4 * volume(body))
    three = [at(z, shapes.circle(40.0)) for z in (0.0, 50.0, 100.0)]
    rail = open_through(np.array([(20.0, 0, 0), (20.0, 0, 50), (20.0, 0, 100)]))
    with pytest.raises(Crossed):
        made(three, [{0: 0.0, 1: 0.5, 2: 0.0}], rails=[open_through(np.array([(-20.0, 0, 0), (-20.0, 0, 50), (-20.0, 0, 100)]))])
    assert_close(volume(made(three, [{0: 0.5, 2: 0.5}], rails=[rail])), np.pi * 400 * 100, within=1e-5 * np.pi * 400 * 100)


def turned(loop: Loop, degrees: float) -> Loop:
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return loop.transformed(np.array([[c, -s], [s, c]]), np.zeros(2))


def test_a_single_rail_turns_the_section_that_was_turned() -> None:
    """Three sections of which the middle one is turned by 30 degrees: the rail goes through the same place of each."""
    outline = shapes.ellipse(40.0, 20.0)
    sections = [at(0.0, outline), at(50.0, turned(outline, 30.0)), at(100.0, outline)]
    rail = open_through(np.array([section.in_space().curve(0.125) for section in sections]))
    body = made(sections, rails=[rail])
    assert_close(np.abs(body.report.wring), [30.0, 30.0], within=0.5)
    assert not len(body.report.folds)
    assert_close(assemble(body.shell).volume, volume(body), within=1e-6 * volume(body))


PAIRS = [(a, b) for i, a in enumerate([*sorted(KINDS), "foil", "star", "triangle"]) for b in [*sorted(KINDS), "foil", "star", "triangle"][i + 1 :]]


@pytest.mark.parametrize("pair", PAIRS, ids=["-".join(pair) for pair in PAIRS])
def test_no_start_wrings_less(pair: tuple[str, str]) -> None:
    """36 pairs of shapes, one of them set askew: against every start round the second, by brute force."""
    more = {
        **KINDS,
        "triangle": shapes.polygon(3, 40.0),
        "foil": shapes.foil(60.0, 0.2, 0.02, 0.4),
        "star": shapes.spline(
            np.array([((26 if k % 2 else 14) * np.cos(k * np.pi / 5), (26 if k % 2 else 14) * np.sin(k * np.pi / 5)) for k in range(10)])
        ),
    }
    first, second = at(0.0, more[pair[0]]), at(50.0, turned(more[pair[1]], 5.0))
    own = abs(made([first, second], between=Between.STRAIGHT).report.wring[0])
    least = min(
        abs(made([first, PlacedSection(second.frame, second.loop, start=k / 36)], between=Between.STRAIGHT).report.wring[0]) for k in range(36)
    )
    assert own <= least + 1.0
