"""Station: a placed plane that sections stand on."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from wander.core.checks.stations import face_gone, no_plane, outside_path
from wander.core.document.fields import Angle, BodyRef, Length, Model, Place, Share, Spot, StationRef
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.frame import BASE_FRAMES, Frame, facing, turned_about
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.quadrature import at_length, length
from wander.core.geometry.vectors import cross
from wander.core.steps.body import Body
from wander.core.steps.registry import Built, Inputs, StepKind, StepRefused

Vector = tuple[float, float, float]


class FromStation(Model):
    """Parallel to another station."""

    type: Literal["station"]
    station: StationRef = Field(title="From")


class Turned(Model):
    """Another station turned about a line in its plane."""

    type: Literal["turned"]
    station: StationRef = Field(title="From")
    point: Place = Field(default=(0.0, 0.0), title="Line through")
    direction: Angle = Field(default=0.0, title="Line runs at")
    angle: Angle = Field(title="Turned by")


class ThreePoints(Model):
    """Through three points; x runs from the first to the second."""

    type: Literal["points"]
    points: list[Spot] = Field(title="Points", min_length=3, max_length=3)


class Through(Model):
    """Parallel to another station, through a point."""

    type: Literal["through"]
    station: StationRef = Field(title="Parallel to")
    point: Spot = Field(title="Through")


class SquareToPath(Model):
    """Square to the smooth path through some points, at a share of its length."""

    type: Literal["path"]
    points: list[Spot] = Field(title="Path", min_length=2, max_length=400)
    share: Share = Field(default=0.5, title="At the share")


class Touching(Model):
    """Touching a face of a body at a place on it."""

    type: Literal["touching"]
    face: BodyRef = Field(title="Face")
    around: Share = Field(default=0.0, title="Way round")
    along: Share = Field(default=0.5, title="Way along")


Placing = Annotated[FromStation | Turned | ThreePoints | Through | SquareToPath | Touching, Field(discriminator="type")]


class StationParams(Model):
    """A plane, moved by an offset along its normal. Without a `place` it is parallel to one of the three base planes."""

    plane: Literal["top", "front", "side"] = Field(default="top", title="Parallel to")
    place: Placing | None = Field(default=None, title="Placed")
    offset: Length = Field(default=0.0, title="Station at")
    flip: bool = Field(default=False, title="Seen from the other side")


class StationSummary(Model):
    """The plane: origin in mm, unit axes. offset: along its normal, mm, from where it was placed."""

    result: Literal["station"] = "station"
    origin: Vector
    x: Vector
    y: Vector
    offset: float


def vector(values: np.ndarray) -> Vector:
    x, y, z = (float(v) for v in values)
    return x, y, z


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
            return _on_face(place, inputs)


def _on_path(place: SquareToPath, inputs: Inputs) -> Frame:
    if not 0 <= place.share <= 1:
        raise StepRefused([outside_path(inputs.step, place.share)])
    path = open_through(np.array(place.points))
    there = at_length(path, np.array([place.share * length(path)]))
    origin, tangent = (d[0] for d in path.derivatives(there, 1))
    return facing(origin, tangent, _level(tangent))


def _on_face(place: Touching, inputs: Inputs) -> Frame:
    body: Body = inputs.result(place.face)
    names = [face.name for face in body.shell.faces]
    face = next((f for f in body.shell.faces if f.name == place.face.part), None)
    if face is None:
        raise StepRefused([face_gone(inputs.step, inputs.named(place.face), place.face.part or "", names)])
    surface = face.surface
    (u0, u1), (v0, v1) = surface.u.domain, surface.v.domain
    at = np.array([u0 + (u1 - u0) * (place.around % 1.0)]), np.array([v0 + (v1 - v0) * float(np.clip(place.along, 0, 1))])
    du, dv = surface.grid(*at, 1, 0)[0, 0], surface.grid(*at, 0, 1)[0, 0]
    return facing(surface.grid(*at)[0, 0], cross(du, dv), du)


def _level(tangent: Floats) -> Floats:
    """A direction square to the path that is as level as can be."""
    level = cross(np.array([0.0, 0.0, 1.0]), tangent)
    return level if np.linalg.norm(level) > 1e-6 * np.linalg.norm(tangent) else np.array([1.0, 0.0, 0.0])


KIND = StepKind("station", "Station", "station", StationParams, build)
