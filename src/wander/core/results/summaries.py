"""What the screen shows of results: one model for each kind of result, whichever step made it."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from wander.core.document.fields import Model
from wander.core.drawing.summary import DrawingSummary

Vector = tuple[float, float, float]


def vector(values: np.ndarray) -> Vector:
    x, y, z = (float(v) for v in values)
    return x, y, z


class StationSummary(Model):
    """The plane: origin in mm, unit axes. offset: along its normal, mm, from where it was placed."""

    result: Literal["station"] = "station"
    origin: Vector
    x: Vector
    y: Vector
    offset: float


class FittedBetween(Model):
    """How a copy came to lie between two rails: scaled by a factor, turned by degrees about the middle of its sheet, then moved, mm."""

    scale: float
    turn: float
    at: tuple[float, float]


class SectionSummary(Model):
    """outline: points in the plane, mm. shares: how far round the outline each of them is, 0 to 1. girth: of it, mm.

    area: of all that is enclosed, mm2. beside: points of the outlines of holes and of further areas. station: the step it stands on.
    middle: of all its areas.
    """

    result: Literal["section"] = "section"
    station: str
    shape: str
    closed: bool
    origin: Vector
    x: Vector
    y: Vector
    outline: list[tuple[float, float]]
    shares: list[float]
    area: float
    girth: float
    beside: list[list[tuple[float, float]]] = []
    middle: tuple[float, float] | None = None
    drawing: DrawingSummary | None = None
    fitted: FittedBetween | None = None


class RailSummary(Model):
    """points: along the rail in space, within the chord height of the display, mm. strays: distance from what was asked for, mm.

    through: where the points of a spline are. x, y, origin: the plane that a drawn one lies in. elsewhere: what goes
    along with it: further edges, and the same on other copies. length: of all runs that were picked.
    """

    result: Literal["rail"] = "rail"
    shape: str
    points: list[Vector]
    through: list[Vector]
    length: float
    closed: bool
    strays: float
    station: str | None = None
    origin: Vector | None = None
    x: Vector | None = None
    y: Vector | None = None
    drawing: DrawingSummary | None = None
    elsewhere: list[list[Vector]] = []


class PictureSummary(Model):
    """Where the picture lies: the plane of its station, and on it the middle and the width in mm, the turn in radians. fade: 0 to 1."""

    result: Literal["picture"] = "picture"
    station: str
    picture: str
    origin: Vector
    x: Vector
    y: Vector
    at: tuple[float, float]
    width: float
    turn: float
    fade: float
    locked: bool


class RunStation(Model):
    """A section on the Run: its step and its station's, the place along the body in mm, twist against the one before in degrees.

    rate: mm along the body for each mm of the station's offset. start: where the skin begins to go round its outline, as a share from where that was
    drawn from; mark: that place on the skin, way: the direction in which it goes. A point has none of them.
    """

    section: str
    station: str
    at: float
    rate: float
    wring: float
    deviation: float
    start: float | None = None
    mark: Vector | None = None
    way: Vector | None = None


class Connecting(Model):
    """A connecting line of a skin. at: for each section of the Run the share of its outline, as it was drawn; places: on the skin there; None for a
    point. line: points of it on the skin.
    """

    at: list[float | None]
    places: list[Vector | None]
    line: list[Vector]


class RunLanes(Model):
    """What happens along the body. at: mm. area mm2. curvature: 1/mm along each flow line. twist in degrees, width and height as factors.

    rails: mm that each rail of the body lies off its skin.
    bends: places, mm, at which what is read may bend: stations, and the points of laws. What a body does not have is empty.
    """

    at: list[float]
    bends: list[float] = []
    area: list[float | None]
    curvature: list[list[float | None]] = []
    twist: list[float] = []
    width: list[float] = []
    height: list[float] = []
    rails: list[list[float | None]] = []


class LinePlace(Model):
    """A place on the line along which a body is counted: at, mm from its first section; way: the unit direction there."""

    at: float
    point: Vector
    way: Vector


class WallOut(Model):
    """A wall as it was measured: mm, at so many places; thin, thick: where it is least and most. of_sheet: it is a sheet that was made thick."""

    least: float
    largest: float
    mean: float
    places: int
    thin: Vector
    thick: Vector
    of_sheet: bool = False


class RunBegins(Model):
    """places: along a run of edges from where it begins, all as far apart; the last is the first again where it closes. leaves: unit direction in
    which the bridge leaves it there; reach: how far one of fullness goes that way, mm."""

    places: list[Vector]
    closed: bool
    leaves: Vector
    reach: float


class BridgedOut(Model):
    """How a bridge or a patch meets the faces beside it, as it was measured: largest gap, mm, angle, degrees, jump of the curvature across.

    end: of a bridge; a patch meets them all round. grade: 0 to 2 for G0 to G2; None where it does not meet them. worst: the place to look at. begins:
    of a bridge, how the run of edges there is gone along.
    """

    end: Literal["first", "second", "round"]
    gap: float
    angle: float
    jump: float | None
    grade: int | None
    worst: Vector
    begins: RunBegins | None = None


class BlendedOut(Model):
    """A run of edges that is rounded or cut off: the first that was picked for a set. set: its number.

    places: along it, all as far apart; the last is the first again where it closes. inwards: unit directions along the first face beside it; reach:
    how far along it a size of one goes there.
    """

    set: int
    places: list[Vector]
    inwards: list[Vector]
    reach: list[float]


class RailsPaired(Model):
    """How two rails that a body goes between belong together: places of both, two by two, and the unit ways in which they begin."""

    rungs: list[tuple[Vector, Vector]]
    ways: tuple[Vector, Vector]
    closed: bool


class SimplifiedOut(Model):
    """A skin that was led by fewer rows of control points: off, the most by which it misses its exact shape, mm."""

    off: float
    rows: int


class BodySummary(Model):
    """volume mm3, area mm2, center and box in mm. source: what these were taken from. pieces: how many bodies lie apart in it.

    axis: direction of the Run; stations stand along it. line: of a body that goes along one; the Run is counted along it. run: the sections that it
    goes through; empty where it was made of none. ties: the designer's own connecting lines. exact: no section was refitted. closed: False of a
    sheet, which has no volume. copies: so many parts of it are copies. moments: of inertia of the volume about axes through the centre along x, y
    and z, mm5: times the density those of the body. blended: None where nothing is rounded or cut off, and in previews, which do not tell it.
    """

    result: Literal["body"] = "body"
    volume: float
    area: float
    center: Vector
    moments: Vector
    low: Vector
    high: Vector
    source: Literal["surfaces", "kernel", "mesh"]
    pieces: int
    axis: Vector
    line: list[LinePlace] = []
    run: list[RunStation] = []
    lanes: RunLanes
    ties: list[Connecting] = []
    exact: bool = True
    folds: int = 0
    closed: bool = True
    copies: int = 0
    wall: WallOut | None = None
    bridged: list[BridgedOut] = []
    blended: list[BlendedOut] | None = None
    paired: RailsPaired | None = None
    simplified: SimplifiedOut | None = None


Verdict = Literal["none", "hit", "under", "over"]


class MeasureSummary(Model):
    """A number read off bodies: mm, degrees, mm2, mm3 or g. at: where it stands in the scene; lines: what shows it there.

    along: of a distance, how far it goes along x, y and z. largest: of a radius that changes, mm. level: of what is filled; level_for_target: up to
    which it holds what it should. chord: by how much it may be off because it goes to triangles that stand for round faces, mm. target, within,
    off: what it should be, by how much it may be and is off; verdict: whether that is so.
    """

    result: Literal["measure"] = "measure"
    what: Literal["distance", "angle", "length", "radius", "area", "volume", "mass", "fill"]
    value: float
    unit: Literal["mm", "deg", "mm2", "mm3", "g"]
    at: Vector
    lines: list[list[Vector]] = []
    along: Vector | None = None
    largest: float | None = None
    level: float | None = None
    level_for_target: float | None = None
    chord: float = 0.0
    target: float | None = None
    within: float | None = None
    off: float | None = None
    verdict: Verdict = "none"


class ReferenceSummary(Model):
    """A mesh that is there to be seen: its box, mm, area, mm2, and triangles. volume: mm3, None where it does not close."""

    result: Literal["reference"] = "reference"
    low: Vector
    high: Vector
    volume: float | None
    area: float
    triangles: int


class SeamOut(Model):
    """Where faces of a body meet, or what its skin is like across a section.

    step: of the body. name: of the edge, or the step of the section. faces: names of the two. gap: mm, angle: degrees, jump: of the curvature across,
    as a share of the larger one; None where they meet at an angle: the largest along it. worst: the place to look at. grade: 0 to 2 for G0 to G2;
    None where they don't meet.
    """

    step: str
    name: str
    faces: tuple[str, str]
    section: bool
    length: float
    gap: float
    angle: float
    jump: float | None
    worst: Vector
    grade: int | None


class CombOut(Model):
    """How much a line on a body bends: places on it, and at each its curvature vector, 1/mm, towards the centre of curvature."""

    points: list[Vector]
    bends: list[Vector]


Summary = Annotated[
    StationSummary | SectionSummary | RailSummary | PictureSummary | BodySummary | MeasureSummary | ReferenceSummary,
    Field(discriminator="result"),
]
