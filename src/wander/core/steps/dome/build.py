"""Dome."""

from __future__ import annotations

import numpy as np

from wander.core.bodies.body import Body, Face, of_shells
from wander.core.bodies.combining import How
from wander.core.bodies.continuity import seams
from wander.core.bodies.edge_runs import face_loops
from wander.core.bodies.rims import rim_of
from wander.core.bodies.touching import OffBody, Touching
from wander.core.checks.doming import dome_has_holes, dome_meets_less, dome_not_flat, dome_not_made, dome_without_height
from wander.core.document.fields import BodyRef
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput, GeometryError
from wander.core.geometry.frame import Frame
from wander.core.results.bodies import body_summary
from wander.core.results.continuity import bridged_out
from wander.core.shaping.ends import FREE, EndKind, EndShape
from wander.core.shaping.loft import loft
from wander.core.shaping.section import PlacedSection
from wander.core.steps.dome.params import DomeParams
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import put_together

QUARTER = 3 * 4 / 3 * (np.sqrt(2.0) - 1)
"""A handle of a cubic that runs like a quarter of an ellipse, against a third of the chord of a loft's."""
KINDS = {"edge": EndKind.FREE, "tangent": EndKind.TANGENT, "curvature": EndKind.CURVATURE}


def build(params: DomeParams, inputs: Inputs) -> Built:
    named = inputs.named(params.face)
    if params.face.part is None:
        raise StepRefused([dome_not_flat(inputs.step, named, picked=False)])
    body, face = inputs.exact_body(params.face), inputs.face(params.face, ["face"])
    if params.height <= 0 or params.fullness <= 0:
        raise StepRefused([dome_without_height(inputs.step, "height" if params.height <= 0 else "fullness")])
    if face.frame is None:
        raise StepRefused([dome_not_flat(inputs.step, named, picked=True)])
    try:
        dome = _dome(params, body, face, inputs)
    except OffBody as error:
        raise StepRefused([dome_not_made(inputs.step, named, BadInput(f"the sides beside the face can't be followed: {error}"))]) from error
    except GeometryError as error:
        raise StepRefused([dome_not_made(inputs.step, named, error)]) from error
    joined, findings = put_together(How.JOIN, BodyRef(step=params.face.step), [dome], [inputs.step.name], inputs)
    summary = body_summary(joined, inputs.tolerances)
    own = f"{inputs.step.id}/"
    around = [seam for seam in seams(joined) if seam.faces[0].startswith(own) != seam.faces[1].startswith(own)]
    if around:
        told = bridged_out("round", around)
        summary = summary.model_copy(update={"bridged": [told]})
        if params.meets != "edge" and (told.grade or 0) < (1 if params.meets == "tangent" else 2):
            findings.append(dome_meets_less(inputs.step, grade=told.grade, angle=told.angle, jump=told.jump, worst=told.worst))
    return Built(joined, summary, findings)


def _dome(params: DomeParams, body: Body, face: Face, inputs: Inputs) -> Body:
    """By itself, on its flat face. Raises GeometryError, StepRefused."""
    flat = face.frame
    assert flat is not None
    outwards = Frame(flat.origin, flat.y, flat.x) if face.turned else flat
    loops = face_loops(body, face.name)
    if len(loops) > 1:
        raise StepRefused([dome_has_holes(inputs.step, inputs.named(params.face))])
    rim = rim_of(loops[0], outwards, inputs.tolerances)
    rim = rim if rim.area > 0 else rim.reversed()
    start = FREE
    if params.meets != "edge":
        handle = QUARTER * params.height / _chord(rim.curve.sampled(16)[1], rim.centroid, params.height)
        start = EndShape(KINDS[params.meets], 0.0, params.fullness * handle, Touching.of(body, outwards))
    end = EndShape(EndKind.DOMED, 0.0, params.fullness) if params.tip == "round" else FREE
    made = loft(
        [PlacedSection(outwards, rim.measured()), PlacedSection(outwards.moved(params.height), None, rim.centroid)],
        ["face-1", "tip-2"],
        name=inputs.step.id,
        ends=(start, end),
        tolerances=inputs.tolerances,
    )
    return of_shells((made.shell,))


def _chord(rim: Floats, middle: Floats, height: float) -> float:
    """Mean distance of the rim from the tip."""
    return float(np.hypot(np.linalg.norm(rim - middle, axis=1), height).mean())
