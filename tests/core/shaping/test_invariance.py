"""The same body however it is placed, run through, scaled, and however its sections are written."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import wobbly
from tests.soak import times
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import Loop, Span, opposite
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import insert_knots
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.geometry.interpolate import End, cubic_through
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection

TOP = BASE_FRAMES["top"]


def made(sections: list[PlacedSection], between: Between = Between.SMOOTH) -> Lofted:
    return loft(sections, [f"section-{i + 1}" for i in range(len(sections))], name="loft-9", between=between)


def volume(sections: list[PlacedSection], between: Between = Between.SMOOTH) -> float:
    return mass_properties(made(sections, between).shell).volume


def outline(rng: np.random.Generator) -> Loop:
    size, share = rng.uniform(10, 40), rng.uniform(0.3, 1.5)
    kinds = [
        lambda: shapes.circle(size),
        lambda: shapes.ellipse(size, size * share),
        lambda: shapes.rectangle(size, size * share),
        lambda: shapes.rounded_rectangle(size, size * max(share, 0.6), size * 0.1),
        lambda: shapes.slot(size, size * min(share, 0.9) * 0.8),
        lambda: shapes.polygon(int(rng.integers(3, 9)), size),
        lambda: shapes.foil(size, rng.uniform(0.08, 0.3), rng.uniform(0, 0.05), 0.4),
        lambda: shapes.spline(wobbly(int(rng.integers(5, 12)), size / 2, int(rng.integers(0, 1000)))),
    ]
    turn = rng.choice([0.0, rng.uniform(-0.6, 0.6)])
    matrix = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    return kinds[rng.integers(0, len(kinds))]().transformed(matrix, rng.uniform(-4, 4, 2) * rng.integers(0, 2))


def placed(outlines: list[tuple[float, Loop]], turn: np.ndarray, move: np.ndarray) -> list[PlacedSection]:
    return [PlacedSection(Frame(turn @ TOP.moved(z).origin + move, turn @ TOP.x, turn @ TOP.y), loop) for z, loop in outlines]


HERE = (np.eye(3), np.zeros(3))


@settings(max_examples=times(20, 120))
@example(seed=497, between=Between.SMOOTH)
@example(seed=9106, between=Between.SMOOTH)
@example(seed=124624, between=Between.SMOOTH)
@given(seed=st.integers(0, 10**6), between=st.sampled_from(list(Between)))
def test_moved_turned_mirrored_reversed_and_scaled_it_is_the_same_body(seed: int, between: Between) -> None:
    rng = np.random.default_rng(seed)
    offsets = np.cumsum(rng.uniform(8, 40, rng.integers(2, 6)))
    outlines = [(float(z), outline(rng)) for z in offsets]
    true = volume(placed(outlines, *HERE), between)
    turn, _ = np.linalg.qr(rng.normal(size=(3, 3)))
    turn *= np.sign(np.linalg.det(turn))
    image = [(z, replace(loop, curve=Curve(loop.curve.space, loop.curve.points * (-1, 1)))) for z, loop in outlines]
    # not so large that the most of a refit's aim counts, which is in mm
    larger = [(2 * z, loop.transformed(2 * np.eye(2), np.zeros(2))) for z, loop in outlines]
    assert_close(volume(placed(outlines, turn, rng.normal(size=3)), between), true, within=1e-9 * true)
    assert_close(volume(placed(outlines, *HERE)[::-1], between), true, within=1e-9 * true)
    assert_close(volume(placed(image, *HERE), between), true, within=1e-9 * true)
    assert_close(volume(placed(larger, *HERE), between), 8 * true, within=1e-9 * 8 * true)


def rewritten(loop: Loop, seed: int) -> Loop:
    """The same outline with knots where nobody needs them, and run at another pace where it has a corner to hide it."""
    rng = np.random.default_rng(seed)
    return replace(loop, curve=insert_knots(loop.curve, np.sort(rng.uniform(0.05, 0.95, 5)).tolist()))


@given(seed=st.integers(0, 10**6))
def test_knots_that_change_nothing_change_nothing(seed: int) -> None:
    rng = np.random.default_rng(seed)
    outlines = [(20.0 * i, shapes.spline(wobbly(8, 20.0, int(rng.integers(0, 1000))))) for i in range(3)]
    true = volume(placed(outlines, *HERE))
    assert_close(volume(placed([(z, rewritten(loop, seed)) for z, loop in outlines], *HERE)), true, within=2e-6 * true)


def drawn_foil(chord: float) -> Loop:
    """A foil as a list of its points and a spline through them by chord length would give it."""
    known = shapes.foil(chord, 0.18, 0.02, 0.4)
    at = (1 - np.cos(np.linspace(0, np.pi, 161))) / 2
    points = known.curve(np.concatenate([at / 2, (at[1:] + 1) / 2]))
    run = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    curve = cubic_through(points, run / run[-1], End.NATURAL)
    spans = (Span(0.0, "c1a", "p1"), Span(opposite(curve, 0.0), "c1b", "p1b"))
    return Loop(curve, corners=(0.0,), seam=0, spans=spans)


def test_a_foil_and_the_same_foil_drawn_make_the_same_body() -> None:
    """Side by side the sections are within a micron or two; before, the bodies were two millimetres apart."""
    round_ = shapes.ellipse(60.0, 30.0)
    one, other = (made(placed([(0.0, foil), (80.0, round_)], *HERE)) for foil in (shapes.foil(90.0, 0.18, 0.02, 0.4), drawn_foil(90.0)))
    for a, b in zip(one.shell.faces, other.shell.faces, strict=True):
        places = np.linspace(0, 1, 41)
        assert_close(a.surface.grid(places, np.array([0.25, 0.5, 0.75])), b.surface.grid(places, np.array([0.25, 0.5, 0.75])), within=0.02)


LIKE = [
    (shapes.slot(40.0, 12.0), shapes.slot(30.0, 16.0)),
    (shapes.rounded_rectangle(40, 30, 6), shapes.rounded_rectangle(28, 36, 3)),
]


@pytest.mark.parametrize("sections", LIKE)
def test_between_like_sections_lines_go_to_lines_and_arcs_to_arcs(sections: tuple[Loop, Loop]) -> None:
    """Half-way up, every side is the mean of the two sides, but for what keeps the pace smooth where a line meets an arc."""
    low, high = sections
    body = made(placed([(0.0, low), (50.0, high)], *HERE), Between.STRAIGHT)
    joints = [np.sort(np.append(loop.joints, [0.0, 1.0])) for loop in sections]
    shares = np.linspace(0, 1, 200)
    means = [loop.curve(np.interp(shares, np.linspace(0, 1, len(j)), j)) for loop, j in zip(sections, joints, strict=True)]
    expected = (means[0] + means[1]) / 2
    dense = body.shell.faces[0].surface.grid(np.linspace(0, 1, 20001), np.array([0.5]))[:, 0, :2]
    worst = max(float(np.linalg.norm(dense - place, axis=1).min()) for place in expected)
    assert worst < 0.025


def test_no_two_corners_share_a_place() -> None:
    """A foil's tail against an octagon: no side is without width anywhere."""
    for seed in range(30):
        rng = np.random.default_rng(seed)
        loops = [shapes.foil(60.0, 0.15, 0.02, 0.4), shapes.polygon(8, 40.0), shapes.polygon(int(rng.integers(3, 8)), 30.0)]
        order = rng.permutation(3)
        body = made(placed([(20.0 * i, loops[k]) for i, k in enumerate(order)], *HERE))
        for face in body.shell.faces:
            rows = face.surface.grid(np.linspace(0, 1, 30), np.linspace(0, 1, 7))
            widths = np.linalg.norm(np.diff(rows, axis=0), axis=2).sum(axis=0)
            assert widths.max() > 0.5
