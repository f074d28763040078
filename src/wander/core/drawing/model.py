"""A drawing as it is written down: points, curves through them, and what holds them.

Positions are plain numbers in mm, as they were last solved; only what holds the drawing (`holds`) may be an expression. Ids are short, unique
in the drawing and never used twice: `p4` a point, `c7` a curve, `h9` a hold.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field, model_validator

from wander.core.document.fields import EdgeRef, Model
from wander.core.drawing.ground import AXES, GROUND, GROUND_WORDS, ORIGIN
from wander.core.drawing.holds import HOLD_WORDS, SHARES, SIZES, Hold, Id, Measure, ShareMeasure, misfit

Position = Annotated[tuple[float, float], Field(strict=False)]
MOST = 4000
MOST_BENT = 1e3
"""1/mm: a radius of a micrometre."""


class _Curve(Model):
    id: Id
    construction: bool = False

    def ends(self) -> tuple[str, str] | None:
        """The points it begins and ends at; None for a closed curve."""
        raise NotImplementedError

    def points(self) -> tuple[str, ...]:
        """All points that it is made of."""
        raise NotImplementedError


class DrawnLine(_Curve):
    type: Literal["line"] = "line"
    start: Id
    end: Id

    def ends(self) -> tuple[str, str]:
        return self.start, self.end

    def points(self) -> tuple[str, ...]:
        return self.start, self.end


class DrawnArc(_Curve):
    """Runs counter-clockwise about its centre, from start to end."""

    type: Literal["arc"] = "arc"
    center: Id
    start: Id
    end: Id

    def ends(self) -> tuple[str, str]:
        return self.start, self.end

    def points(self) -> tuple[str, ...]:
        return self.center, self.start, self.end


class DrawnCircle(_Curve):
    type: Literal["circle"] = "circle"
    center: Id
    radius: float = Field(gt=0)

    def ends(self) -> None:
        return None

    def points(self) -> tuple[str, ...]:
        return (self.center,)


class DrawnEllipse(_Curve):
    """width along its own x, which is turned by `turn` degrees."""

    type: Literal["ellipse"] = "ellipse"
    center: Id
    width: float = Field(gt=0)
    depth: float = Field(gt=0)
    turn: float = 0.0

    def ends(self) -> None:
        return None

    def points(self) -> tuple[str, ...]:
        return (self.center,)


class DrawnFoil(_Curve):
    """A foil of the four-digit family from its nose (start) to its trailing edge (end), where it closes with a corner.

    thickness, camber: greatest, as shares of the chord; a camber above 0 lies to the left of the way from nose to tail. crest: where that is, as
    a share of the chord.
    """

    type: Literal["foil"] = "foil"
    start: Id
    end: Id
    thickness: float = Field(gt=0)
    camber: float = 0.0
    crest: float = 0.4

    def ends(self) -> None:
        return None

    def points(self) -> tuple[str, ...]:
        return self.start, self.end


class Handle(Model):
    """The direction (degrees) in which a spline runs through one of its points, and how far that is felt: 1 is as it would be by itself.

    bend: its curvature there, 1/mm, positive to the left; None: as it comes.
    """

    at: int = Field(ge=0)
    angle: float
    pull: float = Field(default=1.0, gt=0, le=20)
    bend: float | None = Field(default=None, ge=-MOST_BENT, le=MOST_BENT)

    def turned(self, angle: float, *, scale: float = 1.0, mirrored: bool = False) -> Handle:
        """The same at another angle, of a curve that is so many times as large; mirrored: left is right, as it is on the way back too."""
        bend = None if self.bend is None else (-self.bend if mirrored else self.bend) / scale
        return self.model_copy(update={"angle": angle, "bend": bend})


class DrawnSpline(_Curve):
    """Smooth through its points in their order. sharp: points at which it has a corner. straight: spans that are straight, by their first point.

    spacing: how much more of the parameter each span takes than its chord asks for; 1 each where it is empty. A part of a spline keeps the pace of
    the whole by it, and so stays where it was.
    """

    type: Literal["spline"] = "spline"
    through: list[Id] = Field(min_length=2, max_length=MOST)
    closed: bool = False
    sharp: list[int] = []
    straight: list[int] = []
    handles: list[Handle] = []
    spacing: list[Annotated[float, Field(gt=0, le=1e6)]] = Field(default=[], max_length=MOST)

    @model_validator(mode="after")
    def _spaced(self) -> DrawnSpline:
        if self.spacing and len(self.spacing) != self.spans:
            raise ValueError(f"spline {self.id} has {self.spans} spans, and a spacing for {len(self.spacing)}")
        return self

    @property
    def spans(self) -> int:
        return len(self.through) - (0 if self.closed else 1)

    def ends(self) -> tuple[str, str] | None:
        return None if self.closed else (self.through[0], self.through[-1])

    def points(self) -> tuple[str, ...]:
        return tuple(self.through)


class DrawnPoles(_Curve):
    """A cubic B-spline by its control points."""

    type: Literal["poles"] = "poles"
    poles: list[Id] = Field(min_length=4, max_length=MOST)

    def ends(self) -> tuple[str, str]:
        return self.poles[0], self.poles[-1]

    def points(self) -> tuple[str, ...]:
        return tuple(self.poles)


class DrawnTrace(_Curve):
    """An edge of a body, or the ring of one of its sections, seen square on; it follows the body.

    degree, knots and points (mm in this drawing) are how it ran when that was last worked out; without points it has not been yet.
    """

    type: Literal["trace"] = "trace"
    of: EdgeRef
    degree: int = Field(default=1, ge=1, le=5)
    knots: list[float] = Field(default=[], max_length=20000)
    poles: list[Position] = Field(default=[], max_length=20000)

    def ends(self) -> None:
        return None

    def points(self) -> tuple[str, ...]:
        return ()


class DrawnBeside(_Curve):
    """The offset of a spline, an ellipse or a trace, which it follows: `distance` mm to its right, as that was last solved.

    start, end: points at the ends of the offset of an open spline.
    """

    type: Literal["beside"] = "beside"
    of: Id
    distance: float
    start: Id | None = None
    end: Id | None = None

    def ends(self) -> tuple[str, str] | None:
        return (self.start, self.end) if self.start is not None and self.end is not None else None

    def points(self) -> tuple[str, ...]:
        return self.ends() or ()


AnyCurve = DrawnLine | DrawnArc | DrawnCircle | DrawnEllipse | DrawnFoil | DrawnSpline | DrawnPoles | DrawnTrace | DrawnBeside
FOLLOWED = ("ellipse", "spline", "poles", "trace")
"""The curves that an offset can follow; those of lines, arcs and circles are lines, arcs and circles held at a distance."""
Curve = Annotated[AnyCurve, Field(discriminator="type")]


class Drawing(Model):
    """points: positions in the plane, mm. use: names of the regions that make the outline; None: the only one there is."""

    points: dict[Id, Position] = Field(default={}, max_length=MOST)
    curves: list[Curve] = Field(default=[], max_length=MOST)
    holds: list[Hold] = Field(default=[], max_length=MOST)
    use: list[str] | None = None
    next: int = Field(default=1, ge=1)

    @model_validator(mode="after")
    def _consistent(self) -> Drawing:
        curves = {curve.id: curve for curve in self.curves}
        if len(curves) != len(self.curves) or len({hold.id for hold in self.holds}) != len(self.holds):
            raise ValueError("a curve or a hold stands twice in the drawing")
        for curve in self.curves:
            astray = next((p for p in curve.points() if p not in self.points), None)
            if astray is not None:
                raise ValueError(f"curve {curve.id} needs the point {astray}, which the drawing does not have")
            if isinstance(curve, DrawnBeside) and (curve.of not in curves or curves[curve.of].type not in FOLLOWED):
                raise ValueError(f"offset {curve.id} follows {curve.of}, which is no spline, ellipse or trace of the drawing")
        for hold in self.holds:
            astray = next((i for i in hold.of if i not in curves and i not in self.points and i not in GROUND), None)
            if astray is not None:
                raise ValueError(f"{hold.type} {hold.id} holds {astray}, which the drawing does not have")
            wrong = misfit(hold.type, hold.of, curves)
            if wrong:
                raise ValueError(f"{hold.type} {hold.id}: {wrong}")
            if isinstance(hold, Measure) and not hold.reading and hold.value <= 0 and _is_size(hold, curves):
                raise ValueError(f"a {HOLD_WORDS[hold.type]} of {hold.value:g} can't be: it has to be more than 0")
            if isinstance(hold, ShareMeasure) and not hold.reading and not SHARES[hold.type][0] <= hold.value <= SHARES[hold.type][1]:
                low, high = SHARES[hold.type]
                raise ValueError(f"the {HOLD_WORDS[hold.type]} of a foil lies between {low:g} and {high:g} of its chord, not at {hold.value:g}")
        return self

    def curve(self, curve_id: str) -> AnyCurve:
        """A curve by its id; an axis as the line that it is."""
        return AXIS_LINES[curve_id] if curve_id in AXIS_LINES else next(curve for curve in self.curves if curve.id == curve_id)


AXIS_LINES = {axis: DrawnLine.model_construct(id=axis, start=ORIGIN, end=f"{axis}-end") for axis in AXES}
"""The axes as lines from the origin to places ahead that have no other name."""

CURVE_WORDS = {
    "line": "line",
    "arc": "arc",
    "circle": "circle",
    "ellipse": "ellipse",
    "foil": "foil",
    "spline": "spline",
    "poles": "spline",
    "trace": "traced edge",
    "beside": "offset",
}


def named(drawing: Drawing, thing: str) -> str:
    """What a curve or a point is called before people: `line 3`, `point 2`, counted among its own kind in the order they were drawn."""
    if thing in GROUND_WORDS:
        return GROUND_WORDS[thing]
    curve = next((c for c in drawing.curves if c.id == thing), None)
    if curve is None:
        return f"point {list(drawing.points).index(thing) + 1}" if thing in drawing.points else "what is gone"
    kind = CURVE_WORDS[curve.type]
    return f"{kind} {[c.id for c in drawing.curves if CURVE_WORDS[c.type] == kind].index(thing) + 1}"


def _is_size(hold: Measure, curves: Mapping[str, AnyCurve]) -> bool:
    """Whether a measure has to be more than 0. An offset may lie on either side; a distance across or up has a direction, what is round has none."""
    on = [curves[thing] for thing in hold.of if thing in curves]
    if hold.type in SIZES:
        return not any(isinstance(curve, DrawnBeside) for curve in on)
    return any(isinstance(curve, DrawnEllipse | DrawnArc | DrawnCircle) for curve in on)


class DrawnShape(Drawing):
    """Drawn on the board."""

    type: Literal["drawing"]
