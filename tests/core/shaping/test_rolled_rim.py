"""Edges round flat ends made round from own surfaces: closed forms, the kernel's fillets of the same bodies, mirrored ones, and what is no rim."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at
from tests.core.solids.test_blending import made, rim, rod
from wander.core.bodies.blending import Blend, NotBlended
from wander.core.bodies.body import Body, of_shells
from wander.core.bodies.continuity import seams
from wander.core.bodies.own_rims import rounded_rims
from wander.core.drawing.outlines import shapes
from wander.core.geometry.law import constant, linear
from wander.core.shaping.loft import Between
from wander.core.shaping.offset_skin import parted
from wander.core.shaping.rolled_rim import NotRolled, RollsTooWide, rolled_rim
from wander.core.shaping.walled import walled
from wander.core.solids.assemble import assemble
from wander.core.solids.blending import filleted

BOTTLE = made(
    at(0.0, shapes.rounded_rectangle(60.0, 60.0, 12.0)), at(50.0, shapes.rounded_rectangle(70.0, 60.0, 14.0)), at(100.0, shapes.circle(30.0))
)
SLOT = made(at(0.0, shapes.slot(40.0, 20.0)), at(15.0, shapes.slot(40.0, 20.0)))
OVAL = made(at(0.0, shapes.ellipse(40.0, 24.0)), at(30.0, shapes.ellipse(60.0, 30.0)), at(70.0, shapes.ellipse(30.0, 26.0)))


def rounded(body: Body, *edges: tuple[str, float]) -> Body:
    found = rounded_rims(body, [Blend((edge,), constant(r)) for edge, r in edges], "fillet-3")
    assert found is not None
    return found


def taken(big: float, r: float) -> float:
    """What a fillet of radius r takes from the rim of an upright cylinder (Pappus)."""
    return 2 * pi * (r * r * (big - r / 2) - pi * r * r / 4 * (big - r + 4 * r / (3 * pi)))


@pytest.mark.parametrize("radius", [0.05, 1.0, 7.0, 19.0])
def test_the_rims_of_a_rod(radius: float) -> None:
    body = rod(40.0, 50.0)
    one = rounded(body, (rim(body), radius))
    assert_close(one.measures.volume, pi * 400 * 50 - taken(20.0, radius), within=1e-6, relative=True)
    both = rounded(body, (rim(body), radius), (rim(body, "section-0"), radius))
    assert_close(both.measures.volume, pi * 400 * 50 - 2 * taken(20.0, radius), within=1e-6, relative=True)
    assert_close(assemble(both.skins[0]).volume, both.measures.volume, within=1e-6, relative=True)
    names = {face.name for face in one.faces}
    assert f"fillet-3/along({rim(body).replace('|', '&')})" in names


@pytest.mark.parametrize(("body", "last"), [(BOTTLE, 2), (SLOT, 1), (OVAL, 2)], ids=["bottle", "slot", "oval"])
@pytest.mark.parametrize("end", ["first", "last"])
def test_it_holds_what_the_kernels_own_fillet_does_and_is_smooth_at_both_sides(body: Body, last: int, end: str) -> None:
    edge = rim(body, "section-0" if end == "first" else f"section-{last}")
    own = rounded(body, (edge, 2.0))
    theirs = filleted(body, [Blend((edge,), constant(2.0))], "fillet-3")
    # theirs strays from the ball's track by a thousandth of a millimetre or two
    assert_close(own.measures.volume, theirs.measures.volume, within=2e-6, relative=True)
    # for theirs the faces had to be parted, which ours need not be
    assert {face.name for face in own.faces} == {face.name.partition("~")[0] for face in theirs.faces}
    beside = [seam for seam in seams(own) if "along(" in seam.name]
    assert len(beside) >= 2
    for seam in beside:
        assert seam.gap < 1e-4
        assert seam.angle < 0.05
    # the arcs are arcs: they bend as the ball does
    blend = next(face.surface for face in own.faces if "along(" in face.name)
    assert blend is not None
    u, v = np.linspace(*blend.u.domain, 23), np.linspace(*blend.v.domain, 9)[1:-1]
    dv, dvv = blend.grid(u, v, 0, 1), blend.grid(u, v, 0, 2)
    bend = np.linalg.norm(np.cross(dv, dvv), axis=-1) / np.linalg.norm(dv, axis=-1) ** 3
    assert_close(1 / bend, 2.0, within=2e-3)


def test_the_edges_of_a_wall_inside_and_outside() -> None:
    body = rod(40.0, 50.0)
    thick = dict.fromkeys(body.skins[0].names, 2.0)
    shell, _ = walled(body.skins[0], thick, dict.fromkeys(thick, 0.0), ["loft-9/end:section-1"], "wall-2")
    cup = of_shells((shell,))
    outer, inner = "loft-9/end:section-0|loft-9/side", "wall-2/inside(loft-9/end:section-0)|wall-2/inside(loft-9/side)"
    lips = ["loft-9/end:section-1|loft-9/side", "loft-9/end:section-1|wall-2/inside(loft-9/side)"]
    found = rounded(cup, (outer, 5.0), (inner, 3.0), (lips[0], 0.5), (lips[1], 0.7))
    expected = pi * (400 * 50 - 18**2 * 48) - taken(20.0, 5.0) + taken(18.0, 3.0)
    # at the inner lip the corner lies on the far side of the wall's inner radius
    r = 0.7
    inner_lip = 2 * pi * (r * r * (18 + r / 2) - pi * r * r / 4 * (18 + r - 4 * r / (3 * pi)))
    assert_close(found.measures.volume, expected - taken(20.0, 0.5) - inner_lip, within=1e-6, relative=True)
    assert_close(assemble(found.skins[0]).volume, found.measures.volume, within=1e-6, relative=True)


@settings(max_examples=10)
@given(st.floats(-20, 20), st.floats(0, 360), st.booleans())
def test_moved_turned_and_mirrored_it_holds_the_same(shift: float, turn: float, mirrored: bool) -> None:
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    matrix = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, -1.0 if mirrored else 1.0]])
    skin = OVAL.skins[0].moved(matrix, np.array([shift, 2 * shift, -shift]))
    edge = rim(OVAL, "section-2")
    assert_close(rounded(of_shells((skin,)), (edge, 3.0)).measures.volume, rounded(OVAL, (edge, 3.0)).measures.volume, within=1e-8, relative=True)


def test_a_ball_that_has_no_room_is_told_with_one_that_has() -> None:
    body = rod(40.0, 50.0)
    for radius in (20.5, 30.0, 60.0):
        with pytest.raises(NotBlended) as told:
            rounded(body, (rim(body), radius))
        assert told.value.edge == rim(body)
        assert told.value.fits is not None
        assert 10.0 < told.value.fits < 20.01
    with pytest.raises(RollsTooWide) as tight:
        rolled_rim(SLOT.skins[0], 0, 0, 11.0, lambda side, end: side)
    assert_close(tight.value.fits, 10.0, within=1e-4)


def test_what_is_no_smooth_rim_is_left_to_the_kernel() -> None:
    box = made(at(0.0, shapes.rectangle(20.0, 20.0)), at(20.0, shapes.rectangle(20.0, 20.0)))
    with pytest.raises(NotRolled):
        rolled_rim(box.skins[0], 0, 0, 2.0, lambda side, end: side)
    ends = tuple(edge.name for edge in box.edges if "end:section-1" in edge.name)
    assert rounded_rims(box, [Blend(ends, constant(2.0))], "fillet-3") is None
    assert rounded_rims(box, [Blend(ends[:1], constant(2.0))], "fillet-3") is None
    body = rod(40.0, 50.0)
    assert rounded_rims(body, [Blend((rim(body),), linear(1.0, 2.0))], "fillet-3") is None
    assert rounded_rims(body, [Blend((), constant(1.0), "outer")], "fillet-3") is None
    bays = made(at(0.0, shapes.circle(30.0)), at(20.0, shapes.circle(40.0)), at(50.0, shapes.circle(30.0)), between=Between.STRAIGHT)
    assert_close(rounded(bays, (rim(bays, "section-2"), 2.0)).measures.pieces, 1, within=0)


def test_spans_are_parted_as_far_as_what_they_miss_calls_for() -> None:
    """A span that misses 2^6 times too much needs halves at the sixth order, and one that misses nothing stays."""
    breaks, tolerance = np.array([0.0, 1.0, 2.0, 4.0, 5.0]), 1e-5
    assert parted(breaks, tolerance * np.array([0.0, 63.0, 1e9, 1.0]), tolerance).tolist() == [0, 1, 1.5, 2, 2.5, 3, 3.5, 4, 5]
