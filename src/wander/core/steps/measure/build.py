"""Measure."""

from __future__ import annotations

from collections.abc import Sequence
from math import degrees

import numpy as np

from wander.core.bodies.areas import face_area
from wander.core.bodies.body import Body, Face
from wander.core.bodies.brought import Reference
from wander.core.bodies.filling import Spills, vessel
from wander.core.bodies.measured_meshes import OfMesh
from wander.core.bodies.measuring import OfEdge, OfFace, Parts, Thing, angle, bend_of_edge, bend_of_face, nearest
from wander.core.checks.measuring import aim_missed, beyond_rim, nothing_bends, nothing_held, nothing_weighed, pick_more, within_negative
from wander.core.document.fields import BodyRef
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.quadrature import length
from wander.core.results.summaries import MeasureSummary, Verdict, vector
from wander.core.steps.inputs import Built, Inputs, NeedsExact, StepRefused
from wander.core.steps.measure.params import AngleBetween, AreaOf, Distance, FilledTo, LengthOf, MassOf, MeasureParams, RadiusOf, VolumeOf

PER_UNIT = {"mm": 1.0, "deg": 1.0, "mm2": 100.0, "mm3": 1000.0, "g": 1.0}
"""What a target is counted in: mm, degrees, cm2, cm3, g."""
DRAWN = 16
"""Pieces in which each span of a line is drawn."""


def build(params: MeasureParams, inputs: Inputs) -> Built:
    of = params.of
    match of:
        case Distance():
            read = _distance(of, inputs)
        case AngleBetween():
            read = _angle(of, inputs)
        case LengthOf():
            read = _length(of, inputs)
        case RadiusOf():
            read = _radius(of, inputs)
        case AreaOf():
            read = _area(of, inputs)
        case VolumeOf():
            body = _closed(of.body, inputs)
            read = MeasureSummary(what="volume", value=body.measures.volume, unit="mm3", at=vector(body.measures.center))
        case MassOf():
            read = _mass(of, inputs)
        case FilledTo():
            read = _fill(of, inputs)
    if of.aim is None:
        return Built(read, read)
    return _aimed(read, of.aim.target, of.aim.within, inputs)


def _aimed(read: MeasureSummary, target: float, within: float, inputs: Inputs) -> Built:
    if within < 0:
        raise StepRefused([within_negative(inputs.step)])
    # angles come in radians, as everything does here, and are told in degrees
    wanted, slack = (degrees(each) if read.unit == "deg" else each * PER_UNIT[read.unit] for each in (target, within))
    off = read.value - wanted
    verdict: Verdict = "hit" if abs(off) <= slack + 1e-9 * max(1.0, abs(wanted)) else "over" if off > 0 else "under"
    told = read.model_copy(update={"target": wanted, "within": slack, "verdict": verdict, "off": off})
    return Built(
        told, told, [] if verdict == "hit" else [aim_missed(inputs.step, read.unit, read.value, wanted, off, read.at, read.level_for_target)]
    )


def _things(refs: Sequence[BodyRef], count: int, path: str, inputs: Inputs) -> list[Thing]:
    """What is meant, as it can be measured. Raises StepRefused, NeedsExact."""
    if len(refs) < count:
        raise StepRefused([pick_more(inputs.step, count - len(refs), path)])
    return [_thing(ref, ["of", path, number], inputs) for number, ref in enumerate(refs)]


def _thing(ref: BodyRef, path: Sequence[str | int], inputs: Inputs) -> Thing:
    if isinstance(mesh := inputs.result(ref), Reference):
        return OfMesh(mesh.mesh)
    parts = Parts(inputs.exact_body(ref))
    if ref.part is None:
        return parts.whole()
    return parts.edge(inputs.edge(ref, path)) if "|" in ref.part else parts.face(inputs.face(ref, path))


def _distance(of: Distance, inputs: Inputs) -> MeasureSummary:
    first, second = _things(of.parts, 2, "parts", inputs)
    found = nearest(first, second)
    line = [vector(found.first), vector(found.second)]
    apart = vector(np.abs(found.second - found.first))
    middle = vector((found.first + found.second) / 2)
    chord = sum(result.chord for ref in of.parts if isinstance(result := inputs.result(ref), Reference))
    return MeasureSummary(what="distance", value=found.distance, unit="mm", at=middle, lines=[line], along=apart, chord=chord)


