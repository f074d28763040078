"""Meshes of four-sided facets whose lines run along and round a body, as many as a tolerance takes, or as are asked for.

Faces are grids of their parameters, which are cut alike where they share a side. Lines stand where the shape bends, and nowhere closer than an even
share of them would leave the rest bare.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.errors import BadInput
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import lengths
from wander.core.shaping.cuts import LEAST, THOROUGHLY, Axis, Together, cuts_within, steps_needed
from wander.core.shaping.density import MOST, Density
from wander.core.shaping.display import cap_triangles, face_places, runs_of
from wander.core.shaping.shell import Shell

EVEN = 0.25
"""Of lines that are counted: this share stands evenly along the length, the others where the shape bends."""
FINE = 1e-3
"""mm: for what bends how much, when lines are counted."""
WELD = 6
"""Corners that agree to so many decimals (mm) are one."""
ROUNDS, SAFE = 6, 0.9
"""Facets are made finer until they are within the tolerance, each time by a little more than it seems to take."""


@dataclass(frozen=True)
class QuadMesh:
    """points (n, 3), each once. polygons: numbers of their corners, anticlockwise seen from outside; owners: the face each lies on, in names.

    off: the largest distance of the facets from the faces, mm, at the middles of their sides and at their own.
    """

    points: Floats
    polygons: list[tuple[int, ...]]
    owners: list[int]
    names: tuple[str, ...]
    off: float = 0.0

    @property
    def sides(self) -> dict[int, int]:
        """How many polygons have so many sides."""
        found: dict[int, int] = {}
        for polygon in self.polygons:
            found[len(polygon)] = found.get(len(polygon), 0) + 1
        return found


def quads(shell: Shell, density: Density) -> QuadMesh:
    """Raises BadInput for counts that are none."""
    for name, count in (("round the body", density.around), ("along it", density.along)):
        if count is not None and not 1 <= count <= MOST:
            raise BadInput(f"expected from 1 to {MOST} pieces {name}, got {count}")
    counted = density.around is not None or density.along is not None
    finer = density
    for _ in range(ROUNDS):
        found = _made(shell, finer)
        if counted or found.off <= density.tolerance:
            break
        finer = replace(finer, tolerance=finer.tolerance * SAFE * density.tolerance / found.off)
    return found


def _made(shell: Shell, density: Density) -> QuadMesh:
    cuts = _cuts(shell, density)
    runs = runs_of(shell, cuts, density.tolerance)
    made = _Gathered()
    off = 0.0
    for number, face in enumerate(shell.faces):
        u, v = cuts[number, 0], cuts[number, 1]
        positions = face_places(shell, number, u, v, runs)
        made.grid(positions, number)
        off = max(off, _off(face.surface, u, v, positions))
    for number in range(len(shell.faces), len(shell.faces) + len(shell.caps)):
        ring, rings, triangles = cap_triangles(shell, number, runs)
        made.flat(ring, triangles, number, whole=len(rings) == 1 and _convex(ring, shell.caps[number - len(shell.faces)].frame.z))
    return made.mesh(shell.names, off)


def _cuts(shell: Shell, density: Density) -> dict[Axis, Floats]:
    """Parameters in both directions of each face."""
    together = Together.by_seams(shell)
    least = {(number, axis): _least(axis)(face.surface) for number, face in enumerate(shell.faces) for axis in (0, 1)}
    found = cuts_within(shell, density.tolerance, sparse=True, strict=False, looked=THOROUGHLY, least=least)
    if density.around is None and density.along is None and not density.loops:
        return found
    for direction, count in ((0, density.around), (1, density.along)):
        for groups in _in_a_row(shell, together, direction):
            needs = [_Need.of(shell, group, direction, together) for group in groups]
            if count is not None:
                bends, length = (
                    sum(float(part.sum()) for part in parts) for parts in zip(*((need.bends, need.sizes) for need in needs), strict=True)
                )
                weights = [need.weights(bends, length) for need in needs]
                pieces = _shared([float(own.sum()) for own in weights], count, [need.least for need in needs])
                for group, own, share, need in zip(groups, pieces, weights, needs, strict=True):
                    for axis in _axes(found, group, direction, together):
                        found[axis] = need.cut(own, share)
            if direction == 1:
                _insert(found, groups, needs, density.loops, together)
    return found


def _axes(cuts: dict[Axis, Floats], group: Axis, direction: int, together: Together) -> list[Axis]:
    return [axis for axis in cuts if axis[1] == direction and together.of(axis) == group]


def _in_a_row(shell: Shell, together: Together, direction: int) -> list[list[Axis]]:
    """Groups of axes that follow each other in a direction: faces that meet across it lie in one row."""
    rows = Together()
    for seam in shell.seams:
        a, b = seam.first, seam.second
        if max(a.part, b.part) < len(shell.faces) and str(a.side)[0] == str(b.side)[0] == "uv"[direction]:
            rows.join((a.part, 0), (b.part, 0))
    found: dict[Axis, dict[Axis, None]] = {}
    for number in range(len(shell.faces)):
        found.setdefault(rows.of((number, 0)), {})[together.of((number, direction))] = None
    # rows beside each other have the same groups
    return [list(groups) for groups in {tuple(groups): None for groups in found.values()}]


@dataclass(frozen=True)
class _Need:
    """How much a direction of faces has to be cut. bends: lines that each span takes for its bends; sizes: of the spans, mm; least: pieces."""

    breaks: Floats
    bends: Floats
    sizes: Floats
    least: int

    @staticmethod
    def of(shell: Shell, group: Axis, direction: int, together: Together) -> _Need:
        faces = [face.surface for number, face in enumerate(shell.faces) if together.of((number, direction)) == group]
        bends = np.max([steps_needed(surface, direction, FINE, THOROUGHLY) for surface in faces], axis=0)
        sizes = np.max([_lengths(surface, direction) for surface in faces], axis=0)
        return _Need((faces[0].u, faces[0].v)[direction].breaks, np.where(bends > LEAST, bends, 0.0), sizes, max(map(_least(direction), faces)))

    def weights(self, bends: float, length: float) -> Floats:
        """Shares (n,) of all lines in a row, whose bends take so many and which is so long."""
        even = self.sizes / max(length, 1e-300)
        return np.asarray(even if bends <= 0 else (1 - EVEN) * self.bends / bends + EVEN * even)

    def cut(self, pieces: int, weights: Floats) -> Floats:
        run = np.append(0.0, np.cumsum(weights))
        return np.interp(np.linspace(0.0, run[-1], pieces + 1), run, self.breaks)


def _least(direction: int) -> Callable[[Surface], int]:
    """Pieces without which nothing would be left: three where a face comes back to itself."""
    sides = "uv"[direction]

    def pieces(surface: Surface) -> int:
        first, last = (surface.edge(f"{sides}{end}").points for end in "01")
        return 3 if np.abs(first - last).max() < 1e-9 * max(1.0, float(np.abs(surface.points).max())) else 1

    return pieces


def _lengths(surface: Surface, direction: int) -> Floats:
    """Of each span, the longest of three lines, mm."""
    space, other = ((surface.u, surface.v), (surface.v, surface.u))[direction]
    at = (space.breaks[:-1, None] + np.diff(space.breaks)[:, None] * np.linspace(0, 1, 5)).ravel()
    low, high = other.domain
    lines = surface.grid(at, np.linspace(low, high, 3)) if direction == 0 else surface.grid(np.linspace(low, high, 3), at).transpose(1, 0, 2)
    steps = lengths(np.diff(lines.reshape(len(space.breaks) - 1, 5, 3, 3), axis=1))
    return np.asarray(steps.sum(axis=1).max(axis=1))


def _shared(weights: Sequence[float], count: int, least: Sequence[int]) -> list[int]:
    """A count shared out by weights, so many at least, the largest remainders first."""
    if count <= sum(least):
        return list(least)
    ideal = np.array(weights) / max(sum(weights), 1e-300) * count
    found = np.maximum(np.floor(ideal).astype(int), least)
    while found.sum() < count:
        found[int(np.argmax(ideal - found))] += 1
    while found.sum() > count:
        spare = np.where(found > np.array(least), found - ideal, -np.inf)
        found[int(np.argmax(spare))] -= 1
    return [int(n) for n in found]


def _insert(found: dict[Axis, Floats], groups: Sequence[Axis], needs: Sequence[_Need], loops: Sequence[float], together: Together) -> None:
    """Lines round the body at shares of its length besides those that are there."""
    begins = np.concatenate([[0.0], np.cumsum([need.sizes.sum() for need in needs])])
    for share in loops:
        at = float(np.clip(share, 0.0, 1.0)) * begins[-1]
        k = int(np.clip(np.searchsorted(begins, at, side="right") - 1, 0, len(groups) - 1))
        need = needs[k]
        place = float(np.interp(at - begins[k], np.append(0.0, np.cumsum(need.sizes)), need.breaks))
        for axis in _axes(found, groups[k], 1, together):
            if np.abs(found[axis] - place).min() > 1e-9 * np.ptp(need.breaks):
                found[axis] = np.sort(np.append(found[axis], place))


@dataclass
class _Gathered:
    """Polygons as they come, their corners by place."""

    points: list[Floats] = field(default_factory=list)
    count: int = 0
    polygons: list[tuple[int, ...]] = field(default_factory=list)
    owners: list[int] = field(default_factory=list)

    def _more(self, points: Floats) -> int:
        first = self.count
        self.points.append(points)
        self.count += len(points)
        return first

    def grid(self, positions: Floats, owner: int) -> None:
        m, k = positions.shape[:2]
        first = self._more(positions.reshape(-1, 3))
        corner = (np.arange(m - 1)[:, None] * k + np.arange(k - 1)).ravel() + first
        for a, b, c, d in np.column_stack([corner, corner + k, corner + k + 1, corner + 1]).tolist():
            self.polygons.append((a, b, c, d))
            self.owners.append(owner)

    def flat(self, ring: Floats, triangles: np.ndarray, owner: int, *, whole: bool) -> None:
        """One polygon where it is convex, else triangles."""
        first = self._more(ring)
        corners = _outline(triangles) if whole else None
        for polygon in [corners] if corners else triangles.tolist():
            self.polygons.append(tuple(int(n) + first for n in polygon))
            self.owners.append(owner)

    def mesh(self, names: tuple[str, ...], off: float) -> QuadMesh:
        """What lies at one place is one corner; a side that has shrunk is left out."""
        points, owner = welded(np.concatenate(self.points))
        polygons, owners = [], []
        for polygon, face in zip(self.polygons, self.owners, strict=True):
            corners = owner[list(polygon)].tolist()
            kept = tuple(n for n, before in zip(corners, [corners[-1], *corners[:-1]], strict=True) if n != before)
            if len(set(kept)) > 2:
                polygons.append(kept)
                owners.append(face)
        return QuadMesh(points, polygons, owners, names, off)


def welded(points: Floats) -> tuple[Floats, Ints]:
    """The places among points (n, 3), each once, and for each point the number of its own (n,)."""
    _, first, owner = np.unique(points.round(WELD) + 0.0, axis=0, return_index=True, return_inverse=True)
    return points[first], owner.ravel()


def _outline(triangles: np.ndarray) -> list[int] | None:
    """The corners round a row of triangles that fill one polygon, in their order."""
    following: dict[int, int] = {}
    edges = {(int(a), int(b)) for t in triangles for a, b in zip(t, np.roll(t, -1), strict=True)}
    for a, b in edges:
        if (b, a) not in edges:
            following[a] = b
    start = min(following)
    found, at = [start], following[start]
    while at != start:
        found.append(at)
        if at not in following or len(found) > len(following):
            return None
        at = following[at]
    return found


def _convex(ring: Floats, normal: Floats) -> bool:
    ahead, behind = np.roll(ring, -1, axis=0) - ring, ring - np.roll(ring, 1, axis=0)
    turn = np.cross(behind, ahead) @ normal
    size = lengths(ahead) * lengths(behind)
    return bool(np.all(turn > -1e-9 * size) or np.all(turn < 1e-9 * size))


def _off(surface: Surface, u: Floats, v: Floats, corners: Floats) -> float:
    """mm by which facets are off the face, at the middles of their sides and at their own."""
    middle_u, middle_v = (u[:-1] + u[1:]) / 2, (v[:-1] + v[1:]) / 2
    across, along = (corners[:-1] + corners[1:]) / 2, (corners[:, :-1] + corners[:, 1:]) / 2
    both = (across[:, :-1] + across[:, 1:]) / 2
    found = [
        lengths(surface.grid(middle_u, v) - across).max(),
        lengths(surface.grid(u, middle_v) - along).max(),
        lengths(surface.grid(middle_u, middle_v) - both).max(),
    ]
    return float(max(found))
