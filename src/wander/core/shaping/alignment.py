"""Which way each section runs and where it starts: least twist along the whole body.

Orientation follows the direction of travel. Starts minimise the summed squared distance between neighbouring loops, moved to a
common centre, over all sections at once (a shortest path through the candidate starts), then slide to the exact minimum.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from wander.core.drawing.outlines.loop import RING
from wander.core.geometry.basis import Floats
from wander.core.shaping.girth import Girth
from wander.core.shaping.section import PlacedSection

GRID = np.arange(RING) / RING
TRIED = GRID[::2]
"""Where a loop without corners may start at first; from the best of these it slides to the exact place."""
_DIFFERENCES = (np.arange(0, RING, 2)[:, None] - np.arange(0, RING, 2)) % RING
_ROWS = np.arange(RING)
# the highest harmonic of an even count of samples has no phase
_WAVE = 2j * np.pi * np.arange(RING // 2)
_ONCE_AND_TWICE = np.stack([_WAVE, _WAVE**2], axis=1)
_SHARE = np.where(_WAVE == 0, 1, 2) / RING**2


def travel(centers: Floats) -> Floats:
    """Direction of the body at each section (k, 3) from the section centres (k, 3); not normalised."""
    padded = np.concatenate([centers[:1], centers, centers[-1:]])
    return padded[2:] - padded[:-2]


def runs_backwards(sections: Sequence[PlacedSection]) -> list[bool]:
    """For each section, whether its outline runs clockwise as seen along the direction of travel; an open one has no such direction."""
    along = travel(np.array([s.center for s in sections]))
    against = np.einsum("ij,ij->i", np.array([s.normal for s in sections]), along) < 0
    return [back and s.loop is not None and not s.loop.open for s, back in zip(sections, against.tolist(), strict=True)]


def choose_starts(loops: Sequence[Girth], fixed: Sequence[float | None]) -> list[float]:
    """Where each loop in space starts, as a share of its girth, all loops running the same way; a fixed start is kept.

    Loops with corners start at one of their corners, so that the seam of the body lies on an edge; an open one starts at an end. What is equally
    good is chosen as drawn, so that a body and its image, or the same body run through from its other end, are alike.
    """
    candidates = [_candidates(loop, start) for loop, start in zip(loops, fixed, strict=True)]
    rings = np.array([loop.ring for loop in loops])
    rings -= rings.sum(axis=1, keepdims=True) / RING
    size = float(np.abs(rings).max())
    energy = np.sum(rings**2, axis=(1, 2)) / RING
    spectra = np.fft.rfft(rings, axis=1)
    # the inner product of every two neighbours as a function of how far one is turned against the other, as a Fourier series
    together = np.sum(spectra[1:] * np.conj(spectra[:-1]), axis=2)
    correlation = np.fft.irfft(together, RING, axis=1) / RING
    tried = [size**2 * habits for habits in _HABITS]
    habits = [
        tried[loop.turned] if c is TRIED else _habit((1.0 - c) % 1.0 if loop.turned else c, size) for c, loop in zip(candidates, loops, strict=True)
    ]
    # between every start of the second and every start of the first of two neighbours without corners
    apart = ((energy[:-1] + energy[1:])[:, None] - 2 * correlation)[:, _DIFFERENCES]
    cost = habits[0]
    came_from = []
    for i in range(1, len(loops)):
        both_tried = candidates[i - 1] is TRIED and candidates[i] is TRIED
        step = cost + (apart[i - 1] if both_tried else _distances(loops, rings, candidates, i))
        best = step.argmin(axis=1)
        came_from.append(best)
        cost = step[_ROWS[: len(best)], best] + habits[i]
    choice = [int(np.argmin(cost))]
    for back in reversed(came_from):
        choice.append(int(back[choice[-1]]))
    choice.reverse()
    starts = np.array([c[i] for c, i in zip(candidates, choice, strict=True)])
    free = np.array([start is None and not loop.corners for loop, start in zip(loops, fixed, strict=True)])
    # one has to stand still: the largest of those that start as drawn, or of all; and where several are as large they do together
    large = np.round(energy / size**2, 9)
    if (starts == 0.0).any():
        large[starts != 0.0] = -1.0
    still = np.flatnonzero(large == large.max()) if free.all() else np.array([], dtype=np.intp)
    free[still[:1]] = False
    moves = _slide(together, starts, free)
    if len(still) > 1:
        moves -= moves[still].mean()
    # rounding must not pull a symmetric section off its own start
    return [float(s) for s in (starts + np.where(np.abs(moves) < 1e-7, 0.0, moves)) % 1.0]


def come_round(loops: Sequence[Girth], starts: Sequence[float], fixed: Sequence[float | None]) -> list[float]:
    """Starts for a ring of loops, the last of which is the first, from those of the same loops in a row."""
    found = choose_starts(loops, [starts[0], *fixed[1:-1], starts[0]])
    if any(loop.corners for loop in loops) or any(start is not None for start in fixed):
        return found
    # all of them may begin elsewhere together: the longest begins as it is drawn, wherever the ring does
    longest = max(range(len(loops)), key=lambda i: round(loops[i].length, 9))
    return [(start - found[longest]) % 1.0 for start in found]


def wring(rings: Floats, axis: Floats) -> Floats:
    """How far each outline is turned against the one before, degrees (k - 1,): the best rotation about the axis (3,).

    rings: (k, m, 3), points of every outline that belong together from one outline to the next.
    """
    x, y, z = (axis / np.linalg.norm(axis)).tolist()
    # seen along the axis, as complex numbers; square to it is one of the axes of space, but for what it runs along that
    a, b, c = (-z, 0.0, x) if abs(y) < 0.6 else (0.0, z, -y)
    size = (a * a + b * b + c * c) ** 0.5
    a, b, c = a / size, b / size, c / size
    across = np.array([[a, y * c - z * b], [b, z * a - x * c], [c, x * b - y * a]])
    seen = (rings @ across).view(np.complex128)[..., 0]
    seen -= np.add.reduce(seen, axis=1, keepdims=True) / seen.shape[1]
    return np.degrees(np.angle(np.einsum("ij,ij->i", np.conj(seen[:-1]), seen[1:])))


def _candidates(loop: Girth, fixed: float | None) -> Floats:
    if fixed is not None:
        return np.array([fixed % 1.0])
    if loop.open:
        return np.array([0.0, 0.5])
    if loop.corners:
        return np.array(loop.corners)
    return TRIED


def _distances(loops: Sequence[Girth], rings: Floats, candidates: Sequence[Floats], i: int) -> Floats:
    """Mean squared distance between every start of loop i and every start of loop i - 1: (b, a)."""
    a = _from_starts(loops[i - 1], rings[i - 1], candidates[i - 1])
    b = _from_starts(loops[i], rings[i], candidates[i])
    return (np.sum(b * b, axis=1)[:, None] + np.sum(a * a, axis=1) - 2 * b @ a.T) / RING


def _from_starts(loop: Girth, ring: Floats, starts: Floats) -> Floats:
    """Samples of the loop about its centre from every start, flattened: (starts, RING * 3)."""
    if starts is TRIED:
        order = (np.arange(0, RING, 2)[:, None] + np.arange(RING)) % RING
        return ring[order].reshape(len(starts), -1)
    rings = loop(((starts[:, None] + GRID) % 1.0).ravel()).reshape(len(starts), RING, 3)
    return (rings - rings.mean(axis=1, keepdims=True)).reshape(len(starts), -1)


def _habit(starts: Floats, size: float) -> Floats:
    """A whisper of a preference for the start as drawn: it decides between starts that are equally good. starts: as shares of the drawing."""
    away = np.minimum(starts, 1 - starts)
    return 1e-9 * size**2 * (away + 1e-3 * starts)


_HABITS = [_habit(TRIED, 1.0), _habit((1.0 - TRIED) % 1.0, 1.0)]
"""Of starts that are tried, as drawn and turned, of what has a size of one."""


def _slide(together: npt.NDArray[np.complex128], starts: Floats, free: npt.NDArray[np.bool_]) -> Floats:
    """How far each free start (k,) moves from the best sample to the exact maximum of all inner products, its neighbours moving too.

    together: Fourier series of the inner products of neighbours, (k - 1, harmonics). Newton on all free starts at once: only
    neighbours meet, so the system has three diagonals.
    """
    moves = np.zeros(len(starts))
    if not free.any() or len(starts) < 2:
        return moves
    from scipy.linalg.lapack import dptsv

    series = together[:, :-1] * _SHARE
    linked = free[:-1] & free[1:]
    least = 1e-12 * float(np.abs(series).sum()) + 1e-300
    for _ in range(8):
        at = starts + moves
        slope, bend = np.real((series * np.exp(_WAVE * (at[1:] - at[:-1])[:, None])) @ _ONCE_AND_TWICE).T
        stiffness = np.maximum(-bend, least)
        gradient, diagonal = np.zeros((2, len(starts)))
        gradient[:-1] += slope
        gradient[1:] -= slope
        diagonal[:-1] += stiffness
        diagonal[1:] += stiffness
        # LAPACK without scipy's checks, which cost more than the solve
        _, _, found, _ = dptsv(np.where(free, diagonal, 1.0), np.where(linked, -stiffness, 0.0), np.where(free, -gradient, 0.0))
        step = np.minimum(np.maximum(found, -2 / RING), 2 / RING)
        moves += step
        if np.abs(step).max() < 1e-7:  # and by the next step, if there were one, less than rounding
            break
    return moves
