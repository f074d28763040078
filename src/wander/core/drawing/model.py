"""A drawing as it is written down: points, curves through them, and what holds them.

Positions are plain numbers in mm, as they were last solved; only what holds the drawing (`holds`) may be an expression. Ids are short, unique
in the drawing and never used twice: `p4` a point, `c7` a curve, `h9` a hold.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

from pydantic import Field, model_validator

from wander.core.document.fields import Angle, EdgeRef, Length, Model, Share

Id = Annotated[str, Field(pattern=r"^[pch][0-9]{1,6}$")]
Position = Annotated[tuple[float, float], Field(strict=False)]
MOST = 4000


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
    """The direction (degrees) in which a spline runs through one of its points, and how far that is felt: 1 is as it would be by itself."""

    at: int = Field(ge=0)
    angle: float
    pull: float = Field(default=1.0, gt=0, le=20)


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


class _Hold(Model):
    id: Id
    of: list[Id] = Field(min_length=1, max_length=3)


class Relation(_Hold):
    """Geometry held by other geometry."""

    type: Literal[
        "coincident",
        "horizontal",
        "vertical",
        "parallel",
        "perpendicular",
        "equal",
        "tangent",
        "concentric",
        "midpoint",
        "symmetric",
        "on-curve",
        "fixed",
    ]


class Measure(_Hold):
    """A size, typed or read. reading: it only tells, and holds nothing."""

    type: Literal["length", "distance", "across", "up", "radius", "diameter"]
    value: Length
    reading: bool = False


class AngleMeasure(_Hold):
    type: Literal["angle"]
    value: Angle
    reading: bool = False


class ShareMeasure(_Hold):
    """A share of the chord of a foil, without a unit."""

    type: Literal["thickness", "camber", "crest"]
    value: Share
    reading: bool = False


AnyMeasure = Measure | AngleMeasure | ShareMeasure
Hold = Annotated[Relation | AnyMeasure, Field(discriminator="type")]
SIZES = frozenset({"length", "distance", "radius", "diameter"})
"""Measures that say how large something is; distances across and up have a direction."""
SHARES = {"thickness": (1e-4, 0.6), "camber": (-0.3, 0.3), "crest": (0.1, 0.9)}
"""The shares of a foil, and between what they can lie."""
MEASURES = frozenset({"length", "distance", "across", "up", "radius", "diameter", "angle", *SHARES})


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
            astray = next((i for i in hold.of if i not in curves and i not in self.points), None)
            if astray is not None:
                raise ValueError(f"{hold.type} {hold.id} holds {astray}, which the drawing does not have")
            wrong = _misfit(hold, curves)
            if wrong:
                raise ValueError(f"{hold.type} {hold.id}: {wrong}")
            if isinstance(hold, Measure) and not hold.reading and hold.value <= 0 and _is_size(hold, curves.get(hold.of[0])):
                raise ValueError(f"a {HOLD_WORDS[hold.type]} of {hold.value:g} can't be: it has to be more than 0")
            if isinstance(hold, ShareMeasure) and not hold.reading and not SHARES[hold.type][0] <= hold.value <= SHARES[hold.type][1]:
                low, high = SHARES[hold.type]
                raise ValueError(f"the {HOLD_WORDS[hold.type]} of a foil lies between {low:g} and {high:g} of its chord, not at {hold.value:g}")
        return self

    def curve(self, curve_id: str) -> AnyCurve:
        return next(curve for curve in self.curves if curve.id == curve_id)


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
    curve = next((c for c in drawing.curves if c.id == thing), None)
    if curve is None:
        return f"point {list(drawing.points).index(thing) + 1}" if thing in drawing.points else "what is gone"
    kind = CURVE_WORDS[curve.type]
    return f"{kind} {[c.id for c in drawing.curves if CURVE_WORDS[c.type] == kind].index(thing) + 1}"


HOLD_WORDS = {
    "coincident": "on one point",
    "horizontal": "horizontal",
    "vertical": "vertical",
    "parallel": "parallel",
    "perpendicular": "square to each other",
    "equal": "equal",
    "tangent": "tangent",
    "concentric": "about one centre",
    "midpoint": "at the middle",
    "symmetric": "symmetric",
    "on-curve": "on the curve",
    "fixed": "fixed",
    "length": "length",
    "distance": "distance",
    "across": "distance across",
    "up": "distance up",
    "radius": "radius",
    "diameter": "diameter",
    "angle": "angle",
    "thickness": "thickness",
    "camber": "camber",
    "crest": "crest",
}
HOLD_TAKES: dict[str, tuple[str, ...]] = {
    "coincident": ("pp",),
    "horizontal": ("l", "f", "pp"),
    "vertical": ("l", "f", "pp"),
    "parallel": ("ll",),
    "perpendicular": ("ll",),
    "equal": ("ll", "rr", "ee"),
    "tangent": ("lr", "rl", "rr", "ls", "sl", "rs", "sr"),
    "concentric": ("rr", "re", "er", "ee"),
    "midpoint": ("pl",),
    "symmetric": ("ppl", "eel", "ffl"),
    "on-curve": ("pl", "pr", "pe", "pf", "ps", "pt", "pb"),
    "fixed": ("p", "l", "r", "e", "f", "s"),
    "length": ("l", "f"),
    "distance": ("pp", "pl", "ll", "rr", "b"),
    "across": ("pp", "l", "e"),
    "up": ("pp", "l", "e"),
    "radius": ("r",),
    "diameter": ("r",),
    "angle": ("ll", "l", "f"),
    "thickness": ("f",),
    "camber": ("f",),
    "crest": ("f",),
}
"""What each hold can be put on: a letter for each thing, in their order."""
LETTERS = {"line": "l", "arc": "r", "circle": "r", "ellipse": "e", "foil": "f", "spline": "s", "poles": "s", "trace": "t", "beside": "b"}
_WORDS = {
    "p": "a point",
    "l": "a line",
    "r": "a circle or arc",
    "e": "an ellipse",
    "f": "a foil",
    "s": "a spline",
    "t": "a traced edge",
    "b": "an offset",
}


def _is_size(hold: Measure, on: AnyCurve | None) -> bool:
    """Whether a measure has to be more than 0. An offset may lie on either side; a distance across or up has a direction, an ellipse has none."""
    return not isinstance(on, DrawnBeside) if hold.type in SIZES else isinstance(on, DrawnEllipse)


def fits(hold: str, of: Sequence[str], curves: Mapping[str, AnyCurve]) -> bool:
    """Whether a kind of hold can be put on things: points are whatever is no curve."""
    got = "".join(LETTERS[curves[i].type] if i in curves else "p" for i in of)
    return got in HOLD_TAKES[hold] and len(set(of)) == len(of)


def _misfit(hold: Relation | AnyMeasure, curves: dict[str, AnyCurve]) -> str | None:
    """What is wrong with the things a hold is put on, if anything."""
    if fits(hold.type, hold.of, curves):
        return None
    return "it takes " + ", or ".join(" and ".join(_WORDS[letter] for letter in takes) for takes in HOLD_TAKES[hold.type])


class DrawnShape(Drawing):
    """Drawn on the board."""

    type: Literal["drawing"]
