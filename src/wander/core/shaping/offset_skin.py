"""A skin at a distance from another: every side moved along its normals, neighbours brought together where they meet, ends kept in their planes.

For skins that are a tube: strips round it, each from the plane of one flat end to that of the other. A point of the new skin lies on the normal of
the old one; in the parameters of a side the new side is a patch between four curves, two where it meets its neighbours and two in the
planes of the ends.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError, NotConverged
from wander.core.geometry.frame import Frame
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.moved_side import DONE, STEPS, Further, Moved, into_plane
from wander.core.shaping.shell import Cap, NamedFace, Shell, Side

DEGREE = 5
CLOSE = 3e-4
"""mm: how closely the new sides follow the true ones."""
MOST_SPANS = 160
LEVEL = np.cos(np.radians(0.05))
"""Neighbours whose normals agree so nearly go on smoothly, and so do their new sides."""
MOST_PARTS = 4
"""Into which a span is divided at once."""
TIGHT = 0.25
"""Share of the room beside a skin below which it is looked for between the places at which it was met as well."""
BETWEEN = np.array([0.31, 0.77])
"""Where a span is looked at between the places at which it was met."""


class NotATube(GeometryError):
    """The skin is not made of strips from one flat end to the other."""


class EndsInPoint(NotATube):
    """It runs out into a point, where no wall has room."""

    def __init__(self) -> None:
        super().__init__("it runs out into a point, where no wall has room")


class TooTight(GeometryError):
    """The skin bends too tightly for the distance. place: (3,) where it does most; fits: the largest distance that goes there, mm."""

    def __init__(self, place: Floats, fits: float) -> None:
        super().__init__("the skin bends too tightly there")
        self.place = place
        self.fits = fits


class WallsMeet(GeometryError):
    """What lies at the distance from opposite sides has run into each other. place: (3,) where it does."""

    def __init__(self, place: Floats) -> None:
        super().__init__("what lies at this distance from opposite sides runs into each other")
        self.place = place


class NeighboursMiss(GeometryError):
    """Two sides that meet at an edge don't meet any more at the distance. place: (3,) on the edge."""

    def __init__(self, place: Floats) -> None:
        super().__init__("the sides beside this edge do not meet at this distance")
        self.place = place


@dataclass(frozen=True)
class _Edge:
    """Where two neighbours meet when they are moved. first, second: their parameters there, (k, 2), at shares (k,): on the u1 and on the u0 side."""

    sides: tuple[Moved, Moved]
    shares: Floats
    first: Floats
    second: Floats

    @cached_property
    def _controls(self) -> tuple[SplineSpace, Floats]:
        cubic = SplineSpace.from_breaks(3, self.shares[[0, *range(2, len(self.shares) - 2), -1]])
        return cubic, np.linalg.solve(cubic.matrix(self.shares), np.concatenate([self.first, self.second], axis=1))

    def parameters(self, along: Floats, *, second: bool) -> Floats:
        """Of one of the two at shares (k,): (k, 2)."""
        space, controls = self._controls
        found = space.evaluate(controls, along)
        return found[:, 2:] if second else found[:, :2]

    def places(self, along: Floats) -> Floats:
        """(k, 3): between them both, who are a hair apart."""
        one, other = (m.at(*self.parameters(along, second=k == 1).T)[0] for k, m in enumerate(self.sides))
        return (one + other) / 2


