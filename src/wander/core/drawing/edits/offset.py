"""Curves at a distance beside others, which they follow. Lines, arcs and circles exactly, splines within 5e-4 mm; corners run on until they meet."""

from __future__ import annotations

import itertools
from collections.abc import Collection, Sequence

import numpy as np

from wander.core.document.expressions import Kind, evaluate
from wander.core.drawing.curves.beside import NoOffset, beside
from wander.core.drawing.edits.cutting import chain_of
from wander.core.drawing.edits.sheet import CannotDraw, Sheet
from wander.core.drawing.edits.splines import add_like
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.model import FOLLOWED, AnyCurve, DrawnArc, DrawnBeside, DrawnCircle, DrawnFoil, DrawnLine, DrawnTrace
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameter
from wander.core.geometry.curve import Curve


def offset(sheet: Sheet, curves: Sequence[str], distance: float | str) -> list[str]:
    """A copy of a chain at a distance to its right: outside of an outline that runs counter-clockwise. It follows its originals.

    A spline that meets its neighbour at a corner is the exception: what is left of its offset there is drawn once and is free.
    Raises CannotDraw where an arc would shrink to nothing or a spline fold over.
    """
    size = evaluate(distance, Kind.LENGTH, sheet.scope)
    if abs(size) < 1e-9:
        raise CannotDraw("an offset needs a distance")
    chain = chain_of(sheet, curves)
    typed = distance if size > 0 else f"-({distance})" if isinstance(distance, str) else abs(size)
    if len(chain) == 1 and chain[0][0].ends() is None:
        return [_closed(sheet, chain[0][0], size, typed)]
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
        joints = [chain[i - 1] if i or closed else None, chain[(i + 1) % len(chain)] if i + 1 < len(chain) or closed else None]
        smooth = all(near is None or near[0] is curve or _tangent(sheet, near[0], curve) for near in joints)
        made.append(_run_beside(sheet, curve, forward, begin, end, size, smooth=smooth))
    links = _links(sheet, chain, made, typed, closed=closed)
    solved = solve(sheet.drawing())
    # round parts follow from their neighbours, so some links may say what others say already
    sheet.drop({dispute.last for dispute in solved.standing.disputes} & links)
    sheet.settle(solved.drawing)
    return made


def _links(sheet: Sheet, chain: Sequence[Run], made: Sequence[str], distance: float | str, *, closed: bool) -> set[str]:
    """What keeps the sides at their distance, and round ones smooth between them."""
    found = set()
    follows = [isinstance(sheet.curves[new], DrawnBeside) for new in made]
    for i, ((curve, _), new) in enumerate(zip(chain, made, strict=True)):
        # where the offset of a spline ends, what runs on from it smoothly is at that distance already
        led = any(follows[k % len(made)] for k in (i - 1, i + 1) if closed or 0 <= k < len(made))
        if follows[i]:
            found.add(sheet.add_hold("distance", [new], distance))
        elif isinstance(curve, DrawnLine | DrawnArc) and not led:
            found.add(sheet.add_hold("distance", [new, curve.id], distance))
        if isinstance(curve, DrawnLine):
            found.add(sheet.add_hold("parallel", [curve.id, new]))
    for i, ((a, _), (b, _)) in enumerate(itertools.pairwise(chain)):
        if _tangent(sheet, a, b) and not (follows[i] or follows[i + 1]):
            found.add(sheet.add_hold("tangent", [made[i], made[i + 1]]))
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


def _run_beside(sheet: Sheet, curve: AnyCurve, forward: bool, begin: str, end: str, size: float, *, smooth: bool) -> str:
    if isinstance(curve, DrawnLine):
        return sheet.add_curve(type="line", start=begin, end=end, construction=curve.construction)
    if isinstance(curve, DrawnArc):
        center = np.array(sheet.points[curve.center])
        radius = float(np.linalg.norm(np.array(sheet.points[curve.start]) - center))
        if radius + (size if forward else -size) < 1e-6:
            raise CannotDraw(f"an arc of radius {radius:.4g} mm can't be offset inwards by {abs(size):.4g} mm")
        start, stop = (begin, end) if forward else (end, begin)
        return sheet.add_curve(type="arc", center=curve.center, start=start, end=stop, construction=curve.construction)
    own = size if forward else -size
    start, stop = (begin, end) if forward else (end, begin)
    shifted = _shifted(sheet, curve, own)
    if smooth and curve.type in FOLLOWED:
        return sheet.add_curve(type="beside", of=curve.id, distance=own, start=start, end=stop, construction=curve.construction)
    return add_like(sheet, shifted, start, stop, curve.construction)[0]


def _closed(sheet: Sheet, curve: AnyCurve, size: float, distance: float | str) -> str:
    if isinstance(curve, DrawnCircle):
        if curve.radius + size < 1e-6:
            raise CannotDraw(f"a circle of radius {curve.radius:.4g} mm can't be offset inwards by {abs(size):.4g} mm")
        made = sheet.add_curve(type="circle", center=curve.center, radius=curve.radius + size, construction=curve.construction)
        sheet.add_hold("distance", [made, curve.id], distance)
        return made
    if isinstance(curve, DrawnFoil):
        raise CannotDraw(f"{sheet.called(curve.id)} has a corner at its tail; split it there, and offset the parts together")
    if curve.type not in FOLLOWED:
        raise CannotDraw(f"{sheet.called(curve.id)} follows something else; release it first, or offset what it follows")
    # how a traced edge runs is known only where the body is: its offset is made with it
    if not isinstance(curve, DrawnTrace) or sheet.has_shape(curve):
        p = sheet.geometry(curve).sampled(16)[1]
        if float(np.sum(p[:-1, 0] * p[1:, 1] - p[:-1, 1] * p[1:, 0])) < 0:
            size = -size
        _shifted(sheet, curve, size)
    made = sheet.add_curve(type="beside", of=curve.id, distance=size, construction=curve.construction)
    sheet.add_hold("distance", [made], distance)
    return made


def _shifted(sheet: Sheet, curve: AnyCurve, size: float) -> Curve:
    try:
        return beside(sheet.geometry(curve), size)
    except NoOffset as error:
        raise CannotDraw(str(error)) from error


def let_go(sheet: Sheet, curve: DrawnBeside) -> None:
    """The offset as a spline of its own, through points within 5e-4 mm, in the place of the one that followed."""
    made = sheet.geometry(curve)
    ends = curve.ends()
    if ends is not None:
        new = add_like(sheet, made, *ends, curve.construction)[0]
    else:
        count = min(160, max(48, len(made.space.breaks) - 1))
        new = sheet.add_curve(
            type="spline", through=[sheet.add_point(p) for p in made(np.arange(count) / count)], closed=True, construction=curve.construction
        )
    for hold in sheet.holds.values():
        if hold["of"] != [curve.id]:
            hold["of"] = [new if o == curve.id else o for o in hold["of"]]
    sheet.drop([curve.id])


def let_go_of(sheet: Sheet, curves: Collection[str], staying: Collection[str] = ()) -> None:
    """Offsets of curves that are about to be parted, joined or taken away stay where they are, as curves of their own; `staying` ones do not."""
    for curve in list(sheet.curves.values()):
        if isinstance(curve, DrawnBeside) and curve.of in curves and curve.id not in staying and sheet.has_shape(curve):
            let_go(sheet, curve)


def _tangent(sheet: Sheet, a: AnyCurve, b: AnyCurve) -> bool:
    return any(h["type"] == "tangent" and set(h["of"]) == {a.id, b.id} for h in sheet.holds.values())
