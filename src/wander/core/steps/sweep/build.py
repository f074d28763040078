"""Sweep: an area carried along a rail."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.bodies.body import Along
from wander.core.bodies.continuity import look_at
from wander.core.checks.areas import makes_no_body
from wander.core.checks.sweeping import (
    corner_bent,
    corner_crowded,
    corners_merged,
    no_surface,
    path_too_tight,
    runs_into_surface,
    runs_upright,
    sweep_not_closed,
    turned_back,
)
from wander.core.document.document import Step
from wander.core.document.findings import Finding
from wander.core.geometry.errors import GeometryError
from wander.core.results.rails import Rail
from wander.core.shaping.attitude import Attitude, Normals, RunsIntoSurface, RunsUpright
from wander.core.shaping.bays import DoesNotClose
from wander.core.shaping.mitring import CornerBent, CornerCrowded
from wander.core.shaping.placing import Place
from wander.core.shaping.shell import Shell
from wander.core.steps.areas import outlines_of
from wander.core.steps.carried import Carried
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import finished, left
from wander.core.steps.places import at_all_places, called, with_places_of
from wander.core.steps.result import NewBody
from wander.core.steps.sweep.params import SweepParams
from wander.core.steps.sweep.reading import read_along
from wander.core.steps.sweep.repairs import Tried, comes_round, roomier, roundings

TOLD = np.radians(0.1)
"""What a section is turned back by round a closed path is told when it is more."""


def build(params: SweepParams, inputs: Inputs) -> Built:
    runs: list[_Piece] = []
    for ref in [params.path, *params.also]:
        own = params.model_copy(update={"path": ref})
        rail: Rail = inputs.result(ref)
        # each further piece is called by its path
        runs += [_along(own, inputs, run, f"{inputs.step.id}{called(ref.step, run, alone=not runs)}") for run in rail.runs]
    first = runs[0]
    everywhere = tuple(skin for run in runs for skin in at_all_places(run.skins, run.run.rail))
    body, findings = finished(everywhere, Along(first.run.axis), params.result, inputs)
    if isinstance(params.result, NewBody):
        body = with_places_of(body, [run.run.rail for run in runs])
    told = [finding for run in runs for finding in run.told]
    return left(body, inputs, [*findings, *told], lambda: read_along(first.run.path, first.run.laws, first.skins))


@dataclass(frozen=True)
class _Piece:
    """What was made along one path. told: what is worth saying of it."""

    run: Carried
    skins: tuple[Shell, ...]
    told: list[Finding]


def _along(params: SweepParams, inputs: Inputs, along: Rail, name: str) -> _Piece:
    """Raises StepRefused."""
    run = carried_by(params, inputs, along)
    rail = inputs.named(params.path)
    tried = Tried(params, lambda changed: carried_by(changed, inputs, along))
    try:
        if run.folds:
            raise StepRefused([path_too_tight(inputs.step, rail, run.folds, roomier(run, tried))])
        made = run.skins(name, params.section.step, inputs.tolerances)
    except GeometryError as error:
        raise StepRefused([_why(error, inputs.step, rail, run, tried)]) from error
    told = []
    if run.merged is not None:
        told.append(corners_merged(inputs.step, rail, run.merged))
    if abs(run.placing.held.turned) > TOLD:
        told.append(turned_back(inputs.step, rail, run.placing.held.turned))
    return _Piece(run, made.skins, told)


def carried_by(params: SweepParams, inputs: Inputs, along: Rail) -> Carried:
    """Raises StepRefused where the drawing is a point."""
    return Carried(
        *outlines_of(params.section, inputs),
        along,
        None if params.corners == "mitred" else params.radius,
        params.laws(),
        Place(params.place),
        Attitude(params.attitude),
        np.array(params.point) if params.rides == "point" else None,
        None if params.level is None else inputs.result(params.level).z,
        _normals(params, inputs),
        params.steps if params.corners == "stepped" else None,
    )


def _normals(params: SweepParams, inputs: Inputs) -> Normals | None:
    """Of the face that the section stands up from. Raises StepRefused where there is none."""
    if params.attitude != "surface":
        return None
    if params.surface is None:
        raise StepRefused([no_surface(inputs.step)])
    face = inputs.face(params.surface, ["surface"])
    if face.surface is None and face.frame is None:
        raise StepRefused([no_surface(inputs.step)])

    def normals(points: np.ndarray) -> np.ndarray:
        seen = look_at(face, points)
        assert seen is not None
        return seen.normals

    return normals


def _why(error: GeometryError, step: Step, rail: Step, run: Carried, tried: Tried) -> Finding:
    match error:
        case RunsIntoSurface():
            return runs_into_surface(step, rail, error.place)
        case RunsUpright():
            return runs_upright(step, rail, error.place)
        case CornerBent():
            return corner_bent(step, rail, error.place, roundings(run, tried))
        case CornerCrowded():
            return corner_crowded(step, rail, error, roundings(run, tried), rounded=run.radius is not None)
        case DoesNotClose():
            return sweep_not_closed(step, rail, comes_round(tried.params))
    return makes_no_body(step, error)