@dataclass(frozen=True)
class _Strip:
    """A strip of the new skin in the parameters of its side. left, right: what it meets there; None of one that closes."""

    moved: Moved
    left: _Edge | None
    right: _Edge | None
    planes: tuple[Frame, Frame]
    _known: dict[bytes, list[Floats]] = field(default_factory=dict, compare=False)

    def parameters(self, across: Floats, along: Floats) -> tuple[Floats, Floats]:
        """Parameters of the side on a grid of shares across (m,) and along (k,): (m, k) each."""
        if self.left is None or self.right is None:
            u0, u1 = self.moved.surface.u.domain
            u = u0 + (u1 - u0) * across
            low, high = self._ends(u)
            return np.repeat(u[:, None], len(along), axis=1), low[:, None] + (high - low)[:, None] * along
        a, b = self.left.parameters(along, second=True), self.right.parameters(along, second=False)
        x = across[:, None]
        u = (1 - x) * a[None, :, 0] + x * b[None, :, 0]
        v = (1 - x) * a[None, :, 1] + x * b[None, :, 1]
        for plane, end, weight in ((self.planes[0], 0.0, 1 - along), (self.planes[1], 1.0, along)):
            corners = self.left.parameters(np.array([end]), second=True)[0], self.right.parameters(np.array([end]), second=False)[0]
            row_u, row_v = ((1 - across) * corners[0][i] + across * corners[1][i] for i in (0, 1))
            v = v + (self.into(plane, row_u, row_v) - row_v)[:, None] * weight
        return u, v

    def places(self, across: Floats, along: Floats) -> tuple[Floats, float]:
        """Places on a grid of shares: (m, k, 3); and what is left of the room beside the tightest of them, as a share of it.

        Raises TooTight, WallsMeet, NotConverged.
        """
        u, v = self.parameters(across, along)
        found, room, by = self.moved.places(u, v)
        self._forwards(u, v, found)
        tightest = np.unravel_index(int(np.argmin(room - by)), room.shape)
        if room[tightest] <= by[tightest]:
            raise TooTight(found[tightest], float(room[tightest]))
        return self._sewn(across, along, found), float((1 - by / room).min())

    def looked(self, across: Floats, along: Floats, *, roomy: bool) -> Floats:
        """Places on a grid of shares, (m, k, 3), between others that were found. roomy: by what is left beside these there is room here too."""
        if not roomy:
            return self.places(across, along)[0]
        u, v = self.parameters(across, along)
        found = self.moved.alone(u, v)
        self._forwards(u, v, found)
        return self._sewn(across, along, found)

    def _forwards(self, u: Floats, v: Floats, found: Floats) -> None:
        """Run backwards, it has passed what comes from the other side. Raises WallsMeet."""
        back = np.argwhere((np.diff(u, axis=0)[:, :-1] <= 0) | (np.diff(v, axis=1)[:-1] <= 0))
        if len(back):
            raise WallsMeet(found[tuple(back[0])])

    def _sewn(self, across: Floats, along: Floats, found: Floats) -> Floats:
        """Places beside an edge brought to those that both of its sides go through."""
        for edge, at, weight in ((self.left, 0.0, 1 - across), (self.right, 1.0, across)):
            if edge is not None:
                own = self.moved.at(*edge.parameters(along, second=at == 0.0).T)[0]
                found = found + weight[:, None, None] * (edge.places(along) - own)[None]
        return found

    def _ends(self, u: Floats) -> list[Floats]:
        """Parameters v (m,) of both ends, at which the moved side goes through their planes, at u (m,). Raises NotConverged."""
        key = u.tobytes()
        if key not in self._known:
            self._known[key] = [
                self.into(plane, u, np.full(len(u), end)) for plane, end in zip(self.planes, self.moved.surface.v.domain, strict=True)
            ]
        return self._known[key]

    def into(self, plane: Frame, u: Floats, v: Floats) -> Floats:
        """Parameters v (m,) at which the moved side goes through a plane, from those nearby. Raises NotConverged."""
        return into_plane(self.moved, plane, u, v)


def ends_in_point(skin: Shell) -> bool:
    """Whether a side has shrunk to a point at one of its ends."""
    return any(np.ptp(face.surface.edge(side).points, axis=0).max() < 1e-9 for face in skin.faces for side in ("v0", "v1"))


