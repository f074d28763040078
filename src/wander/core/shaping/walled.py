"""A skin with a wall: the skin itself, one at a distance inside or outside of it, and rims where ends are left open."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace

from wander.core.document.derived_names import wall_name
from wander.core.shaping.offset_skin import EndsInPoint, NotATube, ends_in_point, offset_skin
from wander.core.shaping.shell import Cap, Shell, Side

INSIDE, OUTSIDE = "inside", "outside"
"""What faces at a distance are called, by the one that they come from."""


def walled(
    skin: Shell, inwards: Mapping[str, float], outwards: Mapping[str, float], open_: Collection[str], maker: str
) -> tuple[Shell, tuple[tuple[int, int], ...]]:
    """The skin with its wall, and the pairs of faces that lie at the distance from each other, by number: the inner one first.

    inwards, outwards: by how much the wall goes to either side of each face, mm, by its name. open_: ends that are left open. maker: the step.
    Raises NotATube, TooTight, NeighboursMiss.
    """
    caps = [cap.name for cap in skin.caps]
    if ends_in_point(skin):
        raise EndsInPoint
    if len(caps) != 2 or any(name not in caps for name in open_):
        raise NotATube("only the flat ends of what was shaped in one go can be left open")

    def ends(by: Mapping[str, float], sign: float) -> tuple[float, float]:
        first, second = (0.0 if name in open_ else sign * by[name] for name in caps)
        return first, second

    def at(by: Mapping[str, float], sign: float, word: str) -> Shell:
        if not any(by.values()):
            return skin
        return offset_skin(skin, [sign * by[face.name] for face in skin.faces], ends(by, sign), lambda name: wall_name(maker, word, name))

    outer, inner = at(outwards, -1.0, OUTSIDE), at(inwards, 1.0, INSIDE)
    count = len(skin.faces)
    # the last faces of the whole are those of the inner skin, in their order
    return _put_together(outer, inner.turned(), [name in open_ for name in caps]), tuple((count + k, k) for k in range(count))


def _put_together(outer: Shell, inner: Shell, opened: Sequence[bool]) -> Shell:
    """One skin of two that have the same parts: where an end is open, the inner one leaves a hole in the outer one's."""
    count = len(outer.faces)
    caps: list[Cap] = []
    of_outer: list[int] = []
    of_inner: list[tuple[int, int]] = []  # the cap, and how many curves of it come before
    for cap, hole, is_open in zip(outer.caps, inner.caps, opened, strict=True):
        of_outer.append(len(caps))
        if is_open:
            of_inner.append((len(caps), len(cap.boundary)))
            caps.append(replace(cap, holes=(hole.boundary,)))
        else:
            of_inner.append((len(caps) + 1, 0))
            caps += [cap, hole]

    def outside(side: Side) -> Side:
        return side if side.part < count else Side(2 * count + of_outer[side.part - count], side.side)

    def inside(side: Side) -> Side:
        if side.part < count:
            return Side(count + side.part, side.side)
        cap, before = of_inner[side.part - count]
        return Side(2 * count + cap, before + int(side.side))

    seams = tuple(
        replace(seam, first=where(seam.first), second=where(seam.second))
        for skin, where in ((outer, outside), (inner, inside))
        for seam in skin.seams
    )
    return Shell((*outer.faces, *inner.faces), tuple(caps), outer.rings, seams)
