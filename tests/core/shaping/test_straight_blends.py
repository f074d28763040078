"""Straight bays between sections of one kind are blends of line with line and arc with arc, exactly."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
from OCP.GProp import GProp_GProps

from tests.closeness import assert_close
from tests.core.placed import TOP
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import Loop
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection
from wander.core.solids.assemble import assemble

Numbers = tuple[float, float, float]


def blended(low: Loop, high: Loop, height: float) -> Lofted:
    sections = [PlacedSection(TOP, low), PlacedSection(TOP.moved(height), high)]
    return loft(sections, ["a", "b"], name="body", between=Between.STRAIGHT)


def cornered(width: float, depth: float, radius: float, share: np.ndarray) -> np.ndarray:
    """Places on a rounded rectangle, (4, 2, m, 2): of each quarter its arc and the straight after it, at shares of each."""
    x, y = width / 2 - radius, depth / 2 - radius
    centers = np.array([(x, y), (-x, y), (-x, -y), (x, -y)])
    found = []
    for quarter, center in enumerate(centers):
        turn = (quarter + share) * np.pi / 2
        arc = center + radius * np.column_stack([np.cos(turn), np.sin(turn)])
        following = centers[(quarter + 1) % 4] + radius * np.array([np.cos((quarter + 1) * np.pi / 2), np.sin((quarter + 1) * np.pi / 2)])
        found.append((arc, arc[-1] + share[:, None] * (following - arc[-1])))
    return np.array(found)


def away(body: Lofted, points: np.ndarray) -> float:
    """The largest distance of points (m, 3) from the side of a body, each by a search in its own waterline and Newton's method."""
    [face] = body.shell.faces
    worst = 0.0
    for z in np.unique(points[:, 2]):
        wanted = points[points[:, 2] == z]
        v = float(z / points[:, 2].max()) if points[:, 2].max() else 0.0
        low, high = face.surface.v.domain
        u = np.linspace(0, 1, 4001)
        line = face.surface.grid(u, np.array([low + v * (high - low)]))[:, 0]
        near = np.array([np.linalg.norm(line - p, axis=1).argmin() for p in wanted])
        for p, k in zip(wanted, near, strict=True):
            beside = u[[max(k - 1, 0), min(k + 1, len(u) - 1)]]
            fine = np.linspace(*beside, 2001)
            there = face.surface.grid(fine, np.array([low + v * (high - low)]))[:, 0]
            # from a chord of a millionth of a millimetre's bulge
            a, b = there[:-1], there[1:]
            way = b - a
            t = np.clip(((p - a) * way).sum(axis=1) / np.maximum((way * way).sum(axis=1), 1e-300), 0, 1)
            worst = max(worst, float(np.linalg.norm(a + t[:, None] * way - p, axis=1).min()))
    return worst


sizes = st.tuples(st.floats(12, 60), st.floats(12, 60), st.floats(0.05, 0.45))


@settings(max_examples=12)
@given(low=sizes, high=sizes, height=st.floats(10, 90))
def test_rounded_to_rounded(low: Numbers, high: Numbers, height: float) -> None:
    a, b = ((w, d, r * min(w, d)) for w, d, r in (low, high))
    body = blended(shapes.rounded_rectangle(*a), shapes.rounded_rectangle(*b), height)
    share = np.linspace(0, 1, 9)
    first, last = cornered(*a, share).reshape(-1, 2), cornered(*b, share).reshape(-1, 2)
    points = [np.column_stack([(1 - t) * first + t * last, np.full(len(first), t * height)]) for t in (0.0, 0.3, 0.8, 1.0)]
    assert away(body, np.concatenate(points)) < 1e-6
    # the area of a blend is a quadratic of the height: the rule of Simpson is exact
    middle = [(p + q) / 2 for p, q in zip(a, b, strict=True)]
    area = [w * d - (4 - np.pi) * r * r for w, d, r in (a, middle, b)]
    expected = height * (area[0] + 4 * area[1] + area[2]) / 6
    assert_close(mass_properties(body.shell).volume, expected, within=1e-8 * expected)


def test_slot_to_slot_is_exact_and_flat_where_it_is_flat() -> None:
    body = blended(shapes.slot(60.0, 20.0), shapes.slot(36.0, 26.0), 40.0)
    assert body.report.exact
    assert len(body.report.folds) == 0
    [face] = body.shell.faces
    v = np.linspace(0, 1, 5) * face.surface.v.domain[1]
    grid = face.surface.grid(np.linspace(0, 1, 2000), v).reshape(-1, 3)
    # the side of the blend lies in the plane through its two straights
    straight = grid[(np.abs(grid[:, 0]) < 4.9) & (grid[:, 1] > 0)]
    assert len(straight) > 100
    normal = np.array([0.0, 40.0, -3.0]) / np.hypot(40.0, 3.0)
    assert np.abs((straight - (0, 10, 0)) @ normal).max() < 1e-9


@pytest.mark.parametrize("pair", [("slot", "slot"), ("box", "box")])
def test_the_kernel_takes_it_and_cuts_it(pair: tuple[str, str]) -> None:
    low = shapes.slot(60.0, 20.0) if pair[0] == "slot" else shapes.rounded_rectangle(40.0, 30.0, 6.0)
    high = shapes.slot(36.0, 26.0) if pair[1] == "slot" else shapes.rounded_rectangle(28.0, 26.0, 11.0)
    body = blended(low, high, 40.0)
    made = assemble(body.shell)
    bore = BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(-60, 0, 20), gp_Dir(1, 0, 0)), 5.0, 120.0).Shape()
    cut = BRepAlgoAPI_Cut(made.shape, bore).Shape()
    assert BRepCheck_Analyzer(cut).IsValid()
    properties = GProp_GProps()
    BRepGProp.VolumeProperties_s(cut, properties, 1e-6)
    whole = mass_properties(body.shell).volume
    reach = 52.0 if pair[0] == "slot" else 34.0
    assert 0.8 * reach * np.pi * 25 < whole - properties.Mass() < 1.2 * reach * np.pi * 25


def test_turned_against_each_other_they_go_on_without_a_crease() -> None:
    """Where the sections run different ways at a joint, its pace is eased as before: the skin has one tangent there."""
    turned = shapes.slot(36.0, 26.0).transformed(np.array([[np.cos(0.4), -np.sin(0.4)], [np.sin(0.4), np.cos(0.4)]]), np.zeros(2))
    body = blended(shapes.slot(60.0, 20.0), turned, 40.0)
    [face] = body.shell.faces
    assert face.surface.u.multiplicities[1:-1].max() < face.surface.u.degree
