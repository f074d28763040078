"""Loft: a skin through sections.

Source: The NURBS Book, section 10.3 (skinning), with natural end conditions along the body: a batten let go at both ends.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import Enum

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.interpolate import End, cubic_system, spread_parameters
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import DEFAULT, Tolerances
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.alignment import choose_starts, runs_backwards, travel, wring
from wander.core.shaping.panels import Panel, panels
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import Cap, NamedFace, Ring, Shell


class Between(Enum):
    """How the skin goes from station to station."""

    SMOOTH = "smooth"
    STRAIGHT = "straight"


@dataclass(frozen=True)
class LoftReport:
    """What was done to make the skin, for the designer to see.

    starts: chosen start of each section in its own parameter, None for a point. turned: sections that ran the other way and were
    turned. wring: degrees between neighbours, (k - 1,), zero next to a point. deviation: largest distance of the skin from each
    section, mm (k,). exact: no section was refitted. folds: places where the skin turns back on itself, (f, 3).
    """

    starts: tuple[float | None, ...]
    turned: tuple[bool, ...]
    wring: Floats
    deviation: Floats
    exact: bool
    folds: Floats


@dataclass(frozen=True)
class Lofted:
    shell: Shell
    report: LoftReport


def loft(
    sections: Sequence[PlacedSection], names: Sequence[str], *, name: str, between: Between = Between.SMOOTH, tolerances: Tolerances = DEFAULT
) -> Lofted:
    """The closed skin through sections (k >= 2), the first and last of which may be points.

    names: of the sections; name: of the body, the first part of every face name. Raises BadInput when the sections can't carry a
    body: fewer than two, a point between others, no distance between them.
    """
    _check(sections)
    turned = runs_backwards(sections)
    placed = [_forward(s) if back else s for s, back in zip(sections, turned, strict=True)]
    ringed = [i for i, s in enumerate(placed) if not s.is_point]
    loops = [placed[i].in_space() for i in ringed]
    starts = choose_starts(loops, [placed[i].start for i in ringed])
    strips = [_with_points(panel, placed, ringed) for panel in panels(loops, starts, tolerances)]
    rows = np.concatenate([strip.rows for strip in strips], axis=1)
    v = spread_parameters(rows, exponent=1.0)
    faces = _faces(strips, v, between, name)
    shell = Shell(tuple(faces), _caps(strips, placed, name), _rings(strips, ringed, names))
    chosen: list[float | None] = [None] * len(placed)
    for i, start in zip(ringed, starts, strict=True):
        chosen[i] = start
    report = LoftReport(
        starts=tuple(chosen),
        turned=tuple(turned),
        wring=_wring(strips, ringed, placed),
        deviation=np.max([strip.deviation for strip in strips], axis=0),
        exact=all(strip.exact for strip in strips),
        folds=_folds(faces),
    )
    return Lofted(shell, report)


def _check(sections: Sequence[PlacedSection]) -> None:
    if len(sections) < 2:
        raise BadInput(f"a loft needs at least 2 sections, got {len(sections)}")
    if any(s.is_point for s in sections[1:-1]):
        raise BadInput("a point can only be the first or the last section")
    if all(s.is_point for s in sections):
        raise BadInput("a loft needs at least one section with an outline")


def _forward(section: PlacedSection) -> PlacedSection:
    """The section turned to run the other way; a start that the designer chose stays where it is on the outline."""
    assert section.loop is not None
    start = None if section.start is None else (1.0 - section.start) % 1.0
    return replace(section, loop=section.loop.reversed(), start=start)


def _with_points(panel: Panel, sections: Sequence[PlacedSection], ringed: Sequence[int]) -> Panel:
    """The panel with a row of equal control points for each section that is a point."""
    if len(ringed) == len(sections):
        return panel
    rows = np.empty((len(sections), panel.space.count, 3))
    deviation = np.zeros(len(sections))
    rows[ringed], deviation[ringed] = panel.rows, panel.deviation
    for i, section in enumerate(sections):
        if section.is_point:
            rows[i] = section.center
    return replace(panel, rows=rows, deviation=deviation)


def _faces(strips: Sequence[Panel], v: Floats, between: Between, name: str) -> list[NamedFace]:
    """Side faces, `side.1` onwards round the body from the start; straight bays are numbered along it: `side.1.2`."""
    faces = []
    bays = len(v) - 1
    smooth = between is Between.SMOOTH and bays > 1
    if smooth:
        space, matrix = cubic_system(v, End.NATURAL)
        to_controls = np.linalg.inv(matrix)[:, : len(v)]
    for number, strip in enumerate(strips, start=1):
        label = f"{name}/side.{number}"
        if smooth:
            points = np.einsum("mk,knd->nmd", to_controls, strip.rows, optimize=True)
            # the ends are met to the last bit, so that neighbouring faces and caps share their edges
            points[:, 0], points[:, -1] = strip.rows[0], strip.rows[-1]
            faces.append(NamedFace(label, Surface(strip.space, space, points), strip.closed))
            continue
        for bay in range(bays):
            straight = SplineSpace.from_breaks(1, v[bay : bay + 2])
            surface = Surface(strip.space, straight, strip.rows[bay : bay + 2].transpose(1, 0, 2))
            faces.append(NamedFace(label if bays == 1 else f"{label}.{bay + 1}", surface, strip.closed))
    return faces


def _caps(strips: Sequence[Panel], sections: Sequence[PlacedSection], name: str) -> tuple[Cap, ...]:
    along = travel(np.array([s.center for s in sections]))
    caps = []
    for label, index, outward in (("start", 0, -1.0), ("end", -1, 1.0)):
        section = sections[index]
        if section.is_point:
            continue
        frame = section.frame
        if float(frame.z @ along[index]) * outward < 0:
            frame = Frame(frame.origin, frame.y, frame.x)
        caps.append(Cap(f"{name}/{label}", frame, tuple(Curve(strip.space, strip.rows[index]) for strip in strips)))
    return tuple(caps)


def _rings(strips: Sequence[Panel], ringed: Sequence[int], names: Sequence[str]) -> tuple[Ring, ...]:
    return tuple(Ring(names[i], tuple(Curve(strip.space, strip.rows[i]) for strip in strips)) for i in ringed)


def _wring(strips: Sequence[Panel], ringed: Sequence[int], sections: Sequence[PlacedSection]) -> Floats:
    found = np.zeros(len(sections) - 1)
    if len(ringed) > 1:
        axis = sections[ringed[-1]].center - sections[ringed[0]].center
        shares = np.arange(72 // len(strips)) / (72 // len(strips))
        rings = np.concatenate([strip.space.evaluate(strip.rows[ringed].transpose(1, 0, 2), shares) for strip in strips])
        found[ringed[0] : ringed[0] + len(ringed) - 1] = wring(rings.transpose(1, 0, 2), axis)
    return found


def _folds(faces: Sequence[NamedFace]) -> Floats:
    """Places where du x dv turns against its neighbours round the same face: a skin that folds has both signs."""
    found = []
    for face in faces:
        s = face.surface
        u = np.linspace(*s.u.domain, 25)
        b = s.v.breaks
        v = (b[:-1, None] + np.diff(b)[:, None] * np.array([0.02, 0.5, 0.98])).ravel()
        normal = cross(s.grid(u, v, 1, 0), s.grid(u, v, 0, 1))
        size = lengths(normal)
        # within one bay neighbours look the same way unless the skin has turned over
        flips = np.einsum("ijk,ijk->ij", normal[:, 1:], normal[:, :-1]) < -0.5 * size[:, 1:] * size[:, :-1]
        if flips.any():
            i, j = np.argwhere(flips)[0]
            found.append(s.grid(u[i : i + 1], v[j : j + 1])[0, 0])
    return np.array(found).reshape(-1, 3)
