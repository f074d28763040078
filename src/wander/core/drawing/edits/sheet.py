"""A drawing while it is being changed: its raw form, in which measures keep their expressions, with its solved geometry beside it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from math import hypot, sqrt
from typing import Any

import numpy as np
from pydantic import TypeAdapter

from wander.core.document.expressions import Scope
from wander.core.drawing.curves.pieces import curve_of
from wander.core.drawing.edits.begun import Begun
from wander.core.drawing.ground import AXES, GROUND, GROUND_WORDS
from wander.core.drawing.holds import MEASURES, Hold, Relation
from wander.core.drawing.model import AnyCurve, Curve, Drawing, DrawnBeside, DrawnLine, DrawnPoles, DrawnSpline, named
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve as Geometry
from wander.core.geometry.errors import BadInput

_CURVE: TypeAdapter[AnyCurve] = TypeAdapter(Curve)


class CannotDraw(BadInput):
    """An act does not fit the drawing; the message says why and what would help."""


class Sheet:
    """points: positions by id. curves: by id. holds: as they are written, by id."""

    def __init__(self, raw: dict[str, Any], scope: Scope, drawing: Drawing | None = None) -> None:
        """drawing: the same with its measures worked out, where it is known."""
        self.scope = scope
        if drawing is None:
            drawing = Begun(raw, scope).drawing
        self.points = dict(drawing.points)
        self.curves: dict[str, AnyCurve] = {curve.id: curve for curve in drawing.curves}
        self.holds: dict[str, dict[str, Any]] = {hold["id"]: dict(hold) for hold in raw.get("holds", [])}
        self.use = drawing.use
        self.next = max([drawing.next, *(int(i[1:]) + 1 for i in [*self.points, *self.curves, *self.holds])])
        self.aliases: dict[str, str] = {}
        self._begun = (drawing, list(raw.get("holds", [])))

    @classmethod
    def of(cls, begun: Begun) -> Sheet:
        return cls(begun.raw, begun.scope, begun.drawing)

    def raw(self) -> dict[str, Any]:
        """As it is written in a document."""
        return {
            "points": {i: [float(x), float(y)] for i, (x, y) in self.points.items()},
            "curves": [curve.model_dump(mode="json", exclude_defaults=True) | {"type": curve.type} for curve in self.curves.values()],
            "holds": list(self.holds.values()),
            "use": self.use,
            "next": self.next,
        }

    def drawing(self) -> Drawing:
        """The present state with its measures worked out. Raises ValidationError where an expression can't be."""
        begun, holds = self._begun
        same = list(self.curves.values()) == begun.curves and self.points == begun.points and list(self.holds.values()) == holds
        if same and self.use == begun.use:
            return begun
        return Drawing.model_validate(self.raw(), context=self.scope)

    def settle(self, drawing: Drawing) -> None:
        """Take over solved positions and sizes."""
        self.points = dict(drawing.points)
        self.curves = {curve.id: curve for curve in drawing.curves}

    # -- finding --------------------------------------------------------------------------------------------------------------

    def known(self, name: str) -> str:
        """The id that a name or an alias stands for. Raises CannotDraw."""
        found = self.aliases.get(name, name)
        if found not in self.points and found not in self.curves and found not in self.holds and found not in GROUND:
            raise CannotDraw(f"there is no {name} in this drawing")
        return found

    def called(self, thing: str) -> str:
        """What a curve or a point is called before people."""
        return named(Drawing(points=self.points, curves=list(self.curves.values())), thing)

    def curve(self, name: str) -> AnyCurve:
        found = self.curves.get(self._own(name))
        if found is None:
            raise CannotDraw(f"{name} is no curve")
        return found

    def line(self, name: str) -> tuple[Floats, Floats]:
        """Where a line or an axis begins and ends, mm. Raises CannotDraw for anything else."""
        found = self.known(name)
        if found in AXES:
            return np.zeros(2), np.array(AXES[found])
        curve = self.curves.get(found)
        if not isinstance(curve, DrawnLine):
            raise CannotDraw("that goes about a line or an axis")
        return np.array(self.points[curve.start]), np.array(self.points[curve.end])

    def _own(self, name: str) -> str:
        found = self.known(name)
        if found in GROUND:
            raise CannotDraw(f"the {GROUND_WORDS[found]} stays as it is: it is there to hold things to")
        return found

    def point(self, name: str) -> str:
        found = self._own(name)
        if found not in self.points:
            raise CannotDraw(f"{name} is no point")
        return found

    def _shape(self, curve: AnyCurve) -> Geometry | None:
        # what a spline is tangent to gives it its direction there
        leading = [(i, hold) for i, hold in self.holds.items() if hold["type"] in ("tangent", "curvature")]
        tangents: list[Hold] = [Relation(id=i, type=hold["type"], of=hold["of"]) for i, hold in leading]
        return curve_of(curve, Drawing(points=self.points, curves=list(self.curves.values()), holds=tangents))

    def has_shape(self, curve: AnyCurve) -> bool:
        """Whether a curve is anywhere: a trace may have lost its edge, an offset may be impossible."""
        return self._shape(curve) is not None

    def geometry(self, curve: AnyCurve) -> Geometry:
        made = self._shape(curve)
        if made is None:
            raise CannotDraw(f"{self.called(curve.id)} has no length; pull its points apart, or take it away")
        return made

    def apart(self, first: str, second: str) -> float:
        """Distance between two points, mm."""
        (ax, ay), (bx, by) = self.points[first], self.points[second]
        return hypot(bx - ax, by - ay)

    def users(self, point: str) -> list[AnyCurve]:
        """The curves that a point belongs to."""
        return [curve for curve in self.curves.values() if point in curve.points()]

    # -- changing -------------------------------------------------------------------------------------------------------------

    def _id(self, letter: str) -> str:
        self.next += 1
        return f"{letter}{self.next - 1}"

    def add_point(self, at: Iterable[float], alias: str | None = None) -> str:
        x, y = at
        found = self._id("p")
        self.points[found] = (float(x), float(y))
        if alias is not None:
            self.aliases[alias] = found
        return found

    def add_curve(self, alias: str | None = None, **fields: Any) -> str:
        found = self._id("c")
        self.curves[found] = _CURVE.validate_python({**fields, "id": found})
        if alias is not None:
            self.aliases[alias] = found
        return found

    def put(self, curve: AnyCurve, **changes: Any) -> None:
        """The same curve with other fields."""
        values = {**curve.model_dump(), **changes}
        self.curves[curve.id] = _CURVE.validate_python(values)

    def add_hold(self, kind: str, of: Sequence[str], value: float | str | None = None, alias: str | None = None) -> str:
        found = self._id("h")
        hold: dict[str, Any] = {"id": found, "type": kind, "of": list(of)}
        if kind in MEASURES:
            hold["value"] = value
        self.holds[found] = hold
        if alias is not None:
            self.aliases[alias] = found
        return found

    def drop(self, things: Iterable[str]) -> None:
        """Remove things, the curves that need a removed point, points that nothing needs any more, and holds on any of them."""
        gone = set(things)
        gone |= {c.id for c in self.curves.values() if not isinstance(c, DrawnSpline | DrawnPoles) and gone & set(c.points())}
        for curve in list(self.curves.values()):
            if isinstance(curve, DrawnSpline | DrawnPoles) and curve.id not in gone and gone & set(curve.points()):
                self._shortened(curve, gone)
        gone |= {c.id for c in self.curves.values() if isinstance(c, DrawnBeside) and c.of in gone}
        before = {p for i in gone if i in self.curves for p in self.curves[i].points()}
        for i in gone:
            self.points.pop(i, None)
            self.curves.pop(i, None)
            self.holds.pop(i, None)
        needed = {p for c in self.curves.values() for p in c.points()}
        for p in before - needed:
            self.points.pop(p, None)
        self.holds = {i: h for i, h in self.holds.items() if all(o in self.points or o in self.curves or o in GROUND for o in h["of"])}

    def _shortened(self, curve: DrawnSpline | DrawnPoles, gone: set[str]) -> None:
        """A spline without some of its points; without too many it goes itself."""
        left = [p for p in curve.points() if p not in gone]
        if isinstance(curve, DrawnPoles):
            if len(left) < 4:
                gone.add(curve.id)
            else:
                self.put(curve, poles=left)
            return
        if len(left) < (3 if curve.closed else 2):
            gone.add(curve.id)
            return
        number = {old: left.index(p) for old, p in enumerate(curve.through) if p in left}
        self.put(
            curve,
            through=left,
            sharp=[number[i] for i in curve.sharp if i in number],
            straight=[number[i] for i in curve.straight if i in number and i + 1 in number],
            handles=[{**h.model_dump(exclude_none=True), "at": number[h.at]} for h in curve.handles if h.at in number],
            spacing=_bridged(curve, number, self.points),
        )

    def replace_point(self, old: str, new: str) -> None:
        """Let everything that uses one point use another."""
        for curve in self.users(old):
            fields = curve.model_dump()
            swapped = {k: new if v == old else v for k, v in fields.items() if k in ("start", "end", "center")}
            for k in ("through", "poles"):
                if k in fields:
                    swapped[k] = [new if p == old else p for p in fields[k]]
            self.put(curve, **swapped)
        for hold in self.holds.values():
            hold["of"] = [new if o == old else o for o in hold["of"]]
        self.holds = {i: h for i, h in self.holds.items() if len(set(h["of"])) == len(h["of"])}
        self.points.pop(old, None)


def _bridged(curve: DrawnSpline, kept: Iterable[int], at: Mapping[str, tuple[float, float]]) -> list[float]:
    """The spacing of a spline without some of its points: spans that have become one take what they took together."""
    if not curve.spacing:
        return []
    count, stays = len(curve.through), sorted(kept)

    def root(a: int, b: int) -> float:
        (ax, ay), (bx, by) = at[curve.through[a % count]], at[curve.through[b % count]]
        return sqrt(hypot(bx - ax, by - ay)) or 1.0

    ends = [*stays[1:], stays[0] + count] if curve.closed else stays[1:]
    found = [sum(curve.spacing[i % count] * root(i, i + 1) for i in range(a, b)) / root(a, b) for a, b in zip(stays, ends, strict=False)]
    return [] if max(found) - min(found) < 1e-12 * max(found) else found
