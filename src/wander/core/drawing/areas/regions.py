"""The closed areas of a drawing, on its exact curves.

Curves are cut where they cross; the parts and their ends make a planar graph; walking round its faces gives the areas. A face is walked by
turning as sharply as possible at every end, so that nothing lies between.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from math import dist, hypot

import numpy as np

from wander.core.drawing.areas.faces import Face, smallest_round
from wander.core.drawing.areas.parts import Part, Side
from wander.core.drawing.curves.boxes import Boxes
from wander.core.drawing.curves.crossings import MEETS, crossings, runs_along, self_crossings
from wander.core.drawing.curves.even import Even, may_share, meetings
from wander.core.drawing.curves.paths import begun_at, bezier_path, even_path
from wander.core.drawing.curves.pieces import Piece
from wander.core.drawing.outlines.loop import Loop, by_age
from wander.core.drawing.outlines.outline import Stretch, outline
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import reverse, split

SAME = 1e-6
"""Ends closer than this (mm) are one."""
PARALLEL = 1e-5
"""Radians between directions that count as one: of these the bend decides which comes first."""


@dataclass(frozen=True)
class Region:
    """A closed area. name: the curves round it, with `#2` where several areas have the same ones. curves: the curve of each of its sides.

    inner: outlines of what is cut out of it. area: mm2, without that. centroid: (2,) mm, of what lies within its outline; begins: where that does.
    """

    name: str
    sides: tuple[Side, ...]
    curves: tuple[str, ...]
    inner: tuple[tuple[Side, ...], ...]
    area: float
    centroid: Floats
    begins: Floats
    _graph: Graph = field(repr=False, compare=False)

    @cached_property
    def boundary(self) -> Loop:
        """Its outline, worked out where it is asked for."""
        return self._graph.loop(self.sides)


@dataclass
class Graph:
    """nodes: places (n, 2). parts: between them. crossed: places where curves cross that share no end there, with the curves."""

    nodes: Floats
    parts: list[Part]
    crossed: list[tuple[Floats, tuple[str, str]]] = field(default_factory=list)

    @cached_property
    def regions(self) -> tuple[Region, ...]:
        return _regions(self)

    def union(self, names: Iterable[str]) -> list[tuple[Side, ...]]:
        """Outlines round the named regions taken together, the largest first. Raises KeyError on a name that there is not."""
        known = {region.name: region for region in self.regions}
        sides = {side for name in names for side in known[name].sides}
        outer = {s for s in sides if Side(s.part, not s.forward) not in sides}
        walks = _walks(self, outer)
        return sorted(walks, key=lambda w: -abs(self.loop(w).area))

    def path(self, sides: Sequence[Side]) -> str:
        """The path round a walk (SVG, mm): lines and arcs as such."""
        found = ""
        for side in sides:
            part = self.parts[side.part]
            if part.form is None:
                path = bezier_path(part.curve if side.forward else reverse(part.curve))
                found += path if not found else path[path.index("C") :]
                continue
            share = part.share if side.forward else part.share[::-1]
            found += ("" if found else begun_at(part.form, share[0])) + even_path(part.form, share)
        return found + "Z"

    def loop(self, sides: Sequence[Side]) -> Loop:
        stretches = []
        for side in sides:
            part = self.parts[side.part]
            whole = part.nodes[0] == part.nodes[1] and len(sides) == 1
            curve = part.curve if side.forward else reverse(part.curve)
            # a circle begins anywhere; a spline that closes does so at a point of its own
            corner = "" if whole and not part.ends[0] else self.corners[part.nodes[0 if side.forward else 1]]
            stretches.append(Stretch(curve, part.form is not None, whole, part.curve_id, corner))
        return outline(stretches)

    @cached_property
    def corners(self) -> dict[int, str]:
        """What each node is called: the oldest point there, or the curves that cross there, numbered where they do so several times."""
        points: dict[int, list[str]] = defaultdict(list)
        curves: dict[int, set[str]] = defaultdict(set)
        for part in self.parts:
            for node, point in zip(part.nodes, part.ends, strict=True):
                curves[node].add(part.curve_id)
                points[node] += [point] if point else []
        crossed: dict[str, int] = {}
        found = {}
        for node in sorted(curves):
            if points[node]:
                found[node] = min(points[node], key=by_age)
                continue
            name = "x".join(sorted(curves[node], key=by_age))
            crossed[name] = crossed.get(name, 0) + 1
            found[node] = name if crossed[name] == 1 else f"{name}.{crossed[name]}"
        return found


def graph(pieces: Sequence[Piece]) -> Graph:
    """The planar graph of all curves that are not construction."""
    drawn = [piece for piece in pieces if not piece.construction]
    cuts: list[list[float]] = [[] for _ in drawn]
    crossed: list[tuple[Floats, tuple[str, str]]] = []
    doubled: set[int] = set()
    boxes = Boxes([piece.curve for piece in drawn], SAME)
    for i, a in enumerate(drawn):
        # lines and arcs of circles don't cross themselves
        for s, t in self_crossings(a.curve) if not a.even else ():
            cuts[i] += [float(s), float(t)]
            crossed.append((a.curve(float(s)), (a.id, a.id)))
        for j in boxes.met_before(i):
            _meet(drawn, i, j, cuts, crossed, doubled)
    parts: list[tuple[str, Curve, Even | None, tuple[float, float], tuple[str, str]]] = []
    for i, piece in enumerate(drawn):
        if i in doubled:
            continue
        first, last = piece.ends or ("", "")
        for curve, share in _cut(piece.curve, cuts[i]):
            parts.append((piece.id, curve, piece.form, share, (first if share[0] == 0.0 else "", last if share[1] == 1.0 else "")))
    ends = np.array([p for part in parts for p in (part[1].points[0], part[1].points[-1])]).reshape(-1, 2)
    nodes, numbers = _clustered(ends)
    return Graph(nodes, _each_once([Part(*part, (numbers[2 * k], numbers[2 * k + 1])) for k, part in enumerate(parts)]), crossed)


def _each_once(parts: Sequence[Part]) -> list[Part]:
    """Of parts that lie on each other from end to end the first."""
    between: dict[tuple[int, ...], list[Part]] = defaultdict(list)
    found = []
    for part in parts:
        alike = between[tuple(sorted(part.nodes))]
        if not any(_lies_on(part.curve, other.curve) for other in alike):
            alike.append(part)
            found.append(part)
    return found


def _lies_on(curve: Curve, other: Curve) -> bool:
    inside = curve(np.array([0.25, 0.5, 0.75]))
    return bool(np.linalg.norm(other(closest_parameters(other, inside)) - inside, axis=1).max() <= SAME)


def crossings_with_construction(pieces: Sequence[Piece]) -> list[tuple[Floats, tuple[str, str]]]:
    """Places where construction curves cross others or each other inside of both, with the curves: a graph leaves them out."""
    found = []
    boxes = Boxes([piece.curve for piece in pieces], SAME)
    for i, a in enumerate(pieces):
        for b in (pieces[j] for j in boxes.met_before(i)):
            if not (a.construction or b.construction):
                continue
            inside = [(s, t) for s, t in _crossings(a, b) if _inside(a, s) and _inside(b, t)]
            found += [(a.curve(s), (a.id, b.id)) for s, _ in inside]
    return found


def _meet(drawn: Sequence[Piece], i: int, j: int, cuts: list[list[float]], crossed: list[tuple[Floats, tuple[str, str]]], doubled: set[int]) -> None:
    """Note where two curves meet; one that lies wholly on another is left out, the health of the drawing tells of it."""
    a, b = drawn[i], drawn[j]
    ends = _ends_on(a, b), _ends_on(b, a)
    # splines may have a straight part
    may_run_along = not (a.form and b.form) or may_share(a.form, b.form, SAME)
    for one, other, number in ((a, b, i), (b, a, j)):
        along = runs_along(one.curve, other.curve) if may_run_along else None
        if along is not None and along[1] - along[0] > 1 - 1e-9:
            doubled.add(number)
            return
        # where curves run together, both are cut at the ends of what they share
        cuts[number] += along or ()
    # a curve that ends on another cuts it there
    cuts[j] += ends[0]
    cuts[i] += ends[1]
    for s, t in _crossings(a, b):
        inside_a, inside_b = _inside(a, s), _inside(b, t)
        if inside_a:
            cuts[i].append(s)
        if inside_b:
            cuts[j].append(t)
        if inside_a and inside_b:
            crossed.append((a.curve(s), (a.id, b.id)))


def _crossings(a: Piece, b: Piece) -> list[tuple[float, float]]:
    """Pairs of parameters at which two curves meet."""
    if a.form is not None and b.form is not None:
        return meetings(a.form, b.form, MEETS)
    return [(float(s), float(t)) for s, t in crossings(a.curve, b.curve)]


def _ends_on(piece: Piece, other: Piece) -> list[float]:
    """Parameters of the other curve at which the first one ends on it."""
    ends = piece.curve.points[[0, -1]]
    if other.form is not None:
        feet = [other.form.foot((float(x), float(y))) for x, y in ends]
        return [t for t, (x, y) in zip(feet, ends, strict=True) if hypot(other.form.at(t)[0] - x, other.form.at(t)[1] - y) <= SAME]
    found = closest_parameters(other.curve, ends)
    return found[np.linalg.norm(other.curve(found) - ends, axis=1) <= SAME].tolist()


def _inside(piece: Piece, t: float) -> bool:
    """Whether a place on a curve is none of its ends."""
    place = piece.curve(t) if piece.form is None else piece.form.at(t)
    return all(dist(place, end) > SAME for end in piece.curve.points[[0, -1]])


def _cut(curve: Curve, at: Sequence[float]) -> list[tuple[Curve, tuple[float, float]]]:
    """The parts of a curve between the given parameters, each over [0, 1]; a closed curve that is cut once starts there."""
    stops = _stops(curve, at)
    if not stops:
        return [(curve, (0.0, 1.0))]
    found, rest, begun = [], curve, 0.0
    for t in stops:
        first, rest = split(rest, t)
        found.append((_unit(first), (begun, t)))
        begun = t
    found.append((_unit(rest), (begun, 1.0)))
    return found


def _stops(curve: Curve, at: Sequence[float]) -> list[float]:
    """Where to cut, rising: on a knot where one lies so near that the part between would be a hair, and never twice in one place."""
    # most curves only meet others at their ends
    at = [t for t in at if 0.0 < t < 1.0]
    if not at:
        return []
    places = np.sort(at)
    near = SAME / np.maximum(np.linalg.norm(curve.derivatives(places, 1)[1], axis=1), 1e-9)
    breaks = curve.space.breaks
    knot = breaks[np.argmin(np.abs(breaks[:, None] - places), axis=0)]
    snapped = np.where(np.abs(knot - places) <= near, knot, places)
    found: list[float] = []
    for t, hair in zip(snapped.tolist(), near.tolist(), strict=True):
        if hair < t < 1 - hair and (not found or t - found[-1] > hair):
            found.append(t)
    return found


def _unit(curve: Curve) -> Curve:
    return Curve(curve.space.mapped(0.0, 1.0), curve.points)


def _clustered(ends: Floats) -> tuple[Floats, list[int]]:
    nodes: list[Floats] = []
    cells: dict[tuple[int, int], list[int]] = defaultdict(list)
    numbers = []
    for p in ends:
        cell = (int(np.floor(p[0] / (4 * SAME))), int(np.floor(p[1] / (4 * SAME))))
        near = [k for dx in (-1, 0, 1) for dy in (-1, 0, 1) for k in cells.get((cell[0] + dx, cell[1] + dy), ())]
        match = next((k for k in near if np.linalg.norm(nodes[k] - p) <= SAME), None)
        if match is None:
            match = len(nodes)
            nodes.append(p)
            cells[cell].append(match)
        numbers.append(match)
    return np.array(nodes).reshape(-1, 2), numbers


def _loose(parts: Sequence[Part]) -> set[int]:
    """Parts that lead nowhere: they bound nothing."""
    loose: set[int] = set()
    at: dict[int, set[int]] = defaultdict(set)
    for k, part in enumerate(parts):
        if part.nodes[0] != part.nodes[1]:
            for node in part.nodes:
                at[node].add(k)
        else:
            at[part.nodes[0]] |= {k, ~k}
    waiting = [node for node, here in at.items() if len(here) == 1]
    while waiting:
        node = waiting.pop()
        if len(at[node]) != 1:
            continue
        k = at[node].pop()
        loose.add(k)
        for other in parts[k].nodes:
            at[other].discard(k)
            if len(at[other]) == 1:
                waiting.append(other)
    return loose


def _walks(graph_: Graph, allowed: set[Side]) -> list[tuple[Side, ...]]:
    """Walks along the allowed sides that turn left as sharply as possible: round the areas on their left."""
    parts = graph_.parts
    leaving: dict[int, list[tuple[float, float, Side]]] = defaultdict(list)
    for side in allowed:
        part = parts[side.part]
        angle, bend = part.leaves(side.forward)
        leaving[part.nodes[0 if side.forward else 1]].append((angle, bend, side))
    for here in leaving.values():
        _sort_round(here)
    walks: list[tuple[Side, ...]] = []
    left = set(allowed)
    for start in sorted(allowed, key=lambda s: (s.part, not s.forward)):
        if start not in left:
            continue
        walk, side = [], start
        while side in left:
            left.discard(side)
            walk.append(side)
            part = parts[side.part]
            node = part.nodes[1 if side.forward else 0]
            side = _next(leaving[node], side, part)
        walks.append(tuple(walk))
    return walks


def _next(here: list[tuple[float, float, Side]], came: Side, part: Part) -> Side:
    """The side that leaves just clockwise of the way back."""
    back = Side(came.part, not came.forward)
    index = next((i for i, (_, _, s) in enumerate(here) if s == back), None)
    if index is not None:
        return here[index - 1][2]
    angle, bend = part.leaves(not came.forward)
    order = [*here, (angle, bend, back)]
    _sort_round(order)
    return order[next(i for i, (_, _, s) in enumerate(order) if s == back) - 1][2]


def _sort_round(here: list[tuple[float, float, Side]]) -> None:
    """Counter-clockwise by direction; where directions agree, the one that bends more to the left comes later."""
    here.sort(key=lambda item: item[0])
    merged: list[list[tuple[float, float, Side]]] = []
    for item in here:
        if merged and item[0] - merged[-1][0][0] < PARALLEL:
            merged[-1].append(item)
        else:
            merged.append([item])
    if len(merged) > 1 and merged[0][0][0] + 2 * np.pi - merged[-1][0][0] < PARALLEL:
        merged[-1] += merged.pop(0)
    here[:] = [item for group in merged for item in sorted(group, key=lambda g: g[1])]


def _regions(graph_: Graph) -> tuple[Region, ...]:
    loose = _loose(graph_.parts)
    allowed = {Side(k, forward) for k in range(len(graph_.parts)) if k not in loose for forward in (True, False)}
    around = [Face(walk, tuple((graph_.parts[side.part], side.forward) for side in walk)) for walk in _walks(graph_, allowed)]
    faces = [face for face in around if face.area > 1e-9]
    faces.sort(key=lambda face: (_curves_round(graph_, face.walk), *np.round(face.moments[1], 6)))
    low, high = (np.array([face.box[k] for face in faces]).reshape(-1, 2) for k in (0, 1))
    holes: dict[int, list[Face]] = defaultdict(list)
    for outside in (face for face in around if face.area < -1e-9):
        home = smallest_round(outside, faces, low, high)
        if home is not None:
            holes[home].append(outside)
    found = []
    names: dict[str, int] = {}
    for k, face in enumerate(faces):
        name = "+".join(_curves_round(graph_, face.walk))
        names[name] = names.get(name, 0) + 1
        full = name if names[name] == 1 else f"{name}#{names[name]}"
        curves = tuple(graph_.parts[side.part].curve_id for side in face.walk)
        # what is cut out is walked clockwise: its area is less than nothing
        area = face.area + sum(hole.area for hole in holes[k])
        found.append(Region(full, face.walk, curves, tuple(hole.walk for hole in holes[k]), area, face.moments[1], face.begins, graph_))
    return tuple(found)


def _curves_round(graph_: Graph, walk: Sequence[Side]) -> list[str]:
    return sorted({graph_.parts[s.part].curve_id for s in walk}, key=lambda c: (c[0], int(c[1:])))
