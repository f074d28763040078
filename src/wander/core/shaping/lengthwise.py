"""From rows of control points to the sides of a skin: where sections stand along it, and how its lines go from one to the next."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.geometry.space import SplineSpace, change_of_basis
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import lengths
from wander.core.shaping.fairing import along, even_swinging, ring_swinging, swinging
from wander.core.shaping.panels import Panel
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import NamedFace
from wander.core.shaping.skin import Skin

ROUND = (np.arange(24) + 0.5) / 24
"""Places across a strip at which sections are compared."""
AS_CUT = 1e-6
"""A section that was cut lies on the skin while it is no further off, by the size of the body."""
NO_STEP = 0.02
"""A step along the centres counts for no less than this share of what the outlines move."""


@dataclass(frozen=True)
class Lines:
    """How the lines of a smooth skin go from section to section: one linear map of these for all of them.

    rows: (n, k) of the control points of the sections; offset: (n, 3), what is added for all; slopes: (n, 2) of slopes that are given at the two
    ends, less drift, (2, 3). bends: (n, 2) of second derivatives that are added at the two ends; None where that moves more than the bay there.
    """

    space: SplineSpace
    rows: Floats
    offset: Floats
    slopes: Floats
    drift: Floats
    bends: Floats | None = None


def chords(around: Floats, sections: Sequence[PlacedSection], leads: Sequence[int], *, fair: bool) -> Floats:
    """How far it is from each section that leads to the next, (l - 1,), mm.

    A fair skin counts along the line of centres, so that places run forward by themselves; where centres hardly move, what lies round them says how
    far.
    """
    moved = lengths(np.diff(around[leads], axis=0)).mean(axis=1)
    if not fair:
        return moved
    return np.hypot(lengths(np.diff(np.stack([sections[i].center for i in leads]), axis=0)), NO_STEP * moved)


def parameters(chords: Floats, sections: Sequence[PlacedSection], leads: Sequence[int]) -> Floats:
    """By the chords between the sections that lead, 0 to 1; those that follow take their share of the way between them."""
    v = np.empty(len(sections))
    v[leads] = np.concatenate([[0.0], np.cumsum(chords)]) / chords.sum()
    for before, after in pairwise(leads):
        for i in range(before + 1, after):
            share = sections[i].share
            assert share is not None
            v[i] = v[before] + share * (v[after] - v[before])
    if np.any(np.diff(v) < 1e-6):
        at = int(np.argmin(np.diff(v)))
        raise BadInput(f"sections {at + 1} and {at + 2} stand at the same place along the body")
    return v


def round_about(strips: Sequence[Panel]) -> Floats:
    """Places round the sections that belong together, (k, m, 3): the same number on every strip, wherever its knots are."""
    return np.concatenate([strip.space.evaluate(strip.rows.transpose(1, 0, 2), ROUND) for strip in strips]).transpose(1, 0, 2)


def batten(v: Floats, held: Mapping[int, Sequence[Floats]]) -> Lines:
    """One natural cubic through all sections, straight through two; with given slopes where they are held."""
    if len(v) == 2 and not held:
        return Lines(SplineSpace.from_breaks(1, v), np.eye(2), np.zeros((2, 3)), np.zeros((2, 2)), np.zeros((2, 3)))
    space, matrix = cubic_system(v, *(End.GIVEN if index in held else End.NATURAL for index in (0, -1)))
    inverse = np.asarray(np.linalg.inv(matrix), dtype=np.float64)
    return Lines(space, inverse[:, : len(v)], np.zeros((len(inverse), 3)), inverse[:, len(v) :], np.zeros((2, 3)))


def ring_lines(around: Floats, centers: Floats, v: Floats, slack: Floats | None, skin: Skin) -> Lines:
    """The lines of a smooth skin the last section of which is its first: it goes on there as it begins. The rest as for `fair_lines`."""
    nothing = np.zeros((2, 3))
    if skin is Skin.BATTEN:
        space, system = cubic_system(v, End.PERIODIC)
        rows = np.asarray(np.linalg.inv(system)[:, : len(v)], dtype=np.float64)
        return Lines(space, rows, np.zeros((len(rows), 3)), np.zeros((len(rows), 2)), nothing)
    length = float(lengths(np.diff(centers, axis=0)).sum() / (v[-1] - v[0]))
    found = along(v, around - centers[:, None], swings=ring_swinging(v), held={}, slack=slack, length=length, ring=True, skin=skin)
    return Lines(found.space, found.shapes, (found.centers - found.shapes) @ centers, found.slopes, nothing)


def fair_lines(
    strips: Sequence[Panel],
    around: Floats,
    centers: Floats,
    v: Floats,
    held: Mapping[int, Sequence[Floats]],
    slack: Floats | None,
    skin: Skin,
    *,
    bent: bool = False,
) -> Lines:
    """The lines of a fair skin; around: places round the sections that lead, (l, m, 3), which have their centres (l, 3) and parameters (l,).

    bent: second derivatives are to be given at an end.
    """
    if len(v) == 2 and not bent:
        return batten(v, held)
    swings = swinging(v) if skin is Skin.FAIR else even_swinging(v, centers)
    drift = swings[[1, -2]] @ centers
    slopes = {}
    for index, rows in held.items():
        own = [strip.space.evaluate(row[:, None], ROUND)[:, 0] for strip, row in zip(strips, rows, strict=True)]
        slopes[index] = np.concatenate(own) - drift[index]
    length = float(lengths(np.diff(centers, axis=0)).sum() / (v[-1] - v[0]))
    found = along(v, around - centers[:, None], swings=swings, held=slopes, slack=slack, length=length, skin=skin)
    return Lines(found.space, found.shapes, (found.centers - found.shapes) @ centers, found.slopes, drift, found.bends)


def skin_lines(
    strips: Sequence[Panel],
    around: Floats,
    centers: Floats,
    v: Floats,
    held: Mapping[int, Sequence[Floats]],
    slack: Floats | None,
    creases: Sequence[int],
    skin: Skin,
    *,
    bent: bool = False,
    ring: bool = False,
) -> Lines:
    """The lines of a smooth skin, which bend anew at the sections with the numbers `creases`; the rest as for `fair_lines` and `ring_lines`."""
    if ring:
        return ring_lines(around, centers, v, slack, skin)
    parts = []
    for first, last in pairwise([0, *creases, len(v) - 1]):
        own = slice(first, last + 1)
        ends = {index: rows for index, rows in held.items() if (first == 0 if index == 0 else last == len(v) - 1)}
        bays = None if slack is None else slack[first:last]
        if skin is not Skin.BATTEN:
            parts.append(fair_lines(strips, around[own], centers[own], v[own], ends, bays, skin, bent=bent))
        else:
            parts.append(batten(v[own], ends))
    return _chained(parts)


def _chained(parts: Sequence[Lines]) -> Lines:
    """Lines one after the other, each of which begins with the section that the one before ends with."""
    if len(parts) == 1:
        return parts[0]
    count = sum(part.rows.shape[1] - 1 for part in parts) + 1
    breaks, counts = [parts[0].space.breaks[:1]], []
    rows, offset, slopes, bends = [np.eye(1, count)], [np.zeros((1, 3))], [np.zeros((1, 2))], [np.zeros((1, 2))]
    first = 0
    for number, part in enumerate(parts):
        space = part.space.elevated(3)
        change = change_of_basis(part.space, space) if space.degree > part.space.degree else np.eye(space.count)
        own = np.zeros((space.count, count))
        own[:, first : first + part.rows.shape[1]] = change @ part.rows
        # slopes are given at the first end of the first and at the last of the last
        own_ends = np.array([number == 0, number == len(parts) - 1], dtype=np.float64)
        given = change @ part.slopes * own_ends
        bends.append(np.zeros((len(given) - 1, 2)) if part.bends is None else (change @ part.bends * own_ends)[1:])
        first += part.rows.shape[1] - 1
        # what they share is the section itself
        own[-1] = np.eye(1, count, first)
        rows.append(own[1:])
        offset.append((change @ part.offset)[1:])
        slopes.append(given[1:])
        breaks.append(space.breaks[1:])
        counts += [*space.multiplicities[1:-1].tolist(), 3]
    space = SplineSpace.from_breaks(3, np.concatenate(breaks), counts[:-1])
    drift = np.stack([parts[0].drift[0], parts[-1].drift[1]])
    local = all(part.bends is not None for part in (parts[0], parts[-1]))
    return Lines(space, np.concatenate(rows), np.concatenate(offset), np.concatenate(slopes), drift, np.concatenate(bends) if local else None)


def parted(faces: Sequence[NamedFace], at: Sequence[float], names: Sequence[Sequence[str]]) -> list[NamedFace]:
    """Faces from end to end in parts that meet at the parameters along the body, strip by strip; names: of the strips in each part."""
    found = []
    for number, face in enumerate(faces):
        rest = face.surface
        for part, place in enumerate(at):
            own, rest = rest.split(place, 1)
            found.append(NamedFace(names[part][number], own, face.closed_u))
        found.append(NamedFace(names[-1][number], rest, face.closed_u))
    return found


def jointed(faces: Sequence[NamedFace], at: Sequence[float]) -> list[NamedFace]:
    """Faces in the parts into which the parameters along the body divide them, those of a bay numbered from its start."""
    found = []
    for face in faces:
        low, high = face.surface.v.domain
        inside = [place for place in at if low + 1e-9 < place < high - 1e-9]
        rest, mark = face.surface, "." if "^" in face.name else "^"
        for number, place in enumerate(inside):
            own, rest = rest.split(place, 1)
            found.append(replace(face, name=f"{face.name}{mark}{number}", surface=own))
        found.append(replace(face, name=f"{face.name}{mark}{len(inside)}", surface=rest) if inside else face)
    return found


def sewn(faces: Sequence[NamedFace], strips: int, *, open_: bool) -> list[NamedFace]:
    """Faces, strip by strip round the body, with one edge between two strips to the last bit, however each of them was worked out.

    open_: the last strip goes on to none.
    """
    found, bays = list(faces), len(faces) // strips
    for number, face in enumerate(faces[: len(faces) - bays] if open_ else faces):
        edge = faces[(number + bays) % len(faces)].surface.points[0]
        if not np.array_equal(face.surface.points[-1], edge):
            points = face.surface.points.copy()
            points[-1] = edge
            found[number] = replace(face, surface=replace(face.surface, points=points))
    return found


def closed_smoothly(faces: Sequence[NamedFace], bays: int, *, bends: bool) -> list[NamedFace]:
    """Faces of a ring, strip by strip of so many bays, with one slope where the last bay meets the first: a fit leaves them a hair apart.

    bends: one second derivative too.
    """
    found = list(faces)
    for first in range(0, len(faces), bays):
        last = first + bays - 1
        ends = [_at_end(found[first].surface, 0), _at_end(found[last].surface, -1)]
        slope, bend = ((ends[0][i] + ends[1][i]) / 2 for i in (0, 1))
        for number, end in ((first, 0), (last, -1)):
            own = bend if bends else ends[end][1]
            found[number] = replace(found[number], surface=_with_end(found[number].surface, end, slope, own))
    return found


def _at_end(surface: Surface, end: int) -> tuple[Floats, Floats]:
    """First and second derivatives along the body of all its control points across, (n, 3) each, at its start (0) or its end (-1)."""
    at = np.array([surface.v.domain[end]])
    rows = surface.points.transpose(1, 0, 2)
    return surface.v.evaluate(rows, at, 1)[0], surface.v.evaluate(rows, at, 2)[0]


def _with_end(surface: Surface, end: int, slope: Floats, bend: Floats) -> Surface:
    """The surface with these derivatives there: the first and second control points inside say them (The NURBS Book, eq. 3.7)."""
    p, knots = surface.v.degree, surface.v.knots
    low, way = surface.v.domain[end], 1 if end == 0 else -1
    near, far = (knots[p + 1] - low, knots[p + 2] - low) if end == 0 else (knots[-p - 2] - low, knots[-p - 3] - low)
    points = surface.points.copy()
    points[:, end + way] = points[:, end] + near / p * slope
    points[:, end + 2 * way] = points[:, end + way] + far / p * (slope + near / (p - 1) * bend)
    return replace(surface, points=points)


def smooth_faces(
    strips: Sequence[Panel], labels: Sequence[str], through: Sequence[int], lines: Lines, held: Mapping[int, Sequence[Floats]]
) -> list[NamedFace]:
    """Side faces round the body, each from end to end through the sections with these numbers."""
    faces = []
    for number, strip in enumerate(strips):
        rows = strip.rows[list(through)]
        points = (np.tensordot(lines.rows, rows, 1) + lines.offset[:, None]).transpose(1, 0, 2)
        for index, slopes in held.items():
            points += lines.slopes[:, index][None, :, None] * (slopes[number] - lines.drift[index])[:, None]
        # the ends are met to the last bit, so that neighbouring faces and caps share their edges
        points[:, 0], points[:, -1] = rows[0], rows[-1]
        faces.append(NamedFace(labels[number], Surface(strip.space, lines.space, points), strip.closed))
    return faces


def missed_cuts(faces: Sequence[NamedFace], strips: Sequence[Panel], v: Floats, cut: Sequence[int]) -> set[int]:
    """Those of the sections that were cut which the skin through the others misses: they were moved since, or what is round them was."""
    found: set[int] = set()
    if not cut:
        return found
    size = max(float(np.abs(strip.rows - strip.rows[0, 0]).max()) for strip in strips)
    for face, strip in zip(faces, strips, strict=True):
        for i in cut:
            row = face.surface.v.evaluate(face.surface.points.transpose(1, 0, 2), v[[i]])[0]
            if np.abs(row - strip.rows[i]).max() > AS_CUT * size:
                found.add(i)
    return found


def straight_faces(strips: Sequence[Panel], v: Floats, labels: Sequence[Sequence[str]], along: Sequence[str]) -> list[NamedFace]:
    """Side faces, strip by strip round the body, each strip from bay to bay. along: what the sections add to a name."""
    faces = []
    for number, strip in enumerate(strips):
        for bay in range(len(v) - 1):
            straight = SplineSpace.from_breaks(1, v[bay : bay + 2])
            surface = Surface(strip.space, straight, strip.rows[bay : bay + 2].transpose(1, 0, 2))
            faces.append(NamedFace(f"{labels[bay][number]}{along[bay]}", surface, strip.closed))
    return faces
