"""Random sections along random paths: a sound body, or the reason why there is none; what touches itself is told.

What is so is told by the path alone, by brute force: where two of its places that lie apart along it are nearer than both sections are thin, the body
runs through itself; where no two are as near as both sections reach, it can't.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import pytest
from hypothesis import event, given, settings
from hypothesis import strategies as st

from tests.core.placed import TOP, wobbly
from tests.core.shaping.test_sweep import UP
from tests.soak import times
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import Area
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.interpolate import closed_through, open_through
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.attitude import Attitude
from wander.core.shaping.folding import folds_along
from wander.core.shaping.laws import Laws
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.path import Path, path_along
from wander.core.shaping.placing import Place, placed_on
from wander.core.shaping.self_crossing import self_crossing
from wander.core.shaping.sweep import swept
from wander.core.shaping.trajectories import Trajectories
from wander.core.solids.assemble import assemble

Row = npt.NDArray[np.float64]
CLEARLY = 1.15
"""Nearer or further by this factor than where it changes: in between either is right."""


@dataclass(frozen=True)
class Apart:
    """The least distance of two places of a path that lie apart along it, mm, and the radius of its tightest bend."""

    least: float
    radius: float


def looked_at(path: Path, reach: float) -> Apart:
    shares = np.linspace(0, 1, 400)
    points, ways = path.places(shares)
    gone = shares * path.length
    along = np.abs(gone[:, None] - gone)
    if path.closed:
        along = np.minimum(along, path.length - along)
    far = along > np.pi * reach
    distances = np.linalg.norm(points[:, None] - points, axis=2)
    turned = np.linalg.norm(np.diff(ways, axis=0), axis=1) / (path.length / 399)
    return Apart(float(distances[far].min()) if far.any() else np.inf, 1 / float(turned.max()))


def curve_through(seed: int, count: int, *, closed: bool, flat: bool) -> Curve:
    rng = np.random.default_rng(seed)
    if closed:
        turn = 2 * np.pi * (np.arange(count) + rng.uniform(-0.25, 0.25, count)) / count
        reach = rng.uniform(25, 60, count)
        points = np.column_stack([reach * np.cos(turn), reach * np.sin(turn), rng.uniform(-12, 12, count)])
    else:
        points = np.cumsum(rng.uniform(-1, 1, (count, 3)) * (40, 40, 25) + (12, 0, 0), axis=0)
    if flat:
        points[:, 2] = 0
    return closed_through(points) if closed else open_through(points)


@settings(max_examples=times(15, 400), deadline=None)
@given(
    seed=st.integers(0, 10**6),
    count=st.integers(3, 7),
    closed=st.booleans(),
    flat=st.booleans(),
    size=st.floats(1.0, 9.0),
    drawn=st.sampled_from(["round", "wobbly", "polygon", "slot", "ring"]),
    attitude=st.sampled_from([Attitude.LEAST, Attitude.UPRIGHT]),
)
def test_a_sound_body_or_the_reason(seed: int, count: int, closed: bool, flat: bool, size: float, drawn: str, attitude: Attitude) -> None:
    outlines = {
        "round": lambda: Area(shapes.circle(2 * size)),
        "wobbly": lambda: Area(shapes.spline(wobbly(7, size, seed))),
        "polygon": lambda: Area(shapes.polygon(3 + seed % 5, 2 * size)),
        "slot": lambda: Area(shapes.slot(2 * size, size)),
        "ring": lambda: Area(shapes.circle(2 * size), (shapes.circle(size).reversed(),)),
    }
    area = outlines[drawn]()
    outline = area.outer.curve.sampled(16)[1] - area.outer.centroid
    thin, reach = np.linalg.norm(outline, axis=1).min(), np.linalg.norm(outline, axis=1).max()
    try:
        path = path_along(curve_through(seed, max(count, 4) if closed else count, closed=closed, flat=flat), closed=closed)
        placing = placed_on(path, TOP, area.outer.centroid, place=Place.SQUARED, attitude=attitude, up=UP, near=np.zeros(3))
        trajectories = [Trajectories(path, number, frames, Laws()) for number, frames in enumerate(placing.held.frames)]
        folds = folds_along(trajectories, placing.local(area.outer.curve.sampled(4)[1]), placing.forwards, square=placing.held.square)
        apart = looked_at(path, reach)
        if folds:
            event("folds")
            # a bend as wide as the section reaches all round never folds one that stands square to its path
            assert attitude is Attitude.UPRIGHT or apart.radius < CLEARLY * reach
            return
        assert attitude is Attitude.UPRIGHT or apart.radius > thin / CLEARLY
        made = swept([area], path, placing, laws=Laws(), name="sweep-9", section="section-2", tolerances=DEFAULT)
    except GeometryError as error:
        event(f"refused: {type(error).__name__}")
        return
    skin = made.skins[0]
    crossed = self_crossing(skin)
    if attitude is Attitude.LEAST:
        if apart.least < 2 * thin / CLEARLY:
            event("runs through itself")
            assert crossed is not None
        elif apart.least > CLEARLY * 2 * reach:
            assert crossed is None
    if crossed is not None:
        return
    event("sound")
    assert skin.closed
    volume = mass_properties(skin).volume
    assert volume > 0
    assert abs(assemble(skin).volume / volume - 1) < 1e-4
    if attitude is Attitude.LEAST and drawn != "wobbly":
        # the middle of the section goes along the path
        whole = area.outer.area - sum(abs(hole.area) for hole in area.holes)
        assert abs(volume / (whole * path.length) - 1) < max(1e-4, 5e-4 / size)  # fitted to thousandths of a millimetre


@pytest.mark.parametrize("pitch", [7.0, 9.4, 10.6])
@pytest.mark.parametrize("drawn", ["round", "bar"])
def test_a_coil_whose_turns_touch_is_told(pitch: float, drawn: str) -> None:
    """Two turns and a half round 30, of a rod of 10, or a bar as high: they touch where the pitch is less."""
    area = Area(shapes.circle(10.0) if drawn == "round" else shapes.rectangle(6.0, 10.0))
    turns = np.linspace(0, 5 * np.pi, 101)
    path = path_along(open_through(np.column_stack([30 * np.cos(turns), 30 * np.sin(turns), pitch * turns / (2 * np.pi)])), closed=False)
    placing = placed_on(path, TOP, np.zeros(2), place=Place.SQUARED, attitude=Attitude.UPRIGHT, up=UP, near=np.zeros(3))
    made = swept([area], path, placing, laws=Laws(), name="sweep-9", section="section-2", tolerances=DEFAULT)
    assert (self_crossing(made.skins[0]) is not None) == (pitch < 10)
