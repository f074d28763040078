"""Where faces are cut into pieces for a mesh: what shares a side is cut at the same places."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats
from wander.core.geometry.surface import Surface
from wander.core.shaping.shell import Shell, Side
from wander.core.shaping.sides import unit_normals

LEAST = 1e-3
"""Steps that a span has a right to at least, where knots are passed over."""
THOROUGHLY, QUICKLY = 512, 40
"""Places across a surface at most at which it is seen how much it bends along."""

Axis = tuple[int, int]
"""A direction of a face (number, 0 across or 1 along), or a curve of a cap (number, its place among the cap's curves)."""


def axis_of(shell: Shell, side: Side) -> Axis:
    if side.part < len(shell.faces):
        return (side.part, 0 if str(side.side)[0] == "v" else 1)
    return (side.part, int(side.side))


def cuts_within(
    shell: Shell, tolerance: float, *, sparse: bool, strict: bool, looked: int, least: Mapping[Axis, int] | None = None
) -> dict[Axis, Floats]:
    """Parameters in both directions of each face: those that share a side are cut at the same places, the finest that any of them needs.

    least: pieces of each direction, where knots are passed over; else two.
    """
    faces = shell.faces
    together = Together.by_seams(shell)
    own = {(i, axis): steps_needed(face.surface, axis, tolerance, looked) for i, face in enumerate(faces) for axis in (0, 1)}
    needed: dict[Axis, Floats] = {}
    for axis, counts in own.items():
        group = together.of(axis)
        counts = counts if sparse else np.ceil(counts)
        needed[group] = np.maximum(needed[group], counts) if group in needed else counts
    finer: dict[Axis, float] = {}
    for i, face in enumerate(faces):
        across, along = together.of((i, 0)), together.of((i, 1))
        steps = np.ceil(needed[across]), np.ceil(needed[along])
        miss = _off(face.surface, *steps) if strict else _twist(face.surface, *steps, looked)
        factor = float(np.sqrt(max(1.0, miss / tolerance)))
        for group in (across, along):
            finer[group] = max(finer.get(group, 1.0), factor)
    found: dict[Axis, Floats] = {}
    for i, direction in own:
        group = together.of((i, direction))
        space = (faces[i].surface.u, faces[i].surface.v)[direction]
        counts = needed[group] * finer[group]
        pieces = 2 if least is None else max(least[axis] for axis in own if together.of(axis) == group)
        found[i, direction] = thinly(space.breaks, counts, pieces) if sparse else spread(space.breaks, np.ceil(counts).astype(np.intp))
    return found


class Together:
    """What has to be cut alike: a union of axes that share seams."""

    @staticmethod
    def by_seams(shell: Shell) -> Together:
        found = Together()
        for seam in shell.seams:
            found.join(axis_of(shell, seam.first), axis_of(shell, seam.second))
        return found

    def __init__(self) -> None:
        self._parent: dict[Axis, Axis] = {}

    def of(self, axis: Axis) -> Axis:
        while (up := self._parent.get(axis, axis)) != axis:
            axis = up
        return axis

    def join(self, a: Axis, b: Axis) -> None:
        a, b = self.of(a), self.of(b)
        if a != b:
            self._parent[max(a, b)] = min(a, b)


def _twist(surface: Surface, across: Floats, along: Floats, looked: int) -> float:
    """mm that two triangles are off a twisted patch at most: S_uv . n du dv / 4, in the middle of each span. across, along: steps in each."""
    u, v = surface.u.breaks, surface.v.breaks
    some = [slice(None, None, -(-len(steps) // looked)) for steps in (across, along)]
    steps = (np.diff(u) / across)[some[0], None] * (np.diff(v) / along)[some[1]]
    middle_u, middle_v = ((u[:-1] + u[1:]) / 2)[some[0]], ((v[:-1] + v[1:]) / 2)[some[1]]
    normal = unit_normals(surface, middle_u, middle_v)
    mixed = np.abs(np.einsum("ijk,ijk->ij", surface.grid(middle_u, middle_v, 1, 1), normal))
    return float((mixed * steps).max()) / 4


def _off(surface: Surface, across: Floats, along: Floats) -> float:
    """mm that triangles are off a patch at most, however it bends: chords in both directions and the twist together, at nine places of each span."""
    u, v = surface.u.breaks, surface.v.breaks
    shares = np.array([0.05, 0.5, 0.95])
    at_u, at_v = ((b[:-1, None] + np.diff(b)[:, None] * shares).ravel() for b in (u, v))
    du, dv = np.repeat(np.diff(u) / across, 3)[:, None], np.repeat(np.diff(v) / along, 3)
    normal = unit_normals(surface, at_u, at_v)
    found = np.zeros(normal.shape[:2])
    for order, step in (((2, 0), du**2 / 8), ((0, 2), dv**2 / 8), ((1, 1), du * dv / 4)):
        if order[0] <= surface.u.degree and order[1] <= surface.v.degree:
            found += np.abs(np.einsum("ijk,ijk->ij", surface.grid(at_u, at_v, *order), normal)) * step
    return float(found.max())


def steps_needed(surface: Surface, axis: int, tolerance: float, looked: int) -> Floats:
    """Steps that each knot span needs, less than one where it hardly bends: a chord over a step h leaves the curve by h2 |S''| / 8."""
    space, other = ((surface.u, surface.v), (surface.v, surface.u))[axis]
    low, high = other.breaks[:-1], other.breaks[1:]
    across = np.append(np.column_stack([low, (low + high) / 2]).ravel(), high[-1])
    across = across[:: -(-len(across) // looked)]
    b = space.breaks
    widths = np.diff(b)
    if space.degree == 1:
        return np.ones(len(widths))
    at = (b[:-1, None] + widths[:, None] * np.array([0.05, 0.5, 0.95])).ravel()
    second = surface.grid(at, across, 2, 0) if axis == 0 else surface.grid(across, at, 0, 2).transpose(1, 0, 2)
    bend = np.sqrt((second**2).sum(axis=-1).max(axis=1)).reshape(-1, 3).max(axis=1)
    return np.clip(widths * np.sqrt(bend / (8 * tolerance)), LEAST, 64.0)


def spread(breaks: Floats, counts: npt.NDArray[np.intp]) -> Floats:
    owner = np.repeat(np.arange(len(counts)), counts)
    step = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
    return np.append(breaks[owner] + (breaks[owner + 1] - breaks[owner]) * step / counts[owner], breaks[-1])


def thinly(breaks: Floats, counts: Floats, least: int = 2) -> Floats:
    """Parameters at even shares of all the steps that the spans need (b - 1,), wherever the breaks (b,) are."""
    run = np.append(0.0, np.cumsum(counts))
    return np.interp(np.linspace(0.0, run[-1], max(least, int(np.ceil(run[-1]))) + 1), run, breaks)