def offset_skin(
    skin: Shell, distances: Sequence[float], ends: tuple[float, float], name: Callable[[str], str], further: Further | None = None
) -> Shell:
    """The skin moved inwards: each side by its distance, mm, outwards where that is below 0; the planes of its ends by theirs.

    name: what each new face is called, from the name of the one that it comes from. further: what comes to the distances. Raises NotATube,
    TooTight, WallsMeet, NeighboursMiss.
    """
    order = _strips(skin)
    faces = [skin.faces[k] for k in order]
    moved = [Moved(face.surface, distances[k], further) for face, k in zip(faces, order, strict=True)]
    planes = tuple(cap.frame.moved(-by) for cap, by in zip(skin.caps, ends, strict=True))
    assert len(planes) == 2
    try:
        if len(faces) == 1:
            strips = [_Strip(moved[0], None, None, planes)]
        else:
            meets = [_meeting(moved[k - 1], moved[k], planes) for k in range(len(faces))]
            strips = [_Strip(m, meets[k], meets[(k + 1) % len(faces)], planes) for k, m in enumerate(moved)]
        surfaces = _followed(strips)
    except NotConverged as error:
        raise NeighboursMiss(faces[0].surface.points[0, 0]) from error
    made: list[NamedFace] = list(skin.faces)
    for k, face, surface in zip(order, faces, surfaces, strict=True):
        made[k] = NamedFace(name(face.name), surface, face.closed_u)
    shell = replace(skin, faces=tuple(made), rings=(), caps=())
    caps = []
    for number, (cap, plane) in enumerate(zip(skin.caps, planes, strict=True)):
        sides: dict[int, Side] = {}
        for seam in skin.seams:
            for one, other in ((seam.first, seam.second), (seam.second, seam.first)):
                if one.part == len(skin.faces) + number:
                    sides[int(one.side)] = other
        boundary = tuple(shell.curve(sides[k]) for k in range(len(cap.boundary)))
        caps.append(Cap(name(cap.name), plane, boundary))
    return replace(shell, caps=tuple(caps))


FEW = 24
PLACES = 25
"""Along an edge, at which its two sides are brought together."""


def _strips(skin: Shell) -> list[int]:
    """Numbers of the sides in their order round the tube. Raises NotATube."""
    count = len(skin.faces)
    whole = skin.closed and len(skin.caps) == 2 and not any(cap.holes for cap in skin.caps)
    following: dict[int, int] = {}
    ends: set[tuple[int, str, int]] = set()
    for seam in skin.seams:
        a, b = seam.first, seam.second
        if a.part >= count:
            a, b = b, a
        if a.part >= count:
            raise NotATube("its ends meet")
        if b.part >= count:
            ends.add((a.part, str(a.side), b.part - count))
        elif (a.side, b.side) == ("u1", "u0"):
            following[a.part] = b.part
        elif (a.side, b.side) == ("u0", "u1"):
            following[b.part] = a.part
        else:
            raise NotATube("it has more than one bay")
    if not whole or ends != {(k, side, cap) for k in range(count) for side, cap in (("v0", 0), ("v1", 1))} or len(following) != count:
        raise NotATube("it is not made of strips between two flat ends")
    order = [0]
    while (after := following[order[-1]]) != 0:
        order.append(after)
        if len(order) > count:
            raise NotATube("its strips do not go round once")
    if len(order) != count:
        raise NotATube("its strips do not go round once")
    return order


