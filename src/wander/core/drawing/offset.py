"""Curves at a distance beside others. Lines, arcs and circles exactly, splines within 5e-4 mm; corners run on until they meet."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np

from wander.core.document.expressions import Kind, evaluate
from wander.core.drawing.cutting import chain_of
from wander.core.drawing.model import AnyCurve, DrawnArc, DrawnCircle, DrawnLine
from wander.core.drawing.sheet import CannotDraw, Sheet
from wander.core.drawing.solver import solve
from wander.core.drawing.splines import add_like
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameter
from wander.core.geometry.curve import Curve
from wander.core.geometry.space import SplineSpace


def offset(sheet: Sheet, curves: Sequence[str], distance: float | str) -> list[str]:
    """A copy of a chain at a distance to its right: outside of an outline that runs counter-clockwise. Straight sides stay linked to their originals.

    Raises CannotDraw where an arc would shrink to nothing or a spline fold over.
    """
    size = evaluate(distance, Kind.LENGTH, sheet.scope)
    if abs(size) < 1e-9:
        raise CannotDraw("an offset needs a distance")
    chain = chain_of(sheet, curves)
    if len(chain) == 1 and chain[0][0].ends() is None:
        return [_closed(sheet, chain[0][0], size)]
    closed = _last(chain[-1]) == _first(chain[0])
    if closed and _turning(sheet, chain) < 0:
        chain = [(curve, not forward) for curve, forward in reversed(chain)]
    corners = [_corner(sheet, before, after, size) for before, after in itertools.pairwise(chain)]
    first = _corner(sheet, chain[-1], chain[0], size) if closed and len(chain) > 1 else _end(sheet, chain[0], size, at_start=True)
    last = first if closed and len(chain) > 1 else _end(sheet, chain[-1], size, at_start=False)
    stops = [first, *corners, last]
    points = [sheet.add_point(p) for p in stops[: len(stops) - (1 if closed and len(chain) > 1 else 0)]]
    made = []
    for i, (curve, forward) in enumerate(chain):
        begin, end = points[i], points[(i + 1) % len(points)]
        made.append(_beside(sheet, curve, forward, begin, end, size))
    links = _links(sheet, chain, made, distance if size > 0 or isinstance(distance, str) else abs(size))
    solved = solve(sheet.drawing())
    # round parts follow from their neighbours, so some links may say what others say already
    sheet.drop({dispute.last for dispute in solved.standing.disputes} & links)
    sheet.settle(solved.drawing)
    return made


def _links(sheet: Sheet, chain: Sequence[Run], made: Sequence[str], distance: float | str) -> set[str]:
    """What keeps the straight sides at their distance, and round ones smooth between them."""
    found = set()
    for (curve, _), new in zip(chain, made, strict=True):
        if isinstance(curve, DrawnLine):
            found.add(sheet.add_hold("distance", [new, curve.id], distance))
            found.add(sheet.add_hold("parallel", [curve.id, new]))
    for (a, b), (c, d) in zip(itertools.pairwise(chain), itertools.pairwise(made), strict=True):
        if _tangent(sheet, a[0], b[0]):
            found.add(sheet.add_hold("tangent", [c, d]))
    return found


Run = tuple[AnyCurve, bool]


def _first(run: Run) -> str:
    ends = run[0].ends() or ("", "")
    return ends[0 if run[1] else 1]


def _last(run: Run) -> str:
    ends = run[0].ends() or ("", "")
    return ends[1 if run[1] else 0]


def _directed(sheet: Sheet, run: Run) -> tuple[Curve, float]:
    return sheet.geometry(run[0]), 1.0 if run[1] else -1.0


def _turning(sheet: Sheet, chain: Sequence[Run]) -> float:
    """Twice the area inside a closed chain, by fine polygons: its sign tells the way round."""
    rings = []
    for run in chain:
        made, sign = _directed(sheet, run)
        p = made.sampled(16)[1]
        rings.append(p if sign > 0 else p[::-1])
    ring = np.concatenate(rings)
    return float(np.sum(ring[:-1, 0] * ring[1:, 1] - ring[:-1, 1] * ring[1:, 0]))


def _at_end(sheet: Sheet, run: Run, *, at_start: bool) -> tuple[Floats, Floats]:
    """Place and unit direction of travel at an end of a run."""
    made, sign = _directed(sheet, run)
    t = made.domain[0 if at_start == run[1] else 1]
    p, d = made.derivatives(t, 1)
    return p, sign * d / np.linalg.norm(d)


def _right(way: Floats) -> Floats:
    return np.array([way[1], -way[0]])


def _end(sheet: Sheet, run: Run, size: float, *, at_start: bool) -> Floats:
    place, way = _at_end(sheet, run, at_start=at_start)
    return place + size * _right(way)


def _corner(sheet: Sheet, before: Run, after: Run, size: float) -> Floats:
    """Where the offsets of two curves that follow each other meet."""
    place, into = _at_end(sheet, before, at_start=False)
    _, out = _at_end(sheet, after, at_start=True)
    middle = _right(into) + _right(out)
    square = float(middle @ middle)
    if square < 1e-9:
        raise CannotDraw("the chain turns back on itself, so its offsets never meet")
    guess = place + size * middle * 2 / square
    # straight sides meet there exactly; where one is round, slide along both until they meet
    for _ in range(30):
        errors, slopes = [], []
        for run in (before, after):
            off, slope = _distance(sheet, run[0], guess, run[1])
            errors.append(off - size)
            slopes.append(slope)
        matrix = np.array(slopes)
        step = np.linalg.lstsq(matrix, np.array(errors), rcond=1e-9)[0]
        guess = guess - step
        if np.linalg.norm(step) < 1e-13 * (1 + abs(size)):
            break
    return guess


def _distance(sheet: Sheet, curve: AnyCurve, place: Floats, forward: bool) -> tuple[float, Floats]:
    """Signed distance to the right of a curve carried on beyond its ends, and its slope."""
    sign = 1.0 if forward else -1.0
    if isinstance(curve, DrawnLine):
        a, b = (np.array(sheet.points[p]) for p in curve.points())
        normal = sign * _right((b - a) / np.linalg.norm(b - a))
        return float((place - a) @ normal), normal
    if isinstance(curve, DrawnArc):
        center = np.array(sheet.points[curve.center])
        radius = float(np.linalg.norm(np.array(sheet.points[curve.start]) - center))
        off = place - center
        size = float(np.linalg.norm(off))
        return sign * (size - radius), sign * off / size
    made = sheet.geometry(curve)
    t = closest_parameter(made, place)
    p, d = made.derivatives(t, 1)
    normal = sign * _right(d / np.linalg.norm(d))
    return float((place - p) @ normal), normal


def _beside(sheet: Sheet, curve: AnyCurve, forward: bool, begin: str, end: str, size: float) -> str:
    if isinstance(curve, DrawnLine):
        return sheet.add_curve(type="line", start=begin, end=end, construction=curve.construction)
    if isinstance(curve, DrawnArc):
        center = np.array(sheet.points[curve.center])
        radius = float(np.linalg.norm(np.array(sheet.points[curve.start]) - center))
        if radius + (size if forward else -size) < 1e-6:
            raise CannotDraw(f"an arc of radius {radius:.4g} mm can't be offset inwards by {abs(size):.4g} mm")
        start, stop = (begin, end) if forward else (end, begin)
        return sheet.add_curve(type="arc", center=curve.center, start=start, end=stop, construction=curve.construction)
    shifted = _shifted(sheet.geometry(curve), size if forward else -size)
    return add_like(sheet, shifted, begin if forward else end, end if forward else begin, curve.construction)[0]


def _shifted(made: Curve, size: float) -> Curve:
    """A spline near the true offset of a curve: it meets it at sixteen places and more in every span."""
    breaks = made.space.breaks
    cut = np.append((breaks[:-1, None] + np.diff(breaks)[:, None] * np.arange(16) / 16).ravel(), breaks[-1])
    space = SplineSpace.from_breaks(3, cut)
    u = space.greville
    _, d, dd = made.derivatives(u, 2)
    speed = np.linalg.norm(d, axis=1)
    bend = (d[:, 0] * dd[:, 1] - d[:, 1] * dd[:, 0]) / speed**3
    if np.any(1 + size * bend < 1e-3):
        at = made(float(u[int(np.argmin(1 + size * bend))]))
        raise CannotDraw(f"the curve bends more tightly than {abs(size):.4g} mm near ({at[0]:.3g}, {at[1]:.3g}); a smaller offset would do")
    points = made(u) + size * np.column_stack([d[:, 1], -d[:, 0]]) / speed[:, None]
    return Curve(space, space.interpolate(points))


def _closed(sheet: Sheet, curve: AnyCurve, size: float) -> str:
    if isinstance(curve, DrawnCircle):
        if curve.radius + size < 1e-6:
            raise CannotDraw(f"a circle of radius {curve.radius:.4g} mm can't be offset inwards by {abs(size):.4g} mm")
        return sheet.add_curve(type="circle", center=curve.center, radius=curve.radius + size, construction=curve.construction)
    made = sheet.geometry(curve)
    ring = made.sampled(16)[1]
    inwards = float(np.sum(ring[:-1, 0] * ring[1:, 1] - ring[:-1, 1] * ring[1:, 0])) < 0
    shifted = _shifted(made, -size if inwards else size)
    count = 12 * max(4, len(made.space.breaks))
    u = np.linspace(0.0, 1.0, min(count, 160) + 1)[:-1]
    ids = [sheet.add_point(p) for p in shifted(u)]
    return sheet.add_curve(type="spline", through=ids, closed=True, construction=curve.construction)


def _tangent(sheet: Sheet, a: AnyCurve, b: AnyCurve) -> bool:
    return any(h["type"] == "tangent" and set(h["of"]) == {a.id, b.id} for h in sheet.holds.values())
