"""Which way each section runs and where it starts: least twist along the whole body.

Orientation follows the direction of travel. Starts minimise the summed squared distance between neighbouring loops, moved to a
common centre, over all sections at once (a shortest path through the candidate starts), then slide to the exact minimum.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from wander.core.drawing.loop import Loop
from wander.core.geometry.basis import Floats
from wander.core.geometry.vectors import cross
from wander.core.shaping.section import PlacedSection

SAMPLES = 72
"""Divisible by 2, 3, 4, 6, 8 and 9: the symmetries that sections usually have fall on samples."""
GRID = np.arange(SAMPLES) / SAMPLES


def travel(centers: Floats) -> Floats:
    """Direction of the body at each section (k, 3) from the section centres (k, 3); not normalised."""
    padded = np.concatenate([centers[:1], centers, centers[-1:]])
    return padded[2:] - padded[:-2]


def runs_backwards(sections: Sequence[PlacedSection]) -> list[bool]:
    """For each section, whether its outline runs clockwise as seen along the direction of travel."""
    along = travel(np.array([s.center for s in sections]))
    return [not s.is_point and float(s.normal @ d) < 0 for s, d in zip(sections, along, strict=True)]


def choose_starts(loops: Sequence[Loop], fixed: Sequence[float | None]) -> list[float]:
    """The start parameter of each loop in space, all loops running the same way; a fixed start is kept.

    Loops with corners start at one of their corners, so that the seam of the body lies on an edge.
    """
    candidates = [_candidates(loop, start) for loop, start in zip(loops, fixed, strict=True)]
    rings = np.stack([loop.curve(GRID) for loop in loops])
    rings -= rings.mean(axis=1, keepdims=True)
    size = float(np.abs(rings).max())
    cost = _habit(candidates[0], size)
    came_from = []
    for i in range(1, len(loops)):
        step = cost[:, None] + _distances(loops, rings, candidates, i)
        came_from.append(np.argmin(step, axis=0))
        cost = step.min(axis=0) + _habit(candidates[i], size)
    choice = [int(np.argmin(cost))]
    for back in reversed(came_from):
        choice.append(int(back[choice[-1]]))
    choice.reverse()
    starts = np.array([c[i] for c, i in zip(candidates, choice, strict=True)])
    free = np.array([start is None and not loop.corners for loop, start in zip(loops, fixed, strict=True)])
    if free.all():
        # one has to stand still: the largest, so that it is the same one whichever way the body is run through
        free[int(np.argmax(np.round(np.sum(rings**2, axis=(1, 2)) / size**2, 9)))] = False
    return [float(s) for s in (starts + _slide(rings, starts, free)) % 1.0]


def wring(loops: Sequence[Loop], starts: Sequence[float], axis: Floats) -> Floats:
    """How far each loop is turned against the one before, degrees (k - 1,): the best rotation about the axis (3,)."""
    axis = axis / np.linalg.norm(axis)
    rings = np.stack([loop.curve((GRID + start) % 1.0) for loop, start in zip(loops, starts, strict=True)])
    rings -= rings.mean(axis=1, keepdims=True)
    a, b = rings[:-1], rings[1:]
    across = np.sum(cross(a, b) @ axis, axis=1)
    along = np.sum(a * b, axis=(1, 2)) - np.sum((a @ axis) * (b @ axis), axis=1)
    return np.degrees(np.arctan2(across, along))


def _candidates(loop: Loop, fixed: float | None) -> Floats:
    if fixed is not None:
        return np.array([fixed % 1.0])
    if loop.corners:
        return np.array(loop.corners)
    return GRID


def _distances(loops: Sequence[Loop], rings: Floats, candidates: Sequence[Floats], i: int) -> Floats:
    """Mean squared distance between every start of loop i - 1 and every start of loop i: (a, b).

    Between two loops that may start at any sample only the difference of starts counts: one cross-correlation gives them all.
    """
    before, after = candidates[i - 1], candidates[i]
    both = float(np.sum(rings[i - 1] ** 2) + np.sum(rings[i] ** 2)) / SAMPLES
    if len(before) == len(after) == SAMPLES:
        spectrum = np.fft.rfft(rings[i], axis=0) * np.conj(np.fft.rfft(rings[i - 1], axis=0))
        correlation = np.fft.irfft(spectrum, SAMPLES, axis=0).sum(axis=1)
        order = (np.arange(SAMPLES) - np.arange(SAMPLES)[:, None]) % SAMPLES
        return (both - 2 * correlation / SAMPLES)[order]
    a = _from_starts(loops[i - 1], rings[i - 1], before)
    b = _from_starts(loops[i], rings[i], after)
    return (np.sum(a * a, axis=1)[:, None] + np.sum(b * b, axis=1) - 2 * a @ b.T) / SAMPLES


def _from_starts(loop: Loop, ring: Floats, starts: Floats) -> Floats:
    """Samples of the loop about its centre from every start, flattened: (starts, SAMPLES * 3)."""
    if len(starts) == SAMPLES:
        order = (np.arange(SAMPLES)[:, None] + np.arange(SAMPLES)) % SAMPLES
        return ring[order].reshape(SAMPLES, -1)
    rings = loop.curve(((starts[:, None] + GRID) % 1.0).ravel()).reshape(len(starts), SAMPLES, 3)
    return (rings - rings.mean(axis=1, keepdims=True)).reshape(len(starts), -1)


def _habit(starts: Floats, size: float) -> Floats:
    """A whisper of a preference for the start as drawn: it decides between starts that are equally good."""
    away = np.minimum(starts, 1 - starts)
    return 1e-9 * size**2 * (away + 1e-3 * starts)


def _slide(rings: Floats, starts: Floats, free: npt.NDArray[np.bool_]) -> Floats:
    """How far each free start (k,) moves from the best sample to the exact minimum, its neighbours moving too.

    Newton on all free starts together; loops are shifted by the phases of their Fourier series, which smooth loops allow.
    """
    moves = np.zeros(len(starts))
    if not free.any() or len(starts) < 2:
        return moves
    wave = 2j * np.pi * np.fft.rfftfreq(SAMPLES, 1 / SAMPLES)[:, None]
    wave[-1] = 0.0  # the Nyquist term has no phase
    spectra = np.fft.rfft(rings, axis=1)
    for _ in range(6):
        shifted = spectra * np.exp(wave * (starts + moves)[:, None, None])
        value = np.fft.irfft(shifted, SAMPLES, axis=1)
        first = np.fft.irfft(shifted * wave, SAMPLES, axis=1)
        second = np.fft.irfft(shifted * wave**2, SAMPLES, axis=1)
        slope, stiffness = np.zeros(len(starts)), np.zeros((len(starts), len(starts)))
        for i in range(len(starts) - 1):
            j = i + 1
            slope[i] -= np.sum(value[j] * first[i])
            slope[j] -= np.sum(value[i] * first[j])
            stiffness[i, i] -= np.sum(value[j] * second[i])
            stiffness[j, j] -= np.sum(value[i] * second[j])
            stiffness[i, j] = stiffness[j, i] = -np.sum(first[i] * first[j])
        inner = np.ix_(free, free)
        step = np.linalg.lstsq(stiffness[inner], -slope[free], rcond=1e-9)[0]
        step = np.clip(step, -1 / SAMPLES, 1 / SAMPLES)
        moves[free] += step
        if np.abs(step).max() < 1e-12:
            break
    # rounding must not pull a symmetric section off its own start
    return np.where(np.abs(moves) < 1e-7, 0.0, moves)
