"""Station: a placed plane that sections stand on."""

from __future__ import annotations

import numpy as np

from wander.core.bodies.edge_runs import plane_loop
from wander.core.bodies.places import touching
from wander.core.checks.stations import no_loop, no_plane, outside_path
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput, GeometryError
from wander.core.geometry.frame import BASE_FRAMES, Frame, facing, turned_about
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.quadrature import at_length, length
from wander.core.geometry.vectors import cross
from wander.core.results.summaries import StationSummary, vector
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.station.params import AlongLoop, FromStation, Placing, SquareToPath, StationParams, ThreePoints, Through, Touching, Turned


def build(params: StationParams, inputs: Inputs) -> Built:
    try:
        placed = BASE_FRAMES[params.plane] if params.place is None else _placed(params.place, inputs)
    except GeometryError as error:
        raise StepRefused([no_plane(inputs.step, error)]) from error
    frame: Frame = placed.moved(params.offset)
    if params.flip:
        frame = Frame(frame.origin, -frame.x, frame.y)
    return Built(frame, StationSummary(origin=vector(frame.origin), x=vector(frame.x), y=vector(frame.y), offset=params.offset))


def _placed(place: Placing, inputs: Inputs) -> Frame:
    match place:
        case FromStation():
            return inputs.result(place.station)
        case Turned():
            base: Frame = inputs.result(place.station)
            line = np.cos(place.direction) * base.x + np.sin(place.direction) * base.y
            return turned_about(base, base.lift(np.array(place.point)), line, place.angle)
        case ThreePoints():
            a, b, c = (np.array(p) for p in place.points)
            return facing(a, cross(b - a, c - a), b - a)
        case Through():
            base = inputs.result(place.station)
            return base.moved(float((np.array(place.point) - base.origin) @ base.z))
        case SquareToPath():
            return _on_path(place, inputs)
        case Touching():
            face = inputs.face(place.face, ["place", "face"])
            return touching(face, place.around, place.along)
        case AlongLoop():
            edge, body = inputs.edge(place.edge, ["place", "edge"]), inputs.exact_body(place.edge)
            try:
                return plane_loop(body, edge)[1]
            except BadInput as error:
                raise StepRefused([no_loop(inputs.step, inputs.named(place.edge), error, edge.curve)]) from error


def _on_path(place: SquareToPath, inputs: Inputs) -> Frame:
    if not 0 <= place.share <= 1:
        raise StepRefused([outside_path(inputs.step, place.share)])
    path = open_through(np.array(place.points))
    there = at_length(path, np.array([place.share * length(path)]))
    origin, tangent = (d[0] for d in path.derivatives(there, 1))
    return facing(origin, tangent, _level(tangent))


def _level(tangent: Floats) -> Floats:
    """A direction square to the path that is as level as can be."""
    level = cross(np.array([0.0, 0.0, 1.0]), tangent)
    return level if np.linalg.norm(level) > 1e-6 * np.linalg.norm(tangent) else np.array([1.0, 0.0, 0.0])