def _meeting(first: Moved, second: Moved, planes: tuple[Frame, Frame]) -> _Edge:
    """Where two neighbours meet when they are moved. Raises NeighboursMiss."""
    u1, u0 = first.surface.u.domain[1], second.surface.u.domain[0]
    (v0, v1), (w0, w1) = first.surface.v.domain, second.surface.v.domain
    share = _along_edge(first)
    count = len(share)
    a = np.column_stack([np.full(count, u1), v0 + (v1 - v0) * share])
    b = np.column_stack([np.full(count, u0), w0 + (w1 - w0) * share])
    normals = [_normals(moved.surface, p) for moved, p in ((first, a), (second, b))]
    smooth = np.sum(normals[0] * normals[1], axis=1) > LEVEL
    if smooth.all() and abs(first.by - second.by) < 1e-9:
        # one smooth skin: its edge stays on the normals, and is only brought into the planes
        for p, moved in ((a, first), (b, second)):
            for k, plane in ((0, planes[0]), (-1, planes[1])):
                p[[k], 1] = _Strip(moved, None, None, planes).into(plane, p[[k], 0], p[[k], 1])
            p[:, 1] = p[0, 1] + (p[-1, 1] - p[0, 1]) * share
        return _Edge((first, second), share, a, b)
    # both ends in their planes first; between them the places are spread evenly, in the mean of both parameters
    for _ in range(2):
        for k, plane in ((0, planes[0]), (count - 1, planes[1])):
            a[[k]], b[[k]] = _brought_together(first, second, a[[k]], b[[k]], plane)
        middle = (a[:, 1] - v0) / (v1 - v0) + (b[:, 1] - w0) / (w1 - w0)
        wanted = middle[0] + (middle[-1] - middle[0]) * share
        shift = (wanted - middle)[1:-1] / 2
        a[1:-1, 1] += shift * (v1 - v0)
        b[1:-1, 1] += shift * (w1 - w0)
    inner = slice(1, count - 1)
    a[inner], b[inner] = _brought_together(first, second, a[inner], b[inner], None)
    return _Edge((first, second), share, a, b)


def _along_edge(side: Moved) -> Floats:
    """Shares along an edge at which its two sides are brought together: evenly, and more of them where the distance changes."""
    evenly = np.linspace(0.0, 1.0, PLACES)
    if side.further is None:
        return evenly
    marks = _shares(side.surface.v, side.further.marks(side.surface))
    closely = [np.linspace(a, b, PLACES) for a, b in pairwise(marks)]
    found = np.unique(np.concatenate([evenly, *closely]))
    return found[np.concatenate([[True], np.diff(found) > 5e-5])]


def _normals(surface: Surface, parameters: Floats) -> Floats:
    du, dv = surface.at(parameters[:, 0], parameters[:, 1], [(1, 0), (0, 1)])
    normal = cross(du, dv)
    return normal / lengths(normal)[:, None]


def _brought_together(first: Moved, second: Moved, a: Floats, b: Floats, plane: Frame | None) -> tuple[Floats, Floats]:
    """Parameters (m, 2) of two moved sides at which they meet, by Newton's method.

    plane: in which they meet; else the sum of their parameters along stays as it is. Raises NeighboursMiss.
    """
    a, b = a.copy(), b.copy()
    (v0, v1), (w0, w1) = first.surface.v.domain, second.surface.v.domain
    kept = (a[:, 1] - v0) / (v1 - v0) + (b[:, 1] - w0) / (w1 - w0)
    gap = np.zeros(len(a))
    place = np.zeros((len(a), 3))
    for _ in range(STEPS):
        place, au, av = first.at(a[:, 0], a[:, 1])
        other, bu, bv = second.at(b[:, 0], b[:, 1])
        if plane is None:
            last = (a[:, 1] - v0) / (v1 - v0) + (b[:, 1] - w0) / (w1 - w0) - kept
            row = np.zeros((len(a), 4))
            row[:, 1], row[:, 3] = 1 / (v1 - v0), 1 / (w1 - w0)
        else:
            last = (place - plane.origin) @ plane.z
            row = np.column_stack([au @ plane.z, av @ plane.z, np.zeros(len(a)), np.zeros(len(a))])
        off = np.column_stack([place - other, last])
        gap = np.abs(off).max(axis=1)
        if gap.max() < DONE:
            return a, b
        matrix = np.concatenate([np.stack([au, av, -bu, -bv], axis=2), row[:, None, :]], axis=1)
        step = (np.linalg.pinv(matrix, rcond=1e-9) @ off[..., None])[..., 0]
        a -= step[:, :2]
        b -= step[:, 2:]
    raise NeighboursMiss(place[int(np.argmax(gap))])