def _angle(of: AngleBetween, inputs: Inputs) -> MeasureSummary:
    first, second = _things(of.parts, 2, "parts", inputs)
    found = nearest(first, second)
    line = [vector(found.first), vector(found.second)]
    value = degrees(angle(first, second, found))
    return MeasureSummary(what="angle", value=value, unit="deg", at=vector((found.first + found.second) / 2), lines=[line])


def _length(of: LengthOf, inputs: Inputs) -> MeasureSummary:
    if not of.edges:
        raise StepRefused([pick_more(inputs.step, 1, "edges")])
    curves = [inputs.edge(ref, ["of", "edges", number]).curve for number, ref in enumerate(of.edges)]
    lines = [curve.sampled(DRAWN if curve.degree > 1 else 1)[1] for curve in curves]
    total = sum(length(curve) for curve in curves)
    return MeasureSummary(what="length", value=total, unit="mm", at=_halfway(lines), lines=[[vector(p) for p in line] for line in lines])


def _halfway(lines: Sequence[Floats]) -> tuple[float, float, float]:
    longest = max(lines, key=lambda line: float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum()))
    return vector(longest[len(longest) // 2])


def _radius(of: RadiusOf, inputs: Inputs) -> MeasureSummary:
    (thing,) = _things(of.parts, 1, "parts", inputs)
    try:
        if isinstance(thing, OfEdge):
            bend = bend_of_edge(thing.curve)
        elif isinstance(thing, OfFace):
            bend = bend_of_face(thing)
        else:
            raise BadInput("it is a whole body")
    except BadInput as error:
        raise StepRefused([nothing_bends(inputs.step, error)]) from error
    return MeasureSummary(what="radius", value=bend.least, unit="mm", at=vector(bend.at), largest=bend.largest)


def _area(of: AreaOf, inputs: Inputs) -> MeasureSummary:
    if not of.faces:
        raise StepRefused([pick_more(inputs.step, 1, "faces")])
    total, places = 0.0, []
    for number, ref in enumerate(of.faces):
        body, face = inputs.exact_body(ref), inputs.face(ref, ["of", "faces", number])
        total += _area_of(body, face, inputs)
        places.append(Parts(body).face(face).sampled)
    return MeasureSummary(what="area", value=total, unit="mm2", at=vector(places[0][len(places[0]) // 2]))


def _area_of(body: Body, face: Face, inputs: Inputs) -> float:
    found = face_area(body, face.name)
    if found is not None:
        return found
    if inputs.kernel is None:
        raise NeedsExact
    return inputs.kernel.area(body, face.name)


def _closed(ref: BodyRef, inputs: Inputs) -> Body:
    body = inputs.body(ref)
    if not body.closed:
        raise StepRefused([nothing_held(inputs.step, inputs.named(ref))])
    return body


def _mass(of: MassOf, inputs: Inputs) -> MeasureSummary:
    measures = _closed(of.body, inputs).measures
    assert inputs.weighed is not None, "a mass weighs its body"
    if inputs.weighed.density is None:
        raise StepRefused([nothing_weighed(inputs.step, inputs.weighed.step)])
    return MeasureSummary(what="mass", value=measures.volume * inputs.weighed.density / PER_UNIT["mm3"], unit="g", at=vector(measures.center))


def _fill(of: FilledTo, inputs: Inputs) -> MeasureSummary:
    named = inputs.named(of.body)
    try:
        found = vessel(inputs.exact_body(of.body), np.eye(3)["xyz".index(of.up)])
    except BadInput as error:
        raise StepRefused([nothing_held(inputs.step, named)]) from error
    try:
        value = found.holds(of.level)
    except Spills as error:
        raise StepRefused([beyond_rim(inputs.step, named, error)]) from error
    at = found.up * (found.bottom + of.level)
    center = np.where(found.up > 0, at, inputs.exact_body(of.body).measures.center)
    level = found.level_for(of.aim.target * PER_UNIT["mm3"]) if of.aim is not None else None
    return MeasureSummary(what="fill", value=value, unit="mm3", at=vector(center), level=of.level, level_for_target=level)
