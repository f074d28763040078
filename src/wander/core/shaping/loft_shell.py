"""The skin of a loft as one shell: its faces with their seams, the flat ends, and the rings of its sections."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame
from wander.core.shaping.alignment import travel
from wander.core.shaping.matched import Matched
from wander.core.shaping.naming import side_name
from wander.core.shaping.panels import Panel
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import Cap, NamedFace, Ring, Seam, Shell
from wander.core.shaping.tube import tube_seams


def loft_shell(
    faces: Sequence[NamedFace],
    outlines: Sequence[Panel],
    found: Matched,
    drawn: Sequence[PlacedSection],
    names: Sequence[str],
    ringed: Sequence[int],
    name: str,
    *,
    ring: bool,
) -> Shell:
    """outlines: panels with a row for each section, found: what they come from, drawn: the sections where they stand, names: theirs.

    ringed: numbers of those that have an outline. name: of the body. ring: it comes back to its first section, and has no ends.
    """
    caps = {} if ring or found.open else _caps(outlines, drawn, [f"{name}/end:{names[i]}" for i in (0, -1)])
    rings = _rings(outlines, ringed[:-1] if ring else ringed, names)
    return Shell(
        tuple(faces),
        tuple(caps.values()),
        rings,
        _seams(faces, found.led, caps, [names[i] for i in found.leading], ring=ring, open_=found.open),
        closed=not found.open,
    )


def _seams(
    faces: Sequence[NamedFace], led: Sequence[Panel], caps: dict[int, Cap], sections: Sequence[str], *, ring: bool, open_: bool
) -> tuple[Seam, ...]:
    bays = len(faces) // len(led)
    grid = [list(enumerate(faces))[k * bays : (k + 1) * bays] for k in range(len(led))]
    corners = [side_name(sections, panel.corners) if panel.corners else "" for panel in led]
    start = (len(faces), 0) if 0 in caps else None
    end = (len(faces) + len(caps) - 1, 0) if -1 in caps else None
    return tuple(tube_seams(grid, corners=corners, caps=(start, end), ring=ring, open_=open_))


def _caps(strips: Sequence[Panel], sections: Sequence[PlacedSection], names: Sequence[str]) -> dict[int, Cap]:
    """The flat ends by 0 and -1, where there are any."""
    along = travel(np.array([s.center for s in sections]))
    caps = {}
    for name, index, outward in ((names[0], 0, -1.0), (names[1], -1, 1.0)):
        section = sections[index]
        if section.is_point:
            continue
        frame = section.frame
        if float(frame.z @ along[index]) * outward < 0:
            frame = Frame(frame.origin, frame.y, frame.x)
        caps[index] = Cap(name, frame, tuple(Curve(strip.space, strip.rows[index]) for strip in strips))
    return caps


def _rings(strips: Sequence[Panel], ringed: Sequence[int], names: Sequence[str]) -> tuple[Ring, ...]:
    return tuple(Ring(names[i], tuple(Curve(strip.space, strip.rows[i]) for strip in strips)) for i in ringed)
