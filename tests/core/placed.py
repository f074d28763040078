"""Sections and bodies for tests, placed in a line."""

from __future__ import annotations

import numpy as np

from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.section import PlacedSection

TOP = BASE_FRAMES["top"]


def at(z: float, outline: Loop, start: float | None = None) -> PlacedSection:
    return PlacedSection(TOP.moved(z), outline, start=start)


def tip(z: float, x: float = 0.0, y: float = 0.0) -> PlacedSection:
    return PlacedSection(TOP.moved(z), None, np.array([x, y]))


def body(*sections: PlacedSection, between: Between = Between.SMOOTH) -> Lofted:
    return loft(sections, [f"section-{i + 1}" for i in range(len(sections))], name="loft-9", between=between)


def moved(section: PlacedSection, rotation: np.ndarray, shift: np.ndarray) -> PlacedSection:
    """The section carried along by a rigid motion (or a mirror image, when the matrix is one)."""
    f = section.frame
    frame = Frame(rotation @ f.origin + shift, rotation @ f.x, rotation @ f.y)
    return PlacedSection(frame, section.loop, section.point, section.start)


def wobbly(count: int, radius: float, seed: int) -> np.ndarray:
    """Points of a smooth closed shape that has no symmetry: (count, 2)."""
    rng = np.random.default_rng(seed)
    turn = 2 * np.pi * np.arange(count) / count
    reach = radius * (1 + 0.12 * np.sin(2 * turn + rng.uniform(0, 6)) + 0.06 * np.sin(3 * turn + rng.uniform(0, 6)))
    return np.column_stack([reach * np.cos(turn), reach * np.sin(turn)])
