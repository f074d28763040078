"""What was done to make the skin of a loft, for the designer to see."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.drawing.outlines.loop import RING
from wander.core.geometry.basis import Floats
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.alignment import choose_starts, wring
from wander.core.shaping.matched import Matched
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import NamedFace
from wander.core.shaping.ties import Tie

MANY_BREAKS = 12


@dataclass(frozen=True)
class LoftReport:
    """What was done to make the skin.

    starts: chosen start of each section in its own parameter, None for a point. turned: sections that ran the other way and were
    turned. wring: degrees between neighbours, (k - 1,), zero next to a point; of a ring (k,), the last from the last section to the first.
    deviation: largest distance of the skin from each section, mm (k,). exact: no section was refitted. law_deviation: distance from the exact
    outcome of the laws, mm. folds: places where the skin turns back on itself, (f, 3). needless: degrees of wring, as many, that the shapes don't
    ask for: starts of the designer's own make them.
    """

    starts: tuple[float | None, ...]
    turned: tuple[bool, ...]
    wring: Floats
    deviation: Floats
    exact: bool
    law_deviation: float
    folds: Floats
    needless: Floats
    ties: tuple[Tie, ...] = ()


def wring_between(around: Floats, ringed: Sequence[int], sections: Sequence[PlacedSection]) -> Floats:
    """Degrees (k - 1,) by which each section is turned against the one before. around: places round them that belong together, (k, m, 3)."""
    found = np.zeros(len(sections) - 1)
    if len(ringed) > 1:
        axis = sections[ringed[-1]].center - sections[ringed[0]].center
        found[ringed[0] : ringed[0] + len(ringed) - 1] = wring(around[ringed], axis)
    return found


def needless_wring(matched: Matched) -> Floats:
    """Degrees (k - 1,) by which each section is turned against the one before more than the shapes ask for: what starts of the designer's own do."""
    placed, leading, girths = matched.placed, matched.leading, matched.girths
    found = np.zeros(len(placed) - 1)
    if all(placed[i].start is None for i in leading) or len(leading) < 2:
        return found
    axis = placed[leading[-1]].center - placed[leading[0]].center
    turned = []
    for chosen in (np.array(matched.starts), np.array(choose_starts(girths.each, [None] * len(leading)))):
        turned.append(wring(girths((chosen[:, None] + np.arange(RING) / RING) % 1.0), axis))
    for bay, (own, least) in enumerate(zip(*turned, strict=True)):
        found[leading[bay + 1] - 1] = abs(own) - abs(least)
    return found


def folds_of(faces: Sequence[NamedFace]) -> Floats:
    """Places where du x dv turns against its neighbours round the same face: a skin that folds has both signs."""
    found = []
    for face in faces:
        s = face.surface
        u = np.linspace(*s.u.domain, 25)
        b = s.v.breaks
        # of a few spans both sides of every knot are looked at, of many the middle
        v = (b[:-1, None] + np.diff(b)[:, None] * np.array([0.5] if len(b) > MANY_BREAKS else [0.02, 0.5, 0.98])).ravel()
        normal = cross(s.grid(u, v, 1, 0), s.grid(u, v, 0, 1))
        # within one bay neighbours look the same way unless the skin has turned over
        alike = np.einsum("ijk,ijk->ij", normal[:, 1:], normal[:, :-1])
        if alike.min() >= 0:
            continue
        size = lengths(normal)
        flips = alike < -0.5 * size[:, 1:] * size[:, :-1]
        if flips.any():
            i, j = np.argwhere(flips)[0]
            found.append(s.grid(u[i : i + 1], v[j : j + 1])[0, 0])
    return np.array(found).reshape(-1, 3)
