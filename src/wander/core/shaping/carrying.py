"""A finished skin carried elsewhere, row by row along the body: by laws of twist and scale, or along a centre line.

At every place along the body the map is affine, so it acts on the control points across the skin; along the skin its outcome is a spline again only
in a few cases, and is fitted to a tolerance otherwise.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from wander.core.geometry.approximate import PLACES
from wander.core.geometry.basis import Floats
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import lengths
from wander.core.shaping.shell import NamedFace

MOST_SPANS = 256
NO_CUBIC = 1 / np.prod(PLACES[:, None] - PLACES + np.eye(len(PLACES)), axis=1)
NO_CUBIC /= np.abs(NO_CUBIC).sum()
"""Weights of values at the places of a span: of all cubics they make nothing, and of what is near one no more than it is off."""

Carry = Callable[[Floats, Floats], Floats]
"""Points (m, n, 3), a row for each of the parameters v (m,), where they are taken."""
Breaks = Callable[[SplineSpace], tuple[Floats, Mapping[float, int]]]
"""Of the space along a skin: where a fit has to break, and how many derivatives are continuous there; four where nothing is said."""


def bends_of(along: SplineSpace) -> Breaks:
    """Where a fit has to break that follows what bends in a space along the body, twice smooth at most."""
    inner = {float(b): along.degree - int(c) for b, c in zip(along.breaks[1:-1], along.multiplicities[1:-1], strict=True)}

    def breaks(v: SplineSpace) -> tuple[Floats, Mapping[float, int]]:
        inside = {b: min(max(c, 0), 2) for b, c in inner.items() if v.domain[0] < b < v.domain[1]}
        return np.array([v.domain[0], *sorted(inside), v.domain[1]]), inside

    return breaks


def carried(
    faces: Sequence[NamedFace],
    carry: Carry,
    breaks: Breaks,
    tolerances: Tolerances,
    *,
    exact: Callable[[SplineSpace], SplineSpace | None] = lambda v: None,
) -> tuple[list[NamedFace], float]:
    """The faces where they are taken, and the largest distance (mm) from the exact outcome, zero where it is met exactly.

    exact: the space that may hold the outcome itself; where it turns out not to, the outcome is fitted.
    """
    found = list(faces)
    misses = []
    beside: dict[tuple[int, bytes], list[int]] = defaultdict(list)
    for i, face in enumerate(faces):
        beside[face.surface.v.degree, face.surface.v.knots.tobytes()].append(i)
    for run in beside.values():
        # faces side by side, which need not follow each other, go through as one: fitted apart they would not meet any more
        v = faces[run[0]].surface.v
        rows = np.ascontiguousarray(np.concatenate([faces[i].surface.points for i in run]).transpose(1, 0, 2))

        def where(at: Floats, v: SplineSpace = v, rows: Floats = rows) -> Floats:
            return carry(at, v.evaluate(rows, at))

        space, controls, miss = fitted(where, _furthest, breaks(v), exact(v), tolerances)
        parts = np.split(controls.transpose(1, 0, 2), np.cumsum([faces[i].surface.u.count for i in run])[:-1])
        for i, part in zip(run, parts, strict=True):
            found[i] = replace(faces[i], surface=Surface(faces[i].surface.u, space, part))
        misses.append(miss)
    return found, max(misses)


def _furthest(apart: Floats) -> Floats:
    return np.asarray(lengths(apart).max(axis=1), dtype=np.float64)


def fitted(
    true: Callable[[Floats], Floats],
    off: Callable[[Floats], Floats],
    broken: tuple[Floats, Mapping[float, int]],
    exact: SplineSpace | None,
    tolerances: Tolerances,
) -> tuple[SplineSpace, Floats, float]:
    """A spline that takes the values of `true`, (m,) to (m, ...): its space, its controls (n, ...), and how far it strays, mm.

    off: how far (mm, (m,)) differences of such values lead. broken: where a fit has to break, and how many derivatives are continuous there; four
    where nothing is said. exact: a space that may hold the values themselves; it strays by nothing then.
    """
    breaks, least = broken
    while True:
        target = SplineSpace.from_breaks(5, breaks, [5 - least.get(b, 4) for b in breaks[1:-1].tolist()])
        between = (breaks[:-1, None] + np.diff(breaks)[:, None] * PLACES).ravel()
        values = true(np.concatenate([target.greville, between] if exact is None else [target.greville, between, exact.greville]))
        met, seen, exactly = np.split(values, [target.count, target.count + len(between)])
        if exact is not None and _may_be_in(exact, breaks, seen, off, tolerances):
            controls = exact.interpolate(exactly)
            if float(off(exact.evaluate(controls, between) - seen).max()) <= tolerances.exact:
                return exact, controls, 0.0
        exact = None
        controls = target.interpolate(met)
        misses = off(target.evaluate(controls, between) - seen).reshape(-1, len(PLACES)).max(axis=1)
        bad = np.flatnonzero(misses > tolerances.fit)
        finer = _divided(breaks, bad, misses[bad] / tolerances.fit) if len(bad) else breaks
        if len(bad) == 0 or len(finer) > MOST_SPANS:
            return target, controls, float(misses.max())
        breaks = finer


def _may_be_in(space: SplineSpace, breaks: Floats, seen: Floats, off: Callable[[Floats], Floats], tolerances: Tolerances) -> bool:
    """Whether values (m, ...) at the places of each span can be those of a spline: along a cubic one their divided differences are nothing."""
    if space.degree > 3 or not np.array_equal(space.breaks, breaks):
        return True
    differences = np.tensordot(NO_CUBIC, seen.reshape(-1, len(PLACES), *seen.shape[1:]), (0, 1))
    return float(off(differences).max()) <= tolerances.exact


def _divided(breaks: Floats, bad: npt.NDArray[np.intp], excess: Floats) -> Floats:
    """Breaks with the spans `bad` cut into as many parts as their miss asks for: it falls with the fourth power of their length."""
    parts = np.clip(np.ceil((1.5 * excess) ** (1 / 4)), 2, 8).astype(int)
    inner = [np.linspace(breaks[i], breaks[i + 1], n + 1)[1:-1] for i, n in zip(bad, parts, strict=True)]
    return np.sort(np.concatenate([breaks, *inner]))
