"""Where the sides of the parts of a skin end: each corner is one place, however many parts have it."""

from __future__ import annotations

from collections.abc import Iterator

from wander.core.geometry.basis import Floats
from wander.core.shaping.shell import Shell, Side

Corner = tuple[int, int]
"""A part of a shell and one of its corners. Of a face 0 to 3: that at u0 v0, u1 v0, u0 v1, u1 v1; of a cap that at which a curve of it begins."""
ENDS = {"u0": (0, 2), "u1": (1, 3), "v0": (0, 1), "v1": (2, 3)}


def corner_places(shell: Shell) -> dict[Side, tuple[Floats, Floats]]:
    """The places (3,) at which each side that meets another begins and ends: the same to the last bit wherever they are one corner.

    Which are one follows from what meets what, not from how near they lie.
    """
    ends = dict(_ends(shell))
    same: dict[Corner, Corner] = {}

    def first(corner: Corner) -> Corner:
        while (other := same.get(corner, corner)) != corner:
            corner = other
        return corner

    for seam in shell.seams:
        here, there = ends[seam.first], ends[seam.second]
        for a, b in zip(here, there[::-1] if seam.turned else there, strict=True):
            one, other = sorted((first(a), first(b)))
            if one != other:
                same[other] = one
    places: dict[Corner, Floats] = {}
    found = {}
    for seam in shell.seams:
        points = shell.curve(seam.first).points
        for corner, place in zip(ends[seam.first], (points[0], points[-1]), strict=True):
            places.setdefault(first(corner), place)
        for side in (seam.first, seam.second):
            start, end = (places[first(corner)] for corner in ends[side])
            found[side] = (start, end)
    return found


def _ends(shell: Shell) -> Iterator[tuple[Side, tuple[Corner, Corner]]]:
    for part in range(len(shell.faces)):
        for side, (start, end) in ENDS.items():
            yield Side(part, side), ((part, start), (part, end))
    for part, cap in enumerate(shell.caps, start=len(shell.faces)):
        begun = 0
        for chain in cap.chains:
            for k in range(len(chain)):
                yield Side(part, begun + k), ((part, begun + k), (part, begun + (k + 1) % len(chain)))
            begun += len(chain)
