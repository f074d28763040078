"""Sweep: an area carried along a rail."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from wander.core.bodies.body import Along
from wander.core.checks.areas import makes_no_body
from wander.core.checks.sweeping import Repair, corner_bent, corner_crowded, path_too_tight, runs_upright, sweep_not_closed
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.tolerances import DEFAULT
from wander.core.results.bodies import body_summary
from wander.core.results.drawn import Drawn
from wander.core.results.rails import Rail
from wander.core.shaping.attitude import Attitude, RunsUpright
from wander.core.shaping.folding import Fold, folds_along
from wander.core.shaping.laws import Laws
from wander.core.shaping.mitring import CornerBent, CornerCrowded
from wander.core.shaping.path import Path, path_along
from wander.core.shaping.placing import Place, Placing, placed_on
from wander.core.shaping.rounding import rounded
from wander.core.shaping.sweep import DoesNotClose, swept
from wander.core.shaping.trajectories import Trajectories
from wander.core.steps.areas import areas_of
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import finished
from wander.core.steps.sweep.params import SweepParams
from wander.core.steps.sweep.reading import read_along

ROOM = 0.95
"""A repair makes the section reach no further than this share of the bend."""


def build(params: SweepParams, inputs: Inputs) -> Built:
    run = _Run.of(params, inputs)
    rail = inputs.named(params.path)
    try:
        if run.folds:
            raise StepRefused([path_too_tight(inputs.step, rail, run.folds, _roomier(run))])
        made = swept(
            run.drawn.areas,
            run.drawn.frame,
            run.path,
            run.placing,
            laws=run.laws,
            name=inputs.step.id,
            section=params.section.step,
            tolerances=inputs.tolerances,
        )
    except RunsUpright as error:
        raise StepRefused([runs_upright(inputs.step, rail, error.place)]) from error
    except CornerBent as error:
        raise StepRefused([corner_bent(inputs.step, rail, error.place, _roundings(run))]) from error
    except CornerCrowded as error:
        raise StepRefused([corner_crowded(inputs.step, rail, error, _roundings(run), rounded=params.corners == "rounded")]) from error
    except DoesNotClose as error:
        raise StepRefused([sweep_not_closed(inputs.step, rail, _comes_round(params))]) from error
    except GeometryError as error:
        raise StepRefused([makes_no_body(inputs.step, error)]) from error
    body, findings = finished(made.skins, Along(run.axis), params.result, inputs)
    summary = body_summary(body, inputs.tolerances, **read_along(run.path, run.laws, made.skins))
    return Built(body, summary, findings)


@dataclass(frozen=True)
class _Run:
    """What is carried along which path, as the parameters have it."""

    params: SweepParams
    drawn: Drawn
    rail: Rail
    up: Floats
    laws: Laws

    @classmethod
    def of(cls, params: SweepParams, inputs: Inputs) -> _Run:
        """Raises StepRefused where the drawing encloses nothing."""
        up = np.array([0.0, 0.0, 1.0]) if params.level is None else inputs.result(params.level).z
        return cls(params, areas_of(params.section, inputs), inputs.result(params.path), up, params.laws())

    @cached_property
    def path(self) -> Path:
        path = path_along(self.rail.curve, closed=self.rail.closed)
        return rounded(path, self.params.radius) if self.params.corners == "rounded" and path.corners else path

    @property
    def riding(self) -> Floats:
        return self.middle if self.params.rides == "centre" else np.array(self.params.point)

    @property
    def middle(self) -> Floats:
        areas = self.drawn.areas
        weights = np.array([area.outer.area for area in areas])
        return np.asarray(weights @ np.stack([area.outer.centroid for area in areas]) / weights.sum(), dtype=np.float64)

    @cached_property
    def placing(self) -> Placing:
        frame, params = self.drawn.frame, self.params
        near = frame.lift(self.middle[None])[0]
        return placed_on(self.path, frame, self.riding, place=Place(params.place), attitude=Attitude(params.attitude), up=self.up, near=near)

    @property
    def outline(self) -> Floats:
        """Points of it in its plane, (n, 2)."""
        return np.concatenate([area.outer.curve.sampled(16)[1] for area in self.drawn.areas])

    @cached_property
    def folds(self) -> list[Fold]:
        placing = self.placing
        trajectories = [Trajectories(self.path, number, frames, self.laws) for number, frames in enumerate(placing.held.frames)]
        return folds_along(trajectories, placing.local(self.outline), placing.forwards)

    @property
    def axis(self) -> Floats:
        """From the start of the path to its end; across a closed one."""
        first, last = self.path.pieces[0](0.0), self.path.pieces[-1](1.0)
        chord = last - first
        reach = float(np.linalg.norm(chord))
        if reach > 1e-6 * self.path.length:
            return np.asarray(chord / reach, dtype=np.float64)
        return np.eye(3)[int(np.ptp(self.rail.curve.points, axis=0).argmax())]

    def changed(self, **params: object) -> _Run:
        changed = self.params.model_copy(update=params)
        return replace(self, params=changed, laws=changed.laws())

    @property
    def fits(self) -> bool:
        """Whether it runs along its path without a fold and past every corner."""
        try:
            if self.folds:
                return False
            areas, frame, path = self.drawn.areas, self.drawn.frame, self.path
            swept(areas[:1], frame, path, self.placing, laws=self.laws, name="tried", section="section-0", tolerances=DEFAULT)
        except GeometryError:
            return False
        return True


def _roomier(run: _Run) -> list[Repair]:
    """What would make the section fit into the bends: tried, and offered where it does."""
    found: list[Repair] = []
    worst = max(run.folds, key=lambda fold: fold.reach / fold.radius if np.isfinite(fold.radius) else np.inf)
    if not np.isfinite(worst.radius):
        return found
    if run.params.corners == "rounded":
        wider = float(f"{max(fold.reach for fold in run.folds) / ROOM:.3g}")
        _offer(found, run, f"Round the corners by {wider:g} mm", {"radius": wider})
    if run.params.place != "drawn":
        _offer(found, run, "Let it ride on the inside of the bend", {"rides": "point", "point": _inside(run, worst)})
    if run.params.width is None and run.params.height is None:
        _offer(found, run, "Make the section smaller in the bend", {"width": _smaller(run), "together": True})
    return found


def _roundings(run: _Run) -> list[Repair]:
    """Radii by which corners can be rounded so that the section passes them, the most generous one first."""
    found: list[Repair] = []
    reach = float(np.abs(run.outline - run.riding).max())
    for radius in (2 * reach, 1.25 * reach, reach / 2, reach / 8):
        told = float(f"{radius:.2g}")
        _offer(found, run, f"Round the corners by {told:g} mm", {"corners": "rounded", "radius": told})
        if found:
            break
    return found


def _offer(found: list[Repair], run: _Run, label: str, raw: dict[str, object]) -> None:
    if run.changed(**_read(raw)).fits:
        found.append((label, raw))


def _read(raw: dict[str, object]) -> dict[str, object]:
    """As parameters: what a repair sets is written in mm and plain factors, which the core has too."""
    checked = SweepParams.model_validate({"section": {"step": "section-0"}, "path": {"step": "rail-0"}, **raw})
    return {name: getattr(checked, name) for name in raw}


def _inside(run: _Run, fold: Fold) -> list[float]:
    """The riding point, moved so far towards the middle of the bend that the section reaches over the path by less than its radius."""
    piece, at = next(
        (number, run.path.parameter(number, fold.share))
        for number in range(len(run.path.pieces))
        if run.path.begins[number + 1] >= fold.share * run.path.length
    )
    place, turns = run.placing.held.frames[piece](np.array([at]))
    inwards = (fold.middle - place[0]) @ turns[0] / np.linalg.norm(fold.middle - place[0])
    way = run.placing.matrix.T @ inwards
    moved = run.riding + way / np.linalg.norm(way) * (fold.reach - ROOM**2 * fold.radius)
    return [round(float(x), 3) for x in moved]


def _smaller(run: _Run) -> dict[str, object]:
    """A law of scale that leaves the section as it is but for the bends that are too tight, where it fits into them."""
    points: dict[float, float] = {0.0: 1.0, 1.0: 1.0}
    for fold in run.folds:
        factor = float(f"{ROOM * fold.radius / fold.reach:.3g}")
        for share in (fold.begins, fold.ends):
            at = round(min(max(share, 0.0), 1.0), 4)
            points[at] = min(factor, points.get(at, 1.0))
    return {"type": "points", "points": [{"at": at, "value": points[at]} for at in sorted(points)]}


def _comes_round(params: SweepParams) -> list[Repair]:
    """Laws that end as they began."""
    return [(f"Take the {name} away", {name: None}) for name in ("twist", "width", "height") if getattr(params, name) is not None]
