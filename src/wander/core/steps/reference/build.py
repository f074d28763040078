"""Reference body: a mesh beside the design, from a STEP or STL file."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from wander.core.bodies.body import Body, mesh_of
from wander.core.bodies.brought import NotInFile, Reference
from wander.core.bodies.kernel import KernelFailed
from wander.core.bodies.moved_meshes import moved_mesh
from wander.core.checks.brought import not_read
from wander.core.geometry.basis import Floats
from wander.core.geometry.tolerances import DEFAULT
from wander.core.results.summaries import ReferenceSummary, vector
from wander.core.steps.inputs import Built, Inputs, NeedsExact, StepRefused
from wander.core.steps.reference.params import ReferenceParams
from wander.core.steps.standing_at import data_of, motion_of

MILLIMETRES = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4}


def build(params: ReferenceParams, inputs: Inputs) -> Built:
    matrix, origin = motion_of(params, inputs)
    try:
        found = _from_step(params, inputs) if params.format == "step" else _from_stl(params, inputs)
    except (NotInFile, KernelFailed) as error:
        raise StepRefused([not_read(inputs.step, error)]) from error
    placed = _placed(found, matrix, origin)
    measures = placed.measures
    summary = ReferenceSummary(
        low=vector(measures.low),
        high=vector(measures.high),
        volume=measures.volume if placed.watertight else None,
        area=measures.area,
        triangles=len(placed.mesh.triangles),
    )
    return Built(placed, summary)


def _from_step(params: ReferenceParams, inputs: Inputs) -> Reference:
    if inputs.kernel is None:
        raise NeedsExact
    body: Body = inputs.kernel.brought_in(data_of(params, inputs), None, inputs.step.id)
    return Reference(mesh_of(body, DEFAULT.display), body.measures, body.closed, chord=DEFAULT.display)


def _from_stl(params: ReferenceParams, inputs: Inputs) -> Reference:
    from wander.core.exchange.stl_in import reference_from

    return reference_from(data_of(params, inputs), MILLIMETRES[params.unit], f"{inputs.step.id}/mesh")


def _placed(found: Reference, matrix: Floats, origin: Floats) -> Reference:
    if np.array_equal(matrix, np.eye(3)) and not origin.any():
        return found
    mesh = moved_mesh(found.mesh, matrix, origin)
    low, high = mesh.positions.min(axis=0), mesh.positions.max(axis=0)
    return replace(found, mesh=mesh, measures=replace(found.measures.moved(matrix, origin), low=low, high=high))
