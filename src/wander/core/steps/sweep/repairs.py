"""What would make a sweep fit its path: each repair is tried, and offered where it does."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from wander.core.checks.sweeping import Repair
from wander.core.shaping.folding import Fold
from wander.core.steps.carried import Carried
from wander.core.steps.sweep.params import SweepParams

ROOM = 0.95
"""A repair makes the section reach no further than this share of the bend."""


@dataclass(frozen=True)
class Tried:
    """params: of the step. carried: what is carried with others."""

    params: SweepParams
    carried: Callable[[SweepParams], Carried]

    def works(self, raw: dict[str, Any]) -> bool:
        """Whether it fits with these parameters, as they stand in a document: lengths in mm."""
        named = {name: {"step": ref.step} for name, ref in (("section", self.params.section), ("path", self.params.path))}
        read = SweepParams.model_validate({**named, **raw})
        return self.carried(self.params.model_copy(update={name: getattr(read, name) for name in raw})).fits


def roomier(run: Carried, tried: Tried) -> list[Repair]:
    """For a bend that is tighter than the section reaches."""
    worst = max(run.folds, key=lambda fold: fold.reach / fold.radius)
    if not np.isfinite(worst.radius):
        return []
    offers: list[tuple[str, dict[str, Any]]] = []
    params = tried.params
    if run.radius is not None:
        wider = float(f"{max(fold.reach for fold in run.folds) / ROOM:.3g}")
        offers.append((f"Round the corners by {wider:g} mm", {"radius": wider}))
    if params.place != "drawn":
        offers.append(("Let it ride on the inside of the bend", {"rides": "point", "point": _inside(run, worst)}))
    if params.width is None and params.height is None:
        offers.append(("Make the section smaller in the bend", {"width": _smaller(run), "together": True}))
    return [offer for offer in offers if tried.works(offer[1])]


def roundings(run: Carried, tried: Tried) -> list[Repair]:
    """The most generous of a few radii by which corners can be rounded so that the section passes them."""
    reach = float(np.abs(run.outline - run.rides).max())
    for radius in (2 * reach, 1.25 * reach, reach / 2, reach / 8):
        told = float(f"{radius:.2g}")
        raw = {"corners": "rounded", "radius": told}
        if tried.works(raw):
            return [(f"Round the corners by {told:g} mm", raw)]
    return []


def comes_round(params: SweepParams) -> list[Repair]:
    """Laws that end as they began: none."""
    return [(f"Take the {name} away", {name: None}) for name in ("twist", "width", "height") if getattr(params, name) is not None]


def _inside(run: Carried, fold: Fold) -> list[float]:
    """The riding point, moved so far towards the middle of the bend that the section reaches over the path by less than its radius."""
    path = run.path
    number = min(int(np.searchsorted(path.begins, fold.share * path.length, side="right")), len(path.pieces)) - 1
    place, turns = run.placing.held.frames[number](np.array([path.parameter(number, fold.share)]))
    inwards = (fold.middle - place[0]) @ turns[0]
    way = run.placing.matrix.T @ inwards
    moved = run.rides + way / np.linalg.norm(way) * (fold.reach - ROOM**2 * fold.radius)
    return [round(float(x), 3) for x in moved]


def _smaller(run: Carried) -> dict[str, Any]:
    """A law of scale that leaves the section as it is but for the bends that are too tight, where it fits into them."""
    points: dict[float, float] = {0.0: 1.0, 1.0: 1.0}
    for fold in run.folds:
        factor = float(f"{ROOM * fold.radius / fold.reach:.3g}")
        for share in (fold.begins, fold.ends):
            at = round(min(max(share, 0.0), 1.0), 4)
            points[at] = min(factor, points.get(at, 1.0))
    return {"type": "points", "points": [{"at": at, "value": points[at]} for at in sorted(points)]}
