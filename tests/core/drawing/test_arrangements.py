"""Areas of drawings full of special positions (tangents, overlaps, repeats, snapped points) against an independent clipping of polygons."""

from __future__ import annotations

import itertools
import random
from collections import defaultdict
from math import cos, pi, sin

import manifold3d
import numpy as np
import pytest

from tests.core.drawing.drawings import Raw, arc, circle, graph_of, line, raw, read
from tests.soak import times
from wander.core.geometry.basis import Floats

DRAWINGS = times(30, 125)
"""In each of the eight parts."""
FACETS = 720
GRID = 5.0
Point = tuple[float, float]


class Sketch:
    """Closed shapes on a coarse grid: as a drawing, and as polygons."""

    def __init__(self, chance: random.Random) -> None:
        self._chance = chance
        self._points: list[Point] = []
        self._curves: list[Raw] = []
        self.polygons: list[Floats] = []

    def _point(self, at: Point) -> int:
        # drawn one after the other, so that nothing shares a point but what the same shape is made of
        self._points.append(at)
        return len(self._points)

    def _on_grid(self) -> Point:
        return GRID * self._chance.randint(-3, 3), GRID * self._chance.randint(-3, 3)

    def _size(self) -> float:
        return GRID * self._chance.randint(1, 3)

    def add(self) -> None:
        self._chance.choice([self.disc, self.box, self.triangle, self.slice, self.again])()

    def disc(self) -> None:
        at, radius = self._on_grid(), self._size()
        self._curves.append(circle(len(self._curves) + 1, self._point(at), radius))
        self.polygons.append(round_points(at, radius, 0.0, 2 * pi)[:-1])

    def slice(self) -> None:
        """A piece of a disc between two multiples of 45 degrees, as a snapped chord cuts it off."""
        at, radius = self._on_grid(), self._size()
        begin = self._chance.randint(0, 7)
        sweep = self._chance.randint(1, 7)
        a, b = (begin * pi / 4, (begin + sweep) * pi / 4)
        centre, start, end = (self._point(p) for p in (at, on_circle(at, radius, a), on_circle(at, radius, b)))
        self._curves.append(arc(len(self._curves) + 1, centre, start, end))
        self._curves.append(line(len(self._curves) + 1, end, start))
        self.polygons.append(round_points(at, radius, a, b))

    def box(self) -> None:
        (x, y), w, h = self._on_grid(), self._size(), self._size()
        self._closed([(x, y), (x + w, y), (x + w, y + h), (x, y + h)])

    def triangle(self) -> None:
        (x, y), w, h = self._on_grid(), self._size(), self._size()
        self._closed([(x, y), (x + w, y), (x + self._chance.choice([0.0, w / 2, w]), y + h)])

    def again(self) -> None:
        """A shape with straight sides once more, on the same place."""
        straight = [p for p in self.polygons if len(p) <= 4]
        if straight:
            self._closed([(float(x), float(y)) for x, y in self._chance.choice(straight)])
        else:
            self.box()

    def _closed(self, corners: list[Point]) -> None:
        numbers = [self._point(corner) for corner in corners]
        for a, b in itertools.pairwise([*numbers, numbers[0]]):
            self._curves.append(line(len(self._curves) + 1, a, b))
        self.polygons.append(np.array(corners))

    @property
    def raw(self) -> Raw:
        return raw(self._points, self._curves)


def on_circle(at: Point, radius: float, angle: float) -> Point:
    return at[0] + radius * cos(angle), at[1] + radius * sin(angle)


def round_points(at: Point, radius: float, begin: float, end: float) -> Floats:
    """Points on an arc, as far outside as the chords between them are inside, but for its ends: the polygon has the area of the arc."""
    steps = max(2, round(FACETS * (end - begin) / (2 * pi)))
    angles = np.linspace(begin, end, steps + 1)
    half = (end - begin) / steps / 2
    out = radius * np.sqrt(half / (np.sin(half) * np.cos(half)))
    points = np.stack([at[0] + out * np.cos(angles), at[1] + out * np.sin(angles)], axis=1)
    if end - begin < 2 * pi - 1e-9:
        points[0], points[-1] = on_circle(at, radius, begin), on_circle(at, radius, end)
    return points


def cells(polygons: list[Floats]) -> dict[frozenset[int], float]:
    """The area of what lies in exactly these polygons, by clipping."""
    shapes = [manifold3d.CrossSection([p]) for p in polygons]
    found = {}
    for count in range(1, len(shapes) + 1):
        for inside in itertools.combinations(range(len(shapes)), count):
            here = shapes[inside[0]]
            for k in inside[1:]:
                here = here ^ shapes[k]
            for k in set(range(len(shapes))) - set(inside):
                here = here - shapes[k]
            found[frozenset(inside)] = float(here.area())
    return found


def within(polygon: Floats, point: Floats) -> bool:
    """By crossings of a ray."""
    a, b = polygon, np.roll(polygon, -1, axis=0)
    spans = (a[:, 1] > point[1]) != (b[:, 1] > point[1])
    x = a[:, 0] + (point[1] - a[:, 1]) * (b[:, 0] - a[:, 0]) / np.where(spans, b[:, 1] - a[:, 1], 1.0)
    return bool(np.count_nonzero(spans & (x > point[0])) % 2)


def inner_point(rings: list[Floats]) -> Floats:
    """A place inside outlines: of the middles of all pieces of many lines across, the one that keeps farthest from every outline."""
    every = np.concatenate(rings)
    low, high = every[:, 1].min(), every[:, 1].max()
    middles = []
    for share in np.linspace(0.02, 0.98, 41):
        y = low + share * (high - low)
        xs: list[float] = []
        for ring in rings:
            a, b = ring, np.roll(ring, -1, axis=0)
            spans = (a[:, 1] > y) != (b[:, 1] > y)
            xs += (a[spans, 0] + (y - a[spans, 1]) * (b[spans, 0] - a[spans, 0]) / (b[spans, 1] - a[spans, 1])).tolist()
        xs.sort()
        middles += [((left + right) / 2, y) for left, right in zip(xs[::2], xs[1::2], strict=True)]
    found = np.array(middles)
    clear = np.min(np.linalg.norm(found[:, None] - every, axis=-1), axis=1)
    return np.asarray(found[np.argmax(clear)])


def measured(sketch: Sketch) -> dict[frozenset[int], float]:
    """The same from the regions of the drawing: each counted to the shapes that a place inside it lies in."""
    drawn = graph_of(read(sketch.raw))
    found: dict[frozenset[int], float] = defaultdict(float)
    for region in drawn.regions:
        loops = [region.boundary, *(drawn.loop(inner) for inner in region.inner)]
        place = inner_point([loop.curve.sampled(24)[1][:-1] for loop in loops])
        found[frozenset(k for k, polygon in enumerate(sketch.polygons) if within(polygon, place))] += region.area
    return found


@pytest.mark.parametrize("part", range(8))
def test_areas_agree_with_clipping(part: int) -> None:
    for number in range(DRAWINGS):
        sketch = Sketch(random.Random(1000 * part + number))
        for _ in range(2 + number % 3):
            sketch.add()
        wanted, found = cells(sketch.polygons), measured(sketch)
        # what only lies between shapes is in none of them
        for inside in (wanted.keys() | found.keys()) - {frozenset()}:
            assert abs(wanted.get(inside, 0.0) - found.get(inside, 0.0)) < 0.02, (part, number, set(inside), sketch.raw)
