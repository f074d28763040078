"""The parts that curves are cut into where something meets them."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, pi

import numpy as np

from wander.core.drawing.curves.even import Even, Place, Straight
from wander.core.geometry.curve import Curve


@dataclass(frozen=True)
class Part:
    """A piece of a curve between two places where something meets it. share: its part of the curve's parameter. form: of the whole curve.

    ends: ids of the points at its nodes; empty where it was cut.
    """

    curve_id: str
    curve: Curve
    form: Even | None
    share: tuple[float, float]
    ends: tuple[str, str]
    nodes: tuple[int, int]

    def at(self, t: float) -> Place:
        """The place at a share of it."""
        if self.form is not None:
            return self.form.at(self.share[0] + t * (self.share[1] - self.share[0]))
        x, y = self.curve(self.curve.domain[0] + t * (self.curve.domain[1] - self.curve.domain[0]))
        return float(x), float(y)

    def leaves(self, forward: bool) -> tuple[float, float]:
        """Direction (radians, from 0 to a whole turn) and curvature (1/mm, to the left) where a walk along it begins."""
        if isinstance(self.form, Straight):
            (ax, ay), (bx, by) = self.form.start, self.form.end
            turn = atan2(by - ay, bx - ax)
            return (turn if forward else turn + pi) % (2 * pi), 0.0
        if self.form is not None:
            turn = self.form.begin + self.form.sweep * self.share[0 if forward else 1]
            return (turn + (pi / 2 if forward else -pi / 2)) % (2 * pi), (1.0 if forward else -1.0) / self.form.radius
        t = self.curve.domain[0 if forward else 1]
        derivatives = self.curve.derivatives(t, min(2, self.curve.degree))
        dx, dy = derivatives[1] if forward else -derivatives[1]
        ddx, ddy = derivatives[2] if len(derivatives) > 2 else (0.0, 0.0)
        size = float(np.hypot(dx, dy)) or 1e-300
        return atan2(dy, dx) % (2 * pi), float(dx * ddy - dy * ddx) / size**3


@dataclass(frozen=True)
class Side:
    """A part walked one way."""

    part: int
    forward: bool
