"""What the Run tells of a body that is swept: its length is that of the path."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from wander.core.geometry.law import Law
from wander.core.results.bodies import READINGS
from wander.core.results.summaries import LinePlace, RunLanes, vector
from wander.core.shaping.lanes import lanes_along
from wander.core.shaping.laws import Laws
from wander.core.shaping.path import Path
from wander.core.shaping.shell import Shell

FLOWS = 4
"""Lines along the skin whose curvature is told."""


def read_along(path: Path, laws: Laws, skins: Sequence[Shell]) -> dict[str, Any]:
    """What `body_summary` takes: the line, and the lanes along it."""
    bends = np.unique(np.concatenate([[0.0, 1.0], path.begins / path.length, *(law.space.breaks for law in laws.all)]))
    share = np.unique(np.concatenate([np.linspace(0.0, 1.0, READINGS), bends]))
    points, ways = path.places(share)

    def values(law: Law | None, otherwise: float) -> list[float]:
        return (law(share) if law is not None else np.full(len(share), otherwise)).tolist()

    area, curvature = _cut(path, share, skins)
    lanes = RunLanes(
        at=(share * path.length).tolist(),
        bends=(bends * path.length).tolist(),
        area=area,
        curvature=curvature,
        twist=np.degrees(values(laws.twist, 0.0)).tolist(),
        width=values(laws.width, 1.0),
        height=values(laws.height, 1.0),
    )
    line = [LinePlace(at=float(s * path.length), point=vector(p), way=vector(w)) for s, p, w in zip(share, points, ways, strict=True)]
    return {"line": line, "lanes": lanes}


def _cut(path: Path, share: np.ndarray, skins: Sequence[Shell]) -> tuple[list[float | None], list[list[float | None]]]:
    """Areas of cuts square to the path, and curvature along lines of the skin. At a corner, and of a sheet, there is none that would tell."""
    nothing: list[float | None] = [None] * len(share)
    area, known = np.zeros(len(share)), np.ones(len(share), dtype=bool)
    curvature: list[list[float | None]] = []
    if len(path.pieces) > 1 or not all(skin.closed for skin in skins):
        return nothing, []
    points, ways = path.places(np.clip(share, 1e-9, 1 - 1e-9))
    near = np.array([path.parameter(0, float(s)) for s in np.clip(share, 1e-9, 1 - 1e-9)])
    for skin in skins:
        for number, faces in enumerate(_tubes(skin)):
            read = lanes_along(faces, points, ways, near, 0 if number or curvature else FLOWS)
            area += read.area if number == 0 else -np.abs(read.area)
            known &= np.isfinite(read.area)
            if len(read.curvature):
                curvature = [[_told(float(v)) for v in flow] for flow in read.curvature]
    return [_told(float(a)) if k else None for a, k in zip(area, known, strict=True)], curvature


def _told(value: float) -> float | None:
    return float(f"{value:.9g}") if np.isfinite(value) else None


def _tubes(skin: Shell) -> list[list[Any]]:
    """The faces round the outside of a skin, then those of each hole."""
    if not skin.caps:
        return _by_seams(skin)
    found, first = [], 0
    for chain in skin.caps[0].chains:
        found.append(list(skin.faces[first : first + len(chain)]))
        first += len(chain)
    return found


def _by_seams(skin: Shell) -> list[list[Any]]:
    """Of a ring, which has no caps: faces that meet side by side go round together."""
    group = list(range(len(skin.faces)))
    for seam in skin.seams:
        if str(seam.first.side)[0] == "u":
            a, b = group[seam.first.part], group[seam.second.part]
            group = [min(a, b) if g in (a, b) else g for g in group]
    return [[face for face, g in zip(skin.faces, group, strict=True) if g == own] for own in dict.fromkeys(group)]