def _followed(strips: Sequence[_Strip]) -> list[Surface]:
    """The spline surfaces through strips that go round a tube, to CLOSE, of one space along it. Raises TooTight, WallsMeet, NotConverged."""
    sources = [strip.moved.surface for strip in strips]
    across = [shares_of(source.u) for source in sources]
    bends = [bends_of_space(source.u) for source in sources]
    marks = [_shares(source.v, strip.moved.further.marks(source)) for strip, source in zip(strips, sources, strict=True) if strip.moved.further]
    along = np.unique(np.concatenate([*(shares_of(source.v) for source in sources), *marks]).round(12))
    bends_along = {at: order for source in sources for at, order in bends_of_space(source.v).items()}
    while True:
        v = SplineSpace.going_on(DEGREE, along, bends_along)
        found, long = [], np.zeros(len(along) - 1, dtype=bool)
        settled = True
        for number, strip in enumerate(strips):
            u = SplineSpace.going_on(DEGREE, across[number], bends[number])
            met, spare = strip.places(u.greville, v.greville)
            found.append(Surface.through(u, v, met))
            roomy = spare > TIGHT
            looks = [looks_between(breaks) for breaks in (across[number], along)]
            # where it was met one way only the other can stray: spans that do are halved
            wide = lengths(found[-1].grid(looks[0], v.greville) - strip.looked(looks[0], v.greville, roomy=roomy)).max(axis=1) > CLOSE
            deep = lengths(found[-1].grid(u.greville, looks[1]) - strip.looked(u.greville, looks[1], roomy=roomy)).max(axis=0) > CLOSE
            if wide.any() or deep.any():
                settled = False
                across[number] = halved(across[number], wide.reshape(-1, len(BETWEEN)).any(axis=1))
                long |= deep.reshape(-1, len(BETWEEN)).any(axis=1)
        if settled:
            return found
        along = halved(along, long)
        if max(len(along), *map(len, across)) > MOST_SPANS:
            raise NotConverged("a moved side", max(len(along), *map(len, across)), CLOSE)


def looks_between(breaks: Floats) -> Floats:
    """Where spans are looked at."""
    return np.asarray((breaks[:-1, None] + np.diff(breaks)[:, None] * BETWEEN).ravel())


def _shares(space: SplineSpace, parameters: Floats) -> Floats:
    low, high = space.domain
    return (parameters - low) / (high - low)


def shares_of(space: SplineSpace) -> Floats:
    """Breaks of a space as shares of its domain, to begin a fit with."""
    low, high = space.domain
    inner = (space.breaks - low) / (high - low)
    if len(inner) > FEW:
        return inner
    # few spans bend much within each: begun with halves, the end is sooner reached
    return np.sort(np.concatenate([inner, (inner[:-1] + inner[1:]) / 2])) if len(inner) > 3 else np.linspace(0.0, 1.0, 5)


def bends_of_space(space: SplineSpace) -> dict[float, int]:
    """Shares at which less than the second derivative goes on, with one derivative less, as normals have it."""
    low, high = space.domain
    return {(at - low) / (high - low): max(0, order - 1) for at, order in space.continuity.items() if order < DEGREE - 1}


def parted(breaks: Floats, misses: Floats, tolerance: float) -> Floats:
    """Breaks (k + 1,) with spans that miss something by more than the tolerance in so many equal parts as that takes. misses: (k,) of the spans.

    What a span misses goes with its length to the power of one more than the degree; at corners of the curvature it takes more, and is asked again.
    """
    parts = np.clip(np.ceil((misses / tolerance) ** (1 / (DEGREE + 1))), 1, MOST_PARTS).astype(int)
    within = [low + (high - low) * np.arange(1, n) / n for low, high, n in zip(breaks, breaks[1:], parts.tolist(), strict=False) if n > 1]
    return np.sort(np.concatenate([breaks, *within]))


def halved(breaks: Floats, which: npt.ArrayLike) -> Floats:
    """Breaks with the middles of some spans."""
    return np.sort(np.concatenate([breaks, (breaks[:-1] + breaks[1:])[np.asarray(which)] / 2]))
