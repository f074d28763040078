"""Tube: a round, or a drawing, along each of several rails."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from wander.core.bodies.body import Along
from wander.core.checks.areas import makes_no_body
from wander.core.checks.sweeping import Repair, corner_bent, corner_crowded, corners_merged, no_path, path_too_tight, sweep_not_closed, wall_too_thick
from wander.core.document.document import Step
from wander.core.document.fields import RailRef
from wander.core.document.findings import Finding
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import Area
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.errors import BadInput, GeometryError
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.geometry.law import linear
from wander.core.results.rails import Rail
from wander.core.shaping.bays import DoesNotClose
from wander.core.shaping.laws import Laws
from wander.core.shaping.mitring import CornerBent, CornerCrowded
from wander.core.shaping.shell import Shell
from wander.core.steps.areas import outlines_of
from wander.core.steps.carried import Carried
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import finished, left
from wander.core.steps.places import at_all_places, called, with_places_of
from wander.core.steps.result import NewBody
from wander.core.steps.tube.params import TubeParams

SIDES = {"square": 4, "hexagon": 6, "octagon": 8}
ROOM = 0.95
"""A repair makes the tube reach no further than this share of the bend."""


def build(params: TubeParams, inputs: Inputs) -> Built:
    if not params.paths:
        raise StepRefused([no_path(inputs.step)])
    areas, frame = _profile(params, inputs)
    section = "section-0" if params.profile is None else params.profile.step
    skins: list[Shell] = []
    findings: list[Finding] = []
    told: list[Finding] = []
    along_all: list[tuple[RailRef, Rail]] = [(path, run) for path in params.paths for run in inputs.result(path).runs]
    axis = None
    for path, along in along_all:
        rail = inputs.named(path)
        run = _carried(params, areas, frame, along)
        try:
            if run.folds:
                findings.append(path_too_tight(inputs.step, rail, run.folds, _roomier(params, run)))
                continue
            # each is called by its rail
            skins += at_all_places(run.skins(f"{inputs.step.id}{called(rail.id, along)}", section, inputs.tolerances).skins, along)
            axis = run.axis if axis is None else axis
            if run.merged is not None:
                told.append(corners_merged(inputs.step, rail, run.merged))
        except GeometryError as error:
            findings.append(_why(error, inputs.step, rail, params, run))
    if findings or axis is None:
        raise StepRefused(findings)
    body, findings = finished(tuple(skins), Along(axis), params.result, inputs)
    if isinstance(params.result, NewBody):
        body = with_places_of(body, [along for _, along in along_all])
    return left(body, inputs, [*findings, *told])


def _profile(params: TubeParams, inputs: Inputs) -> tuple[Sequence[Area], Frame]:
    if params.profile is not None:
        return outlines_of(params.profile, inputs)
    if params.wall != 0 and params.diameter > 0 and not 0 < params.wall < params.diameter / 2:
        raise StepRefused([wall_too_thick(inputs.step, params.diameter, params.wall)])
    try:
        return [_ring(params, params.diameter)], BASE_FRAMES["top"]
    except BadInput as error:
        raise StepRefused([makes_no_body(inputs.step, error)]) from error


def _ring(params: TubeParams, diameter: float) -> Area:
    """What there is between the outline of a diameter and that of its room, if it has a wall."""
    outer = _outline(params.outline, diameter)
    return Area(outer) if params.wall == 0 else Area(outer, (_outline(params.outline, diameter - 2 * params.wall).reversed(),))


def _outline(kind: str, across: float) -> Loop:
    """An angular one has a flat towards x."""
    sides = SIDES.get(kind)
    if sides is None or across <= 0:
        return shapes.circle(across)
    turns = 2 * np.pi * (np.arange(sides) + 0.5) / sides
    return shapes.polyline(across / 2 / np.cos(np.pi / sides) * np.column_stack([np.cos(turns), np.sin(turns)]))


def _carried(params: TubeParams, areas: Sequence[Area], frame: Frame, rail: Rail) -> Carried:
    scale = None if params.taper == 1.0 else linear(1.0, params.taper)
    radius = None if params.corners == "mitred" else params.radius
    steps = params.steps if params.corners == "stepped" else None
    twist = None if params.turn == params.twist == 0.0 else linear(params.turn, params.turn + params.twist)
    return Carried(areas, frame, rail, radius, Laws(twist, scale, scale), steps=steps)


def _roomier(params: TubeParams, run: Carried) -> list[Repair]:
    """A wider arc round the corners, a thinner tube: what fits."""
    found: list[Repair] = []
    reach = max(fold.reach for fold in run.folds)
    if run.radius is not None:
        wider = float(f"{reach / ROOM:.3g}")
        if replace(run, radius=wider).fits:
            found.append((f"Round the corners by {wider:g} mm", {"radius": wider}))
    tight = min(fold.radius / fold.reach for fold in run.folds)
    if params.profile is None and np.isfinite(tight):
        thinner = float(f"{ROOM * params.diameter * tight:.3g}")
        if thinner > 2 * params.wall and replace(run, areas=[_ring(params, thinner)]).fits:
            found.append((f"Make it {thinner:g} mm thick", {"diameter": thinner}))
    return found


def _why(error: GeometryError, step: Step, rail: Step, params: TubeParams, run: Carried) -> Finding:
    match error:
        case CornerBent():
            return corner_bent(step, rail, error.place, _rounded(run))
        case CornerCrowded():
            return corner_crowded(step, rail, error, _rounded(run), rounded=params.corners != "mitred")
        case DoesNotClose():
            straight: dict[str, Any] = {"twist": 0.0} if params.twist else {}
            even: dict[str, Any] = {"taper": 1.0} if params.taper != 1.0 else {}
            words = "Don't scale or turn it" if even and straight else "Don't turn it" if straight else "Don't scale it"
            return sweep_not_closed(step, rail, [(words, {**even, **straight})])
    return makes_no_body(step, error)


def _rounded(run: Carried) -> list[Repair]:
    reach = float(np.abs(run.outline - run.rides).max())
    for radius in (2 * reach, 1.25 * reach, reach):
        told = float(f"{radius:.3g}")
        if replace(run, radius=told).fits:
            return [(f"Round the corners by {told:g} mm", {"corners": "rounded", "radius": told})]
    return []
